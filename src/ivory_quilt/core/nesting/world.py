"""The state of one search: every copy of every piece as an item in flat arrays."""

import math
from dataclasses import dataclass, replace

import numpy as np
import numpy.typing as npt
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Array, Pose, cos_sin
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec
from ivory_quilt.core.nesting.kernels.geometry import place_circles, place_edges
from ivory_quilt.core.nesting.kernels.slices import make_chains
from ivory_quilt.core.nesting.prepare import (
    Prepared,
    Region,
    inscribed_circles,
    polygon_edges,
    prepare_piece,
    prepare_region,
)

Ints = npt.NDArray[np.int64]
UNPLACED = -1
IDENTITY = (0.0, 0.0, 1.0, 0.0, 1.0)


@dataclass(frozen=True)
class Solution:
    """Poses and regions of all items at one moment; items beyond the pieces are frames."""

    poses: Array
    where: Ints


class Chains:
    """The rising chains of all placed items; item i's start at twice its first edge."""

    def __init__(self, edges: int, items: int) -> None:
        """Make room for `edges` edges of `items` items."""
        self.vertices = np.zeros((2 * edges, 2))
        self.heads: Ints = np.zeros(2 * edges + 1, dtype=np.int64)
        self.counts: Ints = np.zeros(items, dtype=np.int64)

    def grow(self, edges: int) -> None:
        """Make room for one more item."""
        self.vertices = np.vstack((self.vertices, np.zeros((2 * edges, 2))))
        self.heads = np.append(self.heads, np.zeros(2 * edges, dtype=np.int64))
        self.counts = np.append(self.counts, 0)

    def remake(self, i: int, edges: Array, e0: Ints, *, swap: bool) -> None:
        """Part item i's placed edges into chains."""
        at = 2 * e0[i]
        self.counts[i] = make_chains(
            edges, e0[i], e0[i + 1], swap, self.vertices, at, self.heads, at
        )


class World:
    """Items, regions and their arrays. One World serves one search thread.

    Items come in this order: all copies of all pieces, then the frames of opened irregular
    regions. `where[i]` is the id of item i's region, or UNPLACED.
    """

    def __init__(self, job: LayJob) -> None:
        self.job = job
        laid = [p for p in job.pieces if p.quantity]
        smallest = min((p.shape.area for p in laid), default=0.0)
        self.pieces = [prepare_piece(p, job.gap, smallest) for p in laid]
        self.kinds: list[Prepared] = []
        self.copies: list[int] = []
        for piece in self.pieces:
            self.kinds += [piece] * piece.spec.quantity
            self.copies += range(piece.spec.quantity)
        self.count = len(self.kinds)
        self.regions: list[Region] = []
        self._frames: list[Polygon] = []
        self._templates: dict[str, Region | None] = {}
        self.e0 = _offsets([len(k.edges) for k in self.kinds])
        self.c0 = _offsets([0] * self.count)
        self._has_circles = False
        self.own_edges = np.vstack([k.edges for k in self.kinds] or [np.zeros((0, 4))])
        self.own_circles = np.zeros((0, 3))
        self.t0 = _offsets([len(k.turns) for k in self.kinds])
        self.turns = np.vstack([k.turns for k in self.kinds] or [np.zeros((0, 2))])
        self.free = np.array([k.spec.rotations is None for k in self.kinds], dtype=np.int64)
        self.mirror = np.array([k.spec.mirror for k in self.kinds], dtype=np.int64)
        self.edges = np.zeros_like(self.own_edges)
        self.chains = Chains(self.own_edges.shape[0], self.count)
        self.chains_across = Chains(self.own_edges.shape[0], self.count)
        self.circles = np.zeros_like(self.own_circles)
        self.boxes = np.zeros((self.count, 4))
        self.poses = np.tile(np.array(IDENTITY), (self.count, 1))
        self.where: Ints = np.full(self.count, UNPLACED, dtype=np.int64)
        self.pinned = np.zeros(self.count, dtype=bool)
        self._pin()

    # Regions

    def region_index(self, stock_id: str, copy: int) -> int | None:
        """Return the id of one sheet or roll, opened if need be; None when it has no room."""
        for k, region in enumerate(self.regions):
            if region.stock.id == stock_id and region.copy == copy:
                return k
        if stock_id not in self._templates:
            stock = self.job.stock[stock_id]
            self._templates[stock_id] = prepare_region(stock, self.job.gap)
        template = self._templates[stock_id]
        if template is None:
            return None
        self.regions.append(replace(template, copy=copy))
        for part in template.frame:
            self._add_frame(part, len(self.regions) - 1)
        return len(self.regions) - 1

    def _add_frame(self, polygon: Polygon, region: int) -> None:
        """Add what is not foam as a fixed item."""
        frame = polygon_edges(polygon)
        circles = inscribed_circles(polygon, 48) if self._has_circles else np.zeros((0, 3))
        self._frames.append(polygon)
        self.own_edges = np.vstack((self.own_edges, frame))
        self.own_circles = np.vstack((self.own_circles, circles))
        self.edges = np.vstack((self.edges, frame))
        self.circles = np.vstack((self.circles, circles))
        self.e0 = np.append(self.e0, self.e0[-1] + len(frame))
        self.c0 = np.append(self.c0, self.c0[-1] + len(circles))
        self.boxes = np.vstack((self.boxes, np.zeros(4)))
        self.poses = np.vstack((self.poses, IDENTITY))
        self.where = np.append(self.where, region)
        self.turns = np.vstack((self.turns, [[1.0, 0.0]]))
        self.t0 = np.append(self.t0, self.t0[-1] + 1)
        self.free = np.append(self.free, 0)
        self.mirror = np.append(self.mirror, 0)
        self.chains.grow(len(frame))
        self.chains_across.grow(len(frame))
        self.set_pose(len(self.where) - 1, IDENTITY, region)

    def add_circles(self) -> None:
        """Inscribe circles in all items; only the search needs them, the first layout does not."""
        by_kind = {id(k): inscribed_circles(k.grown) for k in self.pieces}
        all_circles = [by_kind[id(k)] for k in self.kinds]
        all_circles += [inscribed_circles(f, 48) for f in self._frames]
        self.own_circles = np.vstack(all_circles or [np.zeros((0, 3))])
        self.c0 = _offsets([len(c) for c in all_circles])
        self.circles = np.zeros_like(self.own_circles)
        self._has_circles = True
        for i in np.flatnonzero(self.where != UNPLACED):
            self.set_pose(int(i), tuple(self.poses[i]), int(self.where[i]))

    @property
    def slice_items(self) -> tuple[Array | Ints, ...]:
        """The placed items as `best_in_region` takes them."""
        up, across = self.chains, self.chains_across
        return (
            self.edges,
            self.e0,
            self.boxes,
            up.vertices,
            up.heads,
            up.counts,
            across.vertices,
            across.heads,
            across.counts,
        )

    def rects(self) -> Array:
        """Return all regions' boxes, (r, 4)."""
        return np.array([r.rect for r in self.regions], dtype=np.float64).reshape(-1, 4)

    # Items

    def _pin(self) -> None:
        for i, kind in enumerate(self.kinds):
            for fixed in kind.spec.fixed:
                if fixed.copy != self.copies[i]:
                    continue
                region = self.region_index(fixed.sheet, fixed.sheet_copy)
                if region is not None:
                    self.set_pose(i, self._engine_pose(kind, fixed.pose), region)
                    self.pinned[i] = True

    def adopt(self, placements: tuple[Placement, ...]) -> bool:
        """Place every item as given; False when one has no place there (its sheet has no room)."""
        at = {(p.piece, p.copy): p for p in placements}
        for i, kind in enumerate(self.kinds):
            placement = at.get((kind.spec.id, self.copies[i]))
            if placement is None:
                return False
            if self.pinned[i]:
                continue
            region = self.region_index(placement.sheet, placement.sheet_copy)
            if region is None:
                return False
            self.set_pose(i, self._engine_pose(kind, placement.pose), region)
        return True

    @staticmethod
    def _engine_pose(kind: Prepared, pose: Pose) -> tuple[float, float, float, float, float]:
        a, b, c, d = pose.matrix
        cx, cy = kind.centre
        cos, sin = cos_sin(pose.rotation)
        x, y = a * cx + b * cy + pose.x, c * cx + d * cy + pose.y
        return (x, y, cos, sin, -1.0 if pose.mirrored else 1.0)

    def set_pose(self, i: int, pose: tuple[float, ...], region: int) -> None:
        """Place item i."""
        self.poses[i] = pose
        self.where[i] = region
        place_edges(
            self.own_edges,
            self.e0[i],
            self.e0[i + 1],
            self.poses[i],
            self.edges,
            self.e0[i],
            self.boxes[i],
        )
        place_circles(
            self.own_circles, self.c0[i], self.c0[i + 1], self.poses[i], self.circles, self.c0[i]
        )
        self.chains.remake(i, self.edges, self.e0, swap=False)
        self.chains_across.remake(i, self.edges, self.e0, swap=True)

    def clear(self) -> None:
        """Take all unpinned items off their sheets."""
        loose = np.flatnonzero(~self.pinned)
        self.where[loose] = UNPLACED

    def members(self, region: int) -> Ints:
        """Return the ids of all items in a region, its frame too."""
        return np.flatnonzero(self.where == region)

    def items_in(self, region: int) -> Ints:
        """Return the ids of the pieces' copies in a region."""
        found = self.members(region)
        return found[found < self.count]

    def snapshot(self) -> Solution:
        """Return a copy of the present poses."""
        return Solution(self.poses.copy(), self.where.copy())

    def restore(self, solution: Solution) -> None:
        """Go back to an earlier moment; regions opened since stay open and empty."""
        for i in range(self.count):
            if solution.where[i] == UNPLACED:
                self.where[i] = UNPLACED
            else:
                self.set_pose(i, tuple(solution.poses[i]), int(solution.where[i]))

    def used_regions(self) -> list[int]:
        """Return the ids of regions that hold at least one piece."""
        return sorted({int(r) for r in self.where[: self.count] if r != UNPLACED})

    def extent(self, region: int) -> float:
        """Return how far along x the pieces in a region reach, from the region's left edge."""
        items = self.items_in(region)
        if len(items) == 0:
            return 0.0
        return float(self.boxes[items, 2].max()) - self.regions[region].rect[0]

    def placements(self) -> tuple[Placement, ...]:
        """Return the present poses as placements of the original pieces."""
        found = []
        for i, kind in enumerate(self.kinds):
            if self.where[i] == UNPLACED:
                continue
            region = self.regions[self.where[i]]
            if self.pinned[i]:
                pose = next(f.pose for f in kind.spec.fixed if f.copy == self.copies[i])
            else:
                pose = self._piece_pose(kind, self.poses[i])
            found.append(
                Placement(kind.spec.id, self.copies[i], region.stock.id, region.copy, pose)
            )
        return tuple(found)

    @staticmethod
    def _piece_pose(kind: Prepared, pose: Array) -> Pose:
        x, y, cos, sin, flip = (float(v) for v in pose)
        angle = math.degrees(math.atan2(sin, cos)) % 360.0
        if kind.spec.rotations is not None:
            angle = min(kind.spec.rotations, key=lambda r: abs((r - angle + 180.0) % 360.0 - 180.0))
        turned = Pose(0.0, 0.0, angle, flip < 0)
        a, b, c, d = turned.matrix
        cx, cy = kind.centre
        return Pose(x - (a * cx + b * cy), y - (c * cx + d * cy), angle, flip < 0)

    def used_length(self, region: int) -> float:
        """Return the length that must be cut off a roll for what lies on it."""
        stock = self.regions[region].stock
        assert isinstance(stock, RollSpec)
        # The grown boxes reach half a gap past the parts.
        reach = self.regions[region].rect[0] + self.extent(region) - self.job.gap / 2
        return min(stock.max_length, max(0.0, reach + stock.margin))


def _offsets(lengths: list[int]) -> Ints:
    return np.concatenate(([0], np.cumsum(lengths, dtype=np.int64))).astype(np.int64)
