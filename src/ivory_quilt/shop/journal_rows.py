"""Rows of the journal, of kept steps and of the library, whose bodies are JSON."""

from collections.abc import Mapping
from typing import Any

import msgspec

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.core.schedule.bench_choices import StepSet
from ivory_quilt.core.stock.work_rates import USUAL_RATES, Rates
from ivory_quilt.files.library_file import decode_set, encode_set


def entry_of_row(row: Mapping[str, Any]) -> JournalEntry:
    """Return the entry that a row holds.

    Raises:
        ValueError, InputError: the row is damaged.
    """
    return msgspec.json.decode(str(row["body"]), type=JournalEntry)


def row_of_entry(entry: JournalEntry) -> dict[str, object]:
    """Return the row that holds an entry."""
    body = msgspec.json.encode(entry).decode()
    return {"id": entry.id, "project": entry.project, "moment": entry.moment, "body": body}


def step_set_of_row(row: Mapping[str, Any]) -> StepSet:
    """Return the set of steps that a row holds.

    Raises:
        ValueError, InputError: the row is damaged.
    """
    return msgspec.json.decode(str(row["body"]), type=StepSet)


def row_of_step_set(kept: StepSet) -> dict[str, object]:
    """Return the row that holds a set of steps."""
    return {"name": kept.name, "body": msgspec.json.encode(kept).decode()}


def library_set_of_row(row: Mapping[str, Any]) -> LibrarySet:
    """Return the set of pieces that a row holds.

    Raises:
        ValueError, InputError: the row is damaged.
    """
    return decode_set(str(row["body"]).encode(), where=str(row["name"]))


def row_of_library_set(kept: LibrarySet) -> dict[str, object]:
    """Return the row that holds a set of pieces."""
    return {"id": kept.id, "name": kept.name, "body": encode_set(kept).decode()}


def rates_of(text: str | None) -> Rates:
    """Return the rates that a setting holds; the usual ones where it holds none."""
    if not text:
        return USUAL_RATES
    try:
        return msgspec.json.decode(text, type=Rates)
    except ValueError:  # msgspec's own and our refusals alike
        return USUAL_RATES


def text_of_rates(rates: Rates) -> str:
    """Return rates as a setting holds them."""
    return msgspec.json.encode(rates).decode()


def plotter_of(text: str | None) -> KnifePlotter | None:
    """Return the plotter that a setting holds; None where it holds none, or one that is damaged."""
    if not text:
        return None
    try:
        return msgspec.json.decode(text, type=KnifePlotter)
    except ValueError:
        return None


def text_of_plotter(plotter: KnifePlotter) -> str:
    """Return a plotter as a setting holds it."""
    return msgspec.json.encode(plotter).decode()
