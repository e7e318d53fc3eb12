"""What is put together: panels, how their edges meet, folds, bends, and a former."""

import math
from collections.abc import Sequence
from enum import StrEnum
from functools import cached_property, lru_cache
from itertools import pairwise

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.forming.shaping import Place, Shaping
from ivory_quilt.core.geometry.shape import Shape, signed_area
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.build import Face
from ivory_quilt.core.pattern.linking import leaders
from ivory_quilt.core.record import Struct

Array = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]
Bools = npt.NDArray[np.bool_]
Point = tuple[float, float]

MOST_PANELS = 400
MOST_CORNERS = 20_000
MOST_TRIANGLES = 20_000
FARTHEST = 1e5  # mm
PER_AREA = 2.3  # triangles for each square of their edge's length
STEEPEST = 170.0  # degrees that a seam or a fold may turn


class Meeting(StrEnum):
    """How two edges meet: flat on, at a bevelled angle, or turning freely."""

    SMOOTH = "smooth"
    ANGLE = "angle"
    FREE = "free"


class FormPanel(Struct, frozen=True):
    """A flat panel; its outer face looks at the reader.

    Attributes:
        outline: corners, mm, either way round, not repeated at the end.
        face: on which face of the formed foam the outline was taken.
        mirrored: the other hand: it is flipped about the y axis.
    """

    id: str
    outline: tuple[Point, ...]
    thickness: float
    face: Face = Face.MIDDLE
    mirrored: bool = False


class SeamSide(Struct, frozen=True):
    """A stretch of a panel's outline, from a corner to a corner, in its order or against it.

    From a corner to the same one is the whole outline.
    """

    panel: str
    start: int
    stop: int
    way: int = 1

    @property
    def words(self) -> str:
        """The panel and the edge."""
        return f"panel '{self.panel}', edge {self.start} to {self.stop}"


class FormSeam(Struct, frozen=True):
    """Two edges that are joined: the start of one meets the start of the other.

    Attributes:
        angle: between the outer faces, through the foam, degrees; 180 is flat. Only where they
            meet at an angle.
        bevels: of the edges of both sides, degrees from a square cut, above 0 the outer face
            larger; None: as the angle asks for.
        marks: match marks that meet: shares of the length of both sides, from their starts, in
            order.
    """

    a: SeamSide
    b: SeamSide
    meet: Meeting = Meeting.SMOOTH
    angle: float = 180.0
    bevels: tuple[float, float] | None = None
    marks: tuple[tuple[float, float], ...] = ()

    @property
    def turn(self) -> float:
        """By how much the outer face turns over the seam, radians; above 0: away from it."""
        return math.radians(180.0 - self.angle) if self.meet is Meeting.ANGLE else 0.0

    @property
    def cut(self) -> tuple[float, float]:
        """The bevels that its two edges have, radians."""
        if self.bevels is None:
            return (self.turn / 2, self.turn / 2)
        return (math.radians(self.bevels[0]), math.radians(self.bevels[1]))


class Fold(Struct, frozen=True):
    """A straight fold across a panel; `angle` as of a seam."""

    panel: str
    line: tuple[Point, Point]
    angle: float

    @property
    def turn(self) -> float:
        """By how much the outer face turns over the fold, radians."""
        return math.radians(180.0 - self.angle)


class FormBend(Struct, frozen=True):
    """A panel formed around a cylinder: direction of its axis, degrees, and radius inside, mm."""

    panel: str
    axis: float
    radius: float


class Shaped(Struct, frozen=True):
    """A panel heated into a shape of its own: rolled, a cone, a bowl, bends (`core.forming`)."""

    panel: str
    shaping: Shaping
    place: Place

    def space(self, points: Array) -> Array:
        """Return where points as drawn, `(n, 2)`, lie on the shape's middle surface, `(n, 3)`.

        z is where the outer face looks.
        """
        flat = self.shaping.flat(points, self.place)
        heights = np.full(len(points), self.place.thickness / 2)
        return np.asarray(self.shaping.space(flat, heights, self.place))


class Sphere(Struct, frozen=True):
    """A ball to press on, radius mm."""

    radius: float


class Cylinder(Struct, frozen=True):
    """A long cylinder to press on, radius mm."""

    radius: float


class MeshFormer(Struct, frozen=True, eq=False):
    """A closed body to press on: `(n, 3)` mm, `(m, 3)` counter-clockwise from outside."""

    vertices: Array
    triangles: Ints


Former = Sphere | Cylinder | MeshFormer


class Assembly(Struct, frozen=True, dict=True):
    """All that is solved together.

    Attributes:
        edge: wished length of the triangles' edges, mm.
        firmly: pressed down onto the former everywhere, however far it would stand off.
        seat: how the first panel lay on the former before (`outcome.seat_of`): it begins there.
    """

    panels: tuple[FormPanel, ...]
    seams: tuple[FormSeam, ...] = ()
    folds: tuple[Fold, ...] = ()
    bends: tuple[FormBend, ...] = ()
    former: Former | None = None
    edge: float = 6.0
    shaped: tuple[Shaped, ...] = ()
    firmly: bool = False
    seat: tuple[tuple[float, ...], ...] = ()

    @property
    def area(self) -> float:
        """Of all panels as drawn, mm²."""
        return sum(abs(signed_area(np.asarray(p.outline))) for p in self.panels)

    def __post_init__(self) -> None:
        check_assembly(self)

    @cached_property
    def index(self) -> dict[str, int]:
        """Where each panel stands among `panels`, by its id."""
        return {p.id: k for k, p in enumerate(self.panels)}


def triangles_for(area: float, edge: float) -> float:
    """Return about how many triangles an area of panels takes, mm², edges so long, mm."""
    return PER_AREA * area / edge**2


def edge_for(area: float, triangles: float) -> float:
    """Return how long edges are of about so many triangles over an area, mm."""
    return math.sqrt(PER_AREA * area / triangles)


def check_assembly(job: Assembly) -> None:
    """Refuse an assembly that makes no sense.

    Raises:
        InputError: naming the panel, the seam and its edge, the fold or the bend.
    """
    if not job.panels:
        raise InputError("panels", "there is none", "one or more")
    if len(job.panels) > MOST_PANELS:
        raise InputError("panels", f"{len(job.panels)} of them", f"at most {MOST_PANELS}")
    if not 0.1 <= job.edge <= 1000:
        raise InputError("edge", f"{job.edge:g} mm", "0.1 to 1000 mm")
    if len(job.index) != len(job.panels):
        names = [p.id for p in job.panels]
        twice = next(n for n in names if names.count(n) > 1)
        raise InputError(f"panel '{twice}'", "the id is used twice", "different ids")
    area = sum(_check_panel(p) for p in job.panels)
    expected = triangles_for(area, job.edge)
    if expected > MOST_TRIANGLES:
        least = edge_for(area, MOST_TRIANGLES)
        problem = f"{job.edge:g} mm makes some {expected:,.0f} triangles"
        raise InputError("edge", problem, f"{least:.2g} mm or more")
    _check_seams(job)
    _check_shaping(job)


def _check_shaping(job: Assembly) -> None:
    """Refuse folds, bends and formers that make no sense."""
    for fold in job.folds:
        where = f"fold of panel '{fold.panel}'"
        _known(job, fold.panel, where)
        if math.dist(*fold.line) < 1e-6 or not np.isfinite(fold.line).all():
            raise InputError(f"{where}, line", f"{fold.line}", "two different points")
        _check_angle(fold.angle, f"{where}, angle")
    bent: set[str] = set()
    for bend in job.bends:
        where = f"bend of panel '{bend.panel}'"
        _known(job, bend.panel, where)
        if not 1.0 <= bend.radius <= FARTHEST:
            raise InputError(f"{where}, radius", f"{bend.radius:g} mm", "1 mm or more")
        if not math.isfinite(bend.axis):
            raise InputError(f"{where}, axis", f"{bend.axis}", "degrees")
        if bend.panel in bent:
            raise InputError(where, "it is bent twice", "one bend a panel")
        bent.add(bend.panel)
    for one in job.shaped:
        where = f"shape of panel '{one.panel}'"
        _known(job, one.panel, where)
        if one.panel in bent:
            raise InputError(where, "it is bent twice", "one bend or shape a panel")
        bent.add(one.panel)
    if isinstance(job.former, Sphere | Cylinder) and not 1 <= job.former.radius <= FARTHEST:
        raise InputError("former, radius", f"{job.former.radius:g} mm", "1 mm or more")


@lru_cache(maxsize=1024)
def _check_panel(panel: FormPanel) -> float:
    """Refuse a panel that makes no sense; return its area, mm².

    Known ones are not looked at again: they take most of the time in which an assembly is made.
    """
    where = f"panel '{panel.id}'"
    if not 3 <= len(panel.outline) <= MOST_CORNERS:
        problem = f"{len(panel.outline)} corners"
        raise InputError(f"{where}, outline", problem, f"3 to {MOST_CORNERS}")
    points = np.asarray(panel.outline, dtype=float)
    if not np.isfinite(points).all() or np.abs(points).max() > FARTHEST:
        raise InputError(f"{where}, outline", "a corner is no place", "numbers within 100 m")
    if not 0.1 <= panel.thickness <= 200:
        raise InputError(f"{where}, thickness", f"{panel.thickness:g} mm", "0.1 to 200 mm")
    steps = np.linalg.norm(np.roll(points, -1, 0) - points, axis=1)
    if steps.min() < 1e-6:
        k = int(np.argmin(steps))
        problem = f"corners {k} and {(k + 1) % len(points)} are in one place"
        raise InputError(f"{where}, outline", problem, "different corners")
    shape = Shape.make(panel.outline)
    problem = shape_problem(shape)
    if problem:
        raise InputError(f"{where}, outline", problem, "a simple outline")
    return float(shape.area)


def _known(job: Assembly, name: str, where: str) -> FormPanel:
    if name not in job.index:
        problem = f"no panel '{name}'{nearest(name, job.index)}"
        raise InputError(where, problem, "a panel's id")
    return job.panels[job.index[name]]


def _check_angle(angle: float, where: str) -> None:
    if not abs(180.0 - angle) <= STEEPEST:
        raise InputError(where, f"{angle:g}°", f"{180 - STEEPEST:g} to {180 + STEEPEST:g}°")


def edges_of_side(side: SeamSide, corners: int) -> list[int]:
    """Return the numbers of the outline's edges on a side, in its own order; edge k begins at k."""
    count = (side.stop - side.start) * side.way % corners or corners
    if side.way > 0:
        return [(side.start + k) % corners for k in range(count)]
    return [(side.start - 1 - k) % corners for k in range(count)]


@lru_cache(maxsize=1024)
def orientation(panel: FormPanel) -> int:
    """Return 1 where the outline, as it lies with its outer face up, runs counter-clockwise."""
    way = 1 if signed_area(np.asarray(panel.outline)) > 0 else -1
    return -way if panel.mirrored else way


def _check_seams(job: Assembly) -> None:
    joined: dict[tuple[str, int], int] = {}
    for number, seam in enumerate(job.seams):
        for side in (seam.a, seam.b):
            where = f"seam {number}"
            panel = _known(job, side.panel, where)
            corners = len(panel.outline)
            if side.way not in (1, -1):
                raise InputError(f"{where}, {side.words}", f"way {side.way}", "1 or -1")
            if not (0 <= side.start < corners and 0 <= side.stop < corners):
                problem = f"the outline has corners 0 to {corners - 1}"
                raise InputError(f"{where}, {side.words}", problem, "corners of it")
            for edge in edges_of_side(side, corners):
                if (side.panel, edge) in joined:
                    other = joined[side.panel, edge]
                    problem = f"its edge {edge} is joined by seam {other} already"
                    raise InputError(f"{where}, {side.words}", problem, "each edge joined once")
                joined[side.panel, edge] = number
        _check_angle(seam.angle, f"seam {number}, angle")
        ends = [(0.0, 0.0), *seam.marks, (1.0, 1.0)]
        if any(b[0] <= a[0] or b[1] <= a[1] for a, b in pairwise(ends)):
            problem = "its match marks do not follow each other on both sides"
            raise InputError(f"seam {number}, marks", problem, "shares that rise from 0 to 1")
        a, b = (job.panels[job.index[s.panel]] for s in (seam.a, seam.b))
        if seam.a.way * orientation(a) == seam.b.way * orientation(b):
            problem = f"it is twisted: {seam.b.words} meets {seam.a.words} the wrong way round"
            raise InputError(f"seam {number}", problem, "one of the two sides the other way")
    _check_connected(job)


def _check_connected(job: Assembly) -> None:
    links = [(s.a.panel, s.b.panel) for s in job.seams]
    leader = leaders(job.index, links)
    joined = {name for link in links for name in link}
    for panel in job.panels:
        if leader[panel.id] != leader[job.panels[0].id]:
            lone = (
                "has no seam" if panel.id not in joined else "hangs on no seam to the first panel"
            )
            raise InputError(f"panel '{panel.id}'", f"it {lone}", "panels that seams connect")


def side_points(panel: FormPanel, side: SeamSide) -> Array:
    """Return the corners along a side as drawn, in its own order, `(n, 2)`."""
    corners = len(panel.outline)
    edges = edges_of_side(side, corners)
    if side.way > 0:
        numbers: Sequence[int] = [*edges, (edges[-1] + 1) % corners]
    else:
        numbers = [(edges[0] + 1) % corners, *edges]
    return np.asarray(panel.outline, dtype=float)[list(numbers)]
