"""OpenDocument spreadsheets of one table: words are words, amounts are numbers."""

import io
from collections.abc import Iterable, Sequence
from decimal import Decimal


def table_bytes(name: str, rows: Iterable[Sequence[str | Decimal | None]]) -> bytes:
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
