"""Layers glued on a form: each outer one is longer; parts on a curved base drift."""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step

SOURCE = "length of each layer's own neutral line: angle × radius (bend allowance)"


def layer_radii(
    inside_radius: float, thicknesses: tuple[float, ...], neutral: float
) -> tuple[float, ...]:
    """Return the radius of each layer's neutral line, inner layer first, mm.

    Raises:
        InputError: a value makes no sense.
    """
    within("inside_radius", inside_radius, 0, 1e6)
    within("neutral", neutral, 0, 1)
    if not thicknesses:
        raise InputError("thicknesses", "there are none", "one or more, inner first")
    radii, inner = [], inside_radius
    for thickness in thicknesses:
        radii.append(inner + neutral * above_zero("thickness", thickness))
        inner += thickness
    return tuple(radii)


def curved_layers(
    angle: float, inside_radius: float, thicknesses: tuple[float, ...], neutral: float
) -> Reckoning:
    """Reckon the length of every layer of a curved stack.

    Raises:
        InputError: see `layer_radii`.
    """
    within("angle", angle, 0, 360)
    radii = layer_radii(inside_radius, thicknesses, neutral)
    lengths = tuple(math.radians(angle) * r for r in radii)
    steps = [
        Step(f"layer {k}, {t:g} mm", f"π ÷ 180 × {angle:g}° × {r:g}", value, "mm")
        for k, (t, r, value) in enumerate(zip(thicknesses, radii, lengths, strict=True), 1)
    ]
    return Reckoning(
        "curved-layers",
        {"angle": angle, "inside_radius": inside_radius, "neutral": neutral},
        {"lengths": lengths},
        tuple(steps),
        SOURCE,
        ("Bend the layers first, then glue them on the form.",),
    )


def drift(
    angle: float, inside_radius: float, under: float, over: float, neutral: float
) -> Reckoning:
    """Reckon how much longer what lies over is than what lies under, over an angle.

    Raises:
        InputError: see `layer_radii`.
    """
    within("angle", angle, 0, 360)
    inner, outer = layer_radii(inside_radius, (under, over), neutral)
    a, b = (math.radians(angle) * r for r in (inner, outer))
    return Reckoning(
        "drift",
        {
            "angle": angle,
            "inside_radius": inside_radius,
            "under": under,
            "over": over,
            "neutral": neutral,
        },
        {"drift": b - a},
        (
            Step("what lies under", f"θ × {inner:g}", a, "mm"),
            Step("what lies over", f"θ × {outer:g}", b, "mm"),
            Step("drift", f"{b:.3f} − {a:.3f}", b - a, "mm"),
        ),
        SOURCE,
        ("Makers start at the middle and work outwards: each side drifts by half.",),
    )
