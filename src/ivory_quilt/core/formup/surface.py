"""Triangles in space, with NumPy alone: the window draws with it, too."""

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Ints


def vertex_normals(places: Array, triangles: Ints) -> Array:
    """Return the unit normal of the surface at each vertex, `(n, 3)`."""
    a, b, c = (places[triangles[:, k]] for k in range(3))
    facing = np.cross(b - a, c - a)
    made = np.zeros_like(places)
    for k in range(3):
        for axis in range(3):
            made[:, axis] += np.bincount(triangles[:, k], facing[:, axis], len(made))
    found: Array = made / np.maximum(np.linalg.norm(made, axis=1), 1e-12)[:, None]
    return found
