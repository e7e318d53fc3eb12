"""Labels on parts: as much of them as there is room for, and never across an outline."""

import pytest
from PySide6.QtCore import QPointF
from PySide6.QtGui import QColor, QImage, QPainter

from ivory_quilt.desk.canvas.screen_words import LINE, label_box, label_choices, screen_label

NAME, NOTE = "wing case", "left, 2 of 6, skin up\nleft, 2 of 6"


@pytest.mark.parametrize(
    ("room", "height", "shown"),
    [
        (300, 90, ["wing case", "left, 2 of 6, skin up"]),
        (90, 90, ["wing case", "left, 2 of 6"]),  # the shorter wording
        (50, 90, ["wing", "case"]),  # the name comes before any note
        (20, 90, []),
        (300, 31, ["wing case"]),  # two lines would cross an outline that narrows
        (300, 17, ["wing case"]),
        (300, 14, []),
        (50, 31, []),  # half a name says nothing
    ],
)
def test_as_much_is_shown_as_there_is_room_for(qapp, room, height, shown):
    choices = label_choices(NAME, NOTE, room, height)
    assert [line for line, _ in (choices[0] if choices else ())] == shown


def test_the_name_alone_is_the_second_choice(qapp):
    first, second = label_choices(NAME, NOTE, 300, 90)
    assert [line for line, _ in second] == ["wing case"]
    assert label_box(first).height() > label_box(second).height()
    assert label_box(first).width() > label_box(second).width()


def test_a_label_stands_in_the_middle_and_on_its_ground(qapp):
    image = QImage(300, 100, QImage.Format.Format_RGB32)
    image.fill(QColor("white"))
    painter = QPainter(image)
    painter.scale(2.0, 2.0)
    at = QPointF(75, 25)  # of a scene at 2 px per mm
    screen_label(painter, at, (("MMMM", True),), QColor("black"), QColor("yellow"))
    kept = painter.worldTransform().m11()
    painter.end()
    assert kept == 2.0
    inked = [
        (x, y) for x in range(300) for y in range(100) if image.pixelColor(x, y) != QColor("white")
    ]
    left, right = min(x for x, _ in inked), max(x for x, _ in inked)
    top, low = min(y for _, y in inked), max(y for _, y in inked)
    assert abs((left + right) / 2 - 150) <= 1.5
    assert abs((top + low) / 2 - 50) <= 2.5
    assert low - top < LINE + 4
    assert image.pixelColor(left + 1, low - 1) == QColor("yellow")
