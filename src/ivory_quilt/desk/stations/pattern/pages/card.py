"""The page table's card: how the pages lie, the next click, what to bring in."""

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.tracing.picture import PictureScale, parse_dpi
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.desk.imports.pages import PagesImport
from ivory_quilt.desk.imports.picture import SHEETS
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    label,
    row,
)

SCAN = "scan"


class PagesCard(QWidget):
    """What can be done about pages that belong together."""

    def __init__(
        self,
        bring_in: Callable[[], None],
        one_by_one: Callable[[], None],
        leave: Callable[[], None],
        rescale: Callable[[PictureScale], None],
        changed: Callable[[], None],
    ) -> None:
        """Call what the buttons say; `changed` when the table must be drawn anew."""
        super().__init__()
        self._changed, self._rescale = changed, rescale
        self._found: PagesImport | None = None
        self.title = label("", "title", wrap=True)
        self.summary = label("", wrap=True)
        self.next_step = label("", "note", wrap=True)
        self.error = Complaint()
        self.take = button("Import joined pages", bring_in, "main")
        self.singly = button("Import page by page", one_by_one, tip="Pages are not joined")
        self.part = button("Remove manual joins", self._part, "quiet")
        self.joins = QVBoxLayout()
        self.joins.setSpacing(2)
        sizes = [(SCAN, "Flat scans"), *((n, f"Photos of whole {n} sheets") for n, _ in SHEETS)]
        self.kind = choices(sizes, lambda _: self._tell_scale())
        self.kind.setAccessibleName("what the pictures are")
        self.dpi = QLineEdit("300")
        self.dpi.setAccessibleName("resolution of the scans")
        self.dpi.editingFinished.connect(self._tell_scale)
        self.scale_box = QWidget()
        self.scale_box.setLayout(
            column(
                label("The pictures are", "note"),
                self.kind,
                row(self.dpi, label("pixels per inch")),
            )
        )
        self.setLayout(
            column(
                self.title,
                self.summary,
                self.scale_box,
                row(self.take, None),
                row(self.singly, button("Dismiss", leave, "quiet"), None),
                Stitch(),
                label("Joins", "heading"),
                self.joins,
                self.next_step,
                self.error,
                row(self.part, None),
                None,
                space=10,
                edge=16,
            )
        )

    def fill(self, found: PagesImport) -> None:
        """Show how the pages lie."""
        if found is not self._found:
            self.error.setText("")
        self._found = found
        self.title.setText(found.file)
        self.summary.setText(found.summary())
        self.next_step.setText(found.next_step())
        self.take.setEnabled(found.placed.joined > 1)
        self.take.setText("Trace joined pages" if found.scans else "Import joined pages")
        self.singly.setVisible(not found.scans)
        self.scale_box.setVisible(bool(found.scans))
        self.dpi.setEnabled(self.kind.currentIndex() == 0)
        self.part.setVisible(bool(found.by_hand or found.clicks))
        clear(self.joins)
        for join, off in zip(found.placed.joins, found.placed.residuals, strict=True):
            one, other = (found.pages[k].number for k in (join.first, join.second))
            many = len(join.pairs)
            text = f"page {one} to {other}: {counted(many, 'mark')}, {show_number(off, 2)} mm"
            self.joins.addWidget(label(text, "note", "heat" if off > 0.6 else "good"))

    def complain(self, text: str) -> None:
        """Say why something was refused."""
        self.error.setText(text)

    def _part(self) -> None:
        if self._found is not None:
            self._found.part()
            self._changed()

    def _tell_scale(self) -> None:
        which = self.kind.currentData()
        try:
            if which == SCAN:
                scale = PictureScale(dpi=parse_dpi(self.dpi.text(), where="resolution"))
            else:
                scale = PictureScale(rectangle=dict(SHEETS)[which])
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self._rescale(scale)
