"""The Girths place in a real window: parts added, the sum seen, what is missing spread."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.wearers import put_wearer
from ivory_quilt.core.measure.parts_around import GrowBy
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.review import review
from ivory_quilt.desk.stations.measure.presenter import Together
from ivory_quilt.desk.stations.measure.view import MeasureMode
from tests.desk.conftest import let_run


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-measure")
    demo_desk.act("girths")
    assert measure(demo_desk).mode is MeasureMode.GIRTHS
    return demo_desk


def measure(desk):
    return desk.window.stations["measure"]


def panel(desk):
    return measure(desk).around_panel


def choose(box, text):
    k = next(k for k in range(box.count()) if text in box.itemText(k))
    box.setCurrentIndex(k)
    box.activated.emit(k)
    let_run()


def press(made):
    QTest.mouseClick(made, Qt.MouseButton.LeftButton)
    let_run()


def waist(desk, *pieces):
    box = panel(desk).spot
    box.setCurrentIndex(next(k for k in range(box.count()) if "waist" in box.itemText(k)))
    press(panel(desk).add)
    for piece in pieces:
        choose(panel(desk).piece, piece)


def test_parts_are_summed_and_what_is_missing_is_spread(desk):
    waist(desk, "belly band 1", "belly band 2")
    assert panel(desk).figure.text().endswith("mm short")
    panel(desk).fields["laps"].type("30 mm")
    panel(desk).fields["gaps"].type("2 cm")
    around = desk.session.project.girths[0]
    assert (around.laps, around.gaps) == (30, 20)
    total = measure(desk).around.total()
    assert f"{abs(total.missing):.0f} mm" in panel(desk).figure.text()
    assert "belly band 1" in panel(desk).effect.text()
    slip = panel(desk).figure.open_slip()
    assert slip is not None
    slip.close()
    press(panel(desk).do)
    assert panel(desk).figure.text() == "goes around"
    assert not panel(desk).do.isEnabled()
    assert not any(f.code == "girth" for f in review(desk.session.project))
    desk.act("undo")
    assert any(f.code == "girth" for f in review(desk.session.project))


def test_parts_are_changed_and_taken_out_again(desk):
    waist(desk, "belly band 1", "belly band 2")
    presenter = measure(desk).around
    presenter.change_part("belly-band-1", times=3)
    presenter.change_part("belly-band-2", takes=False)
    presenter.change(by=GrowBy.STRIP)
    let_run()
    parts = desk.session.project.girths[0].parts
    assert (parts[0].times, parts[1].takes) == (3, False)
    assert "no strip" in panel(desk).effect.text()
    press(panel(desk).do)
    assert "no strip" in panel(desk).error.text()
    ways = [words for _, words in presenter.ways_around(presenter.pieces()[0])]
    assert ways[:3] == ["width", "height", "edge A"]
    presenter.drop_piece("belly-band-1")
    let_run()
    assert [p.piece for p in desk.session.project.girths[0].parts] == ["belly-band-2"]
    press(panel(desk).remove)
    assert desk.session.project.girths == ()


def test_bad_lengths_are_said_and_stay_as_typed(desk):
    waist(desk, "belly band 1")
    field = panel(desk).fields["beneath"]
    field.type("thick")
    assert "beneath" in panel(desk).error.text()
    assert field.text() == "thick"
    assert desk.session.project.girths[0].beneath == 0


def test_the_picture_shows_the_parts_in_both_themes(desk):
    waist(desk, "belly band 1", "shoulder lame")
    picture = measure(desk).around_picture
    light = picture.grab().toImage()
    assert light.pixelColor(light.width() // 2, light.height() // 2).isValid()
    colours = {
        light.pixelColor(x, y).rgb()
        for x in range(0, light.width(), 9)
        for y in range(0, light.height(), 9)
    }
    assert len(colours) > 4  # foam, paper, bars
    desk.act("theme")
    dark = picture.grab().toImage()
    assert dark != light


def test_pieces_selected_on_the_board_are_fitted_together(desk):
    desk.session.selected = ("belly-band-1", "belly-band-2")
    presenter = measure(desk).presenter
    presenter.change(piece="belly-band-3", together=Together.CHOSEN)
    assert presenter.together() == ("belly-band-1", "belly-band-2", "belly-band-3")


def test_without_a_measure_it_says_what_to_do(desk):
    wearer = desk.session.project.wearers[0]
    desk.session.edit("bare", lambda p: put_wearer(p, replace(wearer, measures=())))
    let_run()
    assert measure(desk).around.open_spots() == []
    assert "Type a girth" in panel(desk).hint.text()
