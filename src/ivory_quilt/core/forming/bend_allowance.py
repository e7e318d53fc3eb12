"""Bending: lengths on the neutral line, and what another thickness does to them.

The neutral line lies k × thickness from the inner face; there foam neither stretches nor is
squeezed (bend allowance, as in sheet-metal handbooks). k is 0.5 unless a coupon says otherwise.
"""

import math

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step

SOURCE = "bend allowance: angle × (inside radius + k × thickness), sheet-metal handbooks"


def allowance(degrees: float, inside_radius: float, thickness: float, neutral: float) -> float:
    """Return the flat length (mm) of foam bent through an angle.

    Raises:
        InputError: an input makes no sense.
    """
    within("angle", degrees, 0, 360)
    within("inside_radius", inside_radius, 0, 1e6)
    above_zero("thickness", thickness)
    within("neutral", neutral, 0, 1)
    return math.radians(degrees) * (inside_radius + neutral * thickness)


def bend(angle: float, inside_radius: float, thickness: float, neutral: float) -> Reckoning:
    """Reckon a bend's flat length.

    Raises:
        InputError: see `allowance`.
    """
    value = allowance(angle, inside_radius, thickness, neutral)
    formula = f"π ÷ 180 × {angle:g}° × ({inside_radius:g} + {neutral:g} × {thickness:g})"
    return Reckoning(
        "bend",
        {
            "angle": angle,
            "inside_radius": inside_radius,
            "thickness": thickness,
            "neutral": neutral,
        },
        {"allowance": value},
        (
            Step(
                "radius to the neutral line",
                f"{inside_radius:g} + {neutral:g} × {thickness:g}",
                inside_radius + neutral * thickness,
                "mm",
            ),
            Step("length along it", formula, value, "mm"),
        ),
        SOURCE,
    )


def neutral_from_coupon(
    angle: float, inside_radius: float, thickness: float, flat_length: float
) -> Reckoning:
    """Reckon the neutral line's depth from a strip that was bent and measured flat before.

    Raises:
        InputError: an input makes no sense, or the line would lie outside the foam.
    """
    within("angle", angle, 1, 360)
    within("inside_radius", inside_radius, 0, 1e6)
    above_zero("thickness", thickness)
    above_zero("flat_length", flat_length)
    radius = flat_length / math.radians(angle)
    value = (radius - inside_radius) / thickness
    if not -0.05 <= value <= 1.05:
        raise InputError(
            "coupon",
            f"its neutral line would lie {value * thickness:.1f} mm from the inner face",
            f"0 to {thickness:g} mm: measure the strip and the radius again",
        )
    return Reckoning(
        "neutral-from-coupon",
        {
            "angle": angle,
            "inside_radius": inside_radius,
            "thickness": thickness,
            "flat_length": flat_length,
        },
        {"neutral": value},
        (
            Step(
                "radius that is as long", f"{flat_length:g} ÷ (π ÷ 180 × {angle:g}°)", radius, "mm"
            ),
            Step(
                "its depth in the foam",
                f"({radius:.3f} − {inside_radius:g}) ÷ {thickness:g}",
                value,
            ),
        ),
        SOURCE,
    )


def thickness_change(
    angle: float, inside_radius: float, old: float, new: float, neutral: float
) -> Reckoning:
    """Reckon how much longer (below 0: shorter) a bend is cut in foam of another thickness.

    The inner face keeps its radius: the same body or form is beneath.

    Raises:
        InputError: see `allowance`.
    """
    before = allowance(angle, inside_radius, old, neutral)
    after = allowance(angle, inside_radius, new, neutral)
    return Reckoning(
        "thickness-change",
        {
            "angle": angle,
            "inside_radius": inside_radius,
            "old": old,
            "new": new,
            "neutral": neutral,
        },
        {"change": after - before},
        (
            Step(
                f"length in {old:g} mm",
                f"θ × ({inside_radius:g} + {neutral:g} × {old:g})",
                before,
                "mm",
            ),
            Step(
                f"length in {new:g} mm",
                f"θ × ({inside_radius:g} + {neutral:g} × {new:g})",
                after,
                "mm",
            ),
            Step("change over the angle", f"{after:.3f} − {before:.3f}", after - before, "mm"),
        ),
        SOURCE,
        ("The inner face stays where it is; half of the change goes to each end.",),
    )
