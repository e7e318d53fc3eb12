"""A formed assembly as a solid to be painted: both faces and edges, in bands of strain.

Bands have fixed limits, so that two shapes can be compared at a glance; lines run where one band
meets the next, for those to whom tones say little.
"""

from dataclasses import replace

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.formup.surface import vertex_normals
from ivory_quilt.core.stacks.solid import Solid

BANDS = (-0.08, -0.04, -0.015, 0.015, 0.04, 0.08)
"""Limits of strain between bands: crushed most to stretched most. Common practice, no source."""
CALM = 3  # the band around no strain
MASKED = len(BANDS) + 1
"""The layer of what is masked, after all bands."""
ALONG = 0.6  # cosine: a tube or a cone, whose faces look along it, stands upright instead
CLOSED = 0.15  # of all faces: where less looks one way, no side is the front


def bands_of(panel: FormedPanel) -> Ints:
    """Return the band of each triangle: 0 crushed most, 6 stretched most, 7 masked."""
    found = np.searchsorted(BANDS, panel.at_points[panel.triangles].mean(1))
    made: Ints = np.where(panel.masked, MASKED, found).astype(np.int64)
    return made


def solid_of_form(shape: FormedShape) -> Solid:
    """Return a formed assembly with its thickness; layers are bands of strain."""
    corners, normals, layers, lines = [], [], [], []
    turn = _facing(shape)
    for panel in (replace(p, places=p.places @ turn) for p in shape.panels):
        out = vertex_normals(panel.places, panel.triangles)
        half = panel.thickness / 2
        outer, inner = panel.places + half * out, panel.places - half * out
        band = bands_of(panel)
        for places, facing, triangles in (
            (outer, out, panel.triangles),
            (inner, -out, panel.triangles[:, ::-1]),
        ):
            corners.append(places[triangles])
            normals.append(facing[triangles])
            layers.append(band)
        wall, wall_band = _walls(panel, outer, inner, band)
        corners.append(wall)
        across = np.cross(wall[:, 1] - wall[:, 0], wall[:, 2] - wall[:, 0])
        across /= np.maximum(np.linalg.norm(across, axis=1), 1e-9)[:, None]
        normals.append(np.repeat(across[:, None], 3, axis=1))
        layers.append(wall_band)
        rim = np.arange(panel.boundary + 1) % panel.boundary
        lines += [outer[rim], inner[rim]]
        lines += _contours(panel, outer)
    return Solid(
        np.concatenate(corners),
        np.concatenate(normals),
        np.concatenate(layers).astype(np.int32),
        (1.0,) * (MASKED + 1),
        tuple(lines),
    )


def _facing(shape: FormedShape) -> Array:
    """Return the turn that brings outer faces towards the eye, and the first panel upright."""
    total, whole = np.zeros(3), 0.0
    for panel in shape.panels:
        a, b, c = (panel.places[panel.triangles[:, k]] for k in range(3))
        facing = np.cross(b - a, c - a)
        total += facing.sum(0)
        whole += float(np.linalg.norm(facing, axis=1).sum())
    first = shape.panels[0]
    flat = first.flat - first.flat.mean(0)
    across, up = np.linalg.lstsq(flat, first.places - first.places.mean(0), rcond=None)[0]
    out = np.cross(across, up)
    length = float(np.linalg.norm(total))
    upright = abs(float(total @ up)) < ALONG * length * float(np.linalg.norm(up))
    if length > CLOSED * whole and upright:
        out = total
    out /= max(float(np.linalg.norm(out)), 1e-9)
    up -= out * float(up @ out)
    if np.linalg.norm(up) < 1e-6:
        return np.eye(3)
    up /= np.linalg.norm(up)
    made: Array = np.column_stack([np.cross(up, out), up, out])
    return made


def _walls(panel: FormedPanel, outer: Array, inner: Array, band: Ints) -> tuple[Array, Ints]:
    """Return the triangles of the cut edges, each with the band of what it borders."""
    start = np.arange(panel.boundary)
    stop = (start + 1) % panel.boundary
    first = np.vstack([panel.triangles[:, [k, (k + 1) % 3]] for k in range(3)])
    owner = {(int(i), int(j)): k % len(band) for k, (i, j) in enumerate(first)}
    sides = zip(start.tolist(), stop.tolist(), strict=True)
    mine = np.array([band[owner.get(side, 0)] for side in sides])
    one = np.stack([outer[start], inner[start], inner[stop]], axis=1)
    other = np.stack([outer[start], inner[stop], outer[stop]], axis=1)
    return np.vstack([one, other]), np.concatenate([mine, mine])


def _contours(panel: FormedPanel, places: Array) -> list[Array]:
    """Return lines on a face where the strain passes from band to band."""
    strain, made = panel.at_points, []
    shown = panel.triangles[~panel.masked]
    values = strain[shown]
    for limit in BANDS:
        above = values > limit
        for corners, high, value in zip(
            *(x[above.any(1) & ~above.all(1)] for x in (shown, above, values)), strict=True
        ):
            ends = []
            for k in range(3):
                j = (k + 1) % 3
                if high[k] != high[j]:
                    share = (limit - value[k]) / (value[j] - value[k])
                    ends.append(places[corners[k]] * (1 - share) + places[corners[j]] * share)
            made.append(np.array(ends))
    return made
