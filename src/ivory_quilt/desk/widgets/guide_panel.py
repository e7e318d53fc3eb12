"""The guide over the desk: chapters to choose from, a field to search in, the text beside."""

from PySide6.QtCore import QEvent, QObject, Qt
from PySide6.QtGui import (
    QColor,
    QKeyEvent,
    QTextBlockFormat,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
)
from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QTextBrowser, QTextEdit
from PySide6.QtWidgets import QWidget as Widget

from ivory_quilt.desk.guide import Chapter, found_in
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import button, column, label, row
from ivory_quilt.desk.widgets.panels import Panel

MARGIN, AFTER, LINES = 14, 10, 130  # px around the text and after a paragraph; percent of a line


def _aired(document: QTextDocument) -> None:
    """Give text the room that reading wants: Markdown alone sets paragraphs without any."""
    document.setDocumentMargin(MARGIN)
    cursor = QTextCursor(document)
    cursor.select(QTextCursor.SelectionType.Document)
    room = QTextBlockFormat()
    room.setBottomMargin(AFTER)
    room.setLineHeight(LINES, QTextBlockFormat.LineHeightTypes.ProportionalHeight.value)
    cursor.mergeBlockFormat(room)


class GuidePanel(Panel):
    """The guide; the keyboard reaches everything: type to search, arrows choose a chapter."""

    def __init__(self, parent: Widget) -> None:
        """Lie over `parent`, hidden."""
        super().__init__(parent, "Guide", (960, 640))
        self._look: Palette = LIGHT
        self.search = QLineEdit()
        self.search.setPlaceholderText("Search the guide")
        self.search.setAccessibleName("search the guide")
        self.search.textChanged.connect(self._searched)
        self.search.returnPressed.connect(self.find_next)
        self.search.installEventFilter(self)
        self.list = QListWidget()
        self.list.setAccessibleName("chapters")
        self.list.setFixedWidth(220)
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(lambda *_: self._show())
        self.page = QTextBrowser()
        self.page.setAccessibleName("the chapter's text")
        self.page.setOpenExternalLinks(False)
        self.page.setOpenLinks(False)
        self.found = label("", "note")
        self.next = button("Find next", self.find_next)
        side = column(self.list, space=8)
        body = row(side, self.page, space=16)
        body.setStretch(1, 1)
        self.fill(row(self.search, self.next, self.found), body)

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        self._look = look
        self._show()

    def open_at(self, title: str) -> None:
        """Open the guide at a chapter, with the cursor in the search field."""
        self.search.clear()
        self._searched("")
        for k in range(self.list.count()):
            if self.list.item(k).data(Qt.ItemDataRole.UserRole).title == title:
                self.list.setCurrentRow(k)
        self.open()
        self.search.setFocus()

    @property
    def chapter(self) -> Chapter | None:
        """The chapter that is shown."""
        item = self.list.currentItem()
        return item.data(Qt.ItemDataRole.UserRole) if item is not None else None

    def find_next(self) -> None:
        """Go to the next place, in the next chapter that has one when this one is at its end."""
        words = self.search.text().strip()
        if not words or not self.list.count():
            return
        if not self.page.find(words):
            self.list.setCurrentRow((self.list.currentRow() + 1) % self.list.count())
            self.page.moveCursor(QTextCursor.MoveOperation.Start)
            self.page.find(words)

    def _searched(self, text: str) -> None:
        words = text.strip()
        kept = self.chapter
        chosen = found_in(words)
        self.list.clear()
        for chapter in chosen:
            count = chapter.count(words) if words else 0
            item = QListWidgetItem(f"{chapter.title}  ({count})" if count else chapter.title)
            item.setData(Qt.ItemDataRole.UserRole, chapter)
            self.list.addItem(item)
        at = chosen.index(kept) if kept in chosen else 0
        self.list.setCurrentRow(at if chosen else -1)
        places = sum(c.count(words) for c in chosen) if words else 0
        self.found.setText("" if not words else f"{places} places" if places != 1 else "1 place")
        self.next.setEnabled(places > 0)
        self._show()

    def _show(self) -> None:
        chapter = self.chapter
        if chapter is None:
            self.page.setMarkdown("Nothing in the guide has these words.")
            return
        document = QTextDocument(self.page)
        document.setDefaultFont(self.page.font())
        document.setMarkdown(f"## {chapter.title}\n\n{chapter.text}")
        _aired(document)
        self.page.setDocument(document)
        self.page.setExtraSelections(self._marked(document, self.search.text().strip()))
        self.page.moveCursor(QTextCursor.MoveOperation.Start)

    def _marked(self, document: QTextDocument, words: str) -> list[QTextEdit.ExtraSelection]:
        """Return where words stand, to be shown in the colour of a selection."""
        found: list[QTextEdit.ExtraSelection] = []
        if not words:
            return found
        colours = QTextCharFormat()
        colours.setBackground(QColor(self._look.iris))
        colours.setForeground(QColor(self._look.paper))
        cursor = document.find(words)
        while not cursor.isNull():
            one = QTextEdit.ExtraSelection()
            one.cursor, one.format = cursor, colours
            found.append(one)
            cursor = document.find(words, cursor)
        return found

    def eventFilter(self, watched: QObject, event: QEvent) -> bool:
        """From the search field the arrows choose a chapter."""
        if watched is self.search and isinstance(event, QKeyEvent):
            step = {Qt.Key.Key_Up: -1, Qt.Key.Key_Down: 1}.get(Qt.Key(event.key()))
            if step is not None and event.type() == QEvent.Type.KeyPress:
                last = self.list.count() - 1
                self.list.setCurrentRow(min(max(self.list.currentRow() + step, 0), last))
                return True
        return super().eventFilter(watched, event)
