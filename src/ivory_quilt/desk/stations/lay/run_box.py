"""How long a run on the maker's word goes on: so many seconds a foam, or until a cost is met."""

from PySide6.QtWidgets import QComboBox, QLineEdit, QWidget

from ivory_quilt.core.units import parse_money, show_money
from ivory_quilt.desk.laying import IMPROVE_SECONDS, Laying
from ivory_quilt.desk.widgets.basics import Complaint, column, label, row
from ivory_quilt.desk.widgets.fields import Taking, show_text

SPANS = {
    "12 s per foam": IMPROVE_SECONDS,
    "1 minute per foam": 60.0,
    "5 minutes per foam": 300.0,
    "half an hour per foam": 1800.0,
}


class RunBox(QWidget):
    """Two lines in the overview: how long to improve, and the cost to stop at."""

    def __init__(self, laying: Laying) -> None:
        """Decide for the runs of `laying`."""
        super().__init__()
        self._laying = laying
        self.span = QComboBox()
        self.span.addItems(list(SPANS))
        self.span.setAccessibleName("how long to improve")
        self.span.setToolTip("A foam that nothing can better is done sooner; Stop ends a run")
        self.span.textActivated.connect(self._take_span)
        self.target = QLineEdit()
        self.target.setFixedWidth(90)
        self.target.setPlaceholderText("the least")
        self.target.setAccessibleName("cost of all foam to stop at")
        self.target.setToolTip("A run ends as soon as all foam together costs no more than this")
        self.target.editingFinished.connect(self._take_target)
        self.error = Complaint()
        self.setLayout(
            column(
                row(label("Improve for"), None, self.span),
                row(label("Stop when it costs"), None, self.target),
                self.error,
            )
        )

    def fill(self) -> None:
        """Show what is decided, unless the maker is typing another."""
        target = self._laying.target
        currency = self._laying.session.stock.currency
        show_text(self.target, "" if target is None else show_money(target, currency))
        if not self.target.isModified():
            self._warn()

    def _take_span(self, text: str) -> None:
        self._laying.improve_seconds = SPANS[text]

    def _take_target(self) -> None:
        currency = self._laying.session.stock.currency
        text = self.target.text().replace(currency.sign, "").strip()
        with Taking(self.error, self.target) as taken:
            self._laying.target = parse_money(text, where="cost to stop at") if text else None
        if taken:
            self._warn()

    def _warn(self) -> None:
        """Say it where a cost is asked for that nothing can reach."""
        ledger = self._laying.session.plan.ledger
        target = self._laying.target
        bound = show_money(ledger.bound, self._laying.session.stock.currency)
        below = target is not None and bool(ledger.lines) and target < ledger.bound
        self.error.setText(f"No layout of these parts costs less than {bound}." if below else "")
