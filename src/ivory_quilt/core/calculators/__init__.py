"""Calculators by name: one rule each, with its steps and its source.

`CALCULATORS` lists them for the command line; each takes its inputs as text or numbers.
"""

from collections.abc import Mapping

from ivory_quilt.core.calculators.building import BUILDING
from ivory_quilt.core.calculators.calculator import Calculator, Kind
from ivory_quilt.core.calculators.shapes import SHAPES
from ivory_quilt.core.calculators.sizes import SIZES
from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.units import parse_area, parse_length, parse_lengths, parse_scalar

CALCULATORS: Mapping[str, Calculator] = {c.name: c for c in (*SIZES, *SHAPES, *BUILDING)}


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
    numbers: dict[str, float | tuple[float, ...]] = {}
    for wanted in rule.inputs:
        if wanted.name in values:
            where = f"reckon {name}, {wanted.name}"
            text = values[wanted.name]
            if wanted.kind is Kind.LENGTH:
                numbers[wanted.name] = parse_length(text, where=where)
            elif wanted.kind is Kind.LENGTHS:
                numbers[wanted.name] = parse_lengths(text, where=where)
            elif wanted.kind is Kind.AREA:
                numbers[wanted.name] = parse_area(text, where=where)
            else:
                numbers[wanted.name] = parse_scalar(text, where=where)
        elif wanted.default is not None:
            numbers[wanted.name] = wanted.default
        else:
            raise InputError(f"reckon {name}", f"'{wanted.name}' is missing", wanted.help)
    return rule.reckon(**numbers)
