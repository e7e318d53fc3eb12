"""SVG's numbers: lengths with units, transforms, view boxes, path data, basic shapes.

Rules after the W3C recommendation "Scalable Vector Graphics 1.1 (second edition)", chapters 7
(coordinate systems), 8 (paths) and 9 (basic shapes); 1 in = 96 px (CSS Values and Units).
"""

import contextlib
import math
import re
from collections.abc import Iterator, Mapping
from functools import cached_property

import numpy as np
from svg.path import Arc, Close, CubicBezier, Line, Move, QuadraticBezier, parse_path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import arc_steps, flatten_bezier
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.record import Struct

MM_PER_PX = 25.4 / 96
UNITS = {
    "": 1.0,
    "px": 1.0,
    "pt": 96 / 72,
    "pc": 16.0,
    "mm": 96 / 25.4,
    "cm": 96 / 2.54,
    "q": 96 / 101.6,
    "in": 96.0,
    "em": 16.0,
    "ex": 8.0,
}
_NUMBER = r"[-+]?(?:\d+\.?\d*|\.\d+)(?:[eE][-+]?\d+)?"
_ANY_NUMBER = re.compile(_NUMBER)
_STRAIGHT = re.compile(r"[MmLlHhVvZz][^A-DF-Za-df-z]*")
_ODD = re.compile(r"[^-+.,eE\d\sMmLlHhVvZz]")
_ENDS = ("x1", "y1", "x2", "y2")
NO_CORNERS = np.zeros((0, 2))
_ODD_POINT = re.compile(r"[^-+.,eE\d\s]")
_CURVED = re.compile(r"[CcSsQqTtAa]")
_LENGTH = re.compile(rf"\s*({_NUMBER})\s*([a-zA-Z%]*)\s*$")
_CALL = re.compile(r"(matrix|translate|scale|rotate|skewX|skewY)\s*\(([^)]*)\)")


def split_length(text: str | None) -> tuple[float, str] | None:
    """Return (number, unit in lower case) of an SVG length, or None when it is none."""
    match = _LENGTH.match(text or "")
    return (float(match.group(1)), match.group(2).lower()) if match else None


def user_length(text: str | None, default: float, full: float = 0.0) -> float:
    """Return a length in user units; a percentage is of `full`."""
    parsed = split_length(text)
    if parsed is None:
        return default
    number, unit = parsed
    if unit == "%":
        return number / 100 * full
    return number * UNITS.get(unit, 1.0)


def numbers(text: str | None) -> list[float]:
    """Return all numbers in a list such as ``points`` or ``viewBox``."""
    return [float(n) for n in _ANY_NUMBER.findall(text or "")]


class Affine(Struct, frozen=True, dict=True):
    """x' = a·x + c·y + e, y' = b·x + d·y + f (SVG's letters)."""

    a: float = 1.0
    b: float = 0.0
    c: float = 0.0
    d: float = 1.0
    e: float = 0.0
    f: float = 0.0

    def __matmul__(self, o: "Affine") -> "Affine":
        """Return the transform that applies `o` first."""
        return Affine(
            self.a * o.a + self.c * o.b,
            self.b * o.a + self.d * o.b,
            self.a * o.c + self.c * o.d,
            self.b * o.c + self.d * o.d,
            self.a * o.e + self.c * o.f + self.e,
            self.b * o.e + self.d * o.f + self.f,
        )

    def apply(self, points: Array) -> Array:
        """Return transformed points (n, 2)."""
        return np.asarray(points @ self._linear + self._shift)

    @cached_property
    def _linear(self) -> Array:
        return np.array([[self.a, self.b], [self.c, self.d]])

    @cached_property
    def _shift(self) -> Array:
        return np.array([self.e, self.f])

    @property
    def finite(self) -> bool:
        """Whether all of it are usable numbers."""
        return all(map(math.isfinite, (self.a, self.b, self.c, self.d, self.e, self.f)))

    @property
    def largest_scale(self) -> float:
        """The most that any direction is stretched."""
        matrix = np.array([[self.a, self.c], [self.b, self.d]])
        return float(np.linalg.norm(matrix, 2))


def parse_transform(text: str | None) -> tuple[Affine, str]:
    """Return a ``transform`` attribute as one transform, and what of it cannot be read."""
    total = Affine()
    if not text:
        return total, ""
    rest = _CALL.sub(" ", text).replace(",", " ").strip()
    for call in _CALL.finditer(text):
        name, arguments = call.groups()
        values = arguments.replace(",", " ").split()
        try:
            # Numbers may also stand without a space: "1-2".
            v = [float(w) for w in values] if _plain(values) else numbers(arguments)
            odd = "".join(_ANY_NUMBER.sub(" ", arguments).replace(",", " ").split())
            one = None if odd else _transform(name, v)
        except ValueError:
            one = None
        if one is None or not one.finite:
            rest = rest or call.group(0)
        else:
            total = total @ one
    return total, rest


def _plain(values: list[str]) -> bool:
    return all(_ANY_NUMBER.fullmatch(w) for w in values)


def _transform(name: str, v: list[float]) -> Affine | None:
    if name == "matrix" and len(v) == 6:
        return Affine(*v)
    if name == "translate" and v:
        return Affine(e=v[0], f=v[1] if len(v) > 1 else 0.0)
    if name == "scale" and v:
        return Affine(a=v[0], d=v[1] if len(v) > 1 else v[0])
    if name == "rotate" and v:
        angle = math.radians(v[0])
        turn = Affine(math.cos(angle), math.sin(angle), -math.sin(angle), math.cos(angle))
        if len(v) < 3:
            return turn
        return Affine(e=v[1], f=v[2]) @ turn @ Affine(e=-v[1], f=-v[2])
    if name == "skewX" and v:
        return Affine(c=math.tan(math.radians(v[0])))
    if name == "skewY" and v:
        return Affine(b=math.tan(math.radians(v[0])))
    return None


def view_transform(
    view_box: list[float], width: float, height: float, aspect: str | None
) -> Affine:
    """Return how a view box is fitted into width × height (``preserveAspectRatio``)."""
    if len(view_box) != 4 or view_box[2] <= 0 or view_box[3] <= 0:
        return Affine()
    x, y, w, h = view_box
    sx, sy = width / w, height / h
    words = (aspect or "xMidYMid meet").split()
    align = words[0] if words else "xMidYMid"
    if align == "none":
        return Affine(sx, 0, 0, sy, -x * sx, -y * sy)
    s = max(sx, sy) if "slice" in words else min(sx, sy)
    share = {"Min": 0.0, "Mid": 0.5, "Max": 1.0}
    fx, fy = share.get(align[1:4], 0.5), share.get(align[5:8], 0.5)
    return Affine(s, 0, 0, s, -x * s + (width - w * s) * fx, -y * s + (height - h * s) * fy)


def flatten_path(data: str, place: Affine, tolerance: float) -> Iterator[tuple[Array, bool]]:
    """Yield (points in mm, closed) for each subpath of path data placed by `place`.

    Raises:
        ValueError: the data cannot be read at all.
    """
    if not _CURVED.search(data):
        yield from _straight_path(data, place)
        return
    run = _Subpath(place)
    for segment in parse_path(data):
        if isinstance(segment, Line):
            run.corners.append(segment.end)
            continue
        if isinstance(segment, Move | Close):
            yield from run.finish(closed=isinstance(segment, Close))
            run = _Subpath(place, segment.end)
        else:
            run.add(_flatten(segment, place, tolerance), segment.start)
    yield from run.finish(closed=False)


def _straight_path(data: str, place: Affine) -> Iterator[tuple[Array, bool]]:
    """Yield the subpaths of path data without curves; a million points take a second or two.

    Raises:
        ValueError: the data cannot be read at all.
    """
    data = data.strip()
    if data and data[0] not in "Mm":
        raise ValueError("it does not begin with a move")
    if odd := _ODD.search(data):
        raise ValueError(f"'{data[odd.start() : odd.start() + 12]}' is no path data")
    at = np.zeros(2)
    start = at
    runs: list[Array] = []
    for command in _STRAIGHT.findall(data):
        letter = command[0]
        if letter in "Zz":
            if runs and sum(map(len, runs)) > 1:
                yield place.apply(np.vstack(runs)), True
            at, runs = start, []
            continue
        values = np.array(_ANY_NUMBER.findall(command), dtype=np.float64)
        if letter in "Mm":
            if runs and sum(map(len, runs)) > 1:
                yield place.apply(np.vstack(runs)), False
            runs = []
        points = _corners(letter, values, at)
        if letter in "Mm":
            start = points[0]
        elif not runs:
            runs.append(at[None])
        runs.append(points)
        at = points[-1]
    if runs and sum(map(len, runs)) > 1:
        yield place.apply(np.vstack(runs)), False


def _corners(letter: str, values: Array, at: Array) -> Array:
    """Return the corners (n, 2) that a straight command goes to from `at`."""
    if letter in "HhVv":
        if not len(values):
            raise ValueError(f"'{letter}' without a number")
        axis = 0 if letter in "Hh" else 1
        points = np.tile(at, (len(values), 1))
        points[:, axis] = values if letter in "HV" else at[axis] + np.cumsum(values)
        return points
    if len(values) < 2 or len(values) % 2:
        raise ValueError(f"'{letter}' with {len(values)} numbers")
    points = values.reshape(-1, 2)
    return points if letter in "ML" else np.asarray(at + np.cumsum(points, axis=0))


class _Subpath:
    """Points of one subpath; corners between straight lines are placed together, for speed."""

    def __init__(self, place: Affine, start: complex | None = None) -> None:
        self.place = place
        self.corners: list[complex] = [] if start is None else [start]
        self.points: list[Array] = []

    def add(self, points: Array, start: complex) -> None:
        if not self.corners and not self.points:
            self.corners.append(start)
        self._settle()
        self.points.append(points)

    def finish(self, *, closed: bool) -> Iterator[tuple[Array, bool]]:
        self._settle()
        if self.points and sum(map(len, self.points)) > 1:
            yield np.vstack(self.points), closed

    def _settle(self) -> None:
        if self.corners:
            self.points.append(_place(self.place, *self.corners))
            self.corners = []


def _place(place: Affine, *values: complex) -> Array:
    return place.apply(np.array(values).view(np.float64).reshape(-1, 2))


def _flatten(segment: object, place: Affine, tolerance: float) -> Array:
    if isinstance(segment, CubicBezier):
        control = _place(place, segment.start, segment.control1, segment.control2, segment.end)
        return flatten_bezier(control, tolerance)
    if isinstance(segment, QuadraticBezier):
        return flatten_bezier(_place(place, segment.start, segment.control, segment.end), tolerance)
    if isinstance(segment, Arc):
        rx, ry = abs(segment.radius.real), abs(segment.radius.imag)
        if rx == 0 or ry == 0 or segment.start == segment.end:
            return _place(place, segment.end)
        # The radii may have been enlarged to reach both ends.
        reach = max(rx, ry, abs(segment.start - segment.center), abs(segment.end - segment.center))
        n = arc_steps(reach * place.largest_scale, math.radians(segment.delta), tolerance)
        return _place(place, *(segment.point(k / n) for k in range(1, n)), segment.end)
    raise ValueError(f"unknown path segment {segment!r}")


def straight_shape(
    kind: str, a: Mapping[str, str], width: float, height: float
) -> tuple[Array, bool] | None:
    """Return (corners, closed) of a basic shape with straight sides; None when it is not one.

    `width`, `height`: the viewport in user units, for percentages. A shape that draws nothing has
    no corners.

    Raises:
        InputError: a place or size that is not a number.
    """
    if kind == "rect":
        if "rx" in a or "ry" in a:
            return None
        x, y = (_checked(kind, k, a, 0.0, n) for k, n in (("x", width), ("y", height)))
        w, h = (_checked(kind, k, a, 0.0, n) for k, n in (("width", width), ("height", height)))
        if w <= 0 or h <= 0:
            return NO_CORNERS, True
        return np.array([(x, y), (x + w, y), (x + w, y + h), (x, y + h)]), True
    if kind == "line":
        ends = [
            _checked(kind, k, a, 0.0, n) for k, n in zip(_ENDS, 2 * (width, height), strict=True)
        ]
        return np.array(ends).reshape(2, 2), False
    if kind in ("polyline", "polygon"):
        text = a.get("points") or ""
        if odd := _ODD_POINT.search(text):
            where = f"<{kind}> '{a['id']}'" if "id" in a else f"<{kind}>"
            raise InputError(where, f"its points hold '{text[odd.start() :][:20]}'", "numbers")
        v = np.array(_ANY_NUMBER.findall(text), dtype=np.float64)
        corners = v[: len(v) // 2 * 2].reshape(-1, 2)
        return (corners if len(corners) > 1 else NO_CORNERS), kind == "polygon"
    return None


def basic_shape(kind: str, a: Mapping[str, str], width: float, height: float) -> str | None:
    """Return a basic shape with curves as path data, None when it draws nothing.

    `width`, `height`: the viewport in user units, for percentages.

    Raises:
        InputError: a place or size that is not a number.
    """

    def x(key: str, default: float = 0.0) -> float:
        return _checked(kind, key, a, default, width)

    def y(key: str, default: float = 0.0) -> float:
        return _checked(kind, key, a, default, height)

    if kind == "rect":
        return _rectangle(a, x, y)
    if kind in ("circle", "ellipse"):
        full = math.hypot(width, height) / math.sqrt(2)
        r = _checked(kind, "r", a, 0.0, full)
        rx, ry = (r, r) if kind == "circle" else (x("rx"), y("ry"))
        cx, cy = x("cx"), y("cy")
        if rx <= 0 or ry <= 0:
            return None
        half = f"A{rx!r} {ry!r} 0 0 1 "
        return f"M{cx + rx!r} {cy!r}{half}{cx - rx!r} {cy!r}{half}{cx + rx!r} {cy!r}Z"
    return None


def _checked(kind: str, key: str, a: Mapping[str, str], default: float, full: float) -> float:
    """Return a length of a shape; one that is no number would put it where nobody drew it."""
    text = a.get(key)
    if text is None:
        return default
    with contextlib.suppress(ValueError):  # a plain number, as nearly all are
        if abs(value := float(text)) < math.inf:
            return value
    value = user_length(text, math.nan, full)
    if not math.isfinite(value):
        name = f"<{kind}> '{a['id']}'" if "id" in a else f"<{kind}>"
        raise InputError(name, f"its {key}='{text[:40]}' is not a number", "a number")
    return value


def _rectangle(a: Mapping[str, str], x: object, y: object) -> str | None:
    left, top, w, h = x("x"), y("y"), x("width"), y("height")  # type: ignore[operator]
    if w <= 0 or h <= 0:
        return None
    rx = x("rx", -1.0) if a.get("rx", "auto") != "auto" else -1.0  # type: ignore[operator]
    ry = y("ry", -1.0) if a.get("ry", "auto") != "auto" else -1.0  # type: ignore[operator]
    rx, ry = (ry if rx < 0 else rx), (rx if ry < 0 else ry)
    rx, ry = min(max(rx, 0.0), w / 2), min(max(ry, 0.0), h / 2)
    r, b = left + w, top + h
    if rx == 0 or ry == 0:
        return f"M{left!r} {top!r}L{r!r} {top!r}L{r!r} {b!r}L{left!r} {b!r}Z"
    arc = f"A{rx!r} {ry!r} 0 0 1 "
    return (
        f"M{left + rx!r} {top!r}L{r - rx!r} {top!r}{arc}{r!r} {top + ry!r}"
        f"L{r!r} {b - ry!r}{arc}{r - rx!r} {b!r}L{left + rx!r} {b!r}"
        f"{arc}{left!r} {b - ry!r}L{left!r} {top + ry!r}{arc}{left + rx!r} {top!r}Z"
    )
