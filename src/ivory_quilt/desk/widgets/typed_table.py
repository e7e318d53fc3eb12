"""A table whose cells are typed into."""

from collections.abc import Sequence

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QAbstractItemView, QHeaderView, QTableWidget, QTableWidgetItem


class TypedTable(QTableWidget):
    """Rows of text with a head; some cells are shown only."""

    def __init__(self, heads: Sequence[str], name: str) -> None:
        """Show columns under `heads`; call the table `name` for those who hear it."""
        super().__init__(0, len(heads))
        self.setHorizontalHeaderLabels(list(heads))
        self.verticalHeader().setVisible(False)
        self.verticalHeader().setDefaultSectionSize(32)
        self.horizontalHeader().setSectionResizeMode(QHeaderView.ResizeMode.Interactive)
        self.horizontalHeader().setStretchLastSection(True)
        self.setSelectionMode(QAbstractItemView.SelectionMode.SingleSelection)
        self.setAccessibleName(name)

    def put(self, r: int, c: int, text: str, *, typed: bool) -> None:
        """Show text in a cell that may be typed into, or not."""
        cell = QTableWidgetItem(text)
        if not typed:
            cell.setFlags(cell.flags() & ~Qt.ItemFlag.ItemIsEditable)
        self.setItem(r, c, cell)

    def text(self, r: int, c: int) -> str:
        """Return what stands in a cell."""
        cell = self.item(r, c)
        return cell.text() if cell is not None else ""
