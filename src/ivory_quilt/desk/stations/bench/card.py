"""The card of the Bench station: when, who, by which school, how many coats."""

from functools import partial
from typing import Any

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QCheckBox, QGridLayout, QLabel, QLineEdit, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.paint import MOST_COATS
from ivory_quilt.core.schedule.bench_choices import (
    CLOCK,
    MOST_FORMS,
    WEEKDAYS,
    BenchChoices,
    Evening,
    FormOrder,
    JoinSchool,
    SealOrder,
)
from ivory_quilt.desk.stations.bench.presenter import BenchPlanner
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    column,
    counter,
    label,
)
from ivory_quilt.desk.widgets.fields import Taking, show_count, show_text

COATS = ("primer", "paint", "sealer")
USUAL = ("18:30", "22:00")
SCHOOLS = tuple((s, s.value) for s in JoinSchool)
SEALS = tuple((s, s.value) for s in SealOrder)
ORDERS = tuple((o, o.value) for o in FormOrder)
LABEL = (
    "How long cement dries is the product's label's word; these are three schools of practice. An "
    "old can dries faster: try it on scrap."
)


class BenchCard(QWidget):
    """Everything that is decided about the bench."""

    wants_export = Signal()

    def __init__(self, planner: BenchPlanner) -> None:
        """Decide through `planner`."""
        super().__init__()
        self._planner = planner
        self.error = Complaint()
        self.start = self._day("first evening", "start", "today")
        self.event_day = self._day("event", "event", "none")
        self.people = counter(1, 20, "people at work at once")
        self.people.valueChanged.connect(lambda n: self._choose("People", people=n))
        self.forms = counter(1, MOST_FORMS, "formers with clamps")
        self.forms.setToolTip("A laminated curve keeps its former for a night")
        self.forms.valueChanged.connect(lambda n: self._choose("Forms", forms=n))
        self.join = choices(SCHOOLS, lambda v: self._choose("Join", join=v))
        self.join.setAccessibleName("when cemented faces are joined")
        self.order = choices(ORDERS, lambda v: self._choose("Order", order=v))
        self.order.setAccessibleName("form or glue first")
        self.seal = choices(SEALS, lambda v: self._choose("Sealing", seal=v))
        self.seal.setAccessibleName("when faces are closed by heat")
        self.can = self._day("cement opened", "can_opened", "fresh can")
        self.filled = QCheckBox("seams filled and sanded")
        self.filled.clicked.connect(self._take_filled)
        self.mock_up = QCheckBox("mock-up in card first")
        self.mock_up.clicked.connect(lambda on: self._choose("Mock-up", mock_up=on))
        self.indoors = QCheckBox("booth in any weather")
        self.indoors.clicked.connect(lambda on: self._choose("Booth", indoors=on))
        self.dry = QLineEdit()
        self.dry.setPlaceholderText("dry days: 2027-03-01 2027-03-02")
        self.dry.setAccessibleName("days that are dry enough for the booth")
        self.dry.editingFinished.connect(self._take_dry)
        self.coats = {
            name: counter(0, MOST_COATS, f"coats of {name}")
            for name in ("primer", "paint", "sealer")
        }
        for name, field in self.coats.items():
            field.valueChanged.connect(lambda n, k=name: self._choose("Coats", **{k: n}))
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        fields: tuple[tuple[str, QWidget], ...] = (
            ("First evening", self.start),
            ("Event", self.event_day),
            ("People", self.people),
            ("Formers", self.forms),
            ("Join", self.join),
            ("Order", self.order),
            ("Seal", self.seal),
            ("Cement", self.can),
            *((name.capitalize(), field) for name, field in self.coats.items()),
        )
        for k, (text, widget) in enumerate(fields):
            grid.addWidget(QLabel(text), k, 0)
            grid.addWidget(widget, k, 1)
        grid.setColumnStretch(1, 1)
        self.setLayout(
            column(
                label("Bench", "title"),
                grid,
                self.filled,
                self.mock_up,
                self.indoors,
                self.dry,
                label(LABEL, "note", "heat", wrap=True),
                Stitch(),
                label("Evenings", "heading"),
                self._week(),
                self.error,
                button(
                    "Calendar or week to print …",
                    self.wants_export.emit,
                    tip="Evenings as a calendar file, or the first week as a PDF",
                ),
                None,
                space=10,
                edge=16,
            )
        )

    def _day(self, name: str, field: str, blank: str) -> QLineEdit:
        made = QLineEdit()
        made.setPlaceholderText(blank)
        made.setAccessibleName(name)
        made.setToolTip("A date such as 2027-03-01")

        def take() -> None:
            if made.isModified():
                with Taking(self.error, made):
                    self._planner.choose(name.capitalize(), **{field: made.text().strip()})

        made.editingFinished.connect(take)
        return made

    def _take_filled(self, on: bool) -> None:  # noqa: FBT001 - a signal's
        after = self._planner.choices.with_filled(filled=on)
        self._choose("Seams", filled=after.filled, joints=after.joints)

    def _take_dry(self) -> None:
        if not self.dry.isModified():
            return
        with Taking(self.error, self.dry):
            days = tuple(sorted(set(self.dry.text().replace(",", " ").split())))
            self._planner.choose("Dry days", dry=days)

    def _week(self) -> QGridLayout:
        grid = QGridLayout()
        grid.setVerticalSpacing(6)
        self.days: list[tuple[QCheckBox, QLineEdit, QLineEdit]] = []
        for k, name in enumerate(WEEKDAYS):
            box, start, stop = QCheckBox(name[:3]), QLineEdit(), QLineEdit()
            box.setAccessibleName(f"works on {name}")
            box.clicked.connect(partial(self._take_week, None))
            for field, word in ((start, "from"), (stop, "to")):
                field.setFixedWidth(70)
                field.setAccessibleName(f"{name} {word}")
                field.editingFinished.connect(partial(self._take_week, field))
            grid.addWidget(box, k, 0)
            grid.addWidget(start, k, 1)
            grid.addWidget(label("to", "note"), k, 2)
            grid.addWidget(stop, k, 3)
            self.days.append((box, start, stop))
        grid.setColumnStretch(4, 1)
        return grid

    def _take_week(self, field: QLineEdit | None, *_: object) -> None:
        if field is not None and not field.isModified():
            return
        fields = (field,) if field is not None else ()
        with Taking(self.error, *fields):
            evenings = []
            for k, (box, start, stop) in enumerate(self.days):
                if box.isChecked():
                    texts = (start.text().strip() or USUAL[0], stop.text().strip() or USUAL[1])
                    evenings.append(Evening(k, *map(_as_clock, texts)))
            if not evenings:
                raise InputError("evenings", "the bench works on no day", "one evening or more")
            self._planner.choose("Evenings", evenings=tuple(evenings))

    def _choose(self, what: str, **changes: Any) -> None:
        with Taking(self.error):
            self._planner.choose(what, **changes)

    def fill(self) -> None:
        """Show what is decided."""
        chosen: BenchChoices = self._planner.choices
        show_text(self.start, chosen.start)
        show_text(self.event_day, chosen.event)
        show_count(self.people, chosen.people)
        show_count(self.forms, chosen.forms)
        self.join.show_value(chosen.join)
        self.order.show_value(chosen.order)
        self.seal.show_value(chosen.seal)
        show_text(self.can, chosen.can_opened)
        self.filled.setChecked(chosen.filled)
        self.mock_up.setChecked(chosen.mock_up)
        self.indoors.setChecked(chosen.indoors)
        show_text(self.dry, " ".join(chosen.dry))
        self.dry.setEnabled(not chosen.indoors)
        for name, field in self.coats.items():
            show_count(field, getattr(chosen, name))
        by_day = {e.weekday: e for e in chosen.evenings}
        for k, (box, start, stop) in enumerate(self.days):
            there = by_day.get(k)
            box.setChecked(there is not None)
            show_text(start, there.start if there else "")
            show_text(stop, there.stop if there else "")
            start.setEnabled(there is not None)
            stop.setEnabled(there is not None)


def _as_clock(text: str) -> str:
    """Return a time as it is kept: "8:30" and "18.30" are meant as such."""
    plain = text.replace(".", ":").replace("h", ":")
    if ":" not in plain:
        plain += ":00"
    hours, _, rest = plain.partition(":")
    found = f"{hours.strip().zfill(2)}:{rest.strip().ljust(2, '0')}"
    return found if CLOCK.fullmatch(found) else text
