"""The card of the Girths place: which parts go around, what laps and gapes, what is missing."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.measure.parts_around import AroundPart, GrowBy, Spread
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.stations.measure.around_presenter import LENGTHS, AroundPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    ValueBox,
    button,
    clear,
    column,
    counter,
    fill_box,
    filled_later,
    label,
    narrow,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, regard, tick
from ivory_quilt.desk.widgets.slip import SlipFigure

TITLES = {
    "laps": "Overlaps in all",
    "gaps": "Gaps in all",
    "ease": "Ease",
    "beneath": "Worn beneath",
}
SPREADS = ((Spread.BY_LENGTH, "by length"), (Spread.ALIKE, "the same for each"))
WAYS = ((GrowBy.STRETCH, "stretch"), (GrowBy.STRIP, "let in a strip"))


class AroundPanel(QWidget):
    """Everything that is decided about the parts around one girth."""

    def __init__(self, presenter: AroundPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when another girth is looked at."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self._shown: tuple[object, ...] = ()
        self.girth = filled_later("girth", self._choose)
        self.spot = filled_later("measured girth", lambda _: None)
        self.add = button("Add", self._add, tip="Sum the parts around this girth")
        self.remove = button("Remove", presenter.remove, "quiet", "Remove this girth")
        self.figure = SlipFigure("great")
        self.effect = label("", "note", wrap=True)
        self.error = Complaint()
        self.parts = QVBoxLayout()
        self.piece = filled_later("piece that goes around", self._add_piece)
        self.fields = {
            name: EntryField(TITLES[name].lower(), partial(self._set, name), width=84)
            for name in LENGTHS
        }
        self.spread = ValueBox("spread", SPREADS, lambda v: presenter.change(spread=v))
        self.by = ValueBox("parts grow by", WAYS, lambda v: presenter.change(by=v))
        for box in (self.girth, self.spot, self.piece, self.spread, self.by):
            narrow(box)
        self.do = button("Spread", self._spread, "main")
        self.one = QWidget()
        self.one.setLayout(
            column(
                row(self.girth, self.remove),
                self.figure,
                self.effect,
                row(self.do, None),
                self.error,
                label("Parts, one after the other", "heading"),
                self.parts,
                self.piece,
                *(FieldLine(TITLES[name], self.fields[name]) for name in LENGTHS),
                FieldLine("What is missing goes", self.spread),
                FieldLine("Parts grow by", self.by),
            )
        )
        self.hint = label("", "note", wrap=True)
        self.setLayout(
            column(
                label("Parts around a girth", "title"),
                self.hint,
                row(self.spot, self.add),
                self.one,
                space=10,
            )
        )

    def fill(self) -> None:
        """Show the girth in sight."""
        p = self._presenter
        around, spots = p.around, p.open_spots()
        regard(self, around.id if around is not None else "")
        fill_box(self.spot, spots, str(self.spot.currentData() or ""))
        for widget in (self.spot, self.add):
            widget.setVisible(bool(spots))
        self.hint.setText(
            "Front, back and sides together must reach around the body."
            if spots
            else "Type a girth of a wearer on the sheet of Body first."
        )
        self.one.setVisible(around is not None)
        if around is None:
            return
        fill_box(self.girth, [(a.name, a.id) for a in p.known], around.id)
        self.figure.show_figure(p.words() or "no parts yet", p.reckon if p.words() else None)
        self.effect.setText(p.effect())
        total = p.total()
        self.do.setEnabled(total is not None and bool(total.around.parts) and not total.closes)
        for name, field in self.fields.items():
            field.show_value(float(getattr(around, name)))
        self.spread.show_value(around.spread)
        self.by.show_value(around.by)
        fill_box(self.piece, [("add a piece …", ""), *p.others()], "")
        self._fill_parts(around.parts, p.pieces())

    def _fill_parts(self, parts: tuple[AroundPart, ...], pieces: list[Piece]) -> None:
        state = (parts, tuple(pieces))
        if state == self._shown:
            return
        self._shown = state
        clear(self.parts)
        known = {p.id: p for p in pieces}
        for part in parts:
            if part.piece in known:
                self.parts.addWidget(self._line(part, known[part.piece]))

    def _line(self, part: AroundPart, piece: Piece) -> QWidget:
        name = piece.name
        change = partial(self._presenter.change_part, part.piece)
        ways = self._presenter.ways_around(piece)
        key = ValueBox(f"what of {name} goes around", ways, lambda v: change(key=v[0], edge=v[1]))
        narrow(key)
        now = (part.key, part.edge)
        key.show_value(now if now in [w for w, _ in ways] else (part.key, ""))
        times = counter(1, 48, f"how many {name} go around")
        times.setFixedWidth(64)
        times.setValue(part.times)
        times.valueChanged.connect(lambda n: change(times=n))
        takes = tick("takes", lambda on: change(takes=on), "Takes its share of what is missing")
        takes.setChecked(part.takes)
        drop = button(
            "×", partial(self._presenter.drop_piece, part.piece), "quiet", "Goes not around"
        )
        drop.setFixedWidth(36)
        made = QWidget()
        made.setLayout(column(row(label(name, wrap=True), drop), row(times, key, takes), space=4))
        return made

    # Doing

    def _choose(self, _index: int) -> None:
        self._presenter.chosen = str(self.girth.currentData())
        self._changed()

    def _add(self) -> None:
        if spot := self.spot.currentData():
            self._presenter.add(str(spot))

    def _add_piece(self, _index: int) -> None:
        if piece := self.piece.currentData():
            self._presenter.add_piece(str(piece))

    def _set(self, name: str, text: str) -> bool:
        with Taking(self.error, self.fields[name]) as taken:
            self._presenter.set_length(name, text)
        return bool(taken)

    def _spread(self) -> None:
        with Taking(self.error):
            self._presenter.spread()
