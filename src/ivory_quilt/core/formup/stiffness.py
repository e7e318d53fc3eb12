"""What a shell's energy is made of, and matrices that are near its second derivative."""

from typing import Any, Literal

import numpy as np
from scipy.sparse import csc_matrix, csr_matrix, identity
from scipy.sparse.linalg import splu

from ivory_quilt.core.errors import Stopped
from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.formup.kernels import times_angles, turn_rows
from ivory_quilt.core.formup.shell import Shell, areas_of
from ivory_quilt.core.formup.sparse_pattern import SparsePattern
from ivory_quilt.core.record import Struct, replace

Ordering = Literal["MMD_AT_PLUS_A", "NATURAL"]

SLIGHT = 2e-3
TRIES = 5
OWN = 0.5
"""Of a hinge's stiffness is left where edges turn on their own, about."""


def factored(matrix: csc_matrix, ordering: Ordering = "MMD_AT_PLUS_A") -> Any:
    """Return a symmetric positive matrix, factored; `ordering` is SuperLU's."""
    known: dict[str, Any] = {"diag_pivot_thresh": 0.0, "options": {"SymmetricMode": True}}
    if ordering != "NATURAL":
        known |= {"relax": 1, "panel_size": 1}  # few entries a row: a third sooner one by one
    shift = 0.0
    for _ in range(TRIES):
        try:
            firm = matrix if not shift else (matrix + shift * identity(matrix.shape[0])).tocsc()
            return splu(firm, permc_spec=ordering, **known)
        except RuntimeError:  # singular to the last digit: what is nearly so is held a little
            shift = max(100 * shift, 1e-9 * float(np.abs(matrix.diagonal()).mean()))
    raise Stopped("the pieces are strained beyond what can be reckoned")


def _times(matrix: csr_matrix, angles: Array) -> Array:
    """Return a matrix times angles: compiled, as SciPy takes as long to make ready for it."""
    found = np.empty(matrix.shape[0])
    times_angles(matrix.data, matrix.indices, matrix.indptr, angles, found)
    return found


def rest_frames(lengths: Array) -> Array:
    """Return the inverse of each triangle's rest edges in its plane, row by row, `(m, 4)`."""
    a, b, c = lengths.T  # opposite corners 0, 1, 2
    x = (b * b + c * c - a * a) / (2 * c)
    y = 2 * areas_of(lengths) / c
    # Corner 0 in the origin, 1 at (c, 0), 2 at (x, y): the inverse of [[c, x], [0, y]].
    made: Array = np.column_stack([1 / c, -x / (c * y), np.zeros_like(c), 1 / y])
    return made


class NearMatrix(Struct):
    """A factored matrix over all coordinates, which are taken in an order of their own."""

    factored: Any
    order: Ints

    def solve(self, slope: Array) -> Array:
        """Return the step, `(n, 3)`, that has this slope."""
        found = np.empty(slope.size)
        found[self.order] = self.factored.solve(slope.ravel()[self.order])
        return found.reshape(-1, 3)


class Stiffness(Struct):
    """What the energy is made of, for one set of rest lengths.

    Attributes:
        rest: `(m, 4)`: the inverse of each triangle's rest edges in its plane, row by row.
        weights: `(m,)` thickness × area.
        turning: the energy of angles, `(e, e)`.
        mixed: that of angles with the edges' own turns; `turned` the same, transposed.
        between: that of own turns alone; `own` the same, factored.
        lengths: at rest, that bending was reckoned with.
        order: of the vertices, in which a matrix of theirs fills up least: known once one is
            factored.
    """

    shell: Shell
    rest: Array
    weights: Array
    turning: csr_matrix
    mixed: csr_matrix
    turned: csr_matrix
    between: csc_matrix
    own: Any
    lengths: Array
    order: Ints
    _near: tuple[Ints, SparsePattern] | None = None  # of `near_matrix`, for an order

    @classmethod
    def of(cls, shell: Shell) -> "Stiffness":
        """Return the stiffness of a shell at rest."""
        lengths, areas = shell.lengths, shell.areas
        rest = rest_frames(lengths)
        poisson = shell.poisson
        stiff = shell.thickness**3 / (12 * (1 - poisson**2))
        cosines = np.empty((len(lengths), 3, 3))
        for i in range(3):
            for j in range(3):
                k = 3 - i - j
                if i == j:
                    cosines[:, i, j] = 1.0
                else:
                    p, q, r = lengths[:, i], lengths[:, j], lengths[:, k]
                    cosines[:, i, j] = ((p * p + q * q - r * r) / (2 * p * q)) ** 2
        outer = lengths[:, :, None] * lengths[:, None, :]
        each = (stiff / (4 * areas))[:, None, None] * outer * (poisson + (1 - poisson) * cosines)
        edge_of = shell.edge_of
        pattern = SparsePattern.of((edge_of,), len(shell.edges))
        inner = shell.edges[:, 3] >= 0
        angle: Array = inner[edge_of].astype(np.float64)
        side: Array = 2.0 * shell.sides.astype(np.float64)

        def put(left: Array, right: Array) -> csr_matrix:
            return pattern.matrix(each * left[:, :, None] * right[:, None, :])

        own = put(side, side)
        # Of a symmetric matrix rows are columns.
        between = csc_matrix((own.data, own.indices, own.indptr), shape=own.shape)
        return cls(
            shell,
            np.ascontiguousarray(rest),
            shell.thickness * areas,
            put(angle, angle),
            put(angle, side),
            put(side, angle),
            between,
            factored(between),
            lengths,
            np.arange(shell.count),
        )

    def renewed(self) -> "Stiffness":
        """Return the stiffness of the shell's lengths as they are now.

        Where none changed by more than two thousandths, bending stays as it is: it would change by
        as little.
        """
        lengths = self.shell.lengths
        if float(np.abs(lengths / self.lengths - 1).max()) > SLIGHT:
            return self.of_another(self.shell)
        rest = np.ascontiguousarray(rest_frames(lengths))
        return replace(self, rest=rest, weights=self.shell.thickness * areas_of(lengths))

    def of_another(self, shell: Shell) -> "Stiffness":
        """Return the stiffness of another shell on the same mesh: what only that says is kept."""
        return replace(Stiffness.of(shell), order=self.order, _near=self._near)

    def own_turns(self, angles: Array) -> Array:
        """Return the edges' own turns that cost the least with these angles off rest, radians."""
        found: Array = self.own.solve(_times(self.turned, -angles))
        return found

    def bending(self, angles: Array) -> tuple[float, Array]:
        """Return the energy of angles off rest, and its slope by each of them."""
        own = self.own_turns(angles)
        moments = _times(self.turning, angles) + _times(self.mixed, own)
        return 0.5 * float(angles @ moments), moments

    def preconditioner(self, extra: Array | None = None) -> Any:
        """Return a factored matrix that is near the energy's second derivative, coordinate by one.

        In the plane: the cotangent Laplacian; out of it: the square of each hinge.
        """
        shell, areas = self.shell, self.shell.areas
        count = shell.count
        a, b, c = shell.lengths.T
        rows, columns, values = [], [], []
        for i, (p, q, r) in enumerate(((a, b, c), (b, c, a), (c, a, b))):
            cot = (q * q + r * r - p * p) / (4 * areas)
            weight = shell.thickness * np.maximum(cot, 0.05) / 2
            u, v = shell.triangles[:, (i + 1) % 3], shell.triangles[:, (i + 2) % 3]
            rows += [u, v, u, v]
            columns += [u, v, v, u]
            values += [weight, weight, -weight, -weight]
        stencil, weight = self._hinges()
        inner = np.flatnonzero(shell.edges[:, 3] >= 0)
        vertices = shell.edges[inner]
        each = weight[:, None, None] * stencil[:, :, None] * stencil[:, None, :]
        rows.append(np.repeat(vertices, 4, axis=1).ravel())
        columns.append(np.tile(vertices, (1, 4)).ravel())
        values.append(each.ravel())
        diagonal = np.full(count, 1e-6 * float(np.mean(shell.thickness)))
        if extra is not None:
            diagonal = diagonal + extra
        rows.append(np.arange(count))
        columns.append(np.arange(count))
        values.append(diagonal)
        at = (np.concatenate(rows), np.concatenate(columns))
        matrix = csc_matrix((np.concatenate(values), at), shape=(count, count))
        made = factored(matrix)
        self.order = np.argsort(made.perm_c)
        return made

    def near_matrix(self, places: Array, held: tuple[Array, Array] | None = None) -> "NearMatrix":
        """Return the Gauss-Newton matrix at places, factored: far nearer to the truth than the
        preconditioner, where the start is near the end.

        Strain is √2 sym(FᵀdF); bending goes hinge by hinge, as if edges had no turns of their own.
        `held` is how stiffly each vertex is held, and along which way.
        """
        shell = self.shell
        count = shell.count
        inner = np.flatnonzero(shell.edges[:, 3] >= 0)
        stretch = self._strain_slopes(places)
        turns = turn_rows(places, shell.edges)[inner]
        hinge = np.maximum(OWN * self.turning.diagonal()[inner], 1e-12)
        firm = np.tile(1e-7 * float(np.mean(shell.thickness)) * np.eye(3), (count, 1, 1))
        if held is not None:
            stiff, way = held
            firm += stiff[:, None, None] * way[:, :, None] * way[:, None, :]
        matrix = self._near_pattern(inner).blocks(
            (
                stretch.swapaxes(1, 2) @ (self.weights[:, None, None] * stretch),
                hinge[:, None, None] * turns[:, :, None] * turns[:, None, :],
                firm,
            )
        )
        order = (3 * self.order[:, None] + np.arange(3)).ravel()
        return NearMatrix(factored(matrix, "NATURAL"), order)

    def _near_pattern(self, inner: Ints) -> SparsePattern:
        """Return where the near matrix has entries: triangles, hinges, and vertices alone."""
        shell, known = self.shell, self._near
        if known is None or known[0] is not self.order:
            at = np.empty(shell.count, dtype=np.int64)
            at[self.order] = np.arange(shell.count)
            elements = (at[shell.triangles], at[shell.edges[inner]], at[:, None])
            known = self._near = (self.order, SparsePattern.of(elements, shell.count))
        return known[1]

    def _strain_slopes(self, places: Array) -> Array:
        """Return the slopes of each triangle's three strains by its corners, `(m, 3, 9)`."""
        shell, rest = self.shell, self.rest
        i, j, k = shell.triangles.T
        one, two = places[j] - places[i], places[k] - places[i]
        f0 = one * rest[:, 0:1]
        f1 = one * rest[:, 1:2] + two * rest[:, 3:4]
        # dF/d(one) = (r00, r01), dF/d(two) = (0, r11)
        g0, g1, h1 = rest[:, 0:1], rest[:, 1:2], rest[:, 3:4]
        root = np.sqrt(0.5)
        by_one = np.stack([f0 * g0, f1 * g1, root * (f0 * g1 + f1 * g0)], axis=1)
        by_two = np.stack([np.zeros_like(f0), f1 * h1, root * f0 * h1], axis=1)
        by = np.stack([-(by_one + by_two), by_one, by_two], axis=2)  # (m, 3, 3 corners, 3)
        return by.reshape(len(i), 3, 9)

    def _hinges(self) -> tuple[Array, Array]:
        """Return each inner edge's turn as weights of its four vertices, and its stiffness."""
        shell, areas = self.shell, self.shell.areas
        inner = np.flatnonzero(shell.edges[:, 3] >= 0)
        where = np.full(len(shell.edges), -1)
        where[inner] = np.arange(len(inner))
        stencil = np.zeros((len(inner), 4))
        around, long = np.zeros(len(inner)), np.zeros(len(inner))
        stiff = np.zeros(len(inner))
        for k in range(3):
            at = where[shell.edge_of[:, k]]
            good = at >= 0
            at, mine = at[good], np.flatnonzero(good)
            length = shell.lengths[mine, k]
            first = shell.triangles[mine, (k + 1) % 3]
            away = 2 * areas[mine] / length
            from_first = shell.lengths[mine, (k + 2) % 3]
            foot = np.sqrt(np.maximum(from_first**2 - away**2, 0.0))
            longer = shell.lengths[mine, (k + 1) % 3] ** 2 > from_first**2 + length**2
            foot = np.where(longer, -foot, foot) / length
            same = shell.edges[inner[at], 0] == first
            np.add.at(stencil, (at, np.where(same, 0, 1)), (1 - foot) / away)
            np.add.at(stencil, (at, np.where(same, 1, 0)), foot / away)
            far = np.where(shell.sides[mine, k] > 0, 2, 3)
            np.add.at(stencil, (at, far), -1 / away)
            around[at] += areas[mine]
            long[at] = length
            stiff[at] += shell.thickness[mine] ** 3 / 24
        return stencil, stiff * long**2 / around
