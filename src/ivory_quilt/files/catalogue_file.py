"""Price lists: CSV and ODS tables of what is sold and what is owned, one row an item.

A row with a wrong field is refused with its number; the good rows come in.
"""

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from decimal import Decimal
from pathlib import Path

from ivory_quilt.core.errors import InputError, nearest, printable
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.catalogue import Supplier, parse_steps, show_steps
from ivory_quilt.core.stock.foam_stock import SIDES, ShopStock, StockItem, StockKind
from ivory_quilt.core.units import parse_length, parse_money
from ivory_quilt.files.atomic import read_bytes, write_atomic
from ivory_quilt.files.table_write import csv_bytes, harmless, ods_bytes

COLUMNS = (
    "id",
    "kind",
    "name",
    "material",
    "thickness",
    "length",
    "width",
    "margin",
    "sides",
    "price",
    "pack",
    "available",
    "steps",
    "owned",
    "place",
    "supplier",
    "shipping",
    "free_from",
    "minimum",
    "days",
)
NEEDED = ("kind", "length")
MOST_ROWS = 20_000
MOST_BYTES = 20_000_000
SHEETS = {
    "sheet": StockKind.SHEET,
    "tile": StockKind.TILE,
    "roll": StockKind.ROLL,
    "offcut": StockKind.OFFCUT,
    "scrap": StockKind.SCRAP,
}
BARS = {k.value: k for k in BarKind}


class PriceList(Struct, frozen=True):
    """What a table holds; `problems` names each row that was refused."""

    items: tuple[StockItem, ...]
    bars: tuple[BarItem, ...]
    suppliers: tuple[Supplier, ...]
    problems: tuple[InputError, ...]


def read_price_list(path: Path) -> PriceList:
    """Read a table of what is sold, CSV or ODS by its name.

    Raises:
        InputError: it cannot be read, or its head names no columns of ours.
    """
    data = read_bytes(path)
    if len(data) > MOST_BYTES:
        raise InputError(path.name, f"{len(data) / 1e6:.0f} MB", f"at most {MOST_BYTES / 1e6:g} MB")
    rows = _ods_rows(data, path.name) if path.suffix.lower() == ".ods" else _csv_rows(data, path)
    return price_list_of(rows, path.name)


def _csv_rows(data: bytes, path: Path) -> list[list[str]]:
    try:
        text = data.decode("utf-8-sig")
    except UnicodeDecodeError:
        text = data.decode("cp1252", "replace")  # what older spreadsheets write
    head = text.split("\n", 1)[0]
    comma = max(",;\t", key=head.count)
    try:
        return [list(row) for row in csv.reader(io.StringIO(text), delimiter=comma)][:MOST_ROWS]
    except csv.Error as error:
        raise InputError(path.name, f"it is no table ({error})", "a CSV file") from None


def _ods_rows(data: bytes, where: str) -> list[list[str]]:
    from odf.opendocument import load
    from odf.table import Table, TableCell, TableRow
    from odf.teletype import extractText

    try:
        book = load(io.BytesIO(data))
        tables = book.spreadsheet.getElementsByType(Table)
    except Exception as error:  # noqa: BLE001 - whatever a broken file makes the library say
        problem = f"it is no spreadsheet ({type(error).__name__})"
        raise InputError(where, problem, "an OpenDocument spreadsheet") from None
    rows: list[list[str]] = []
    for row in tables[0].getElementsByType(TableRow) if tables else ():
        cells: list[str] = []
        for cell in row.getElementsByType(TableCell):
            times = int(cell.getAttribute("numbercolumnsrepeated") or 1)
            value = cell.getAttribute("value")
            cells += [str(value) if value is not None else extractText(cell)] * min(times, 64)
        rows.append(cells[:64])
        if len(rows) >= MOST_ROWS:
            break
    return rows


def price_list_of(rows: Sequence[Sequence[str]], where: str) -> PriceList:
    """Make a price list of a table's cells, the first row its head.

    Raises:
        InputError: the head names no columns of ours.
    """
    if not rows:
        raise InputError(where, "it is empty", f"a head with {', '.join(NEEDED)}")
    head = [name.strip().lower().replace(" ", "_") for name in rows[0]]
    for name in NEEDED:
        if name not in head:
            raise InputError(f"{where}, head", f"no column '{name}'{nearest(name, head)}", name)
    made = _Reading(where)
    for number, row in enumerate(rows[1:], 2):
        cells = {h: c.strip() for h, c in zip(head, row, strict=False)}
        if any(cells.values()):
            made.row(number, cells)
    return made.result()


class _Reading:
    def __init__(self, where: str) -> None:
        self.where = where
        self.items: dict[str, StockItem] = {}
        self.bars: dict[str, BarItem] = {}
        self.suppliers: dict[str, Supplier] = {}
        self.problems: list[InputError] = []

    def row(self, number: int, cells: Mapping[str, str]) -> None:
        try:
            supplier = self._supplier(cells)
            kind = cells.get("kind", "").lower()
            if kind in SHEETS:
                item = _sheet(cells, SHEETS[kind], supplier.id if supplier else "")
                self._once(item.id)
                self.items[item.id] = item
            elif kind in BARS:
                bar = _bar(cells, BARS[kind], supplier.id if supplier else "")
                self._once(bar.id)
                self.bars[bar.id] = bar
            else:
                known = [*SHEETS, *BARS]
                raise InputError("kind", f"'{kind}'{nearest(kind, known)}", ", ".join(known))
            if supplier is not None:
                self.suppliers.setdefault(supplier.id, supplier)
        except InputError as error:
            self.problems.append(
                InputError(
                    f"{self.where}, row {number}, {error.where}", error.problem, error.expected
                )
            )

    def _once(self, ident: str) -> None:
        if ident in self.items or ident in self.bars:
            raise InputError("id", f"'{ident}' stands in an earlier row", "different ids")

    def _supplier(self, cells: Mapping[str, str]) -> Supplier | None:
        name = _word(cells.get("supplier", ""))
        if not name:
            return None
        ident = name.lower()
        if ident in self.suppliers:
            return self.suppliers[ident]
        free = cells.get("free_from", "")
        return Supplier(
            ident,
            name,
            _money(cells, "shipping") or Decimal(0),
            parse_money(free, where="free_from") if free else None,
            _money(cells, "minimum") or Decimal(0),
            _whole(cells, "days", 0),
        )

    def result(self) -> PriceList:
        return PriceList(
            tuple(self.items.values()),
            tuple(self.bars.values()),
            tuple(self.suppliers.values()),
            tuple(self.problems),
        )


def _word(text: str) -> str:
    """Return a cell's words without what kept them from being a formula."""
    plain = printable(text).strip()
    return plain[1:] if plain[:2] in ("'=", "'+", "'-", "'@") else plain


def _whole(cells: Mapping[str, str], name: str, default: int) -> int:
    text = cells.get(name, "")
    if not text:
        return default
    try:
        value = float(text.replace(",", "."))
    except ValueError:
        value = -1.0
    if value < 0 or value != int(value) or value > 1e6:
        raise InputError(name, f"'{text}'", "a whole number, 0 or more")
    return int(value)


def _money(cells: Mapping[str, str], name: str) -> Decimal | None:
    text = cells.get(name, "")
    return parse_money(text, where=name) if text else None


def _length(cells: Mapping[str, str], name: str, default: str = "") -> float:
    text = cells.get(name, "") or default
    value = parse_length(text, where=name)
    if not 0 <= value <= 1e6:
        raise InputError(name, f"{value:g} mm", "0 mm to 1 km")
    return value


def _available(cells: Mapping[str, str]) -> int | None:
    return _whole(cells, "available", 0) if cells.get("available", "") else None


def _sides(text: str, kind: StockKind) -> str:
    """Return the sides of a tile that interlock; all four where nothing is said."""
    words = text.lower().replace(",", " ").split()
    for word in words:
        if word not in SIDES:
            raise InputError("sides", f"'{word}'{nearest(word, SIDES)}", " ".join(SIDES))
    if words and kind is not StockKind.TILE:
        raise InputError("sides", f"a {kind.value} has no interlocking sides", "a tile, or nothing")
    return " ".join(s for s in SIDES if s in words)


def _sheet(cells: Mapping[str, str], kind: StockKind, supplier: str) -> StockItem:
    thickness = _length(cells, "thickness")
    if not 0.1 <= thickness <= 200:
        raise InputError("thickness", f"{thickness:g} mm", "0.1 to 200 mm")
    size = (_length(cells, "length"), _length(cells, "width"))
    if min(size) < 1:
        raise InputError("width", f"{min(size):g} mm", "1 mm or more")
    material = _word(cells.get("material", "")) or "eva"
    name = _word(cells.get("name", "")) or f"{thickness:g} mm {kind.value}"
    words = (supplier, name, f"{size[0]:g}x{size[1]:g}")
    ident = _word(cells.get("id", "")) or " ".join(w for w in words if w)
    return StockItem(
        ident,
        name,
        kind,
        Foam(thickness, material),
        rectangle(*size),
        _whole(cells, "owned", 0),
        _money(cells, "price"),
        _length(cells, "margin", "0"),
        "",
        (),
        supplier,
        _whole(cells, "pack", 1),
        _available(cells),
        parse_steps(cells.get("steps", "")),
        place=_word(cells.get("place", "")),
        sides=_sides(cells.get("sides", ""), kind),
        offered=not cells.get("price", "") and not _whole(cells, "owned", 0),
    )


def _bar(cells: Mapping[str, str], kind: BarKind, supplier: str) -> BarItem:
    section = BarSection(kind, _length(cells, "thickness"))
    length = _length(cells, "length")
    words = (supplier, section.name, f"{length:g}")
    return BarItem(
        _word(cells.get("id", "")) or " ".join(w for w in words if w),
        section,
        length,
        _whole(cells, "owned", 0),
        _money(cells, "price"),
        supplier,
        _whole(cells, "pack", 1),
        _available(cells),
        _word(cells.get("place", "")),
    )


def price_rows(stock: ShopStock) -> Iterable[list[str]]:
    """Yield a shop's rectangular stock and its bars as rows of a table, the head first."""
    yield list(COLUMNS)
    suppliers = {s.id: s for s in stock.suppliers}
    for item in stock.items:
        box = item.length * item.breadth
        if item.shape.holes or abs(item.shape.area - box) > 1.0:
            continue  # an offcut's outline fits no table
        yield [
            harmless(item.id),
            item.kind.value,
            harmless(item.name),
            harmless(item.foam.material),
            f"{item.foam.thickness:g}",
            f"{item.length:g}",
            f"{item.breadth:g}",
            f"{item.margin:g}",
            item.sides,
            "" if item.price is None else str(item.price),
            str(item.pack),
            "" if item.available is None else str(item.available),
            show_steps(item.steps),
            str(item.owned),
            harmless(item.place),
            *_supplier_cells(suppliers.get(item.supplier)),
        ]
    for bar in stock.bars:
        yield [
            harmless(bar.id),
            bar.section.kind.value,
            harmless(bar.name),
            "",
            f"{bar.section.size:g}",
            f"{bar.length:g}",
            "",
            "",
            "",
            "" if bar.price is None else str(bar.price),
            str(bar.pack),
            "" if bar.available is None else str(bar.available),
            "",
            str(bar.owned),
            harmless(bar.place),
            *_supplier_cells(suppliers.get(bar.supplier)),
        ]


def _supplier_cells(supplier: Supplier | None) -> list[str]:
    if supplier is None:
        return [""] * 5
    free = "" if supplier.free_from is None else str(supplier.free_from)
    name = harmless(supplier.name or supplier.id)
    return [name, str(supplier.shipping), free, str(supplier.minimum), str(supplier.days)]


def write_price_list(stock: ShopStock, path: Path) -> None:
    """Write a shop's catalogue as a table, CSV or ODS by the file's name.

    Raises:
        InputError: the place cannot be written.
    """
    rows = list(price_rows(stock))
    ods = path.suffix.lower() == ".ods"
    write_atomic(path, ods_bytes("Price list", rows) if ods else csv_bytes(rows))
