"""A world as the search's kernels see it: every item placed, overlaps allowed."""

import numpy as np

from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.nesting.kernels.placing import put, turn_into_scratch
from ivory_quilt.core.nesting.kernels.tables import LANES, Ints, PlacedTable, Shapes, Singles
from ivory_quilt.core.nesting.prepare import inscribed_circles, polygon_edges
from ivory_quilt.core.nesting.world import UNPLACED, Solution, World, offsets, regions_in

FRAME_CIRCLES = 48
NOTHING = -1e6  # radius of a circle that reaches nothing
CIRCLE_INSET = 0.004  # mm; circles are kept in single precision and must stay inside


class OverlapField:
    """Arrays for one walker, made from a world once and filled from it again and again.

    A region opened in the world later needs a new field. `best` is where the kernels keep the least
    overlapping layout that they met. `half_turns` (k,) says which kinds may be turned about.
    """

    def __init__(self, world: World, circles: dict[int, Array]) -> None:
        """Make the tables; `circles` keeps inscribed circles by kind for all walkers."""
        self.world = world
        edges: list[Array] = []
        rings: list[Singles] = []
        spins: list[Array] = []
        hulls: list[float] = []
        free: list[int] = []
        for piece in world.pieces:
            if id(piece) not in circles:
                circles[id(piece)] = inscribed_circles(piece.grown)
            edges.append(piece.edges)
            rings.append(_blocks(circles[id(piece)]))
            spins.append(piece.orientations)
            hulls.append(float(piece.grown.convex_hull.area))
            free.append(0 if piece.spec.rotations is not None else 2 if piece.spec.mirror else 1)
        for frame in world.frames:
            if id(frame) not in circles:
                circles[id(frame)] = inscribed_circles(frame, FRAME_CIRCLES)
            edges.append(polygon_edges(frame))
            rings.append(_blocks(circles[id(frame)]))
            spins.append(np.array([[1.0, 0.0, 1.0]]))
            hulls.append(float(frame.area))
            free.append(0)
        self.shapes = _tables(world, edges, rings, spins, hulls, free)
        self.half_turns = np.array(
            [_may_turn_about(p.spec.rotations) for p in world.pieces] + [False] * len(world.frames),
            dtype=bool,
        )
        self.placed = _places(world, self.shapes)
        n = len(self.placed.where)
        self.best = Solution(np.zeros((n, 5)), np.zeros(n, dtype=np.int64))

    def used(self) -> list[int]:
        """Return the ids of regions that hold at least one piece."""
        return regions_in(self.placed.where[: self.world.count])

    def extent(self, region: int) -> float:
        """Return how far along x the pieces in a region reach, from the region's left edge."""
        members = np.flatnonzero(self.placed.where[: self.world.count] == region)
        reach = float(self.placed.boxes[0, members].max(initial=0.0))
        return reach - self.world.regions[region].rect[0]

    def load(self, poses: Array, where: Ints) -> None:
        """Place every item as given, in the world's terms."""
        for i in range(len(where)):
            if where[i] != UNPLACED:
                self.set(i, poses[i], int(where[i]))
            else:
                self.placed.where[i] = UNPLACED

    def set(self, i: int, pose: Array, region: int) -> None:
        """Place one item."""
        shapes = self.shapes
        kind = shapes.kind[i]
        x, y, c, s, f = (float(v) for v in pose)
        first, last = int(shapes.first[kind]), int(shapes.first[kind + 1])
        if shapes.free[kind]:
            o = turn_into_scratch(shapes, first, c, s, f)
        else:
            spin = shapes.spin[first:last]
            away = np.abs(spin - np.array([c, s, f])).max(axis=1)
            o = first + int(away.argmin())
            if away.min() > 1e-9:  # a look-alike of an allowed orientation, or a pin's own angle
                o = turn_into_scratch(shapes, first, c, s, f)
        put(shapes, self.placed, i, o, x, y, region)
        if o == len(shapes.start) - 1:
            self.placed.turn[i] = first


def _tables(
    world: World,
    edges: list[Array],
    rings: list[Singles],
    spins: list[Array],
    hulls: list[float],
    free: list[int],
) -> Shapes:
    kinds = len(edges)

    def ints(n: int) -> Ints:
        return np.zeros(n, dtype=np.int64)

    orientations = sum(len(s) if not f else 1 for s, f in zip(spins, free, strict=True)) + 1
    longest = max((len(e) for e in edges), default=1)
    most = max((len(r) for r in rings), default=1)
    counts = [(len(s) if not f else 1) for s, f in zip(spins, free, strict=True)]
    e_total = sum(len(e) * c for e, c in zip(edges, counts, strict=True)) + longest
    rows = [-(-len(e) // LANES) for e in edges]
    b_total = sum(r * c for r, c in zip(rows, counts, strict=True)) + max(rows, default=1)
    c_total = sum(len(r) * c for r, c in zip(rings, counts, strict=True)) + most
    kind = np.array(
        [world.piece_number(i) for i in range(world.count)]
        + [len(world.pieces) + k for k in range(len(world.frames))],
        dtype=np.int64,
    )
    shapes = Shapes(
        edges=np.zeros((4, e_total)),
        start=ints(orientations),
        stop=ints(orientations),
        coarse=np.zeros((b_total, 4, LANES), dtype=np.float32),
        bstart=ints(orientations),
        bstop=ints(orientations),
        circles=np.zeros((c_total, 3, LANES), dtype=np.float32),
        cstart=ints(orientations),
        cstop=ints(orientations),
        boxes=np.zeros((orientations, 8)),
        slants=np.zeros((orientations, 8)),
        spin=np.zeros((orientations, 3)),
        kind=kind,
        first=ints(kinds + 1),
        free=np.array(free, dtype=np.int64),
        weight=np.array([max(h, 1e-9) ** 0.25 for h in hulls]),
        size=np.array([_size(e) for e in edges]).reshape(-1, 2),
    )
    _fill(shapes, edges, rings, spins, counts)
    return shapes


def _may_turn_about(rotations: tuple[float, ...] | None) -> bool:
    """Return whether with every allowed angle the one half a turn from it is allowed as well."""
    if rotations is None:
        return True
    away = np.subtract.outer(np.array(rotations), np.array(rotations)) % 360.0 - 180.0
    return bool((np.abs(away).min(axis=0) < 1e-9).all())


def _blocks(circles: Array) -> Singles:
    """Return circles (n, 3) as blocks, shrunk a hair and padded with such as reach nothing."""
    count = -(-len(circles) // LANES)
    flat = np.tile(np.array([0.0, 0.0, NOTHING], dtype=np.float32), (count * LANES, 1))
    flat[: len(circles)] = circles
    flat[: len(circles), 2] = np.maximum(circles[:, 2] - CIRCLE_INSET, 0.0)
    return np.ascontiguousarray(flat.reshape(count, LANES, 3).transpose(0, 2, 1))


def _size(edges: Array) -> tuple[float, float]:
    x = np.concatenate((edges[:, 0], edges[:, 2]))
    y = np.concatenate((edges[:, 1], edges[:, 3]))
    sides = (float(np.ptp(x)), float(np.ptp(y)))
    return min(sides), max(sides)


def _fill(
    shapes: Shapes,
    edges: list[Array],
    rings: list[Singles],
    spins: list[Array],
    counts: list[int],
) -> None:
    """Turn every kind into each of its orientations, by the scratch row's own kernel."""
    o = at = cat = bat = 0
    last = len(shapes.start) - 1
    for k, (own, ring) in enumerate(zip(edges, rings, strict=True)):
        shapes.first[k] = o
        for t in range(counts[k]):
            c, s, f = spins[k][t] if counts[k] > 1 or not shapes.free[k] else (1.0, 0.0, 1.0)
            # The row holds the plain shape first, is turned into the next row, and copied back.
            n, m = len(own), len(ring)
            shapes.start[o], shapes.stop[o] = at, at + n
            shapes.cstart[o], shapes.cstop[o] = cat, cat + m
            shapes.edges[:, at : at + n] = own.T
            shapes.circles[cat : cat + m] = ring
            r = -(-n // LANES)
            shapes.bstart[o], shapes.bstop[o] = bat, bat + r
            shapes.bstart[last] = len(shapes.coarse) - r
            shapes.start[last] = shapes.edges.shape[1] - n
            shapes.cstart[last] = len(shapes.circles) - m
            turn_into_scratch(shapes, o, c, s, f)
            shapes.edges[:, at : at + n] = shapes.edges[:, shapes.edges.shape[1] - n :]
            shapes.coarse[bat : bat + r] = shapes.coarse[len(shapes.coarse) - r :]
            shapes.circles[cat : cat + m] = shapes.circles[len(shapes.circles) - m :]
            shapes.boxes[o], shapes.spin[o] = shapes.boxes[last], (c, s, f)
            shapes.slants[o] = shapes.slants[last]
            o, at, cat, bat = o + 1, at + n, cat + m, bat + r
    shapes.first[len(edges)] = o
    shapes.start[last] = shapes.stop[last] = at
    shapes.cstart[last] = shapes.cstop[last] = cat
    shapes.bstart[last] = shapes.bstop[last] = bat


def _places(world: World, shapes: Shapes) -> PlacedTable:
    n = len(shapes.kind)
    first = shapes.first[shapes.kind]
    start = offsets((shapes.stop - shapes.start)[first])
    bstart = offsets((shapes.bstop - shapes.bstart)[first])
    cstart = offsets((shapes.cstop - shapes.cstart)[first])
    blocks = [shapes.circles[shapes.cstart[o] : shapes.cstop[o]] for o in first]
    return PlacedTable(
        edges=np.zeros((4, int(start[-1]))),
        start=start[:-1].copy(),
        stop=start[1:].copy(),
        coarse=np.zeros((int(bstart[-1]), 4, LANES), dtype=np.float32),
        bstart=bstart[:-1].copy(),
        bstop=bstart[1:].copy(),
        circles=np.concatenate(blocks) if blocks else np.zeros((0, 3, LANES), dtype=np.float32),
        cstart=cstart[:-1].copy(),
        cstop=cstart[1:].copy(),
        poses=np.zeros((n, 5)),
        turn=first.astype(np.int64).copy(),
        where=np.full(n, UNPLACED, dtype=np.int64),
        home=np.full(n, -1, dtype=np.int64),
        boxes=np.zeros((8, n)),
        slants=np.zeros((n, 8)),
        ghost=np.array([0] * world.count + [int(g) for g in world.ghosts], dtype=np.int64),
        tolerant=np.array(
            [int(i < world.count and world.kinds[i].spec.hidden) for i in range(n)], dtype=np.int64
        ),
        pairs=np.zeros((n, n), dtype=np.float32),
        weights=np.ones((n, n), dtype=np.float32),
    )
