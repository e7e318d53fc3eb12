"""Price lists in and out, and shopping lists: read by other programs' rules, harmless to them."""

import csv
import io
import zipfile
from decimal import Decimal

import pdfplumber
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind, sheet
from ivory_quilt.core.units import Currency
from ivory_quilt.demo.shop import demo_bars, demo_stock, demo_suppliers
from ivory_quilt.files.catalogue_file import price_list_of, read_price_list, write_price_list
from ivory_quilt.files.shopping_file import (
    ListedLine,
    ShoppingList,
    list_csv,
    text_of,
    write_shopping,
)
from ivory_quilt.files.table_write import FORMULA, harmless
from tests.effort import random_cases

SHOP = ShopStock(demo_stock(), suppliers=demo_suppliers(), bars=demo_bars())
HEAD = ["kind", "name", "thickness", "length", "width", "price", "pack", "steps", "supplier"]


@pytest.mark.parametrize("name", ["list.csv", "list.ods"])
def test_a_catalogue_comes_back_as_it_was_written(tmp_path, name):
    path = tmp_path / name
    stepped = replace(SHOP.items[1], steps=((5, Decimal("5.50")),), pack=2, available=7)
    shop = replace(SHOP, items=(SHOP.items[0], stepped, *SHOP.items[2:]))
    write_price_list(shop, path)
    found = read_price_list(path)
    assert found.problems == ()
    rectangles = [i for i in shop.items if i.kind is not StockKind.OFFCUT]
    assert [replace(i, make="") for i in rectangles] == list(found.items)
    assert found.bars == shop.bars
    assert sorted(found.suppliers, key=lambda s: s.id) == list(shop.suppliers)


def test_semicolons_and_decimal_commas_of_other_spreadsheets(tmp_path):
    path = tmp_path / "list.csv"
    path.write_bytes("Kind;Thickness;Length;Width;Price\nsheet;6;1000;500;11,50\n".encode("cp1252"))
    (item,) = read_price_list(path).items
    assert (item.price, item.length, item.foam) == (Decimal("11.50"), 1000, Foam(6.0, "eva"))


@pytest.mark.parametrize(
    ("field", "text", "said"),
    [
        ("kind", "shet", "did you mean 'sheet'"),
        ("thickness", "thick", "row 3, thickness"),
        ("length", "-4", "row 3, length"),
        ("price", "dear", "row 3, price"),
        ("pack", "2.5", "row 3, pack"),
        ("steps", "5 for 10", "row 3, steps"),
        ("steps", "1: 10", "breaks"),
    ],
)
def test_a_wrong_row_is_named_and_the_good_ones_come_in(field, text, said):
    good = ["sheet", "good", "6", "1000", "500", "11.50", "1", "", "Thornmere"]
    bad = list(good)
    bad[0:2] = ["tile", "bad"]
    bad[HEAD.index(field)] = text
    found = price_list_of([HEAD, good, bad, [], ["sheet", "more", "4", "900", "400"]], "list.csv")
    assert [i.name for i in found.items] == ["good", "more"]
    (problem,) = found.problems
    assert said in str(problem)
    assert "row 3" in str(problem)
    assert found.items[1].offered
    assert found.suppliers[0].id == "thornmere"


def test_what_is_no_price_list_is_refused(tmp_path):
    with pytest.raises(InputError, match="no column 'kind'"):
        price_list_of([["bees", "length"]], "x.csv")
    with pytest.raises(InputError, match="empty"):
        price_list_of([], "x.csv")
    broken = tmp_path / "x.ods"
    broken.write_bytes(b"PK\x03\x04 and then nothing")
    with pytest.raises(InputError, match="no spreadsheet"):
        read_price_list(broken)


@random_cases(40, 400)
@given(st.lists(st.lists(st.text(max_size=12), max_size=12), max_size=8))
def test_any_cells_are_read_or_refused_row_by_row(rows):
    found = price_list_of([HEAD, *rows], "x.csv")
    assert len(found.items) + len(found.bars) + len(found.problems) <= len(rows)


# Shopping lists

LISTED = ShoppingList(
    "Night parade: to buy",
    (
        ListedLine(
            "Thornmere", "6 mm half sheet", "1000 × 500 mm", "2", Decimal("11.50"), Decimal("23.00")
        ),
        ListedLine("Thornmere", "=HYPERLINK(1)", "", "1", None, None),
        ListedLine("", "@dew", "", "3 × 4", Decimal(2), Decimal(6)),
    ),
    (("Thornmere", Decimal("5.90")),),
    Decimal("34.90"),
    Decimal("31.20"),
    Currency("£", first=True),
)


def test_a_shopping_list_is_a_table_of_words_and_figures():
    rows = list(csv.reader(io.StringIO(list_csv(LISTED).decode())))
    assert rows[1] == ["Thornmere", "6 mm half sheet", "1000 × 500 mm", "2", "11.50", "23.00"]
    assert rows[-1][-1] == "34.90"
    costs = [Decimal(r[5]) for r in rows[1:-1] if r[5]]
    assert sum(costs) == Decimal("34.90")


@given(st.sampled_from(FORMULA), st.text(max_size=20))
def test_no_cell_begins_as_a_formula(first, rest):
    line = ListedLine(first + rest, rest + first, first, first + "1", None, None)
    data = list_csv(replace(LISTED, lines=(line,))).decode()
    for row in csv.reader(io.StringIO(data)):
        assert not any(cell.startswith(FORMULA) for cell in row)
    assert not harmless(first + rest).startswith(FORMULA)


def test_the_same_list_as_text_ods_and_pdf(tmp_path):
    text = text_of(LISTED)
    assert "2 × 6 mm half sheet, 1000 × 500 mm: £23.00" in text
    assert "price?" in text
    assert "nothing under £31.20 can fit" in text
    for name in ("a.txt", "a.ods", "a.pdf", "a.csv"):
        write_shopping(LISTED, tmp_path / name)
    with zipfile.ZipFile(tmp_path / "a.ods") as book:
        content = book.read("content.xml").decode()
    assert 'office:value="23.00"' in content
    assert "table:formula" not in content
    with pdfplumber.open(tmp_path / "a.pdf") as pdf:
        shown = pdf.pages[0].extract_text()
    assert "6 mm half sheet" in shown
    assert "£34.90" in shown
    with pytest.raises(InputError, match="no such kind"):
        write_shopping(LISTED, tmp_path / "a.doc")


def test_a_long_list_goes_on_over_the_page(tmp_path):
    lines = tuple(
        ListedLine("Dewpond", f"sheet {k}", "", "1", Decimal(1), Decimal(1)) for k in range(80)
    )
    write_shopping(replace(LISTED, lines=lines), tmp_path / "a.pdf")
    with pdfplumber.open(tmp_path / "a.pdf") as pdf:
        words = "\n".join(p.extract_text() for p in pdf.pages)
        assert len(pdf.pages) == 3
    assert all(f"sheet {k}" in words for k in range(80))


def test_a_sheet_named_like_a_formula_is_harmless_in_a_price_list(tmp_path):
    item = sheet("=1+1", "+evil", Foam(6.0, "@eva"), (500, 400), price=Decimal(2))
    write_price_list(ShopStock((item,)), tmp_path / "a.csv")
    text = (tmp_path / "a.csv").read_text()
    for row in csv.reader(io.StringIO(text)):
        assert not any(cell.startswith(FORMULA) for cell in row)
    (back,) = read_price_list(tmp_path / "a.csv").items
    assert (back.id, back.name, back.foam.material) == ("=1+1", "+evil", "@eva")
