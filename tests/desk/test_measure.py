"""The Measure station in a real window: wearers, the figure, the sheet, the fit."""

from datetime import date

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.measure.wearer import SPOTS
from ivory_quilt.desk.stations.measure.figure import LINES
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-measure")
    station(demo_desk).today = lambda: date(2026, 3, 1)
    return demo_desk


def station(desk):
    return desk.window.stations["measure"]


def type_in(field, text):
    field.setFocus()
    field.selectAll()
    if text:
        QTest.keyClicks(field, text)
    else:
        QTest.keyClick(field, Qt.Key.Key_Delete)
    QTest.keyClick(field, Qt.Key.Key_Return)
    let_run()


def lamplighter(desk):
    return desk.session.project.wearer("lamplighter")


def test_every_measure_has_a_line_on_the_figure_and_a_row_on_the_sheet(desk):
    assert set(LINES) == {s.id for s in SPOTS} == set(station(desk).sheet.values)
    figure = station(desk).figure
    for ident in LINES:
        assert figure.spot_at(figure.place_of(ident)) == ident
    assert figure.spot_at(figure.rect().topLeft().toPointF()) == ""


def test_a_line_that_is_clicked_puts_its_row_in_hand(desk):
    figure = station(desk).figure
    QTest.mouseClick(figure, Qt.MouseButton.LeftButton, pos=figure.place_of("waist").toPoint())
    let_run()
    assert station(desk).presenter.spot == "waist"
    assert station(desk).how.text().startswith("Waist: ")


def test_a_measure_is_typed_dated_and_undone(desk):
    sheet = station(desk).sheet
    type_in(sheet.values["hip"], "3' 2\"")
    hip = lamplighter(desk).measure("hip")
    assert hip.value == pytest.approx(38 * 25.4)
    assert hip.date == "2026-03-01"
    assert desk.session.history == ["Hips: Night lamplighter"]
    type_in(sheet.sures["hip"], "± 8")
    type_in(sheet.methods["hip"], "over the shirt")
    hip = lamplighter(desk).measure("hip")
    assert (hip.uncertainty, hip.method) == (8.0, "over the shirt")
    for _ in range(3):
        desk.act("undo")
    assert lamplighter(desk).measure("hip") is None
    assert sheet.values["hip"].text() == ""


def test_a_measure_is_taken_away_by_emptying_it(desk):
    type_in(station(desk).sheet.values["neck"], "")
    assert lamplighter(desk).measure("neck") is None


def test_what_is_no_size_is_said_at_the_row_and_changes_nothing(desk):
    sheet = station(desk).sheet
    before = desk.session.project
    type_in(sheet.values["waist"], "wide")
    assert "not a length" in sheet.complaints["waist"].text()
    assert desk.session.project is before
    assert sheet.values["waist"].text() == "wide"  # what was typed is not lost
    type_in(sheet.values["waist"], "84 cm")
    assert sheet.complaints["waist"].text() == ""
    type_in(sheet.values["wrist"], "400")
    assert "measure again" in sheet.complaints["wrist"].text()


def test_a_troupe_of_wearers(desk):
    view = station(desk)
    view.name.setText("Moth keeper")
    view.add()
    assert view.wearers.currentText() == "Moth keeper"
    assert view.sheet.values["chest"].text() == ""
    assert not view.sheet.sures["chest"].isEnabled()
    type_in(view.sheet.values["chest"], "910")
    index = view.wearers.findText("Night lamplighter")
    view.wearers.setCurrentIndex(index)
    view.wearers.activated.emit(index)
    assert view.sheet.values["chest"].text() == "985 mm"
    view.name.setText("")
    view.add()
    assert view.complaint.text()
    view._remove()
    assert [w.name for w in desk.session.project.wearers] == ["Lantern bearer", "Moth keeper"]


def test_a_wearer_is_renamed(desk):
    view = station(desk)
    view.name.setText("Dusk lamplighter")
    view._rename()
    assert lamplighter(desk).name == "Dusk lamplighter"


def test_a_set_is_scaled_to_meet_the_body(desk):
    fit = station(desk).fit
    station(desk).presenter.change(measure="calf", piece="shin-cuff")
    station(desk).refresh()
    width = desk.session.project.piece("shin-cuff").shape.width
    other = desk.session.project.piece("wing-case").shape.area
    type_in(fit.beneath, "4")
    needed = 312 + 10 + 2 * 3.14159265 * (4 + 3)
    assert fit.figure.text().startswith(f"{100 * needed / width:.1f}")
    assert fit.apply.text() == "Scale 43 pieces"
    QTest.mouseClick(fit.apply, Qt.MouseButton.LeftButton)
    let_run()
    project = desk.session.project
    assert project.piece("shin-cuff").shape.width == pytest.approx(needed, abs=1e-4)
    assert project.piece("wing-case").shape.area == pytest.approx(other * (needed / width) ** 2)
    assert project.piece("shin-cuff").thickness == 6.0
    assert not fit.apply.isEnabled()  # it meets the body now
    desk.act("undo")
    assert desk.session.project.piece("shin-cuff").shape.width == width


def test_only_the_set_that_is_meant_is_scaled(desk):
    presenter = station(desk).presenter
    presenter.change(measure="calf", piece="shin-cuff")
    fit = station(desk).fit
    fit.fill()
    legs = {p.id for p in desk.session.project.pieces if p.source.file == "legs.svg"}
    for index, meant in ((1, legs), (2, {"shin-cuff"})):
        fit.together.setCurrentIndex(index)
        fit.together.activated.emit(index)
        assert set(presenter.together()) == meant


def test_a_fit_is_offered_only_for_what_was_chosen_and_makes_sense(desk):
    fit = station(desk).fit
    assert fit.note.text() == "Choose a measure, and the piece that must meet it."
    assert not fit.apply.isEnabled()
    station(desk).presenter.change(measure="calf", piece="shin-cuff")
    fit.fill()
    assert fit.apply.isEnabled()
    type_in(fit.ease, "much")
    assert "ease" in fit.complaint.text()
    assert not fit.apply.isEnabled()


def test_an_empty_project_says_what_is_wanting(empty_desk):
    empty_desk.act("go-measure")
    view = station(empty_desk)
    assert "Add a wearer" in view.how.text()
    assert view.fit.note.text() == "Import a pattern at the Pattern station first."
    assert not view.remove.isEnabled()
    assert not view.sheet.values["chest"].isEnabled()


def test_wearers_are_saved(desk, tmp_path):
    type_in(station(desk).sheet.values["hip"], "970")
    desk.session.save(tmp_path / "w.ivq")
    assert load_project(tmp_path / "w.ivq") == desk.session.project
