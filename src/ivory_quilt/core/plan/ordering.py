"""From a plan to what must be ordered, and from an order back to layouts that can be kept."""

import math
from collections.abc import Iterator
from decimal import Decimal

from ivory_quilt.core.document.project import KeptLayout
from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.bounds import area_demand
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, Placement
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection, section_of
from ivory_quilt.core.stock.buy_job import BuyFoam, BuyJob, BuyResult
from ivory_quilt.core.stock.catalogue import Offer, SoldRoll, Supplier
from ivory_quilt.core.stock.foam_stock import NOBODY, ShopStock, StockItem, StockKind
from ivory_quilt.core.stock.lengths_job import BarStock, LengthDemand
from ivory_quilt.core.stock.purchase import BOUGHT, OWNED, stand_in

CUT_STEP = 250.0  # mm: rolls are cut off in such steps
MOST_CUTS = 10  # lengths of one roll that are thought of
SAW = 1.0  # mm lost to a cut through a rod, common practice, no source
AT = "@"
"""Stands between a roll's id and the length cut off it, in an offer's id."""


def order_job(plan: Plan) -> BuyJob:
    """Return everything that a plan needs as one job for the purchase.

    Pieces pinned to sheets that are not bought yet are free to lie on others.
    """
    stock = plan.stock
    foams: list[BuyFoam] = [_foam(f, stock) for f in plan.foams if f.parts]
    foams += _bars(plan)
    used = {o.supplier for f in foams for o in f.offers}
    known = {s.id: s for s in stock.suppliers}
    suppliers = [known.get(i, Supplier(i)) for i in sorted(used)]
    return BuyJob(tuple(foams), tuple(suppliers))


def foam_key(plan: FoamPlan) -> str:
    """Return the name of a foam in the job."""
    return f"{plan.foam.thickness:g} {plan.foam.material}"


def _foam(foam: FoamPlan, stock: ShopStock) -> BuyFoam:
    owned = [s for s in foam.job.sheets if s.id.startswith(OWNED)]
    rolls = [r for r in foam.job.rolls if r.id.startswith(OWNED)]
    there = {*(s.id for s in owned), *(r.id for r in rolls)}
    pieces = tuple(_unpinned(p, there) for p in foam.job.pieces)
    job = LayJob(pieces, tuple(owned), tuple(rolls), foam.job.gap)
    items = stock.of(foam.foam)
    offers = tuple(o for i in items if i.sold for o in _offers(i, items, job))
    return BuyFoam(foam_key(foam), job, offers)


def _unpinned(piece: PieceSpec, there: set[str]) -> PieceSpec:
    kept = tuple(f for f in piece.fixed if f.sheet in there)
    return piece if len(kept) == len(piece.fixed) else replace(piece, fixed=kept)


def _offers(item: StockItem, items: tuple[StockItem, ...], job: LayJob) -> Iterator[Offer]:
    priced = replace(item, price=stand_in(item, items))
    if item.kind is not StockKind.ROLL:
        yield replace(priced.offer(), id=BOUGHT + item.id)
        return
    # A roll is sold by the metre: as pieces cut off it, in steps.
    per_mm = (priced.price or Decimal(0)) / 1000
    for length in _roll_cuts(item, job):
        price = (per_mm * Decimal(repr(length))).quantize(Decimal("0.01"))
        goods = SoldRoll(item.breadth, length, item.margin)
        ident = f"{BOUGHT}{item.id}{AT}{length:g}"
        yield Offer(ident, item.supplier or NOBODY, goods, ((1, price),), 1, 1)


def _roll_cuts(item: StockItem, job: LayJob) -> list[float]:
    """Return lengths of a roll that may be wanted: what all parts need and more, and short ones."""
    across = max(1.0, item.breadth - 2 * item.margin)
    least = area_demand(job) / across
    first = max(1, math.floor(least / CUT_STEP))
    last = math.ceil(1.7 * least / CUT_STEP) + 2
    step = max(1, -(-(last - first) // MOST_CUTS))
    counts = {2, 4, *range(first, last + 1, step)}
    return sorted({min(item.length, n * CUT_STEP) for n in counts})


def _bars(plan: Plan) -> list[BuyFoam]:
    """Return each section of shaped lengths, with the bars that it is cut from."""
    made = []
    for section, demands in _by_section(plan):
        bars = [b for b in plan.stock.bars if b.section == section]
        longest = _longest(section, plan)
        fit = tuple(d for d in demands if d.length <= longest)
        if fit:
            owned = tuple(BarStock(OWNED + b.id, b.length, b.owned) for b in bars if b.owned)
            offers = tuple(replace(b.offer(), id=BOUGHT + b.id) for b in bars)
            kerf = SAW if section.kind is BarKind.ROD else 0.0  # foam is cut with a knife
            made.append(BuyFoam(section.name, LayJob(()), offers, fit, owned, kerf))
    return made


def lacking_bars(plan: Plan) -> tuple[tuple[BarSection, int], ...]:
    """Return the sections of which some lengths can be cut from no bar, with how many."""
    lack = [
        (section, sum(d.quantity for d in demands if d.length > _longest(section, plan)))
        for section, demands in _by_section(plan)
    ]
    return tuple((section, count) for section, count in lack if count)


def _by_section(plan: Plan) -> list[tuple[BarSection, list[LengthDemand]]]:
    """Return what is cut of each section, in the order of sections."""
    wanted: dict[BarSection, list[LengthDemand]] = {}
    for number, cut in enumerate(plan.lengths):
        if cut.count:
            rod = plan.project.piece(cut.piece_id).build.rod
            demand = LengthDemand(f"{number}", cut.length, cut.count)
            wanted.setdefault(section_of(cut, rod), []).append(demand)
    return sorted(wanted.items())


def _longest(section: BarSection, plan: Plan) -> float:
    """Return the length of the longest bar of a section, mm; 0 where there is none."""
    return max((b.length for b in plan.stock.bars if b.section == section), default=0.0)


def layouts_of(plan: Plan, result: BuyResult) -> tuple[KeptLayout, ...]:
    """Return an order's layouts as ones that the project can keep."""
    found = {f.foam.id: f for f in result.foams}
    made = []
    for foam in plan.foams:
        bought = found.get(foam_key(foam))
        if bought is not None and bought.layout.placements and not bought.layout.unplaced:
            pins = foam.kept.pins if foam.kept is not None else frozenset()
            placements = _on_rolls(bought.layout.placements)
            kept = KeptLayout(foam.foam, placements)
            here = {(p.piece, p.copy): p for p in placements}
            old = {(p.piece, p.copy): p for p in (foam.kept.placements if foam.kept else ())}
            same = frozenset(k for k in pins if here.get(k) == old.get(k))
            made.append(replace(kept, pins=same))
    return tuple(made)


def _on_rolls(placements: tuple[Placement, ...]) -> tuple[Placement, ...]:
    """Put what lies on lengths cut off a roll back on the roll, one length after the other."""
    starts: dict[str, dict[str, float]] = {}
    for ident in sorted({p.sheet for p in placements if AT in p.sheet}):
        roll = ident.rpartition(AT)[0]
        cuts = starts.setdefault(roll, {})
        cuts[ident] = sum(float(i.rpartition(AT)[2]) for i in cuts)
    made = []
    for p in placements:
        if AT in p.sheet:
            roll = p.sheet.rpartition(AT)[0]
            pose = p.pose
            moved = Pose(pose.x + starts[roll][p.sheet], pose.y, pose.rotation, pose.mirrored)
            p = replace(p, sheet=roll, sheet_copy=0, pose=moved)
        made.append(p)
    return tuple(made)


def days_of(result: BuyResult, stock: ShopStock) -> int:
    """Return how many days it takes until all that is ordered is here."""
    known = {s.id: s.days for s in stock.suppliers}
    return max((known.get(x.offer.supplier, 0) for x in result.lines), default=0)


class ShoppingLine(Struct, frozen=True):
    """One line of a shopping list; `unpriced`: nobody has said what it costs."""

    supplier: str
    ident: str
    key: str
    """The item's id, and the length where it is cut off a roll."""
    name: str
    size: str
    amount: str
    packs: int
    count: int
    price: Decimal
    cost: Decimal
    unpriced: bool


def shopping_list(result: BuyResult, stock: ShopStock) -> tuple[ShoppingLine, ...]:
    """Return what an order says, by supplier, with the shop's words."""
    made = []
    for line in result.lines:
        ident = line.offer.id.removeprefix(BOUGHT)
        roll, at, length = ident.rpartition(AT)
        item = stock.item(roll if at else ident)
        bar = next((b for b in stock.bars if b.id == ident), None)
        amount = f"{line.packs} × {line.offer.pack}" if line.offer.pack > 1 else f"{line.packs}"
        thing: StockItem | BarItem | None = item or bar
        if thing is None:
            continue
        size = f"{float(length) / 1000:g} m" if at else item.size_text if item is not None else ""
        supplier = "" if line.offer.supplier == NOBODY else line.offer.supplier
        unpriced = thing.price is None
        made.append(
            ShoppingLine(
                supplier,
                thing.id,
                ident,
                thing.name,
                size,
                amount,
                line.packs,
                line.packs * line.offer.pack,
                line.price,
                line.cost,
                unpriced,
            )
        )
    return tuple(sorted(made, key=lambda x: (x.supplier, x.name, x.size)))
