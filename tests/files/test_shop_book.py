"""The shop book, read back by other libraries: chapters, words, page numbers, ink."""

import io
from datetime import date
from decimal import Decimal

import numpy as np
import pdfplumber
import pypdfium2
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Profile, ProfileKind
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.step import CAUTIONS
from ivory_quilt.core.stock.foam_stock import Foam, Material, ShopStock, sheet
from ivory_quilt.demo.project import demo_project
from ivory_quilt.files.papers.shop_book import shop_book_pdf
from tests.effort import random_cases
from tests.papers import first_layout
from tests.strategies import pieces

SHOP = ShopStock(
    tuple(
        sheet(f"s{t:g}", f"{t:g} mm sheet", Foam(t, "eva"), (1000, 600), price=Decimal(9))
        for t in (2.0, 4.0, 6.0, 8.0, 10.0)
    ),
    (Material("eva", "EVA foam"),),
)


def laid(project, shop=SHOP):
    plan = derive(project, shop)
    for foam in plan.foams:
        result = first_layout(foam.job)
        project = keep_layout(project, KeptLayout(foam.foam, result.placements))
    return derive(project, shop)


def book(project, shop=SHOP):
    return shop_book_pdf(laid(project, shop), "2027-03-01")


def words_of(data):
    with pdfplumber.open(io.BytesIO(data)) as pdf:
        return [page.extract_text() or "" for page in pdf.pages]


def chapters_of(data):
    return [
        (mark.level, mark.get_title(), mark.get_dest().get_index())
        for mark in pypdfium2.PdfDocument(data).get_toc()
    ]


@pytest.fixture(scope="module")
def demo():
    return demo_project()


@pytest.fixture(scope="module")
def demo_book(demo):
    return book(demo)


def test_the_demo_has_every_chapter_where_its_bookmark_says(demo, demo_book):
    pages, marks = words_of(demo_book), chapters_of(demo_book)
    chapters = [title for level, title, _ in marks if level == 0]
    assert chapters == [
        "Overview",
        "Wearers",
        "Parts",
        "Build cards",
        "Order",
        "Cut sheets",
        "Seams",
        "Steps",
        "Cautions",
    ]
    for _, title, page in marks:
        assert title in pages[page]
    cards = [t for level, t, _ in marks if level == 1]
    for piece in demo.pieces:
        assert any(title.endswith(piece.name) for title in cards)


def test_pages_are_numbered_and_all_words_can_be_selected(demo_book):
    pages = words_of(demo_book)
    for number, text in enumerate(pages, 1):
        assert f"page {number}" in text
    whole = " ".join(" ".join(pages).split())
    for caution in set(CAUTIONS.values()):
        assert caution.split(".")[0] in whole
    with pdfplumber.open(io.BytesIO(demo_book)) as pdf:
        fonts = {c["fontname"] for page in pdf.pages for c in page.chars}
        assert {(round(p.width), round(p.height)) for p in pdf.pages} == {(595, 842)}
    assert fonts
    assert all("IBMPlex" in name for name in fonts)  # shipped, and embedded


def test_it_reads_in_black_and_white(demo_book):
    pdf = pypdfium2.PdfDocument(demo_book)
    for page in pdf:
        grey = np.asarray(page.render(scale=1.0, grayscale=True).to_pil()).astype(float)
        assert grey.min() < 110  # no page whose darkest ink is pale


def test_build_cards_say_how_a_piece_is_made():
    bevel = Build().with_profile("A", Profile(ProfileKind.OUT, 45))
    rolled = Build(form=Form(FormKind.ROLLED, Given.ANGLE, 120.0))
    suit = Project(
        "suit",
        (
            Piece("a", "plate <b> & co", rectangle(120, 80), build=bevel, count=2),
            Piece("b", "band", rectangle(300, 60), build=rolled),
        ),
    )
    text = "\n".join(words_of(book(suit)))
    assert "1 plate <b> & co" in text
    assert "2 parts of 6 mm" in text
    assert "A · 45° out" in text
    assert "1 part of 6 mm, rolled" in text
    assert "Cross-section: 6 mm" in text


def test_an_empty_and_an_unlaid_project_have_a_book_too():
    assert "Overview" in words_of(shop_book_pdf(derive(Project("x"), SHOP), "today"))[0]
    unlaid = derive(Project("x", (Piece("a", "plate", rectangle(90, 40)),)), ShopStock())
    marks = [title for _, title, _ in chapters_of(shop_book_pdf(unlaid, "today"))]
    assert "Cut sheets" not in marks
    assert "1 plate" in marks


def test_the_same_project_gives_the_same_book(demo):
    few = replace(demo, pieces=demo.pieces[:4], seams=(), fixings=(), paint=(), forms=())
    day = date(2027, 3, 1).isoformat()
    assert shop_book_pdf(laid(few), day) == shop_book_pdf(laid(few), day)


@random_cases(10, 100)
@given(st.lists(pieces(), min_size=1, max_size=3))
def test_any_pieces_have_a_book(made):
    plain = (replace(p, id=f"p{k}", name=f"plate {k}", count=1) for k, p in enumerate(made, 1))
    suit = Project("suit", tuple(plain))
    data = shop_book_pdf(derive(suit, ShopStock()), "today")
    marks = [title for level, title, _ in chapters_of(data) if level == 1]
    assert {f"{k} plate {k}" for k in range(1, len(made) + 1)} <= set(marks)
