"""Sheet by sheet at the Cut station: cut, taken back, undone, given up, saved."""

from decimal import Decimal

import numpy as np
import pytest
from PIL import Image, ImageDraw
from PySide6.QtWidgets import QPushButton
from shapely import Polygon

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import StockKind, sheet
from ivory_quilt.core.units import LengthUnit, show_figures
from ivory_quilt.desk.stations.buy.offcut_outline import read_outline, said_beneath
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


@pytest.fixture
def cut_desk(make_desk):
    pieces = tuple(
        Piece(f"p{k}", f"plate {k}", rectangle(w, h), count=n)
        for k, (w, h, n) in enumerate(((400, 300, 2), (60, 50, 3)))
    )
    desk = make_desk(Project(pieces=pieces), fill=False)
    desk.store.put(sheet("s", "half sheet", EVA6, (1000, 500), owned=2, margin=5))
    desk.session.reload_stock()
    desk.laid()
    desk.window.go("cut")
    station = desk.window.stations["cut"]
    station.show_list.click()
    desk.cutting = station.list
    return desk


def shelf(desk):
    return {i.id: i.owned for i in desk.store.stock().items}


def press(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text() == text).click()
    let_run()


def test_one_click_cuts_a_sheet_and_fills_the_shelf(cut_desk):
    desk = cut_desk
    before = desk.session.plan.ledger
    press(desk.cutting, "It is cut")
    there = shelf(desk)
    assert there["s"] == 1
    labels = [i for i in there if i.startswith("A")]
    assert labels[:1] == ["A1"]
    (spent,) = desk.session.project.spent
    assert desk.session.plan.foams[0].standing is Standing.CUT
    assert desk.session.plan.ledger.cut == 5
    assert desk.session.plan.ledger.part_area == pytest.approx(before.part_area)
    assert sum(i.shape.area * i.owned for i in spent.left) == spent.kept > 0
    press(desk.cutting, "Take back")
    assert shelf(desk) == {"s": 2}
    assert desk.session.project.spent == ()


def test_undo_and_redo_move_the_foam_as_well(cut_desk):
    desk = cut_desk
    press(desk.cutting, "It is cut")
    after = shelf(desk)
    desk.session.undo()
    assert shelf(desk) == {"s": 2}
    desk.session.redo()
    assert shelf(desk) == after
    desk.store.remove("A1")
    desk.session.undo()  # refused: something was cut from that offcut
    assert desk.session.project.spent
    assert shelf(desk)["s"] == 1


def test_what_is_given_up_was_not_cut(cut_desk, tmp_path):
    desk = cut_desk
    desk.session.save(tmp_path / "suit.ivq")
    assert [r.count for r in desk.store.stock().reserved] == []
    press(desk.cutting, "It is cut")
    desk.session.save(tmp_path / "suit.ivq")
    assert load_project(tmp_path / "suit.ivq") == desk.session.project
    saved = shelf(desk)
    desk.session.edit("More", lambda p: replace(p, pieces=(replace(p.pieces[0], count=3),)))
    desk.laid()
    press(desk.cutting, "It is cut")
    assert shelf(desk) != saved
    assert desk.window.documents.may_leave()  # the fixture's answer is: discard
    assert shelf(desk) == saved


def test_arrived_sheets_are_what_the_kept_layout_lies_on(make_desk):
    desk = make_desk(Project(pieces=(Piece("p", "plate", rectangle(400, 300)),)), fill=False)
    desk.store.put(sheet("s", "half sheet", EVA6, (1000, 500), price=Decimal(9), margin=5))
    desk.session.reload_stock()
    desk.laid()
    desk.session.keep_all()
    desk.window.go("buy")
    assert let_run(lambda: desk.buy.ordering.result is not None, 20)
    (line,) = desk.buy.ordering.lines()
    desk.buy.ordering.arrived(line)
    (foam,) = desk.session.plan.foams
    assert foam.standing is Standing.KEPT
    assert {u.id for u in foam.result.stock} == {"own:s"}
    assert desk.session.plan.ledger.cost == 0


# Offcuts by their outline


def photo(path, corners, paper=(420, 297), scale=4):
    """Draw a dark offcut on white paper on a brown table, seen a little from the side."""
    wide, high = paper[0] * scale, paper[1] * scale
    image = Image.new("RGB", (wide, high), (244, 243, 238))
    outline = [(x * scale, high - y * scale) for x, y in corners]
    ImageDraw.Draw(image).polygon(outline, fill=(52, 50, 54))
    seen = [(150, 120), (wide + 90, 70), (wide + 140, high + 60), (110, high + 110)]
    flat = [(0, 0), (wide, 0), (wide, high), (0, high)]
    rows = []
    for (u, v), (x, y) in zip(flat, seen, strict=True):
        rows += [[x, y, 1, 0, 0, 0, -u * x, -u * y], [0, 0, 0, x, y, 1, -v * x, -v * y]]
    warp = np.linalg.solve(np.array(rows, float), np.array(flat, float).ravel())
    size = (wide + 250, high + 200)
    table = Image.new("RGB", size, (110, 84, 60))
    mask = Image.new("L", (wide, high), 255)
    ways = (Image.Transform.PERSPECTIVE, warp, Image.Resampling.BICUBIC)
    table.paste(image.transform(size, *ways), (0, 0), mask.transform(size, *ways))
    grain = np.random.default_rng(1).normal(0, 4, (size[1], size[0], 3))
    Image.fromarray((np.asarray(table) + grain).clip(0, 255).astype("uint8")).save(path)


def test_an_offcut_is_traced_from_a_photo_of_it_on_paper(tmp_path):
    corners = [(60, 50), (350, 40), (330, 180), (200, 230), (90, 200)]
    photo(tmp_path / "offcut.jpg", corners)
    found = read_outline(tmp_path / "offcut.jpg", "A3")
    true = Polygon(corners)
    assert found.area == pytest.approx(true.area, rel=0.005)
    assert (found.width, found.height) == pytest.approx((290, 190), abs=1.0)
    with pytest.raises(InputError, match="scale"):
        read_outline(tmp_path / "offcut.jpg", "")


def test_what_lies_beneath_is_said_in_a_makers_words():
    assert said_beneath("a3") == (None, (420, 297))
    assert said_beneath("600 x 400") == (None, (600, 400))
    assert said_beneath("24in × 18in") == (None, pytest.approx((609.6, 457.2)))
    assert said_beneath("200 dpi") == (200, None)
    for wrong in ("paper", "5 × 5", "1 dpi"):
        with pytest.raises(InputError):
            said_beneath(wrong)


def test_the_form_takes_a_photo_and_the_shelf_has_its_outline(make_desk, tmp_path):
    photo(tmp_path / "offcut.png", [(60, 50), (350, 40), (330, 180), (90, 200)])
    desk = make_desk(Project(), fill=False)
    desk.window.go("buy")
    form = desk.buy.shelf.form
    form.beneath.setCurrentText("A3")
    form.read_outline(tmp_path / "offcut.png")
    assert let_run(lambda: form._outline is not None, 20), form.error.text()
    press(form, "Add")
    (item,) = (i for i in desk.store.stock().items)
    assert item.kind is StockKind.OFFCUT
    assert len(item.shape.outer) >= 4
    assert item.shape.area == pytest.approx(
        Polygon([(60, 50), (350, 40), (330, 180), (90, 200)]).area, rel=0.01
    )


def test_bare_numbers_are_in_the_unit_that_is_shown(make_desk):
    desk = make_desk(Project(), fill=False)
    try:
        show_figures(comma=False, unit=LengthUnit.INCH)
        desk.window.go("buy")
        desk.buy.shelf.fill()
        form = desk.buy.shelf.form
        assert form.length.text() == "39.37 in"
        form.length.setText("24")
        form.breadth.setText("300 mm")
        press(form, "Add")
        (item,) = desk.store.stock().items
        assert (item.length, item.breadth) == pytest.approx((609.6, 300))
    finally:
        show_figures(comma=False, unit=LengthUnit.MM)
