"""Where a solve begins: panels laid together along their seams, or spread by geodesic distances.

The second is classical multidimensional scaling (Torgerson 1952) of the lengths of shortest ways
over the glued mesh, by landmarks (de Silva and Tenenbaum 2004). It knows nothing of inside and
outside: of the two mirror images the one is taken whose angles fit, else the one whose outer faces
look out.
"""

from collections import deque

import numpy as np
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import dijkstra

from ivory_quilt.core.formup.assembly import Array, Assembly, Ints, Meeting
from ivory_quilt.core.formup.meshing import PanelMesh
from ivory_quilt.core.formup.sampling import SampledSeam
from ivory_quilt.core.formup.shell import Shell, as_drawn, bent_shape
from ivory_quilt.core.formup.surface import rigid_fit, vertex_normals

LANDMARKS = 120


def spread(shell: Shell) -> Array:
    """Return places whose distances are near those over the shell's surface, `(n, 3)`."""
    rows, columns, values = [], [], []
    lengths = shell.lengths
    for k in range(3):
        rows.append(shell.triangles[:, (k + 1) % 3])
        columns.append(shell.triangles[:, (k + 2) % 3])
        values.append(lengths[:, k])
    one, other, far = _across(shell)
    rows.append(one)
    columns.append(other)
    values.append(far)
    i, j, d = np.concatenate(rows), np.concatenate(columns), np.concatenate(values)
    low, high = np.minimum(i, j), np.maximum(i, j)
    # Equal entries of a sparse matrix are summed: the shortest of each pair is kept.
    order = np.lexsort((d, high, low))
    low, high, d = low[order], high[order], d[order]
    first = np.ones(len(d), dtype=bool)
    first[1:] = (low[1:] != low[:-1]) | (high[1:] != high[:-1])
    graph = coo_matrix(
        (d[first], (low[first], high[first])), shape=(shell.count, shell.count)
    ).tocsr()
    step = max(1, shell.count // LANDMARKS)
    marks = np.arange(0, shell.count, step)
    ways = dijkstra(graph, directed=False, indices=marks)
    square = ways[:, marks] ** 2
    centred = square - square.mean(0) - square.mean(1)[:, None] + square.mean()
    values_, vectors = np.linalg.eigh(-centred / 2)
    top = np.argsort(values_)[::-1][:3]
    size = np.sqrt(np.maximum(values_[top], 1e-12))
    lift = (vectors[:, top] / size).T
    places = -0.5 * (lift @ (ways**2 - square.mean(1)[:, None])).T
    real = np.linalg.norm(places[shell.triangles[:, 1]] - places[shell.triangles[:, 2]], axis=1)
    scale = float(np.sum(real * lengths[:, 0]) / max(float(np.sum(real * real)), 1e-12))
    made: Array = places * scale
    if values_[top[2]] < 1e-4 * values_[top[0]]:
        made = _bulged(shell, made)
    return made


def _across(shell: Shell) -> tuple[Ints, Ints, Array]:
    """Return the corners on both sides of each inner edge, and how far apart they lie when flat."""
    inner = shell.edges[:, 3] >= 0
    near = np.zeros((len(shell.edges), 2, 2))  # side; lengths from the edge's two vertices
    for k in range(3):
        e = shell.edge_of[:, k]
        first = shell.triangles[:, (k + 1) % 3]
        forward = shell.edges[e, 0] == first
        from_first, from_second = shell.lengths[:, (k + 2) % 3], shell.lengths[:, (k + 1) % 3]
        side = np.where(shell.sides[:, k] > 0, 0, 1)
        near[e, side, 0] = np.where(forward, from_first, from_second)
        near[e, side, 1] = np.where(forward, from_second, from_first)
    long = np.zeros(len(shell.edges))
    long[shell.edge_of.ravel()] = shell.lengths.ravel()
    long, near = long[inner], near[inner]
    x = (near[:, :, 0] ** 2 - near[:, :, 1] ** 2 + long[:, None] ** 2) / (2 * long[:, None])
    y = np.sqrt(np.maximum(near[:, :, 0] ** 2 - x**2, 0.0))
    far = np.hypot(x[:, 0] - x[:, 1], y.sum(1))
    at = y[:, 0] / np.maximum(y.sum(1), 1e-12)
    crossing = x[:, 0] + (x[:, 1] - x[:, 0]) * at
    good = (crossing > 0) & (crossing < long) & (shell.edges[inner, 2] != shell.edges[inner, 3])
    edges = shell.edges[inner][good]
    return edges[:, 2], edges[:, 3], far[good]


def _bulged(shell: Shell, places: Array) -> Array:
    """Return flat places pushed out in the middle, so that the solve can leave the plane."""
    middle = places.mean(0)
    flat = places - middle
    _, _, axes = np.linalg.svd(flat, full_matrices=False)
    up = axes[2]
    far = np.linalg.norm(flat - np.outer(flat @ up, up), axis=1)
    high = 0.05 * far.max() * (1 - (far / far.max()) ** 2)
    made: Array = places + np.outer(high, up)
    return made if outwards(shell, made) >= 0 else places - np.outer(high, up)


def outwards(shell: Shell, places: Array) -> float:
    """Return how far outer faces look away from the middle, as a volume, mm³; below 0: inwards."""
    a, b, c = (places[shell.triangles[:, k]] for k in range(3))
    normal = np.cross(b - a, c - a) / 2
    area = np.linalg.norm(normal, axis=1)
    spots = (a + b + c) / 3
    middle = (spots * area[:, None]).sum(0) / max(float(area.sum()), 1e-12)
    return float(np.sum((spots - middle) * normal))


def mirrored(places: Array) -> Array:
    """Return the mirror image."""
    return places * (1.0, 1.0, -1.0)


def laid_together(
    job: Assembly, meshes: list[PanelMesh], seams: list[SampledSeam], shell: Shell
) -> tuple[Array, float]:
    """Lay each panel, in its own shape, against one that is there already, along one seam.

    Returns:
        Places of the welded vertices, and how far apart what is welded there lies, mm (the root of
        the mean square): 0 where the net of a solid closes.
    """
    local = [own_shape(job, k, meshes[k]) for k in range(len(meshes))]
    placed: dict[int, Array] = {0: local[0]}
    beside: dict[int, list[tuple[SampledSeam, int, int, Ints, Ints, float]]] = {}
    for seam in seams:
        a, b = (job.index[s.panel] for s in (seam.seam.a, seam.seam.b))
        turn = seam.seam.turn if seam.seam.meet is Meeting.ANGLE else 0.0
        beside.setdefault(a, []).append((seam, a, b, seam.a, seam.b, turn))
        beside.setdefault(b, []).append((seam, b, a, seam.b, seam.a, turn))
    waiting = deque([0])
    while waiting:
        here = waiting.popleft()
        for _, _, other, mine, theirs, turn in beside.get(here, ()):
            if other not in placed:
                placed[other] = _against(
                    placed[here], meshes[here], mine, local[other], meshes[other], theirs, turn
                )
                waiting.append(other)
    total = np.zeros((shell.count, 3))
    square = np.zeros(shell.count)
    times = np.zeros(shell.count)
    for k in range(len(meshes)):
        vertices = shell.vertex_of[k]
        for axis in range(3):
            total[:, axis] += np.bincount(vertices, placed[k][:, axis], shell.count)
        square += np.bincount(vertices, (placed[k] ** 2).sum(1), shell.count)
        times += np.bincount(vertices, minlength=shell.count)
    places = total / times[:, None]
    apart = square / times - (places**2).sum(1)
    joined = times > 1
    gap = float(np.sqrt(max(0.0, float(apart[joined].mean())))) if joined.any() else 0.0
    return places, gap


def own_shape(job: Assembly, number: int, mesh: PanelMesh) -> Array:
    """Return a panel's points in the shape that it has by its own bend and folds, `(n, 3)`."""
    panel = job.panels[number]
    flat = mesh.points
    made = np.column_stack([flat, np.zeros(len(flat))])
    for bend in job.bends:
        if bend.panel == panel.id:
            made, _, _ = bent_shape(panel, bend, flat)
    for one in job.shaped:
        if one.panel == panel.id:
            made = one.space(as_drawn(panel, flat))
            if panel.mirrored:
                made = made * (-1.0, 1.0, 1.0)
    for number_of_fold, along_fold in mesh.folds:
        made = _folded(made, flat, along_fold, job.folds[number_of_fold].turn)
    return made


def _folded(made: Array, flat: Array, along: Ints, turn: float) -> Array:
    """Return a panel with what lies right of a fold turned about it."""
    start, stop = flat[along[0]], flat[along[-1]]
    way = stop - start
    right = way[0] * (flat[:, 1] - start[1]) - way[1] * (flat[:, 0] - start[0]) < 0
    p = made[along[0]]
    axis = made[along[-1]] - p
    axis = axis / np.linalg.norm(axis)
    # What is right of the line turns down, away from the outer face, for a turn above 0.
    angle = turn
    moved = made[right] - p
    c, s = np.cos(angle), np.sin(angle)
    turned = moved * c + np.cross(axis, moved) * s + np.outer(moved @ axis, axis) * (1 - c)
    found = made.copy()
    found[right] = p + turned
    return found


def _against(
    there: Array,
    there_mesh: PanelMesh,
    mine: Ints,
    local: Array,
    mesh: PanelMesh,
    theirs: Ints,
    turn: float,
) -> Array:
    """Return a panel moved so that its side of a seam lies on the other's, turned over it."""
    target = there[mine]
    up = vertex_normals(there, there_mesh.triangles)[mine]
    along = (
        np.gradient(target, axis=0) if len(target) > 2 else np.tile(target[-1] - target[0], (2, 1))
    )
    along = along / np.maximum(np.linalg.norm(along, axis=1), 1e-12)[:, None]
    # The panel that is there lies left of the side where its points run counter-clockwise.
    run = (int(mine[1]) - int(mine[0])) % there_mesh.boundary
    angle = turn if run * 2 < there_mesh.boundary else -turn
    c, s = np.cos(angle), np.sin(angle)
    wanted = up * c + np.cross(along, up) * s
    source, own = local[theirs], vertex_normals(local, mesh.triangles)[theirs]
    size = max(float(np.linalg.norm(target[-1] - target[0])), float(np.ptp(target)), 1e-6)
    before = np.vstack([source, source + size * own])
    after = np.vstack([target, target + size * wanted])
    rotation, shift = rigid_fit(before, after)
    made: Array = local @ rotation + shift
    return made
