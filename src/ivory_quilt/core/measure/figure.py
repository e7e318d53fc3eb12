"""The wearer standing: the body of ellipses put together by the heights of its joints.

Axes: x to the wearer's right, y to the front, z up from the floor, mm. What was not measured is
guessed by the stature: lengths by Drillis and Contini (1966), *Body segment parameters*, as quoted
in textbooks of biomechanics; girths and the rest from memory, no source. It says what it guessed.
"""

import math
from functools import cached_property

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.body import Array, BodyPart, Ints, body_part
from ivory_quilt.core.measure.wearer import Measure, Wearer, spot
from ivory_quilt.core.record import Struct, replace

# Of the stature.
LENGTHS = {
    "head-height": 0.130,
    "shoulders": 0.259,
    "arm": 0.332,  # upper arm 0.186 and forearm 0.146
    "knee-height": 0.285,
    "leg": 0.47,  # from memory
    "torso": 0.25,  # from memory
}
# Of another girth where that was measured, else of the stature; from memory, no source.
GIRTHS: dict[str, tuple[tuple[str, float], ...]] = {
    "head": (("height", 0.325),),
    "neck": (("chest", 0.39), ("height", 0.215)),
    "chest": (("waist", 1.17), ("height", 0.55)),
    "waist": (("chest", 0.85), ("height", 0.47)),
    "hip": (("waist", 1.14), ("height", 0.55)),
    "forearm": (("upper-arm", 0.9), ("height", 0.155)),
    "upper-arm": (("forearm", 1.12), ("height", 0.175)),
    "elbow": (("forearm", 1.0), ("height", 0.15)),
    "wrist": (("forearm", 0.63), ("height", 0.097)),
    "thigh": (("calf", 1.55), ("height", 0.32)),
    "calf": (("thigh", 0.66), ("height", 0.21)),
    "knee": (("thigh", 0.68), ("height", 0.22)),
    "ankle": (("calf", 0.65), ("height", 0.13)),
}
SHOULDER, HIP = 0.818, 0.53  # heights of joints, of the stature (Drillis and Contini)
ABDUCTED = math.radians(12.0)  # arms hang a little away from the body
SEAT = 0.04  # of the stature: the torso's foot below the hip joints, from memory
STRIDE = 0.055  # of the stature: half the distance between the two hips


class Limb(Struct, frozen=True, eq=False, dict=True):
    """A part of the body where it stands.

    Attributes:
        side: 1 on the wearer's right, -1 on the left, 0 in the middle.
        low: the lower end of its axis, `(3,)` mm.
        up: along its axis, `(3,)`, of length 1.
        length: mm.
        vertices, triangles: as it stands.
        own: its vertices about its own axis, z along it.
    """

    part: BodyPart
    side: int
    low: Array
    up: Array
    length: float
    vertices: Array
    triangles: Ints
    own: Array

    @cached_property
    def frame(self) -> Array:
        """Rows: to the right, to the front, along the axis."""
        front = np.array([0.0, 1.0, 0.0])
        front = front - self.up * float(front @ self.up)
        front /= np.linalg.norm(front)
        made: Array = np.stack([np.cross(front, self.up), front, self.up])
        return made

    @cached_property
    def _rings(self) -> tuple[Array, Array, Array]:
        """Heights of its rings, half their width and half their depth."""
        z = self.own[:, 2]
        levels = np.unique(np.round(z, 3))
        wide = np.array([np.abs(self.own[np.abs(z - v) < 0.01, 0]).max() for v in levels])
        deep = np.array([np.abs(self.own[np.abs(z - v) < 0.01, 1]).max() for v in levels])
        inside = wide > 0.01  # the ends are points
        return levels[inside], wide[inside], deep[inside]

    def radii(self, heights: Array) -> tuple[Array, Array]:
        """Return half the width and half the depth at heights along the axis, mm, one for each."""
        levels, wide, deep = self._rings
        return np.interp(heights, levels, wide), np.interp(heights, levels, deep)


class WearerFigure(Struct, frozen=True, eq=False):
    """A wearer standing.

    Attributes:
        guessed: titles of the measures that nobody has taken.
    """

    limbs: tuple[Limb, ...]
    guessed: tuple[str, ...]

    def limb(self, part: BodyPart, side: int) -> Limb:
        """Return a part; of one in the middle, whichever side is asked for.

        Raises:
            KeyError: there is none.
        """
        for limb in self.limbs:
            if limb.part is part and limb.side in (side, 0):
                return limb
        raise KeyError(part)


def completed(wearer: Wearer) -> tuple[Wearer, tuple[str, ...]]:
    """Return a wearer with every measure that the figure takes, and the ids of guessed ones.

    Raises:
        InputError: not even the height is known.
    """
    known = {m.spot: m.value for m in wearer.measures}
    if "height" not in known:
        where = f"{wearer.name}, figure"
        raise InputError(where, f"no '{spot('height').title.lower()}'", "that measure, in Measure")
    stature = known["height"]
    made = dict(known)
    for name, share in LENGTHS.items():
        made.setdefault(name, share * stature)
    for name, ways in GIRTHS.items():
        if name not in made:
            other, share = next((o, s) for o, s in ways if o in known)
            made[name] = share * known[other]
    guessed = tuple(n for n in made if n not in known)
    more = tuple(Measure(n, round(made[n], 1)) for n in guessed)
    return replace(wearer, measures=(*wearer.measures, *more)), guessed


def figure_of(wearer: Wearer) -> WearerFigure:
    """Return a wearer standing.

    Raises:
        InputError: the height is missing, or measures contradict each other.
    """
    whole, guessed = completed(wearer)
    value = {m.spot: m.value for m in whole.measures}
    stature = value["height"]
    knee = value["knee-height"]
    apart = max(STRIDE * stature, value["thigh"] / (2 * math.pi) * 1.05)
    shoulder = SHOULDER * stature
    limbs = []
    for part in BodyPart:
        vertices, triangles = body_part(whole, part)
        length = float(np.ptp(vertices[:, 2]))
        vertices = vertices - (0.0, 0.0, float(vertices[:, 2].min()))
        for side in (0,) if part in (BodyPart.HEAD, BodyPart.TORSO) else (1, -1):
            low, up = np.zeros(3), np.array([0.0, 0.0, 1.0])
            if part is BodyPart.HEAD:
                low[2] = stature - length
            elif part is BodyPart.TORSO:
                low[2] = (HIP - SEAT) * stature
            elif part is BodyPart.SHIN:
                low[:] = side * apart, 0.0, knee - length
            elif part is BodyPart.THIGH:
                low[:] = side * apart, 0.0, knee
            else:
                up = np.array([-side * math.sin(ABDUCTED), 0.0, math.cos(ABDUCTED)])
                top = np.array([side * value["shoulders"] / 2, 0.0, shoulder])
                upper = 0.55 * value["arm"]
                down = upper if part is BodyPart.UPPER_ARM else upper + length
                low = top - up * down
            limbs.append(_standing(part, side, low, up, length, vertices, triangles))
    return WearerFigure(tuple(limbs), tuple(spot(n).title for n in guessed))


def _standing(
    part: BodyPart, side: int, low: Array, up: Array, length: float, own: Array, triangles: Ints
) -> Limb:
    limb = Limb(part, side, low, up, length, own, triangles, own)
    return replace(limb, vertices=low + own @ limb.frame)
