"""The rules behind the shapes, each as a reckoning that explains itself.

Thickness counts on the neutral line, `neutral` × thickness from the inner face (0.5: the middle;
common practice, no source: to be corrected by a coupon).
"""

import math
from collections.abc import Sequence

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import (
    above_zero,
    cone_sector,
    regular_pyramid,
    spherical_cap,
    within,
    wrap_length,
)
from ivory_quilt.core.reckoning import Reckoning, Step

COMMON = "common practice, no source"
BEND = "length of the neutral line: bend allowance of sheet-metal handbooks, angle × (r + k·t)"
CONE = "development of a right circular cone (descriptive geometry)"
CAP = "intersecting chords (Euclid III.35); area of a cap (Archimedes, Sphere and Cylinder I.42)"
GORES = "equal shares of each parallel: globe gores"
PYRAMID = "regular pyramid: Pythagoras on inradius and height; dihedral from the face normals"
STRAIN_WARNING = 0.10  # common practice, no source; Build judges by the foam's own book value


def check_neutral(neutral: float) -> float:
    """Return the neutral line's depth as a fraction of thickness, checked.

    Raises:
        InputError: not 0 to 1.
    """
    return within("neutral", neutral, 0.0, 1.0)


def wrap(
    girth: float, ease: float, thickness: float, neutral: float = 0.5, angle: float = 360.0
) -> Reckoning:
    """Return the flat length of foam around a girth.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("girth", girth)
    above_zero("girth with ease", girth + ease)
    within("thickness", thickness, 0.0, 200.0)
    check_neutral(neutral)
    within("angle", angle, 1.0, 360.0)
    inner = (girth + ease) / (2 * math.pi)
    length = wrap_length(girth, ease, thickness, neutral, angle)
    flat = (girth + ease) * angle / 360
    return Reckoning(
        "wrap",
        {"girth": girth, "ease": ease, "thickness": thickness, "neutral": neutral, "angle": angle},
        {"length": length},
        (
            Step("radius inside", f"({girth:g} + {ease:g}) ÷ 2π", inner, "mm"),
            Step(
                "radius of the neutral line",
                f"{inner:.3f} + {neutral:g} × {thickness:g}",
                inner + neutral * thickness,
                "mm",
            ),
            Step(
                "length = angle × radius",
                f"{angle:g}° × {inner + neutral * thickness:.3f}",
                length,
                "mm",
            ),
            Step("of which thickness asks", f"{length:.2f} − {flat:.2f}", length - flat, "mm"),
        ),
        BEND,
    )


def cone(
    diameter_1: float,
    diameter_2: float,
    height: float,
    thickness: float = 0.0,
    neutral: float = 0.5,
) -> Reckoning:
    """Return the flat sector of a cone section with inside diameters at its two ends.

    Raises:
        InputError: a value makes no sense, or the diameters are equal (use `wrap`).
    """
    for name, value in (("diameter_1", diameter_1), ("diameter_2", diameter_2)):
        within(name, value, 0.0, 1e5)
    within("thickness", thickness, 0.0, 200.0)
    check_neutral(neutral)
    add = neutral * thickness
    small, large = sorted((diameter_1 / 2 + add, diameter_2 / 2 + add))
    sector = cone_sector(small, large, height)
    radius = {True: sector.inner, False: sector.outer}
    return Reckoning(
        "cone",
        {
            "diameter_1": diameter_1,
            "diameter_2": diameter_2,
            "height": height,
            "thickness": thickness,
            "neutral": neutral,
        },
        {
            "radius_1": radius[diameter_1 < diameter_2],
            "radius_2": radius[diameter_1 > diameter_2],
            "angle": sector.degrees,
        },
        (
            Step(
                "end radii on the neutral line",
                f"d ÷ 2 + {neutral:g} × {thickness:g}",
                f"{small:.3f} and {large:.3f}",
                "mm",
            ),
            Step(
                "slant",
                f"√({height:g}² + ({large:.3f} − {small:.3f})²)",
                sector.outer - sector.inner,
                "mm",
            ),
            Step(
                "outer radius",
                f"slant × {large:.3f} ÷ ({large:.3f} − {small:.3f})",
                sector.outer,
                "mm",
            ),
            Step("inner radius", "outer radius − slant", sector.inner, "mm"),
            Step("angle", f"360° × {large:.3f} ÷ {sector.outer:.3f}", sector.degrees, "°"),
        ),
        CONE,
    )


def gores(radius: float, count: float) -> Reckoning:
    """Return length and greatest width of the gores of a whole sphere.

    Raises:
        InputError: fewer than two gores, or no radius.
    """
    above_zero("radius", radius)
    number = whole("count", count, 2, 96)
    length, width = math.pi * radius, 2 * math.pi * radius / number
    return Reckoning(
        "gores",
        {"radius": radius, "count": number},
        {"length": length, "greatest_width": width},
        (
            Step("pole to pole", f"π × {radius:g}", length, "mm"),
            Step("greatest width", f"2π × {radius:g} ÷ {number}", width, "mm"),
        ),
        GORES,
    )


def dish(base_radius: float, height: float) -> Reckoning:
    """Return the blank of a dished disc and how far it must stretch.

    `arc` runs along the surface from pole to rim; strains are of the equal-area blank.

    Raises:
        InputError: a measure is not above zero.
    """
    cap = spherical_cap(base_radius, height)
    rim = base_radius / cap.blank_radius - 1
    notes: tuple[str, ...] = ()
    if abs(rim) > STRAIN_WARNING:
        notes = ("The rim must give more than 10 %: expect to need darts or gores.",)
    return Reckoning(
        "dish",
        {"base_radius": base_radius, "height": height},
        {
            "sphere_radius": cap.sphere_radius,
            "blank_radius": cap.blank_radius,
            "arc": cap.arc,
            "meridian_strain": cap.meridian_strain,
            "rim_strain": rim,
        },
        (
            Step(
                "sphere radius",
                f"({base_radius:g}² + {height:g}²) ÷ (2 × {height:g})",
                cap.sphere_radius,
                "mm",
            ),
            Step(
                "blank of equal area", f"√({base_radius:g}² + {height:g}²)", cap.blank_radius, "mm"
            ),
            Step(
                "arc from pole to rim",
                f"{cap.sphere_radius:.3f} × {math.degrees(cap.angle):.3f}°",
                cap.arc,
                "mm",
            ),
            Step(
                "strain along the meridian",
                f"{cap.arc:.3f} ÷ {cap.blank_radius:.3f} − 1",
                100 * cap.meridian_strain,
                "%",
            ),
            Step(
                "strain around the rim",
                f"{base_radius:g} ÷ {cap.blank_radius:.3f} − 1",
                100 * rim,
                "%",
            ),
        ),
        CAP,
        notes,
    )


def spike(sides: float, base: float, height: float) -> Reckoning:
    """Return the measures of a spike on a regular polygon of side `base`.

    Raises:
        InputError: fewer than three sides, or a measure not above zero.
    """
    number = whole("sides", sides, 3, 24)
    made = regular_pyramid(number, base, height)
    return Reckoning(
        "spike",
        {"sides": number, "base": base, "height": height},
        {
            "face_height": made.face_height,
            "edge_length": made.edge_length,
            "dihedral": made.dihedral_degrees,
            "bevel": made.bevel_degrees,
        },
        (
            Step(
                "base's inradius",
                f"{base:g} ÷ (2 tan(180° ÷ {number}))",
                base / (2 * math.tan(math.pi / number)),
                "mm",
            ),
            Step("face height", f"√({height:g}² + inradius²)", made.face_height, "mm"),
            Step(
                "long edge", f"√({made.face_height:.3f}² + ({base:g} ÷ 2)²)", made.edge_length, "mm"
            ),
            Step("dihedral", "180° − angle between two faces' normals", made.dihedral_degrees, "°"),
            Step("bevel", f"(180° − {made.dihedral_degrees:.3f}°) ÷ 2", made.bevel_degrees, "°"),
        ),
        PYRAMID,
    )


def horn_layers(spine: float, sides: Sequence[float]) -> Reckoning:
    """Return the thickness of a horn: a spine with the same layers on each side.

    Raises:
        InputError: a thickness is not above zero.
    """
    for value in (spine, *sides):
        above_zero("thickness", value)
    total = spine + 2 * sum(sides)
    listed = " + ".join(f"{t:g}" for t in sides)
    return Reckoning(
        "horn-layers",
        {"spine": spine, "sides": ", ".join(f"{t:g}" for t in sides)},
        {"total": total},
        (Step("thickest place", f"{spine:g} + 2 × ({listed})", total, "mm"),),
        COMMON,
    )


def edge_roll(lengths: Sequence[float]) -> Reckoning:
    """Return the length of a strip rolled along edges: as long as they are together.

    Raises:
        InputError: a length is not above zero.
    """
    for value in lengths:
        above_zero("length", value)
    listed = " + ".join(f"{v:g}" for v in lengths)
    return Reckoning(
        "edge-roll",
        {"lengths": ", ".join(f"{v:g}" for v in lengths)},
        {"length": sum(lengths)},
        (Step("the strip is as long as the edge", listed, sum(lengths), "mm"),),
        COMMON,
    )


SHORT = "as long as the edge, cut short and stretched"


def edge_wrap(
    perimeter: float, stack: float, stretch: float, overhang: float, spare: float = 0.0
) -> Reckoning:
    """Reckon the strip around a stack's edge.

    It is cut short by `stretch` mm and pulled tight; it stands past the stack by `overhang` mm
    where a recess is wanted. The other school cuts it longer and wider by `spare` mm, unstretched,
    and trims it flush.

    Raises:
        InputError: a value makes no sense.
    """
    above_zero("perimeter", perimeter)
    above_zero("stack", stack)
    within("stretch (cut short by)", stretch, 0.0, perimeter / 4)
    within("overhang", overhang, 0.0, 500.0)
    within("spare", spare, 0.0, 50.0)
    long, wide = perimeter - stretch + spare, stack + overhang + spare
    more = f" + {spare:g}" if spare else ""
    return Reckoning(
        "edge-wrap",
        {
            "perimeter": perimeter,
            "stack": stack,
            "stretch": stretch,
            "overhang": overhang,
            "spare": spare,
        },
        {"length": long, "width": wide},
        (
            Step(
                "as long as the edge, and to spare" if spare else SHORT,
                f"{perimeter:g} − {stretch:g}{more}",
                long,
                "mm",
            ),
            Step(
                "as wide as the stack, and what stands past it",
                f"{stack:g} + {overhang:g}{more}",
                wide,
                "mm",
            ),
        ),
        COMMON,
        ("Cement the strip's end faces as well: the step most often forgotten.",),
    )


def strap(finished_width: float, length: float, turn_back: float, tail: float) -> Reckoning:
    """Return the cut size of a cloth strap: raw edges to the middle, folded again.

    Raises:
        InputError: a measure makes no sense.
    """
    above_zero("finished_width", finished_width)
    above_zero("length", length)
    within("turn_back", turn_back, 0.0, 1e5)
    within("tail", tail, 0.0, 1e5)
    width, cut = 4 * finished_width, length + turn_back + tail
    return Reckoning(
        "strap",
        {"finished_width": finished_width, "length": length, "turn_back": turn_back, "tail": tail},
        {"cut_width": width, "cut_length": cut},
        (
            Step("four times the finished width", f"4 × {finished_width:g}", width, "mm"),
            Step("with turn-back and tail", f"{length:g} + {turn_back:g} + {tail:g}", cut, "mm"),
        ),
        COMMON,
    )


def whole(name: str, value: float, low: int, high: int) -> int:
    """Return a whole number within limits.

    Raises:
        InputError: it is none.
    """
    if value != round(value) or not low <= value <= high:
        raise InputError(name, f"{value:g}", f"a whole number, {low} to {high}")
    return round(value)
