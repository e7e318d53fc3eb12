"""The Build station: one piece, flat and formed, with a cross-section that can be pulled."""

from functools import partial

from PySide6.QtCore import Qt, QTimer, Signal
from PySide6.QtWidgets import QComboBox, QSplitter, QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.stacks.section import Handle
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.event_turns import Later, Unhurried
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.build.book_card import BookCard
from ivory_quilt.desk.stations.build.edge_card import EdgeCard
from ivory_quilt.desk.stations.build.finish_card import FinishCard
from ivory_quilt.desk.stations.build.finish_pane import SURFACE, FinishPane
from ivory_quilt.desk.stations.build.flat import FlatTable
from ivory_quilt.desk.stations.build.form_card import FormCard
from ivory_quilt.desk.stations.build.form_up.card import FormUpCard
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.stations.build.form_up.girth import GirthPresenter
from ivory_quilt.desk.stations.build.form_up.mending import MendPresenter
from ivory_quilt.desk.stations.build.form_up.pane import FormUpPane
from ivory_quilt.desk.stations.build.form_up.suit import SuitPresenter
from ivory_quilt.desk.stations.build.form_up.suit_card import SuitCard
from ivory_quilt.desk.stations.build.form_up.suit_view import SuitView
from ivory_quilt.desk.stations.build.formed_piece import FormedPiece
from ivory_quilt.desk.stations.build.presenter import MODES, BuildMode, BuildPresenter
from ivory_quilt.desk.stations.build.section_view import SectionView
from ivory_quilt.desk.stations.build.stack_card import StackCard
from ivory_quilt.desk.stations.build.ways_panel import WaysPanel
from ivory_quilt.desk.widgets.basics import Stitch, column, label, narrow, row
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.layout_hold import laid_out_once
from ivory_quilt.desk.widgets.mode_bar import ModeBar
from ivory_quilt.desk.work import Background, at_once

PULL_EVERY = 30  # ms between two looks while something is pulled
TITLES = {
    BuildMode.FORM: "Across the form",
    BuildMode.EDGES: "Across the edge",
    BuildMode.STACK: "Along the stack",
    BuildMode.FINISH: "",
    BuildMode.FORM_UP: "",
    BuildMode.SUIT: "",
}


class BuildStation(Station):
    """What is really cut, and why."""

    ident = "build"
    wants_draft = Signal(str)

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Show the pieces of `session`; `engine` paints them and lays ways to a thickness."""
        super().__init__(session)
        self.presenter = BuildPresenter(session)
        self.background: Background = at_once
        self.piece_box = QComboBox()
        narrow(self.piece_box)
        self.piece_box.setMinimumWidth(190)
        self.piece_box.setAccessibleName("piece in Build")
        self.piece_box.activated.connect(self._pick)
        self.modes = ModeBar(MODES, self.go_to)
        self.flat = FlatTable()
        self.canvas = self.flat
        self.solid = FormedPiece(engine)
        self.section = SectionView()
        self.empty = EmptyState(
            "build",
            "Build works out what must really be cut: bend, bevel, layers, heat. It needs a piece.",
            "Go to Pattern",
            lambda: None,
        )
        self.form_up = FormUpPresenter(session, engine)
        # Words and pictures in turns of their own, so that hands come in between.
        self._formed_up = Later(self._show_formed, 0, self).soon
        self._pane_soon = Later(self._fill_pane, 1, self)
        self.form_up.changed = self._formed_up
        self.form_up.background = Unhurried(lambda: self.background, self).run
        self.mending = MendPresenter(self.form_up)
        self.mending.changed = self._formed_up
        self.mending.background = self.form_up.background
        self.girth = GirthPresenter(self.form_up)
        self.girth.changed = self._formed_up
        self.girth.background = self.form_up.background
        self.form_up_pane = FormUpPane(
            self.form_up, self.mending, self.girth, engine, lambda: self.background
        )
        self.form_up_pane.picked.connect(self.open)
        single = QSplitter(Qt.Orientation.Horizontal)
        single.addWidget(self.flat)
        single.addWidget(self.solid)
        single.setSizes([520, 440])
        single.setChildrenCollapsible(False)
        self.suit = SuitPresenter(self.form_up)
        self.suit.changed = self._formed_up
        self.suit.background = self.form_up.background
        self.suit_view = SuitView(self.suit)
        self.upper = QStackedWidget()
        for view in (single, self.form_up_pane, self.suit_view):
            self.upper.addWidget(view)
        self._work_area = work_area = QWidget()
        top = row(self.modes, None, self.piece_box, space=6)
        top.setContentsMargins(0, 0, 12, 0)
        self.below = QWidget()
        self.finish_pane = FinishPane(self.presenter.finish, self.refresh)
        lower = row(self.finish_pane, self.section, space=0)
        self.below.setLayout(column(Stitch(), lower, space=0))
        layout = column(top, self.upper, self.below, space=0)
        layout.setStretch(1, 1)
        work_area.setLayout(layout)
        self.centre = QStackedWidget()
        self.centre.addWidget(work_area)
        self.centre.addWidget(self.empty)
        self.title = label("", "title", wrap=True)
        self.subtitle = label("", "note", wrap=True)
        self.form_card = FormCard(self.presenter, self.refresh, self._open_bench)
        self.edge_card = EdgeCard(self.presenter, self.refresh, self._open_bench)
        self.stack_card = StackCard(self.presenter, self.refresh)
        self.finish_card = FinishCard(self.presenter, self.refresh, self._open_bench)
        self.form_up_card = FormUpCard(self.form_up, self.mending, self.girth)
        self.suit_card = SuitCard(self.suit)
        self.ways = WaysPanel(
            self.presenter, self.refresh, lambda: self.background, engine.cost_layer
        )
        self.book = BookCard(session, self.refresh)
        self._sheet = card = QWidget()
        inner = QVBoxLayout(card)
        inner.setContentsMargins(16, 16, 16, 16)
        inner.setSpacing(10)
        for widget in (
            self.title,
            self.subtitle,
            self.form_card,
            self.edge_card,
            self.stack_card,
            self.finish_card,
            self.form_up_card,
            self.suit_card,
            self.ways,
            self.book,
        ):
            inner.addWidget(widget)
        inner.addStretch(1)
        self.lay_out(self.centre, card)
        self._pulling = QTimer(self)
        self._pulling.setSingleShot(True)
        self._pulling.setInterval(PULL_EVERY)
        self._pulling.timeout.connect(self._show_pulled)
        self._to: tuple[Handle, tuple[float, float]] | None = None
        self.section.pulled.connect(self._pull)
        self.section.let_go.connect(self._let_go)
        self.flat.clicked.connect(self._click)

        def some() -> bool:
            return bool(session.project.pieces)

        for mode, _, _ in MODES:
            self.offer(f"build-{mode.value}", partial(self.go_to, mode), some)
        self.offer("next-piece", partial(self.step, 1), some)
        self.offer("previous-piece", partial(self.step, -1), some)
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.take_up("")
        self.form_up.forget()
        self.mending.forget()
        self.suit.forget()
        self._stale = True

    # Showing

    def leave(self) -> None:
        """Stop laying ways to a thickness."""
        self.ways.forget()

    def refresh(self) -> None:
        """Show the piece under work."""
        with laid_out_once(self._sheet, self._work_area):
            self._refresh()

    def _refresh(self) -> None:
        p = self.presenter
        p.settle()
        piece = p.piece
        bare = piece is None
        self.centre.setCurrentIndex(1 if bare else 0)
        self.empty.set_look(self.look)
        if self.card is not None and bare:
            self.title.setText("Build")
            self.subtitle.setText("Nothing to build yet.")
        mode = p.mode
        for card, own in (
            (self.form_card, BuildMode.FORM),
            (self.edge_card, BuildMode.EDGES),
            (self.stack_card, BuildMode.STACK),
            (self.finish_card, BuildMode.FINISH),
            (self.form_up_card, BuildMode.FORM_UP),
            (self.suit_card, BuildMode.SUIT),
        ):
            card.setVisible(mode is own and not bare)
        for shared in (self.ways, self.book):
            shared.setVisible(mode in (BuildMode.FORM, BuildMode.STACK) and not bare)
        if piece is None:
            return
        self.modes.show_mode(mode, [m for m, _, _ in MODES])
        self._fill_pieces()
        hand = "" if piece.hand is Hand.NONE else f" · {piece.hand.value}"
        material = self.session.stock.material_name(piece.material)
        self.title.setText(piece.name)
        together = f" · {len(p.group)} pieces together" if p.group else ""
        self.subtitle.setText(
            f"{show_thickness(piece.thickness)} {material} · cut {piece.cut_count}{hand}{together}"
        )
        grouped = (BuildMode.FORM_UP, BuildMode.SUIT)
        self.upper.setCurrentIndex(grouped.index(mode) + 1 if mode in grouped else 0)
        self.below.setVisible(mode not in grouped)
        self.finish_pane.setVisible(mode is BuildMode.FINISH)
        if mode in grouped:
            self._show_formed()
            return
        {
            BuildMode.FORM: self.form_card.fill,
            BuildMode.EDGES: self.edge_card.fill,
            BuildMode.STACK: self.stack_card.fill,
            BuildMode.FINISH: self._fill_finish,
        }[mode](piece)
        self.ways.fill(piece)
        self.book.fill(piece)
        self._show_views(piece)

    def _fill_finish(self, piece: Piece) -> None:
        self.finish_pane.fill()
        self.finish_card.fill(piece, self.finish_pane.shown)

    def _show_form_up(self, piece: Piece) -> None:
        """Show the piece with all that seams join to it, as the foam will stand."""
        self.form_up.ask(piece.id)
        self.form_up_card.look = self.look
        self.form_up_card.fill()
        self._pane_soon.soon()

    def _fill_pane(self) -> None:
        piece = self.presenter.piece
        if piece is not None and self.presenter.mode is BuildMode.FORM_UP:
            self.form_up_pane.fill(piece.id, self.look)

    def _show_suit(self, piece: Piece) -> None:
        """Show all groups where they are worn."""
        self.form_up.take_up(piece.id)
        self.suit.ask()
        self.suit_card.look = self.look
        self.suit_card.fill(piece.id)
        self.suit_view.fill(self.look)

    def _show_formed(self) -> None:
        piece = self.presenter.piece
        shown = {BuildMode.FORM_UP: self._show_form_up, BuildMode.SUIT: self._show_suit}
        show = shown.get(self.presenter.mode)
        if piece is not None and show is not None and self.isVisible():
            show(piece)

    def _show_views(self, piece: Piece) -> None:
        p, mode = self.presenter, self.presenter.mode
        edge = p.edges.chosen_edge if mode is BuildMode.EDGES and p.edges.groove is None else ""
        self.flat.set_look(self.look)
        self.flat.show_cuts(piece, p.cuts, self.look, edge=edge, layers=mode is BuildMode.STACK)
        surface = self.finish_pane.shown == SURFACE
        finished = p.finish.shown(with_works=surface) if mode is BuildMode.FINISH else None
        self.flat.show_finish(finished)
        self._show_strain(piece)
        self._show_section()
        tones = p.finish.painted() if mode is BuildMode.FINISH else ()
        self.solid.show_piece(piece, p.context, tones, self.look, self.background)

    def _show_section(self) -> None:
        p = self.presenter
        title = TITLES[p.mode]
        if p.mode is BuildMode.EDGES:
            title = f"Across edge {p.edges.chosen_edge}, outer face up"
            if p.edges.groove is not None:
                kind = p.shown.lines[p.edges.groove].kind.value
                title = f"Across the {kind}, outer face up"
        work = p.finish.work if p.mode is BuildMode.FINISH else None
        if work is not None:
            title = f"Across {work.kind.value}, {work.region.words}, outer face up"
        section = p.section()
        if section is None and p.mode is BuildMode.FINISH:
            title = "Nothing is done to the faces yet: add a work in the card."
        elif section is None:
            title = "No section: the card says what cannot be."
        self.section.show_section(section, self.look, title, enlarge=p.mode is not BuildMode.FORM)

    def _show_strain(self, piece: Piece) -> None:
        dome = None
        if self.presenter.mode is BuildMode.FORM and not self.presenter.problem:
            try:
                found = shaping_of(piece)
                dome = found if isinstance(found, Dome) else None
            except InputError:
                dome = None
        book = self.presenter.book
        self.flat.show_strain(dome, own_place(piece, book.neutral), book.dish_limit / 100)

    def foams_in_sight(self) -> frozenset[Foam]:
        """Return the foams of the piece in front."""
        return self.session.plan.foams_of((self.presenter.piece_id,))

    def _fill_pieces(self) -> None:
        pieces = self.session.project.pieces
        shown = [self.piece_box.itemText(k) for k in range(self.piece_box.count())]
        if shown != [p.name for p in pieces]:
            self.piece_box.clear()
            for piece in pieces:
                self.piece_box.addItem(piece.name, piece.id)
        ids = [p.id for p in pieces]
        self.piece_box.setCurrentIndex(ids.index(self.presenter.piece_id))

    # Doing

    def open(self, piece_id: str, group: tuple[str, ...] = ()) -> None:
        """Open a piece, or one of a group that is worked on together."""
        self.presenter.take_up(piece_id, group)
        self._stale = True
        if self.isVisible():
            self.enter()

    def go_to(self, mode: BuildMode) -> None:
        """Go to one of the views."""
        self.presenter.mode = BuildMode(mode)
        self.refresh()
        self.picked.emit()

    def step(self, by: int) -> None:
        """Open the next piece, or the one before."""
        ids = [p.id for p in self.session.project.pieces]
        if ids:
            k = ids.index(self.presenter.piece_id) if self.presenter.piece_id in ids else 0
            self.open(ids[(k + by) % len(ids)])

    def _pick(self, index: int) -> None:
        ident = str(self.piece_box.itemData(index))
        self.open(ident, self.presenter.group if ident in self.presenter.group else ())

    def _click(self, x: float, y: float) -> None:
        if self.presenter.mode is BuildMode.EDGES:
            self.presenter.edges.click((x, y))
            self.refresh()
        elif self.presenter.mode is BuildMode.FINISH:
            self.presenter.finish.click((x, y))
            self.refresh()

    def _open_bench(self) -> None:
        self.wants_draft.emit(self.presenter.piece_id)

    def _pull(self, handle: Handle, x: float, y: float) -> None:
        self._to = (handle, (x, y))
        if not self._pulling.isActive():
            self._pulling.start()

    def _show_pulled(self) -> None:
        if self._to is not None:
            self.presenter.pull(*self._to)
            self._to = None
            self._show_section()

    def _let_go(self) -> None:
        self._pulling.stop()
        self._show_pulled()
        try:
            self.presenter.let_go()
        except InputError as error:
            self.session.tell(str(error), "cut")
        self.refresh()
