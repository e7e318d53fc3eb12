"""Calculators by name: one rule each, with its steps and its source.

`CALCULATORS` lists them for the command line; each takes its inputs as text or numbers.
"""

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from enum import Enum

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.units import parse_length, parse_scalar

COMMON = "common practice, no source"
SIMILARITY = "similar figures: lengths in proportion, areas as their squares (Euclid VI.4, VI.19)"


class Kind(Enum):
    """How an input is typed."""

    LENGTH = "length"
    NUMBER = "number"


@dataclass(frozen=True)
class Input:
    """One input of a calculator; `default` None means it must be given."""

    name: str
    kind: Kind
    help: str
    default: float | None = None


@dataclass(frozen=True)
class Calculator:
    """A rule: its name, what it takes, and the function that reckons."""

    name: str
    title: str
    inputs: tuple[Input, ...]
    reckon: Callable[..., Reckoning]


def _positive(name: str, value: float) -> float:
    if value <= 0:
        raise InputError(name, f"{value:g}", "a value above 0")
    return value


def proportion(real: float, pictured_reference: float, pictured_piece: float) -> Reckoning:
    """Return the real length (mm) of a piece from a picture with a known thing in it.

    `pictured_*` are measured in the picture in any one unit.

    Raises:
        InputError: an input is not above zero.
    """
    _positive("real", real)
    _positive("pictured_reference", pictured_reference)
    _positive("pictured_piece", pictured_piece)
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
    _positive("nominal", nominal)
    _positive("measured", measured)
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
    _positive("factor", factor)
    _positive("area", area)
    result = factor * factor * area
    return Reckoning(
        "scale-area",
        {"factor": factor, "area": area},
        {"area": result},
        (Step("areas go by the square", f"{factor:g}² × {area:g} mm²", result, "mm²"),),
        SIMILARITY,
    )


CALCULATORS: Mapping[str, Calculator] = {
    c.name: c
    for c in (
        Calculator(
            "proportion",
            "Real size of a pictured piece",
            (
                Input("real", Kind.LENGTH, "real length of the reference"),
                Input("pictured_reference", Kind.NUMBER, "the reference in the picture"),
                Input("pictured_piece", Kind.NUMBER, "the piece in the picture, same unit"),
            ),
            proportion,
        ),
        Calculator(
            "print-scale",
            "True scale of a print",
            (
                Input("nominal", Kind.LENGTH, "what the check bar should measure"),
                Input("measured", Kind.LENGTH, "what it measures on paper"),
            ),
            print_scale,
        ),
        Calculator(
            "scale-area",
            "Area after scaling",
            (
                Input("factor", Kind.NUMBER, "scale of lengths, 1.1 for 110 %"),
                Input("area", Kind.NUMBER, "area before, mm²"),
            ),
            scale_area,
        ),
    )
}


def calculator(name: str) -> Calculator:
    """Return a calculator by name.

    Raises:
        InputError: no such calculator; the message offers the nearest name.
    """
    if name not in CALCULATORS:
        hint = nearest(name, CALCULATORS)
        raise InputError("reckon", f"no calculator '{name}'{hint}", ", ".join(CALCULATORS))
    return CALCULATORS[name]


def reckon(name: str, values: Mapping[str, str]) -> Reckoning:
    """Run a calculator on inputs as typed.

    Raises:
        InputError: an input is unknown, missing or makes no sense.
    """
    rule = calculator(name)
    known = {i.name: i for i in rule.inputs}
    for given in values:
        if given not in known:
            hint = nearest(given, known)
            raise InputError(f"reckon {name}", f"no input '{given}'{hint}", ", ".join(known))
    numbers: dict[str, float] = {}
    for wanted in rule.inputs:
        if wanted.name in values:
            where = f"reckon {name}, {wanted.name}"
            text = values[wanted.name]
            if wanted.kind is Kind.LENGTH:
                numbers[wanted.name] = parse_length(text, where=where)
            else:
                numbers[wanted.name] = parse_scalar(text, where=where)
        elif wanted.default is not None:
            numbers[wanted.name] = wanted.default
        else:
            raise InputError(f"reckon {name}", f"'{wanted.name}' is missing", wanted.help)
    return rule.reckon(**numbers)
