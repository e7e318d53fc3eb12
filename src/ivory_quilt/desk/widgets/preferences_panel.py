"""The panel of preferences: each takes effect at once."""

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.units import LengthUnit, show_length, show_number
from ivory_quilt.desk.engine_choice import EngineChoice
from ivory_quilt.desk.preferences import Preferences
from ivory_quilt.desk.settings import TEXT_SIZES
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    ValueBox,
    button,
    counter,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import Taking
from ivory_quilt.desk.widgets.panels import Panel

UNITS = (
    (LengthUnit.MM, "millimetres"),
    (LengthUnit.CM, "centimetres"),
    (LengthUnit.INCH, "inches, decimals"),
    (LengthUnit.FRACTION, "inches, fractions to 1/16"),
)
OWN_SHOP = "A file of your own. For several benches, give a server's address:"


class PreferencesPanel(Panel):
    """One row a preference."""

    def __init__(self, parent: QWidget, preferences: Preferences, engine: EngineChoice) -> None:
        """Show and change `preferences`, and how many processes lay."""
        super().__init__(parent, "Preferences", (600, 600))
        self._p, self._engine = preferences, engine
        self.unit = ValueBox("length unit", UNITS, preferences.set_unit)
        self.decimal = ValueBox(
            "decimal mark",
            ((False, "point: 12.5"), (True, "comma: 12,5")),
            lambda on: preferences.set_comma(on=on),
        )
        self.sign = QLineEdit()
        self.sign.setFixedWidth(72)
        self.sign.setAccessibleName("currency sign")
        self.sign.editingFinished.connect(self._currency)
        self.place = ValueBox(
            "currency sign stands",
            ((False, "after the amount"), (True, "before the amount")),
            lambda _: self._currency(),
        )
        self.paper = ValueBox(
            "paper of new projects", [(p, p.value) for p in Paper], preferences.set_paper
        )
        self.theme = ValueBox(
            "theme", ((False, "light"), (True, "dark")), lambda on: preferences.set_dark(on=on)
        )
        self.text = ValueBox(
            "text size", [(s, f"{s} %") for s in TEXT_SIZES], preferences.set_text_size
        )
        self.processes = counter(1, engine.most_processes, "processes that lay on this machine")
        self.processes.valueChanged.connect(engine.set_processes)
        self.side, self.area = QLineEdit(), QLineEdit()
        for one, name in ((self.side, "smallest side kept"), (self.area, "smallest area kept")):
            one.setFixedWidth(96)
            one.setAccessibleName(name)
            one.editingFinished.connect(self._keep)
        self.joined = ValueBox(
            "an L of foam that is left",
            ((True, "stays in one piece"), (False, "is parted in two")),
            lambda _: self._keep(),
        )
        self.address = QLineEdit()
        self.address.setPlaceholderText("postgresql://user@host/shop")
        self.address.setAccessibleName("address of the shop's server")
        self.address.returnPressed.connect(self._store)
        self.error = Complaint()
        self.shop_words = label("", "note", wrap=True)
        grid = QGridLayout()
        grid.setHorizontalSpacing(16)
        grid.setVerticalSpacing(8)
        grid.setColumnStretch(1, 1)
        keep = QWidget()
        keep.setLayout(row(label("from"), self.side, label("wide and"), self.area, None))
        currency = QWidget()
        currency.setLayout(row(self.sign, self.place, None))
        for k, (word, field) in enumerate(
            (
                ("Lengths in", self.unit),
                ("Decimals", self.decimal),
                ("Currency", currency),
                ("Paper", self.paper),
                ("Theme", self.theme),
                ("Text size", self.text),
                ("Layouts at once", self.processes),
                ("Offcuts kept", keep),
                ("An L that is left", self.joined),
            )
        ):
            grid.addWidget(label(word), k, 0)
            grid.addWidget(field, k, 1)
        self.processes.setToolTip("Processes that lay on this machine; one core less is usual")
        self.unit.setToolTip("Fields take any unit with its word; a bare number is millimetres")
        self.paper.setToolTip("An open project keeps its own: see Cut")
        self.fill(
            grid,
            label("Shop", "heading"),
            self.shop_words,
            row(self.address, button("Use", self._store, tip="Work in this shop from now on")),
            self.error,
            None,
        )
        preferences.store_changed.connect(self._show_store)

    def open(self) -> None:
        """Show what is chosen now."""
        p = self._p
        for box, value in (
            (self.unit, p.unit),
            (self.decimal, p.comma),
            (self.place, p.currency.first),
            (self.paper, p.paper),
            (self.theme, p.dark),
            (self.text, p.text_size),
            (self.joined, p.keep.joined),
        ):
            box.show_value(value)
        with QSignalBlocker(self.processes):
            self.processes.setValue(self._engine.processes)
        self.sign.setText(p.currency.sign)
        self.side.setText(show_length(p.keep.least_side))
        self.area.setText(f"{show_number(p.keep.least_area / 100, 1)} cm²")
        self.address.setText(p.store_address)
        self.error.setText("")
        self._show_store()
        super().open()
        self.unit.setFocus()

    def _currency(self) -> None:
        with Taking(self.error, self.sign):
            self._p.set_currency(self.sign.text(), first=bool(self.place.value))

    def _keep(self) -> None:
        with Taking(self.error, self.side):
            self._p.set_keep(self.side.text(), self.area.text(), joined=bool(self.joined.value))

    def _store(self) -> None:
        with Taking(self.error, self.address):
            self._p.set_store(self.address.text())

    def _show_store(self) -> None:
        p = self._p
        text = OWN_SHOP
        if p.calling:
            text = "Calling the server …"
        elif p.store_problem:
            text = f"{p.store_problem}. The shop is as it was."
        elif p.store_address:
            text = "On a server. An empty address goes back to your own file at the next start."
        self.shop_words.setText(text)
        set_tone(self.shop_words, "cut" if p.store_problem else "")
