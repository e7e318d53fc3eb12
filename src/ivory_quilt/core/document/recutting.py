"""A piece drawn anew by the shape that its panel came to, and places on a formed panel."""

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.outcome import FormedPanel
from ivory_quilt.core.formup.surface import shares_of
from ivory_quilt.core.geometry.outline import Outline, line_length
from ivory_quilt.core.geometry.shape import Array, Shape, simplified
from ivory_quilt.core.pattern.edges import edge_length, edge_line, edge_of, edges_of, snapped
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace

STRAY = 0.05  # mm: corners that a curve does not need
CHUNK = 256  # points whose triangle is looked for at once
WINDOW = 5  # segments
SLACK = 0.001  # strain: less is no crush


def on_piece(points: Array, *, mirrored: bool) -> Array:
    """Return places of a panel as its piece is drawn: those of the other hand are flipped."""
    return points * (-1.0, 1.0) if mirrored else points


def recut(piece: Piece, panel: FormedPanel, share: float = 1.0, *, mirrored: bool) -> Piece:
    """Return a piece with the outline that its shape asks for; what is drawn on it goes along.

    `share` is how much of the change is made. Curves become many short straights.

    Raises:
        InputError: the outline would cross itself.
    """
    away = panel.laid - panel.flat
    away = away - away.mean(0)

    def moved(points: Array) -> Array:
        flat = on_piece(points, mirrored=mirrored)
        there = flat + share * _carried(panel, away, flat)
        return np.asarray(on_piece(there, mirrored=mirrored))

    outline = Outline(piece.shape.outer)
    step = outline.length / max(panel.boundary, 12)
    corners = outline.vertices_at
    # Every corner stays; between corners that are far apart there are as many more as the mesh has.
    gaps = np.diff(np.append(corners, outline.length))
    more = [
        start + gap * np.arange(1, round(gap / step)) / round(gap / step)
        for start, gap in zip(corners.tolist(), gaps.tolist(), strict=True)
        if gap > 1.5 * step
    ]
    steps = np.sort(np.concatenate([corners, *more]))
    finer = replace(
        piece,
        shape=Shape.make(outline.places(steps), piece.shape.holes),
        edges=edges_of(piece),
        recipe=None,
    )
    made = finer.moved_by(moved)
    plain = Shape.from_polygon(simplified(made.shape.polygon, STRAY))
    return snapped(replace(made, shape=plain), made)


def stretched_along(piece: Piece, edge: str, wanted: float) -> Piece:
    """Return a piece stretched along the chord of an edge until the edge is as long as wanted, mm.

    Raises:
        InputError: the edge runs back to where it starts: it has no chord.
    """
    line = edge_line(piece, edge_of(piece, edge))
    chord = line[-1] - line[0]
    long = float(np.hypot(*chord))
    if long < 0.2 * line_length(line):
        where = f"edge {edge} of '{piece.name}'"
        raise InputError(where, "it has no direction to be stretched along", "an open edge")
    along, middle = chord / long, piece.shape.centroid
    factor = wanted / line_length(line)

    def moved(points: Array) -> Array:
        away = points - np.asarray(middle)
        return np.asarray(points + np.outer(away @ along, along) * (factor - 1))

    made = piece
    for _ in range(6):
        made = replace(piece, edges=edges_of(piece), recipe=None).moved_by(moved)
        got = edge_length(made, edge_of(made, edge))
        if abs(got - wanted) < 0.01:
            break
        factor *= wanted / got
    return made


def _carried(panel: FormedPanel, values: Array, points: Array) -> Array:
    """Return values at a panel's points at any place, linearly over its triangles, `(n, 2)`."""
    corners = panel.flat[panel.triangles]
    a, p, q = corners[:, 0], corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]
    at = values[panel.triangles]
    made = np.empty((len(points), 2))
    for start in range(0, len(points), CHUNK):
        r = points[start : start + CHUNK, None, :] - a
        u, v = shares_of(r, p, q)
        best = np.argmax(np.minimum(np.minimum(u, v), 1 - u - v), axis=1)
        rows = np.arange(len(best))
        # A place a little outside goes with the nearest of its triangle.
        one, two = np.clip(u[rows, best], -0.5, 1.5), np.clip(v[rows, best], -0.5, 1.5)
        near = at[best]
        made[start : start + CHUNK] = (
            near[:, 0] * (1 - one - two)[:, None]
            + near[:, 1] * one[:, None]
            + near[:, 2] * two[:, None]
        )
    return made


def crushed_along(panel: FormedPanel, spot: Array) -> tuple[Array, float]:
    """Return the place of a panel's outline nearest to a spot, and what is crushed there, mm.

    That is how much the outline is shorter as it stands than as it was cut, over the stretch
    around the place in which it is shorter at all.
    """
    rim = panel.flat[: panel.boundary]
    stands = panel.places[: panel.boundary]
    count = panel.boundary
    drawn = np.linalg.norm(np.roll(rim, -1, 0) - rim, axis=1)
    real = np.linalg.norm(np.roll(stands, -1, 0) - stands, axis=1)
    less = drawn - real
    # Evened out over neighbours: one segment beside a triangle that gave way counts little.
    window = np.ones(min(WINDOW, count)) / min(WINDOW, count)
    around = np.concatenate([less / drawn] * 3)
    share = np.convolve(around, window, "same")[count : 2 * count]
    near = int(np.argmin(((rim - spot) ** 2).sum(1)))
    beside = (near + np.arange(-(count // 12), count // 12 + 1)) % count
    mouth = int(beside[np.argmax(share[beside])])
    width = 0.0
    for step in (1, -1):
        for k in range(count // 2):
            segment = (mouth + k) % count if step > 0 else (mouth - 1 - k) % count
            if share[segment] < SLACK:
                break
            width += float(less[segment])
    return rim[mouth], max(width, 0.0)


def inwards(panel: FormedPanel, mouth: Array, spot: Array) -> tuple[Array, float]:
    """Return the way from a place of a panel's outline inwards, and how far it is across, mm.

    Through a spot, where that lies inside; else square to the outline.
    """
    rim = panel.flat[: panel.boundary]
    near = int(np.argmin(((rim - mouth) ** 2).sum(1)))
    ahead = rim[(near + 1) % len(rim)] - rim[near - 1]
    ahead = ahead / max(float(np.hypot(*ahead)), 1e-9)
    square = np.array([-ahead[1], ahead[0]])  # the outline runs counter-clockwise: left is in
    way = spot - mouth
    far = float(np.hypot(*way))
    fine = float(np.linalg.norm(np.diff(rim, axis=0), axis=1).mean())
    way = way / far if far > 2 * fine and float(way @ square) > 0.5 * far else square
    # Where the way leaves the panel again.
    after = np.roll(rim, -1, 0) - rim
    start = rim - mouth
    cross = way[0] * after[:, 1] - way[1] * after[:, 0]
    with np.errstate(divide="ignore", invalid="ignore"):
        along = (start[:, 0] * after[:, 1] - start[:, 1] * after[:, 0]) / cross
        share = (start[:, 0] * way[1] - start[:, 1] * way[0]) / cross
    met = along[(share >= 0) & (share <= 1) & (along > fine)]
    across = float(met.min()) if len(met) else float(np.ptp(rim, axis=0).max())
    return way, across
