"""Parts of one group lie side by side, so that they are cut at once: which do not, and a way to it.

Poses are the search's: x, y of a part's centre, cos, sin, flip; `(n, 5)`.
"""

import math

import numpy as np
import shapely
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World
from ivory_quilt.core.pattern.linking import leaders

NEAR = 20.0  # mm beyond the gap: a knife goes around both in one go; from memory, no source
TRIES = 32  # places beside the others that are looked at for one part
HALVINGS = 12
TASTE = 0.25  # share that chance adds to how much room a place takes, so that tries differ
SNUG = 0.01  # mm between parts that are put beside each other, for what rounding loses


def outline_at(world: World, i: int, pose: Array) -> Polygon:
    """Return the grown outline of item i at a pose."""
    x, y, c, s, f = pose.tolist()

    def put(points: Array) -> Array:
        px, py = points[:, 0] * f, points[:, 1]
        return np.column_stack([x + c * px - s * py, y + s * px + c * py])

    return shapely.transform(world.kinds[i].grown, put)


def _side_by_side(world: World, poses: Array, there: list[int]) -> list[list[int]]:
    """Return parts on one sheet as the lots that lie side by side."""
    shapes = {i: outline_at(world, i, poses[i]) for i in there}
    links = [
        (str(a), str(b))
        for n, a in enumerate(there)
        for b in there[n + 1 :]
        if shapely.dwithin(shapes[a], shapes[b], NEAR)
    ]
    leader = leaders([str(i) for i in there], links)
    found: dict[str, list[int]] = {}
    for i in there:
        found.setdefault(leader[str(i)], []).append(i)
    return list(found.values())


def apart(world: World, poses: Array, where: Ints) -> int:
    """Return into how many lots more than one on each sheet groups are parted."""
    return sum(len(lots) - 1 for lots in _lots(world, poses, where))


def _lots(world: World, poses: Array, where: Ints) -> list[list[list[int]]]:
    """Return the lots of each group on each sheet."""
    found = []
    for members in world.groups.values():
        for region in {int(where[i]) for i in members} - {UNPLACED}:
            here = [i for i in members if where[i] == region]
            if len(here) > 1:
                found.append(_side_by_side(world, poses, here))
    return found


def side_by_side(
    world: World, best: Solution, rects: Array, random: np.random.Generator
) -> tuple[Solution, list[int]] | None:
    """Return a layout with one group's parts side by side, over whatever lies there, and them.

    None where no group is parted, or nothing of it can be moved beside the rest.
    """
    parted = [lots for lots in _lots(world, best.poses, best.where) if len(lots) > 1]
    if not parted:
        return None
    lots = parted[int(random.integers(len(parted)))]
    pinned = [lot for lot in lots if any(world.pinned[i] for i in lot)]
    stays = pinned[0] if pinned else lots[int(random.integers(len(lots)))]
    start = Solution(best.poses.copy(), best.where.copy())
    held = list(stays)
    for i in (i for lot in lots if lot is not stays for i in lot):
        if world.pinned[i]:
            continue
        pose = _beside(world, start, i, held, rects, random)
        if pose is None:
            return None
        start.poses[i] = pose
        held.append(i)
    return (start, held) if len(held) > len(stays) else None


def _beside(
    world: World,
    start: Solution,
    i: int,
    others: list[int],
    rects: Array,
    random: np.random.Generator,
) -> Array | None:
    """Return a pose of item i close to others on their sheet, None where the sheet has no room."""
    there = shapely.union_all([outline_at(world, k, start.poses[k]) for k in others])
    middle = np.array(there.centroid.coords[0])
    x0, y0, x1, y1 = rects[start.where[others[0]]]
    own = world.kinds[i].orientations
    reach = world.kinds[i].size + float(np.hypot(*np.subtract(there.bounds[2:], there.bounds[:2])))
    best: tuple[float, Array] | None = None
    for _ in range(TRIES):
        spin = own[int(random.integers(len(own)))]
        if world.kinds[i].spec.rotations is None:  # any angle: as the others lie, or across
            c, s = start.poses[others[0], 2:4]
            turn = math.atan2(s, c) + math.pi / 2 * int(random.integers(4))
            spin = np.array([math.cos(turn), math.sin(turn), spin[2]])
        angle = random.uniform(0, 2 * math.pi)
        way = np.array([math.cos(angle), math.sin(angle)])
        shape = outline_at(world, i, np.array([0.0, 0.0, *spin]))
        low, high = 0.0, reach
        for _ in range(HALVINGS):
            far = (low + high) / 2
            meets = shapely.dwithin(_moved(shape, middle + far * way), there, SNUG)
            low, high = (far, high) if meets else (low, far)
        place = middle + high * way
        a0, b0, a1, b1 = _moved(shape, place).bounds
        if a0 < x0 or b0 < y0 or a1 > x1 or b1 > y1:
            continue
        wide = max(a1, there.bounds[2]) - min(a0, there.bounds[0])
        tall = max(b1, there.bounds[3]) - min(b0, there.bounds[1])
        room = wide * tall * (1 + TASTE * random.random())
        if best is None or room < best[0]:
            best = (room, np.array([*place, *spin]))
    return None if best is None else best[1]


def _moved(shape: Polygon, by: Array) -> Polygon:
    return shapely.transform(shape, lambda points: points + by)
