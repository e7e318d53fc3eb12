"""Stickers for parts and offcuts: on which labels, and from which one on."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.record import replace
from ivory_quilt.desk.stations.cut.presenter import CutPresenter
from ivory_quilt.desk.widgets.basics import button, choices, column, counter, label, row
from ivory_quilt.desk.widgets.fields import said
from ivory_quilt.files.papers.stickers import StickerPaper

OF_WHAT = ((False, "of the parts"), (True, "of the shelf's offcuts"))


class StickerBox(QWidget):
    """Choose the stickers and write them."""

    def __init__(self, presenter: CutPresenter, write: Callable[[], object]) -> None:
        """Keep the choice in `presenter`; `write` asks for a place."""
        super().__init__()
        self._presenter = presenter
        self.of_what = choices(OF_WHAT, lambda shelf: self._change(shelf=shelf))
        self.of_what.setAccessibleName("stickers of what")
        self.paper = choices([(p, p.value) for p in StickerPaper], lambda p: self._change(paper=p))
        self.paper.setAccessibleName("labels")
        self.first = counter(1, max(p.grid.many for p in StickerPaper), "first label")
        self.first.setToolTip("Labels before this one are used already")
        self.first.valueChanged.connect(lambda n: self._change(first=n))
        self.save = button("Stickers as PDF …", write)
        self.setLayout(
            column(
                row(self.save),
                row(label("Stickers"), self.of_what),
                row(label("Labels"), self.paper),
                said("First free label", self.first),
                space=8,
            )
        )

    def _change(self, **changes: object) -> None:
        self._presenter.stickers = replace(self._presenter.stickers, **changes)  # type: ignore[arg-type]
        self.first.setMaximum(self._presenter.stickers.paper.grid.many)
