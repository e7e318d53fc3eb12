"""Rules of size and scale: pictures, prints, areas."""

from ivory_quilt.core.calculators.calculator import Calculator, length, number
from ivory_quilt.core.geometry.solids import above_zero
from ivory_quilt.core.reckoning import Reckoning, Step

SIMILARITY = "similar figures: lengths in proportion, areas as their squares (Euclid VI.4, VI.19)"


def proportion(real: float, pictured_reference: float, pictured_piece: float) -> Reckoning:
    """Return the real length (mm) of a piece from a picture with a known thing in it.

    `pictured_*` are measured in the picture in any one unit.

    Raises:
        InputError: an input is not above zero.
    """
    above_zero("real", real)
    above_zero("pictured_reference", pictured_reference)
    above_zero("pictured_piece", pictured_piece)
    length = real * pictured_piece / pictured_reference
    formula = f"{real:g} mm × {pictured_piece:g} ÷ {pictured_reference:g}"
    return Reckoning(
        "proportion",
        {"real": real, "pictured_reference": pictured_reference, "pictured_piece": pictured_piece},
        {"length": length},
        (
            Step(
                "real piece = real reference × pictured piece ÷ pictured reference",
                formula,
                length,
                "mm",
            ),
        ),
        SIMILARITY,
        ("The reference and the piece must lie in the same plane, seen square on.",),
    )


def print_scale(nominal: float, measured: float) -> Reckoning:
    """Return the true scale of a print from its check bar, and the factor that corrects it.

    Raises:
        InputError: an input is not above zero.
    """
    above_zero("nominal", nominal)
    above_zero("measured", measured)
    scale, correction = measured / nominal, nominal / measured
    return Reckoning(
        "print-scale",
        {"nominal": nominal, "measured": measured},
        {"scale": scale, "correction": correction},
        (
            Step("printed ÷ nominal", f"{measured:g} ÷ {nominal:g}", scale),
            Step("correction = nominal ÷ printed", f"{nominal:g} ÷ {measured:g}", correction),
        ),
        SIMILARITY,
    )


def scale_area(factor: float, area: float) -> Reckoning:
    """Return an area (mm²) after scaling all lengths by `factor`.

    Raises:
        InputError: an input is not above zero.
    """
    above_zero("factor", factor)
    above_zero("area", area)
    result = factor * factor * area
    return Reckoning(
        "scale-area",
        {"factor": factor, "area": area},
        {"area": result},
        (Step("areas go by the square", f"{factor:g}² × {area:g} mm²", result, "mm²"),),
        SIMILARITY,
    )


SIZES = (
    Calculator(
        "proportion",
        "Real size of a pictured piece",
        (
            length("real", "real length of the reference"),
            number("pictured_reference", "the reference in the picture"),
            number("pictured_piece", "the piece in the picture, same unit"),
        ),
        proportion,
    ),
    Calculator(
        "print-scale",
        "True scale of a print",
        (
            length("nominal", "what the check bar should measure"),
            length("measured", "what it measures on paper"),
        ),
        print_scale,
    ),
    Calculator(
        "scale-area",
        "Area after scaling",
        (
            number("factor", "scale of lengths, 1.1 for 110 %"),
            number("area", "area before, mm²"),
        ),
        scale_area,
    ),
)
