"""Stickers: one a part or offcut, each in its label, codes that are read and found again."""

import io
import re
from decimal import Decimal

import cv2
import pdfplumber
import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.templates import find_code, shelf_label, templates_of
from ivory_quilt.core.stock.foam_stock import Material, ShopStock, StockKind, sheet
from ivory_quilt.devices.printer import SimulatedPrinter
from ivory_quilt.devices.scanner import png
from ivory_quilt.files.code_read import codes_in
from ivory_quilt.files.papers.stickers import (
    StickerPaper,
    part_stickers,
    shelf_stickers,
    stickers_pdf,
)

FOAM = Foam(6.0, "eva")
MM = 25.4 / 72


def plan():
    pieces = (
        Piece("cuff", "shin cuff", rectangle(90, 60), hand=Hand.PAIR, count=2),
        Piece("band", "belly band", rectangle(80, 30), count=3, material="eva"),
    )
    items = (
        sheet("A1", "offcut A1", FOAM, (300, 200), owned=1, kind=StockKind.OFFCUT),
        sheet("gone", "offcut", FOAM, (300, 200), owned=0, kind=StockKind.OFFCUT, price=Decimal(1)),
        sheet("S", "sheet", FOAM, (1000, 500), owned=2),
    )
    return derive(Project("t", pieces), ShopStock(items, (Material("eva", "EVA foam", True),)))


def test_every_part_has_a_sticker_with_its_hand_number_foam_and_template():
    made = plan()
    stickers = part_stickers(made)
    assert len(stickers) == made.ledger.parts == 7
    titles = [s.title for s in stickers]
    assert titles.count("1 shin cuff · left") == titles.count("1 shin cuff · right") == 2
    bands = [s for s in stickers if s.title == "2 belly band"]
    assert [s.lines for s in bands] == [(f"{k} of 3", "6 mm EVA foam") for k in (1, 2, 3)]
    found, present = find_code(bands[0].code, templates_of(made))
    assert (found.uses[0].piece.id, present) == ("band", True)


def test_what_lies_on_the_shelf_and_is_left_over_has_one():
    (sticker,) = shelf_stickers(plan().stock)
    assert sticker.title == "offcut A1"
    assert sticker.lines[0] == "6 mm EVA foam"
    assert shelf_label(sticker.code) == "A1"
    assert shelf_label("IQ SHELF") is None


@pytest.mark.parametrize("paper", list(StickerPaper))
@pytest.mark.parametrize("first", [1, 23])
def test_each_stands_in_its_label_and_its_code_is_read(paper, first):
    stickers = part_stickers(plan())
    grid = paper.grid
    data = stickers_pdf(stickers, paper, "t", first)
    with pdfplumber.open(io.BytesIO(data)) as document:
        pages = document.pages
        assert len(pages) == -(-(first - 1 + len(stickers)) // grid.many)
        assert float(pages[0].width) * MM == pytest.approx(grid.page[0], abs=0.01)
        for number in range(first - 1, first - 1 + len(stickers)):
            x, y = grid.place(number)
            page = pages[number // grid.many]
            inside = [
                c["text"]
                for c in page.chars
                if x <= c["x0"] * MM
                and c["x1"] * MM <= x + grid.size[0]
                and y - grid.size[1] <= c["y0"] * MM
                and c["y1"] * MM <= y
            ]
            said = "".join(inside)
            assert stickers[number - first + 1].title in said
            assert stickers[number - first + 1].code in said
        everything = sum(len(p.chars) for p in pages)
        assert everything == sum(len("".join((s.title, *s.lines, s.code))) for s in stickers)
    found = set()
    for page in range(len(pages)):
        picture = SimulatedPrinter(dpi=300, margin=0).print_page(data, page)
        # As a camera sees it: a label at a time.
        for number in range(grid.many):
            x, y = (round(v * 300 / 25.4) for v in grid.place(number))
            wide, high = (round(v * 300 / 25.4) for v in grid.size)
            top = picture.shape[0] - y
            label = picture[top : top + high, x : x + wide]
            found |= set(codes_in(png(cv2.copyMakeBorder(label, 9, 9, 9, 9, 0, value=255)), "p"))
    assert found == {s.code for s in stickers}


def test_labels_lie_side_by_side_on_their_page():
    for paper in StickerPaper:
        grid = paper.grid
        x, y = grid.place(grid.many - 1)
        assert x + grid.size[0] <= grid.page[0] + 0.01
        assert y - grid.size[1] >= -0.01
        assert grid.place(1)[0] - grid.place(0)[0] >= grid.size[0]
        assert grid.place(0)[1] - grid.place(grid.columns)[1] >= grid.size[1]


def test_what_cannot_be_is_said():
    with pytest.raises(InputError, match="nothing to label"):
        stickers_pdf((), StickerPaper.A4_24, "t")
    with pytest.raises(InputError, match=re.escape("first label: 31; expected 1 to 24")):
        stickers_pdf(part_stickers(plan()), StickerPaper.A4_24, "t", 31)
