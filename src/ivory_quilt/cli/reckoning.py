"""`reckon`: one calculator per rule."""

import argparse
import json
from typing import Any

from ivory_quilt.cli.shared import DONE
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reckoning import Reckoning, Value


def reckon_rule(options: argparse.Namespace) -> int:
    """Work out one rule, or list all."""
    from ivory_quilt.core.calculators import CALCULATORS, reckon

    if options.name is None:
        for rule in CALCULATORS.values():
            print(f"{rule.name}: {rule.title}")
            for i in rule.inputs:
                default = "" if i.default is None else f" (default {i.default:g})"
                print(f"    {i.name}=  {i.help}; {i.kind.value}{default}")
        return DONE
    values: dict[str, str] = {}
    for pair in options.values:
        key, equals, value = pair.partition("=")
        if not equals:
            raise InputError(f"reckon {options.name}", f"'{pair}'", "key=value")
        values[key] = value
    answer = reckon(options.name, values)
    print(
        json.dumps(_reckoning_json(answer), indent=1) if options.json else _reckoning_text(answer)
    )
    return DONE


def _reckoning_json(answer: Reckoning) -> dict[str, Any]:
    return {
        "name": answer.name,
        "inputs": dict(answer.inputs),
        "results": dict(answer.results),
        "steps": [
            {"text": s.text, "formula": s.formula, "value": s.value, "unit": s.unit}
            for s in answer.steps
        ],
        "source": answer.source,
    }


def _reckoning_text(answer: Reckoning) -> str:
    lines = [f"{s.text}: {s.formula} = {_shown(s.value)} {s.unit}".rstrip() for s in answer.steps]
    lines += [f"{k} = {_shown(v)}" for k, v in answer.results.items()]
    return "\n".join([*lines, *answer.notes, f"source: {answer.source}"])


def _shown(value: Value) -> str:
    if isinstance(value, tuple):
        return ", ".join(_shown(v) for v in value)
    return value if isinstance(value, str) else f"{value:.10g}"
