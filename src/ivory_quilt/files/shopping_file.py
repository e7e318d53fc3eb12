"""Shopping lists: CSV, ODS, PDF and plain text; what looks like a formula is none."""

from collections.abc import Iterable, Sequence
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.errors import InputError, printable
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import Currency
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.papers.lines_page import LinesPage
from ivory_quilt.files.table_write import csv_bytes, harmless, ods_bytes

COLUMNS = ("supplier", "item", "size", "packs", "price", "cost")


class ListedLine(Struct, frozen=True):
    """One line to buy; `price` and `cost` None where nobody has said them."""

    supplier: str
    item: str
    size: str
    packs: str
    price: Decimal | None
    cost: Decimal | None


class ShoppingList(Struct, frozen=True):
    """All lines by supplier, shipping by supplier, and what it comes to."""

    title: str
    lines: tuple[ListedLine, ...]
    shipping: tuple[tuple[str, Decimal], ...]
    total: Decimal
    bound: Decimal
    currency: Currency


def _cells(listed: ShoppingList) -> Iterable[Sequence[str | Decimal | None]]:
    for line in listed.lines:
        words = (line.supplier, line.item, line.size, line.packs)
        yield (*map(harmless, words), line.price, line.cost)
    for supplier, cost in listed.shipping:
        yield (harmless(supplier), "shipping", "", "", None, cost)
    yield ("", "total", "", "", None, listed.total)


def list_csv(listed: ShoppingList) -> bytes:
    """Return a list as CSV with a head; amounts of money have two decimals."""
    rows = [[f"{c:.2f}" if isinstance(c, Decimal) else c for c in row] for row in _cells(listed)]
    return csv_bytes([COLUMNS, *rows])


def text_of(listed: ShoppingList) -> str:
    """Return a list as plain text, to paste into a message."""
    money = listed.currency.show
    made = [printable(listed.title)]
    shipping = dict(listed.shipping)
    for supplier in dict.fromkeys(line.supplier for line in listed.lines):
        made += ["", f"{printable(supplier) or 'anywhere'}:"]
        for line in listed.lines:
            if line.supplier == supplier:
                cost = money(line.cost) if line.cost is not None else "price?"
                size = f", {line.size}" if line.size else ""
                made.append(f"  {line.packs} × {printable(line.item)}{size}: {cost}")
        if shipping.get(supplier):
            made.append(f"  shipping: {money(shipping[supplier])}")
    made += ["", f"in all {money(listed.total)}; nothing under {money(listed.bound)} can fit"]
    return "\n".join(made) + "\n"


def list_ods(listed: ShoppingList) -> bytes:
    """Return a list as an OpenDocument spreadsheet; amounts are numbers, words are words."""
    return ods_bytes("Shopping list", [COLUMNS, *_cells(listed)])


def list_pdf(listed: ShoppingList) -> bytes:
    """Return a list as a PDF on A4 with boxes to tick."""
    page = LinesPage(listed.title)
    money = listed.currency.show
    page.write(listed.title, strong=True)
    shipping = dict(listed.shipping)
    for supplier in dict.fromkeys(x.supplier for x in listed.lines):
        page.skip()
        page.write(supplier or "Anywhere", strong=True)
        for x in listed.lines:
            if x.supplier == supplier:
                size = f", {x.size}" if x.size else ""
                cost = money(x.cost) if x.cost is not None else "price?"
                page.write(f"{x.packs} × {x.item}{size}", cost, box=True)
        if shipping.get(supplier):
            page.write("shipping", money(shipping[supplier]))
    page.skip()
    page.write("In all", money(listed.total), strong=True)
    page.write(f"Nothing under {money(listed.bound)} can fit.")
    return page.pen.finish()


WRITERS = {".csv": list_csv, ".ods": list_ods, ".pdf": list_pdf}


def write_shopping(listed: ShoppingList, path: Path) -> None:
    """Write a list in the format that the file's name asks for: .csv, .ods, .pdf or .txt.

    Raises:
        InputError: another kind of name, or the place cannot be written.
    """
    kind = path.suffix.lower()
    if kind == ".txt":
        write_atomic(path, text_of(listed).encode("utf-8"))
    elif kind in WRITERS:
        write_atomic(path, WRITERS[kind](listed))
    else:
        raise InputError(path.name, "no such kind of list", "a name in .csv, .ods, .pdf or .txt")
