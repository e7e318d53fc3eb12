"""From layouts to what must be bought, what is already owned, and what it comes to."""

from decimal import Decimal

from ivory_quilt.core.nesting.job import LayJob, LayResult, RollSpec, SheetSpec, roll_cost
from ivory_quilt.core.nesting.summary import foam_areas
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem, StockKind
from ivory_quilt.core.stock.keeping import kept_of
from ivory_quilt.core.stock.spent_sheet import CutState, SpentSheet
from ivory_quilt.core.units import Currency

OWNED, BOUGHT = "own:", "buy:"
ZERO = Decimal(0)
UNPRICED = Decimal(20)
MOST_SCRAPS = 24  # scrap pieces that a layout may use


def stock_specs(items: tuple[StockItem, ...]) -> tuple[list[SheetSpec], list[RollSpec]]:
    """Return the sheets and rolls that a layout may use: what is owned at no cost, then offers.

    A roll's price is per metre; an owned roll is free.
    """
    sheets: list[SheetSpec] = []
    rolls: list[RollSpec] = []
    heaps = sorted((i for i in items if i.kind is StockKind.SCRAP), key=lambda i: -i.shape.area)
    counts = heaped({i.id: i.owned for i in heaps})
    for item in items:
        if item.kind is StockKind.SCRAP:
            if counts.get(item.id):
                spec = SheetSpec(OWNED + item.id, item.shape, counts[item.id], ZERO, item.margin)
                sheets.append(spec)
            continue
        offers: list[tuple[str, int | None, Decimal]] = []
        if item.owned:
            offers.append((OWNED + item.id, item.owned, ZERO))
        if item.sold:
            most = None if item.available is None else item.available * item.pack
            offers.append((BOUGHT + item.id, most, stand_in(item, items)))
        for spec_id, quantity, price in offers:
            if item.kind is StockKind.ROLL:
                per_mm = price / 1000
                rolls.append(RollSpec(spec_id, item.breadth, item.length, per_mm, item.margin))
            else:
                flaws = item.defects if spec_id.startswith(OWNED) else ()
                shape, margin = item.laid_on
                sheets.append(SheetSpec(spec_id, shape, quantity, price, margin, flaws))
    return sheets, rolls


def heaped(counts: dict[str, int]) -> dict[str, int]:
    """Return how many scrap pieces of each size are thought of: the first so many of all.

    More would only slow the search down.
    """
    left, found = MOST_SCRAPS, {}
    for ident, count in counts.items():
        found[ident] = min(left, count)
        left -= found[ident]
    return found


def stand_in(item: StockItem, items: tuple[StockItem, ...]) -> Decimal:
    """Return an item's price, or one to choose by while nobody has said it: never shown.

    By its area: as dear as the shop's dearest priced foam of this kind, or `UNPRICED` a m².
    """
    if item.price is not None:
        return item.price
    rates = [i.price / _square_metres(i) for i in items if i.price is not None]
    return ((max(rates, default=UNPRICED)) * _square_metres(item)).quantize(Decimal("0.01"))


def _square_metres(item: StockItem) -> Decimal:
    """Return what a price is of: the area of one sheet, or of a metre of a roll, m²."""
    area = item.shape.area if item.kind is not StockKind.ROLL else item.breadth * 1000
    return Decimal(round(area / 1e6, 6))


def item_of(spec_id: str, stock: ShopStock) -> tuple[StockItem | None, bool]:
    """Return (stock item, whether it is owned) behind a sheet id of a layout."""
    owned = spec_id.startswith(OWNED)
    return stock.item(spec_id.removeprefix(OWNED).removeprefix(BOUGHT)), owned


class PurchaseLine(Struct, frozen=True):
    """One kind of stock that the layouts take.

    `amount` counts pieces; of a roll it is millimetres.
    """

    item: StockItem
    owned: bool
    amount: float
    cost: Decimal

    @property
    def amount_text(self) -> str:
        """Amount as a shop would say it."""
        if self.item.kind is StockKind.ROLL:
            return f"{self.amount / 1000:.2f} m"
        return f"{self.amount:.0f} ×"


class FoamLine(Struct, frozen=True):
    """One foam in the ledger. Areas in mm²; `kept` is what is worth keeping of what is left."""

    foam: Foam
    parts: int
    unplaced: int
    part_area: float
    foam_area: float
    lines: tuple[PurchaseLine, ...]
    cost: Decimal
    bound: Decimal
    laid: bool
    kept: float = 0.0
    unpriced: int = 0
    """Kinds of stock to buy whose price nobody has said yet; they count nothing."""
    cut: int = 0
    """Parts of `parts` that are cut already."""
    under_knife: int = 0
    """Parts of `parts` that wait on a sheet under the knife."""

    @property
    def scrap_area(self) -> float:
        """Foam taken that is neither part nor worth keeping."""
        return max(0.0, self.waste_area - self.kept)

    @property
    def scrap_share(self) -> float:
        """Scrap ÷ foam taken, 0 when nothing is taken."""
        return self.scrap_area / self.foam_area if self.foam_area else 0.0

    @property
    def waste_area(self) -> float:
        """Foam taken that becomes no part."""
        return max(0.0, self.foam_area - self.part_area)

    @property
    def waste_share(self) -> float:
        """Waste ÷ foam taken, 0 when nothing is taken."""
        return self.waste_area / self.foam_area if self.foam_area else 0.0

    @property
    def scrap_cost(self) -> Decimal:
        """What the scrap's share of the foam bought cost."""
        return (self.cost * Decimal(repr(round(self.scrap_share, 6)))).quantize(Decimal("0.01"))

    @property
    def bought(self) -> tuple[PurchaseLine, ...]:
        """Lines that must be bought."""
        return tuple(line for line in self.lines if not line.owned)

    @property
    def from_shelf(self) -> tuple[PurchaseLine, ...]:
        """Lines that are taken from the shelf."""
        return tuple(line for line in self.lines if line.owned)

    def sheets(self, *, owned: bool) -> int:
        """Return how many sheets, tiles and offcuts are taken (rolls count one)."""
        return sum(
            1 if line.item.kind is StockKind.ROLL else round(line.amount)
            for line in self.lines
            if line.owned is owned
        )

    def reckon_scrap(self) -> Reckoning:
        """Explain the scrap."""
        used, taken, kept = self.part_area / 1e6, self.foam_area / 1e6, self.kept / 1e6
        gone = self.scrap_area / 1e6
        share = 100 * self.scrap_share
        return Reckoning(
            "scrap",
            {"parts": f"{used:.3f} m²", "foam taken": f"{taken:.3f} m²", "kept": f"{kept:.3f} m²"},
            {"scrap": self.scrap_share},
            (
                Step("foam taken", "Σ sheet areas (rolls: width × used length)", taken, "m²"),
                Step("becomes parts", "Σ part areas", used, "m²"),
                Step("offcuts worth keeping", "what straight cuts across free", kept, "m²"),
                Step("scrap", f"{taken:.4f} − {used:.4f} − {kept:.4f}", gone, "m²"),
                Step("share", f"100 × {gone:.4f} ÷ {taken:.4f}" if taken else "none", share, "%"),
            ),
            "area balance: foam taken = parts + offcuts kept + scrap",
        )

    def reckon_cost(self, currency: Currency) -> Reckoning:
        """Explain the cost and how far any layout could get below it."""
        steps = [
            Step(line.item.name, _price_formula(line, currency), f"{line.cost:.2f}", currency.sign)
            for line in self.bought
        ]
        steps += [
            Step(line.item.name, f"{line.amount_text} from the shelf", "0.00", currency.sign)
            for line in self.from_shelf
        ]
        steps.append(Step("in all", "Σ", f"{self.cost:.2f}", currency.sign))
        bound = "no layout can cost less: the parts' areas with their gaps fill at least that much"
        steps.append(Step("proven lower bound", bound, f"{self.bound:.2f}", currency.sign))
        return Reckoning("cost", {}, {"cost": f"{self.cost:.2f}"}, tuple(steps), "shop's catalogue")


def _price_formula(line: PurchaseLine, currency: Currency) -> str:
    per = "m" if line.item.kind is StockKind.ROLL else "each"
    return f"{line.amount_text} {line.item.price} {currency.sign} {per}"


def foam_line(
    foam: Foam,
    parts: int,
    job: LayJob,
    result: LayResult | None,
    stock: ShopStock,
    spent: tuple[SpentSheet, ...] = (),
) -> FoamLine:
    """Return what one foam's layout comes to, with the sheets that are `spent` already.

    `parts` counts all, cut ones too.
    """
    done = parts - sum(p.quantity for p in job.pieces)
    used, opened = sum(s.part_area for s in spent), sum(s.area for s in spent)
    back = sum(s.kept for s in spent)
    waiting = min(done, sum(len(s.has(CutState.WAITING)) for s in spent))
    if result is None:
        return FoamLine(
            foam,
            parts,
            parts - done,
            used,
            opened,
            (),
            ZERO,
            ZERO,
            laid=bool(done) and done == parts,
            kept=back,
            cut=done - waiting,
            under_knife=waiting,
        )
    covered, taken = foam_areas(job, result)
    lines: dict[str, PurchaseLine] = {}
    for use in result.stock:
        item, owned = item_of(use.id, stock)
        if item is None:
            continue
        known = lines.get(use.id)
        amount = (use.used_length or 0.0) if item.kind is StockKind.ROLL else 1.0
        amount += known.amount if known else 0.0
        lines[use.id] = PurchaseLine(
            item, owned, amount, line_cost(item, owned=owned, amount=amount)
        )
    unpriced = sum(1 for x in lines.values() if not x.owned and x.item.price is None)
    return FoamLine(
        foam,
        parts,
        len(result.unplaced),
        covered + used,
        taken + opened,
        tuple(lines.values()),
        sum((line.cost for line in lines.values()), ZERO),
        ZERO if unpriced else result.cost_bound,
        laid=True,
        kept=back + sum(room.area for room in kept_of(job, result.placements, stock.keep)),
        unpriced=unpriced,
        cut=done - waiting,
        under_knife=waiting,
    )


def line_cost(item: StockItem, *, owned: bool, amount: float) -> Decimal:
    """Return what so many sheets of an item, or millimetres of a roll, cost; owned ones nothing."""
    if owned or item.price is None:
        return ZERO
    if item.kind is StockKind.ROLL:
        return roll_cost(item.price / 1000, amount)
    return item.price * round(amount)


class Ledger(Struct, frozen=True):
    """What the whole project comes to, foam by foam."""

    lines: tuple[FoamLine, ...] = ()

    @property
    def cost(self) -> Decimal:
        """Money to spend on foam."""
        return sum((line.cost for line in self.lines), ZERO)

    @property
    def bound(self) -> Decimal:
        """Proven: no layout of these parts on this stock can cost less."""
        return sum((line.bound for line in self.lines), ZERO)

    @property
    def part_area(self) -> float:
        """Foam that becomes parts, mm²."""
        return sum(line.part_area for line in self.lines)

    @property
    def foam_area(self) -> float:
        """Foam taken, mm²."""
        return sum(line.foam_area for line in self.lines)

    @property
    def waste_share(self) -> float:
        """What becomes no part ÷ foam taken."""
        return 1.0 - self.part_area / self.foam_area if self.foam_area else 0.0

    @property
    def kept(self) -> float:
        """What is left and worth keeping, mm²."""
        return sum(line.kept for line in self.lines)

    @property
    def scrap_area(self) -> float:
        """Foam that is neither part nor worth keeping, mm²."""
        return sum(line.scrap_area for line in self.lines)

    @property
    def scrap_share(self) -> float:
        """Scrap ÷ foam taken."""
        return self.scrap_area / self.foam_area if self.foam_area else 0.0

    @property
    def unpriced(self) -> int:
        """Kinds of stock to buy whose price nobody has said yet."""
        return sum(line.unpriced for line in self.lines)

    @property
    def parts(self) -> int:
        """Cut parts in all."""
        return sum(line.parts for line in self.lines)

    @property
    def cut(self) -> int:
        """Parts that are cut already."""
        return sum(line.cut for line in self.lines)

    @property
    def unplaced(self) -> int:
        """Parts that lie on no sheet yet."""
        return sum(line.unplaced for line in self.lines)

    def line(self, foam: Foam) -> FoamLine | None:
        """Return one foam's line, or None."""
        return next((x for x in self.lines if x.foam == foam), None)


class LedgerChange(Struct, frozen=True):
    """What an edit changed, in words that a maker reads at a glance."""

    foams: tuple[tuple[Foam, str], ...]
    cost: Decimal
    scrap_points: float

    @property
    def empty(self) -> bool:
        """Whether nothing changed."""
        return not self.foams and self.cost == 0 and abs(self.scrap_points) < 0.05


def ledger_change(before: Ledger, after: Ledger) -> LedgerChange:
    """Compare two ledgers; sheets bought first, then sheets from the shelf, then parts."""
    foams = sorted({line.foam for line in (*before.lines, *after.lines)})
    words = []
    for foam in foams:
        old, new = before.line(foam), after.line(foam)
        text = _foam_change(old, new)
        if text:
            words.append((foam, text))
    both = before.foam_area > 0 and after.foam_area > 0
    scrap = 100 * (after.scrap_share - before.scrap_share) if both else 0.0
    return LedgerChange(tuple(words), after.cost - before.cost, scrap)


def _foam_change(old: FoamLine | None, new: FoamLine | None) -> str:
    empty = {"buy": 0, "shelf": 0, "parts": 0}

    def counts(line: FoamLine | None) -> dict[str, int]:
        if line is None:
            return empty
        return {
            "buy": line.sheets(owned=False),
            "shelf": line.sheets(owned=True),
            "parts": line.parts,
        }

    a, b = counts(old), counts(new)
    unit = {"buy": "sheet", "shelf": "from shelf", "parts": "part"}
    for key in ("buy", "shelf", "parts"):
        d = b[key] - a[key]
        if d:
            plural = "s" if abs(d) != 1 and key != "shelf" else ""
            return f"{'+' if d > 0 else '−'}{abs(d)} {unit[key]}{plural}"
    return ""
