"""The parts list: every part once, with what it is cut from, in both formats."""

import csv
import io

import pytest
from odf.opendocument import load
from odf.table import TableCell, TableRow

from ivory_quilt.core.errors import InputError
from ivory_quilt.files.parts_list import HEADS, part_rows, write_parts_list
from tests.files.test_stickers import plan


def test_the_list_is_read_back_as_csv_and_as_a_spreadsheet(tmp_path):
    made = plan()
    write_parts_list(made, tmp_path / "p.csv")
    data = (tmp_path / "p.csv").read_bytes()
    assert data.count(b"\r\n") == data.count(b"\n")  # RFC 4180: lines end in CR LF
    rows = list(csv.DictReader(io.StringIO(data.decode(), newline="")))
    assert list(rows[0]) == list(HEADS)
    assert sum(int(r["count"]) for r in rows) == made.ledger.parts
    band = next(r for r in rows if r["part"] == "belly band")
    assert (band["number"], band["count"], band["thickness mm"]) == ("2", "3", "6.00")
    assert (band["area cm2"], band["width mm"], band["height mm"]) == ("24.0", "80.0", "30.0")
    assert band["outline mm"] == "220.0"
    assert sorted(r["hand"] for r in rows) == ["left", "none", "right"]
    write_parts_list(made, tmp_path / "p.ods")
    cells = load(tmp_path / "p.ods").getElementsByType(TableRow)
    table = [[str(c) for c in row.getElementsByType(TableCell)] for row in cells]
    assert table[0] == list(HEADS)
    assert len(table) == 1 + len(rows)
    with pytest.raises(InputError, match=r"\.csv or \.ods"):
        write_parts_list(made, tmp_path / "p.xls")
    assert not (tmp_path / "p.xls").exists()


def test_where_a_part_is_cut_from_is_told(tmp_path):
    from tests.files.test_papers import laid

    (strip, plate, *_) = (dict(zip(HEADS, row, strict=True)) for row in part_rows(laid()))
    assert {strip["sheets"], plate["sheets"]} == {
        "6 mm EVA foam: roll 1",
        "6 mm EVA foam: sheet 2",
    }
