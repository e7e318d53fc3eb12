"""A row of overlapping plates made of the piece, on Draft's card."""

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.core.editing.plate_row import PlateRow
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import parse_scalar, typed_length
from ivory_quilt.desk.stations.pattern.draft.presenter import DraftPresenter
from ivory_quilt.desk.widgets.basics import Complaint, button, column, counter, label, row
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in
from ivory_quilt.desk.widgets.slip import SlipFigure

COUNT, LENGTH, OVERLAP = 5, 300.0, 18.0  # to begin with, from memory, no source


class PlateBox(QWidget):
    """How many plates, how long the row, how far they lap, how much smaller the last."""

    def __init__(self, presenter: DraftPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the plates are there."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self._piece: Piece | None = None
        self.count = counter(2, 60, "how many plates")
        self.count.setValue(COUNT)
        self.count.valueChanged.connect(self._show)
        self.length = EntryField("length of the row", self._typed, width=84)
        self.length.show_value(LENGTH)
        self.overlap = EntryField("overlap", self._typed, width=84)
        self.overlap.show_value(OVERLAP)
        self.taper = QLineEdit("100 %")
        self.taper.setAccessibleName("last against the first")
        self.taper.setFixedWidth(84)
        self.taper.editingFinished.connect(self._show)
        self.figure = SlipFigure()
        self.error = Complaint()
        make = button("Make plates", self.make, tip="The piece becomes the first of them")
        self.setLayout(
            column(
                label("Overlapping plates", "heading"),
                FieldLine("How many", self.count),
                FieldLine("Length of the row", self.length),
                FieldLine("Overlap", self.overlap),
                FieldLine("Last, of the first", self.taper),
                self.figure,
                self.error,
                row(make, None),
            )
        )

    def fill(self, piece: Piece) -> None:
        """Show what comes of the piece."""
        self._piece = piece
        self._show()

    def row(self) -> PlateRow:
        """Return the row as it is typed.

        Raises:
            InputError: a number makes no sense.
        """
        return PlateRow(
            self.count.value(),
            typed_length(self.length.text(), where="length of the row"),
            typed_length(self.overlap.text(), where="overlap"),
            parse_scalar(number_in(self.taper.text()), where="last against the first") / 100,
        )

    def make(self) -> None:
        """Make the plates, or say why not."""
        with Taking(self.error, self.length, self.overlap, self.taper) as taken:
            self._presenter.make_plates(self.row())
        if taken:
            self._changed()

    def _typed(self, _text: str) -> None:
        self._show()

    def _show(self, _value: int = 0) -> None:
        piece = self._piece
        if piece is None:
            return
        try:
            made = self.row()
            found = made.reckon(piece.shape.height)
        except InputError:
            self.figure.show_figure("", None)
            return
        first, last = found.figure("first"), found.figure("last")
        text = f"{first:.1f} mm tall" if made.taper == 1 else f"{first:.1f} to {last:.1f} mm tall"
        self.figure.show_figure(text, lambda: found)
