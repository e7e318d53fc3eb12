"""A page of a pattern, its registration marks, and how pages come to lie on the table."""

import math
from collections.abc import Sequence
from enum import StrEnum

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point, Pose
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.record import Struct, replace


class MarkKind(StrEnum):
    """What a registration mark looks like."""

    CROSS = "cross"
    CORNER = "corner"
    DIAMOND = "diamond"


class RegMark(Struct, frozen=True):
    """A registration mark: where it points, mm on the page, and how large it is."""

    kind: MarkKind
    at: Point
    size: float
    label: str = ""


class Page(Struct, frozen=True):
    """One page: its size and what is drawn on it, mm from its lower left corner, y upwards.

    `paths` are without the marks.
    """

    number: int
    width: float
    height: float
    paths: tuple[RawPath, ...] = ()
    texts: tuple[RawText, ...] = ()
    marks: tuple[RegMark, ...] = ()


class PageSide(StrEnum):
    """Which way the second page of a join lies from the first."""

    RIGHT = "right"
    ABOVE = "above"


class PageJoin(Struct, frozen=True):
    """Two pages that lie side by side, and the marks that come to lie on each other.

    Attributes:
        first, second: the pages' places in the list.
        side: where the second lies from the first.
        pairs: (mark on the first page, mark on the second), each in its own page's mm.
    """

    first: int
    second: int
    side: PageSide
    pairs: tuple[tuple[Point, Point], ...]


class JoinedPages(Struct, frozen=True):
    """Pages where they lie on the table.

    Attributes:
        poses: one for each page; None for a page that joins nothing.
        joins: those that hold.
        residuals: for each join, the farthest that two of its marks miss each other, mm.
    """

    poses: tuple[Pose | None, ...]
    joins: tuple[PageJoin, ...]
    residuals: tuple[float, ...]

    @property
    def residual(self) -> float:
        """The farthest that any two marks miss each other, mm."""
        return max(self.residuals, default=0.0)

    @property
    def joined(self) -> int:
        """How many pages are joined to others."""
        return sum(p is not None for p in self.poses)


def two_point_join(
    pages: Sequence[Page],
    first: int,
    second: int,
    on_first: tuple[Point, Point],
    on_second: tuple[Point, Point],
) -> PageJoin:
    """Return the join that two points, clicked on each of two pages, say.

    The pages lie side by side where the points are one above the other, else one above the other;
    the page whose points are near its right or upper side is the first.

    Raises:
        InputError: two points lie on one place, or the distances differ by more than 5 %.
    """
    a, b = (math.dist(*points) for points in (on_first, on_second))
    if min(a, b) < 5:
        raise InputError("join", "the two points lie on one place", "two places 5 mm apart or more")
    if abs(a - b) > 0.05 * max(a, b):
        raise InputError(
            "join",
            f"the points are {a:.1f} mm apart on one page, {b:.1f} mm on the other",
            "the same two places on both pages",
        )
    pairs = tuple(zip(on_first, on_second, strict=True))
    (x0, y0), (x1, y1) = on_first
    side = PageSide.RIGHT if abs(y1 - y0) >= abs(x1 - x0) else PageSide.ABOVE
    page = pages[first]
    middle = (x0 + x1) / 2 / page.width if side is PageSide.RIGHT else (y0 + y1) / 2 / page.height
    if middle >= 0.5:
        return PageJoin(first, second, side, pairs)
    return PageJoin(second, first, side, tuple((b, a) for a, b in pairs))


def deskewed(page: Page) -> tuple[Page, float]:
    """Return a page turned so that its marks stand level and upright, and by how many degrees.

    The turn is the median over pairs of marks that are far apart and nearly level or upright.
    """
    points = np.array([m.at for m in page.marks]).reshape(-1, 2)
    turns = []
    for i in range(len(points)):
        for j in range(i + 1, len(points)):
            dx, dy = points[j] - points[i]
            if math.hypot(dx, dy) < 0.3 * min(page.width, page.height):
                continue
            angle = math.degrees(math.atan2(dy, dx))
            off = (angle + 45) % 90 - 45
            if abs(off) < 6:
                turns.append(off)
    turn = -float(np.median(turns)) if turns else 0.0
    if abs(turn) < 1e-6:
        return page, 0.0
    pose = Pose(0.0, 0.0, turn)
    marks = tuple(replace(m, at=moved_point(pose, m.at)) for m in page.marks)
    return replace(page, marks=marks), turn


def moved_point(pose: Pose, point: Point) -> Point:
    """Return a point where a pose puts it."""
    x, y = pose.apply(np.array([point]))[0].tolist()
    return (x, y)
