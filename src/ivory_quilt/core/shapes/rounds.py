"""Shapes that go around something: bands, cuffs, domes, dished discs, discs and rings."""

import math

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import TOLERANCE, arc_steps, circle
from ivory_quilt.core.geometry.shape import Array, Shape, rectangle
from ivory_quilt.core.geometry.solids import (
    Cap,
    Sector,
    above_zero,
    gore_half_width,
    spherical_cap,
    within,
)
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import replace
from ivory_quilt.core.shapes import rules
from ivory_quilt.core.shapes.maker import (
    NEUTRAL,
    THICKNESS,
    ShapeMaker,
    ShapePiece,
    ShapeResult,
    length,
    lengths,
    number,
)


def band(
    girth: float,
    ease: float,
    width: float,
    lap: float,
    angle: float,
    thickness: float,
    neutral: float,
) -> ShapeResult:
    """Return a straight band around a girth; a lap is marked where the other end comes to lie."""
    reckoned = rules.wrap(girth, ease, thickness, neutral, angle)
    above_zero("width", width)
    around = reckoned.figure("length")
    within("lap", lap, 0.0, around)
    lines: tuple[PieceLine, ...] = ()
    if lap > 0:
        lines = (PieceLine(LineKind.MARK, np.array([[around, 0.0], [around, width]])),)
    return ShapeResult((ShapePiece("band", rectangle(around + lap, width), lines=lines),), reckoned)


def arc(radius: float, start: float, stop: float) -> Array:
    """Return points (m, 2) on a circle about the origin, from one angle to the other."""
    n = max(2, arc_steps(radius, stop - start, TOLERANCE) + 1)
    angle = np.linspace(start, stop, n)
    return np.column_stack((radius * np.cos(angle), radius * np.sin(angle)))


def cuff(
    diameter_1: float,
    diameter_2: float,
    height: float,
    around: float,
    thickness: float,
    neutral: float,
) -> ShapeResult:
    """Return the flat sector of a cuff, narrow end down, upright about its middle line."""
    within("how far around", around, 1.0, 360.0)
    if abs(diameter_1 - diameter_2) < 1e-6:
        girth = math.pi * above_zero("diameter", diameter_1)
        reckoned = rules.wrap(girth, 0.0, thickness, neutral, around)
        flat = reckoned.figure("length")
        return ShapeResult(
            (ShapePiece("cuff", rectangle(flat, above_zero("height", height))),), reckoned
        )
    reckoned = rules.cone(diameter_1, diameter_2, height, thickness, neutral)
    ends = (reckoned.figure("radius_1"), reckoned.figure("radius_2"))
    sector = Sector(min(ends), max(ends), reckoned.figure("angle"))
    half = math.radians(sector.degrees * around / 360) / 2
    up = math.pi / 2
    outline = arc(sector.outer, up + half, up - half)
    if sector.inner > 1e-6:
        outline = np.vstack((outline, arc(sector.inner, up - half, up + half)))
    else:
        outline = np.vstack((outline, [[0.0, 0.0]]))
    shape = Shape.make(outline)
    if half >= math.pi - 1e-9:
        raise InputError("how far around", "the sector closes on itself", "a steeper cone")
    return ShapeResult((ShapePiece("cuff", _to_origin(shape)),), reckoned)


def dome(
    diameter: float, height: float, count: float, thickness: float, neutral: float
) -> ShapeResult:
    """Return the gore of a dome over a round base; its seams run from rim to pole."""
    number_of = rules.whole("gores", count, 2, 12)
    cap, radius = _neutral_cap(diameter, height, thickness, neutral)
    polar = np.linspace(0.0, cap.angle, max(24, arc_steps(radius, cap.angle, TOLERANCE) + 1))
    half = np.array([gore_half_width(radius, number_of, p) for p in polar])
    up = radius * (cap.angle - polar)
    right = np.column_stack((half, up))[::-1]  # rim to pole
    left = np.column_stack((-half, up))[1:]
    shape = Shape.make(np.vstack((right, left)))
    rim = 2 * gore_half_width(radius, number_of, cap.angle)
    arc_length, widest = radius * cap.angle, float(2 * half.max())
    reckoned = Reckoning(
        "gores",
        {
            "diameter": diameter,
            "height": height,
            "count": number_of,
            "thickness": thickness,
            "neutral": neutral,
        },
        {"length": arc_length, "greatest_width": widest, "rim_width": rim},
        (
            Step(
                "sphere radius inside",
                f"(({diameter:g} ÷ 2)² + {height:g}²) ÷ (2 × {height:g})",
                cap.sphere_radius,
                "mm",
            ),
            Step(
                "on the neutral line",
                f"{cap.sphere_radius:.3f} + {neutral:g} × {thickness:g}",
                radius,
                "mm",
            ),
            Step("pole to rim", f"{radius:.3f} × {math.degrees(cap.angle):.3f}°", arc_length, "mm"),
            Step(
                "width at an angle p from the pole",
                f"2π × {radius:.3f} × sin p ÷ {number_of}",
                widest,
                "mm at most",
            ),
        ),
        f"{rules.GORES}; {rules.CAP}",
    )
    return ShapeResult((ShapePiece("dome gore", shape, number_of),), reckoned)


def dished_disc(diameter: float, height: float, thickness: float, neutral: float) -> ShapeResult:
    """Return the flat blank of a dished disc: a disc of equal area on the neutral line."""
    cap, radius = _neutral_cap(diameter, height, thickness, neutral)
    base, rise = radius * math.sin(cap.angle), radius * (1 - math.cos(cap.angle))
    reckoned = rules.dish(base, rise)
    on_neutral = Step(
        "rim and height on the neutral line",
        f"sphere {cap.sphere_radius:.3f} + {neutral:g} × {thickness:g}",
        f"{base:.3f} and {rise:.3f}",
        "mm",
    )
    reckoned = replace(reckoned, steps=(on_neutral, *reckoned.steps))
    blank = reckoned.figure("blank_radius")
    shape = Shape.make(circle((blank, blank), blank))
    return ShapeResult((ShapePiece("dished disc", shape),), reckoned)


def discs(diameters: tuple[float, ...], hole: float, count: float) -> ShapeResult:
    """Return discs, or rings when they have a hole; one piece a diameter."""
    number_of = rules.whole("how many of each", count, 1, 2000)
    within("hole", hole, 0.0, min(diameters))
    made = []
    for diameter in diameters:
        r = above_zero("diameter", diameter) / 2
        if hole >= diameter - 1.0 and hole > 0:
            raise InputError("hole", f"{hole:g} mm in a disc of {diameter:g} mm", "a smaller hole")
        holes = [circle((r, r), hole / 2)] if hole > 0 else []
        word = "ring" if hole > 0 else "disc"
        made.append(
            ShapePiece(f"{word} {diameter:g}", Shape.make(circle((r, r), r), holes), number_of)
        )
    area = sum(p.shape.area * p.count for p in made)
    listed = " + ".join(f"{d:g}²" for d in diameters)
    less = f" − {len(diameters)} × {hole:g}²" if hole else ""
    reckoned = Reckoning(
        "discs",
        {"diameters": ", ".join(f"{d:g}" for d in diameters), "hole": hole, "count": number_of},
        {"area": area},
        (Step("foam in all", f"π ÷ 4 × ({listed}{less}) × {number_of}", area / 100, "cm²"),),
        "area of a circle (Archimedes, Measurement of a Circle 1)",
    )
    return ShapeResult(tuple(made), reckoned)


def _neutral_cap(
    diameter: float, height: float, thickness: float, neutral: float
) -> tuple[Cap, float]:
    """Return the cap inside, and the sphere's radius on the neutral line."""
    within("foam thickness", thickness, 0.0, 200.0)
    rules.check_neutral(neutral)
    cap = spherical_cap(diameter / 2, height)
    return cap, cap.sphere_radius + neutral * thickness


def _to_origin(shape: Shape) -> Shape:
    x0, y0, _, _ = shape.bounds
    return Shape.make(shape.outer - np.array([x0, y0]))


ROUNDS = (
    ShapeMaker(
        "band",
        "Band or ring",
        "A straight strip that closes around a girth.",
        (
            length("girth", "Girth inside", "300"),
            length("ease", "Ease", "10"),
            length("width", "Width", "40"),
            length("lap", "Lap", "0"),
            number("angle", "How far around", "360", "°"),
            THICKNESS,
            NEUTRAL,
        ),
        band,
    ),
    ShapeMaker(
        "cuff",
        "Cuff or cone section",
        "A sector that closes into a cuff, wide at one end.",
        (
            length("diameter_1", "Diameter inside, one end", "95"),
            length("diameter_2", "Diameter inside, other end", "130"),
            length("height", "Height", "180"),
            number("around", "How far around", "360", "°"),
            THICKNESS,
            NEUTRAL,
        ),
        cuff,
    ),
    ShapeMaker(
        "dome",
        "Dome in gores",
        "A cap or dome of 2 to 12 equal gores that meet at the pole.",
        (
            length("diameter", "Base diameter inside", "200"),
            length("height", "Height inside", "90"),
            number("count", "Gores", "6"),
            THICKNESS,
            NEUTRAL,
        ),
        dome,
    ),
    ShapeMaker(
        "dished-disc",
        "Dished disc",
        "A disc that is pressed hot into a shallow bowl.",
        (
            length("diameter", "Rim diameter inside", "120"),
            length("height", "Height inside", "25"),
            THICKNESS,
            NEUTRAL,
        ),
        dished_disc,
    ),
    ShapeMaker(
        "discs",
        "Discs and rings",
        "A set of discs, or rings with one hole.",
        (
            lengths("diameters", "Diameters", "40, 30, 20"),
            length("hole", "Hole", "0"),
            number("count", "How many of each", "1"),
        ),
        discs,
    ),
)
