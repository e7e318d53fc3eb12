"""Another start for a walk that is stuck: a layout it met, with something of it in another place.

What lies well together is worth keeping: a whole stretch of a region is turned about, or two
stretches change places, and only the seams must be found anew. Or two large items are swapped.
"""

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.field import Field
from ivory_quilt.core.nesting.kernels.tables import Ints, Shapes
from ivory_quilt.core.nesting.world import Solution

RECUT = 0.7  # share of disturbances that move whole stretches
TO_THE_END = 0.3  # share of stretches that reach to an end of the region
LARGE = 0.75  # share of all hull area that the items which are swapped make up


def disturbed(
    solution: Solution,
    field: Field,
    movable: Ints,
    rects: Array,
    allowed: Ints,
    random: np.random.Generator,
) -> Solution:
    """Return a layout that differs from `solution`; items may overlap and stand out in it.

    Args:
        solution: poses (i, 5) and regions (i,) of all items.
        field: the tables that say how items may be turned.
        movable: ids of items that may be moved.
        rects: (r, 4) boxes of all regions; allowed: ids of those to use.
        random: where chance comes from.
    """
    if random.random() < RECUT:
        region = int(random.choice(allowed))
        on = movable[solution.where[movable] == region]
        return recut(solution, field, on, rects[region], random)
    return swapped(solution, field.shapes, movable, random)


def recut(
    solution: Solution, field: Field, on: Ints, rect: Array, random: np.random.Generator
) -> Solution:
    """Return the layout with a stretch of one region turned about, or two stretches exchanged.

    Stretches run along the longer side of `rect`, the box of the region that items `on` lie in.
    """
    x0, y0, x1, y1 = rect
    axis = 0 if x1 - x0 >= y1 - y0 else 1
    low, high = rect[axis], rect[axis + 2]
    cuts = np.sort(random.uniform(low, high, 3))
    if random.random() < TO_THE_END:
        cuts[0] = low
    if random.random() < TO_THE_END:
        cuts[2] = high
    poses = solution.poses.copy()
    at = poses[on, axis]
    if random.random() < 0.5:
        kinds = field.shapes.kind[on]
        part = on[(at >= cuts[0]) & (at < cuts[2]) & field.half_turns[kinds]]
        poses[part, axis] = cuts[0] + cuts[2] - poses[part, axis]
        across = rect[1 - axis] + rect[3 - axis]
        poses[part, 1 - axis] = across - poses[part, 1 - axis]
        other = [i for i in part if _looks_other(field.shapes, int(field.shapes.kind[i]))]
        poses[other, 2:4] *= -1.0
    else:
        first = on[(at >= cuts[0]) & (at < cuts[1])]
        second = on[(at >= cuts[1]) & (at < cuts[2])]
        poses[first, axis] += cuts[2] - cuts[1]
        poses[second, axis] -= cuts[1] - cuts[0]
    return Solution(poses, solution.where.copy())


def swapped(
    solution: Solution, shapes: Shapes, movable: Ints, random: np.random.Generator
) -> Solution:
    """Return the layout with two of the larger items in each other's place."""
    poses, where = solution.poses.copy(), solution.where.copy()
    order = movable[np.argsort(-shapes.weight[shapes.kind[movable]], kind="stable")]
    total = np.cumsum(shapes.weight[shapes.kind[order]] ** 4)
    large = order[: max(2, int(np.searchsorted(total, LARGE * total[-1])) + 1)]
    if len(large) < 2:
        return solution
    a, b = (int(v) for v in random.choice(large, 2, replace=False))
    poses[[a, b], :2] = poses[[b, a], :2]
    where[[a, b]] = where[[b, a]]
    return Solution(poses, where)


def _looks_other(shapes: Shapes, kind: int) -> bool:
    """Return whether half a turn is an orientation of its own, not one that looks alike."""
    if shapes.free[kind]:
        return True
    spin = shapes.spin[shapes.first[kind] : shapes.first[kind + 1]]
    away = np.abs(spin[:, None] - (spin * np.array([-1.0, -1.0, 1.0]))[None]).max(axis=2)
    return bool((away.min(axis=0) < 1e-9).all())
