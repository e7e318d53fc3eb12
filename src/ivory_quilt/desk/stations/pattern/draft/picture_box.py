"""The picture beneath the piece, on Draft's card: opened, sized, turned, followed."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ivory_quilt.core.reading.tracing.follow import Follows
from ivory_quilt.desk.stations.pattern.draft.picture_presenter import PicturePresenter
from ivory_quilt.desk.widgets.basics import Complaint, ValueBox, button, column, label, row
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking

FOLLOWS = (
    (Follows.HAND, "the hand alone"),
    (Follows.EDGE, "the nearest edge in the picture"),
    (Follows.LINE, "the nearest dark line"),
)


class PictureBox(QWidget):
    """Fields for the picture beneath."""

    def __init__(self, presenter: PicturePresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the table must be drawn anew."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.ask_file = self._ask_file
        self.error = Complaint()
        self.wobble = EntryField("smooths the hand by", self._set_wobble, width=84)
        self.follows = ValueBox("a stroke follows", FOLLOWS, self._set_follows)
        self.open_button = button(
            "Open a picture …", self._open, tip="Lay a picture beneath the piece"
        )
        self.away = button("Take it away", self._close, tip="The piece stays as it is")
        self.name = label("", "note", wrap=True)
        self.wide = EntryField("width of the picture", self._set_width, width=84)
        self.turn = EntryField("turn of the picture", self._set_turn, unit="°", width=84)
        self.known = EntryField("known length", self._set_known, width=84)
        self.known_line = FieldLine("The line is really", self.known)
        self.known_hint = label(
            "Drag to move the picture. With Shift, drag a line over something of known length.",
            "note",
            wrap=True,
        )
        self.of_picture = QWidget()
        self.of_picture.setLayout(
            column(
                self.name,
                FieldLine("Width", self.wide),
                FieldLine("Turned by", self.turn),
                self.known_hint,
                self.known_line,
            )
        )
        self.of_stroke = QWidget()
        self.of_stroke.setLayout(
            column(FieldLine("Smooths by", self.wobble), label("A stroke follows"), self.follows)
        )
        self.setLayout(
            column(
                self.of_stroke, row(self.open_button, self.away, None), self.of_picture, self.error
            )
        )

    def fill(self, *, stroke: bool) -> None:
        """Show the picture; with `stroke`, what a stroke follows as well."""
        p = self._presenter
        under = p.underlay
        self.of_stroke.setVisible(stroke)
        self.wobble.show_value(p.wobble)
        self.follows.show_value(p.follows)
        self.follows.setEnabled(under is not None)
        self.away.setVisible(under is not None)
        self.of_picture.setVisible(under is not None)
        self.known_hint.setVisible(not stroke)
        self.known_line.setVisible(p.known is not None)
        if under is not None:
            self.name.setText(under.name)
            self.wide.show_value(under.size[0])
            self.turn.show_value(under.turn)
        if p.known is not None:
            self.known.show_value(p.known_length)

    def _do(self, work: Callable[[], object], field: EntryField) -> bool:
        with Taking(self.error, field) as taken:
            work()
        if taken:
            self._changed()
        return bool(taken)

    def _ask_file(self) -> str:
        name, _ = QFileDialog.getOpenFileName(
            self, "Picture to draw over", "", "Pictures (*.png *.jpg *.jpeg *.tif *.tiff)"
        )
        return name

    def _open(self) -> None:
        if name := self.ask_file():
            self.error.setText("")
            self._presenter.open(Path(name), self._opened)

    def _opened(self, problem: str) -> None:
        self.error.setText(problem)
        self._changed()

    def _close(self) -> None:
        self._presenter.close()
        self._changed()

    def _set_wobble(self, text: str) -> bool:
        return self._do(lambda: self._presenter.smooth_by(text), self.wobble)

    def _set_width(self, text: str) -> bool:
        return self._do(lambda: self._presenter.set_width(text), self.wide)

    def _set_turn(self, text: str) -> bool:
        return self._do(lambda: self._presenter.set_turn(text), self.turn)

    def _set_known(self, text: str) -> bool:
        return self._do(lambda: self._presenter.say_known(text), self.known)

    def _set_follows(self, what: Follows) -> None:
        self._presenter.follows = what
