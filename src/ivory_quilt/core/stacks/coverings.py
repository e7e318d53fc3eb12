"""What goes over a stack: the covers of a sandwich. The strip along its edge is a shape's rule."""

from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step

COMMON = "common practice, no source"


def cover(width: float, height: float, core: float, margin: float) -> Reckoning:
    """Reckon one of the two covers of a sandwich, as the box around it.

    The cover comes down over the core's thickness on every side and stands beyond by the margin,
    where it is pressed onto the other cover and trimmed.

    Raises:
        InputError: a value makes no sense.
    """
    for name, value in (("width", width), ("height", height), ("core", core)):
        above_zero(name, value)
    within("margin", margin, 0, 1000)
    more = 2 * (core + margin)
    return Reckoning(
        "cover",
        {"width": width, "height": height, "core": core, "margin": margin},
        {"cut_width": width + more, "cut_height": height + more},
        (
            Step("on each side", f"{core:g} + {margin:g}", core + margin, "mm"),
            Step("cut width", f"{width:g} + 2 × {core + margin:g}", width + more, "mm"),
            Step("cut height", f"{height:g} + 2 × {core + margin:g}", height + more, "mm"),
        ),
        COMMON,
        ("Two covers per core, front and back. Hot plastic burns: gloves.",),
    )
