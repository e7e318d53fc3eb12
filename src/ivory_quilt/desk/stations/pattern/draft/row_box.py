"""A row of holes or ornaments along an edge, on Draft's card."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.editing.ornament_field import OVER, OrnamentField
from ivory_quilt.core.editing.ornament_row import AROUND, LINE, OrnamentRow, RowOf
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import typed_length
from ivory_quilt.desk.stations.pattern.draft.presenter import DraftPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    button,
    column,
    counter,
    fill_box,
    filled_later,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, tick

WORDS = {RowOf.HOLES: "holes", RowOf.MARKS: "marks for studs"}
START = 12.0  # mm from the edge, from memory, no source
SIZE = 8.0  # mm across, from memory, no source
LEAST_LINE = 60.0  # mm that a line is long along which a row may run
MOST_LINES = 40  # of a piece that are offered
WIDE = 150  # px


class RowBox(QWidget):
    """What stands in a row, how many, and where; one button puts it on the piece."""

    def __init__(self, presenter: DraftPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the piece has a row more."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.edge = filled_later("edge of the row", self._show_lines)
        self.of = filled_later("what stands in the row", self._show_lines)
        self.then = filled_later("in turn with", lambda _: None)
        for box in (self.edge, self.of, self.then):
            box.setFixedWidth(WIDE)
        self.count = counter(1, 500, "how many in the row")
        self.count.setValue(12)
        self.spacing = self._field("from one to the next", "")
        self.spacing.setPlaceholderText("as it comes")
        self.up = self._field("from row to row", "")
        self.up.setPlaceholderText("as it comes")
        self.staggered = tick("each row in the gaps of the last", lambda _: None)
        self.staggered.setChecked(True)
        self.inset = self._field("from the edge to the middles", START)
        self.ends = self._field("more room at the ends", 0.0)
        self.first, self.last = self._field("first one", SIZE), self._field("last one", SIZE)
        self.up_line = FieldLine("Row to row", self.up)
        self.ends_line = FieldLine("Room at the ends", self.ends)
        self.then_line = FieldLine("In turn with", self.then)
        self.size_line = FieldLine("First, last", self.first, self.last)
        self.error = Complaint()
        put = button("Add to the piece", self.add, tip="Evenly spaced along the true curve")
        self.setLayout(
            column(
                label("Row or field", "heading"),
                FieldLine("Along", self.edge),
                FieldLine("Of", self.of),
                self.then_line,
                FieldLine("How many", self.count),
                FieldLine("Or one every", self.spacing),
                self.up_line,
                self.staggered,
                FieldLine("From the edge", self.inset),
                self.ends_line,
                self.size_line,
                self.error,
                row(put, None),
            )
        )

    def _field(self, name: str, value: float | str) -> EntryField:
        field = EntryField(name, lambda _: None, width=84)
        if isinstance(value, float):
            field.show_value(value)
        return field

    def fill(self, piece: Piece) -> None:
        """Offer the edges of a piece, and the other pieces of the project."""
        edges = [("all around", AROUND), *((f"edge {e.name}", e.name) for e in edges_of(piece))]
        edges += [
            (f"{k.kind.value} line {n}", f"{LINE}{n}")
            for n, k in enumerate(piece.lines[:MOST_LINES], 1)
            if line_length(k.points) >= LEAST_LINE  # not the marks of an earlier row
        ]
        edges.append(("over all of it", OVER))
        fill_box(self.edge, edges, str(self.edge.currentData() or AROUND))
        pieces = self._presenter.session.project.pieces
        others = [(p.name, f"piece:{p.id}") for p in pieces if p.id != piece.id]
        plain = [(words, kind.value) for kind, words in WORDS.items()]
        fill_box(self.of, [*plain, *others], str(self.of.currentData() or RowOf.HOLES.value))
        fill_box(self.then, [("nothing else", ""), *others], str(self.then.currentData() or ""))
        self._show_lines()

    def add(self) -> None:
        """Put the row onto the piece, or say why it does not fit."""
        fields = (self.spacing, self.up, self.inset, self.ends, self.first, self.last)
        with Taking(self.error, *fields) as taken:
            if self.edge.currentData() == OVER:
                self._presenter.add_field(self.field())
            else:
                self._presenter.add_row(self.row())
        if taken:
            self._changed()

    def row(self) -> OrnamentRow:
        """Return the row as it is typed.

        Raises:
            InputError: a number makes no sense.
        """
        of = str(self.of.currentData())
        chosen = (of, str(self.then.currentData() or ""))
        pieces = tuple(word.removeprefix("piece:") for word in chosen if word.startswith("piece:"))
        spacing = self.spacing.text().strip()
        inset, ends, first, last = (
            typed_length(field.text(), where=field.accessibleName())
            for field in (self.inset, self.ends, self.first, self.last)
        )
        return OrnamentRow(
            str(self.edge.currentData()),
            RowOf.PIECES if of.startswith("piece:") else RowOf(of),
            self.count.value(),
            typed_length(spacing, where="spacing") if spacing else 0.0,
            inset,
            ends,
            first,
            last,
            pieces if of.startswith("piece:") else (),
        )

    def field(self) -> OrnamentField:
        """Return what is put all over the piece as it is typed.

        Raises:
            InputError: a number makes no sense.
        """
        up = self.up.text().strip()
        rise = typed_length(up, where="row to row") if up else 0.0
        return OrnamentField(self.row(), rise, self.staggered.isChecked())

    def _show_lines(self, _index: int = 0) -> None:
        pieces = str(self.of.currentData()).startswith("piece:")
        over = self.edge.currentData() == OVER
        self.up_line.setVisible(over)
        self.staggered.setVisible(over)
        self.ends_line.setVisible(not over)
        self.then_line.setVisible(pieces)
        self.size_line.setVisible(not pieces)
