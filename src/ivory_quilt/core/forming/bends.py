"""Bent along lines: by heat with a radius, or closed over a V groove."""

import math

import numpy as np

from ivory_quilt.core.forming.bend_allowance import SOURCE
from ivory_quilt.core.forming.shaping import AxisFrame, Change, Place
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.piece import Crease, LineKind, PieceLine
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

FACET = math.radians(8.0)
SHARP = 0.02  # mm: a bend of no width still needs one


class Bend(Struct, frozen=True):
    """A line that the piece bends along, in the pattern; it moves what lies on its right.

    Attributes:
        frame: its axis runs along the line; across it, away from the piece's middle.
        angle: radians, above 0 with the outer face outside.
        radius: inside, of the foam's face, mm.
        reference: radius of the face that the pattern was taken on, mm.
        groove: depth that a V groove leaves, mm; None for a bend by heat.
        front: whether the groove is in the outer face.
    """

    frame: AxisFrame
    angle: float
    radius: float
    reference: float
    groove: float | None = None
    front: bool = False

    @property
    def width(self) -> float:
        """Width of the bend on the pattern, mm."""
        if self.groove is not None:
            return SHARP
        return max(abs(self.angle) * self.reference, SHARP)

    def cut_width(self, place: Place, base: float) -> float:
        """Return its width on a flat layer, mm; `base` is the thickness of the piece itself."""
        if self.groove is not None:
            return SHARP
        height = place.height if self.angle > 0 else base - place.height
        return max(abs(self.angle) * (self.radius + height), SHARP)


class Bends(Struct, frozen=True):
    """All bends of a piece of foam `thickness` thick, from the outermost in."""

    bends: tuple[Bend, ...]
    thickness: float
    longest: float = 0.0

    def flat(self, points: Array, place: Place) -> Array:
        """Move what lies beyond each bend out by what the bend takes more."""
        moved = np.array(points, dtype=np.float64)
        for bend in self.bends:
            across = bend.frame.into(points)[:, 0]
            more = bend.cut_width(place, self.thickness) - bend.width
            share = np.clip(across / bend.width + 0.5, 0.0, 1.0)
            moved += (more * share)[:, None] * bend.frame.across
        return moved

    def _laid(self, bend: Bend, place: Place) -> AxisFrame:
        """Return a bend's frame on the flat layer."""
        (x, y) = self.flat(np.array([bend.frame.origin]), place)[0].tolist()
        return AxisFrame((x, y), bend.frame.axis)

    def space(self, points: Array, heights: Array, place: Place) -> Array:
        """Bend the flat layer, outermost bends first."""
        solid = np.column_stack((points, heights + place.lift))
        for bend in self.bends:
            frame = self._laid(bend, place)
            across = frame.into(points)[:, 0]
            solid = (
                self._heated(bend, frame, across, solid, place)
                if bend.groove is None
                else self._closed(bend, frame, across, solid, place)
            )
        return solid

    def _heated(
        self, bend: Bend, frame: AxisFrame, across: Array, solid: Array, place: Place
    ) -> Array:
        width = bend.cut_width(place, self.thickness)
        sign = 1.0 if bend.angle > 0 else -1.0
        pivot = -bend.radius if bend.angle > 0 else self.thickness + bend.radius
        local = frame.into(solid[:, :2])
        begun = across + width / 2
        turn = np.clip(begun / width, 0.0, 1.0) * abs(bend.angle)
        beyond = np.where(begun > width, local[:, 0] - width / 2, 0.0)
        out = (solid[:, 2] - pivot) * sign
        x = out * np.sin(turn) + beyond * np.cos(turn) - width / 2
        z = out * np.cos(turn) - beyond * np.sin(turn)
        moves = begun > 0
        local[:, 0] = np.where(moves, x, local[:, 0])
        z = np.where(moves, pivot + sign * z, solid[:, 2])
        return np.column_stack((frame.out_of(local), z))

    def _closed(
        self, bend: Bend, frame: AxisFrame, across: Array, solid: Array, _place: Place
    ) -> Array:
        assert bend.groove is not None
        # The skin that is left bends at the groove's foot.
        pivot = self.thickness - bend.groove if bend.front else bend.groove
        half = math.tan(abs(bend.angle) / 2)
        local = frame.into(solid[:, :2])
        z = solid[:, 2].copy()
        depth = z - pivot if bend.front else pivot - z
        inside = (depth > 0) & (np.abs(across) < depth * half) & (half > 1e-6)
        wall = np.abs(across) / max(half, 1e-6)
        z = np.where(inside, pivot + wall if bend.front else pivot - wall, z)
        moves = across > 0
        turn = bend.angle
        x = np.where(
            moves, local[:, 0] * math.cos(turn) + (z - pivot) * math.sin(turn), local[:, 0]
        )
        up = np.where(moves, pivot + (z - pivot) * math.cos(turn) - local[:, 0] * math.sin(turn), z)
        return np.column_stack((frame.out_of(np.column_stack((x, local[:, 1]))), up))

    def cuts(self, _place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """Both sides of each bend."""
        return tuple((b.frame, s * b.width / 2) for b in self.bends for s in (-1.0, 1.0))

    def laid_cuts(self, place: Place) -> tuple[tuple[AxisFrame, float], ...]:
        """Return lines on the flat layer at which a mesh must have points."""
        lines: list[tuple[AxisFrame, float]] = []
        for bend in self.bends:
            frame = self._laid(bend, place)
            if bend.groove is not None:
                half = max(bend.groove * math.tan(abs(bend.angle) / 2), 2 * SHARP)
                lines += [(frame, -half), (frame, -1e-3), (frame, 1e-3), (frame, half)]
                continue
            width = bend.cut_width(place, self.thickness)
            n = max(2, math.ceil(abs(bend.angle) / FACET))
            lines += [(frame, width * (k / n - 0.5)) for k in range(n + 1)]
        return tuple(lines)

    def changes(self, place: Place) -> tuple[Change, ...]:
        """Reckon each bend's allowance."""
        made = []
        for bend in self.bends:
            if bend.groove is not None:
                continue
            width, degrees = bend.cut_width(place, self.thickness), math.degrees(abs(bend.angle))
            was = abs(bend.angle) * bend.reference
            reckoned = Reckoning(
                "bend",
                {
                    "angle": degrees,
                    "inside_radius": bend.radius,
                    "thickness": place.thickness,
                    "neutral_height": place.height,
                },
                {"allowance": width, "change": width - was},
                (
                    Step(
                        "on the pattern's face",
                        f"π ÷ 180 × {degrees:g}° × {bend.reference:.2f}",
                        was,
                        "mm",
                    ),
                    Step(
                        "on the neutral line",
                        f"π ÷ 180 × {degrees:g}° × {width / abs(bend.angle):.2f}",
                        width,
                        "mm",
                    ),
                    Step("change", f"{width:.2f} − {was:.2f}", width - was, "mm"),
                ),
                SOURCE,
            )
            text = f"bend of {place.thickness:g} mm foam by {degrees:.0f}°"
            made.append(Change(text, width - was, reckoned))
        return tuple(made)

    def step(self, _place: Place) -> tuple[float, float, AxisFrame]:
        """Only the bends need points."""
        return 0.0, 0.0, AxisFrame((0.0, 0.0), 90.0)


def bends_of(
    lines: tuple[PieceLine, ...],
    middle: Point,
    thickness: float,
    offset: float,
    beneath: float,
    *,
    by_heat: bool,
) -> tuple[Bend, ...]:
    """Return the bends of a piece, farthest from its middle first.

    Args:
        lines: of the piece; fold lines with a crease bend by heat, closed undercuts over a groove.
        middle: what stays where it is.
        thickness: of the piece, mm.
        offset: height of the face that the pattern was taken on, above the inner face.
        beneath: what is worn beneath, mm.
        by_heat: whether fold lines bend too.
    """
    found = []
    for line in lines:
        crease = line.crease
        groove = line.kind is LineKind.UNDERCUT
        if crease is None or not crease.folds or crease.angle == 0:
            continue
        if not groove and not (by_heat and line.kind is LineKind.FOLD):
            continue
        found.append(_bend(line, crease, middle, thickness, offset, beneath, groove=groove))
    return tuple(sorted(found, key=lambda b: -abs(b.frame.into(np.array([middle]))[0, 0])))


def _bend(
    line: PieceLine,
    crease: Crease,
    middle: Point,
    thickness: float,
    offset: float,
    beneath: float,
    *,
    groove: bool,
) -> Bend:
    (x0, y0), (x1, y1) = line.points[0].tolist(), line.points[-1].tolist()
    frame = AxisFrame(((x0 + x1) / 2, (y0 + y1) / 2), math.degrees(math.atan2(y1 - y0, x1 - x0)))
    if frame.into(np.array([middle]))[0, 0] > 0:
        frame = AxisFrame(frame.origin, frame.axis + 180.0)
    angle = math.radians(crease.angle)
    if groove:
        depth = max(thickness - crease.skin, 0.0)
        return Bend(frame, angle, 0.0, 0.0, depth, crease.front)
    inside = crease.radius + beneath
    height = offset if angle > 0 else thickness - offset
    return Bend(frame, angle, inside, max(inside + height, 0.0))
