"""An outline as curves: nodes, and between each and the next a straight line or a cubic Bézier.

Formulas: de Casteljau's subdivision and the Bernstein form of a cubic, as in any textbook on
computer-aided geometric design (for example Farin, Curves and Surfaces for CAGD).
"""

import math
from collections.abc import Callable, Sequence
from functools import lru_cache

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import flatten_bezier
from ivory_quilt.core.geometry.outline import corners_along, line_length, locate_on_line
from ivory_quilt.core.geometry.shape import Array, Point, as_point
from ivory_quilt.core.record import Struct, replace

MOST_NODES = 4000
SAME_NODE = 1e-9  # mm: nearer points are one


class CurveNode(Struct, frozen=True):
    """A place that a curve goes through, with its two handles.

    Attributes:
        at: the place, mm.
        before: handle of the span that comes in; `at` itself where that is straight.
        after: handle of the span that goes out.
        smooth: whether both spans have one tangent here, in every edit.
    """

    at: Point
    before: Point
    after: Point
    smooth: bool = False

    @classmethod
    def corner(cls, at: Point) -> "CurveNode":
        """Return a corner between two straight lines."""
        return cls(at, at, at)

    @property
    def points(self) -> tuple[Point, Point, Point]:
        """The place and both handles."""
        return self.at, self.before, self.after

    @property
    def bare(self) -> bool:
        """Whether it has no handle."""
        return self.before == self.at == self.after

    def moved(self, by: Point) -> "CurveNode":
        """Return the node with its handles moved by a step."""
        return replace(
            self, at=plus(self.at, by), before=plus(self.before, by), after=plus(self.after, by)
        )

    def turned_round(self) -> "CurveNode":
        """Return the node of the same curve run the other way."""
        return replace(self, before=self.after, after=self.before)


class CurvePath(Struct, frozen=True):
    """A closed outline of curves; span k runs from node k to node k + 1, the last to the first."""

    nodes: tuple[CurveNode, ...]

    def __post_init__(self) -> None:
        if not 2 <= len(self.nodes) <= MOST_NODES:
            raise InputError("outline", f"{len(self.nodes)} nodes", f"2 to {MOST_NODES}")
        found = np.array([n.points for n in self.nodes])
        if not np.abs(found).max() <= 1e9:  # no number is neither
            raise InputError("outline", "a node is not a usable place", "finite millimetres")

    def __len__(self) -> int:
        return len(self.nodes)

    def node(self, k: int) -> CurveNode:
        """Return node `k`, counted around."""
        return self.nodes[k % len(self.nodes)]

    def control(self, k: int) -> tuple[Point, Point, Point, Point]:
        """Return the four control points of span `k`."""
        a, b = self.node(k), self.node(k + 1)
        return a.at, a.after, b.before, b.at

    def is_straight(self, k: int) -> bool:
        """Return whether span `k` is a straight line without handles."""
        a, b, c, d = self.control(k)
        return a == b and c == d

    def span(self, k: int) -> Array:
        """Return span `k` made straight within 0.01 mm, (m, 2), both ends among them."""
        return flattened(self.control(k))

    def ring(self) -> Array:
        """Return the whole outline made straight, (n, 2), not repeated at its end."""
        return np.vstack([self.span(k)[:-1] for k in range(len(self.nodes))])

    def with_node(self, k: int, node: CurveNode) -> "CurvePath":
        """Return the path with another node in the place of one."""
        k %= len(self.nodes)
        return CurvePath((*self.nodes[:k], node, *self.nodes[k + 1 :]))

    def turned_round(self) -> "CurvePath":
        """Return the same outline run the other way."""
        return CurvePath(tuple(n.turned_round() for n in reversed(self.nodes)))

    def moved_by(self, move: Callable[[Array], Array]) -> "CurvePath":
        """Return the path where `move` puts its points (n, 2); it must be affine."""
        points = np.array([n.points for n in self.nodes]).reshape(-1, 2)
        moved = [as_point(p) for p in move(points)]
        return CurvePath(
            tuple(
                CurveNode(moved[3 * k], moved[3 * k + 1], moved[3 * k + 2], n.smooth)
                for k, n in enumerate(self.nodes)
            )
        )

    def locate(self, point: Point) -> tuple[float, float]:
        """Return (coordinate, distance in mm) of the place nearest to `point`.

        The coordinate is k + share: of span k, the share of its length that lies before.
        """
        found = [locate_on_line(self.span(k), point) for k in range(len(self.nodes))]
        k = min(range(len(found)), key=lambda j: found[j][1])
        at, away = found[k]
        whole = line_length(self.span(k))
        return k + (min(at / whole, 1 - 1e-12) if whole > 0 else 0.0), away

    def place(self, coordinate: float) -> Point:
        """Return the place at a coordinate."""
        k, share = divmod(coordinate % len(self.nodes), 1.0)
        line = self.span(int(k))
        far = corners_along(line)
        at = share * far[-1]
        return float(np.interp(at, far, line[:, 0])), float(np.interp(at, far, line[:, 1]))

    def parameter(self, coordinate: float) -> tuple[int, float]:
        """Return (span, parameter t from 0 to 1) of a coordinate."""
        k, share = divmod(coordinate % len(self.nodes), 1.0)
        line = self.span(int(k))
        # Spans are flattened in equal steps of the parameter.
        t = np.interp(share * line_length(line), corners_along(line), np.linspace(0, 1, len(line)))
        return int(k), float(t)


@lru_cache(maxsize=65536)
def flattened(control: tuple[Point, Point, Point, Point]) -> Array:
    """Return a span made straight within 0.01 mm, (m, 2), read-only; equal steps of its t."""
    a, b, c, d = control
    if a == b and c == d:
        line = np.array([a, d])
    else:
        line = np.vstack(([a], flatten_bezier(np.array(control))))
    line.setflags(write=False)
    return line


def point_at(control: Sequence[Point] | Array, t: float) -> Point:
    """Return the point of a cubic at parameter `t`."""
    u = 1 - t
    weights = np.array([u**3, 3 * u * u * t, 3 * u * t * t, t**3])
    return as_point(weights @ np.asarray(control))


def split(control: Sequence[Point], t: float) -> tuple[tuple[Point, ...], tuple[Point, ...]]:
    """Return the two cubics that a cubic is cut into at parameter `t` (de Casteljau)."""
    a, b, c, d = (np.asarray(p, dtype=float) for p in control)
    ab, bc, cd = a + t * (b - a), b + t * (c - b), c + t * (d - c)
    abc, bcd = ab + t * (bc - ab), bc + t * (cd - bc)
    middle = abc + t * (bcd - abc)
    return (
        tuple(as_point(p) for p in (a, ab, abc, middle)),
        tuple(as_point(p) for p in (middle, bcd, cd, d)),
    )


def plus(point: Point, step: Point, times: float = 1.0) -> Point:
    """Return a point moved by a step, taken `times`."""
    return point[0] + times * step[0], point[1] + times * step[1]


def minus(to: Point, start: Point) -> Point:
    """Return the step from one point to another."""
    return to[0] - start[0], to[1] - start[1]


def unit(step: Point) -> Point:
    """Return a step's direction, of length 1; nothing for no step."""
    long = math.hypot(*step)
    return (step[0] / long, step[1] / long) if long > SAME_NODE else (0.0, 0.0)
