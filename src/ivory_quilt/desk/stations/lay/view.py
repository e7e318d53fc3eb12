"""The Lay station: the table, the engine's progress, and a card for the parts in hand."""

from collections.abc import Callable

from PySide6.QtCore import QRectF
from PySide6.QtWidgets import (
    QFrame,
    QLineEdit,
    QProgressBar,
    QPushButton,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan import FoamPlan, Standing
from ivory_quilt.core.project import set_gap
from ivory_quilt.core.units import (
    parse_length,
    parse_scalar,
    show_length,
    show_money,
    show_number,
    show_thickness,
)
from ivory_quilt.desk.canvas.paths import shape_rect
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.lay.presenter import LayPresenter, PartKey, quilt
from ivory_quilt.desk.stations.lay.table import Table
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    clear,
    column,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.empty import EmptyState

WORDS = {
    Standing.KEPT: ("kept", "good"),
    Standing.PROPOSED: ("offered, not kept yet", "heat"),
    Standing.STALE: ("the kept layout no longer fits; laying anew", "heat"),
    Standing.MISSING: ("laying …", "soft"),
    Standing.NO_STOCK: ("no such foam in the shop", "cut"),
}


class ProgressStrip(QFrame):
    """What the engine does, with stop, improve and keep."""

    def __init__(self, laying: Laying, presenter: LayPresenter) -> None:
        """Follow `laying`."""
        super().__init__()
        self.setObjectName("Card")
        self._laying, self._presenter = laying, presenter
        self.text = label("", "", wrap=False)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setAccessibleName("time of this run")
        # A bar that comes and goes would push the table about: it keeps its room.
        policy = self.bar.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.bar.setSizePolicy(policy)
        self.improve = button("Improve", laying.improve, tip="Search on for better layouts (I)")
        self.stop = button("Stop", laying.stop, tip="Stop here; what was found stays (Esc)")
        self.keep: QPushButton = button(
            "Keep", presenter.session.keep_all, "main", "Keep these layouts in the project (K)"
        )
        layout = column(row(self.text, None, self.improve, self.stop, self.keep), self.bar, space=4)
        layout.setContentsMargins(16, 8, 12, 8)
        self.setLayout(layout)
        laying.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the present state."""
        busy = self._laying.busy
        plan = self._presenter.session.plan
        self.stop.setEnabled(busy)
        self.improve.setEnabled(not busy and any(f.result for f in plan.foams))
        self.keep.setEnabled(bool(self._presenter.proposed))
        task = self._laying.task
        share = 0.0
        if busy and task is not None and task.seconds > 0:
            share = min(1.0, self._laying.done_seconds / task.seconds)
        self.bar.setValue(round(1000 * share))
        if self.bar.isHidden() is busy:
            self.bar.setVisible(busy)
        text = self._words(busy)
        if text != self.text.text():
            self.text.setText(text)

    def _words(self, busy: bool) -> str:
        session = self._presenter.session
        ledger = session.plan.ledger
        cost = show_money(ledger.cost, session.stock.currency)
        if busy and self._laying.task is not None:
            name = show_thickness(self._laying.task.foam.thickness)
            return f"Laying {name}: {cost} so far"
        if busy:
            return "Getting the engine ready …"
        if not ledger.lines:
            return "Nothing to lay yet"
        if ledger.unplaced:
            return f"{ledger.unplaced} parts do not fit on the shop's foam"
        proven = " · proven: no layout can cost less" if ledger.cost == ledger.bound else ""
        return f"Foam for {cost}{proven}"


class PartCard(QWidget):
    """What can be done with the parts in hand."""

    def __init__(self, presenter: LayPresenter) -> None:
        """Work on `presenter`'s selection."""
        super().__init__()
        self._presenter = presenter
        self.title = label("", "title", wrap=True)
        self.bar = EdgeBar()
        self.state = label("", "note", wrap=True)
        self.where = label("", "mono", wrap=True)
        self.angle = QLineEdit()
        self.angle.setAccessibleName("angle in degrees")
        self.angle.setFixedWidth(90)
        self.angle.returnPressed.connect(self._turn_to)
        self.error = Complaint()
        self.back = button("⟵ turn", lambda: presenter.turn_selected(-1), tip="Shift+R")
        self.turn = button("turn ⟶", lambda: presenter.turn_selected(1), tip="R")
        self.flip = button("Flip", presenter.flip_selected, tip="X")
        self.pin = button("Pin", presenter.toggle_pins, tip="P: the part stays when the rest moves")
        self.rules = label("", "note", wrap=True)
        self.back.setText("Turn back")
        self.turn.setText("Turn")
        hint = "While you drag a part: R turns it, X flips it, Esc puts it back."
        self.setLayout(
            column(
                self.title,
                row(self.bar, self.state, None),
                self.where,
                row(label("angle"), self.angle, label("°"), None),
                self.error,
                row(self.turn, self.back, None),
                row(self.flip, self.pin, None),
                self.rules,
                Stitch(),
                label(hint, "note", wrap=True),
                space=12,
                edge=16,
            )
        )

    def _turn_to(self) -> None:
        try:
            angle = parse_scalar(self.angle.text(), where="angle")
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        if self._presenter.selected:
            self._presenter.turn_to(self._presenter.selected[0], angle)

    def fill(self) -> None:
        """Show the selected parts."""
        found = [(k, self._presenter.find(k)) for k in self._presenter.selected]
        laid = [(k, *f) for k, f in found if f is not None]
        self.setVisible(bool(laid))
        if not laid:
            return
        pinned = all(self._presenter.is_pinned(k) for k, _, _ in laid)
        self.pin.setText("Unpin" if pinned else "Pin")
        self.error.setText("")
        planned = laid[0][1]
        self.bar.set_thickness(planned.foam.thickness)
        one = laid[0] if len(laid) == 1 else None
        for widget in (self.where, self.rules):
            widget.setVisible(one is not None)
        self.angle.setEnabled(one is not None)
        if one is None:
            self.title.setText(f"{len(laid)} parts")
            self.state.setText("pinned" if pinned else "")
            self.angle.clear()
            return
        self._fill_one(*one, pinned)

    def _fill_one(self, key: PartKey, planned: FoamPlan, index: int, pinned: bool) -> None:
        assert planned.result is not None
        placement = planned.result.placements[index]
        part = planned.part(placement.piece)
        spec = self._presenter.spec(planned, placement)
        self.title.setText(part.label)
        of = f"{placement.copy + 1} of {part.count}" if part.count > 1 else ""
        self.state.setText(" · ".join(x for x in (of, "pinned" if pinned else "") if x))
        x0, y0, _, _ = part.shape.placed(placement.pose).bounds
        flipped = ", flipped" if placement.pose.mirrored else ""
        self.where.setText(
            f"{show_number(x0, 1)} mm from the left\n{show_number(y0, 1)} mm from below{flipped}"
        )
        self.angle.setText(show_number(placement.pose.rotation, 2))
        self.flip.setEnabled(spec.mirror)
        turns = spec.rotations is None or len(spec.rotations) > 1
        self.turn.setEnabled(turns)
        self.back.setEnabled(turns)
        may = "turns freely"
        if spec.rotations is not None:
            may = "turns to " + ", ".join(f"{r:g}°" for r in spec.rotations)
        face = "may be flipped" if spec.mirror else "this face must show"
        self.rules.setText(f"{may}; {face}.")


class FoamRow(QWidget):
    """One foam in the overview: where its layout stands."""

    def __init__(self, foam: Foam, session: Session, show: Callable[[Foam], None]) -> None:
        """Call `show(foam)` when the maker wants to see its sheets."""
        super().__init__()
        self.foam = foam
        self._state = label("", "note", wrap=True)
        self._use = label("", "note")
        self._pins = label("", "note", "heat")
        name = show_thickness(foam.thickness)
        head = label(f"{name} {session.stock.material_name(foam.material)}", "heading")
        look = button("Show", lambda: show(foam), "quiet", f"Show the {name} sheets")
        kind = session.stock.material(foam.material).kind
        bar = row(EdgeBar(foam.thickness, kind=kind), head, None, look)
        self.setLayout(column(bar, self._state, self._use, self._pins, space=4))

    def fill(self, foam: FoamPlan) -> None:
        """Show the foam as it stands now."""
        text, tone = WORDS[foam.standing]
        if foam.line.unplaced and foam.line.laid:
            text, tone = f"{foam.line.unplaced} of {foam.line.parts} parts do not fit", "cut"
        self._state.setText(text)
        set_tone(self._state, tone)
        used = 100 * (1 - foam.line.waste_share)
        self._use.setText(f"{foam.line.parts} parts, {used:.0f} % of the foam used")
        self._use.setVisible(foam.line.laid)
        self._pins.setText(f"{foam.lost_pins} pins no longer hold")
        self._pins.setVisible(foam.lost_pins > 0)


class LayStation(Station):
    """Parts on sheets."""

    ident = "lay"
    word = "Lay"

    def __init__(self, session: Session, laying: Laying) -> None:
        """Show the layouts of `session`, made by `laying`."""
        super().__init__(session)
        self.presenter = LayPresenter(session)
        self.laying = laying
        self.table = Table(self.presenter)
        self.canvas = self.table
        self.table.picked.connect(self._picked)
        self.table.reshaped.connect(self._rearrange)
        self.table.let_go.connect(self._show_again)
        self.strip = ProgressStrip(laying, self.presenter)
        self.empty = EmptyState(
            "lay",
            "Pieces come to lie on sheets here as soon as there are any, and foam to lay them on.",
            "Go to Pattern",
            lambda: None,
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.table)
        self.stack.addWidget(self.empty)
        centre = QWidget()
        centre.setLayout(column(self.strip, self.stack, space=0))
        self.part_card = PartCard(self.presenter)
        self.foams = QVBoxLayout()
        self.gap = QLineEdit()
        self.gap.setFixedWidth(90)
        self.gap.setAccessibleName("gap between parts")
        self.gap.setToolTip("The least distance between two parts on a sheet")
        self.gap.editingFinished.connect(self._set_gap)
        self.gap_error = Complaint()
        self.overview = QWidget()
        self.overview.setLayout(
            column(
                label("Layouts", "title"),
                row(label("Gap between parts"), None, self.gap),
                self.gap_error,
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
        self._focus: Foam | None = None
        chosen = lambda: bool(self.presenter.selected)  # noqa: E731
        self.offer("turn", lambda: self.presenter.turn_selected(1), chosen)
        self.offer("turn-back", lambda: self.presenter.turn_selected(-1), chosen)
        self.offer("flip", self.presenter.flip_selected, chosen)
        self.offer("pin", self.presenter.toggle_pins, chosen)
        self.offer("select-all", self.select_all, lambda: bool(self.table.parts))
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.presenter.selected = ()
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
            self._draw()
        any_result = any(f.result for f in plan.foams)
        self.stack.setCurrentWidget(self.table if any_result else self.empty)
        self.empty.set_look(self.look)
        self.strip.refresh()
        self.part_card.fill()
        self._fill_overview()

    def _draw(self) -> None:
        """Draw what changed."""
        laid = quilt(self.session.plan, self.table.aspect)
        self.table.show_quilt(laid, self.look)
        sheets = tuple((s.key, s.origin) for s in laid.sheets)
        if sheets != self._sheets:
            self._sheets = sheets
            self.table.refit()
        if self._focus is not None:
            self.show_foam(self._focus)

    def _show_again(self) -> None:
        self.table.forget()
        self._shown = ()
        self.refresh()

    def _rearrange(self) -> None:
        if self._shown and not self.table.holding:
            self._draw()

    def _picked(self) -> None:
        self._focus = None
        self.part_card.fill()
        self._fill_overview()
        self.picked.emit()

    def _fill_overview(self) -> None:
        self.overview.setVisible(not self.part_card.isVisibleTo(self))
        plan = self.session.plan
        if not self.gap.hasFocus():
            self.gap.setText(show_length(plan.project.gap))
        if [r.foam for r in self._rows] != [f.foam for f in plan.foams]:
            clear(self.foams)
            self._rows = [FoamRow(f.foam, self.session, self.show_foam) for f in plan.foams]
            for made in self._rows:
                self.foams.addWidget(Stitch())
                self.foams.addWidget(made)
        for shown, foam in zip(self._rows, plan.foams, strict=True):
            shown.fill(foam)

    def _set_gap(self) -> None:
        try:
            gap = parse_length(self.gap.text(), where="gap")
            self.session.edit("Gap between parts", lambda p: set_gap(p, gap))
        except InputError as error:
            self.gap_error.setText(str(error))
        else:
            self.gap_error.setText("")

    def select_all(self) -> None:
        """Choose every part."""
        for item in self.table.parts.values():
            item.setSelected(True)

    def show_foam(self, foam: Foam) -> None:
        """Show the sheets of one foam."""
        rect = QRectF()
        for spot in self.table.spots:
            if spot.foam.foam == foam:
                box = shape_rect(spot.rest or spot.shape)
                box.translate(spot.origin[0], -spot.origin[1])
                rect = rect.united(box.adjusted(0, -90, 0, 0))
        if not rect.isEmpty():
            self.table.fit(rect)
