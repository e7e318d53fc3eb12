"""Unsaved work that was found: beside the saved file, to be opened, kept or discarded."""

from collections.abc import Callable

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QVBoxLayout, QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import counted
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import (
    Stitch,
    button,
    column,
    filled_later,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.panels import Panel
from ivory_quilt.desk.widgets.pieces_picture import PiecesPicture

MOST_LINES = 6  # of what differs


class FoundWork(Struct, frozen=True):
    """Unsaved work beside what is saved.

    Attributes:
        name: the project's.
        work: the unsaved document; None when its copy is damaged.
        when: when it was last changed, in words.
        label: what was done last.
        saved: the document in the saved file, or None.
        saved_when: what is to be said of that file: its time, or why there is none.
        differs: what the work has that the file has not.
        older: whether the file was saved after the work.
    """

    name: str
    work: Project | None
    when: str
    label: str
    saved: Project | None
    saved_when: str
    differs: tuple[str, ...]
    older: bool


class _StateSide(QWidget):
    """One of the two states: its time, its pieces, a picture."""

    def __init__(self, title: str) -> None:
        super().__init__()
        self.when = label("", wrap=True)
        self.when.setFixedHeight(42)  # both pictures are equally large, and so at one scale
        self.when.setAlignment(Qt.AlignmentFlag.AlignTop)
        self.picture = PiecesPicture(f"pieces: {title.lower()}")
        self.count = label("", "note")
        self.setLayout(column(label(title, "heading"), self.when, self.picture, self.count))
        layout = self.layout()
        assert isinstance(layout, QVBoxLayout)
        layout.setStretch(2, 1)

    def show_state(
        self, project: Project | None, other: Project | None, when: str, look: Palette
    ) -> None:
        self.when.setText(when)
        pieces = project.pieces if project is not None else ()
        self.picture.show_pieces(pieces, other.pieces if other is not None else pieces, look)
        self.count.setText(counted(len(pieces), "piece") if project is not None else "")


class RecoveryPanel(Panel):
    """Offers what was unsaved when the program last ended; nothing goes without a word."""

    def __init__(
        self,
        parent: QWidget,
        open_work: Callable[[int], None],
        discard: Callable[[int], None],
    ) -> None:
        """Call `open_work` or `discard` with the number of the work that is meant."""
        super().__init__(parent, "Unsaved work was found", (820, 600))
        self.close_button.setText("Keep for later")
        self.close_button.setToolTip("It is offered again at the next start")
        self._found: list[FoundWork] = []
        self.look: Palette = LIGHT
        self.which: QComboBox = filled_later("unsaved work", self._show)
        self.what = label("", wrap=True)
        self.saved, self.work = _StateSide("Saved file"), _StateSide("Unsaved work")
        self.differs = label("", wrap=True)
        self.take = button("Open the unsaved work", lambda: open_work(self._at), "main")
        self.drop = button("Discard it …", lambda: discard(self._at), "quiet")
        sides = row(self.saved, Stitch(upright=True), self.work, space=16)
        sides.setStretch(0, 1)
        sides.setStretch(2, 1)
        self.fill(
            self.what,
            self.which,
            sides,
            Stitch(),
            self.differs,
            row(self.take, None, self.drop),
        )

    @property
    def _at(self) -> int:
        return max(self.which.currentIndex(), 0)

    def offer(self, found: list[FoundWork], look: Palette) -> None:
        """Show what was found, the newest first; nothing found puts the panel away."""
        self._found, self.look = found, look
        if not found:
            self.put_away()
            return
        self.which.clear()
        self.which.addItems([f"{one.name}, {one.when}" for one in found])
        self.which.setVisible(len(found) > 1)
        self._show(0)
        self.open()
        self.take.setFocus()

    def _show(self, k: int) -> None:
        one = self._found[k]
        last = f" The last step was: {one.label}." if one.label else ""
        self.what.setText(
            f"Ivory Quilt ended before {one.name} was saved.{last} Nothing changes until you say."
        )
        self.saved.show_state(one.saved, one.work, one.saved_when, self.look)
        self.work.show_state(one.work, one.saved, one.when, self.look)
        self.take.setEnabled(one.work is not None)
        lines = list(one.differs[:MOST_LINES])
        if len(one.differs) > MOST_LINES:
            lines.append(f"and {len(one.differs) - MOST_LINES} more")
        if one.work is None:
            text, tone = "The copy of the unsaved work is damaged and cannot be read.", "cut"
        elif one.older:
            text, tone = "The file was saved after this work was done.", "heat"
        else:
            text, tone = "", ""
        told = "Unsaved: " + "; ".join(lines) + "." if lines else ""
        if one.saved is not None and not told and not text:
            told = "Both are alike."
        self.differs.setText(" ".join(t for t in (text, told) if t))
        set_tone(self.differs, tone)
