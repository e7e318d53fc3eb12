"""What hands do on the table: a part settles where it is free, slides, or is pushed home."""

import math

import numpy as np

from ivory_quilt.core.geometry.centred import at_centre, centre_of
from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.check import violations_of
from ivory_quilt.core.nesting.construct import CLEAR, ROWS
from ivory_quilt.core.nesting.job import LayJob, Placement
from ivory_quilt.core.nesting.kernels.settle import nearest_free, push
from ivory_quilt.core.nesting.kernels.slices import best_in_region, nothing_known
from ivory_quilt.core.nesting.kernels.tables import Ints
from ivory_quilt.core.nesting.world import World
from ivory_quilt.core.record import replace

STEP = 2.0  # mm between the rows that are asked
NEAR, FAR = 60.0, 400.0  # mm that a part slides while it is carried, and settles when dropped
DIRECTIONS = {
    "left": (False, False),
    "right": (False, True),
    "down": (True, False),
    "up": (True, True),
}


class HandMove:
    """One part in hand, with all others where they lie. Made once, when the part is taken up."""

    def __init__(self, job: LayJob, placements: tuple[Placement, ...], index: int) -> None:
        """Take up `placements[index]` of a layout that holds; pins bind the engine, not hands."""
        self.job = replace(job, pieces=tuple(replace(p, fixed=()) for p in job.pieces))
        self.placements, self.index = placements, index
        self.world = World(self.job)
        self.world.adopt(placements)
        mine = placements[index]
        keys = [(k.spec.id, c) for k, c in zip(self.world.kinds, self.world.copies, strict=True)]
        self.item = keys.index((mine.piece, mine.copy))
        self.world.take_off(self.item)

    def asked(self, how: str, held: Placement) -> Placement | None:
        """Return what a hand is asked by name: "near", "dropped", "onto", or a way to push."""
        if how == "near":
            return self.near(held)
        if how == "dropped":
            return self.dropped(held)
        if how == "onto":
            return self.onto(held.sheet, held.sheet_copy)
        return self.pushed(held, how)

    def near(self, held: Placement, reach: float = NEAR) -> Placement | None:
        """Return the free place nearest to where the part is held, or None within `reach` mm.

        Its angle and side stay; a place that the exact check refuses is none.
        """
        found = self._region(held)
        if found is None:
            return None
        region, members, pose = found
        at = np.zeros(2)
        world = self.world
        away = nearest_free(
            self._edges,
            np.array(pose),
            np.array(world.regions[region].rect),
            world.slice_items,
            members,
            len(members),
            reach,
            STEP,
            self._clear(region),
            at,
        )
        if away >= 1e299:
            return None
        return self._checked(held, (float(at[0]), float(at[1]), *pose[2:]))

    def pushed(self, held: Placement, direction: str) -> Placement | None:
        """Return the part pushed "left", "right", "up" or "down" until it touches something."""
        found = self._region(held)
        if found is None:
            return None
        region, members, pose = found
        across, forwards = DIRECTIONS[direction]
        world = self.world
        by = push(
            self._edges,
            np.array(pose),
            np.array(world.regions[region].rect),
            world.slice_items,
            members,
            len(members),
            across,
            forwards,
            self._clear(region),
        )
        x, y, c, s, f = pose
        moved = (x, y + by, c, s, f) if across else (x + by, y, c, s, f)
        return self._checked(held, moved)

    def dropped(self, held: Placement) -> Placement | None:
        """Return the nearest free place for the part in any orientation that it may take."""
        best: tuple[float, Placement] | None = None
        kind = self.world.kinds[self.item]
        shape = kind.spec.shape
        centre = centre_of(shape, held.pose)
        for turned in self._orientations(held):
            found = self.near(replace(held, pose=at_centre(shape, turned, centre)), FAR)
            if found is None:
                continue
            away = math.dist(centre_of(shape, found.pose), centre)
            if best is None or away < best[0] - 1e-9:
                best = (away, found)
        return best[1] if best else None

    def onto(self, sheet: str, copy: int) -> Placement | None:
        """Return the part on another sheet, as far to the left as it fits there, or None."""
        region = self.world.region_index(sheet, copy)
        if region is None:
            return None
        world, members = self.world, self._members(region)
        rect = np.array(world.regions[region].rect)
        step = max((rect[3] - rect[1]) / ROWS, 1e-3)
        turns = world.kinds[self.item].orientations
        known = nothing_known(turns, rect, step, len(world.where))
        _, turn, x, y = best_in_region(
            self._edges,
            turns,
            rect,
            world.slice_items,
            members,
            len(members),
            step,
            0.05,
            self._clear(region),
            known,
            np.zeros(2, dtype=np.int64),
        )
        if turn < 0:
            return None
        held = replace(self.placements[self.index], sheet=sheet, sheet_copy=copy)
        c, s, f = (float(v) for v in turns[turn])
        return self._checked(held, (float(x), float(y), c, s, f))

    # Means

    @property
    def _edges(self) -> np.ndarray:
        world = self.world
        return world.own_edges[world.e0[self.item] : world.e0[self.item + 1]]

    def _region(
        self, held: Placement
    ) -> tuple[int, Ints, tuple[float, float, float, float, float]] | None:
        region = self.world.region_index(held.sheet, held.sheet_copy)
        if region is None:
            return None
        pose = self.world.engine_pose(self.world.kinds[self.item], held.pose)
        return region, self._members(region), pose

    def _members(self, region: int) -> Ints:
        hidden = self.world.kinds[self.item].spec.hidden
        members = self.world.members(region)
        return np.array(
            [j for j in members if not (hidden and self.world.is_ghost(j))], dtype=np.int64
        )

    def _clear(self, region: int) -> float:
        x0, y0, x1, y1 = self.world.regions[region].rect
        return CLEAR * max(x1 - x0, y1 - y0)

    def _orientations(self, held: Placement) -> list[Pose]:
        spec = self.world.kinds[self.item].spec
        angles = spec.rotations
        if angles is None:
            angles = tuple((held.pose.rotation + 30.0 * k) % 360.0 for k in range(12))
        flips = (
            (held.pose.mirrored, not held.pose.mirrored) if spec.mirror else (held.pose.mirrored,)
        )
        return [Pose(0.0, 0.0, a, f) for f in flips for a in angles]

    def _checked(
        self, held: Placement, pose: tuple[float, float, float, float, float]
    ) -> Placement | None:
        kind = self.world.kinds[self.item]
        placed = self.world.piece_pose(kind, np.array(pose))
        # The angle that was held, not one that looks alike.
        moved = replace(held, pose=placed)
        layout = (*self.placements[: self.index], moved, *self.placements[self.index + 1 :])
        return moved if not violations_of(self.job, layout, self.index) else None
