"""The state of one search: every copy of every piece as an item in flat arrays."""

import math
from collections.abc import Callable, Iterable
from decimal import Decimal
from functools import cached_property

import numpy as np
import numpy.typing as npt
from shapely import Polygon

from ivory_quilt.core.geometry.shape import Array, Pose, cos_sin
from ivory_quilt.core.nesting.job import LayJob, Placement, RollSpec, roll_cost
from ivory_quilt.core.nesting.kernels.geometry import place_edges
from ivory_quilt.core.nesting.kernels.slices import make_chains
from ivory_quilt.core.nesting.prepare import (
    TOUCH,
    Prepared,
    Region,
    polygon_edges,
    prepare_piece,
    prepare_region,
)
from ivory_quilt.core.record import Struct, replace

Ints = npt.NDArray[np.int64]
UNPLACED = -1
IDENTITY = (0.0, 0.0, 1.0, 0.0, 1.0)


class Solution(Struct, frozen=True):
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
    """Items, regions and their arrays. One World serves one walker.

    Items come in this order: all copies of all pieces, then the frames of opened irregular
    regions. `where[i]` is the id of item i's region, or UNPLACED.
    """

    def __init__(self, job: LayJob) -> None:
        """Take up a job; only its pinned pieces lie yet."""
        self.job = job
        laid = [p for p in job.pieces if p.quantity]
        smallest = min((p.shape.area for p in laid), default=0.0)
        self.pieces = [prepare_piece(p, job.gap, smallest) for p in laid]
        self.kinds: list[Prepared] = []
        self.copies: list[int] = []
        self._numbers: list[int] = []
        for number, piece in enumerate(self.pieces):
            self._numbers += [number] * piece.spec.quantity
            self.kinds += [piece] * piece.spec.quantity
            self.copies += range(piece.spec.quantity)
        self.count = len(self.kinds)
        self.values = np.array([k.grown_area * k.spec.worth for k in self.kinds])
        """(i,) what it is worth to lay an item: its grown area × its piece's worth."""
        self.regions: list[Region] = []
        self.frames: list[Polygon] = []  # what is not foam, as fixed items after the pieces
        self.ghosts: list[bool] = []  # which of the frames are flaws, that hidden parts may cover
        self.reach = job.gap / 2 - TOUCH  # that parts were grown by
        self._templates: dict[str, Region | None] = {}
        outlines = [k.edges for k in self.kinds]
        self.e0 = offsets([len(e) for e in outlines])
        self.own_edges = np.vstack(outlines or [np.zeros((0, 4))])
        self.edges = np.zeros_like(self.own_edges)
        self.chains = Chains(self.own_edges.shape[0], self.count)
        self.chains_across = Chains(self.own_edges.shape[0], self.count)
        self.boxes = np.zeros((self.count, 4))
        self.poses = np.tile(np.array(IDENTITY), (self.count, 1))
        self.where: Ints = np.full(self.count, UNPLACED, dtype=np.int64)
        self.pinned = np.zeros(self.count, dtype=bool)
        self._pin()

    @cached_property
    def groups(self) -> dict[str, tuple[int, ...]]:
        """The items of each group that has more than one."""
        found: dict[str, list[int]] = {}
        for i, kind in enumerate(self.kinds):
            if kind.spec.group is not None:
                found.setdefault(kind.spec.group, []).append(i)
        return {name: tuple(m) for name, m in found.items() if len(m) > 1}

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
        for flaw in template.flaws:
            self._add_frame(flaw, len(self.regions) - 1, ghost=True)
        return len(self.regions) - 1

    def _add_frame(self, polygon: Polygon, region: int, *, ghost: bool = False) -> None:
        """Add what is not foam, or not fit to show, as a fixed item."""
        self.ghosts.append(ghost)
        frame = polygon_edges(polygon)
        self.frames.append(polygon)
        self.own_edges = np.vstack((self.own_edges, frame))
        self.edges = np.vstack((self.edges, frame))
        self.e0 = np.append(self.e0, self.e0[-1] + len(frame))
        self.boxes = np.vstack((self.boxes, np.zeros(4)))
        self.poses = np.vstack((self.poses, IDENTITY))
        self.where = np.append(self.where, region)
        self.chains.grow(len(frame))
        self.chains_across.grow(len(frame))
        self.set_pose(len(self.where) - 1, IDENTITY, region)

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

    def piece_number(self, i: int) -> int:
        """Return which of `pieces` item i is a copy of."""
        return self._numbers[i]

    def may_lie(self, kind: Prepared, stock_id: str) -> bool:
        """Return whether a part fits a sheet or roll by the size of its boxes alone."""
        index = self.region_index(stock_id, 0)
        if index is None:
            return False
        x0, y0, x1, y1 = self.regions[index].rect
        if kind.grown_area > self.regions[index].area * (1 + 1e-9):
            return False
        sizes = kind.box_sizes
        return bool(((sizes[:, 0] <= x1 - x0) & (sizes[:, 1] <= y1 - y0)).any())

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
                    self.set_pose(i, self.engine_pose(kind, fixed.pose), region)
                    self.pinned[i] = True

    def adopt(self, placements: tuple[Placement, ...]) -> bool:
        """Place items as given; False when one is not, or its sheet has no room at all."""
        at = {(p.piece, p.copy): p for p in placements}
        whole = True
        for i, kind in enumerate(self.kinds):
            placement = at.get((kind.spec.id, self.copies[i]))
            region = None
            if placement is not None:
                region = self.region_index(placement.sheet, placement.sheet_copy)
            if placement is None or region is None:
                whole = False
            elif not self.pinned[i]:
                self.set_pose(i, self.engine_pose(kind, placement.pose), region)
        return whole

    @staticmethod
    def engine_pose(kind: Prepared, pose: Pose) -> tuple[float, float, float, float, float]:
        """Return a piece's pose as that of its centre: x, y, cos, sin, flip."""
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
        self.chains.remake(i, self.edges, self.e0, swap=False)
        self.chains_across.remake(i, self.edges, self.e0, swap=True)

    def clear(self) -> None:
        """Take all unpinned items off their sheets."""
        loose = np.flatnonzero(~self.pinned)
        self.where[loose] = UNPLACED

    def is_ghost(self, j: int) -> bool:
        """Return whether item j is a marked flaw."""
        return j >= self.count and self.ghosts[j - self.count]

    def take_off(self, i: int) -> None:
        """Take one item off its sheet."""
        self.where[i] = UNPLACED

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
                pose = self.piece_pose(kind, self.poses[i])
            found.append(
                Placement(kind.spec.id, self.copies[i], region.stock.id, region.copy, pose)
            )
        return tuple(found)

    @staticmethod
    def piece_pose(kind: Prepared, pose: Array) -> Pose:
        """Return the pose of a centre (x, y, cos, sin, flip) as that of the piece."""
        x, y, cos, sin, flip = (float(v) for v in pose)
        angle = math.degrees(math.atan2(sin, cos)) % 360.0
        if kind.spec.rotations is not None:
            angle = min(kind.spec.rotations, key=lambda r: abs((r - angle + 180.0) % 360.0 - 180.0))
        turned = Pose(0.0, 0.0, angle, flip < 0)
        a, b, c, d = turned.matrix
        cx, cy = kind.centre
        return Pose(x - (a * cx + b * cy), y - (c * cx + d * cy), angle, flip < 0)

    def bill(self, where: Ints, extent: Callable[[int], float]) -> tuple[float, Decimal, float]:
        """Return (grown area × worth left over, cost, foam taken) of parts in regions `where`.

        `extent` tells how far the parts in a roll's region reach from its left edge.
        """
        where = where[: self.count]
        loose = float(self.values[where == UNPLACED].sum())
        cost, foam = Decimal(0), 0.0
        for number in regions_in(where):
            region = self.regions[number]
            stock = region.stock
            if isinstance(stock, RollSpec):
                # The grown boxes reach half a gap past the parts.
                length = stock.length_for(region.rect[0] + extent(number) - self.reach)
                cost += roll_cost(stock.cost_per_mm, length)
                foam += length * stock.width
            else:
                cost += stock.cost
                foam += stock.shape.area
        return loose, cost, foam


def regions_in(where: Ints) -> list[int]:
    """Return the ids of regions that hold at least one of the items."""
    return [int(r) for r in np.unique(where) if r != UNPLACED]


def offsets(lengths: Iterable[int]) -> Ints:
    """Return where runs of such lengths begin, laid one after another, and where the last ends."""
    return np.concatenate(([0], np.cumsum(list(lengths), dtype=np.int64))).astype(np.int64)
