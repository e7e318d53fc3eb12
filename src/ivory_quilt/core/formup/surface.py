"""Triangles in the plane and in space, with NumPy alone: the window draws with it, too."""

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Ints

ALL_ROUND = 0.15  # of all faces: what looks less one way goes all round, and has no front


def faces_of(places: Array, triangles: Ints) -> Array:
    """Return the normal of each triangle, as long as twice its area, `(m, 3)`."""
    a, b, c = (places[triangles[:, k]] for k in range(3))
    found: Array = np.cross(b - a, c - a)
    return found


def vertex_normals(places: Array, triangles: Ints) -> Array:
    """Return the unit normal of the surface at each vertex, `(n, 3)`."""
    facing = faces_of(places, triangles)
    made = np.zeros_like(places)
    for k in range(3):
        for axis in range(3):
            made[:, axis] += np.bincount(triangles[:, k], facing[:, axis], len(made))
    found: Array = made / np.maximum(np.linalg.norm(made, axis=1), 1e-12)[:, None]
    return found


def rigid_fit(before: Array, after: Array) -> tuple[Array, Array]:
    """Return the turn and shift that move points onto others as well as can be, never mirrored.

    Points of either number of axes, `(n, d)`; they come to `points @ turn + shift` (Kabsch 1976).
    """
    middle, there = before.mean(0), after.mean(0)
    u, _, vt = np.linalg.svd((before - middle).T @ (after - there))
    keeps = np.ones(before.shape[1])
    keeps[-1] = np.sign(np.linalg.det(u @ vt)) or 1.0
    turn: Array = (u * keeps) @ vt
    return turn, there - middle @ turn


def shares_of(away: Array, one: Array, other: Array) -> tuple[Array, Array]:
    """Return the shares of two sides of triangles that places in the plane lie at, `(..., 2)` each.

    `away` is from the corner that both sides begin at: away = u one + v other.
    """
    area = one[..., 0] * other[..., 1] - one[..., 1] * other[..., 0]
    u = (away[..., 0] * other[..., 1] - away[..., 1] * other[..., 0]) / area
    v = (one[..., 0] * away[..., 1] - one[..., 1] * away[..., 0]) / area
    return u, v
