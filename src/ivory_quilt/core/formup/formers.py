"""Formers: a ball, a cylinder, a closed mesh; and a shell laid on one before it is pressed."""

from functools import lru_cache

import numpy as np
from scipy.ndimage import distance_transform_edt
from scipy.spatial import cKDTree

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import (
    Array,
    Cylinder,
    Former,
    Ints,
    MeshFormer,
    Sphere,
)
from ivory_quilt.core.formup.contact import Ball, Surface, Tube
from ivory_quilt.core.formup.kernels import grid_away
from ivory_quilt.core.formup.outcome import seat_of
from ivory_quilt.core.formup.shell import Shell
from ivory_quilt.core.formup.surface import ALL_ROUND, faces_of, rigid_fit
from ivory_quilt.core.record import Struct

NARROW = 4.0  # cells from the mesh within which distances are exact
CELLS = 56  # along the longest side of a mesh's grid of distances
MARGIN = 0.35  # of the longest side around it
RIGID_ROUNDS = 300
TRIED = 3  # of the 24 ways round that look best at first
FLAT = 0.02  # of how far normals spread: a shell that has less is flat
LIFTS = 3.0  # of its size that a shell is lifted at most
SOME = 300  # points that are enough to see which way round a shell goes on


def body_of(former: Former | None) -> Surface | None:
    """Return the surface of a former; None for none.

    Raises:
        InputError: a mesh that is open or has no inside.
    """
    if former is None:
        return None
    if isinstance(former, Sphere):
        return Ball(former.radius)
    if isinstance(former, Cylinder):
        return Tube(former.radius)
    return _kept_grid(
        former.vertices.astype(np.float64).tobytes(), former.triangles.astype(np.int64).tobytes()
    )


@lru_cache(maxsize=4)
def _kept_grid(vertices: bytes, triangles: bytes) -> "DistanceGrid":
    """Return the grid of a mesh that may have come up before, as another copy of it."""
    spots = np.frombuffer(vertices, dtype=np.float64).reshape(-1, 3)
    return distance_grid(MeshFormer(spots, np.frombuffer(triangles, dtype=np.int64).reshape(-1, 3)))


class DistanceGrid(Struct, frozen=True):
    """Signed distances from a mesh on a grid, below 0 inside; between its points trilinear."""

    low: Array
    step: float
    values: Array

    def away(self, places: Array) -> tuple[Array, Array]:
        """See `Surface`."""
        far, out = np.empty(len(places)), np.empty((len(places), 3))
        grid_away(self.values, self.low, self.step, np.ascontiguousarray(places), far, out)
        return far, out


def check_closed(mesh: MeshFormer) -> None:
    """Refuse a mesh that is open, or turned inside out beyond help.

    Raises:
        InputError: saying how many edges are open.
    """
    triangles = mesh.triangles
    if not len(triangles) or not np.isfinite(mesh.vertices).all():
        raise InputError("former", "the mesh has no triangles", "a closed mesh")
    pairs = np.vstack([triangles[:, [0, 1]], triangles[:, [1, 2]], triangles[:, [2, 0]]])
    _, counts = np.unique(np.sort(pairs, axis=1), axis=0, return_counts=True)
    open_edges = int(np.sum(counts % 2))
    if open_edges:
        problem = f"the mesh is open at {open_edges} edges"
        raise InputError("former", problem, "a closed mesh, as printers need")


def distance_grid(mesh: MeshFormer) -> DistanceGrid:
    """Return the signed distances around a closed mesh.

    Raises:
        InputError: the mesh is open.
    """
    check_closed(mesh)
    vertices = mesh.vertices
    low, high = vertices.min(0), vertices.max(0)
    size = float((high - low).max())
    low, high = low - MARGIN * size, high + MARGIN * size
    step = float((high - low).max()) / CELLS
    counts = np.ceil((high - low) / step).astype(int) + 1
    axes = [low[k] + step * np.arange(counts[k]) for k in range(3)]
    spots = np.stack(np.meshgrid(*axes, indexing="ij"), axis=-1).reshape(-1, 3)
    tree = cKDTree(_samples(vertices, mesh.triangles, step / 3))
    far, _ = tree.query(spots, distance_upper_bound=NARROW * step)
    far = np.asarray(far).reshape(counts)
    # Farther off, from the nearest place that is known: hands and eyes need no more there.
    unknown = ~np.isfinite(far)
    gap, nearest = distance_transform_edt(unknown, return_indices=True)
    far = np.where(unknown, far[tuple(nearest)] + step * gap, far)
    values = np.where(_inside(vertices, mesh.triangles, axes), -far, far)
    return DistanceGrid(low, step, values)


def _samples(vertices: Array, triangles: Ints, step: float) -> Array:
    """Return points all over a mesh, no farther than about `step` apart."""
    a, b, c = (vertices[triangles[:, k]] for k in range(3))
    longest = np.maximum(
        np.linalg.norm(b - a, axis=1),
        np.maximum(np.linalg.norm(c - b, axis=1), np.linalg.norm(a - c, axis=1)),
    )
    made = []
    parts = np.clip(np.ceil(longest / step), 1, 60).astype(int)
    for n in np.unique(parts).tolist():
        mine = parts == n
        i, j = np.meshgrid(np.arange(n + 1), np.arange(n + 1))
        keep = (i + j) <= n
        u, v = i[keep] / n, j[keep] / n
        spots = (
            a[mine][:, None] * (1 - u - v)[:, None]
            + b[mine][:, None] * u[:, None]
            + c[mine][:, None] * v[:, None]
        )
        made.append(spots.reshape(-1, 3))
    return np.vstack(made)


def _inside(vertices: Array, triangles: Ints, axes: list[Array]) -> Array:
    """Return which points of a grid are inside: an odd number of walls lies above."""
    x, y, z = axes
    # A hair aside, so that no ray goes through a vertex or along an edge.
    nudge = 1e-4 * (x[1] - x[0])
    x, y = x + nudge, y + 0.7 * nudge
    walls = np.zeros((len(x), len(y), len(z) + 1), dtype=np.int32)
    step = x[1] - x[0]
    for p, q, r in vertices[triangles]:
        low = np.floor((np.minimum(np.minimum(p, q), r)[:2] - (x[0], y[0])) / step).astype(int)
        high = np.ceil((np.maximum(np.maximum(p, q), r)[:2] - (x[0], y[0])) / step).astype(int)
        i = np.arange(max(0, low[0]), min(len(x), high[0] + 1))
        j = np.arange(max(0, low[1]), min(len(y), high[1] + 1))
        twice = (q[0] - p[0]) * (r[1] - p[1]) - (q[1] - p[1]) * (r[0] - p[0])
        if not len(i) or not len(j) or abs(twice) < 1e-12:
            continue
        gx, gy = np.meshgrid(x[i], y[j], indexing="ij")
        u = ((gx - p[0]) * (r[1] - p[1]) - (gy - p[1]) * (r[0] - p[0])) / twice
        v = ((q[0] - p[0]) * (gy - p[1]) - (q[1] - p[1]) * (gx - p[0])) / twice
        hit = (u >= 0) & (v >= 0) & (u + v <= 1)
        if not hit.any():
            continue
        high_at = p[2] + u * (q[2] - p[2]) + v * (r[2] - p[2])
        level = np.clip(np.searchsorted(z, high_at), 0, len(z))
        at = np.argwhere(hit)
        np.add.at(walls, (i[at[:, 0]], j[at[:, 1]], level[hit]), 1)
    above = np.cumsum(walls[:, :, ::-1], axis=2)[:, :, ::-1][:, :, 1:]
    found: Array = above % 2 == 1
    return found


def laid_on(
    shell: Shell, places: Array, surface: Surface, seat: tuple[tuple[float, ...], ...] = ()
) -> Array:
    """Return a shell moved as a whole so that it lies on a former as well as it can.

    `seat` is how its first panel lay there before, with other outlines perhaps: on a mesh it
    begins there, so that two shapes that are compared sit alike.
    """
    areas, half = shell.areas, float(np.mean(shell.thickness)) / 2
    a, b, c = (places[shell.triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a)
    normal /= np.maximum(np.linalg.norm(normal, axis=1), 1e-12)[:, None]
    spots = (a + b + c) / 3
    if isinstance(surface, Tube):
        spread_of_normals = (normal * areas[:, None]).T @ normal
        sizes, vectors = np.linalg.eigh(spread_of_normals)
        frame = vectors[:, [1, 2, 0]]
        if sizes[1] < FLAT * sizes[2]:  # flat: it goes around as it is drawn, upright
            out, up = vectors[:, 2], _drawn_up(shell, places)
            up = up - out * float(up @ out)
            up /= np.linalg.norm(up)
            frame = np.column_stack([np.cross(out, up), out, up])
        if np.linalg.det(frame) < 0:
            frame[:, 0] *= -1
        turned, facing = places @ frame, normal @ frame
        out = facing * (1, 1, 0)
        centre = _focus(spots @ frame, out, areas, surface.radius + half) * (1, 1, 0)
        return _rigid(turned - centre, surface, half)
    if seat and isinstance(surface, DistanceGrid):
        own = np.array(seat_of(shell.meshes[0].points, places[shell.vertex_of[0]]))
        there = np.array(seat)
        begun = (places - own[3]) @ own[:3].T @ there[:3] + there[3]
        return _rigid(begun, surface, half)
    centre = _focus(spots, normal, areas, _radius(surface) + half)
    if isinstance(surface, Ball):
        return _rigid(places - centre, surface, half)
    # Along its own axes first: those that its faces look along most and least.
    _, axes = np.linalg.eigh((normal * areas[:, None]).T @ normal)
    begun = (places - centre) @ (axes * np.sign(np.linalg.det(axes)))
    middle = _middle(surface)
    some = np.arange(0, len(begun), max(1, len(begun) // SOME))
    ways = [(begun @ turn + middle) for turn in _turns()]
    ways.sort(key=lambda p: _badness(_rigid(p[some], surface, half, 4), surface, half))
    fine = [_rigid(p, surface, half) for p in ways[:TRIED]]
    return min(fine, key=lambda p: _badness(p, surface, half))


def lifted_off(shell: Shell, places: Array, surface: Surface) -> Array | None:
    """Return a shell moved outwards as a whole until the former is nowhere in its foam.

    None where it goes all round, so that there is no way off.
    """
    faces = faces_of(places, shell.triangles)
    way = faces.sum(0)
    length = float(np.linalg.norm(way))
    if length < ALL_ROUND * float(np.linalg.norm(faces, axis=1).sum()):
        return None
    half = float(np.max(shell.thickness)) / 2
    farthest = LIFTS * float(np.linalg.norm(np.ptp(places, axis=0)))
    far = 0.0
    while far < farthest:
        fresh: Array = places + far / length * way
        # A step of what is missing cannot be too long; a little more, so that it comes to an end.
        missing = half - float(surface.away(fresh)[0].min())
        if missing <= 0:
            return fresh
        far += missing + 0.1 * half
    return None


def _drawn_up(shell: Shell, places: Array) -> Array:
    """Return the way in space that is upwards in the drawing of the first panel."""
    flat, there = shell.meshes[0].points, places[shell.vertex_of[0]]
    found = np.linalg.lstsq(flat - flat.mean(0), there - there.mean(0), rcond=None)[0]
    way: Array = found[1]
    return way


def _focus(spots: Array, normals: Array, areas: Array, away: float) -> Array:
    """Return the point that lines through spots along their normals come nearest to.

    Lines that are parallel meet nowhere: what is flat has it `away` behind its middle.
    """
    matrix, right = np.zeros((3, 3)), np.zeros(3)
    across = np.eye(3)[None] - normals[:, :, None] * normals[:, None, :]
    matrix = (across * areas[:, None, None]).sum(0)
    right = (across @ spots[:, :, None])[:, :, 0]
    right = (right * areas[:, None]).sum(0)
    mean = ((spots - away * normals) * areas[:, None]).sum(0) / areas.sum()
    weak = 1e-3 * float(np.trace(matrix)) / 3
    found: Array = np.linalg.solve(matrix + weak * np.eye(3), right + weak * mean)
    return found


def _radius(surface: Surface) -> float:
    """Return the radius of a body, of a mesh that of a ball of its volume, mm."""
    if isinstance(surface, DistanceGrid):
        volume = float((surface.values < 0).sum()) * surface.step**3
        return float((3 * volume / (4 * np.pi)) ** (1 / 3))
    return float(surface.radius) if isinstance(surface, Ball | Tube) else 0.0


def _middle(surface: Surface) -> Array:
    if isinstance(surface, DistanceGrid):
        inside = np.argwhere(surface.values < 0)
        found: Array = surface.low + surface.step * inside.mean(0)
        return found
    return np.zeros(3)


def _turns() -> list[Array]:
    """Return the 24 turns of a cube."""
    made = []
    for i in range(3):
        for j in range(3):
            if i == j:
                continue
            for s in (1, -1):
                for t in (1, -1):
                    x, y = np.zeros(3), np.zeros(3)
                    x[i], y[j] = s, t
                    made.append(np.array([x, y, np.cross(x, y)]))
    return made


def _badness(places: Array, surface: Surface, half: float) -> float:
    far, _ = surface.away(places)
    gap = far - half
    return float(np.mean(np.where(gap < 0, 4.0, 1.0) * gap * gap))


def _rigid(places: Array, surface: Surface, half: float, rounds: int = RIGID_ROUNDS) -> Array:
    """Move a shell as a whole towards a former: each time to where its points would like to be."""
    for _ in range(rounds):
        far, out = surface.away(places)
        wanted = places - (far - half)[:, None] * out
        turn, shift = rigid_fit(places, wanted)
        fresh = places @ turn + shift
        moved = float(np.abs(fresh - places).max())
        places = fresh
        if moved < 0.01 * half:
            break
    return places
