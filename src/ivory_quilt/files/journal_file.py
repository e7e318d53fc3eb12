"""The journal as a table: CSV (RFC 4180) and ODS; what looks like a formula is none."""

import csv
import io
from collections.abc import Iterable, Iterator
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.ods_write import table_bytes
from ivory_quilt.files.shopping_file import harmless

HEADS = (
    "moment",
    "project",
    "kind",
    "piece",
    "about",
    "value",
    "unit",
    "planned",
    "went well",
    "words",
    "photos",
)


def journal_cells(entries: Iterable[JournalEntry]) -> Iterator[tuple[str | Decimal | None, ...]]:
    """Yield the rows of the table, without its head."""
    for e in entries:
        value = Decimal(repr(e.value)) if e.value else None
        planned = Decimal(repr(e.planned)) if e.planned else None
        yield (
            e.moment,
            harmless(e.project_name),
            e.kind.value,
            harmless(e.piece),
            harmless(e.about),
            value,
            e.unit,
            planned,
            "yes" if e.went_well else "no",
            harmless(e.words),
            harmless(" ".join(e.photos)),
        )


def journal_csv(entries: Iterable[JournalEntry]) -> bytes:
    """Return the journal as CSV."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    writer.writerow(HEADS)
    writer.writerows(journal_cells(entries))
    return out.getvalue().encode("utf-8")


def write_journal(entries: Iterable[JournalEntry], path: Path) -> None:
    """Write the journal in the format that the file's name asks for: .csv or .ods.

    Raises:
        InputError: another kind of name, or the place cannot be written.
    """
    kind = path.suffix.lower()
    if kind == ".csv":
        write_atomic(path, journal_csv(entries))
    elif kind == ".ods":
        write_atomic(path, table_bytes("Journal", [HEADS, *journal_cells(entries)]))
    else:
        raise InputError(path.name, f"'{kind}' is no format of a journal", ".csv or .ods")
