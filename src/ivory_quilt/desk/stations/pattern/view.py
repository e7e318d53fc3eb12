"""The Pattern station: all pieces on one board, and a card for those in hand."""

from typing import TYPE_CHECKING

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.imports.picture import PictureImport
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.pattern.card import PieceCard
from ivory_quilt.desk.stations.pattern.hint import board_hint
from ivory_quilt.desk.stations.pattern.import_panel import ImportPanel
from ivory_quilt.desk.stations.pattern.mode_panes import ModePanes
from ivory_quilt.desk.stations.pattern.modes import MODES, PatternMode
from ivory_quilt.desk.stations.pattern.piece_board import PieceBoard
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.stations.pattern.review_panel import ReviewPanel
from ivory_quilt.desk.stations.pattern.review_watch import ReviewWatch
from ivory_quilt.desk.stations.pattern.shape_view import ShapePanel
from ivory_quilt.desk.stations.pattern.trace_list import TraceList
from ivory_quilt.desk.widgets.basics import column, row
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.fields import tick
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.widgets.wearer_box import WearerBox
from ivory_quilt.desk.work import Background, at_once

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.pattern.draft.pane import DraftPane
    from ivory_quilt.desk.stations.pattern.library.pane import LibraryPane
    from ivory_quilt.desk.stations.pattern.pages.pane import PagesPane
    from ivory_quilt.desk.stations.pattern.seams.pane import SeamPane


class PatternStation(Station):
    """Pieces at true size."""

    ident = "pattern"
    wants_file = Signal()
    wants_build = Signal(str, tuple)

    def __init__(self, session: Session) -> None:
        """Show the pieces of `session`."""
        super().__init__(session)
        self.presenter = PatternPresenter(session)
        self.board = PieceBoard(self.presenter)
        self.canvas = self.board
        self.board.selected.connect(self._selected)
        self.empty = EmptyState(
            "pattern",
            "Drop a pattern here: SVG, DXF, PDF, a scan or a photo. Closed outlines become pieces.",
            "Open a pattern …",
            self.wants_file.emit,
        )
        self.mode = PatternMode.BOARD
        self.modes = ModeBar(MODES, self.go_to)
        tip = "Show the pieces in the size of one wearer, as often as they are cut"
        self.whom = WearerBox("Sizes", "whose pieces", self._show_wearer, tip)
        self.centre = QStackedWidget()
        for page in (self.board, self.empty):
            self.centre.addWidget(page)
        self.panes = ModePanes(
            self.presenter,
            self.centre,
            self.refresh,
            lambda: self.go_to(PatternMode.BOARD),
            lambda: self.background,
            lambda: self.reader,
        )
        self.board.double_clicked.connect(self.open_draft)
        self.background: Background = at_once
        self.reader: Background = at_once
        self.imports = ImportPanel(self.presenter, self.refresh, lambda: self.reader)
        self.piece_card = PieceCard(
            self.presenter, self.change_numbers, self.open_draft, self.open_build
        )
        shapes = self.presenter.shapes
        self.shape_panel = ShapePanel(
            shapes, self._start_shape, self._add_shape, self._edge_of_chosen, self._leave_shape
        )
        self.review = ReviewPanel(self._go_to, self._mend, self._leave_so)
        self.watch = ReviewWatch(self.presenter, self.review, lambda: self.background, self)
        self.hint = board_hint(self.make_shape)
        card = QWidget()
        layout = QVBoxLayout(card)
        layout.setContentsMargins(0, 0, 0, 0)
        self.traces = TraceList(lambda: self.reader, self._bring_in, self._leave)
        layout.addLayout(self.traces)
        layout.addWidget(self.imports)
        layout.addLayout(self.panes.cards)
        layout.addWidget(self.shape_panel)
        layout.addWidget(self.piece_card)
        layout.addWidget(self.hint)
        layout.addWidget(self.review)
        self.imports.setContentsMargins(6, 8, 6, 0)
        layout.addStretch(1)
        middle = QWidget()
        self.colours = tick("Colours", self._in_colour, "Show the pieces in their tones")
        bar = row(self.modes, None, self.colours, self.whom)
        bar.setContentsMargins(0, 0, 12, 0)
        middle.setLayout(column(bar, self.centre, space=0))
        self.lay_out(middle, card)

        def some() -> bool:
            return bool(self.presenter.pieces)

        self.offer("delete", self.delete, lambda: some() or self._holds())
        self.offer("draft", self.open_draft, some)
        self.offer(
            "seams", lambda: self.go_to(PatternMode.SEAMS), lambda: bool(session.project.pieces)
        )
        self.offer("board", lambda: self.go_to(PatternMode.BOARD))
        self.offer("library", lambda: self.go_to(PatternMode.LIBRARY))
        self.offer("build", self.open_build, some)
        self.offer("copy", self.presenter.copy, some)
        self.offer("mirror", self.presenter.mirror, some)
        self.offer("unfold", self.piece_card.do_unfold, self.presenter.can_unfold)
        self.offer("make-shape", self.make_shape)
        self.offer("select-all", self.select_all, lambda: bool(self.items))
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.selected = ()
        self.presenter.pictures.clear()
        self.presenter.left_so.clear()
        self.presenter.shapes.close()
        self.presenter.imports.clear()
        self.panes.forget()
        self.presenter.pages = None
        self.mode = PatternMode.BOARD
        self.board.forget()
        self._stale = True

    def _holds(self) -> bool:
        return self.mode is PatternMode.DRAFT and self.draft.presenter.holds

    @property
    def items(self) -> dict[str, FoamItem]:
        """What is drawn of each piece on the board."""
        return self.board.items_by_id

    @property
    def draft(self) -> "DraftPane":
        """One piece, to draw on and to cut open."""
        return self.panes.draft

    @property
    def seams(self) -> "SeamPane":
        """Which edges are glued together."""
        return self.panes.seams

    @property
    def pages(self) -> "PagesPane":
        """Pages of a pattern on their way in."""
        return self.panes.pages

    @property
    def library(self) -> "LibraryPane":
        """Sets of pieces that the shop keeps."""
        return self.panes.library

    # Showing

    def refresh(self) -> None:
        """Show the present pieces."""
        pieces = self.session.project.pieces
        self._settle_mode(some=bool(pieces))
        self.empty.set_look(self.look)
        self.whom.fill(self.presenter.wearers(), self.presenter.wearer)
        paint = self.session.project.paint
        self.colours.setVisible(any(a.colour for a in paint) and self.mode is PatternMode.BOARD)
        self.colours.setChecked(self.presenter.in_colour)
        if self.mode is PatternMode.BOARD:
            self.board.fill(self.look)
        self.board.mark_selected()
        self.imports.fill()
        self.traces.fill(self.presenter.pictures, self.look)
        self.presenter.shapes.reread()
        self._fill_card()

    def _in_colour(self, on: bool) -> None:  # noqa: FBT001 - a signal's
        self.presenter.in_colour = on
        self.refresh()

    def _show_wearer(self, wearer: str) -> None:
        self.presenter.wearer = wearer
        self.refresh()

    def foams_in_sight(self) -> frozenset[Foam]:
        """Return the foams of the selected pieces."""
        return self.session.plan.foams_of(p.id for p in self.presenter.pieces)

    def _selected(self) -> None:
        self._fill_card()
        self.picked.emit()

    def _fill_card(self) -> None:
        pieces = self.presenter.pieces
        at_board = self.mode is PatternMode.BOARD
        making = self.presenter.shapes.open and at_board
        for mode, place in self.panes.made.items():
            place.card.setVisible(mode is self.mode)
        self.shape_panel.setVisible(making)
        self.shape_panel.fill(self.look)
        self.piece_card.setVisible(bool(pieces) and not making and at_board)
        self.hint.setVisible(not pieces and not making and at_board)
        self.watch.fill(shown=not pieces and not making and at_board)
        if pieces:
            known = {m.id: m.name for m in self.session.stock.materials}
            known |= {p.material: known.get(p.material, p.material) for p in pieces}
            self.piece_card.fill(pieces, sorted(known.items(), key=lambda m: m[1]))

    # Board, Draft and seam map

    def _settle_mode(self, *, some: bool) -> None:
        """Show the place that is worked at; a place with nothing in it gives way to the board."""
        pages = self.presenter.pages is not None
        there = {
            PatternMode.BOARD: True,
            PatternMode.DRAFT: some,
            PatternMode.SEAMS: some,
            PatternMode.PAGES: pages,
            PatternMode.LIBRARY: True,
        }
        gone = self.mode is PatternMode.DRAFT and self.draft.presenter.piece is None
        if gone or not there[self.mode]:
            self.mode = PatternMode.BOARD
        self.modes.show_mode(self.mode, [m for m, here in there.items() if here])
        place = self.panes.of(self.mode)
        table = self.canvas = place.table if place is not None else self.board
        table.unit = self.board.unit
        table.set_look(self.look)
        bare = self.mode is PatternMode.BOARD and not some
        self.centre.setCurrentWidget(self.empty if bare else table)
        if place is not None:
            place.refresh(self.look)

    def arrived(self) -> None:
        """Show what came in: pages go to their table."""
        if self.presenter.pages is not None:
            self.mode = PatternMode.PAGES
        self.refresh()

    def go_to(self, mode: PatternMode) -> None:
        """Go to the board, Draft or the seam map."""
        if mode is PatternMode.DRAFT and self.draft.presenter.piece is None:
            chosen = self.presenter.pieces or self.session.project.pieces[:1]
            self.draft.presenter.take_up(chosen[0].id if chosen else "")
        if mode is PatternMode.LIBRARY:
            self.library.presenter.reload()
        self.mode = mode
        self.refresh()
        self.picked.emit()

    def open_draft(self) -> None:
        """Draft the chosen piece."""
        if self.presenter.pieces:
            self.draft.presenter.take_up(self.presenter.pieces[0].id)
            self.go_to(PatternMode.DRAFT)

    def open_build(self) -> None:
        """Open the chosen piece in Build, with the others that are chosen."""
        if self.presenter.pieces:
            self.wants_build.emit(self.presenter.pieces[0].id, self.presenter.selected)

    def delete(self) -> None:
        """Take out what is chosen: pieces on the board, a line or mark in Draft."""
        if self.mode is PatternMode.DRAFT:
            self.draft.card.delete_chosen()
        elif self.mode is PatternMode.BOARD:
            self.presenter.delete()

    # Doing

    def select_all(self) -> None:
        """Choose every piece, or every node of the outline that is edited."""
        if self.mode is PatternMode.DRAFT:
            self.draft.presenter.outline.choose_all()
            self.refresh()
            return
        self.presenter.selected = tuple(self.items)
        self.board.mark_selected()
        self._fill_card()
        self.picked.emit()

    # Review

    def _go_to(self, finding: Finding) -> None:
        if finding.seam is not None:
            self.seams.presenter.show(finding.seam)
            self.go_to(PatternMode.SEAMS)
            return
        self._show_pieces(finding.pieces)

    def show_piece(self, piece_id: str) -> None:
        """Choose a piece on the board and bring it to the middle."""
        self.go_to(PatternMode.BOARD)
        self._show_pieces((piece_id,))

    def _show_pieces(self, ids: tuple[str, ...]) -> None:
        self.presenter.selected = ids
        self.board.mark_selected()
        self._fill_card()
        self.board.bring_to_middle(ids)
        self.picked.emit()

    def _mend(self, finding: Finding) -> None:
        self.presenter.mend_finding(finding)

    def _leave_so(self, finding: Finding) -> None:
        self.presenter.leave_finding(finding)
        self._fill_card()

    # Pictures

    def _bring_in(self, found: PictureImport) -> None:
        self.presenter.bring_in(found)
        self.refresh()

    def _leave(self, found: PictureImport) -> None:
        self.presenter.leave(found)
        self.refresh()

    # Shapes from numbers

    def make_shape(self) -> None:
        """Open the choice of shapes, on the board."""
        self.presenter.shapes.choose()
        self.go_to(PatternMode.BOARD)

    def change_numbers(self) -> None:
        """Open the numbers that the chosen piece was made from."""
        recipe = next((p.recipe for p in self.presenter.pieces if p.recipe is not None), None)
        if recipe is not None:
            self.presenter.shapes.take_up(recipe)
            self._fill_card()

    def _start_shape(self, ident: str) -> None:
        self.presenter.shapes.start(ident, self.presenter.defaults)
        self._fill_card()

    def _add_shape(self) -> None:
        self.presenter.selected = self.presenter.shapes.add(self.presenter.defaults)
        self.board.mark_selected()
        self._fill_card()
        self.picked.emit()

    def _edge_of_chosen(self) -> float | None:
        pieces = self.presenter.pieces
        return sum(p.shape.outline_length for p in pieces) if pieces else None

    def _leave_shape(self) -> None:
        self.presenter.shapes.close()
        self._fill_card()

    def show_foam(self, foam: Foam) -> None:
        """Choose the pieces of one foam."""
        self.presenter.selected = tuple(
            p.id
            for p in self.session.project.pieces
            if (p.thickness, p.material) == (foam.thickness, foam.material)
        )
        self.board.mark_selected()
        self._fill_card()
