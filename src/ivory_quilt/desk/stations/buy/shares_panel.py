"""Where the foam and the money go: by cause of scrap, by group of pieces, and when it arrives."""

from collections.abc import Callable, Iterator
from datetime import date
from functools import partial

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.nesting.summary import foam_areas
from ivory_quilt.core.plan.costing import group_costs
from ivory_quilt.core.plan.ordering import AT
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.stock.catalogue import SoldLength
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.stock.purchase import BOUGHT
from ivory_quilt.core.stock.scrap import ScrapShares, scrap_shares
from ivory_quilt.core.units import show_area, show_money, show_thickness
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.buy.arrivals import ArrivalLine, arrivals_of
from ivory_quilt.desk.stations.buy.ordering import Ordering
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import Stitch, column, label, scrolled
from ivory_quilt.desk.widgets.share_bars import ShareBars, ShareRow
from ivory_quilt.desk.work import Background

LEGEND = (
    ("parts", "parts"),
    ("kept", "offcuts kept"),
    ("hollows", "hollow outlines"),
    ("gaps", "gaps"),
    ("edges", "edges"),
    ("rest", "beside parts"),
)
MOST_GROUPS, MOST_PIECES = 8, 8
Found = list[tuple[FoamPlan, ScrapShares]]


class SharesPanel(QWidget):
    """Three pictures of the present plan."""

    def __init__(
        self, session: Session, ordering: Ordering, background: Callable[[], Background]
    ) -> None:
        """Show `session`'s plan; scrap is measured on what `background` returns."""
        super().__init__()
        self._session, self._ordering, self._background = session, ordering, background
        self.look: Palette = LIGHT
        self._asked: Plan | None = None
        self._found: Found | None = None
        self.causes, self.pieces, self.groups = ShareBars(), ShareBars(), ShareBars()
        self.sizes = ShareBars()
        self.arrivals = ArrivalLine()
        self.advice = label("", "note", wrap=True)
        self.nothing = label("Nothing is laid yet.", "note")
        inside = QWidget()
        around = column(
            label("What the foam becomes", "title"),
            self.nothing,
            self.causes,
            self.advice,
            Stitch(),
            label("Cost by group of pieces", "title"),
            label("Pieces that seams, bases or one shape hold together", "note"),
            self.groups,
            Stitch(),
            label("Cost by sheet size", "title"),
            label("The same parts with one size bought alone, goods without shipping", "note"),
            self.sizes,
            Stitch(),
            label("Scrap by piece", "title"),
            label("Its own gap and hollows, and its share of edges and rest", "note"),
            self.pieces,
            Stitch(),
            label("When it arrives", "title"),
            label("A dot: it is here; an upright line: it is needed by then", "note"),
            self.arrivals,
            None,
            space=10,
        )
        around.setContentsMargins(24, 16, 24, 20)
        inside.setLayout(around)
        self.setLayout(column(scrolled(inside), space=0))

    def fill(self, look: Palette) -> None:
        """Show the present plan."""
        self.look = look
        plan, sign = self._session.plan, self._session.stock.currency
        groups = [g for g in group_costs(plan) if g.area]
        bought = any(g.cost for g in groups)
        self.groups.show_rows(
            tuple(
                ShareRow(
                    g.group.name,
                    (("parts", float(g.cost) if bought else g.area),),
                    f"{show_money(g.cost, sign)}, {show_area(g.area)}",
                )
                for g in groups[:MOST_GROUPS]
            ),
            look,
        )
        self.sizes.show_rows(tuple(self._size_rows()), look)
        today = date.today()
        stock = self._session.stock
        used = {x.supplier for x in self._ordering.lines()}
        suppliers = tuple((stock.supplier_name(s.id), s.days) for s in stock.suppliers)
        from_whom = tuple(
            one
            for one, s in zip(suppliers, stock.suppliers, strict=True)
            if s.id in used and s.days
        )
        found = arrivals_of(plan.project, from_whom, today)
        self.arrivals.show_arrivals(found, today, look)
        laid = [f for f in plan.foams if f.result is not None and f.result.placements]
        self.nothing.setVisible(not laid)
        if self._asked is not plan:
            self._asked, self._found = plan, None
            self._background()(partial(_measure, laid, stock.keep), partial(self._have, plan))
        elif self._found is not None:
            self._show(plan, self._found)

    def _size_rows(self) -> Iterator[ShareRow]:
        """Yield a bar for each size of the foams that come in several."""
        search, stock = self._ordering.search, self._session.stock
        if search is None or not self._ordering.fits_plan:
            return
        for found in search.one_size_costs().values():
            if len(found) < 2:
                continue
            for offer, packs, cost in found:
                item = stock.item(offer.id.removeprefix(BOUGHT).partition(AT)[0])
                if item is None or item.price is None or isinstance(offer.goods, SoldLength):
                    continue
                size = f"{offer.goods.shape.width:.0f} × {offer.goods.shape.height:.0f}"
                text = f"{packs} ×, {show_money(cost, stock.currency)}"
                name = show_thickness(item.foam.thickness)
                yield ShareRow(f"{name}: {size}", (("parts", float(cost)),), text)

    def _have(self, plan: Plan, found: Found | None, error: Exception | None) -> None:
        if error is not None:
            raise error
        if found is not None and self._session.plan is plan:
            self._found = found
            self._show(plan, found)

    def _show(self, plan: Plan, found: Found) -> None:
        rows, by_piece = [], dict[str, float]()
        causes = dict.fromkeys(("hollows", "gaps", "edges", "rest"), 0.0)
        for foam, shares in found:
            assert foam.result is not None
            parts, taken = foam_areas(foam.job, foam.result)
            amounts = {
                "parts": parts,
                "kept": max(0.0, taken - parts - shares.total),
                "hollows": shares.hollows,
                "gaps": shares.gaps,
                "edges": shares.edges,
                "rest": shares.rest,
            }
            scrap = 100 * shares.total / taken if taken else 0.0
            name = plan.stock.foam_name(foam.foam, (f.foam for f in plan.foams))
            filled = tuple((k, amounts[k]) for k, _ in LEGEND)
            rows.append(ShareRow(name, filled, f"{scrap:.0f} % scrap"))
            for part, area in shares.pieces.items():
                piece = foam.part(part).piece_id
                by_piece[piece] = by_piece.get(piece, 0.0) + area
            for cause in causes:
                causes[cause] += amounts[cause]
        self.causes.show_rows(tuple(rows), self.look, LEGEND)
        most = sorted(by_piece.items(), key=lambda p: -p[1])[:MOST_PIECES]
        self.pieces.show_rows(
            tuple(
                ShareRow(plan.project.piece(i).name, (("hollows", a),), show_area(a))
                for i, a in most
            ),
            self.look,
        )
        self.advice.setText(_advice(causes))


def _measure(foams: list[FoamPlan], rule: KeepRule) -> Found:
    return [
        (f, scrap_shares(f.job, f.result.placements, rule)) for f in foams if f.result is not None
    ]


ADVICE = {
    "hollows": "Most scrap is in hollow outlines: a piece that is cut in two, or parted at its "
    "hollow, lies closer.",
    "gaps": "Most scrap is the gap around parts: a smaller gap in Lay saves most.",
    "edges": "Most scrap is the strip along the sheets' edges: larger sheets have less of it.",
    "rest": "Most scrap lies between and beside the parts: another sheet size, a longer Improve, "
    "or free rotation of hidden pieces saves most.",
}


def _advice(causes: dict[str, float]) -> str:
    largest = max(causes, key=lambda c: causes[c])
    return ADVICE[largest] if causes[largest] > 0 else ""
