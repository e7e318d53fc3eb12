"""The foam that is left where a face is carved, hollowed, scored or sanded, and from both sides.

At any place the deepest work of either face decides, so that the least wall is found where the
places of one work of each face meet.
"""

import math
from collections.abc import Iterator

from shapely import LineString
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.edges.groove_check import grooves_of, least_skin
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.pattern.region_shapes import line_names, region_on
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.cut import stack_thickness
from ivory_quilt.core.units import show_number

SEEN = 0.5  # mm²: places that meet in less do not weaken the foam
HAIR = 0.2  # mm to either side of a cut without width


class Dent(Struct, frozen=True):
    """One thing that takes foam off a face.

    Attributes:
        work: its number among the piece's works; None: a line's own groove or score.
        half: half its width across, mm; 0 for a place without one.
    """

    words: str
    place: BaseGeometry
    depth: float
    face: WorkFace
    work: int | None = None
    half: float = 0.0


class Wall(Struct, frozen=True):
    """The foam left at one work, or between two that meet from both faces.

    Attributes:
        left: mm; below 0 it is cut through.
        least: that should stay, mm.
        dents: of the outer face, then of the inner one, where both are worked.
        at: a place where it is so.
    """

    left: float
    least: float
    dents: tuple[Dent, ...]
    at: Point
    reckoning: Reckoning

    @property
    def problem(self) -> str:
        """What is wrong with it; empty where enough is left."""
        if self.left >= self.least - 1e-9:
            return ""
        what = " over ".join(d.words for d in self.dents)
        if self.left <= 0:
            return f"{what} goes through the foam"
        least = show_number(self.least, 1)
        return f"{what} leaves {show_number(self.left, 1)} mm of foam: leave {least} mm"


def dents_of(piece: Piece) -> Iterator[Dent]:
    """Yield everything that takes foam off a piece's faces."""
    foam, names = piece.shape.polygon, line_names(piece)
    for groove in grooves_of(piece):
        line = piece.lines[groove.line]
        half = max(groove.width / 2, HAIR)
        place = LineString(line.points).buffer(half, cap_style="flat").intersection(foam)
        # A score is cut into the face that shows.
        front = groove.front or line.kind is LineKind.SCORE
        face = WorkFace.OUTER if front else WorkFace.INNER
        words = f"{line.kind.value} along line {names[groove.line]}"
        yield Dent(words, place, groove.depth, face, None, half)
    for number, work in enumerate(piece.build.works):
        if work.taken:
            half = work.region.width / 2 if work.kind.along_line else 0.0
            words = f"{work.kind.value}, {work.region.words}"
            place = region_on(piece, work.region)
            yield Dent(words, place, work.taken, work.face, number, half)


def walls_of(piece: Piece) -> tuple[Wall, ...]:
    """Return the foam left at every work that takes some, the thinnest first.

    Layers that are glued onto the piece count as one foam with it.
    """
    dents = tuple(dents_of(piece))
    outer = [d for d in dents if d.face is WorkFace.OUTER]
    inner = [d for d in dents if d.face is WorkFace.INNER]
    found = [_wall(piece, d.place, d) for d in dents if d.work is not None and d.place.area > SEEN]
    for a in outer:
        for b in inner:
            if a.work is None and b.work is None:
                continue  # what lines do to each other is their own check's
            both = a.place.intersection(b.place)
            if both.area > SEEN:
                found.append(_wall(piece, both, a, b))
    return tuple(sorted(found, key=lambda w: w.left))


def _wall(piece: Piece, place: BaseGeometry, *dents: Dent) -> Wall:
    foam = stack_thickness(piece)
    left = foam - math.fsum(d.depth for d in dents)
    steps = [
        Step("foam with its layers", "as decided", foam, "mm"),
        *(Step(f"{d.words}, {d.face.value} face", "taken off", -d.depth, "mm") for d in dents),
        Step("left", "foam − what is taken off", left, "mm"),
        Step("should stay", "a quarter of the foam, 1 mm at least", least_skin(foam), "mm"),
    ]
    reckoned = Reckoning(
        "wall",
        {"foam": foam, "taken": foam - left},
        {"left": left, "least": least_skin(foam)},
        tuple(steps),
        "sum of depths; what should stay is common practice, no source",
        ("Try the depth on scrap of the same foam.",),
    )
    spot = place.representative_point()
    return Wall(left, least_skin(foam), dents, (spot.x, spot.y), reckoned)
