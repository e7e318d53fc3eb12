"""Horns: solid ones built of layers, hollow ones of panels along a bent, tapering axis."""

import math
from collections.abc import Callable

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.develop import develop_strip
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.geometry.solids import above_zero, within
from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.shapes import rules
from ivory_quilt.core.shapes.maker import (
    NEUTRAL,
    THICKNESS,
    ShapeMaker,
    ShapePiece,
    ShapeResult,
    choice,
    length,
    lengths,
    number,
)

STATIONS = 72  # along the axis; the chord error stays far below a tenth of a millimetre
SMALLEST_TIP = 1.0  # mm of half-width left standing where a layer ends


def _axis(along: float, bend: float) -> Callable[[Array], tuple[Array, Array]]:
    """Return the axis as a function of arc length: points (m, 2) and normals (m, 2).

    The axis is an arc that turns through `bend` degrees over its length.
    """
    turn = math.radians(bend)

    def at(s: Array) -> tuple[Array, Array]:
        angle = s / along * turn
        if abs(turn) < 1e-9:
            points = np.column_stack((np.zeros_like(s), s))
        else:
            r = along / turn
            points = np.column_stack((r * (1 - np.cos(angle)), r * np.sin(angle)))
        return points, np.column_stack((np.cos(angle), -np.sin(angle)))

    return at


def _check_bend(along: float, bend: float, radius: float) -> None:
    above_zero("length", along)
    within("bend", bend, 0.0, 330.0)
    if bend > 0 and along / math.radians(bend) <= radius:
        raise InputError(
            "bend", f"{bend:g}° over {along:g} mm bends tighter than half the base", "a gentler one"
        )


def layered_horn(
    along: float,
    base: float,
    bend: float,
    taper: str,
    edges: str,
    spine: float,
    sides: tuple[float, ...],
) -> ShapeResult:
    """Return one outline per layer of a horn of round section.

    A layer that begins at a height z above the middle plane is √(r² − z²) wide to each side where
    the horn's radius is r, and ends where r falls to z. "Stepped" layers take z at their inner
    face, so that foam stands out to be carved off; "straight" ones at their middle.
    """
    reckoned = rules.horn_layers(spine, sides)
    _check_bend(along, bend, above_zero("base", base) / 2)
    made = [_layer("horn spine", along, base, bend, taper, 0.0, spine, Hand.NONE)]
    z = spine / 2
    for k, t in enumerate(sides):
        height = z if edges == "stepped" else z + t / 2
        name = f"horn layer {k + 1}"
        made.append(_layer(name, along, base, bend, taper, height, t, Hand.PAIR))
        z += t
    total = reckoned.figure("total")
    notes = ["The layers of the two sides are mirrored: cut them two at a time."]
    if total > base + 1e-9:
        notes.append(f"The layers are {total - base:g} mm thicker than the base is wide.")
    elif total < 0.8 * base:
        notes.append(f"The layers reach {total:g} mm of {base:g} mm: the sides stay flat.")
    return ShapeResult(
        tuple(made),
        Reckoning(
            reckoned.name,
            {"length": along, "base": base, "bend": bend, **reckoned.inputs},
            {**reckoned.results, "layers": 1 + 2 * len(sides)},
            (
                *reckoned.steps,
                Step(
                    "half-width of a layer at height z",
                    "√(r² − z²), r the horn's radius there",
                    "see the outlines",
                ),
            ),
            f"equation of the circle; {rules.COMMON}",
            tuple(notes),
        ),
    )


def _radius(taper: str, base: float, along: float) -> Callable[[Array], Array]:
    if taper == "rounded":
        return lambda s: base / 2 * np.sqrt(np.maximum(0.0, 1 - (s / along) ** 2))
    return lambda s: base / 2 * (1 - s / along)


def _layer(
    name: str,
    along: float,
    base: float,
    bend: float,
    taper: str,
    z: float,
    thickness: float,
    hand: Hand,
) -> ShapePiece:
    limit = math.hypot(z, SMALLEST_TIP)
    if limit >= base / 2:
        raise InputError(
            name,
            f"it would begin {z:g} mm from the middle of a base {base:g} mm wide",
            "fewer or thinner layers",
        )
    # Where the horn's radius falls to z and nothing of the layer is left.
    share = 2 * limit / base
    end = along * (math.sqrt(1 - share**2) if taper == "rounded" else 1 - share)
    s = end * np.sin(np.linspace(0.0, math.pi / 2, STATIONS))  # closer together near the tip
    points, normals = _axis(along, bend)(s)
    r = _radius(taper, base, along)(s)
    half = np.sqrt(np.maximum(0.0, r * r - z * z))[:, None]
    outline = np.vstack((points + half * normals, (points - half * normals)[::-1]))
    x0, y0 = outline.min(axis=0)
    return ShapePiece(name, Shape.make(outline - [x0, y0]), hand=hand, thickness=thickness)


def hollow_horn(
    along: float,
    base: float,
    tip: float,
    bend: float,
    panels: float,
    thickness: float,
    neutral: float,
) -> ShapeResult:
    """Return the panels of a hollow horn, developed flat; neighbours share every seam's length.

    The seams lie on circles around the axis, their radius measured on the neutral line. Panels on
    the two sides of the plane of the bend mirror each other and come as pairs.
    """
    number_of = rules.whole("panels", panels, 3, 12)
    within("foam thickness", thickness, 0.0, 200.0)
    rules.check_neutral(neutral)
    add = neutral * thickness
    r0, r1 = above_zero("base", base) / 2 + add, within("tip", tip, 1.0, 1e4) / 2 + add
    _check_bend(along, bend, max(r0, r1))
    s = np.linspace(0.0, along, STATIONS)
    points, normals = _axis(along, bend)(s)
    radius = r0 + (r1 - r0) * s / along

    def seam(k: int) -> Array:
        angle = 2 * math.pi * k / number_of
        flat = points + (radius * math.cos(angle))[:, None] * normals
        return np.column_stack((flat, radius * math.sin(angle)))

    made = []
    seam_lengths = []
    for k in range((number_of + 1) // 2):
        left, right = develop_strip(seam(k + 1), seam(k))
        outline = np.vstack((right, left[::-1]))
        outline = outline - outline.min(axis=0)
        alone = 2 * k + 1 == number_of  # lies across the plane of the bend
        hand = Hand.NONE if alone else Hand.PAIR
        made.append(ShapePiece(f"horn panel {k + 1}", Shape.make(outline), hand=hand))
        step = np.diff(seam(k), axis=0)
        seam_lengths.append(float(np.linalg.norm(step, axis=1).sum()))
    reckoned = Reckoning(
        "hollow-horn",
        {
            "length": along,
            "base": base,
            "tip": tip,
            "bend": bend,
            "panels": number_of,
            "thickness": thickness,
            "neutral": neutral,
        },
        {"longest_seam": max(seam_lengths), "shortest_seam": min(seam_lengths)},
        (
            Step(
                "radius at the base, neutral line",
                f"{base:g} ÷ 2 + {neutral:g} × {thickness:g}",
                r0,
                "mm",
            ),
            Step(
                "seam on the outside of the bend",
                "length along the surface",
                max(seam_lengths),
                "mm",
            ),
            Step(
                "seam on the inside of the bend",
                "length along the surface",
                min(seam_lengths),
                "mm",
            ),
            Step(
                "panel width at the base",
                f"2 × {r0:.3f} × sin(180° ÷ {number_of})",
                2 * r0 * math.sin(math.pi / number_of),
                "mm",
            ),
        ),
        "development by triangulation (descriptive geometry): every seam keeps its length",
    )
    return ShapeResult(tuple(made), reckoned)


HORNS = (
    ShapeMaker(
        "layered-horn",
        "Layered horn",
        "A solid horn: a spine with smaller layers on both sides, carved round.",
        (
            length("along", "Length along the curve", "320"),
            length("base", "Width at the base", "62"),
            number("bend", "Bend over the length", "60", "°"),
            choice("taper", "Taper", ("straight", "straight"), ("rounded", "rounded")),
            choice(
                "edges",
                "Layer edges",
                ("stepped", "stepped, to carve"),
                ("straight", "at mid-layer"),
            ),
            length("spine", "Spine thickness", "8"),
            lengths("sides", "Layers on each side", "8, 5, 5, 3"),
        ),
        layered_horn,
    ),
    ShapeMaker(
        "hollow-horn",
        "Hollow horn",
        "A light horn of long panels, edge to edge.",
        (
            length("along", "Length along the curve", "360"),
            length("base", "Diameter inside, base", "90"),
            length("tip", "Diameter inside, tip", "10"),
            number("bend", "Bend over the length", "70", "°"),
            number("panels", "Panels", "5"),
            THICKNESS,
            NEUTRAL,
        ),
        hollow_horn,
    ),
)
