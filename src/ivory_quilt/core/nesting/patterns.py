"""Regular patterns for many equal parts: rows, rows of pairs turned about, shifted row by row.

Discs come out hexagonal, triangles paired, strips side by side, because rows and shifts are found
by exact contact and the densest wins; nothing here knows a shape by name.
"""

from itertools import pairwise

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.geometry import place_edges, shapes_meet
from ivory_quilt.core.nesting.kernels.intervals import INTERVALS
from ivory_quilt.core.nesting.kernels.slices import add_pair, make_chains
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.prepare import Prepared
from ivory_quilt.core.nesting.world import World
from ivory_quilt.core.record import Struct

FEW = 6  # equal parts below which a pattern is not worth a try
SHIFTS = 24  # of a row against the one below, tried over one period
CLEAR = 1e-6  # mm kept between parts besides the gap
MOST_CORNERS = 80  # of an outline; beyond that contact takes long and a pattern is no gain


class Turned(Struct, frozen=True):
    """A part in one orientation, ready for contact along x and along y."""

    spin: tuple[float, float, float]
    edges: Array
    box: Array
    chains: tuple[Array, Ints, int]
    chains_across: tuple[Array, Ints, int]


class Pattern(Struct, frozen=True):
    """One row: parts at x offsets, repeated every `period`; the next row is `shift`, `rise` on."""

    parts: tuple[tuple[Turned, float], ...]
    period: float
    shift: float
    rise: float

    @property
    def area(self) -> float:
        """Area that one part takes, mm²."""
        return self.period * self.rise / len(self.parts)


def patterns_of(kind: Prepared) -> list[Pattern]:
    """Return regular patterns of a part, the densest first."""
    if len(kind.edges) > MOST_CORNERS:
        return []
    turned = [_turned(kind, spin) for spin in _spins(kind)]
    found = []
    for a in turned:
        found.append(_pattern([a]))
        mate = next((b for b in turned if _half_turn(a, b)), None)
        if mate is not None:
            found.append(_pattern([a, mate]))
    return sorted((p for p in found if p is not None), key=lambda p: p.area)


def fill(world: World, items: list[int], region: int, pattern: Pattern) -> int:
    """Place items (equal parts) on an empty region in a pattern; return how many found room."""
    x0, y0, x1, y1 = world.regions[region].rect
    frames = [j for j in world.members(region) if j >= world.count]
    placed, row = 0, 0
    low = min(t.box[1] for t, _ in pattern.parts)
    high = max(t.box[3] for t, _ in pattern.parts)
    while y0 - low + row * pattern.rise + high <= y1 + CLEAR and placed < len(items):
        y = y0 - low + row * pattern.rise
        # The row starts as far left as its shift allows.
        x = x0 - pattern.parts[0][0].box[0] + (row * pattern.shift) % pattern.period
        x -= pattern.period * (1 + int((x1 - x0) / pattern.period))
        while x + min(at + t.box[0] for t, at in pattern.parts) < x1 and placed < len(items):
            for part, at in pattern.parts:
                if placed == len(items):
                    break
                if x + at + part.box[0] < x0 - CLEAR or x + at + part.box[2] > x1 + CLEAR:
                    continue
                world.set_pose(items[placed], (x + at, y, *part.spin), region)
                if not _clear(world, items[placed], frames):
                    continue
                placed += 1
            x += pattern.period
        row += 1
    for i in items[placed : placed + 1]:  # the one that was tried last and did not fit
        world.take_off(i)
    return placed


def _clear(world: World, i: int, frames: list[int]) -> bool:
    for j in frames:
        if world.is_ghost(j) and world.kinds[i].spec.hidden:
            continue
        if shapes_meet(
            world.edges,
            world.e0[i],
            world.e0[i + 1],
            world.boxes[i],
            world.edges,
            world.e0[j],
            world.e0[j + 1],
            world.boxes[j],
        ):
            return False
    return True


def _spins(kind: Prepared) -> list[tuple[float, float, float]]:
    spins = [(float(c), float(s), float(f)) for c, s, f in kind.orientations]
    if kind.spec.rotations is None:
        for angle in (30.0, 60.0, 120.0, 150.0):
            c, s = float(np.cos(np.radians(angle))), float(np.sin(np.radians(angle)))
            spins += [(c, s, 1.0), (-c, -s, 1.0)]
    return spins


def _turned(kind: Prepared, spin: tuple[float, float, float]) -> Turned:
    edges, box = np.zeros_like(kind.edges), np.zeros(4)
    place_edges(kind.edges, 0, len(kind.edges), np.array([0.0, 0.0, *spin]), edges, 0, box)
    return Turned(spin, edges, box, _chains(edges, swap=False), _chains(edges, swap=True))


def _chains(edges: Array, *, swap: bool) -> tuple[Array, Ints, int]:
    n = len(edges)
    vertices, heads = np.zeros((2 * n, 2)), np.zeros(2 * n + 1, dtype=np.int64)
    return vertices, heads, make_chains(edges, 0, n, swap, vertices, 0, heads, 0)


def _half_turn(a: Turned, b: Turned) -> bool:
    (c, s, f), (u, v, g) = a.spin, b.spin
    return f == g and abs(c + u) < 1e-6 and abs(s + v) < 1e-6


def _contact(a: Turned, rise: float, b: Turned, *, across: bool) -> float:
    """Return the least shift of `a` beyond which it is clear of `b` for good; −inf if always clear.

    Along x at height `rise`; with `across`, along y at `rise` along x.
    """
    low, high = np.zeros(INTERVALS), np.zeros(INTERVALS)
    va, ha, ca = a.chains_across if across else a.chains
    vb, hb, cb = b.chains_across if across else b.chains
    low, high, n = add_pair(
        (a.edges, 0, len(a.edges), va, ha, 0, ca),
        rise,
        (b.edges, 0, len(b.edges), vb, hb, 0, cb),
        across,
        low,
        high,
        0,
    )
    return float(high[:n].max()) + CLEAR if n else -np.inf


def _pattern(unit: list[Turned]) -> Pattern | None:
    """Return the densest pattern of rows made of `unit` again and again."""
    offsets = [0.0]
    # About its own centre a part and its half turn stand equally high: feet on one line.
    for previous, part in pairwise(unit):
        offsets.append(offsets[-1] + _contact(part, 0.0, previous, across=False))
    period = max(
        _contact(a, 0.0, b, across=False) + offsets[j] - offsets[i]
        for i, a in enumerate(unit)
        for j, b in enumerate(unit)
    )
    if not np.isfinite(period) or period <= 0:
        return None
    best: tuple[float, float] | None = None
    for k in range(SHIFTS):
        shift = period * k / SHIFTS
        rise = 0.0
        for i, a in enumerate(unit):
            for j, b in enumerate(unit):
                for turn in (-2, -1, 0, 1, 2):
                    along = shift + offsets[i] - offsets[j] + turn * period
                    rise = max(rise, _contact(a, along, b, across=True))
        if rise > 0 and (best is None or rise < best[1] - 1e-9):
            best = (shift, rise)
    if best is None:
        return None
    return Pattern(tuple(zip(unit, offsets, strict=True)), period, best[0], best[1])
