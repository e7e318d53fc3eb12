"""What is typed stays until it is taken, whatever happens elsewhere; so does why it was refused."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLineEdit, QSpinBox

from ivory_quilt.core.document.project import change_piece
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.desk.stations.build.presenter import BuildMode
from ivory_quilt.desk.stations.measure.view import MeasureMode
from ivory_quilt.desk.widgets.basics import Complaint
from ivory_quilt.desk.widgets.fields import EntryField, Taking, regard, show_text
from tests.desk.conftest import let_run


def happen(desk):
    """Let happen what the engine, another window and other views do at any moment."""
    desk.session.reload_stock()
    for foam in desk.session.plan.foams:
        if foam.result is not None:
            desk.session.propose(foam.foam, foam.job, foam.result)
    desk.session.changed.emit()
    desk.window.station.refresh()
    let_run()


def fields_in(station):
    """Return the fields of a station that a maker can type into now."""
    found = [f for f in station.findChildren(QLineEdit) if f.isVisible() and f.isEnabled()]
    return [f for f in found if not f.isReadOnly()]


def at_pattern(desk):
    desk.window.go("pattern")
    desk.pattern.presenter.selected = ("wing-case",)
    desk.pattern.refresh()


def at_draft(desk):
    at_pattern(desk)
    desk.pattern.open_draft()


def at_seams(desk):
    desk.act("seams")


def at_shape(desk):
    desk.act("make-shape")
    QTest.mouseClick(desk.pattern.shape_panel.tiles["band"], Qt.MouseButton.LeftButton)


def at_build(mode):
    def go(desk):
        desk.window.building.open("wing-case", ())
        desk.window.go("build")
        desk.window.building.go_to(mode)

    return go


def at_lay(desk):
    desk.window.go("lay")


def at_buy(desk):
    desk.window.go("buy")


def at_cut(desk):
    desk.window.go("cut")


def at_measure(mode):
    def go(desk):
        desk.window.go("measure")
        desk.window.stations["measure"].go_to(mode)

    return go


PLACES = {
    "pattern": at_pattern,
    "draft": at_draft,
    "seams": at_seams,
    "shape": at_shape,
    "form": at_build(BuildMode.FORM),
    "edge": at_build(BuildMode.EDGES),
    "stack": at_build(BuildMode.STACK),
    "lay": at_lay,
    "buy": at_buy,
    "cut": at_cut,
    "body": at_measure(MeasureMode.BODY),
    "sizes": at_measure(MeasureMode.SIZES),
}


@pytest.mark.parametrize("place", list(PLACES))
def test_no_field_of_any_card_loses_what_is_being_typed(demo_desk, place):
    desk = demo_desk
    desk.laid()
    desk.window.laying.stop()
    PLACES[place](desk)
    let_run()
    station = desk.window.station
    count = len(fields_in(station))
    assert count, "nothing to type into"
    for k in range(count):
        field = fields_in(station)[k]
        before = field.text()
        field.selectAll()
        QTest.keyClicks(field, "7")
        typed = field.text()
        happen(desk)
        assert fields_in(station)[k] is field, f"{field.accessibleName()} was made anew"
        assert field.text() == typed, f"{field.accessibleName()} lost what was typed"
        field.setText(before)
        if isinstance(field.parent(), QSpinBox):
            field.parent().setValue(field.parent().value())


def test_a_name_that_is_typed_while_layouts_come_in_arrives_whole(demo_desk):
    desk = demo_desk
    at_pattern(desk)
    name = desk.pattern.piece_card.name
    name.setFocus()
    name.selectAll()
    for letter in "left shin cuff":
        QTest.keyClicks(name, letter)
        happen(desk)
    QTest.keyClick(name, Qt.Key.Key_Return)
    assert desk.session.project.piece("wing-case").name == "left shin cuff"
    assert not name.isModified()


def test_a_refusal_stays_until_the_next_edit_or_another_piece(demo_desk):
    desk = demo_desk
    at_pattern(desk)
    card = desk.pattern.piece_card
    typed = card.thickness.lineEdit()
    typed.selectAll()
    QTest.keyClicks(typed, "thick")
    QTest.keyClick(typed, Qt.Key.Key_Return)
    assert "thick" in card.error.text()
    happen(desk)
    assert (typed.text(), "thick" in card.error.text()) == ("thick", True)
    typed.selectAll()
    QTest.keyClicks(typed, "8 mm")
    QTest.keyClick(typed, Qt.Key.Key_Return)
    assert card.error.text() == ""
    assert desk.session.project.piece("wing-case").thickness == 8.0
    typed.selectAll()
    QTest.keyClicks(typed, "thick")
    QTest.keyClick(typed, Qt.Key.Key_Return)
    desk.pattern.presenter.selected = ("crest-base",)
    desk.pattern.refresh()
    assert card.error.text() == ""
    assert typed.text() != "thick"


def test_undo_shows_in_a_field_that_nobody_types_into(demo_desk):
    desk = demo_desk
    at_pattern(desk)
    desk.session.edit("n", lambda p: change_piece(p, "wing-case", name="elytron"))
    assert desk.pattern.piece_card.name.text() == "elytron"
    desk.act("undo")
    assert desk.pattern.piece_card.name.text() == "wing case"


def test_a_number_of_the_form_that_is_refused_stays(qapp):
    taken = []

    def take(text):
        taken.append(text)
        return text != "much"

    field = EntryField("width", take)
    field.show_value(3)
    field.type("much")
    field.show_value(4)
    assert field.text() == "much"
    field.type("5 mm")
    field.show_value(5)
    assert field.text() == "5 mm"
    field.show_value(6)
    assert (field.text(), taken) == ("6 mm", ["much", "5 mm"])


def test_only_what_is_wrong_is_kept_back(qapp):
    error, field = Complaint(), QLineEdit()
    field.setModified(True)
    with pytest.raises(ZeroDivisionError), Taking(error, field):
        raise ZeroDivisionError
    regard(error, "one")
    show_text(field, "seen")
    assert field.text() == "seen"


def test_wearers_come_and_go_with_their_measures(demo_desk):
    desk = demo_desk
    at_measure(MeasureMode.BODY)(desk)
    view = desk.window.station
    view.name.setFocus()
    QTest.keyClicks(view.name, "Wren")
    happen(desk)
    QTest.keyClick(view.name, Qt.Key.Key_Return)
    assert "Wren" in [w.name for w in desk.session.project.wearers]
    assert isinstance(desk.session.project.wearers[-1], Wearer)
