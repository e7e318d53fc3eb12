"""Shapes with straight edges: boxes, spikes, edging strips, edge wraps, straps."""

import math

import numpy as np

from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.geometry.solids import above_zero, regular_pyramid, within
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.shapes import rules
from ivory_quilt.core.shapes.maker import (
    THICKNESS,
    ShapeMaker,
    ShapePiece,
    ShapeResult,
    choice,
    length,
    lengths,
    number,
)


def _fold(*points: tuple[float, float]) -> PieceLine:
    return PieceLine(LineKind.FOLD, np.array(points, dtype=np.float64))


def box(
    inside_length: float, inside_width: float, inside_depth: float, thickness: float, lid: str
) -> ShapeResult:
    """Return the net of a box whose folds are undercut from the back, so the front runs on.

    Measured on the front (outer) face, which keeps its length when the back is undercut.
    """
    for name, value in (
        ("length", inside_length),
        ("width", inside_width),
        ("depth", inside_depth),
    ):
        above_zero(name, value)
    within("foam thickness", thickness, 0.0, 200.0)
    long, wide = inside_length + 2 * thickness, inside_width + 2 * thickness
    deep = inside_depth + thickness * (2 if lid == "yes" else 1)
    x0, x1, y0, y1 = 0.0, long, 0.0, wide
    outline = [
        (x0, y0 - deep),
        (x1, y0 - deep),
        (x1, y0),
        (x1 + deep, y0),
        (x1 + deep, y1),
        (x1, y1),
        (x1, y1 + deep),
        (x0, y1 + deep),
        (x0, y1),
        (x0 - deep, y1),
        (x0 - deep, y0),
        (x0, y0),
    ]
    folds = [
        _fold((x0, y0), (x1, y0)),
        _fold((x1, y0), (x1, y1)),
        _fold((x1, y1), (x0, y1)),
        _fold((x0, y1), (x0, y0)),
    ]
    if lid == "yes":
        outline[6:8] = [
            (x1, y1 + deep),
            (x1, y1 + deep + wide),
            (x0, y1 + deep + wide),
            (x0, y1 + deep),
        ]
        folds.append(_fold((x0, y1 + deep), (x1, y1 + deep)))
    reckoned = Reckoning(
        "box",
        {
            "length": inside_length,
            "width": inside_width,
            "depth": inside_depth,
            "thickness": thickness,
        },
        {"outer_length": long, "outer_width": wide, "wall": deep},
        (
            Step(
                "floor, outer face",
                f"{inside_length:g} + 2 × {thickness:g} by {inside_width:g} + 2 × {thickness:g}",
                f"{long:g} × {wide:g}",
                "mm",
            ),
            Step(
                "wall, outer face",
                f"{inside_depth:g} + {2 if lid == 'yes' else 1} × {thickness:g}",
                deep,
                "mm",
            ),
        ),
        "a face that an undercut leaves whole keeps its length (common practice, no source)",
        ("Undercut each fold from the back, 45° from each side.",),
    )
    return ShapeResult((ShapePiece("box", Shape.make(outline), lines=tuple(folds)),), reckoned)


def spike(sides: float, base: float, height: float, form: str) -> ShapeResult:
    """Return a spike: one net with folds, or single faces to bevel."""
    reckoned = rules.spike(sides, base, height)
    number_of = round(sides)
    made = regular_pyramid(number_of, base, height)
    if form == "faces":
        face = Shape.make([(0.0, 0.0), (base, 0.0), (base / 2, made.face_height)])
        return ShapeResult((ShapePiece("spike face", face, number_of),), reckoned)
    step = math.radians(made.apex_degrees)
    start = math.pi / 2 - step * number_of / 2
    rim = [
        (
            made.edge_length * math.cos(start + k * step),
            made.edge_length * math.sin(start + k * step),
        )
        for k in range(number_of + 1)
    ]
    shape = Shape.make([(0.0, 0.0), *rim])
    folds = tuple(_fold((0.0, 0.0), p) for p in rim[1:-1])
    return ShapeResult((ShapePiece("spike", shape, lines=folds),), reckoned)


def edging(edges: tuple[float, ...], width: float) -> ShapeResult:
    """Return a strip as long as the edges it is rolled along."""
    reckoned = rules.edge_roll(edges)
    long = reckoned.figure("length")
    return ShapeResult(
        (ShapePiece("edging strip", rectangle(long, above_zero("width", width))),), reckoned
    )


def edge_wrap(perimeter: float, stack: float, short_by: float, overhang: float) -> ShapeResult:
    """Return a thin strip around a stack: cut a little short, stretched on."""
    reckoned = rules.edge_wrap(perimeter, stack, short_by, overhang)
    shape = rectangle(reckoned.figure("length"), reckoned.figure("width"))
    return ShapeResult((ShapePiece("edge wrap", shape),), reckoned)


def strap(
    finished_width: float, finished_length: float, turn_back: float, tail: float
) -> ShapeResult:
    """Return the cut cloth of a strap with its three fold lines."""
    reckoned = rules.strap(finished_width, finished_length, turn_back, tail)
    wide, long = reckoned.figure("cut_width"), reckoned.figure("cut_length")
    folds = tuple(
        _fold((0.0, k * finished_width), (long, k * finished_width)) for k in (1.0, 2.0, 3.0)
    )
    return ShapeResult((ShapePiece("strap", rectangle(long, wide), lines=folds),), reckoned)


STRAIGHTS = (
    ShapeMaker(
        "box",
        "Box with folds",
        "A box folded from one piece, undercut at its edges.",
        (
            length("inside_length", "Length inside", "120"),
            length("inside_width", "Width inside", "80"),
            length("inside_depth", "Depth inside", "40"),
            choice("lid", "Lid", ("no", "open"), ("yes", "with a lid")),
            THICKNESS,
        ),
        box,
    ),
    ShapeMaker(
        "spike",
        "Spike",
        "A pointed spike with flat faces.",
        (
            number("sides", "Faces", "4"),
            length("base", "Side of the base", "30"),
            length("height", "Height", "60"),
            choice("form", "Cut as", ("net", "one net with folds"), ("faces", "single faces")),
        ),
        spike,
    ),
    ShapeMaker(
        "edging",
        "Edging strip",
        "A strip rolled along the edges of other pieces.",
        (lengths("edges", "Edges", "420"), length("width", "Width", "15")),
        edging,
    ),
    ShapeMaker(
        "edge-wrap",
        "Edge wrap",
        "A thin strip around the edge of a stack.",
        (
            length("perimeter", "Around the edge", "640"),
            length("stack", "Thickness of the stack", "20"),
            length("short_by", "Cut short by", "2.5"),
            length("overhang", "Stands past the end", "0"),
        ),
        edge_wrap,
    ),
    ShapeMaker(
        "strap",
        "Cloth strap",
        "Cloth folded to the middle twice and stitched.",
        (
            length("finished_width", "Finished width", "20"),
            length("finished_length", "Buckle to fixing", "450"),
            length("turn_back", "Turn-back", "40"),
            length("tail", "Tail", "80"),
        ),
        strap,
    ),
)
