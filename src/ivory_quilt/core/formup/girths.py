"""Girths of a formed shape: where a plane cuts it, on its inner, middle and outer face."""

import math
from dataclasses import dataclass

import numpy as np

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.outcome import FormedShape

SAME = 0.02  # mm: ends of a cut that are nearer are one


@dataclass(frozen=True)
class Girth:
    """The length of a cut through a shape, mm: along its triangles, a little short of its arcs.

    Attributes:
        middle: along the middle surface.
        inner, outer: on the faces. Of a ring all round they differ by 2π of half the thickness
            (the parallel curve of a convex one, Steiner 1840); else by the angle it goes through.
        gap: how far apart its two ends lie, mm; 0 where it closes.
        parts: how many lines the plane cuts; 1 is a girth.
    """

    middle: float
    inner: float
    outer: float
    gap: float
    parts: int

    @property
    def closes(self) -> bool:
        """Whether it goes all round."""
        return self.parts == 1 and self.gap == 0


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
    halves: list[float] = []
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
            halves += [panel.thickness / 2] * len(cut)
    start, stop = np.vstack(starts), np.vstack(stops)
    # A corner on the plane itself cuts off nothing.
    real = np.linalg.norm(stop - start, axis=1) > SAME
    start, stop, away = start[real], stop[real], np.array(halves)[real]
    if not len(start):
        return None
    lengths = np.linalg.norm(stop - start, axis=1)
    middle = float(lengths.sum())
    groups, odd, turn = _followed(start, stop, across)
    half = float(np.average(away, weights=lengths))
    gap = float(np.linalg.norm(odd[0] - odd[1])) if len(odd) == 2 else 0.0
    closed = groups == 1 and not len(odd)
    angle = 2 * math.pi if closed else min(abs(turn), 2 * math.pi)
    return Girth(middle, middle - angle * half, middle + angle * half, gap, groups)


def _followed(start: Array, stop: Array, across: Array) -> tuple[int, list[Array], float]:
    """Return how many lines pieces of a cut make, loose ends, and the turn of the longest line."""
    ends_of = np.vstack([start, stop])
    far = np.abs(ends_of[:, None] - ends_of[None]).max(2)
    number = np.argmax(far < 2 * SAME, axis=1)  # of the first end that is in the same place
    first, last = number[: len(start)].tolist(), number[len(start) :].tolist()
    after = {a: k for k, a in enumerate(first)}
    reached = set(last)
    loose = [k for k in range(len(first)) if first[k] not in reached]
    seen: set[int] = set()
    groups, longest, turn = 0, 0.0, 0.0
    for k in [*loose, *range(len(first))]:
        if k in seen:
            continue
        groups += 1
        line = [k]
        seen.add(k)
        at = after.get(last[k])
        while at is not None and at not in seen:
            line.append(at)
            seen.add(at)
            at = after.get(last[at])
        ways = stop[line] - start[line]
        length = float(np.linalg.norm(ways, axis=1).sum())
        if length > longest:
            longest, turn = length, _turn(ways, across)
    ends = [start[k] for k in loose]
    ends += [stop[k] for k in range(len(first)) if last[k] not in after]
    return groups, ends, turn


def _turn(ways: Array, across: Array) -> float:
    """Return the angle that a line in a plane turns through, radians.

    It goes on to its ends as it turns between the middles of its first and last stretch.
    """
    lengths = np.linalg.norm(ways, axis=1)
    one, two = ways[:-1], ways[1:]
    sine = np.cross(one, two) @ across
    inside = float(np.sum(np.arctan2(sine, (one * two).sum(1))))
    long = float(lengths.sum())
    between = long - (float(lengths[0]) + float(lengths[-1])) / 2
    return inside * long / between if between > 0 else 0.0
