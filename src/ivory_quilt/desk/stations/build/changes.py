"""What was done to a piece's outline, line by line, each figure with its slip."""

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.forming.shaping import Change
from ivory_quilt.desk.widgets.basics import clear, column, label, row
from ivory_quilt.desk.widgets.slip import SlipFigure

MOST = 12


class ChangeList(QWidget):
    """The changes of one cut."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self._lines = QVBoxLayout()
        self._lines.setSpacing(4)
        self._shown: object = None
        self.setLayout(column(self._lines))

    def show_changes(self, changes: tuple[Change, ...]) -> None:
        """Show the changes of one cut."""
        self.show_cuts((("", changes),))

    def show_cuts(self, groups: tuple[tuple[str, tuple[Change, ...]], ...]) -> None:
        """Show the changes of several, each under its name; what is shown already stays."""
        if groups == self._shown:
            return
        self._shown = groups
        clear(self._lines)
        if not any(changes for _, changes in groups):
            self._lines.addWidget(label("Cut just as the pattern says.", "note", wrap=True))
            return
        for name, changes in groups[:MOST]:
            if name:
                self._lines.addWidget(label(name[:1].upper() + name[1:], "note"))
            for change in changes:
                self._line(change)

    def _line(self, change: Change) -> None:
        shown = SlipFigure("mono")
        shown.show_figure(change.figure, lambda: change.reckoning)
        shown.setMinimumWidth(76)
        said = label(change.why, "note", wrap=True)
        line = row(shown, said)
        line.setStretch(1, 1)
        self._lines.addLayout(line)
