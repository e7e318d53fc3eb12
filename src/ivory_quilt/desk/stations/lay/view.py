"""The Lay station: the table, the engine's progress, and a card for the parts in hand."""

from PySide6.QtCore import QRectF, QTimer
from PySide6.QtWidgets import QLineEdit, QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.document.project import set_gap
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.units import show_length, typed_length
from ivory_quilt.desk.canvas.quilt import SheetSpot, quilt
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.lay.compare import ComparePage, plan_with
from ivory_quilt.desk.stations.lay.drawing import spot_rect
from ivory_quilt.desk.stations.lay.explaining import Explaining
from ivory_quilt.desk.stations.lay.foam_row import FoamRow
from ivory_quilt.desk.stations.lay.hands import Hands
from ivory_quilt.desk.stations.lay.manual_layout import ManualLayout
from ivory_quilt.desk.stations.lay.part_card import PartCard
from ivory_quilt.desk.stations.lay.presenter import LayPresenter
from ivory_quilt.desk.stations.lay.progress import ProgressStrip
from ivory_quilt.desk.stations.lay.run_box import RunBox
from ivory_quilt.desk.stations.lay.spares_box import SparesBox
from ivory_quilt.desk.stations.lay.table import Table
from ivory_quilt.desk.stations.lay.why import size_of
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    clear,
    column,
    label,
    row,
)
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.fields import Taking, show_text

NOTHING = "Pieces come to lie on sheets here as soon as there are any, and foam to lay them on."
SOON = "The parts are being laid."
MEANWHILE = (
    "The layout engine is prepared once, after an installation or an upgrade. Board, seams, Build "
    "and Buy can be used meanwhile; the sheets come by themselves."
)


class LayStation(Station):
    """Parts on sheets."""

    ident = "lay"

    def __init__(self, session: Session, laying: Laying) -> None:
        """Show the layouts of `session`, made by `laying`."""
        super().__init__(session)
        self.presenter = LayPresenter(session)
        self.laying = laying
        self.explaining = Explaining(laying.engine, self)
        self.explaining.found.connect(self._explained)
        self.table = Table(self.presenter)
        self.canvas = self.table
        self.table.picked.connect(self._picked)
        self.table.reshaped.connect(self._rearrange)
        self.table.let_go.connect(self._show_again)
        self.work = ManualLayout(self.presenter, Hands(laying.engine))
        self.table.work = self.work
        self.strip = ProgressStrip(laying, self.presenter, self.toggle_compare)
        self.compare = ComparePage(self._take_before, self._take_now)
        self.empty = EmptyState(
            "lay",
            NOTHING,
            "Go to Pattern",
            lambda: None,
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.table)
        self.stack.addWidget(self.empty)
        self.stack.addWidget(self.compare)
        centre = QWidget()
        centre.setLayout(column(self.strip, self.stack, space=0))
        self.part_card = PartCard(self.presenter, self.work)
        self.foams = QVBoxLayout()
        self.gap = QLineEdit()
        self.gap.setFixedWidth(90)
        self.gap.setAccessibleName("gap between parts")
        self.gap.setToolTip("The least distance between two parts on a sheet")
        self.gap.editingFinished.connect(self._set_gap)
        self.gap_error = Complaint()
        self.run_box = RunBox(laying)
        self.spares = SparesBox(self.session)
        self.overview = QWidget()
        self.overview.setLayout(
            column(
                label("Layouts", "title"),
                row(label("Gap between parts"), None, self.gap),
                self.gap_error,
                self.spares,
                self.run_box,
                self.foams,
                None,
                space=12,
                edge=16,
            )
        )
        card = QWidget()
        card.setLayout(column(self.part_card, self.overview, None, space=0))
        self.lay_out(centre, card)
        self._shown: tuple[object, ...] = ()
        self._sheets: tuple[object, ...] = ()
        self._rows: list[FoamRow] = []
        self._looked_at: Foam | None = None
        self._waits = (False, False)
        self._comparing = False
        self._leftovers = True
        chosen = lambda: bool(self.presenter.selected)  # noqa: E731
        self.offer("turn", lambda: self.presenter.turn_selected(1), chosen)
        self.offer("turn-back", lambda: self.presenter.turn_selected(-1), chosen)
        self.offer("flip", self.presenter.flip_selected, chosen)
        self.offer("pin", self.presenter.toggle_pins, chosen)
        self.offer("select-all", self.select_all, lambda: bool(self.table.parts))
        for way in ("left", "right", "up", "down"):
            self.offer(f"push-{way}", lambda w=way: self.work.push(w), chosen)  # type: ignore[misc]
        self.offer("settle", self._settle, lambda: self.work.one is not None)
        self.offer("swap", self.work.swap, lambda: self.work.pair)
        self.offer("lock-sheet", self.work.lock_sheet, chosen)
        self.offer("measure", self.table.toggle_measuring)
        self.offer("mark-flaw", self.table.toggle_marking)
        self.offer("clear-flaws", self._clear_flaws, lambda: self._flawed() is not None)
        self.offer("leftovers", self.toggle_leftovers)
        self.offer("compare", self.toggle_compare, lambda: laying.has_gained or self._comparing)
        self.offer("discard", laying.discard, lambda: laying.has_gained)
        laying.changed.connect(self._when_laying)
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.selected = ()
        self._looked_at = None
        self._shown = ()
        self._sheets = ()
        self._stale = True

    def refresh(self) -> None:
        """Show the present layouts, unless a part is in the hand."""
        if self.table.holding:
            return
        plan = self.session.plan
        state = (tuple((f.foam, f.result, f.kept) for f in plan.foams), self.look)
        if state != self._shown:
            self._shown = state
            if self.laying.busy and self.table.spots:
                self.table.drawing.before_next(self._draw)  # words now, drawing in its own turn
            else:
                self._draw()
        any_result = any(f.result for f in plan.foams)
        if self._comparing and not self.laying.has_gained:
            self._comparing = False
        page = self.compare if self._comparing else self.table if any_result else self.empty
        self.stack.setCurrentWidget(page)
        self.strip.curve.look = self.look
        self.empty.set_look(self.look)
        self._say_why_empty()
        self.strip.refresh()
        self._explain()
        self.part_card.fill()
        self._fill_overview()

    def _say_why_empty(self) -> None:
        """Say why no sheet is shown: nothing to lay yet, or the engine is not ready."""
        waits = bool(self.session.plan.unlaid)
        preparing = bool(self.laying.preparing)
        text = MEANWHILE if waits and preparing else SOON if waits else NOTHING
        self.empty.sentence.setText(text)
        self.empty.button.setVisible(not waits or preparing)
        if (waits, preparing) != self._waits:
            self._waits = (waits, preparing)
            self._fill_overview()

    def _draw(self) -> None:
        """Draw what changed, unless a part is in the hand: putting it down draws."""
        if self.table.holding:
            return
        laid = quilt(self.session.plan, self.table.aspect)
        self.table.show_quilt(laid, self.look)
        sheets = tuple((s.key, s.origin) for s in laid.sheets)
        if sheets != self._sheets:
            self._sheets = sheets
            self.table.refit()

    def _show_again(self) -> None:
        self.table.forget()
        self._shown = ()
        self.refresh()

    def _rearrange(self) -> None:
        if self._shown:
            self._draw()

    def _picked(self) -> None:
        self._looked_at = None
        self.part_card.fill()
        self._fill_overview()
        self.picked.emit()

    def _fill_overview(self) -> None:
        self.overview.setVisible(not self.part_card.isVisibleTo(self))
        plan = self.session.plan
        show_text(self.gap, show_length(plan.project.gap))
        self.run_box.fill()
        self.spares.fill()
        if [r.foam for r in self._rows] != [f.foam for f in plan.foams]:
            clear(self.foams)
            self._rows = [
                FoamRow(f.foam, self.session, self.laying, self.show_foam) for f in plan.foams
            ]
            for made in self._rows:
                self.foams.addWidget(Stitch())
                self.foams.addWidget(made)
        for shown, foam in zip(self._rows, plan.foams, strict=True):
            shown.fill(foam, self.explaining.of(foam, plan))
        QTimer.singleShot(0, self._settle_card)

    def _settle_card(self) -> None:
        """Lay the card out anew: its words have changed, and with them the heights."""
        self.foams.invalidate()
        for made in self._rows:
            made.updateGeometry()
        holder = self.overview.parentWidget()
        if holder is not None:
            holder.adjustSize()

    def _set_gap(self) -> None:
        with Taking(self.gap_error, self.gap):
            gap = typed_length(self.gap.text(), where="gap")
            self.session.edit("Gap between parts", lambda p: set_gap(p, gap))

    def leave(self) -> None:
        """Nothing is drawn on a table that goes away."""
        self.table.drawing.halt()
        self.explaining.halt()

    # Flaws, leftovers, comparing

    def _flawed(self) -> SheetSpot | None:
        """Return the chosen part's sheet, or the first with marked flaws."""
        sheet = self.work.sheet_of_chosen()
        flawed = [s for s in self.table.spots if s.owned and s.item.defects]
        return next((s for s in flawed if s.key == sheet), flawed[0] if flawed else None)

    def _clear_flaws(self) -> None:
        spot = self._flawed()
        if spot is not None:
            self.presenter.clear_flaws(spot)

    def _when_laying(self) -> None:
        """When a run ends: say why it is as it is, and show what is left."""
        if self.isVisible():
            self._say_why_empty()
        if self.isVisible() and not self.laying.busy:
            self._explain()
            self._fill_overview()

    def _explain(self) -> None:
        """Show what is left and why, as far as it is known; find out the rest."""
        if self.laying.busy:
            self.explaining.halt()
        else:
            self.explaining.ask(self.session.plan)
        self._show_leftovers()

    def _explained(self, foam: Foam) -> None:
        plan = self.session.plan
        self._show_leftovers()
        for made, planned in zip(self._rows, plan.foams, strict=False):
            if made.foam == foam == planned.foam:
                made.fill(planned, self.explaining.of(planned, plan))
        QTimer.singleShot(0, self._settle_card)

    def toggle_leftovers(self) -> None:
        """Show or hide what is left of the sheets."""
        self._leftovers = not self._leftovers
        self._show_leftovers()

    def _show_leftovers(self) -> None:
        plan = self.session.plan
        rooms: dict[tuple[str, int], list[tuple[QRectF, str]]] = {}
        for foam in plan.foams if self._leftovers and not self.laying.busy else ():
            explained = self.explaining.of(foam, plan)
            for room in explained.rooms if explained is not None else ():
                box = QRectF(room.x0, -room.y1, room.width, room.height)
                rooms.setdefault((room.sheet, room.copy), []).append((box, size_of(room)))
        self.table.drawing.set_leftovers(rooms)

    def toggle_compare(self) -> None:
        """Show the layouts before the last run beside those now, or the table again."""
        self._comparing = not self._comparing and self.laying.has_gained
        if self._comparing:
            before = plan_with(self.session.plan, self.laying.before)
            self.stack.setCurrentWidget(self.compare)
            self.compare.fill(before, self.session.plan, self.look)
        self.refresh()

    def _take_before(self) -> None:
        self._comparing = False
        self.laying.discard()
        self.refresh()

    def _take_now(self) -> None:
        self._comparing = False
        self.laying.accept()
        self.refresh()

    def _settle(self) -> None:
        if not self.table.drop_held():
            self.work.settle()

    def select_all(self) -> None:
        """Choose every part."""
        for item in self.table.parts.values():
            item.setSelected(True)

    def foams_in_sight(self) -> frozenset[Foam]:
        """Return the foams of the chosen parts, or the one whose sheets were asked for."""
        chosen = {foam for foam, _ in self.presenter.selected}
        return frozenset(chosen or ({self._looked_at} if self._looked_at is not None else ()))

    def show_foam(self, foam: Foam) -> None:
        """Show the sheets of one foam."""
        self._looked_at = foam
        self.picked.emit()
        rect = QRectF()
        for spot in self.table.spots:
            if spot.foam.foam == foam:
                rect = rect.united(spot_rect(spot))
        if not rect.isEmpty():
            self.table.fit(rect)
