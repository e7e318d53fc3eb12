"""Bevels that mate, and what they do to the outline on the other face.

A dihedral is the angle between the two outer faces, measured through the foam; a bevel is measured
from a square cut. Angles in degrees.
"""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

STEEPEST = 80.0  # degrees from square; no blade cuts beyond (from memory, no source)


def mitre(dihedral: float) -> Reckoning:
    """Reckon the bevel of two edges of equal thickness.

    Raises:
        InputError: the dihedral is not above 0 and at most 180 degrees.
    """
    within("dihedral", dihedral, 1, 180)
    value = (180.0 - dihedral) / 2
    return Reckoning(
        "mitre",
        {"dihedral": dihedral},
        {"bevel": value, "from_table": 90.0 - value},
        (
            Step("each from a square cut", f"(180 − {dihedral:g}) ÷ 2", value, "°"),
            Step("the blade from the table", f"90 − {value:g}", 90.0 - value, "°"),
        ),
        "the mitre bisects the angle between two faces",
    )


def butt(dihedral: float) -> float:
    """Return the bevel, degrees, of an edge that stands on the other's face.

    The other is cut square: at 90°, and at 270° on its far side, so is this one.
    """
    return (90.0 if dihedral <= 180 else 270.0) - dihedral


class UnequalMitre(Struct, frozen=True):
    """Two bevels (degrees from square) whose faces are equally long, and that length, mm."""

    bevel_1: float
    bevel_2: float
    face: float


def unequal_mitre(dihedral: float, thickness_1: float, thickness_2: float) -> UnequalMitre:
    """Return the bevels of two thicknesses that meet in one joint face.

    The joint runs from where the outer faces meet to where the inner faces meet. It makes angles
    a and b with the two faces, a + b = dihedral, and is as long as t₁ ÷ sin a = t₂ ÷ sin b; so
    tan a = t₁ sin δ ÷ (t₂ + t₁ cos δ).

    Raises:
        InputError: a value makes no sense, or faces in one plane with unequal thicknesses, whose
            edges cannot meet all over.
    """
    within("dihedral", dihedral, 1, 180)
    above_zero("thickness_1", thickness_1)
    above_zero("thickness_2", thickness_2)
    if dihedral == 180.0:
        if thickness_1 != thickness_2:
            raise InputError(
                "dihedral",
                "in one plane unequal edges cannot meet all over",
                "less than 180°, or one thickness",
            )
        return UnequalMitre(0.0, 0.0, thickness_1)
    delta = math.radians(dihedral)
    one = math.atan2(thickness_1 * math.sin(delta), thickness_2 + thickness_1 * math.cos(delta))
    other = delta - one
    face = thickness_1 / math.sin(one)
    return UnequalMitre(90.0 - math.degrees(one), 90.0 - math.degrees(other), face)


def mitre_unequal(dihedral: float, thickness_1: float, thickness_2: float) -> Reckoning:
    """Reckon the bevels of two thicknesses.

    Raises:
        InputError: see `unequal_mitre`.
    """
    found = unequal_mitre(dihedral, thickness_1, thickness_2)
    one = 90.0 - found.bevel_1
    return Reckoning(
        "mitre-unequal",
        {"dihedral": dihedral, "thickness_1": thickness_1, "thickness_2": thickness_2},
        {"bevel_1": found.bevel_1, "bevel_2": found.bevel_2, "face": found.face},
        (
            Step(
                "joint to the first face",
                f"atan({thickness_1:g} sin δ ÷ ({thickness_2:g} + {thickness_1:g} cos δ))",
                one,
                "°",
            ),
            Step("first bevel", f"90 − {one:.3f}", found.bevel_1, "°"),
            Step("second bevel", f"90 − ({dihedral:g} − {one:.3f})", found.bevel_2, "°"),
            Step("both bevel faces", f"{thickness_1:g} ÷ sin {one:.3f}°", found.face, "mm"),
        ),
        "law of sines in the joint's triangle",
    )


def flare_offset(thickness: float, angle: float) -> float:
    """Return how far the far face's outline lies outside the near one's (below 0: inside), mm.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("thickness", thickness)
    within("angle", angle, -STEEPEST, STEEPEST)
    return thickness * math.tan(math.radians(angle))


def flare(thickness: float, angle: float) -> Reckoning:
    """Reckon the far face's offset.

    Raises:
        InputError: see `flare_offset`.
    """
    value = flare_offset(thickness, angle)
    return Reckoning(
        "flare",
        {"thickness": thickness, "angle": angle},
        {"offset": value},
        (Step("thickness × tan angle", f"{thickness:g} × tan {angle:g}°", value, "mm"),),
        "right triangle of the bevel",
    )
