"""Knives: what each edge's profile comes to, and the outline it gives at any height in the foam."""

import math
from collections.abc import Mapping, Sequence
from functools import lru_cache

import numpy as np
from shapely import line_merge, unary_union

from ivory_quilt.core.edges.bevels import butt, flare, unequal_mitre
from ivory_quilt.core.edges.faces import offset_faces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import outline_of
from ivory_quilt.core.geometry.shape import Array, Shape, polygons_of
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import Struct

MOST_BEVEL = 80.0  # degrees from square, as `core.edges.bevels` has it
LIES_ON = 0.02  # mm
HAIR = 1e-5  # mm


class Knife(Struct, frozen=True, order=True):
    """How the knife is held along one edge.

    Attributes:
        angle: from a square cut, degrees; above 0 the outer face is the larger one.
        blade: width of each of two bevels that meet in the middle, mm; 0 for one cut.
        round: radius that the outer face's edge is rounded to, mm.
        why: where the angle is from, in words.
    """

    edge: str
    angle: float = 0.0
    blade: float = 0.0
    round: float = 0.0
    why: str = ""

    def away(self, height: float, thickness: float, reference: float) -> float:
        """Return how far the cut lies outside the pattern line at a height in the foam, mm.

        Args:
            height: above the inner face, mm.
            thickness: mm.
            reference: height of the face that carries the pattern line.
        """
        if self.blade:
            return -self.blade * abs(2 * height / thickness - 1)
        return (height - reference) * math.tan(math.radians(self.angle))

    def reckon(self, thickness: float) -> Reckoning:
        """Explain the offset from one face to the other."""
        return flare(thickness, self.angle)


def with_kind(profile: Profile, kind: ProfileKind, thickness: float) -> Profile:
    """Return a profile of another kind; a width that this needs is the usual one until changed.

    Usual, from memory, no source: a blade three times as wide as the foam is thick, a rounding of
    half the thickness, a lap as wide as the foam is thick.
    """
    usual = {
        ProfileKind.BLADE: 3 * thickness,
        ProfileKind.ROUND: thickness / 2,
        ProfileKind.LAP: thickness,
    }
    return Profile(kind, profile.angle, profile.width or usual.get(kind, 0.0))


def from_table(bevel: float) -> float:
    """Return a blade's angle from the table for a bevel from square, or the other way, degrees."""
    return 90.0 - bevel


def widest(knives: tuple[Knife, ...], thickness: float) -> float:
    """Return how far the widest bevel runs out sideways in foam so thick, mm."""
    return max((abs(k.reckon(thickness).figure("offset")) for k in knives if k.angle), default=0.0)


def knives_of(
    piece: Piece, seams: Sequence[Seam] = (), others: Mapping[str, Piece] | None = None
) -> tuple[Knife, ...]:
    """Return the knives of a piece's edges that are not square, by the edges' names.

    Profiles of edges that the piece no longer has are left out.

    Raises:
        InputError: a bevel to meet the neighbour that no blade can cut.
    """
    if not piece.build.edges:
        return ()
    known = {e.name for e in edges_of(piece)}
    made = []
    for said in piece.build.edges:
        if said.edge in known:
            knife = _knife(piece, said.edge, said.profile, seams, others or {})
            if knife.angle or knife.blade or knife.round:
                made.append(knife)
    return tuple(made)


def _knife(
    piece: Piece, edge: str, profile: Profile, seams: Sequence[Seam], others: Mapping[str, Piece]
) -> Knife:
    kind, angle = profile.kind, profile.angle
    if kind is ProfileKind.IN:
        return Knife(edge, -angle, why=f"bevel in, {angle:g}°")
    if kind is ProfileKind.OUT:
        return Knife(edge, angle, why=f"bevel out, {angle:g}°")
    if kind is ProfileKind.BLADE:
        return Knife(edge, blade=profile.width, why=f"blade, bevels {profile.width:g} mm wide")
    if kind is ProfileKind.ROUND:
        radius = profile.width or piece.thickness / 2
        return Knife(edge, round=radius, why=f"rounded over, {radius:g} mm")
    if kind is ProfileKind.LAP:
        width = profile.width or piece.thickness
        leaning = math.degrees(math.atan2(width, piece.thickness))
        return Knife(edge, -leaning, why=f"lap of {width:g} mm")
    if kind is ProfileKind.MEET:
        found, why = meeting_angle(piece, edge, seams, others)
        return Knife(edge, found, why=why)
    return Knife(edge)


def meeting_angle(
    piece: Piece, edge: str, seams: Sequence[Seam], others: Mapping[str, Piece]
) -> tuple[float, str]:
    """Return the bevel with which an edge meets its neighbour, and why; 0 without a seam.

    Raises:
        InputError: no blade can cut it.
    """
    ref = EdgeRef(piece.id, edge)
    seam = next((s for s in seams if s.touches(ref)), None)
    if seam is None:
        return 0.0, "no seam to meet: square"
    first = seam.first == ref
    other = seam.second if first else seam.first
    mate = piece if seam.onto_other_hand or other.piece == piece.id else others.get(other.piece)
    whole = 180.0 - seam.dihedral
    if mate is None:
        return 0.0, "its neighbour is gone: square"
    theirs = mate.build.profile(other.edge)
    if seam.joint is Joint.BUTT and not seam.onto_other_hand:
        if first:
            why = f"butts against a face at {seam.dihedral:g}°"
            return _cuttable(butt(seam.dihedral), edge), why
        return 0.0, "its neighbour butts against its face: square"
    if theirs.kind not in (ProfileKind.MEET, ProfileKind.SQUARE) and not seam.onto_other_hand:
        set_angle = _knife(mate, other.edge, theirs, (), {}).angle
        return _cuttable(whole - set_angle, edge), f"{whole:g}° less its neighbour's {set_angle:g}°"
    if theirs.kind is ProfileKind.SQUARE and not seam.onto_other_hand:
        return _cuttable(whole, edge), f"all of {whole:g}°: its neighbour is cut square"
    if abs(piece.thickness - mate.thickness) < 1e-9 or seam.dihedral == 180:
        return _cuttable(whole / 2, edge), f"(180° − {seam.dihedral:g}°) ÷ 2"
    inward = seam.dihedral > 180
    narrow = 360.0 - seam.dihedral if inward else seam.dihedral
    found = unequal_mitre(narrow, piece.thickness, mate.thickness).bevel_1
    why = f"{piece.thickness:g} mm meets {mate.thickness:g} mm at {seam.dihedral:g}°"
    return _cuttable(-found if inward else found, edge), why


def _cuttable(angle: float, edge: str) -> float:
    if abs(angle) > MOST_BEVEL:
        raise InputError(
            f"edge {edge}",
            f"to meet its neighbour it must be bevelled by {angle:.0f}°",
            f"{MOST_BEVEL:g}° at most: butt it, or change the angle of the seam",
        )
    return angle


@lru_cache(maxsize=8192)
def outline_at(
    piece: Piece, knives: tuple[Knife, ...], height: float, thickness: float, reference: float
) -> Shape:
    """Return a piece's outline at a height above its inner face; holes stay square.

    Raises:
        InputError: nothing is left at that height.
    """
    if not knives:
        return piece.shape
    ring, owner = _parted(piece)
    by_edge = {k.edge: k.away(height, thickness, reference) for k in knives}
    away = np.array([by_edge.get(name, 0.0) for name in owner])
    shape = Shape(ring, piece.shape.holes)
    try:
        return offset_faces(shape, [away, *(np.zeros(len(h)) for h in shape.holes)])
    except InputError as error:
        raise InputError(
            f"piece '{piece.name}', {error.where}", error.problem, error.expected
        ) from None


@lru_cache(maxsize=64)  # it is asked for at one height after another
def _parted(piece: Piece) -> tuple[Array, tuple[str, ...]]:
    """Return the outer ring with a vertex at every edge's start, and each stretch's edge."""
    outline = outline_of(piece.shape)
    edges = edges_of(piece)
    starts = np.array([outline.locate(e.start)[0] for e in edges])
    at = outline.vertices_at
    # A start within a hair of a vertex is that vertex.
    near = np.abs(
        (starts[:, None] - at[None, :] + outline.length / 2) % outline.length - outline.length / 2
    )
    starts = np.where(near.min(axis=1) < 1e-3, at[near.argmin(axis=1)], starts)
    # Not numpy's `unique`: its first call loads masked arrays, which a start need not wait for.
    every = np.array(sorted({*at.tolist(), *starts.tolist()}))
    ring = outline.places(every)
    middles = (every + np.append(every[1:], outline.length)) / 2
    order = np.argsort(starts)
    which = np.searchsorted(starts[order], middles, side="right") - 1
    ring.setflags(write=False)
    return ring, tuple(edges[order[k]].name for k in which)


def footprint(faces: Sequence[Shape]) -> Shape:
    """Return what a part covers on the table: all its faces together."""
    if all(f is faces[0] for f in faces):
        return faces[0]
    largest = max(faces, key=lambda f: f.area)  # mostly all around
    reach = largest.polygon.buffer(HAIR, quad_segs=1)
    if all(f is largest or reach.covers(f.polygon) for f in faces):
        return largest
    whole = unary_union([f.polygon for f in faces])
    if not all(whole.buffer(HAIR).covers(f.polygon) for f in faces):
        # Edges that all but coincide have been seen to mislead the overlay: a hair sets them apart.
        whole = unary_union([f.polygon.buffer(HAIR, join_style="mitre") for f in faces])
    return Shape.from_polygon(max(polygons_of(whole), key=lambda p: p.area))


def apart(shape: Shape, other: Shape) -> list[Array]:
    """Return the stretches (n, 2) of an outline that do not lie on another's."""
    if shape is other:
        return []
    rest = shape.polygon.boundary.difference(other.polygon.boundary.buffer(LIES_ON, quad_segs=1))
    if rest.geom_type == "MultiLineString":
        rest = line_merge(rest)  # a ring's first point is no end
    return [np.asarray(g.coords)[:, :2] for g in getattr(rest, "geoms", [rest]) if g.length > 1]
