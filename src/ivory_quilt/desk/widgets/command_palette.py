"""The command palette: type a few letters of a command or a piece, Enter does it or goes there."""

from collections.abc import Callable, Sequence

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import QKeyEvent
from PySide6.QtWidgets import QHeaderView, QLineEdit, QTreeWidget, QTreeWidgetItem, QWidget

from ivory_quilt.core.record import Struct
from ivory_quilt.desk.widgets.basics import label
from ivory_quilt.desk.widgets.panels import Panel

MOST = 60  # entries shown at once


class Entry(Struct, frozen=True):
    """One thing to find.

    Attributes:
        title: what is searched and shown.
        note: what it is, with its key.
        run: does it, or goes there.
    """

    title: str
    note: str
    run: Callable[[], object]


def rank(title: str, typed: str) -> tuple[int, int] | None:
    """Return how well a title answers what is typed, least first; None when it does not.

    The words as typed come first, at the title's beginning before later; then titles that hold all
    typed letters in their order, the closer together the better.
    """
    title, typed = title.casefold(), " ".join(typed.casefold().split())
    at = title.find(typed)
    if at >= 0:
        return (0 if at == 0 else 1 if title[at - 1] in " -:" else 2, at)
    letters = typed.replace(" ", "")
    place = first = -1
    for letter in letters:
        place = title.find(letter, place + 1)
        if place < 0:
            return None
        first = place if first < 0 else first
    return (3, place - first)


class CommandPalette(Panel):
    """A field over a list of what answers it."""

    def __init__(
        self,
        parent: QWidget,
        entries: Callable[[], Sequence[Entry]],
        answers: Callable[[str], Sequence[Entry]] = lambda _: (),
    ) -> None:
        """Search in what `entries` returns each time it is opened; `answers` may know more.

        What is typed may be no part of a title: a code.
        """
        super().__init__(parent, "Commands and pieces", (640, 460))
        self._entries, self._answers, self._known = entries, answers, tuple[Entry, ...]()
        self.field = QLineEdit()
        self.field.setPlaceholderText("Type a command or a piece's name")
        self.field.setAccessibleName("command or piece")
        self.field.textChanged.connect(self._search)
        self.field.returnPressed.connect(self._run)
        self.field.installEventFilter(self)
        self.list = QTreeWidget()
        self.list.setAccessibleName("commands and pieces")
        self.list.setColumnCount(2)
        self.list.setHeaderHidden(True)
        self.list.setRootIsDecorated(False)
        self.list.setUniformRowHeights(True)
        self.list.header().setStretchLastSection(False)
        self.list.header().setSectionResizeMode(0, QHeaderView.ResizeMode.Stretch)
        self.list.header().setSectionResizeMode(1, QHeaderView.ResizeMode.ResizeToContents)
        self.list.itemActivated.connect(lambda *_: self._run())
        self.note = label("", "note")
        self.fill(self.field, self.list, self.note)

    def open(self) -> None:
        """Open with an empty field."""
        self._known = tuple(self._entries())
        self.field.clear()
        self._search("")
        super().open()
        self.field.setFocus()

    def _search(self, typed: str) -> None:
        ranked = [(r, k) for k, e in enumerate(self._known) if (r := rank(e.title, typed))]
        found = [self._known[k] for _, k in sorted(ranked)] if typed.strip() else [*self._known]
        found = [*self._answers(typed), *found]
        self.list.clear()
        for entry in found[:MOST]:
            item = QTreeWidgetItem([entry.title, entry.note])
            item.setData(0, Qt.ItemDataRole.UserRole, entry)
            self.list.addTopLevelItem(item)
        if found:
            self.list.setCurrentIndex(self.list.model().index(0, 0))
        more = len(found) - MOST
        self.note.setText(
            "Nothing has these letters."
            if not found
            else f"{more} more: type on"
            if more > 0
            else "Enter does it, Esc closes"
        )

    def _run(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.put_away()
            item.data(0, Qt.ItemDataRole.UserRole).run()

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """From the field the arrows go through the list."""
        if (
            watched is self.field
            and event.type() == QEvent.Type.KeyPress
            and isinstance(event, QKeyEvent)
            and event.key()
            in (Qt.Key.Key_Up, Qt.Key.Key_Down, Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
        ):
            self.list.event(event)
            return True
        return super().eventFilter(watched, event)
