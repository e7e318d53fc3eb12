"""A shape on one mesh carried to another one of the same panels, finer or a little changed."""

import numpy as np
from scipy.spatial import cKDTree

from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.meshing import PanelMesh
from ivory_quilt.core.formup.shell import Shell
from ivory_quilt.core.formup.surface import shares_of


def carried(
    rough: list[PanelMesh],
    few: Shell,
    places: Array,
    curved: Array,
    meshes: list[PanelMesh],
    shell: Shell,
) -> tuple[Array, Array]:
    """Return a coarse shape's places and curvature for a finer mesh."""
    finer = np.zeros((len(shell.triangles), 3))
    total, times = np.zeros((shell.count, 3)), np.zeros(shell.count)
    for k, (coarse, fine) in enumerate(zip(rough, meshes, strict=True)):
        at = places[few.vertex_of[k]]
        corners = coarse.points[coarse.triangles]
        a, b, c = corners[:, 0], corners[:, 1], corners[:, 2]
        count = min(8, len(corners))
        _, near = cKDTree(corners.mean(1)).query(fine.points, k=count)
        near = np.asarray(near).reshape(len(fine.points), count)
        p, q = (b - a)[near], (c - a)[near]
        r = fine.points[:, None, :] - a[near]
        u, v = shares_of(r, p, q)
        inside = np.minimum(np.minimum(u, v), 1 - u - v)
        best = np.argmax(inside, axis=1)
        rows = np.arange(len(best))
        u, v = u[rows, best], v[rows, best]
        corner = at[coarse.triangles[near[rows, best]]]
        made = corner[:, 0] * (1 - u - v)[:, None] + corner[:, 1] * u[:, None]
        made += corner[:, 2] * v[:, None]
        for axis in range(3):
            total[:, axis] += np.bincount(shell.vertex_of[k], made[:, axis], shell.count)
        times += np.bincount(shell.vertex_of[k], minlength=shell.count)
        mine, theirs = np.flatnonzero(shell.panel_of == k), np.flatnonzero(few.panel_of == k)
        middles = fine.points[fine.triangles].mean(1)
        count = min(3, len(theirs))
        far, near = cKDTree(corners.mean(1)).query(middles, k=count)
        far, near = np.reshape(far, (-1, count)), np.reshape(near, (-1, count))
        share = 1 / np.maximum(far, 1e-9)
        share /= share.sum(1)[:, None]
        finer[mine] = (curved[theirs[near]] * share[:, :, None]).sum(1)
    return total / times[:, None], finer
