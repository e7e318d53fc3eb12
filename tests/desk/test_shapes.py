"""Making shapes from numbers at the Pattern station, and changing them later."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QComboBox, QLabel, QPushButton

from ivory_quilt.core.shapes.book import MAKERS
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from ivory_quilt.desk.stations.pattern.shape_presenter import shown_result
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run


@pytest.fixture
def desk(empty_desk):
    return empty_desk


def panel(desk):
    return desk.pattern.shape_panel


def type_in(desk, name, text):
    field = panel(desk).fields[name]
    field.setFocus()
    field.selectAll()
    QTest.keyClicks(field, text)
    let_run()


def press(desk, words):
    button = next(b for b in panel(desk).findChildren(QPushButton) if b.text() == words)
    QTest.mouseClick(button, Qt.MouseButton.LeftButton)
    let_run()


def begin(desk, ident):
    desk.act("make-shape")
    QTest.mouseClick(panel(desk).tiles[ident], Qt.MouseButton.LeftButton)
    let_run()


def pieces(desk):
    return desk.session.project.pieces


def test_every_shape_can_be_chosen_seen_and_made(desk):
    for count, ident in enumerate(MAKERS, 1):
        begin(desk, ident)
        assert panel(desk).preview.made is not None
        press(desk, "Add to the project")
        assert len(desk.session.history) == count
        assert not desk.pattern.presenter.shapes.open
    assert {p.recipe.maker for p in pieces(desk)} == set(MAKERS)
    assert desk.session.history[0] == f"Make {next(iter(MAKERS.values())).title.lower()}"


def test_a_shape_is_seen_while_its_numbers_are_typed(desk):
    begin(desk, "band")
    before = panel(desk).preview.made.pieces[0].shape.width
    type_in(desk, "girth", "16in")
    after = panel(desk).preview.made.pieces[0].shape.width
    assert after - before == pytest.approx(16 * 25.4 - 300)
    assert not pieces(desk)  # nothing is in the project before it is added


def test_a_number_that_makes_no_sense_is_said_and_cannot_be_added(desk):
    begin(desk, "dome")
    type_in(desk, "count", "13")
    assert "2 to 12" in panel(desk).complaint.text()
    assert not panel(desk).add_button.isEnabled()
    assert panel(desk).preview.made is not None  # the last good picture stays
    type_in(desk, "count", "5")
    assert panel(desk).complaint.text() == ""
    press(desk, "Add to the project")
    assert pieces(desk)[0].count == 5


def test_changed_numbers_are_one_step_that_undo_takes_back(desk):
    begin(desk, "cuff")
    press(desk, "Add to the project")
    width = pieces(desk)[0].shape.width
    desk.pattern.change_numbers()
    type_in(desk, "height", "250")
    assert pieces(desk)[0].shape.height > 200
    assert desk.session.history == ["Make cuff or cone section", "Cuff or cone section: Height"]
    desk.act("undo")
    assert pieces(desk)[0].shape.width == width
    assert panel(desk).presenter.values["height"] == "180"
    desk.act("undo")
    assert not pieces(desk)
    assert not desk.pattern.presenter.shapes.open  # the shape is gone, so is its panel


def test_choices_change_the_shape(desk):
    begin(desk, "spike")
    box = panel(desk).fields["form"]
    assert isinstance(box, QComboBox)
    assert len(panel(desk).preview.made.pieces[0].lines) == 3
    box.setCurrentIndex(1)
    box.activated.emit(1)
    assert panel(desk).preview.made.pieces[0].count == 4


def test_the_card_offers_the_numbers_only_of_pieces_made_from_them(demo_desk):
    station = demo_desk.pattern
    begin(demo_desk, "discs")
    press(demo_desk, "Add to the project")
    assert station.piece_card.numbers.isVisibleTo(station)
    QTest.mouseClick(station.piece_card.numbers, Qt.MouseButton.LeftButton)
    assert station.presenter.shapes.group == "discs"
    press(demo_desk, "Done")
    station.presenter.selected = ("shin-cuff",)
    station.refresh()
    assert not station.piece_card.numbers.isVisibleTo(station)


def test_a_thickness_chosen_on_the_card_goes_into_the_shape(desk):
    begin(desk, "band")
    press(desk, "Add to the project")
    width = pieces(desk)[0].shape.width
    desk.pattern.presenter.change("Thickness", thickness=10.0)
    piece = pieces(desk)[0]
    assert piece.thickness == 10.0
    assert dict(piece.recipe.values)["thickness"] == "10"
    assert piece.shape.width - width == pytest.approx(3.14159265 * 4, abs=1e-6)
    assert desk.session.history == ["Make band or ring", "Thickness: band"]
    desk.act("undo")
    assert pieces(desk)[0].shape.width == width


def test_a_strip_takes_the_outline_of_the_chosen_piece(demo_desk):
    demo_desk.pattern.presenter.selected = ("shin-cuff",)
    demo_desk.pattern.refresh()
    edge = demo_desk.session.project.piece("shin-cuff").shape.outline_length
    begin(demo_desk, "edging")
    press(demo_desk, "Use the selected piece's outline")
    assert panel(demo_desk).preview.made.pieces[0].shape.width == pytest.approx(edge, abs=0.05)


def test_scaling_or_copying_lets_go_of_the_numbers(desk):
    begin(desk, "band")
    press(desk, "Add to the project")
    desk.act("copy")
    assert [p.recipe is not None for p in pieces(desk)] == [True, False]
    desk.pattern.presenter.scale_to("100", "110")
    assert pieces(desk)[0].recipe is None


def test_shapes_are_saved_with_their_numbers(desk, tmp_path):
    begin(desk, "hollow-horn")
    press(desk, "Add to the project")
    desk.session.save(tmp_path / "horn.ivq")
    assert load_project(tmp_path / "horn.ivq") == desk.session.project


def test_figures_open_their_reckoning(desk):
    begin(desk, "dished-disc")
    texts = [t.text() for t in panel(desk).findChildren(QLabel)]
    assert "sphere radius" in texts
    assert any(t.endswith(" %") for t in texts)


def test_leaving_goes_back_to_where_one_was(desk):
    begin(desk, "box")
    press(desk, "Back")
    assert set(panel(desk).tiles) == set(MAKERS)
    press(desk, "Cancel")
    assert desk.pattern.hint.isVisibleTo(desk.pattern)


@pytest.mark.parametrize(
    ("name", "value", "text"),
    [
        ("length", 12.345, "12.35 mm"),
        ("rim_strain", -0.077, "-7.7 %"),
        ("bevel", 43.3, "43.3°"),
        ("layers", 9.0, "9"),
        ("area", 25000.0, "250 cm²"),
        ("sides", "10, 6", "10, 6"),
    ],
)
def test_results_have_their_units(name, value, text):
    assert shown_result(name, value) == text


def test_a_shape_is_made_from_wherever_the_maker_is(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.act("seams")
    demo_desk.act("make-shape")
    assert demo_desk.pattern.mode is PatternMode.BOARD
    assert demo_desk.pattern.shape_panel.isVisibleTo(demo_desk.window)
