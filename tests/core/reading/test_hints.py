"""What the writing on a pattern says; the words are common practice, no source."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.core.reading.assembly import assemble
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.hints import Hints, read_hints


@pytest.mark.parametrize(
    ("text", "quantity", "thickness", "hand", "name"),
    [
        ("cut 2", 2, None, None, ""),
        ("CUT 2x", 2, None, None, ""),
        ("Cut: 4", 4, None, None, ""),
        ("x3", 3, None, None, ""),
        ("12 pcs", 12, None, None, ""),
        ("2 off, 10mm", 2, 10.0, None, ""),
        ("6mm", None, 6.0, None, ""),
        ("4,5 mm", None, 4.5, None, ""),
        ("1/2 in", None, 12.7, None, ""),
        ("L", None, None, Hand.LEFT, ""),
        ("R", None, None, Hand.RIGHT, ""),
        ("shin cuff left", None, None, Hand.LEFT, "shin cuff"),
        ("L/R", None, None, Hand.PAIR, ""),
        ("cut 1 pair", 1, None, Hand.PAIR, ""),
        ("left and right", None, None, Hand.PAIR, ""),
        ("cut 2 mirror", 2, None, Hand.PAIR, ""),
        ("wing case, cut 2 mirrored", 2, None, Hand.PAIR, "wing case"),
        ("Wing case mirror image", None, None, Hand.PAIR, "Wing case"),
        ("pair", None, None, Hand.PAIR, ""),
        ("L+R", None, None, Hand.PAIR, ""),
        ("cut 1 of each side", 2, None, Hand.PAIR, ""),
        ("knee 1 left, 1 right 4mm", None, 4.0, Hand.PAIR, "knee"),
        ("1 of each", 2, None, Hand.PAIR, ""),
        ("belly band 2 of each hand", 4, None, Hand.PAIR, "belly band"),
        ("Wing case - 6 mm - cut 2", 2, 6.0, None, "Wing case"),
        ("belly band 3", None, None, None, "belly band 3"),
        ("120 x 80", None, None, None, ""),
        ("fin 4x 5mm", 4, 5.0, None, "fin"),
        ("12× 2,5 mm", 12, 2.5, None, ""),
        ("120x 80 mm", None, None, None, ""),
        ("40x 30 mm", None, 30.0, None, ""),
        ("300 mm", None, None, None, ""),
        ("www", None, None, None, "www"),
        ("", None, None, None, ""),
    ],
)
def test_what_makers_write(text, quantity, thickness, hand, name):
    said = read_hints(text)
    assert (said.quantity, said.hand, said.name) == (quantity, hand, name)
    assert said.thickness == (pytest.approx(thickness) if thickness else None)


def test_a_fold_is_said():
    assert read_hints("place on fold").on_fold
    assert not read_hints("golden").on_fold


@given(st.text(max_size=300))
def test_no_writing_is_too_odd(text):
    said = read_hints(text)
    assert said.quantity is None or 1 <= said.quantity <= 500
    assert said.thickness is None or 0.5 <= said.thickness <= 60


def test_the_first_to_say_a_thing_is_right():
    both = Hints(quantity=2).with_more(Hints(quantity=5, thickness=6.0))
    assert both == Hints(quantity=2, thickness=6.0)
    assert both.words() == "2 ×, 6 mm"


def outline(x, y, w, h):
    return RawPath(rectangle(w, h).outer + np.array([x, y]), True)


def test_words_belong_to_the_smallest_piece_they_stand_on_or_the_nearest():
    paths = [outline(0, 0, 200, 100), outline(300, 0, 50, 50), outline(310, 10, 20, 20)]
    texts = [
        RawText("wing case", (100, 60)),
        RawText("cut 2", (100, 40)),
        RawText("6mm", (360, 25)),  # 10 mm beside the second
        RawText("lost", (600, 600)),
    ]
    reading = assemble(paths, texts=texts)
    wing, frame = reading.pieces
    assert (wing.name, wing.hints.quantity) == ("wing case", 2)
    assert frame.hints.thickness == 6.0
    offers = [p for p in reading.problems if p.code == "text-hint"]
    assert [p.hints_of for p in offers] == [wing.id, frame.id]
    assert offers[0].mend == "apply it: 2 ×"
    taken = reading.take(offers[0])
    assert [p.mended for p in taken.problems] == [True, False]


def test_a_drawn_name_is_kept_and_the_writing_only_adds():
    path = RawPath(rectangle(80, 40).outer, True, name="belt")
    (piece,) = assemble([path], texts=[RawText("Buckle side L", (40, 20))]).pieces
    assert piece.name == "belt"
    assert piece.hints.hand is Hand.LEFT
