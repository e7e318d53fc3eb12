"""A formed assembly as a solid to be painted: both faces and edges, in bands of strain.

Bands have fixed limits, so that two shapes can be compared at a glance; lines run where one band
meets the next, for those to whom tones say little.
"""

from collections.abc import Iterable

import numpy as np

from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape
from ivory_quilt.core.formup.surface import ALL_ROUND, faces_of, vertex_normals
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.solid import Solid

BANDS = (-0.08, -0.04, -0.015, 0.015, 0.04, 0.08)
"""Limits of strain between bands: crushed most to stretched most. Common practice, no source."""
CALM = 3  # the band around no strain
MASKED = len(BANDS) + 1
"""The layer of what is masked, after all bands."""
BODY = MASKED + 1  # the layer of the wearer's body
# From the figure's axes to those of a picture from the front: its left is at the right.
FRONT = np.array([[-1.0, 0.0, 0.0], [0.0, 0.0, 1.0], [0.0, 1.0, 0.0]])
BENDS = 0.03  # square of the sine between two stretches of a rim: less is one straight edge
FARTHEST = 2.5  # of a bevel's width: a sharp corner is cut off there
ALONG = 0.6  # cosine: a tube or a cone, whose faces look along it, stands upright instead


def bands_of(panel: FormedPanel) -> Ints:
    """Return the band of each triangle: 0 crushed most, 6 stretched most, 7 masked."""
    found = np.searchsorted(BANDS, panel.at_points[panel.triangles].mean(1))
    made: Ints = np.where(panel.masked, MASKED, found).astype(np.int64)
    return made


def solid_of_form(shape: FormedShape, seen_as: FormedShape | None = None) -> Solid:
    """Return a formed assembly with its thickness; layers are bands of strain.

    It is turned to the eye, or as another is that stands in the same place.
    """
    turn = facing(seen_as or shape)
    return _solid(tuple(replace(p, places=p.places @ turn) for p in shape.panels), ())


def solid_of_suit(shapes: Iterable[FormedShape], body: Iterable[tuple[Array, Ints]]) -> Solid:
    """Return groups on a body, all in the figure's axes, seen from the front.

    Layers are the foams' thicknesses, the last one, of none, is the body.
    """
    panels = tuple(replace(p, places=p.places @ FRONT.T) for shape in shapes for p in shape.panels)
    made = _solid(panels, tuple((vertices @ FRONT.T, t) for vertices, t in body))
    thick = sorted({p.thickness for p in panels})
    layers = [np.full(_triangles_of(p), thick.index(p.thickness)) for p in panels]
    rest = len(made.layer) - sum(len(k) for k in layers)
    whole = np.concatenate([*layers, np.full(rest, len(thick))]).astype(np.int32)
    return replace(made, layer=whole, thickness=(*thick, 0.0))


def _triangles_of(panel: FormedPanel) -> int:
    """Return how many triangles a panel is painted with: both faces, and its cut edge."""
    return 2 * len(panel.triangles) + 2 * panel.boundary


def _solid(panels: tuple[FormedPanel, ...], body: tuple[tuple[Array, Ints], ...]) -> Solid:
    corners, normals, layers, lines = [], [], [], []
    for panel in panels:
        out = vertex_normals(panel.places, panel.triangles)
        half = panel.thickness / 2
        outer, inner = panel.places + half * out, panel.places - half * out
        wider = half * _beyond(panel, out)
        outer[: panel.boundary] += wider
        inner[: panel.boundary] -= wider
        band = bands_of(panel)
        for places, facing_, triangles in (
            (outer, out, panel.triangles),
            (inner, -out, panel.triangles[:, ::-1]),
        ):
            corners.append(places[triangles])
            normals.append(facing_[triangles])
            layers.append(band)
        wall, wall_band = _walls(panel, outer, inner, band)
        corners.append(wall)
        across = np.cross(wall[:, 1] - wall[:, 0], wall[:, 2] - wall[:, 0])
        across /= np.maximum(np.linalg.norm(across, axis=1), 1e-9)[:, None]
        normals.append(np.repeat(across[:, None], 3, axis=1))
        layers.append(wall_band)
        rim = np.arange(panel.boundary + 1) % panel.boundary
        lines += [outer[rim], inner[rim]]
        if not body:
            lines += _contours(panel, outer)
    for vertices, triangles in body:
        corners.append(vertices[triangles])
        normals.append(vertex_normals(vertices, triangles)[triangles])
        layers.append(np.full(len(triangles), BODY))
    return Solid(
        np.concatenate(corners),
        np.concatenate(normals),
        np.concatenate(layers).astype(np.int32),
        (1.0,) * (BODY + 1),
        tuple(lines),
    )


def looks(shape: FormedShape) -> tuple[Array, float]:
    """Return which way its outer faces look, `(3,)`, and how far that would be if all agreed.

    Both are twice the area, mm²: of what goes all round the first is nothing.
    """
    total, whole = np.zeros(3), 0.0
    for panel in shape.panels:
        across = faces_of(panel.places, panel.triangles)
        total += across.sum(0)
        whole += float(np.linalg.norm(across, axis=1).sum())
    return total, whole


def facing(shape: FormedShape) -> Array:
    """Return the turn that brings outer faces towards the eye, and the first panel upright."""
    total, whole = looks(shape)
    first = shape.panels[0]
    flat = first.flat - first.flat.mean(0)
    across, up = np.linalg.lstsq(flat, first.places - first.places.mean(0), rcond=None)[0]
    out = np.cross(across, up)
    length = float(np.linalg.norm(total))
    upright = abs(float(total @ up)) < ALONG * length * float(np.linalg.norm(up))
    if length > ALL_ROUND * whole and upright:
        out = total
    out /= max(float(np.linalg.norm(out)), 1e-9)
    up -= out * float(up @ out)
    if np.linalg.norm(up) < 1e-6:
        return np.eye(3)
    up /= np.linalg.norm(up)
    made: Array = np.column_stack([np.cross(up, out), up, out])
    return made


def _beyond(panel: FormedPanel, out: Array) -> Array:
    """Return how far its bevels carry each point of the rim outwards on the outer face.

    `(boundary, 3)`, for half a thickness of 1: at a corner both of its stretches are moved.
    """
    if not len(panel.rim):
        return np.zeros((panel.boundary, 3))
    rim, up = panel.places[: panel.boundary], out[: panel.boundary]
    ahead = np.roll(rim, -1, 0) - rim
    ahead /= np.maximum(np.linalg.norm(ahead, axis=1), 1e-9)[:, None]
    # The outline runs counter-clockwise seen from outside: away from the foam is to its right.
    after, before = np.cross(ahead, up), np.cross(np.roll(ahead, 1, 0), up)
    d, e = panel.rim, np.roll(panel.rim, 1)
    c = (after * before).sum(1)
    bends = 1 - c * c > BENDS
    share = np.where(bends, 1 - c * c, 1.0)
    one, other = (
        np.where(bends, (d - c * e) / share, d / 2),
        np.where(bends, (e - c * d) / share, e / 2),
    )
    found: Array = after * one[:, None] + before * other[:, None]
    far = np.linalg.norm(found, axis=1)
    most = FARTHEST * np.maximum(np.abs(d), np.abs(e))
    made: Array = found * np.minimum(1.0, most / np.maximum(far, 1e-9))[:, None]
    return made


def _walls(panel: FormedPanel, outer: Array, inner: Array, band: Ints) -> tuple[Array, Ints]:
    """Return the triangles of the cut edges, each with the band of what it borders."""
    start = np.arange(panel.boundary)
    stop = (start + 1) % panel.boundary
    ways = np.vstack([panel.triangles[:, [k, (k + 1) % 3]] for k in range(3)])
    first, second = ways.T
    rim = np.flatnonzero((first < panel.boundary) & (second == (first + 1) % panel.boundary))
    owner = np.zeros(panel.boundary, dtype=np.int64)
    owner[first[rim]] = rim % len(band)
    mine = band[owner]
    one = np.stack([outer[start], inner[start], inner[stop]], axis=1)
    other = np.stack([outer[start], inner[stop], outer[stop]], axis=1)
    return np.vstack([one, other]), np.concatenate([mine, mine])


def _contours(panel: FormedPanel, places: Array) -> list[Array]:
    """Return lines on a face where the strain passes from band to band."""
    shown = panel.triangles[~panel.masked]
    values = panel.at_points[shown]
    above = values[:, None, :] > np.array(BANDS)[:, None]  # (triangles, limits, corners)
    count = above.sum(2)
    at, limit = np.nonzero((count == 1) | (count == 2))
    # One corner is on the other side than the two others: the line crosses both edges at it.
    high = above[at, limit]
    lone = np.where(count[at, limit] == 1, np.argmax(high, axis=1), np.argmin(high, axis=1))
    own, level = values[at, lone], np.array(BANDS)[limit]
    ends = []
    for k in (1, 2):
        other = (lone + k) % 3
        share = ((level - own) / (values[at, other] - own))[:, None]
        ends.append(places[shown[at, lone]] * (1 - share) + places[shown[at, other]] * share)
    return list(np.stack(ends, axis=1))
