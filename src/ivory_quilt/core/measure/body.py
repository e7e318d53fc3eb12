"""A simple body of ellipses from a wearer's measures, limb by limb, to press forms on.

Girths are the wearer's own; how wide an ellipse is against how deep, and where along a limb a girth
lies, is from memory, no source: good enough to see a curve, never to fit by.
"""

import math
from enum import StrEnum

import numpy as np
import numpy.typing as npt

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import Wearer, spot
from ivory_quilt.core.record import Struct

Array = npt.NDArray[np.float64]
Ints = npt.NDArray[np.int64]

AROUND = 48  # corners of one ellipse
RINGS = 40  # ellipses of one limb


class BodyPart(StrEnum):
    """Parts of the body."""

    HEAD = "head"
    TORSO = "torso"
    UPPER_ARM = "upper arm"
    FOREARM = "forearm"
    THIGH = "thigh"
    SHIN = "shin"


class _Limb(Struct, frozen=True):
    """Girths along a limb.

    Attributes:
        girths: (measure's id, share of the length from its low end, of the girth).
        length: (measure's id, its share), added up, mm.
        flat: depth of an ellipse over its width.
    """

    girths: tuple[tuple[str, float, float], ...]
    length: tuple[tuple[str, float], ...]
    flat: float = 1.0


LIMBS = {
    BodyPart.TORSO: _Limb(
        (
            ("hip", 0.0, 1.0),
            ("waist", 0.32, 1.0),
            ("chest", 0.72, 1.0),
            ("chest", 0.9, 0.92),
            ("neck", 1.0, 1.15),
        ),
        (("torso", 1.45),),
        0.7,
    ),
    BodyPart.UPPER_ARM: _Limb(
        (("elbow", 0.0, 1.0), ("upper-arm", 0.55, 1.0), ("upper-arm", 1.0, 1.05)),
        (("arm", 0.55),),
    ),
    BodyPart.FOREARM: _Limb(
        (("wrist", 0.0, 1.0), ("forearm", 0.7, 1.0), ("elbow", 1.0, 1.0)),
        (("arm", 0.45),),
        0.86,
    ),
    BodyPart.THIGH: _Limb(
        (("knee", 0.0, 1.0), ("thigh", 0.85, 1.0), ("thigh", 1.0, 1.02)),
        (("leg", 1.0), ("knee-height", -1.0)),
        0.95,
    ),
    BodyPart.SHIN: _Limb(
        (("ankle", 0.0, 1.0), ("calf", 0.65, 1.0), ("knee", 1.0, 1.0)),
        (("knee-height", 0.82),),
        0.95,
    ),
}
HEAD_FLAT = 0.78  # width of a head over its depth


def ellipse_of(girth: float, flat: float) -> tuple[float, float]:
    """Return half the width and half the depth of an ellipse by its girth, mm.

    Ramanujan's second approximation of the perimeter (1914), true to a millionth here.
    """
    h = ((1 - flat) / (1 + flat)) ** 2
    around = math.pi * (1 + flat) * (1 + 3 * h / (10 + math.sqrt(4 - 3 * h)))
    return girth / around, flat * girth / around


def body_part(wearer: Wearer, part: BodyPart) -> tuple[Array, Ints]:
    """Return a part of a wearer's body as a closed mesh, z upwards: `(n, 3)` mm, `(m, 3)`.

    Raises:
        InputError: a measure that it takes is missing, or the measures contradict each other.
    """
    if part is BodyPart.HEAD:
        deep, wide = ellipse_of(_value(wearer, "head", part), HEAD_FLAT)
        high = _value(wearer, "head-height", part) / 2
        turns = np.linspace(0, np.pi, RINGS)
        rings = [(-high * math.cos(t), wide * math.sin(t), deep * math.sin(t)) for t in turns[1:-1]]
        return _tube(rings, (-high, high))
    limb = LIMBS[part]
    length = sum(_value(wearer, name, part) * share for name, share in limb.length)
    if length < 50:
        names = ", ".join(spot(n).title.lower() for n, _ in limb.length)
        where = f"{wearer.name}, {part.value}"
        raise InputError(where, f"{length:.0f} mm long by {names}", "measures that agree")
    at = [share for _, share, _ in limb.girths]
    girths = [_value(wearer, name, part) * share for name, _, share in limb.girths]
    rings = []
    for share in np.linspace(0, 1, RINGS):
        wide, deep = ellipse_of(float(np.interp(share, at, girths)), limb.flat)
        rings.append((float(share) * length, wide, deep))
    return _tube(rings, (0.0, length))


def _value(wearer: Wearer, name: str, part: BodyPart) -> float:
    found = wearer.measure(name)
    if found is None:
        where = f"{wearer.name}, {part.value}"
        raise InputError(where, f"no '{spot(name).title.lower()}'", "that measure, in Measure")
    return found.value


def _tube(rings: list[tuple[float, float, float]], ends: tuple[float, float]) -> tuple[Array, Ints]:
    """Return rings of (height, half width, half depth), closed by a point at each end."""
    turns = np.arange(AROUND) * 2 * np.pi / AROUND
    spots = [
        np.column_stack([wide * np.cos(turns), deep * np.sin(turns), np.full(AROUND, high)])
        for high, wide, deep in rings
    ]
    low, top = len(rings) * AROUND, len(rings) * AROUND + 1
    vertices = np.vstack([*spots, [(0.0, 0.0, ends[0]), (0.0, 0.0, ends[1])]])
    k = np.arange(AROUND)
    after = (k + 1) % AROUND
    triangles = []
    for ring in range(len(rings) - 1):
        one, other = ring * AROUND, (ring + 1) * AROUND
        triangles.append(np.column_stack([one + k, one + after, other + after]))
        triangles.append(np.column_stack([one + k, other + after, other + k]))
    last = (len(rings) - 1) * AROUND
    triangles.append(np.column_stack([after, k, np.full(AROUND, low)]))
    triangles.append(np.column_stack([last + k, last + after, np.full(AROUND, top)]))
    return vertices, np.vstack(triangles).astype(np.int64)
