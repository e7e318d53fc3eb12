"""What a solved shell tells of its triangles: strain and curvature."""

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Bools
from ivory_quilt.core.formup.outcome import StrainSpread
from ivory_quilt.core.formup.shell import Shell
from ivory_quilt.core.formup.solver import Energy
from ivory_quilt.core.formup.stiffness import rest_frames


def principal(shell: Shell, places: Array) -> Array:
    """Return the principal strains of each triangle, smaller first, `(m, 2)`."""
    rest = rest_frames(shell.true)
    a, b, c = (places[shell.triangles[:, k]] for k in range(3))
    one, two = b - a, c - a
    first = one * rest[:, 0:1]
    second = one * rest[:, 1:2] + two * rest[:, 3:4]
    xx, xy, yy = (first * first).sum(1), (first * second).sum(1), (second * second).sum(1)
    mean, half = (xx + yy) / 2, np.hypot((xx - yy) / 2, xy)
    low = np.sqrt(np.maximum(mean - half, 0.0)) - 1
    high = np.sqrt(mean + half) - 1
    return np.column_stack([low, high])


def spread_of(strains: Array, areas: Array, shown: Bools) -> StrainSpread:
    """Return the percentiles of principal strains, each triangle by its area; `shown` ones only."""
    values = strains[shown].ravel()
    if not len(values):
        return StrainSpread(0.0, 0.0, 0.0)
    weights = np.repeat(areas[shown], 2)
    order = np.argsort(values)
    values, weights = values[order], np.cumsum(weights[order])
    at = np.searchsorted(weights / weights[-1], (0.01, 0.5, 0.99))
    p01, p50, p99 = (float(values[min(int(k), len(values) - 1)]) for k in at)
    return StrainSpread(p01, p50, p99)


def face_strains(shell: Shell, places: Array, curved: Array) -> tuple[Array, Array]:
    """Return the principal strains of the outer and the inner face, `(m, 2)` each, smaller first.

    A plate's faces are strained like its middle surface, and by half its thickness times the
    curvature that it was bent to cold (Kirchhoff's hypothesis); what heat shaped is at rest.
    """
    edge = shell.flat_edges
    x, y = edge[:, :, 0], edge[:, :, 1]
    corners = places[shell.triangles]
    real = np.linalg.norm(np.roll(corners, -2, 1) - np.roll(corners, -1, 1), axis=2)
    square = (x * x + y * y) * (real / shell.true) ** 2
    rows = np.stack([x * x, 2 * x * y, y * y], axis=2)
    xx, xy, yy = np.linalg.solve(rows, square[:, :, None])[:, :, 0].T
    # The root of a symmetric matrix of two rows, less one.
    root = np.sqrt(np.maximum(xx * yy - xy * xy, 1e-12))
    trace = np.sqrt(xx + yy + 2 * root)
    strain = np.stack([(xx + root) / trace - 1, xy / trace, (yy + root) / trace - 1], axis=1)
    bent = (shell.thickness / 2)[:, None] * (curved - shell.bent)
    found = []
    for one in (strain + bent, strain - bent):
        mean, half = (one[:, 0] + one[:, 2]) / 2, np.hypot((one[:, 0] - one[:, 2]) / 2, one[:, 1])
        found.append(np.column_stack([mean - half, mean + half]))
    return found[0], found[1]


def drift(energy: Energy, places: Array) -> Array:
    """Return the strain by which angles alone would pull each triangle, xx, xy, yy, `(m, 3)`.

    An edge that lies aslant to the curve turns less when its triangle is stretched along it, so
    that bending seems to save energy by stretching, by some (t κ)²/24; thick foam does no such
    thing, as its fibres' lengths say. With M = D S and edges' directions τ, normals ν:
    Σ (t²/12) (α l / 2A) (τ·S ν) sym(τ ν).
    """
    shell = energy.stiffness.shell
    off, own = energy.off_rest(places)
    each = off[shell.edge_of] + 2 * shell.sides * own[shell.edge_of]
    edge = shell.flat_edges
    x, y = edge[:, :, 0], edge[:, :, 1]
    long = np.hypot(x, y)
    tx, ty = x / long, y / long
    nx, ny = ty, -tx
    area = 0.5 * np.abs(x[:, 0] * y[:, 1] - y[:, 0] * x[:, 1])
    weight = each * long / (2 * area[:, None])
    sxx, sxy, syy = ((weight * a * b).sum(1)[:, None] for a, b in ((nx, nx), (nx, ny), (ny, ny)))
    bent = tx * (sxx * nx + sxy * ny) + ty * (sxy * nx + syy * ny)
    pull = (shell.thickness**2 / 12)[:, None] * weight * bent
    made = (pull * tx * nx, pull * (tx * ny + ty * nx) / 2, pull * ty * ny)
    return np.stack([m.sum(1) for m in made], axis=1)


def curvature(energy: Energy, places: Array) -> Array:
    """Return each triangle's curvature in its panel's flat plane, 1/mm: xx, xy, yy, `(m, 3)`.

    Of the foam's curve alone: what a fold or a bevelled seam turns does not count.
    """
    shell = energy.stiffness.shell
    off, own = energy.off_rest(places)
    each = off[shell.edge_of] + 2 * shell.sides * own[shell.edge_of]
    # S = Σ α_i / (2 A l_i) t_i t_iᵀ, with t_i across edge i and as long as it: along edge j that is
    # the sum of α_i times the height over i, for the two other edges.
    high = each * 2 * shell.areas[:, None] / shell.lengths
    bent = high.sum(1)[:, None] - high
    edge = shell.flat_edges
    x, y = edge[:, :, 0], edge[:, :, 1]
    rows = np.stack([x * x, 2 * x * y, y * y], axis=2)
    second = np.linalg.solve(rows, bent[:, :, None])[:, :, 0]
    first = np.linalg.solve(rows, (shell.lengths**2)[:, :, None])[:, :, 0]
    # The shape operator in the flat plane: I^(-1/2) II I^(-1/2).
    root = np.sqrt(np.maximum(first[:, 0] * first[:, 2] - first[:, 1] ** 2, 1e-12))
    trace = np.sqrt(first[:, 0] + first[:, 2] + 2 * root)
    xx, xy, yy = (first[:, 2] + root) / trace, -first[:, 1] / trace, (first[:, 0] + root) / trace
    half = np.stack([xx, xy, xy, yy], axis=1).reshape(-1, 2, 2) / root[:, None, None]
    inner = second[:, [0, 1, 1, 2]].reshape(-1, 2, 2)
    found = half @ inner @ half
    fresh = np.stack([found[:, 0, 0], found[:, 0, 1], found[:, 1, 1]], axis=1)
    made: Array = shell.bent + fresh
    return made
