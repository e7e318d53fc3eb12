"""The compiled inner loops of form-up: stretch and turns of a shell, with their slopes."""

import math

import numpy as np
from numba import njit

from ivory_quilt.core.nesting.kernels.cache import use_checked_files

use_checked_files()  # before any kernel is declared


@njit(nogil=True, cache=True)
def stretch_energy(places, triangles, rest, weights, poisson, slope):
    """Add the slope of the stretching energy to `slope`; return the energy.

    Per triangle, from its deformation F (3 × 2) with the principal stretches' matrix S = √(FᵀF):
    t A [μ |S − 1|² + λ/2 (tr S − 2)²], corotated; plane stress, E = 1.
    """
    mu = 0.5 / (1.0 + poisson)
    lam = poisson / (1.0 - poisson * poisson)
    total = 0.0
    for t in range(triangles.shape[0]):
        i, j, k = triangles[t, 0], triangles[t, 1], triangles[t, 2]
        r00, r01, r11 = rest[t, 0], rest[t, 1], rest[t, 3]
        d1x = places[j, 0] - places[i, 0]
        d1y = places[j, 1] - places[i, 1]
        d1z = places[j, 2] - places[i, 2]
        d2x = places[k, 0] - places[i, 0]
        d2y = places[k, 1] - places[i, 1]
        d2z = places[k, 2] - places[i, 2]
        f0x = d1x * r00
        f0y = d1y * r00
        f0z = d1z * r00
        f1x = d1x * r01 + d2x * r11
        f1y = d1y * r01 + d2y * r11
        f1z = d1z * r01 + d2z * r11
        a = f0x * f0x + f0y * f0y + f0z * f0z
        b = f0x * f1x + f0y * f1y + f0z * f1z
        c = f1x * f1x + f1y * f1y + f1z * f1z
        det = math.sqrt(max(a * c - b * b, 1e-24))
        trace = math.sqrt(a + c + 2.0 * det)
        # S = (C + det) / trace; its inverse by cofactors, det S = det.
        s00 = (a + det) / trace
        s01 = b / trace
        s11 = (c + det) / trace
        i00 = s11 / det
        i01 = -s01 / det
        i11 = s00 / det
        spread = trace - 2.0
        square = (s00 - 1.0) ** 2 + 2.0 * s01 * s01 + (s11 - 1.0) ** 2
        w = weights[t]
        total += w * (mu * square + 0.5 * lam * spread * spread)
        # P = 2 μ (F − R) + λ spread R, R = F S⁻¹
        g = lam * spread - 2.0 * mu
        p0x = 2.0 * mu * f0x + g * (f0x * i00 + f1x * i01)
        p0y = 2.0 * mu * f0y + g * (f0y * i00 + f1y * i01)
        p0z = 2.0 * mu * f0z + g * (f0z * i00 + f1z * i01)
        p1x = 2.0 * mu * f1x + g * (f0x * i01 + f1x * i11)
        p1y = 2.0 * mu * f1y + g * (f0y * i01 + f1y * i11)
        p1z = 2.0 * mu * f1z + g * (f0z * i01 + f1z * i11)
        jx = w * (p0x * r00 + p1x * r01)
        jy = w * (p0y * r00 + p1y * r01)
        jz = w * (p0z * r00 + p1z * r01)
        kx = w * p1x * r11
        ky = w * p1y * r11
        kz = w * p1z * r11
        slope[j, 0] += jx
        slope[j, 1] += jy
        slope[j, 2] += jz
        slope[k, 0] += kx
        slope[k, 1] += ky
        slope[k, 2] += kz
        slope[i, 0] -= jx + kx
        slope[i, 1] -= jy + ky
        slope[i, 2] -= jz + kz
    return total


@njit(nogil=True, cache=True)
def edge_turns(places, edges, turns):
    """Put the angle by which the surface turns away over each inner edge into `turns`, radians."""
    for e in range(edges.shape[0]):
        if edges[e, 3] < 0:
            turns[e] = 0.0
            continue
        a, b, c, d = edges[e, 0], edges[e, 1], edges[e, 2], edges[e, 3]
        ex = places[b, 0] - places[a, 0]
        ey = places[b, 1] - places[a, 1]
        ez = places[b, 2] - places[a, 2]
        cx = places[c, 0] - places[a, 0]
        cy = places[c, 1] - places[a, 1]
        cz = places[c, 2] - places[a, 2]
        dx = places[d, 0] - places[a, 0]
        dy = places[d, 1] - places[a, 1]
        dz = places[d, 2] - places[a, 2]
        # Normals: of the triangle at c, e × c; of the one at d, d × e.
        nx = ey * cz - ez * cy
        ny = ez * cx - ex * cz
        nz = ex * cy - ey * cx
        mx = dy * ez - dz * ey
        my = dz * ex - dx * ez
        mz = dx * ey - dy * ex
        length = math.sqrt(ex * ex + ey * ey + ez * ez)
        if length < 1e-12:
            turns[e] = 0.0
            continue
        # The normal turns from c's triangle to d's about the edge; away from the outer face is +.
        sx = ny * mz - nz * my
        sy = nz * mx - nx * mz
        sz = nx * my - ny * mx
        sine = (sx * ex + sy * ey + sz * ez) / length
        turns[e] = math.atan2(sine, nx * mx + ny * my + nz * mz)


@njit(nogil=True, cache=True, forceinline=True)
def _turn_slope(places, edges, e, found):
    """Put the slope of an edge's angle by each of its four vertices into `found`, (4, 3).

    Returns whether it has one: an inner edge, no triangle of which has lost its area.
    """
    if edges[e, 3] < 0:
        return False
    a, b, c, d = edges[e, 0], edges[e, 1], edges[e, 2], edges[e, 3]
    ex = places[b, 0] - places[a, 0]
    ey = places[b, 1] - places[a, 1]
    ez = places[b, 2] - places[a, 2]
    cx = places[c, 0] - places[a, 0]
    cy = places[c, 1] - places[a, 1]
    cz = places[c, 2] - places[a, 2]
    dx = places[d, 0] - places[a, 0]
    dy = places[d, 1] - places[a, 1]
    dz = places[d, 2] - places[a, 2]
    nx = ey * cz - ez * cy
    ny = ez * cx - ex * cz
    nz = ex * cy - ey * cx
    mx = dy * ez - dz * ey
    my = dz * ex - dx * ez
    mz = dx * ey - dy * ex
    long2 = ex * ex + ey * ey + ez * ez
    n2 = nx * nx + ny * ny + nz * nz
    m2 = mx * mx + my * my + mz * mz
    if long2 < 1e-24 or n2 < 1e-24 or m2 < 1e-24:
        return False
    length = math.sqrt(long2)
    # Moving a far corner outwards turns the surface towards the outer face.
    u = -length / n2
    v = -length / m2
    # Foot of each far corner along the edge, as a share from a.
    fc = (cx * ex + cy * ey + cz * ez) / long2
    fd = (dx * ex + dy * ey + dz * ez) / long2
    for corner in range(4):
        if corner == 0:
            p, q = -(1.0 - fc) * u, -(1.0 - fd) * v
        elif corner == 1:
            p, q = -fc * u, -fd * v
        elif corner == 2:
            p, q = u, 0.0
        else:
            p, q = 0.0, v
        found[corner, 0] = p * nx + q * mx
        found[corner, 1] = p * ny + q * my
        found[corner, 2] = p * nz + q * mz
    return True


@njit(nogil=True, cache=True)
def turn_slopes(places, edges, moments, slope):
    """Add moment × slope of its angle, for each inner edge, to `slope`."""
    found = np.zeros((4, 3))
    for e in range(edges.shape[0]):
        if _turn_slope(places, edges, e, found):
            for corner in range(4):
                for axis in range(3):
                    slope[edges[e, corner], axis] += moments[e] * found[corner, axis]


@njit(nogil=True, cache=True)
def turn_rows(places, edges):
    """Return the slopes of each edge's angle by the places of its four vertices, `(e, 12)`.

    Those of an edge with one triangle are 0.
    """
    count = edges.shape[0]
    values = np.zeros((count, 12))
    found = np.zeros((4, 3))
    for e in range(count):
        if _turn_slope(places, edges, e, found):
            for corner in range(4):
                for axis in range(3):
                    values[e, 3 * corner + axis] = found[corner, axis]
    return values


@njit(nogil=True, cache=True)
def drop_steps(steps, changes, first, count, rest, shares):
    """First loop of limited-memory BFGS: take known steps' share out of a slope, newest first."""
    room = steps.shape[0]
    for k in range(count - 1, -1, -1):
        at = (first + k) % room
        along, mine = 0.0, 0.0
        for i in range(rest.shape[0]):
            along += steps[at, i] * changes[at, i]
            mine += steps[at, i] * rest[i]
        shares[at] = mine / along
        for i in range(rest.shape[0]):
            rest[i] -= shares[at] * changes[at, i]


@njit(nogil=True, cache=True)
def add_steps(steps, changes, first, count, rest, shares):
    """Second loop: put them back, as the energy is curved along them, oldest first."""
    room = steps.shape[0]
    for k in range(count):
        at = (first + k) % room
        along, mine = 0.0, 0.0
        for i in range(rest.shape[0]):
            along += steps[at, i] * changes[at, i]
            mine += changes[at, i] * rest[i]
        back = shares[at] - mine / along
        for i in range(rest.shape[0]):
            rest[i] += back * steps[at, i]


@njit(nogil=True, cache=True)
def off_rest(angles, turns, edges, off):
    """Put how far angles are off rest into `off`: the nearer way round, 0 where no surface ends."""
    whole = 2.0 * math.pi
    for e in range(edges.shape[0]):
        if edges[e, 3] < 0:
            off[e] = 0.0
        else:
            away = angles[e] - turns[e]
            off[e] = away - whole * math.floor(away / whole + 0.5)


@njit(nogil=True, cache=True)
def times_angles(data, indices, starts, angles, found):
    """Put a sparse matrix, row by row (CSR), times angles into `found`."""
    for row in range(starts.shape[0] - 1):
        total = 0.0
        for at in range(starts[row], starts[row + 1]):
            total += data[at] * angles[indices[at]]
        found[row] = total


@njit(nogil=True, cache=True)
def contact_energy(far, out, half, stiffness, pressed, reach, slope):
    """Add the slope of one-sided contact to `slope`; return its energy.

    Inside half its thickness a vertex is pushed by ½ k g²; outside it is pressed on by
    ½ p k r² (1 − exp(−g²/r²)): a spring near the former, nothing far from it.
    """
    total = 0.0
    for i in range(far.shape[0]):
        gap = far[i] - half[i]
        if gap < 0.0:
            force = stiffness[i] * gap
            total += 0.5 * force * gap
        else:
            room = reach * half[i]
            near = math.exp(-min((gap / room) ** 2, 50.0))
            pull = pressed * stiffness[i]
            force = pull * gap * near
            total += 0.5 * pull * room * room * (1.0 - near)
        for axis in range(3):
            slope[i, axis] += force * out[i, axis]
    return total


@njit(nogil=True, cache=True, forceinline=True)
def _between_grid(values, x, y, z):
    """Return what a grid has at a place in cells, trilinear; beyond its end as at the end."""
    x = min(max(x, 0.0), values.shape[0] - 1.0)
    y = min(max(y, 0.0), values.shape[1] - 1.0)
    z = min(max(z, 0.0), values.shape[2] - 1.0)
    i, j, k = int(x), int(y), int(z)
    m, n, o = (
        min(i + 1, values.shape[0] - 1),
        min(j + 1, values.shape[1] - 1),
        min(k + 1, values.shape[2] - 1),
    )
    u, v, w = x - i, y - j, z - k
    low = (1 - v) * ((1 - w) * values[i, j, k] + w * values[i, j, o])
    low += v * ((1 - w) * values[i, n, k] + w * values[i, n, o])
    high = (1 - v) * ((1 - w) * values[m, j, k] + w * values[m, j, o])
    high += v * ((1 - w) * values[m, n, k] + w * values[m, n, o])
    return (1 - u) * low + u * high


@njit(nogil=True, cache=True)
def grid_away(values, low, step, places, far, out):
    """Put a grid's distance at each place into `far`, and the direction outwards into `out`.

    That is of its slope, by half a cell to either side along each axis.
    """
    sides = np.zeros(3)
    for p in range(places.shape[0]):
        x = (places[p, 0] - low[0]) / step
        y = (places[p, 1] - low[1]) / step
        z = (places[p, 2] - low[2]) / step
        far[p] = _between_grid(values, x, y, z)
        sides[0] = _between_grid(values, x + 0.5, y, z) - _between_grid(values, x - 0.5, y, z)
        sides[1] = _between_grid(values, x, y + 0.5, z) - _between_grid(values, x, y - 0.5, z)
        sides[2] = _between_grid(values, x, y, z + 0.5) - _between_grid(values, x, y, z - 0.5)
        length = math.sqrt(sides[0] ** 2 + sides[1] ** 2 + sides[2] ** 2)
        for axis in range(3):
            out[p, axis] = sides[axis] / max(length, 1e-9)


@njit(nogil=True, cache=True)
def breath_energy(places, triangles, pressure, slope):
    """Add the slope of pressure on all outer faces to `slope`; return its energy.

    A sixth of the triple product of each triangle's corners is its share of the volume inside.
    """
    count = places.shape[0]
    middle = np.zeros(3)
    for i in range(count):
        for axis in range(3):
            middle[axis] += places[i, axis] / count
    total = 0.0
    for t in range(triangles.shape[0]):
        for turn in range(3):
            i, j, k = triangles[t, turn], triangles[t, (turn + 1) % 3], triangles[t, (turn + 2) % 3]
            for axis in range(3):
                p, q = (axis + 1) % 3, (axis + 2) % 3
                across = (places[j, p] - middle[p]) * (places[k, q] - middle[q]) - (
                    places[j, q] - middle[q]
                ) * (places[k, p] - middle[p])
                slope[i, axis] -= pressure / 6 * across
                if turn == 0:
                    total += (places[i, axis] - middle[axis]) * across
    return -pressure / 6 * total
