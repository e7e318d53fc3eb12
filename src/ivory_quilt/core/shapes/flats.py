"""Plain flat pieces of typed sizes, to be drawn on from there: plates, ovals, arcs."""

import math

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.shapes.maker import ShapeMaker, ShapePiece, ShapeResult, length, number
from ivory_quilt.core.shapes.rounds import arc

CIRCLE = "area of a circle (Archimedes, Measurement of a Circle 1)"


def plate(width: float, height: float, corner_radius: float) -> ShapeResult:
    """Return a rectangle, its corners rounded where a radius is given."""
    above_zero("width", width)
    above_zero("height", height)
    r = within("corner radius", corner_radius, 0.0, min(width, height) / 2)
    if r > 0:
        corners = [(width - r, r, -0.5), (width - r, height - r, 0.0), (r, height - r, 0.5)]
        corners.append((r, r, 1.0))
        ring = [
            arc(r, turn * math.pi, (turn + 0.5) * math.pi) + np.array((x, y))
            for x, y, turn in corners
        ]
        shape = Shape.make(np.vstack(ring))
    else:
        shape = rectangle(width, height)
    area = width * height - (4 - math.pi) * r * r
    reckoned = Reckoning(
        "plate",
        {"width": width, "height": height, "corner_radius": r},
        {"area": area},
        (
            Step(
                "area, less the corners",
                f"{width:g} × {height:g} − (4 − π) × {r:g}²",
                area / 100,
                "cm²",
            ),
        ),
        CIRCLE,
    )
    return ShapeResult((ShapePiece("plate", shape),), reckoned)


def oval(width: float, height: float) -> ShapeResult:
    """Return an ellipse; a circle where both are the same."""
    a, b = above_zero("width", width) / 2, above_zero("height", height) / 2
    # A circle made as fine as the larger radius asks for, then pressed flat.
    large = max(a, b)
    ring = circle((0.0, 0.0), large) * np.array((a / large, b / large)) + np.array((a, b))
    reckoned = Reckoning(
        "oval",
        {"width": width, "height": height},
        {"area": math.pi * a * b},
        (Step("area", f"π × {a:g} × {b:g}", math.pi * a * b / 100, "cm²"),),
        "area of an ellipse (Archimedes, Conoids and Spheroids 4)",
    )
    return ShapeResult((ShapePiece("oval", Shape.make(ring)),), reckoned)


def arc_band(radius: float, width: float, angle: float) -> ShapeResult:
    """Return a band bent in the flat: a part of a ring, upright about its middle line."""
    above_zero("radius inside", radius)
    above_zero("width", width)
    if not 1 <= angle <= 350:
        raise InputError("angle", f"{angle:g}°", "1 to 350°")
    half = math.radians(angle) / 2
    up = math.pi / 2
    outside = arc(radius + width, up - half, up + half)
    inside = arc(radius, up + half, up - half)
    ring = np.vstack((outside, inside))
    area = math.radians(angle) / 2 * ((radius + width) ** 2 - radius**2)
    middle = math.radians(angle) * (radius + width / 2)
    reckoned = Reckoning(
        "arc",
        {"radius": radius, "width": width, "angle": angle},
        {"area": area, "length": middle},
        (
            Step(
                "length along the middle",
                f"{angle:g}° × ({radius:g} + {width:g} ÷ 2)",
                middle,
                "mm",
            ),
            Step(
                "area",
                f"{angle:g}° ÷ 2 × (({radius:g} + {width:g})² − {radius:g}²)",
                area / 100,
                "cm²",
            ),
        ),
        CIRCLE,
    )
    shape = Shape.make(ring - ring.min(axis=0))
    return ShapeResult((ShapePiece("arc", shape),), reckoned)


FLATS = (
    ShapeMaker(
        "plate",
        "Plate",
        "A rectangle, with rounded corners if wanted.",
        (
            length("width", "Width", "160"),
            length("height", "Height", "90"),
            length("corner_radius", "Corner radius", "0"),
        ),
        plate,
    ),
    ShapeMaker(
        "oval",
        "Circle or oval",
        "A circle, or an oval with two axes.",
        (length("width", "Width", "110"), length("height", "Height", "70")),
        oval,
    ),
    ShapeMaker(
        "arc",
        "Flat arc",
        "A band that is bent in the flat, part of a ring.",
        (
            length("radius", "Radius inside", "130"),
            length("width", "Width", "45"),
            number("angle", "Angle", "100", "°"),
        ),
        arc_band,
    ),
)
