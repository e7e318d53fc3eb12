"""Lists of lines that one widget paints, and cards that are laid out once."""

from itertools import pairwise

import pytest
from PySide6.QtGui import QFontMetricsF, QImage
from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.theme.palette import DARK
from ivory_quilt.desk.theme.style import words
from ivory_quilt.desk.widgets.basics import column, label
from ivory_quilt.desk.widgets.label_list import LabelList, Line
from ivory_quilt.desk.widgets.layout_hold import laid_out_once

LONG = "The wing case meets the collar along its whole inner edge, and leaves four millimetres open"


@pytest.fixture
def made(qtbot):
    card = QWidget()
    shown = LabelList()
    below = label("below")
    card.setLayout(column(shown, below, None))
    card.resize(280, 400)
    qtbot.addWidget(card)
    card.show()
    qtbot.waitExposed(card)
    return card, shown, below


def reddish(shown: LabelList, top: int, high: int) -> int:
    """How many pixels between two heights are the red of a cut, smoothed at letters' rims."""
    image = shown.grab().toImage().convertToFormat(QImage.Format.Format_RGB32)
    rows = range(max(top, 0), min(top + high, image.height()))
    colours = [image.pixelColor(x, y) for y in rows for x in range(image.width())]
    return sum(c.red() - c.green() > 40 for c in colours)


def test_lines_take_the_room_their_words_need_and_no_more(made, qtbot):
    _, shown, below = made
    assert shown.isHidden()
    shown.show_lines([Line("one")])
    qtbot.waitUntil(lambda: below.y() > 0)
    single = shown.height()
    assert abs(single - QFontMetricsF(words()).height()) <= 1
    shown.show_lines([Line("one"), Line(LONG)])
    qtbot.waitUntil(lambda: shown.height() >= 3 * single)
    assert shown.heightForWidth(1000) < shown.heightForWidth(200)
    assert below.y() >= shown.geometry().bottom()
    shown.show_lines([])
    assert shown.isHidden() and not shown.accessibleName()


def test_a_line_is_written_in_its_tone_and_follows_the_theme(made, qtbot):
    _, shown, _ = made
    shown.show_lines([Line("calm"), Line("it pulls", "note", "cut")])
    qtbot.waitUntil(lambda: shown.height() > 20)
    half = shown.height() // 2
    assert reddish(shown, half, half) > 10
    assert reddish(shown, 0, half - 2) == 0
    light = shown.grab().toImage()
    shown.look = DARK
    assert reddish(shown, half, half) > 10
    assert shown.grab().toImage() != light
    assert shown.accessibleName() == "calm\nit pulls"


def test_words_of_the_same_room_lay_nothing_out_anew(made, qtbot):
    _, shown, _ = made
    shown.show_lines([Line("12.5 and 13.1 mm", "mono")])
    qtbot.waitUntil(lambda: shown.height() > 10)
    asked = []
    shown.updateGeometry = lambda: asked.append(1)
    shown.show_lines([Line("12.6 and 13.1 mm", "mono")])
    assert not asked
    shown.show_lines([Line("12.6 and 13.1 mm", "mono"), Line("more")])
    assert asked


def test_a_card_that_is_filled_is_laid_out_once_and_rightly(made, qtbot):
    card, _, below = made
    more = [label(f"line {k}") for k in range(5)]
    for one in more:
        one.hide()
        card.layout().insertWidget(1, one)
    with laid_out_once(card):
        for one in more:
            one.show()
        assert not card.layout().isEnabled()
        before = [one.geometry() for one in more]
    assert card.layout().isEnabled()
    qtbot.waitUntil(lambda: [one.geometry() for one in more] != before)
    tops = sorted(one.y() for one in (*more, below))
    assert all(b - a >= below.height() for a, b in pairwise(tops))


def test_a_fault_within_leaves_the_layout_working(made):
    card, _, _ = made
    with pytest.raises(ValueError, match="no"), laid_out_once(card):
        raise ValueError("no")
    assert card.layout().isEnabled()
