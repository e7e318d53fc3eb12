"""Girths of a formed shape: where a plane cuts it, on its inner, middle and outer face."""

import math

import numpy as np

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.skin import facing
from ivory_quilt.core.record import Struct, field

MOST_SLANT = 4.0  # of the foam's thickness: a plane that nearly lies in the foam tells no girth
NOTHING = 1e-9  # mm: a stretch that is shorter is a place
SAME = 0.05  # mm: ends of a cut that are nearer may be one


class Girth(Struct, frozen=True):
    """The length of a cut through a shape, mm: along its triangles, a little short of its arcs.

    Attributes:
        middle: along the middle surface.
        inner, outer: on the faces. Of a ring all round they differ by 2π of half the thickness
            (the parallel curve of a convex one, Steiner 1840); else by the angle it goes through.
        gap: how far apart its two ends lie, mm; 0 where it closes.
        parts: how many lines the plane cuts; 1 is a girth.
        cut: the stretches that it is made of, `(n, 2, 3)`.
    """

    middle: float
    inner: float
    outer: float
    gap: float
    parts: int
    cut: Array = field(default_factory=lambda: np.zeros((0, 2, 3)))

    @property
    def closes(self) -> bool:
        """Whether it goes all round."""
        return self.parts == 1 and self.gap == 0


class GirthPlane(Struct, frozen=True):
    """A plane through a shape as it is shown, its first panel upright.

    Attributes:
        share: of the shape's height at which it goes through the middle.
        forward, sideways: degrees that it leans to the front and to the right; level at 0.
    """

    share: float = 0.5
    forward: float = 0.0
    sideways: float = 0.0

    def through(self, shape: FormedShape) -> tuple[float, Array, Array]:
        """Return its height above the lowest place, mm, a point on it, and its normal, `(3,)`."""
        axes = facing(shape)  # to the right, up, to the front
        places = np.concatenate([p.places for p in shape.panels]) @ axes
        low, high = places.min(0), places.max(0)
        at = (low + high) / 2
        at[1] = low[1] + self.share * (high[1] - low[1])
        front, side = math.radians(self.forward), math.radians(self.sideways)
        normal = np.array(
            [
                math.sin(side),
                math.cos(side) * math.cos(front),
                math.cos(side) * math.sin(front),
            ]
        )
        return float(at[1] - low[1]), axes @ at, axes @ normal


def girth_of(shape: FormedShape, point: Array, normal: Array) -> Girth | None:
    """Return the cut of a plane through a shape; None where it meets nothing.

    Args:
        shape: the shape.
        point: on the plane, `(3,)` mm.
        normal: of the plane, `(3,)`.
    """
    across = np.asarray(normal) / np.linalg.norm(normal)
    starts: list[Array] = []
    stops: list[Array] = []
    halves: list[Array] = []
    for panel in shape.panels:
        high = (panel.places - point) @ across
        corners = high[panel.triangles]
        above = corners >= 0
        for k in range(3):  # the corner that is alone on its side
            alone = (above[:, k] != above[:, k - 1]) & (above[:, k] != above[:, k - 2])
            cut = panel.triangles[alone]
            one, two, three = cut[:, k], cut[:, (k + 1) % 3], cut[:, (k + 2) % 3]
            ends = []
            for other in (two, three):
                share = high[one] / (high[one] - high[other])
                a, b = panel.places[one], panel.places[other]
                ends.append(a + share[:, None] * (b - a))
            flip = above[alone, k]
            starts.append(np.where(flip[:, None], ends[0], ends[1]))
            stops.append(np.where(flip[:, None], ends[1], ends[0]))
            halves.append(panel.thickness / 2 * _slant(panel.places[cut], across))
    start, stop = np.vstack(starts), np.vstack(stops)
    # A corner on the plane itself cuts off nothing.
    real = np.linalg.norm(stop - start, axis=1) > NOTHING
    start, stop, away = start[real], stop[real], np.concatenate(halves)[real]
    if not len(start):
        return None
    middle = float(np.linalg.norm(stop - start, axis=1).sum())
    groups, odd, turn, half = _followed(start, stop, away, across)
    gap = float(np.linalg.norm(odd[0] - odd[1])) if len(odd) == 2 else 0.0
    closed = groups == 1 and not len(odd)
    angle = 2 * math.pi if closed else min(abs(turn), 2 * math.pi)
    inner, outer = middle - angle * half, middle + angle * half
    return Girth(middle, inner, outer, gap, groups, np.stack([start, stop], 1))


def _slant(corners: Array, across: Array) -> Array:
    """Return how much wider a plane cuts the foam of triangles `(n, 3, 3)` than it is thick."""
    out = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    sine = (out @ across) / np.maximum(np.linalg.norm(out, axis=1), 1e-12)
    wider: Array = np.minimum(1 / np.sqrt(np.maximum(1 - sine**2, 1e-6)), MOST_SLANT)
    return wider


def _followed(
    start: Array, stop: Array, away: Array, across: Array
) -> tuple[int, list[Array], float, float]:
    """Return how many lines pieces of a cut make, and loose ends; of the longest its turn.

    And how far `away` a face lies from it, where it turns: that is what a face is longer by.
    """
    after = _linked(start, stop)
    reached = set(after.values())
    loose = [k for k in range(len(start)) if k not in reached]
    seen: set[int] = set()
    groups, longest, turn, half = 0, 0.0, 0.0, 0.0
    for k in [*loose, *range(len(start))]:
        if k in seen:
            continue
        groups += 1
        line = [k]
        seen.add(k)
        at = after.get(k)
        while at is not None and at not in seen:
            line.append(at)
            seen.add(at)
            at = after.get(at)
        ways = stop[line] - start[line]
        length = float(np.linalg.norm(ways, axis=1).sum())
        if length > longest:
            longest, (turn, half) = length, _turn(ways, away[line], across)
    ends = [start[k] for k in loose]
    ends += [stop[k] for k in range(len(start)) if k not in after]
    return groups, ends, turn, half


def _linked(start: Array, stop: Array) -> dict[int, int]:
    """Return which stretch goes on from each: the nearest begin first, each only once.

    One that is shorter than what counts as the same place stays in its line that way.
    """
    far = np.abs(stop[:, None] - start[None]).max(2)
    np.fill_diagonal(far, np.inf)
    ends, begins = np.nonzero(far < SAME)
    after: dict[int, int] = {}
    taken: set[int] = set()
    for k in np.argsort(far[ends, begins], kind="stable").tolist():
        one, other = int(ends[k]), int(begins[k])
        if one not in after and other not in taken:
            after[one] = other
            taken.add(other)
    return after


def _turn(ways: Array, away: Array, across: Array) -> tuple[float, float]:
    """Return the angle that a line in a plane turns through, radians, and the mean of `away`.

    It goes on to its ends as it turns between the middles of its first and last stretch. Of `away`
    counts most what is where it turns most.
    """
    lengths = np.linalg.norm(ways, axis=1)
    one, two = ways[:-1], ways[1:]
    sine = np.cross(one, two) @ across
    turns = np.arctan2(sine, (one * two).sum(1))
    inside = float(np.sum(turns))
    shares = np.abs(turns) + 1e-9 if len(turns) else np.zeros(0)
    there = (away[:-1] + away[1:]) / 2
    half = float(np.average(there, weights=shares)) if len(turns) else float(away.mean())
    long = float(lengths.sum())
    between = long - (float(lengths[0]) + float(lengths[-1])) / 2
    return (inside * long / between if between > 0 else 0.0), half
