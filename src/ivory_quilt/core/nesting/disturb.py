"""Another start for a walk that is stuck: a layout it met, with something of it in another place.

Near by, two items are turned about where they lie, or two short stretches of a region change
places; further off, a whole stretch is turned about, so that only its seams must be found anew, or
two large items are swapped. The shares follow from how many walks each brought to their goal, round
for round.
"""

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.field import OverlapField
from ivory_quilt.core.nesting.kernels.tables import Ints, Shapes
from ivory_quilt.core.nesting.world import Solution

ABOUT, EXCHANGED = 0.55, 0.3
"""Shares near by: two items turned about, two stretches exchanged; else as further off."""
STRETCH = 0.5  # share further off: a stretch turned about; else two items swapped
TO_THE_END = 0.3  # share of stretches that reach to an end of the region
SHORT = (0.05, 0.2)  # share of the region that the first of two stretches takes
BOTH = (0.2, 0.4)  # and what both take
LARGE = 0.75  # share of all hull area that the items which are swapped make up


def disturbed(
    solution: Solution,
    field: OverlapField,
    movable: Ints,
    rects: Array,
    allowed: Ints,
    random: np.random.Generator,
    *,
    far: bool,
) -> Solution:
    """Return a layout that differs from `solution`; items may overlap and stand out in it.

    Args:
        solution: poses (i, 5) and regions (i,) of all items.
        field: the tables that say how items may be turned.
        movable: ids of items that may be moved.
        rects: (r, 4) boxes of all regions; allowed: ids of those to use.
        random: where chance comes from.
        far: whether to go further off.
    """
    region = int(random.choice(allowed))
    on = movable[solution.where[movable] == region]
    draw = 1.0 if far else random.random()
    if draw < ABOUT:
        return turned_about(solution, field, movable, random)
    if draw < ABOUT + EXCHANGED:
        return exchanged(solution, on, rects[region], random)
    if random.random() < STRETCH:
        return stretch_turned(solution, field, on, rects[region], random)
    return swapped(solution, field.shapes, movable, random)


def turned_about(
    solution: Solution, field: OverlapField, movable: Ints, random: np.random.Generator
) -> Solution:
    """Return the layout with one or two items half a turn further, each where it lies."""
    shapes = field.shapes
    may = _look_other(shapes, movable[field.half_turns[shapes.kind[movable]]])
    if len(may) == 0:
        return swapped(solution, shapes, movable, random)
    poses = solution.poses.copy()
    poses[random.choice(may, min(2, len(may)), replace=False), 2:4] *= -1.0
    return Solution(poses, solution.where.copy())


def exchanged(solution: Solution, on: Ints, rect: Array, random: np.random.Generator) -> Solution:
    """Return the layout with two short stretches of one region in each other's place.

    Stretches run along the longer side of `rect`, the box of the region that items `on` lie in.
    """
    axis, low, high = _along(rect)
    first = float(random.uniform(low, high))
    middle, last = first + (high - low) * np.array([random.uniform(*SHORT), random.uniform(*BOTH)])
    poses = solution.poses.copy()
    at = poses[on, axis]
    poses[on[(at >= first) & (at < middle)], axis] += last - middle
    poses[on[(at >= middle) & (at < last)], axis] -= middle - first
    return Solution(poses, solution.where.copy())


def stretch_turned(
    solution: Solution, field: OverlapField, on: Ints, rect: Array, random: np.random.Generator
) -> Solution:
    """Return the layout with a stretch of one region turned about; see `exchanged`."""
    axis, low, high = _along(rect)
    first, last = np.sort(random.uniform(low, high, 2))
    if random.random() < TO_THE_END:
        first = low
    if random.random() < TO_THE_END:
        last = high
    poses = solution.poses.copy()
    at = poses[on, axis]
    kinds = field.shapes.kind[on]
    part = on[(at >= first) & (at < last) & field.half_turns[kinds]]
    poses[part, axis] = first + last - poses[part, axis]
    across = rect[1 - axis] + rect[3 - axis]
    poses[part, 1 - axis] = across - poses[part, 1 - axis]
    poses[_look_other(field.shapes, part), 2:4] *= -1.0
    return Solution(poses, solution.where.copy())


def _along(rect: Array) -> tuple[int, float, float]:
    """Return the axis of a box's longer side, and where that begins and ends."""
    axis = 0 if rect[2] - rect[0] >= rect[3] - rect[1] else 1
    return axis, float(rect[axis]), float(rect[axis + 2])


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


def _look_other(shapes: Shapes, items: Ints) -> Ints:
    """Return those items that do not look alike turned about."""
    kinds = np.unique(shapes.kind[items])
    other = [k for k in kinds if _looks_other(shapes, int(k))]
    return items[np.isin(shapes.kind[items], other)]


def _looks_other(shapes: Shapes, kind: int) -> bool:
    """Return whether half a turn is an orientation of its own, not one that looks alike."""
    if shapes.free[kind]:
        return True
    spin = shapes.spin[shapes.first[kind] : shapes.first[kind + 1]]
    away = np.abs(spin[:, None] - (spin * np.array([-1.0, -1.0, 1.0]))[None]).max(axis=2)
    return bool((away.min(axis=0) < 1e-9).all())
