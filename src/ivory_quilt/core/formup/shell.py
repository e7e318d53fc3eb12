"""The glued mesh: panels welded along their seams, with rest lengths, rest angles and stiffness.

The plate is the middle surface. In its plane each triangle resists by the foam's Young's modulus
(taken as 1: only ratios matter, forces are not told). Out of its plane it has the bending stiffness
D = E t³/12 (1 − ν²) on the shape operator of Grinspun, Gingold, Reisman and Zorin (2006),
*Computing discrete shape operators on general meshes*: each edge has a normal of its own, free to
turn about it, so that every state of constant curvature is met exactly on any mesh (the plate of
Morley 1968 in the finite element literature). Edges' own turns are eliminated: they are the
solution of one linear system.
"""

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import (
    Array,
    Assembly,
    Bools,
    FormBend,
    FormPanel,
    Ints,
    Meeting,
)
from ivory_quilt.core.formup.kernels import edge_turns
from ivory_quilt.core.formup.meshing import PanelMesh
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.surface import vertex_normals
from ivory_quilt.core.pattern.build import Face
from ivory_quilt.core.record import Struct

MOST_DRIFT = 0.02  # of a length
LEAST = 0.3  # of a triangle's area: one that would have less at rest stays as it was drawn
ROOM = 1 << 21  # more than a panel has points, or a seam has segments
POISSON = 0.0
"""Of closed-cell foam, which hardly widens when it is pressed: from memory, no source. It makes
bent strips of any width alike; another value is taken by `Shell.make`."""


class Shell(Struct):
    """A glued mesh at rest.

    Attributes:
        triangles: `(m, 3)` numbers of welded vertices.
        panel_of: of each triangle, its panel's number.
        vertex_of: of each panel, the welded vertex of each of its points.
        edge_of: `(m, 3)`: the edge opposite each corner.
        edges: `(e, 4)`: its two vertices, and the vertices opposite it on either side; -1 for none.
        sharp: edges whose rest angle is a fold or a bevelled seam, not a curve.
        flat_edges: `(m, 3, 2)` the edge opposite each corner, as drawn, mm.
        lengths: at rest, on the middle surface; `true` without what keeps angles from pulling.
        turns: `(e,)` rest angles, radians.
        thickness: `(m,)` mm.
        faces: `(m,)` where the middle surface lies from the drawing's face, in thicknesses: 1/2
            outwards from one taken inside, -1/2 from one taken outside.
        seam_edges: of each seam, the edges along it.
        fixed: triangles of panels with a shape of their own, whose lengths at rest are its.
        bent: each triangle's curvature by its panel's bend, in its flat plane, 1/mm: xx, xy, yy.
    """

    meshes: list[PanelMesh]
    triangles: Ints
    panel_of: Ints
    vertex_of: list[Ints]
    count: int
    edge_of: Ints
    edges: Ints
    sides: Ints
    sharp: Bools
    flat_edges: Array
    lengths: Array
    true: Array
    turns: Array
    thickness: Array
    faces: Array
    seam_edges: list[Ints]
    fixed: Bools
    bent: Array
    poisson: float = POISSON

    @property
    def areas(self) -> Array:
        """Areas of the triangles at rest, mm²."""
        return areas_of(self.lengths)


def areas_of(lengths: Array) -> Array:
    """Return triangles' areas from their edges' lengths (Heron; Kahan's order), mm²."""
    a, b, c = np.sort(lengths, axis=1).T[::-1]
    inside = (a + (b + c)) * (c - (a - b)) * (c + (a - b)) * (a + (b - c))
    found: Array = 0.25 * np.sqrt(np.maximum(inside, 0.0))
    return found


def make_shell(
    job: Assembly, meshes: list[PanelMesh], seams: list[SampledSeam], poisson: float = POISSON
) -> Shell:
    """Weld the panels' meshes along their seams.

    Raises:
        InputError: seams so tangled that a triangle closes with itself.
    """
    offsets = np.cumsum([0, *(len(m.points) for m in meshes)])
    ones, others = [], []
    for seam in seams:
        a, b = _bases(seam, job, offsets)
        ones.append(seam.a + a)
        others.append(seam.b + b)
    ends = (np.concatenate([[0], *ones]), np.concatenate([[0], *others]))
    size = int(offsets[-1])
    welds = coo_matrix((np.ones(len(ends[0])), ends), shape=(size, size))
    count, labels = connected_components(welds, directed=False)
    welded: Ints = np.asarray(labels).astype(np.int64)
    vertex_of = [welded[offsets[k] : offsets[k + 1]] for k in range(len(meshes))]
    triangles = np.vstack([vertex_of[k][m.triangles] for k, m in enumerate(meshes)])
    panel_of = np.repeat(np.arange(len(meshes)), [len(m.triangles) for m in meshes])
    closed = (triangles == np.roll(triangles, 1, axis=1)).any(1)
    if closed.any():
        name = job.panels[int(panel_of[np.argmax(closed)])].id
        raise InputError(
            f"panel '{name}'", "its seams close it to nothing", "seams that leave room"
        )
    edges, edge_of, sides, seam_edges, fold_edges = _edges(job, meshes, seams, vertex_of)
    turns = np.zeros(len(edges))
    sharp = np.zeros(len(edges), dtype=bool)
    for seam, mine in zip(seams, seam_edges, strict=True):
        if seam.seam.meet is Meeting.ANGLE and seam.seam.turn:
            turns[mine] = seam.seam.turn
            sharp[mine] = True
    for number, mine in fold_edges:
        turns[mine] = job.folds[number].turn
        sharp[mine] = True
    flat = np.vstack([_flat_edges(m.points, m.triangles) for m in meshes])
    thick = np.array([p.thickness for p in job.panels])[panel_of]
    at = {Face.INNER: 0.5, Face.MIDDLE: 0.0, Face.OUTER: -0.5}
    faces = np.array([at[p.face] for p in job.panels])[panel_of]
    shell = Shell(
        meshes,
        triangles,
        panel_of,
        vertex_of,
        int(count),
        edge_of,
        edges,
        sides,
        sharp,
        flat,
        np.linalg.norm(flat, axis=2),
        np.linalg.norm(flat, axis=2),
        turns,
        thick,
        faces,
        seam_edges,
        np.zeros(len(triangles), dtype=bool),
        np.zeros((len(triangles), 3)),
        poisson,
    )
    _bend(shell, job)
    return shell


def _bases(seam: SampledSeam, job: Assembly, offsets: Ints) -> tuple[int, int]:
    return (
        int(offsets[job.index[seam.seam.a.panel]]),
        int(offsets[job.index[seam.seam.b.panel]]),
    )


def _flat_edges(points: Array, triangles: Ints) -> Array:
    """Return the edges opposite each corner, `(m, 3, 2)`."""
    corners = points[triangles]
    made: Array = np.roll(corners, -2, 1) - np.roll(corners, -1, 1)
    return made


def _joints(
    job: Assembly, meshes: list[PanelMesh], seams: list[SampledSeam]
) -> dict[int, dict[int, int]]:
    """Return which joint each joined boundary segment of a panel is part of, as a number.

    Segments of one number are one edge; of a free hinge, each side has an edge of its own.
    """
    joint: dict[int, dict[int, int]] = {}
    for number, seam in enumerate(seams):
        a, b = (job.index[s.panel] for s in (seam.seam.a, seam.seam.b))
        for k in range(len(seam.a) - 1):
            for panel, side, hinge in ((a, seam.a, 0), (b, seam.b, 1)):
                first, second = int(side[k]), int(side[k + 1])
                segment = first if (first + 1) % meshes[panel].boundary == second else second
                free = hinge if seam.seam.meet is Meeting.FREE else 0
                joint.setdefault(panel, {})[segment] = number * ROOM + 2 * k + free
    return joint


Edges = tuple[Ints, Ints, Ints, list[Ints], list[tuple[int, Ints]]]


def _edges(
    job: Assembly, meshes: list[PanelMesh], seams: list[SampledSeam], vertex_of: list[Ints]
) -> Edges:
    """Return the edges with their opposite vertices, and which is opposite each corner.

    Edges are told apart by where they are in their panels, not by their ends: two panels that are
    joined all round may have several between the same two vertices.
    """
    joint = _joints(job, meshes, seams)
    codes, corners = [], []
    for panel, mesh in enumerate(meshes):
        opposite = np.stack([mesh.triangles[:, [(k + 1) % 3, (k + 2) % 3]] for k in range(3)], 1)
        start, stop = opposite[:, :, 0], opposite[:, :, 1]
        code = (panel * ROOM + opposite.min(2)) * ROOM + opposite.max(2)
        along = np.full(mesh.boundary, -1)
        for segment, key in joint.get(panel, {}).items():
            along[segment] = key
        rim = (start < mesh.boundary) & (stop == (start + 1) % mesh.boundary)
        joined = np.where(rim, along[np.where(rim, start, 0)], -1)
        codes.append(np.where(joined >= 0, -1 - joined, code))
        corners.append(vertex_of[panel][np.dstack([opposite, mesh.triangles])])
    every, ends = np.concatenate(codes).ravel(), np.concatenate(corners).reshape(-1, 3)
    known, first, edge_of = np.unique(every, return_index=True, return_inverse=True)
    edge_of = edge_of.ravel()
    begins = np.zeros(len(every), dtype=bool)
    begins[first] = True
    edges = np.column_stack([ends[first], np.full(len(first), -1)])
    edges[edge_of[~begins], 3] = ends[~begins, 2]
    seam_edges = [
        np.flatnonzero((known < 0) & ((-1 - known) // ROOM == n)) for n in range(len(seams))
    ]
    folds: dict[int, list[Ints]] = {}
    for panel, mesh in enumerate(meshes):
        for number, line in mesh.folds:
            low, high = np.minimum(line[:-1], line[1:]), np.maximum(line[:-1], line[1:])
            found = np.searchsorted(known, (panel * ROOM + low) * ROOM + high)
            folds.setdefault(number, []).append(found)
    return (
        edges.astype(np.int64),
        edge_of.reshape(-1, 3).astype(np.int64),
        np.where(begins, 1, -1).reshape(-1, 3).astype(np.int64),
        seam_edges,
        [(n, np.concatenate(m)) for n, m in folds.items()],
    )


def bent_shape(panel: FormPanel, bend: FormBend, flat: Array) -> tuple[Array, Array, float]:
    """Return where flat points lie on a bend's cylinder, the way across it, and its radius, mm.

    The radius is that of the middle surface; lengths across grow or shrink from the face drawn on.
    """
    turn = np.radians(180.0 - bend.axis if panel.mirrored else bend.axis)
    along = np.array([np.cos(turn), np.sin(turn)])
    across = np.array([along[1], -along[0]])
    radius = bend.radius + panel.thickness / 2
    drawn = {Face.INNER: bend.radius, Face.MIDDLE: radius}.get(
        panel.face, bend.radius + panel.thickness
    )
    around = flat @ across / drawn
    on = np.outer(radius * np.sin(around), across) + np.outer(flat @ along, along)
    return np.column_stack([on, radius * (np.cos(around) - 1)]), across, radius


def _bend(shell: Shell, job: Assembly) -> None:
    """Give bent panels the rest angles of their cylinder, and keep its curvature by triangle."""
    curved = shell.bent
    for bend in job.bends:
        number = job.index[bend.panel]
        mesh, panel = shell.meshes[number], job.panels[number]
        on, across, radius = bent_shape(panel, bend, mesh.points)
        mine = np.flatnonzero(shell.panel_of == number)
        x, y = across
        curved[mine] = np.array([x * x, x * y, y * y]) / radius
        _turn_at_rest(shell, number, mine, on)
    for one in job.shaped:
        number = job.index[one.panel]
        mine = np.flatnonzero(shell.panel_of == number)
        mesh = shell.meshes[number]
        on = one.space(as_drawn(job.panels[number], mesh.points))
        if job.panels[number].mirrored:
            on = on * (-1.0, 1.0, 1.0)
        corners = on[mesh.triangles]
        apart = np.roll(corners, -2, 1) - np.roll(corners, -1, 1)
        shell.true[mine] = np.linalg.norm(apart, axis=2)
        shell.fixed[mine] = True
        _turn_at_rest(shell, number, mine, on)
        curved[mine] = _curve_of(mesh, on)
    set_rest(shell, curved)


def _curve_of(mesh: PanelMesh, on: Array) -> Array:
    """Return the curvature of a shape that a panel has, at each triangle: xx, xy, yy, 1/mm.

    From the normals at its corners, as they change over it.
    """
    corners, normal = on[mesh.triangles], vertex_normals(on, mesh.triangles)
    flat = mesh.points[mesh.triangles]
    rows = np.stack([flat[:, 1] - flat[:, 0], flat[:, 2] - flat[:, 0]], axis=1)
    along = np.linalg.solve(rows, np.stack([corners[:, k] - corners[:, 0] for k in (1, 2)], axis=1))
    at = normal[mesh.triangles]
    turned = np.linalg.solve(rows, np.stack([at[:, k] - at[:, 0] for k in (1, 2)], axis=1))
    bent = turned @ along.transpose(0, 2, 1)
    both = (bent + bent.transpose(0, 2, 1)) / 2
    return np.stack([both[:, 0, 0], both[:, 0, 1], both[:, 1, 1]], axis=1)


def as_drawn(panel: FormPanel, points: Array) -> Array:
    """Return flat points as they were drawn: those of the other hand are flipped back."""
    return points * (-1.0, 1.0) if panel.mirrored else points


def _turn_at_rest(shell: Shell, number: int, mine: Ints, on: Array) -> None:
    """Set the rest angles inside a panel to those of its mesh laid onto a surface."""
    place = np.zeros((shell.count, 3))
    place[shell.vertex_of[number]] = on
    found = np.zeros(len(shell.edges))
    edge_turns(place, shell.edges, found)
    users = np.bincount(shell.edge_of[mine].ravel(), minlength=len(shell.edges))
    inside = (users == 2) & ~shell.sharp
    shell.turns[inside] = found[inside]


def set_rest(shell: Shell, curved: Array, drift: Array | None = None) -> None:
    """Set lengths at rest from each triangle's curvature in its panel's plane, 1/mm: xx, xy, yy.

    What is drawn on the inner face is longer on the middle surface, by 1 / (1 − S t/2) with the
    shape operator S; and the chord of an arc is shorter than the arc, by (κ l)²/24. `drift` is the
    strain that angles would pull them by, taken out beforehand (`measures.drift`).
    """
    # Where it is wild, at tips, it says nothing: foam bends no tighter than its thickness.
    size = np.sqrt(curved[:, 0] ** 2 + 2 * curved[:, 1] ** 2 + curved[:, 2] ** 2)
    curved = curved / np.maximum(size * shell.thickness, 1.0)[:, None]
    away = shell.faces * shell.thickness
    xx, yy = 1.0 - away * curved[:, 0], 1.0 - away * curved[:, 2]
    xy = -away * curved[:, 1]
    # Never stretched to more than twice, whatever a wild curve says on the way.
    det = np.maximum(xx * yy - xy * xy, 0.25)
    ex, ey = shell.flat_edges[:, :, 0], shell.flat_edges[:, :, 1]
    x = (yy[:, None] * ex - xy[:, None] * ey) / det[:, None]
    y = (xx[:, None] * ey - xy[:, None] * ex) / det[:, None]
    square = x * x + y * y
    kx, kxy, ky = (curved[:, k, None] for k in range(3))
    along = (kx * x * x + 2 * kxy * x * y + ky * y * y) / square
    arc = np.sqrt(square)
    bent = np.clip(np.abs(along) * arc, 0.0, 1.5)
    free = arc * (1.0 - bent**2 / 24.0)
    shell.true = np.where(shell.fixed[:, None], shell.true, free)
    shell.lengths = shell.true.copy()
    if drift is not None:
        dx, dxy, dy = (drift[:, k, None] for k in range(3))
        pulled = (dx * x * x + 2 * dxy * x * y + dy * y * y) / square
        shell.lengths = shell.true * (1 + np.clip(pulled, -MOST_DRIFT, MOST_DRIFT))
    flat = np.sqrt(ex * ex + ey * ey)
    lost = (areas_of(shell.lengths) < LEAST * areas_of(flat)) & ~shell.fixed
    shell.lengths[lost] = shell.true[lost] = flat[lost]
