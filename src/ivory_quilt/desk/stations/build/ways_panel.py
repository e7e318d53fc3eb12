"""Another thickness: what changes, and every way to a thickness the shop does not have."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.document.thickness import in_way
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.compare import WayCost, cost_of_way
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.thickness_change import ThicknessChange, in_thickness, ways_for
from ivory_quilt.core.stacks.thickness import ThicknessWay
from ivory_quilt.core.units import counted, parse_length, show_money, show_number, show_thickness
from ivory_quilt.desk.layout_engine import CostLayer
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import Complaint, button, clear, column, label, row
from ivory_quilt.desk.widgets.fields import EntryField
from ivory_quilt.desk.work import Background

MOST_WAYS = 6


class WaysPanel(QWidget):
    """A wanted thickness, and the ways to it side by side."""

    def __init__(
        self,
        presenter: BuildPresenter,
        changed: Callable[[], None],
        background: Callable[[], Background],
        layer: CostLayer,
    ) -> None:
        """Work `presenter`; ways are laid by `layer`, on what `background` returns."""
        super().__init__()
        self._p, self._changed = presenter, changed
        self._background, self._layer = background, layer
        self._piece: Piece | None = None
        self.wanted = EntryField("wanted thickness", self._ask)
        self.error = Complaint()
        self.effect = label("", "note", wrap=True)
        self.list = QVBoxLayout()
        self.list.setSpacing(6)
        self.costs: list[WayCost] = []
        self.setLayout(
            column(
                row(label("In another thickness", "heading"), None, self.wanted),
                self.error,
                self.effect,
                self.list,
                space=6,
            )
        )

    def fill(self, piece: Piece) -> None:
        """Begin anew for another piece, or when it was changed."""
        if piece is self._piece:
            return
        self._piece = piece
        self.costs = []
        clear(self.list)
        self.effect.setText("Type one to see what it does, and how it can be made.")
        self.wanted.show_value(piece.thickness)

    def _ask(self, text: str) -> None:
        piece, plan = self._piece, self._p.session.plan
        if piece is None:
            return
        clear(self.list)
        self.costs = []
        try:
            wanted = parse_length(text, where="wanted thickness")
            ways = ways_for(plan, piece.id, wanted)
            self.effect.setText(_effect(in_thickness(plan, piece.id, wanted), wanted))
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("" if ways else "No way from the shop's foam: buy that thickness.")
        if ways:
            self.list.addWidget(label("Laying each …", "note"))
            self._background()(
                partial(self._costs, plan, piece, ways), partial(self._costed, piece)
            )

    def forget(self) -> None:
        """Stop asking: the desk closes."""
        self._piece = None

    def _costs(self, plan: Plan, piece: Piece, ways: tuple[ThicknessWay, ...]) -> list[WayCost]:
        """Lay each way; on another thread, while the piece is still in front."""

        def wanted() -> bool:
            return piece is self._piece

        made = []
        for way in ways[:MOST_WAYS]:
            if not wanted():
                break
            made.append(cost_of_way(plan, piece.id, way, self._layer(wanted), wanted))
        return made

    def _costed(self, piece: Piece, costs: list[WayCost] | None, error: Exception | None) -> None:
        if error is not None:
            raise error
        if costs is None or piece is not self._piece:
            return
        self.costs = costs
        clear(self.list)
        sign = self._p.session.stock.currency
        for cost in costs:
            pick = button(f"{cost.way.words} mm", partial(self._take, cost.way))
            money = show_money(cost.ledger.cost, sign) if cost.ledger else "no room"
            facts = [
                counted(cost.joins, "glue face") if cost.joins else "",
                f"{cost.minutes:.0f} min" if cost.minutes else "",
                cost.finish,
            ]
            self.list.addLayout(row(pick, None, label(money, "mono")))
            text = ", ".join(f for f in facts if f)
            if abs(cost.way.thickness - _typed(self.wanted.text())) > 0.05:
                text = f"{show_thickness(cost.way.thickness)}, allowances changed; {text}"
            self.list.addWidget(label(text, "note", wrap=True))

    def _take(self, way: ThicknessWay) -> None:
        piece = self._piece
        if piece is not None:
            self._p.session.edit(
                f"{piece.name} from {way.words} mm", lambda p: in_way(p, piece.id, way)
            )
            self._changed()


def _typed(text: str) -> float:
    try:
        return parse_length(text, where="wanted thickness")
    except InputError:
        return 0.0


def _effect(change: ThicknessChange, wanted: float) -> str:
    """Return what another thickness does, in words."""
    said = [
        f"{word} {show_number(before, 1)} → {show_number(after, 1)} mm"
        for word, (before, after) in (("across", change.width), ("up", change.height))
        if abs(before - after) > 0.05
    ]
    if not said:
        return f"In {show_thickness(wanted)} its cut outline stays as it is."
    edges = ", ".join(
        f"{e.edge} {'+' if e.after > e.before else '−'}{show_number(abs(e.after - e.before), 1)}"
        for e in change.edges
    )
    text = f"In {show_thickness(wanted)}: {'; '.join(said)}."
    if edges:
        text += f" Edges: {edges} mm."
    many = len(change.seams)
    if many:
        worst = max(abs(now.difference) for _, _, now in change.seams)
        text += f" {counted(many, 'seam')} then differ by up to {worst:.1f} mm."
    return text
