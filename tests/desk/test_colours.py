"""Tones typed at the Bench and seen on the board, in a real window."""

import pytest

from ivory_quilt.core.document.benchwork import set_paint
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.record import replace
from ivory_quilt.desk.stations.pattern.board_items import PaintedItem
from tests.desk.conftest import let_run

SCHEME = (
    PaintArea("a", "deep green", colour="#2f5d3a", pieces=("shin-cuff", "knee-cup")),
    PaintArea(
        "b", "old gold", on=RegionKind.EDGE, width=12, colour="#b8913a", pieces=("shin-cuff",)
    ),
)


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.session.edit("scheme", lambda p: set_paint(p, SCHEME))
    let_run()
    return demo_desk


def painted(desk):
    return {i for i, item in desk.pattern.items.items() if isinstance(item, PaintedItem)}


def test_the_board_shows_pieces_in_their_tones_when_asked(desk):
    assert desk.pattern.colours.isVisibleTo(desk.window)
    assert painted(desk) == set()
    desk.pattern.colours.click()
    let_run()
    assert painted(desk) == {"shin-cuff", "knee-cup"}
    assert len(desk.pattern.items["shin-cuff"].tones) == 2
    assert "deep green, old gold" in desk.pattern.items["shin-cuff"].note
    picture = desk.pattern.board.grab().toImage()
    inside = desk.pattern.board.mapFromScene(
        desk.pattern.items["knee-cup"].sceneBoundingRect().center()
    )
    near = {
        picture.pixelColor(inside.x() + dx, inside.y() + dy).name()
        for dx in range(-30, 31, 3)
        for dy in range(-30, 31, 3)
    }
    assert "#2f5d3a" in near
    desk.pattern.colours.click()
    let_run()
    assert painted(desk) == set()


def test_without_a_colour_there_is_nothing_to_show(desk):
    bare = tuple(replace(a, colour="") for a in SCHEME)
    desk.session.edit("bare", lambda p: set_paint(p, bare))
    let_run()
    assert not desk.pattern.colours.isVisibleTo(desk.window)


def test_colour_region_and_mix_are_typed_in_the_table(desk):
    from ivory_quilt.desk.stations.bench.paint_panel import PaintPanel

    panel = PaintPanel(desk.session)
    panel.fill()
    heads = [panel.table.horizontalHeaderItem(k).text() for k in range(panel.table.columnCount())]

    def type_in(head, text):
        panel.table.item(0, heads.index(head)).setText(text)
        let_run()
        panel.fill()

    type_in("Region", "edges 8 mm")
    type_in("Colour", "#123456")
    type_in("Mix", "3 green, 1 black")
    type_in("Left ml", "45 ml")
    made = desk.session.project.paint[0]
    assert (made.on, made.width, made.colour) == (RegionKind.EDGE, 8, "#123456")
    assert (made.mix, made.left) == ("3 green, 1 black", 45)
    type_in("Colour", "green")
    assert "such as #2f5d3a" in panel.error.text()
    assert desk.session.project.paint[0] == made
