"""The mixed-integer program over orders: packs, price steps, shipping, minimum orders.

Its variables are packs of each offer in each price step, which suppliers are ordered from and
which of them ship for nothing. What the goods must suffice for is told by each demand: rules that
every numbers of goods must keep to, numbers that are known to suffice, and numbers known not to.
"""

import math
from collections.abc import Mapping, Sequence
from decimal import ROUND_DOWN, Decimal

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.bounds import Needs
from ivory_quilt.core.nesting.job import CENT
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.catalogue import Offer, Supplier

Counts = tuple[int, ...]
"""How many of each of a demand's offers are at hand: pieces, not packs."""


class Demand(Struct, frozen=True):
    """What must hold of one demand's offers.

    Attributes:
        offers: that can serve it.
        most: how many of each could ever be of use.
        needs: rules over (what is owned, then its offers), or None; owned is as much as there is.
        enough: numbers of which one suffices; empty when that is not asked for.
        short: numbers that do not suffice, nor do fewer.
    """

    offers: tuple[Offer, ...]
    most: Counts
    needs: Needs | None = None
    enough: tuple[Counts, ...] = ()
    short: tuple[Counts, ...] = ()


class PackOrder(Struct, frozen=True):
    """Packs of each offer, with what they come to; `bound`: nothing cheaper is allowed."""

    packs: Mapping[str, int]
    goods: Decimal
    shipping: Decimal
    bound: Decimal

    @property
    def total(self) -> Decimal:
        """Goods and shipping."""
        return self.goods + self.shipping


def cheapest_order(
    demands: Sequence[Demand], suppliers: Sequence[Supplier], seconds: float = 5.0
) -> PackOrder | None:
    """Return the cheapest order that all demands allow, or None where there is none."""
    return _Program(demands, suppliers).solve(seconds)


class _Program:
    """Columns are added with their cost and bounds, rows as sparse mappings of columns."""

    def __init__(self, demands: Sequence[Demand], suppliers: Sequence[Supplier]) -> None:
        self.suppliers = list(suppliers)
        self.costs: list[float] = []
        self.upper: list[float] = []
        self.whole: list[int] = []
        self.rows: list[tuple[dict[int, float], float, float]] = []
        self.steps: dict[str, list[tuple[int, Decimal]]] = {}
        self.offers: dict[str, Offer] = {}
        goods: dict[str, dict[int, float]] = {s.id: {} for s in suppliers}
        uses: dict[str, list[int]] = {s.id: [] for s in suppliers}
        for demand in demands:
            for offer, most in zip(demand.offers, demand.most, strict=True):
                self._offer(offer, most, goods[offer.supplier], uses[offer.supplier])
        for supplier in suppliers:
            self._supplier(supplier, goods[supplier.id], uses[supplier.id])
        for demand in demands:
            self._demand(demand)

    def _column(self, cost: float, upper: float, *, whole: bool = True) -> int:
        self.costs.append(cost)
        self.upper.append(upper)
        self.whole.append(int(whole))
        return len(self.costs) - 1

    def _offer(self, offer: Offer, most: int, goods: dict[int, float], uses: list[int]) -> None:
        self.offers[offer.id] = offer
        supplier = next(s for s in self.suppliers if s.id == offer.supplier)
        steps = []
        switches = {}
        for t, (first, price) in enumerate(offer.breaks):
            last = offer.most_packs
            if t + 1 < len(offer.breaks):
                last = min(last, offer.breaks[t + 1][0] - 1)
            # More than is of use is ordered at most to reach a step, a minimum or free shipping.
            sum_wanted = max(supplier.minimum, supplier.free_from or Decimal(0))
            reach = math.ceil(sum_wanted / price) if price else 0
            last = min(last, max(-(-most // offer.pack), first, reach))
            if last < first:
                continue
            packs = self._column(float(price), float(last))
            switch = self._column(0.0, 1.0)
            self.rows.append(({packs: 1.0, switch: -float(last)}, -np.inf, 0.0))
            self.rows.append(({packs: 1.0, switch: -float(first)}, 0.0, np.inf))
            goods[packs] = float(price)
            uses.append(switch)
            switches[switch] = 1.0
            steps.append((packs, price))
        if switches:
            self.rows.append((switches, 0.0, 1.0))
        self.steps[offer.id] = steps

    def _supplier(self, supplier: Supplier, goods: dict[int, float], uses: list[int]) -> None:
        if not uses or not (supplier.shipping or supplier.minimum):
            return
        used = self._column(0.0, 1.0)
        for switch in uses:
            self.rows.append(({used: 1.0, switch: -1.0}, 0.0, np.inf))
        if supplier.minimum:
            self.rows.append(({**goods, used: -float(supplier.minimum)}, -1e-9, np.inf))
        if supplier.shipping:
            paid = self._column(float(supplier.shipping), 1.0)
            row = {paid: 1.0, used: -1.0}
            if supplier.free_from is not None:
                free = self._column(0.0, 1.0)
                self.rows.append(({**goods, free: -float(supplier.free_from)}, -1e-9, np.inf))
                row[free] = 1.0
            self.rows.append((row, 0.0, np.inf))

    def _have(self, demand: Demand, k: int) -> dict[int, float]:
        """Return how many of a demand's k-th offer are at hand, as columns."""
        offer = demand.offers[k]
        return {packs: float(offer.pack) for packs, _ in self.steps[offer.id]}

    def _demand(self, demand: Demand) -> None:
        if demand.needs is not None:
            self._needs(demand, demand.needs)
        if demand.enough:
            chosen = [self._column(0.0, 1.0) for _ in demand.enough]
            self.rows.append((dict.fromkeys(chosen, 1.0), 1.0, 1.0))
            for k in range(len(demand.offers)):
                row = self._have(demand, k)
                for column, counts in zip(chosen, demand.enough, strict=True):
                    row[column] = -float(counts[k])
                self.rows.append((row, 0.0, np.inf))
        for counts in demand.short:
            more = []
            for k, count in enumerate(counts):
                column = self._column(0.0, 1.0)
                more.append(column)
                row = {**self._have(demand, k), column: -float(count + 1)}
                self.rows.append((row, 0.0, np.inf))
            self.rows.append((dict.fromkeys(more, 1.0), 1.0, np.inf))

    def _needs(self, demand: Demand, needs: Needs) -> None:
        """Put rules over numbers of stock in; those of offers are the packs times what is in."""
        owned = len(needs.costs) - len(demand.offers)
        columns: list[dict[int, float]] = []
        for x in range(needs.width):
            if owned <= x < len(needs.costs):
                columns.append(self._have(demand, x - owned))
            else:
                upper = float(needs.limits[x]) if x < owned else np.inf
                columns.append({self._column(0.0, upper, whole=False): 1.0})
        for line, low, high in zip(needs.rows, needs.low, needs.high, strict=True):
            row: dict[int, float] = {}
            for place in np.flatnonzero(line):
                for column, times in columns[int(place)].items():
                    row[column] = row.get(column, 0.0) + times * float(line[place])
            # Areas in mm² beside single sheets: scaled, or the solver's tolerance would be felt.
            size = max((abs(v) for v in row.values()), default=1.0)
            scaled = {c: v / size for c, v in row.items()}
            self.rows.append((scaled, float(low) / size, float(high) / size))

    def solve(self, seconds: float) -> PackOrder | None:
        from scipy.optimize import Bounds, LinearConstraint, milp
        from scipy.sparse import coo_matrix

        if not self.costs:
            empty = all(low <= 0 <= high for _, low, high in self.rows)
            return PackOrder({}, Decimal(0), Decimal(0), Decimal(0)) if empty else None
        entries = [(r, c, v) for r, (row, _, _) in enumerate(self.rows) for c, v in row.items()]
        r, c, v = (np.array(a) for a in zip(*entries, strict=True))
        matrix = coo_matrix((v, (r, c)), shape=(len(self.rows), len(self.costs))).tocsr()
        low, high = (np.array([row[k] for row in self.rows]) for k in (1, 2))
        answer = milp(
            np.array(self.costs),
            constraints=LinearConstraint(matrix, low, high),
            bounds=Bounds(0, np.array(self.upper)),
            integrality=np.array(self.whole),
            options={"mip_rel_gap": 0.0, "time_limit": seconds},
        )
        if answer.x is None:
            return None
        return self._order(np.asarray(answer.x), float(answer.mip_dual_bound))

    def _order(self, x: Array, bound: float) -> PackOrder:
        packs = {
            ident: n
            for ident, steps in self.steps.items()
            if (n := sum(round(float(x[column])) for column, _ in steps))
        }
        goods, shipping = bill(packs, self.offers, self.suppliers)
        low = Decimal(max(0.0, bound + 1e-7)).quantize(CENT, rounding=ROUND_DOWN)
        return PackOrder(packs, goods, shipping, min(low, goods + shipping))


def bill(
    packs: Mapping[str, int], offers: Mapping[str, Offer], suppliers: Sequence[Supplier]
) -> tuple[Decimal, Decimal]:
    """Return (goods, shipping) of an order, exactly.

    Raises:
        InputError: packs that are not sold so.
    """
    goods = dict.fromkeys((s.id for s in suppliers), Decimal(0))
    for ident, count in packs.items():
        goods[offers[ident].supplier] += offers[ident].cost(count)
    shipping = sum((s.shipping_of(goods[s.id]) for s in suppliers), Decimal(0))
    return sum(goods.values(), Decimal(0)), shipping
