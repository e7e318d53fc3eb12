"""A panel laid flat as it stands: the outline that would take that shape with least strain.

Each triangle asks for the lengths it has come to; the plane can rarely give them all, so that the
stretching energy is made least (the flattening by least stretch of McCartney, Hinds and Seow 1999,
*The flattening of triangulated surfaces*, with this room's own energy in place of springs).
"""

import numpy as np
from scipy.sparse import csc_matrix

from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.formup.contact import Press
from ivory_quilt.core.formup.kernels import stretch_energy
from ivory_quilt.core.formup.shell import POISSON, areas_of
from ivory_quilt.core.formup.solver import Going, Solves, settle
from ivory_quilt.core.formup.stiffness import factored, rest_frames
from ivory_quilt.core.formup.surface import rigid_fit
from ivory_quilt.core.record import Struct

NEAR = 1e-4  # of a mean edge's length: no step moves anything farther at the end
STEPS = 60


class _Flattening(Struct):
    """Stretching energy of places in the plane."""

    triangles: Ints
    rest: Array
    areas: Array
    press: Press | None = None

    def __call__(self, places: Array) -> tuple[float, Array]:
        slope = np.zeros_like(places)
        energy = stretch_energy(places, self.triangles, self.rest, self.areas, POISSON, slope)
        slope[:, 2] = 0.0
        return energy, slope


def laid_as_it_stands(
    flat: Array, triangles: Ints, lengths: Array, going: Going = lambda: True
) -> Array:
    """Return where a panel's points lie in the plane by the lengths that its triangles ask for.

    Args:
        flat: `(n, 2)` mm as it was cut: it is begun from, and the answer lies on it as well as a
            rigid motion lets it.
        triangles: `(m, 3)`.
        lengths: `(m, 3)` mm, opposite each corner.
        going: asked before each step.
    """
    areas = areas_of(lengths)
    sound = areas > 1e-9 * float(areas.max())
    triangles, lengths, areas = triangles[sound], lengths[sound], areas[sound]
    energy = _Flattening(triangles, np.ascontiguousarray(rest_frames(lengths)), areas)
    begin = np.column_stack([flat, np.zeros(len(flat))])
    near = NEAR * float(lengths.mean())
    found = settle(energy, begin, near, STEPS, _laplacian(len(flat), triangles, lengths), going)
    laid = found.places[:, :2]
    turn, shift = rigid_fit(laid, flat)
    made: Array = laid @ turn + shift
    return made


def _laplacian(count: int, triangles: Ints, lengths: Array) -> Solves:
    """Return the factored cotangent Laplacian, held a little: nothing holds the whole."""
    areas = areas_of(lengths)
    a, b, c = lengths.T
    rows, columns, values = [np.arange(count)], [np.arange(count)], [np.full(count, 1e-6)]
    for i, (p, q, r) in enumerate(((a, b, c), (b, c, a), (c, a, b))):
        cot = np.maximum((q * q + r * r - p * p) / (4 * areas), 0.05) / 2
        u, v = triangles[:, (i + 1) % 3], triangles[:, (i + 2) % 3]
        rows += [u, v, u, v]
        columns += [u, v, v, u]
        values += [cot, cot, -cot, -cot]
    at = (np.concatenate(rows), np.concatenate(columns))
    made: Solves = factored(csc_matrix((np.concatenate(values), at), shape=(count, count)))
    return made
