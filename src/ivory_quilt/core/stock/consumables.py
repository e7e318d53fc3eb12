"""What is used up: cement, dips, filler, primer, paint, blades; how much a project takes.

Rates are from memory unless the maker has corrected them: common practice, no source.
"""

import math
import re
from decimal import Decimal
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.catalogue import check_money

COMMON = "common practice, no source"


class ConsumableKind(StrEnum):
    """What is used up."""

    CEMENT = "contact cement"
    SEALER = "sealer or dip"
    FILLER = "filler"
    CLAY = "foam clay"
    PRIMER = "primer"
    PAINT = "paint"
    BLADE = "blades"


class RateSource(StrEnum):
    """Where a rate is from."""

    MEMORY = "from memory"
    BOOK = "from the label"
    MAKER = "the maker's own"


class Consumable(Struct, frozen=True):
    """A tin, a bottle or a box.

    Attributes:
        size: mL in one as sold; of blades, how many.
        coverage: m² that a litre covers in one coat; of blades, m of cut that one lasts; of clay,
            m² that a litre makes 1 mm thick once it is dry.
        coats: that are usual.
        left: mL (blades: how many) at hand.
        opened: ISO date, empty while shut.
        months: that it is good once open; 0 for always.
    """

    id: str
    name: str
    kind: ConsumableKind
    size: float
    coverage: float
    coats: int = 2
    price: Decimal | None = None
    supplier: str = ""
    left: float = 0.0
    opened: str = ""
    months: int = 0
    rate: RateSource = RateSource.MEMORY

    def __post_init__(self) -> None:
        where = f"consumable '{self.name}'"
        if not self.id.strip() or not self.name.strip():
            raise InputError("consumable", "it has no name", "a name")
        for word, value in (("size", self.size), ("coverage", self.coverage)):
            if not 0 < value <= 1e6:
                raise InputError(f"{where}, {word}", f"{value:g}", "above 0")
        if not 1 <= self.coats <= 50:
            raise InputError(f"{where}, coats", f"{self.coats}", "1 to 50")
        if not 0 <= self.left <= 1e7:
            raise InputError(f"{where}, left", f"{self.left:g}", "0 or more")
        if not 0 <= self.months <= 240:
            raise InputError(f"{where}, months", f"{self.months}", "0 to 240")
        if self.price is not None:
            check_money(self.price, f"{where}, price")
        if self.opened:
            _day(self.opened, where)

    @property
    def unit(self) -> str:
        """What it is counted in."""
        return "blades" if self.kind is ConsumableKind.BLADE else "mL"

    def old(self, today: str) -> bool:
        """Return whether it was opened longer ago than it is good for."""
        if not self.opened or not self.months:
            return False
        first, now = _day(self.opened, self.name), _day(today, "today")
        months = (now[0] - first[0]) * 12 + now[1] - first[1]
        return months - (now[2] < first[2]) >= self.months


def _day(text: str, where: str) -> tuple[int, int, int]:
    """Return year, month and day of an ISO date."""
    found = re.fullmatch(r"(\d{4})-(\d{2})-(\d{2})", text)
    year, month, day = (int(t) for t in found.groups()) if found else (0, 0, 0)
    if not (1 <= month <= 12 and 1 <= day <= 31):
        raise InputError(f"{where}, opened", f"'{text}'", "a date such as 2026-03-01")
    return year, month, day


class UsedUp(Struct, frozen=True):
    """How much of one consumable a project takes.

    Attributes:
        need: mL, or blades.
        short: of that, what is not at hand (old tins do not count).
        packs: to buy.
    """

    what: Consumable
    need: float
    short: float
    packs: int
    old: bool
    reckoning: Reckoning

    @property
    def cost(self) -> Decimal:
        """What the packs to buy come to; 0 without a price."""
        return (self.what.price or Decimal(0)) * self.packs


def used_up(what: Consumable, amount: float, today: str, loss: float = 0.0) -> UsedUp:
    """Return what covering `amount` mm² (blades: cutting `amount` mm) takes of a consumable.

    `loss` is what is sprayed past or dries in the pot, percent.
    """
    if what.kind is ConsumableKind.BLADE:
        reckoning = blades(amount / 1000, what.coverage)
        need = reckoning.figure("blades")
    else:
        reckon = clay if what.kind is ConsumableKind.CLAY else coating
        reckoning = reckon(amount, what.coats, what.coverage, loss)
        need = reckoning.figure("volume")
    old = what.old(today)
    short = max(0.0, need - (0.0 if old else what.left))
    return UsedUp(what, need, short, math.ceil(short / what.size - 1e-9), old, reckoning)


def cement(area: float, faces: float, coats: float, coverage: float) -> Reckoning:
    """Reckon the cement for joints of `area` mm²: both `faces`, `coats` on each.

    `coverage` is the area in m² that a litre covers in one coat.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("area", area)
    within("faces", faces, 1, 2)
    within("coats", coats, 1, 20)
    above_zero("coverage", coverage)
    covered = area / 1e6 * faces * coats
    volume = covered / coverage * 1000
    return Reckoning(
        "cement",
        {"area": area, "faces": faces, "coats": coats, "coverage": coverage},
        {"volume": volume},
        (
            Step("joint", "area", area / 1e6, "m²"),
            Step("brushed", f"{area / 1e6:.4g} × {faces:g} × {coats:g}", covered, "m²"),
            Step("cement", f"{covered:.4g} ÷ {coverage:g} × 1000", volume, "mL"),
        ),
        COMMON,
        ("Solvent vapour: respirator with the right cartridge, real ventilation, no flame.",),
    )


def coating(area: float, coats: float, coverage: float, loss_percent: float = 0.0) -> Reckoning:
    """Reckon a coating of `area` mm²; `coverage` in m² a litre covers, `loss_percent` goes astray.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("area", area)
    within("coats", coats, 1, 50)
    above_zero("coverage", coverage)
    within("loss_percent", loss_percent, 0, 95)
    covered = area / 1e6 * coats
    share = 1 - loss_percent / 100
    volume = covered / coverage / share * 1000
    return Reckoning(
        "coating",
        {"area": area, "coats": coats, "coverage": coverage, "loss_percent": loss_percent},
        {"volume": volume},
        (
            Step("covered", f"{area / 1e6:.4g} × {coats:g}", covered, "m²"),
            Step("volume", f"{covered:.4g} ÷ {coverage:g} ÷ {share:g} × 1000", volume, "mL"),
        ),
        COMMON,
        ("Solvents and dust: respirator and ventilation; follow the product's label.",),
    )


def clay(amount: float, coats: float, coverage: float, loss_percent: float = 0.0) -> Reckoning:
    """Reckon the clay for `amount` mm³ of it dry.

    `coverage` in m² that a litre makes 1 mm thick once it is dry, `coats` as often as it is laid
    on; `loss_percent` stays on tools and hands.

    Raises:
        InputError: a value makes no sense.
    """
    spread = coating(amount, coats, coverage, loss_percent)
    volume, share = spread.figure("volume"), 1 - loss_percent / 100
    dry = amount * coats / 1000
    said = f"{dry:.4g} ÷ {coverage:g} ÷ {share:g}"
    return Reckoning(
        "clay",
        {"volume": amount, "coats": coats, "coverage": coverage, "loss_percent": loss_percent},
        {"volume": volume},
        (Step("dry", "area × thickness", dry, "mL"), Step("clay", said, volume, "mL")),
        COMMON,
        ("Wash hands; dry small features 8 h, large ones 24 h.",),
    )


def blades(metres: float, each: float) -> Reckoning:
    """Reckon the blades for so many metres of cut, when one lasts `each` metres."""
    count = math.ceil(metres / each - 1e-9)
    return Reckoning(
        "blades",
        {"metres": metres, "each": each},
        {"blades": float(count)},
        (Step("blades", f"{metres:.1f} ÷ {each:g}, rounded up", float(count)),),
        COMMON,
    )
