"""Lines of words below each other that change often: their labels stay, only the words change."""

from collections.abc import Sequence
from dataclasses import dataclass

from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ivory_quilt.desk.idle_tasks import Later
from ivory_quilt.desk.widgets.basics import label, set_tone

AT_ONCE = 16  # labels that are made in one turn


@dataclass(frozen=True)
class Line:
    """One line: its words, its role in the theme ("note", "mono", "") and its tone."""

    text: str
    role: str = ""
    tone: str = ""


class LabelList(QWidget):
    """Lines below each other; made anew they would cost the window tens of milliseconds."""

    def __init__(self, space: int = 4) -> None:
        """Show nothing yet, `space` pixels between two lines."""
        super().__init__()
        self._shown: tuple[Line, ...] = ()
        self._labels: list[QLabel] = []
        self._layout = QVBoxLayout(self)
        self._layout.setContentsMargins(0, 0, 0, 0)
        self._layout.setSpacing(space)
        self._more = Later(self._show, 0, self)
        self.hide()

    @property
    def lines(self) -> tuple[Line, ...]:
        """What is shown."""
        return self._shown

    def show_lines(self, lines: Sequence[Line]) -> None:
        """Show other lines."""
        wanted = tuple(lines)
        if wanted == self._shown:
            return
        self._shown = wanted
        self._show()

    def _show(self) -> None:
        """Show what is to be shown; labels that are missing come a few in each turn."""
        wanted = self._shown
        for _ in range(min(AT_ONCE, len(wanted) - len(self._labels))):
            made = label(wrap=True)
            self._labels.append(made)
            self._layout.addWidget(made)
        for made, line in zip(self._labels, wanted, strict=False):
            if made.property("role") != (line.role or None):
                made.setProperty("role", line.role or None)
                made.setProperty("tone", None)  # so that it is styled anew
            set_tone(made, line.tone)
            if made.text() != line.text:
                made.setText(line.text)
            made.show()
        for made in self._labels[len(wanted) :]:
            made.hide()
        self.setVisible(bool(wanted))
        if len(self._labels) < len(wanted):
            self._more.soon()
