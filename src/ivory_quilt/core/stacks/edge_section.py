"""The section through an edge with its neighbour, or through a groove; and pulling them."""

import math

import numpy as np

from ivory_quilt.core.edges.groove_check import SCORE_DEPTH
from ivory_quilt.core.edges.profiles import Knife
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import knife_run
from ivory_quilt.core.stacks.section import Band, Handle, HandleKind, Section

SCORE_KERF = 0.3  # mm to either side of a cut that is drawn
SHOWN_FOAM = 34.0  # mm of foam that an edge's section shows


def edge_profile(knife: Knife, low: float, high: float, carrier: float, reach: float) -> Array:
    """Return the foam at an edge, from `reach` mm inside to the cut; x outwards, y up, (n, 2)."""
    whole = high - low
    heights = [low, high]
    if knife.blade and low < (low + high) / 2 < high:
        heights.insert(1, (low + high) / 2)
    cut = [(knife.away(z - low, whole, carrier - low), z) for z in heights]
    if knife.round:
        r = min(knife.round, whole)
        turn = np.linspace(0, math.pi / 2, 9)
        cut = [(0.0, low), *[(r * math.cos(a) - r, high - r + r * math.sin(a)) for a in turn]]
    inner = [(-reach, high), (-reach, low)]
    return np.array([*cut, *inner])


def edge_section(
    piece: Piece, knife: Knife, mate: tuple[Piece, Knife, float] | None = None
) -> Section:
    """Return the section through an edge, with its neighbour where it has one.

    Args:
        piece: whose edge it is.
        knife: along the edge.
        mate: (piece, knife, dihedral) of the neighbour.
    """
    run = knife_run(piece)
    own = edge_profile(knife, run.low, run.high, run.carrier, SHOWN_FOAM)
    bands = [Band(own, piece.thickness, piece.name)]
    measures: list[tuple[Point, str]] = []
    if mate is not None:
        other, theirs, dihedral = mate
        there = knife_run(other)
        shape = edge_profile(theirs, there.low, there.high, there.carrier, SHOWN_FOAM)
        flipped = shape * [-1.0, 1.0] - np.array([0.0, there.carrier])
        turn = -math.radians(180 - dihedral)
        cos, sin = math.cos(turn), math.sin(turn)
        turned = flipped @ np.array([[cos, sin], [-sin, cos]])
        bands.append(
            Band(turned + np.array([0.0, run.carrier]), other.thickness, other.name, other=True)
        )
        words = f"{dihedral:g}° between the outer faces"
        measures.append(((-SHOWN_FOAM, run.high + 5), words))
    corner = own[1 if len(own) == 4 else len(own) - 3]
    handle = Handle(HandleKind.EDGE, (float(corner[0]), float(corner[1])), "pull to bevel it")
    return Section(tuple(bands), (handle,), None, tuple(measures))


def pulled_edge(piece: Piece, profile: Profile, to: Point) -> Profile:
    """Return the profile of an edge whose outer corner is pulled to a place."""
    run = knife_run(piece)
    if profile.kind is ProfileKind.BLADE:
        return replace(profile, width=max(round(-to[0] * 2) / 2, 0.5))
    if profile.kind is ProfileKind.ROUND:
        return replace(profile, width=min(max(round(-to[0] * 2) / 2, 0.5), run.whole))
    height = max(run.high - run.carrier, run.whole / 2)
    angle = round(math.degrees(math.atan2(to[0], height)))
    angle = max(-75, min(75, angle))
    if angle == 0:
        return Profile(ProfileKind.SQUARE)
    return Profile(ProfileKind.OUT if angle > 0 else ProfileKind.IN, float(abs(angle)))


# Through a groove


def groove_section(piece: Piece, index: int) -> Section:
    """Return the section across one of the piece's grooves or scores, outer face up.

    Raises:
        InputError: the line is not cut.
    """
    line, t = piece.lines[index], piece.thickness
    crease = line.crease
    if crease is None:
        raise InputError("line", "it says nothing of how it is cut", "an undercut or a score")
    if line.kind is LineKind.SCORE:
        depth, half = SCORE_DEPTH * t, SCORE_KERF
    else:
        depth = max(t - crease.skin, 0.0)
        half = max(depth * math.tan(math.radians(abs(crease.angle)) / 2), SCORE_KERF)
    # A score is cut into the face that shows.
    front = crease.front or line.kind is LineKind.SCORE
    face, foot = (t, t - depth) if front else (0.0, depth)
    groove = [(half, face), (0.0, foot), (-half, face)]
    if front:
        corners = [
            (-SHOWN_FOAM, 0.0),
            (SHOWN_FOAM, 0.0),
            (SHOWN_FOAM, t),
            *groove,
            (-SHOWN_FOAM, t),
        ]
    else:
        corners = [
            (SHOWN_FOAM, t),
            (-SHOWN_FOAM, t),
            (-SHOWN_FOAM, 0.0),
            *groove[::-1],
            (SHOWN_FOAM, 0.0),
        ]
    band = Band(np.array(corners), t, piece.name)
    if line.kind is LineKind.SCORE:
        return Section((band,), (), None, (((half + 2, foot), f"{depth:g} mm deep"),))
    handles = (
        Handle(HandleKind.GROOVE_WALL, (half, face), "pull to fold it further"),
        Handle(HandleKind.GROOVE_FOOT, (0.0, foot), "pull to leave more skin"),
    )
    words = f"{2 * half:.1f} mm wide, {crease.skin:g} mm of skin"
    return Section((band,), handles, None, (((-SHOWN_FOAM, t + 5), words),))


def pulled_groove(piece: Piece, index: int, handle: HandleKind, to: Point) -> Piece:
    """Return the piece with a groove's wall or foot pulled to a place."""
    line, t = piece.lines[index], piece.thickness
    crease = line.crease
    if crease is None:
        return piece
    if handle is HandleKind.GROOVE_FOOT:
        skin = to[1] if crease.front else t - to[1]
        crease = replace(crease, skin=round(min(max(skin, 0.0), t - 0.5) * 2) / 2)
    else:
        depth = max(t - crease.skin, 0.1)
        angle = 2 * math.degrees(math.atan2(abs(to[0]), depth))
        sign = -1.0 if crease.angle < 0 else 1.0
        crease = replace(crease, angle=sign * float(min(max(round(angle), 5), 160)))
    changed = replace(line, crease=crease)
    return piece.with_line(index, changed)
