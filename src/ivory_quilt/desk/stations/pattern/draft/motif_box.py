"""Line ornament on Draft's card: a drawing's strokes once, or in a run along an edge or line."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ivory_quilt.core.editing.motif import MotifRun
from ivory_quilt.core.editing.ornament_row import AROUND, LINE, OrnamentRow, RowOf
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region_shapes import line_names
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
from ivory_quilt.desk.stations.pattern.draft.motif_presenter import MotifPresenter
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
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in

ONCE = "once"
WIDE = 150  # px
LEAST_LINE = 20.0  # mm of a line that a run goes along


class MotifBox(QWidget):
    """Which drawing, where, how large, and whether it is carved."""

    def __init__(self, presenter: MotifPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the piece has more lines."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.ask_file = self._ask_file
        self.open_button = button("Open a drawing …", self._open, tip="SVG; its lines are used")
        self.name = label("", "note", wrap=True)
        self.where = filled_later("where the ornament goes", lambda _: self._show())
        self.where.setFixedWidth(WIDE)
        self.wide = self._field("width of the ornament", 80.0)
        self.turn = self._field("turn of the ornament", 0.0, "°")
        self.count = counter(1, 200, "how often along it")
        self.count.setValue(6)
        self.high = self._field("height of the ornament", 20.0)
        self.inset = self._field("from the edge to its middle", 20.0)
        self.groove = self._field("width of the groove", 2.0)
        self.deep = self._field("depth of the groove", 0.0)
        self.once_lines = (FieldLine("Width", self.wide), FieldLine("Turned by", self.turn))
        self.run_lines = (
            FieldLine("How often", self.count),
            FieldLine("Height", self.high),
            FieldLine("From the edge", self.inset),
        )
        self.error = Complaint()
        put = button("Add to the piece", self.add, tip="What is off the foam is left out")
        self.body = QWidget()
        self.body.setLayout(
            column(
                FieldLine("Where", self.where),
                *self.once_lines,
                *self.run_lines,
                FieldLine("Carved, wide", self.groove),
                FieldLine("Deep, 0: drawn", self.deep),
                row(put, None),
            )
        )
        self.setLayout(
            column(
                label("Line ornament", "heading"),
                row(self.open_button, None),
                self.name,
                self.body,
                self.error,
            )
        )

    def _field(self, name: str, value: float, unit: str = "mm") -> EntryField:
        field = EntryField(name, lambda _: None, unit, width=84)
        field.show_value(value)
        return field

    def fill(self, piece: Piece) -> None:
        """Offer the edges and lines of a piece."""
        places = [("in the middle", ONCE), ("all around", AROUND)]
        places += [(f"along edge {e.name}", e.name) for e in edges_of(piece)]
        places += [
            (f"along line {name}", f"{LINE}{k}")
            for k, (name, line) in enumerate(zip(line_names(piece), piece.lines, strict=True), 1)
            if line_length(line.points) >= LEAST_LINE
        ][:20]
        fill_box(self.where, places, str(self.where.currentData() or ONCE))
        self._show()

    def _show(self) -> None:
        motif = self._presenter.motif
        self.body.setVisible(motif is not None)
        self.name.setVisible(motif is not None)
        if motif is not None:
            size = f"{show_number(motif.width, 0)} × {show_number(motif.height, 0)} mm"
            self.name.setText(f"{self._presenter.name}: {len(motif.strokes)} strokes, {size}")
        once = self.where.currentData() == ONCE
        for line in self.once_lines:
            line.setVisible(once)
        for line in self.run_lines:
            line.setVisible(not once)

    def add(self) -> None:
        """Put the ornament onto the piece, or say why not."""
        fields = (self.wide, self.turn, self.high, self.inset, self.groove, self.deep)
        with Taking(self.error, *fields) as taken:
            wide, high, inset, groove, depth = (
                typed_length(f.text(), where=f.accessibleName())
                for f in (self.wide, self.high, self.inset, self.groove, self.deep)
            )
            where = str(self.where.currentData())
            if where == ONCE:
                turn = parse_scalar(number_in(self.turn.text()), where="turn")
                self._presenter.add_once(wide, turn, (groove, depth))
            else:
                along = OrnamentRow(where, RowOf.MARKS, self.count.value(), inset=inset)
                self._presenter.add_run(MotifRun(along, high), (groove, depth))
        if taken:
            self._changed()

    def _ask_file(self) -> str:
        name, _ = QFileDialog.getOpenFileName(self, "Drawing with lines", "", "SVG (*.svg)")
        return name

    def _open(self) -> None:
        if name := self.ask_file():
            self._presenter.open(Path(name), self._opened)

    def _opened(self, problem: str) -> None:
        self.error.setText(problem)
        self._show()
