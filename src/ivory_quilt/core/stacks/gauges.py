"""Card gauges of a formed piece: what its inside must lie on, every few centimetres.

Two parts bent by hand come out alike when both sit on the same cards (common practice, no source).
Each card is cut across the form by a level plane; the formed inner face is found on a mesh of the
flat layer and met with the plane by linear interpolation.
"""

import math

import numpy as np
import shapely

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.forming.shaping import Place, Plain, Shaping
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.form_section import across
from ivory_quilt.core.stacks.layer_places import layer_places

EVERY = 50.0  # mm between two cards, from memory, no source
END = 5.0  # mm that the outermost cards keep from the ends
DEEP = 25.0  # mm that a card reaches below its curve
LEAST = 15.0  # mm: a narrower card guides nothing
SAME = 0.4  # mm: cards that differ by less are one
ACROSS, ALONG = 161, 121  # places of the mesh


class Gauge(Struct, frozen=True):
    """One card.

    Attributes:
        shape: its outline; the curve is on top, y is outwards.
        at: where along the piece it belongs, mm from the middle; several where one card fits.
    """

    shape: Shape
    at: tuple[float, ...]

    @property
    def words(self) -> str:
        """Where along the piece it belongs."""
        if len(self.at) == 1:
            return "at the middle" if abs(self.at[0]) < 0.5 else f"{self.at[0]:+.0f} mm"
        return f"from {self.at[0]:+.0f} to {self.at[-1]:+.0f} mm"


def gauges_of(piece: Piece, context: CutContext, every: float = EVERY) -> tuple[Gauge, ...]:
    """Return the cards of a piece, from one end of it to the other; none for a flat one.

    Args:
        piece: with its form and layers.
        context: what it is made in.
        every: mm between two cards.

    Raises:
        InputError: a form that cannot be, or a distance that makes no sense.
    """
    if not 5.0 <= every <= 1000.0:
        raise InputError("gauges", f"every {every:g} mm", "5 to 1000 mm")
    shaping = shaping_of(piece)
    if isinstance(shaping, Plain):
        return ()
    place = min((p for _, _, p in layer_places(piece, context)), key=lambda p: p.lift)
    mesh = _inner_face(piece, shaping, place)
    along = mesh[..., 1]
    low, high = float(np.nanmin(along)) + END, float(np.nanmax(along)) - END
    down, up = math.floor(max(0.0, -low) / every), math.floor(max(0.0, high) / every)
    heights = [every * k for k in range(-down, up + 1)]
    cards: list[Gauge] = []
    for height in heights:
        shape = _card(mesh, height)
        if shape is None:
            continue
        if cards and _alike(cards[-1].shape, shape):
            cards[-1] = Gauge(cards[-1].shape, (*cards[-1].at, height))
        else:
            cards.append(Gauge(shape, (height,)))
    return tuple(cards)


def _inner_face(piece: Piece, shaping: Shaping, place: Place) -> Array:
    """Return a mesh of the formed inner face: (across, along, outwards), NaN where no foam is."""
    frame = across(piece, shaping)
    flat = shaping.flat(piece.shape.outer, place)
    local = frame.into(flat)
    (left, near), (right, far) = local.min(axis=0), local.max(axis=0)
    u, v = np.meshgrid(np.linspace(left, right, ACROSS), np.linspace(near, far, ALONG))
    points = frame.out_of(np.column_stack((u.ravel(), v.ravel())))
    solid = shaping.space(points, np.zeros(len(points)), place)
    met = frame.into(solid[:, :2])
    mesh = np.column_stack((met[:, 0], met[:, 1], solid[:, 2]))
    inside = shapely.contains_xy(shapely.Polygon(flat).buffer(1e-6), points[:, 0], points[:, 1])
    mesh[~inside] = np.nan
    return mesh.reshape(ALONG, ACROSS, 3)


def _card(mesh: Array, height: float) -> Shape | None:
    """Return the card of the plane at `height` along; None where there is hardly any foam."""
    found = [p for k in range(mesh.shape[1]) if (p := _met(mesh[:, k], height)) is not None]
    if len(found) < 3:
        return None
    curve = np.array(found)
    top = int(np.argmax(curve[:, 1]))
    # A card must come out again: only what widens from the top down is guided.
    left, right = curve[: top + 1][::-1], curve[top:]
    sides = [_widening(side, way) for side, way in ((left, -1.0), (right, 1.0))]
    arc = np.vstack((sides[0][::-1], sides[1][1:]))
    if arc[-1, 0] - arc[0, 0] < LEAST:
        return None
    base = float(arc[:, 1].min()) - DEEP
    corners = [(arc[-1, 0], base), (arc[0, 0], base)]
    return Shape.make(np.vstack((arc, corners)), where="gauge")


def _widening(side: Array, way: float) -> Array:
    """Return a side of a curve from its top on, as far as it goes outwards."""
    reach = np.maximum.accumulate(side[:, 0] * way)
    goes = side[:, 0] * way >= reach - 1e-9
    stop = len(goes) if goes.all() else int(np.argmin(goes))
    return side[:stop]


def _met(line: Array, height: float) -> Array | None:
    """Return where a line of the mesh meets the plane, (across, outwards), or None."""
    ok = ~np.isnan(line[:, 1])
    y = line[ok, 1]
    if len(y) < 2 or not y.min() <= height <= y.max():
        return None
    order = np.argsort(y, kind="stable")
    rest = line[ok][order]
    return np.array([np.interp(height, rest[:, 1], rest[:, k]) for k in (0, 2)])


def _alike(a: Shape, b: Shape) -> bool:
    """Return whether one card serves for two places."""
    (ax, ay, _, _), (bx, by, _, _) = a.bounds, b.bounds
    first = shapely.transform(a.polygon, lambda p: p - (ax, ay))
    second = shapely.transform(b.polygon, lambda p: p - (bx, by))
    return bool(first.hausdorff_distance(second) <= SAME)
