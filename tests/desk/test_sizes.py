"""Compare sizes, other ways than one scale, and the reference picture, in a real window."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.sizing import SizeMethod
from ivory_quilt.desk.stations.measure.presenter import Together
from ivory_quilt.desk.stations.measure.view import MeasureMode
from ivory_quilt.devices.scanner import ScanConditions, png, scan
from ivory_quilt.files.project_file import decode_project, encode_project
from tests.desk.conftest import let_run

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-measure")
    station(demo_desk).presenter.change(measure="calf", piece="shin-cuff")
    station(demo_desk).refresh()
    return demo_desk


def station(desk):
    return desk.window.stations["measure"]


def choose(box, value):
    index = box.findData(value)
    box.setCurrentIndex(index)
    box.activated.emit(index)
    let_run()


def test_three_sizes_are_laid_and_one_is_taken(desk, monkeypatch):
    monkeypatch.setattr("ivory_quilt.desk.layout_engine.COST_SECONDS", 0.05)
    sizes = station(desk).sizes
    width = desk.session.project.piece("shin-cuff").shape.width
    QTest.mouseClick(station(desk).fit.compare, LEFT)
    assert station(desk).mode is MeasureMode.SIZES
    assert let_run(lambda: len(sizes.costs) == 3, 90)
    let_run()
    shown = [one.percent.text() for one in sizes.columns]
    assert shown == ["100.2 %", "103.3 %", "106.4 %"]
    for one in sizes.columns:
        assert one.cost.text().endswith("€")
        assert one.foams.count() == 7
        assert "scrap" in one.note.text()
    QTest.mouseClick(sizes.columns[2].choose, LEFT)
    let_run()
    after = desk.session.project.piece("shin-cuff").shape.width
    assert after / width == pytest.approx(1.0638, abs=1e-3)
    assert desk.session.undo_label == "Size: 106.4 %"


def test_a_step_that_is_none_is_said(desk):
    station(desk).go_to(MeasureMode.SIZES)
    for text in ("wide", "0", "90"):
        station(desk).presenter.change(step=text)
        station(desk).sizes.refresh(station(desk).look)
        assert "step" in station(desk).sizes.say.text()
        assert not station(desk).sizes.body.isVisibleTo(desk.window)


@pytest.mark.parametrize("way", [w for w in SizeMethod if w is not SizeMethod.SCALE])
def test_other_ways_say_what_they_do_to_seams(desk, way):
    fit = station(desk).fit
    presenter = station(desk).presenter
    presenter.change(
        piece="shoulder-cap-crown", measure="forearm", around=2, together=Together.ALONE
    )
    station(desk).refresh()
    choose(fit.way, way)
    assert "Foam thickness stays" in fit.seams.text()
    assert "seam" in fit.seams.text()
    before = desk.session.project
    QTest.mouseClick(fit.apply, LEFT)
    let_run()
    piece = desk.session.project.piece("shoulder-cap-crown")
    assert piece.shape.width == pytest.approx(presenter.fit().needed / 2, abs=0.1)
    changed = [p for p in desk.session.project.pieces if p not in before.pieces]
    assert [p.id for p in changed] == ["shoulder-cap-crown"]
    desk.act("undo")
    assert desk.session.project == before


# The reference picture


@pytest.fixture
def pictured(desk, tmp_path):
    path = tmp_path / "sketch.png"
    path.write_bytes(png(scan([], (60, 80), ScanConditions(dpi=127), 1)))
    station(desk).go_to(MeasureMode.PICTURE)
    panel = station(desk).picture_panel
    panel.ask_file = lambda: str(path)
    panel._open()
    assert let_run(lambda: station(desk).study.grey is not None, 20)
    return desk


def drag(desk, start, stop):
    table = station(desk).picture
    view = table.viewport()
    a, b = (table.mapFromScene(*p) for p in (start, stop))
    QTest.mousePress(view, LEFT, pos=a)
    QTest.mouseMove(view, (a + b) / 2)
    QTest.mouseMove(view, b)
    QTest.mouseRelease(view, LEFT, pos=b)
    let_run()


def study(desk):
    return desk.session.project.studies[-1]


def test_lines_over_a_picture_become_real_sizes(pictured):
    desk = pictured
    panel = station(desk).picture_panel
    assert "known" in panel.advice.text()
    drag(desk, (50, 50), (50, 150))
    assert study(desk).known.pixels == pytest.approx(100, abs=2)
    station(desk).study.take_measure("forearm-hand")
    let_run()
    assert (study(desk).real, study(desk).uncertainty) == (463, 4)
    drag(desk, (120, 60), (220, 60))
    (line,) = study(desk).lines
    size = study(desk).size(line)
    assert size.length == pytest.approx(463, rel=0.05)
    assert size.uncertainty > 4
    assert "±" in station(desk).study.size_words(line)
    # An end is moved by hand, and one undo brings it back.
    drag(desk, (220, 60), (170, 60))
    assert study(desk).lines[0].pixels == pytest.approx(50, abs=3)
    desk.act("undo")
    assert study(desk).lines[0].pixels == pytest.approx(100, abs=3)
    station(desk).study.rename("piece 1", "shin")
    assert study(desk).lines[0].name == "shin"
    station(desk).study.drop("shin")
    assert study(desk).lines == ()


def test_wrong_words_about_what_is_known_are_said(pictured):
    desk = pictured
    panel = station(desk).picture_panel
    drag(desk, (50, 50), (50, 150))
    panel.real.setText("long")
    panel.real.editingFinished.emit()
    assert "real length" in panel.error.text()
    panel.real.setText("18 in")
    panel.give.setText("± 1/4 in")
    panel.real.editingFinished.emit()
    assert panel.error.text() == ""
    assert study(desk).real == pytest.approx(457.2)
    assert study(desk).uncertainty == pytest.approx(6.35)
    panel.blur.setText("-1")
    panel.blur.editingFinished.emit()
    assert panel.error.text()


def test_a_study_is_saved_with_the_project_and_its_picture_may_be_gone(pictured, tmp_path):
    desk = pictured
    drag(desk, (50, 50), (50, 150))
    again = decode_project(encode_project(desk.session.project))
    assert again == desk.session.project
    (tmp_path / "sketch.png").unlink()
    desk.session.start(again)
    let_run()
    desk.act("go-measure")
    desk.act("picture")
    assert station(desk).study.grey is None
    assert station(desk).study.known is not None


def test_a_file_that_is_no_picture_is_refused(desk, tmp_path):
    wrong = tmp_path / "wrong.png"
    wrong.write_bytes(b"not a picture")
    station(desk).go_to(MeasureMode.PICTURE)
    panel = station(desk).picture_panel
    panel.ask_file = lambda: str(wrong)
    panel._open()
    said = desk.window.message.text
    assert let_run(lambda: "wrong.png: it is no picture" in said.text(), 20)
    assert desk.session.project.studies == ()
