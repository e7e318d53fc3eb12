"""The arrays that the search's kernels work on, named.

Outlines and circles are kept ready turned: one row of offsets per orientation of a kind of piece,
so that a candidate place costs additions only. Free kinds have one row per flip; turning them
writes to the scratch row, the last.
"""

from typing import NamedTuple

import numpy as np
import numpy.typing as npt

Floats = npt.NDArray[np.float64]
Singles = npt.NDArray[np.float32]
Ints = npt.NDArray[np.int64]


LANES = 16
"""Circles come in blocks of this many, so that a block fills whole registers."""

# Columns, by what is counted. They are constants to the compiler.
X, Y, COS, SIN, FLIP = range(5)  # of a pose
SPIN_COS, SPIN_SIN, SPIN_FLIP = range(3)  # of an orientation
X1, Y1, X2, Y2 = range(4)  # of an edge
LEFT, FOOT, RIGHT, TOP = range(4)  # of a box, a sheet or a region
HIGH_X, HIGH_Y, HIGH_SUM, HIGH_DIFFERENCE, LOW_X, LOW_Y, LOW_SUM, LOW_DIFFERENCE = range(8)
"""Of a box in four directions: greatest x, y, x+y, x−y, then the least of each."""


class Shapes(NamedTuple):
    """Oriented outlines about their own centres; o numbers orientations, k kinds, i items.

    Attributes:
        edges: (4, e) rows x1, y1, x2, y2; start, stop: offsets of orientation o.
        coarse: (b, 4, LANES) single precision: middle x and y and half the width and height of
            every edge's box; bstart, bstop: blocks of orientation o.
        circles: (b, 3, LANES) single precision: x, y and radius of circles inside, padded with
            circles that reach nothing; cstart, cstop: blocks of orientation o.
        boxes: (o, 8) greatest x, y, x+y, x−y, then the least of each.
        slants: (o, 8) the same along lines a quarter of a right angle off the axes.
        spin: (o, 3) cos, sin, flip.
        kind: (i,) kind of item i.
        first: (k + 1,) first orientation of kind k.
        free: (k,) 1 where any angle is allowed, 2 where flipping is as well.
        weight: (k,) the fourth root of the hull's area: large shapes' overlaps count more.
        size: (k, 2) the least and the greatest side of the box.
    """

    edges: Floats
    start: Ints
    stop: Ints
    coarse: Singles
    bstart: Ints
    bstop: Ints
    circles: Singles
    cstart: Ints
    cstop: Ints
    boxes: Floats
    slants: Floats
    spin: Floats
    kind: Ints
    first: Ints
    free: Ints
    weight: Floats
    size: Floats


class PlacedTable(NamedTuple):
    """Where items lie now; item i's edges and circles start at its own offsets.

    Attributes:
        poses: (i, 5) x, y, cos, sin, flip.
        turn: (i,) orientation, for kinds that are not free.
        where: (i,) region.
        home: (i,) region that an item must stay in, −1 for any.
        boxes: (8, i) as in `Shapes`, a row for each side; slants: (i, 8) as there.
        ghost: (i,) 1 for a marked flaw; tolerant: (i,) 1 for an item that may cover it.
        pairs: (i, i) overlap of two items, in single precision.
        weights: (i, i) what the search has learned of it.
    """

    edges: Floats
    start: Ints
    stop: Ints
    coarse: Singles
    bstart: Ints
    bstop: Ints
    circles: Singles
    cstart: Ints
    cstop: Ints
    poses: Floats
    turn: Ints
    where: Ints
    home: Ints
    boxes: Floats
    slants: Floats
    ghost: Ints
    tolerant: Ints
    pairs: Singles
    weights: Singles


class Scratch(NamedTuple):
    """Room that the kernels work in, one for each thread.

    Attributes:
        lanes: (LANES,) sums of circle depths.
        gaps: (i,) how far boxes stand apart; hits: (i,) ids whose boxes meet;
            sure: (i,) those whose circles overlap, least: (i,) what that comes to at least.
        near: (b,) which edges of an item's blocks lie where two boxes meet, as bits.
        top: (3, 8) the best candidates: x, y, cos, sin, flip, orientation, region, value.
        order: (i,) movable items in the order of a round.
        spot: (2,) a place found; looked: (1,) how many candidates were looked at.
    """

    lanes: Singles
    gaps: Floats
    hits: Ints
    sure: Ints
    least: Floats
    near: Ints
    top: Floats
    order: Ints
    spot: Floats
    looked: Ints


def make_scratch(placed: PlacedTable) -> Scratch:
    """Return room enough for the items of `placed`."""
    n = len(placed.where)
    longest = int((placed.bstop - placed.bstart).max(initial=1))
    return Scratch(
        lanes=np.zeros(LANES, dtype=np.float32),
        gaps=np.zeros(n),
        hits=np.zeros(n + 1, dtype=np.int64),
        sure=np.zeros(n + 1, dtype=np.int64),
        least=np.zeros(n + 1),
        near=np.zeros(longest, dtype=np.int64),
        top=np.zeros((3, 8)),
        order=np.zeros(n, dtype=np.int64),
        spot=np.zeros(2),
        looked=np.zeros(1, dtype=np.int64),
    )
