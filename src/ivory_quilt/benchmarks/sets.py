"""Made-up sets of armour-like pieces to lay, the same on every machine.

The outlines follow what a suit is made of: breastplates with a neckline, collars, gores, bands,
tapering cuffs, horn panels, spikes, scales. Nothing here is anybody's pattern.
"""

import math
from collections.abc import Callable
from decimal import Decimal

import numpy as np
from shapely import LineString, Polygon, affinity, box
from shapely.ops import split

from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of, rectangle
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec, SheetSpec
from ivory_quilt.core.record import Struct

Draw = Callable[[np.random.Generator], Array]
QUARTERS = (0.0, 90.0, 180.0, 270.0)
HALVES = (0.0, 180.0)
LONGEST = 100_000.0  # mm; a strip that never ends


class StripSet(Struct, frozen=True):
    """Pieces to lay on the shortest piece of a roll."""

    name: str
    count: int
    width: float
    rotations: tuple[float, ...] | None
    gap: float
    size: float
    seed: int

    def job(self) -> LayJob:
        """Return the job; a millimetre of roll costs one."""
        random = np.random.default_rng(self.seed)
        pieces = []
        for k in range(self.count):
            draw = SHAPES[k % len(SHAPES)]
            points = draw(random) * self.size * random.uniform(0.75, 1.25)
            pieces.append(PieceSpec(f"p{k}", Shape.make(points), 1, self.rotations))
        return LayJob(
            tuple(pieces), rolls=(RollSpec("R", self.width, LONGEST, Decimal(1)),), gap=self.gap
        )


def _arc(
    cx: float, cy: float, r: float, start: float, stop: float, count: int
) -> list[tuple[float, float]]:
    return [
        (cx + r * math.cos(math.radians(a)), cy + r * math.sin(math.radians(a)))
        for a in np.linspace(start, stop, count)
    ]


def _breast(random: np.random.Generator) -> Array:
    w, h, neck = random.uniform(0.8, 1.1), random.uniform(1.0, 1.3), random.uniform(0.2, 0.32)
    left = [(-0.35 * w, 0.0), (-0.55 * w, 0.35 * h), (-0.45 * w, 0.7 * h), (-0.4 * w, h)]
    top = _arc(0.0, h, neck, 180, 360, 9)
    right = [(-x, y) for x, y in reversed(left)]
    return np.array([*left, *top, *right, (0.0, -0.12 * h)])


def _collar(random: np.random.Generator) -> Array:
    r, wide, spread = random.uniform(0.5, 0.7), random.uniform(0.16, 0.26), random.uniform(95, 150)
    outer = _arc(0, 0, r, 90 - spread / 2, 90 + spread / 2, 14)
    inner = _arc(0, 0.05, r - wide, 90 + spread / 2 - 6, 90 - spread / 2 + 6, 11)
    return np.array([*outer, *inner])


def _gore(random: np.random.Generator) -> Array:
    length, wide = random.uniform(0.9, 1.3), random.uniform(0.2, 0.32)
    t = np.linspace(0, 1, 11)
    right = np.column_stack((wide / 2 * np.sin(math.pi * t) ** 0.8, length * t))
    left = np.column_stack((-right[-2:0:-1, 0], right[-2:0:-1, 1]))
    return np.vstack((right, left))


def _band(random: np.random.Generator) -> Array:
    length, wide, sweep = (
        random.uniform(0.9, 1.4),
        random.uniform(0.1, 0.18),
        random.uniform(20, 55),
    )
    r = length / math.radians(sweep)
    outer = _arc(0, 0, r, 90 - sweep / 2, 90 + sweep / 2, 12)
    inner = _arc(0, 0, r - wide, 90 + sweep / 2, 90 - sweep / 2, 12)
    return np.array([(x, y - r) for x, y in [*outer, *inner]])


def _cuff(random: np.random.Generator) -> Array:
    low, high, tall = random.uniform(0.5, 0.7), random.uniform(0.75, 1.0), random.uniform(0.6, 0.9)
    dip = random.uniform(0.04, 0.14)
    right = [(low / 2, 0.0), (low / 2 + 0.02, 0.3 * tall), (high / 2 - 0.04, 0.7 * tall)]
    tip = [(high / 2, tall), (high / 4, tall - dip), (0.0, tall + dip)]
    left = [(-x, y) for x, y in reversed([*right, *tip[:2]])]
    return np.array([*right, *tip, *left, (0.0, dip)])


def _horn(random: np.random.Generator) -> Array:
    length, wide, bend = (
        random.uniform(0.9, 1.3),
        random.uniform(0.2, 0.34),
        random.uniform(0.12, 0.3),
    )
    t = np.linspace(0, 1, 13)
    middle = np.column_stack((bend * np.sin(math.pi * t), length * t))
    half = wide / 2 * (1 - t) ** 0.8
    right = np.column_stack((middle[:, 0] + half, middle[:, 1]))
    left = np.column_stack((middle[:-1, 0] - half[:-1], middle[:-1, 1]))[::-1]
    return np.vstack((right, left))


def _spike(random: np.random.Generator) -> Array:
    base, tall = random.uniform(0.25, 0.45), random.uniform(0.5, 0.8)
    return np.array([(0, 0), (base, 0), (base / 2, tall)])


def _scale(random: np.random.Generator) -> Array:
    w, h = random.uniform(0.3, 0.45), random.uniform(0.4, 0.6)
    low = _arc(0, 0, w / 2, 180, 360, 9)
    return np.array([*low, (w / 2, h * 0.6), (0.0, h), (-w / 2, h * 0.6)])


def _guard(random: np.random.Generator) -> Array:
    w, h, notch = random.uniform(0.5, 0.8), random.uniform(0.6, 0.9), random.uniform(0.15, 0.3)
    return np.array(
        [
            (0, 0),
            (w, 0),
            (w + 0.06, h * 0.5),
            (w * 0.8, h),
            (w * 0.62, h),
            (w * 0.5, h - notch),
            (w * 0.38, h),
            (w * 0.2, h),
            (-0.06, h * 0.5),
        ]
    )


SHAPES: tuple[Draw, ...] = (
    _breast,
    _collar,
    _gore,
    _band,
    _cuff,
    _horn,
    _spike,
    _scale,
    _guard,
)

STRIP_SETS = (
    StripSet("40 pieces, 4 rotations, gap 0", 40, 600.0, QUARTERS, 0.0, 220.0, 11),
    StripSet("64 pieces, 4 rotations, gap 2", 64, 900.0, QUARTERS, 2.0, 220.0, 12),
    StripSet("28 pieces, 2 rotations, gap 0", 28, 600.0, HALVES, 0.0, 240.0, 13),
    StripSet("40 pieces, free, gap 0", 40, 700.0, None, 0.0, 220.0, 14),
    StripSet("80 pieces, 2 rotations, gap 2", 80, 900.0, HALVES, 2.0, 180.0, 15),
    StripSet("25 pieces, free, gap 2", 25, 600.0, None, 2.0, 240.0, 16),
)


# Jigsaws: a rectangle cut up, so that a layout without any waste is known to exist.


class Jigsaw(Struct, frozen=True):
    """A rectangle cut into pieces by straight and bent cuts; quarter turns are free."""

    count: int
    length: float
    width: float
    most_slack: float
    seed: int

    @property
    def name(self) -> str:
        """What it is called in the table."""
        return f"jigsaw of {self.count}"

    def job(self, slack: float = 0.0) -> LayJob:
        """Return the job on a roll as wide as the rectangle, or on a sheet `slack` longer."""
        pieces = cut_up(self.length, self.width, self.count, np.random.default_rng(self.seed))
        specs = tuple(PieceSpec(f"j{k}", s, 1, QUARTERS) for k, s in enumerate(pieces))
        if slack:
            sheet = SheetSpec("S", rectangle(self.length * (1 + slack), self.width))
            return LayJob(specs, (sheet,))
        return LayJob(specs, rolls=(RollSpec("R", self.width, LONGEST, Decimal(1)),))


def cut_up(length: float, width: float, count: int, random: np.random.Generator) -> list[Shape]:
    """Cut a rectangle into `count` pieces, each turned by a quarter or more and moved to 0."""
    parts: list[Polygon] = [box(0, 0, length, width)]
    while len(parts) < count:
        parts.sort(key=lambda p: p.area)
        largest = parts[-1]
        halves = _halves(largest, random)
        if halves is not None:
            parts[-1:] = halves
    shapes = []
    for part in parts:
        turned = affinity.rotate(part, 90 * int(random.integers(4)), origin=(0, 0))
        points = np.asarray(turned.exterior.coords)[:-1]
        shapes.append(Shape.make(points - points.min(axis=0)))
    return shapes


def _halves(part: Polygon, random: np.random.Generator) -> list[Polygon] | None:
    """Cut once, straight or bent; None when a half would be a sliver."""
    x0, y0, x1, y1 = part.bounds
    cx, cy = part.centroid.coords[0]
    reach = 2 * max(x1 - x0, y1 - y0)
    across = 90.0 if x1 - x0 > y1 - y0 else 0.0
    angle = math.radians(across + random.uniform(-35, 35))
    dx, dy = math.cos(angle), math.sin(angle)
    line = [(cx - reach * dx, cy - reach * dy), (cx + reach * dx, cy + reach * dy)]
    if random.random() < 0.5:
        off = random.uniform(-0.12, 0.12) * min(x1 - x0, y1 - y0)
        line.insert(1, (cx - off * dy, cy + off * dx))
    halves = [p for p in polygons_of(split(part, LineString(line))) if p.area > 0.2 * part.area]
    return halves if len(halves) == 2 and abs(sum(p.area for p in halves) - part.area) < 1 else None


# Jobs on several kinds of stock.


def offcut(random: np.random.Generator, length: float, width: float) -> Shape:
    """Return a leftover: a sheet with a corner or a side bitten out."""
    bite_x, bite_y = random.uniform(0.3, 0.6) * length, random.uniform(0.3, 0.6) * width
    if random.random() < 0.5:
        return Shape.make(
            [(0, 0), (length, 0), (length, width - bite_y), (length - bite_x, width), (0, width)]
        )
    return Shape.make(
        [
            (0, 0),
            (length, 0),
            (length, width),
            (0.7 * length, width),
            (0.5 * length, width - bite_y),
            (0.3 * length, width),
            (0, width),
        ]
    )


def stock_job(seed: int) -> LayJob:
    """Return one of the jobs on 3 to 6 kinds of stock, with offcuts and different costs."""
    random = np.random.default_rng(1000 + seed)
    size = random.uniform(140, 220)
    count = int(random.integers(18, 45))
    pieces = tuple(
        PieceSpec(
            f"p{k}",
            Shape.make(SHAPES[int(random.integers(len(SHAPES)))](random) * size),
            1,
            (QUARTERS, HALVES, None)[int(random.integers(3))],
        )
        for k in range(count)
    )
    kinds = int(random.integers(3, 7))
    sheets = [
        SheetSpec("large", rectangle(1000, 500), None, Decimal("12.50"), 3.0),
        SheetSpec("square", rectangle(600, 600), None, Decimal("8.90"), 10.0),
        SheetSpec("small", rectangle(500, 400), int(random.integers(2, 8)), Decimal("4.90"), 3.0),
        SheetSpec("huge", rectangle(2000, 1000), None, Decimal("44.00"), 3.0),
    ][: kinds - 1]
    owned = kinds - len(sheets)
    for k in range(owned):
        shape = offcut(random, random.uniform(350, 700), random.uniform(300, 500))
        sheets.append(SheetSpec(f"offcut {k}", shape, 1, Decimal(0), 2.0))
    return LayJob(pieces, tuple(sheets), gap=float(random.choice([0.0, 2.0])))


def known_job(seed: int) -> tuple[LayJob, Decimal]:
    """Return pieces cut from stock with 15 % to spare, and what that stock costs."""
    random = np.random.default_rng(2000 + seed)
    kinds = [
        SheetSpec("large", rectangle(1000, 500), None, Decimal("12.50")),
        SheetSpec("square", rectangle(600, 600), None, Decimal("8.90")),
        SheetSpec("small", rectangle(500, 400), None, Decimal("4.90")),
    ]
    pieces, cost = [], Decimal(0)
    for _ in range(int(random.integers(2, 4))):
        sheet = kinds[int(random.integers(3))]
        cost += sheet.cost
        shrink = math.sqrt(1.15)
        size = (sheet.shape.width / shrink, sheet.shape.height / shrink)
        pieces += cut_up(*size, int(random.integers(5, 9)), random)
    specs = tuple(PieceSpec(f"k{k}", s, 1, QUARTERS) for k, s in enumerate(pieces))
    return LayJob(specs, tuple(kinds)), cost


JIGSAWS = (
    Jigsaw(10, 700.0, 500.0, 0.06, 21),
    Jigsaw(16, 900.0, 600.0, 0.12, 22),
    Jigsaw(25, 1000.0, 700.0, 0.15, 23),
)

# Radius of the largest n equal discs in a unit square: the values of the published tables (E.
# Specht's list of best known packings), from memory.
DISCS = {5: 0.207106781, 7: 0.174457630, 10: 0.148204322, 13: 0.133993513}


def disc_job(count: int, over: float) -> LayJob:
    """Return discs of 50 mm radius (as polygons around them) in a square `over` the best known."""
    radius, corners = 50.0, 48
    angles = np.arange(corners) * 2 * math.pi / corners
    around = radius / math.cos(math.pi / corners)
    disc = Shape.make(np.column_stack((around * np.cos(angles), around * np.sin(angles))))
    side = radius / DISCS[count] * (1 + over)
    return LayJob((PieceSpec("disc", disc, count),), (SheetSpec("square", rectangle(side, side)),))
