"""Tables out: CSV (RFC 4180) and OpenDocument spreadsheets; what looks like a formula is none.

Words are words and amounts are numbers; in CSV a decimal has a point.
"""

import csv
import io
from collections.abc import Iterable, Sequence
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.errors import InputError, printable
from ivory_quilt.files.atomic import write_atomic

Cell = str | Decimal | None
FORMULA = ("=", "+", "-", "@", "\t", "\r")
"""First signs of what a spreadsheet would work out."""


def harmless(text: str) -> str:
    """Return text that no spreadsheet takes for a formula.

    >>> harmless("=1+1")
    "'=1+1"
    """
    plain = printable(text).strip()
    return f"'{plain}" if plain.startswith(FORMULA) or text.startswith(FORMULA) else plain


def csv_bytes(rows: Iterable[Sequence[Cell]]) -> bytes:
    """Return a table as CSV: UTF-8, commas, lines that end in CR LF."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\r\n")
    for row in rows:
        writer.writerow(["" if c is None else str(c) for c in row])
    return out.getvalue().encode("utf-8")


def ods_bytes(name: str, rows: Iterable[Sequence[Cell]]) -> bytes:
    """Return a spreadsheet of one table; no cell is a formula."""
    from odf.opendocument import OpenDocumentSpreadsheet
    from odf.table import Table, TableCell, TableRow
    from odf.text import P

    book = OpenDocumentSpreadsheet()
    table = Table(name=name)
    for row in rows:
        line = TableRow()
        for value in row:
            if isinstance(value, Decimal):
                cell = TableCell(valuetype="float", value=str(value))
                cell.addElement(P(text=f"{value:.2f}"))
            else:
                cell = TableCell(valuetype="string")
                cell.addElement(P(text=value or ""))
            line.addElement(cell)
        table.addElement(line)
    book.spreadsheet.addElement(table)
    out = io.BytesIO()
    book.write(out)
    return out.getvalue()


def write_table(path: Path, name: str, rows: Iterable[Sequence[Cell]]) -> None:
    """Write a table in the format that the file's name asks for: .csv or .ods.

    Raises:
        InputError: another kind of name, or the place cannot be written.
    """
    kind = path.suffix.lower()
    if kind == ".csv":
        write_atomic(path, csv_bytes(rows))
    elif kind == ".ods":
        write_atomic(path, ods_bytes(name, rows))
    else:
        raise InputError(path.name, f"'{kind}' is no format of a table", ".csv or .ods")
