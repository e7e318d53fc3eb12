"""The places beside the board: Draft, the seam map, the page table, the library.

Each is made when somebody first goes there: together they cost a start as much as the board.
"""

from collections.abc import Callable
from functools import cached_property
from typing import TYPE_CHECKING

from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.pattern.modes import ModePane, PatternMode
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.pattern.draft.pane import DraftPane
    from ivory_quilt.desk.stations.pattern.library.pane import LibraryPane
    from ivory_quilt.desk.stations.pattern.pages.pane import PagesPane
    from ivory_quilt.desk.stations.pattern.seams.pane import SeamPane


class ModePanes:
    """Draft, seams, pages and library; `made` are those that somebody went to."""

    def __init__(
        self,
        presenter: PatternPresenter,
        tables: QStackedWidget,
        changed: Callable[[], None],
        to_board: Callable[[], None],
        background: Callable[[], Background],
        reader: Callable[[], Background],
    ) -> None:
        """Put tables into `tables`, and cards into `cards`.

        Args:
            presenter: the board's.
            tables: shows one table at a time.
            changed: called when the station must be shown anew.
            to_board: goes back to the board.
            background: returns what runs long work.
            reader: returns what reads files.
        """
        self._presenter, self._session, self._tables = presenter, presenter.session, tables
        self._changed, self._to_board = changed, to_board
        self._background, self._reader = background, reader
        self.cards = QVBoxLayout()
        self.made: dict[PatternMode, ModePane] = {}

    def of(self, mode: PatternMode) -> ModePane | None:
        """Return a mode's place, made now if need be; None for the board."""
        if mode is not PatternMode.BOARD and mode not in self.made:
            getattr(self, mode.value)
        return self.made.get(mode)

    def forget(self) -> None:
        """Another project is open: nothing of the last one is in hand."""
        if PatternMode.DRAFT in self.made:
            self.draft.presenter.take_up("")
            self.draft.presenter.picture.forget()
        if PatternMode.SEAMS in self.made:
            self.seams.presenter.forget()

    @cached_property
    def draft(self) -> "DraftPane":
        """One piece, to draw on and to cut open."""
        from ivory_quilt.desk.stations.pattern.draft.pane import DraftPane

        pane = DraftPane(self._session, self._changed, self._reader)
        self._take_in(PatternMode.DRAFT, pane.table, pane.card, pane.refresh)
        return pane

    @cached_property
    def seams(self) -> "SeamPane":
        """Which edges are glued together."""
        from ivory_quilt.desk.stations.pattern.seams.pane import SeamPane

        pane = SeamPane(self._session, self._changed, self._background)
        self._take_in(PatternMode.SEAMS, pane.map, pane.card, pane.refresh)
        return pane

    @cached_property
    def pages(self) -> "PagesPane":
        """Pages of a pattern on their way in."""
        from ivory_quilt.desk.stations.pattern.pages.pane import PagesPane

        pane = PagesPane(self._presenter, self._reader, self._changed)
        self._take_in(PatternMode.PAGES, pane.table, pane.card, pane.refresh)
        return pane

    @cached_property
    def library(self) -> "LibraryPane":
        """Sets of pieces that the shop keeps."""
        from ivory_quilt.desk.stations.pattern.library.pane import LibraryPane

        pane = LibraryPane(self._session, self._changed, self._to_board)
        self._take_in(PatternMode.LIBRARY, pane.table, pane.card, pane.refresh)
        return pane

    def _take_in(
        self, mode: PatternMode, table: Canvas, card: QWidget, refresh: Callable[[Palette], None]
    ) -> None:
        self.made[mode] = ModePane(table, card, refresh)
        card.setVisible(False)
        self._tables.addWidget(table)
        self.cards.addWidget(card)
