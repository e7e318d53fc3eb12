"""Undercuts for folds, blade bevels, trenches for rods."""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step

COMMON = "common practice, no source"


def undercut(fold: float, thickness: float, skin: float) -> Reckoning:
    """Reckon the V groove for a fold, with a skin left that bends.

    Both walls close on each other when the foam is folded by `fold` degrees.

    Raises:
        InputError: a value makes no sense, or no groove is left.
    """
    within("fold", fold, 1, 170)
    above_zero("thickness", thickness)
    if not 0 <= skin < thickness:
        raise InputError("skin", f"{skin:g} mm", f"0 or more, less than {thickness:g} mm")
    depth = thickness - skin
    width = 2 * depth * math.tan(math.radians(fold) / 2)
    return Reckoning(
        "undercut",
        {"fold": fold, "thickness": thickness, "skin": skin},
        {"width": width, "depth": depth, "wall": fold / 2},
        (
            Step("depth", f"{thickness:g} − {skin:g}", depth, "mm"),
            Step(
                "width = 2 × depth × tan(fold ÷ 2)",
                f"2 × {depth:g} × tan {fold / 2:g}°",
                width,
                "mm",
            ),
            Step("each wall from square", f"{fold:g} ÷ 2", fold / 2, "°"),
        ),
        "triangle of the groove; a right-angle fold takes 45° from each side (common practice)",
        ("Cut away from yourself with a fresh blade.",),
    )


def blade(thickness: float, width: float) -> Reckoning:
    """Reckon the angle between a blade's face and its bevel.

    Both faces are bevelled, each over `width`, to meet in the middle of the thickness.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("thickness", thickness)
    above_zero("width", width)
    angle = math.degrees(math.atan2(thickness / 2, width))
    return Reckoning(
        "blade",
        {"thickness": thickness, "width": width},
        {"angle": angle, "edge": 2 * angle},
        (
            Step("each bevel to the face", f"atan({thickness:g} ÷ 2 ÷ {width:g})", angle, "°"),
            Step("the edge between them", f"2 × {angle:.3f}", 2 * angle, "°"),
        ),
        "right triangle of the bevel",
    )


def trench(rod: float, layers: float) -> Reckoning:
    """Reckon the trench for a rod between layers: an equal share of its depth in each.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("rod", rod)
    within("layers", layers, 1, 12)
    depth = rod / layers
    return Reckoning(
        "trench",
        {"rod": rod, "layers": layers},
        {"depth": depth, "width": rod},
        (
            Step("depth in each layer", f"{rod:g} ÷ {layers:g}", depth, "mm"),
            Step("width", "as wide as the rod", rod, "mm"),
        ),
        COMMON,
    )
