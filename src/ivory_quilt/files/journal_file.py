"""The journal as a table: CSV (RFC 4180) and ODS; what looks like a formula is none."""

from collections.abc import Iterable, Iterator
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.files.table_write import harmless, write_table

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


def write_journal(entries: Iterable[JournalEntry], path: Path) -> None:
    """Write the journal in the format that the file's name asks for: .csv or .ods.

    Raises:
        InputError: another kind of name, or the place cannot be written.
    """
    write_table(path, "Journal", [HEADS, *journal_cells(entries)])
