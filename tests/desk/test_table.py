"""The table's finer work in a real window: slide, settle, push, swap, send, lock, turn, measure."""

import math

import numpy as np
import pytest
from PySide6.QtCore import QPoint, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from ivory_quilt.core.document.project import Project, keep_layout, set_gap
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.hand_moves import HandMove
from ivory_quilt.core.nesting.leftovers import leftovers
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.canvas.quilt import TITLE_SHARE, quilt
from ivory_quilt.desk.stations.lay.why import waste_lines, why
from tests.desk.test_lay import let_run

FOAM = Foam(6.0, "eva")
LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(make_desk):
    """Two blocks and a wedge on one of two small sheets, laid and at rest."""
    pieces = (
        Piece("block", "block", rectangle(120, 60), thickness=6.0, count=2),
        Piece("wedge", "wedge", Shape.make([(0, 0), (90, 0), (90, 40)]), thickness=6.0),
    )
    made = make_desk(Project("Table", pieces), fill=False)
    made.session.put_stock(sheet("shelf", "shelf sheet", FOAM, (400, 300), owned=2))
    made.rested()
    made.window.go("lay")
    made.window.fit()
    made.act("keep")
    return made


def planned(desk):
    return desk.session.plan.foam(FOAM)


def key_of(desk, piece, copy=0):
    return (FOAM, (piece, copy))


def choose(desk, *keys):
    assert let_run(lambda: set(keys) <= set(desk.lay.table.parts), 10)
    desk.lay.table.scene().clearSelection()
    for key in keys:
        desk.lay.table.parts[key].setSelected(True)
    let_run()


def bounds(desk, key):
    found, _, placement = desk.lay.presenter.find(key)
    return found.part(placement.piece).shape.placed(placement.pose).bounds


def holds(desk):
    foam = planned(desk)
    return violations(foam.job, foam.result.placements) == []


def pixel(desk, x, y):
    spot = desk.lay.table.spots[0]
    return desk.lay.table.mapFromScene(QPointF(spot.origin[0] + x, -(spot.origin[1] + y)))


def drag(desk, start, stop, keys=Qt.KeyboardModifier.NoModifier, release=True):
    view = desk.lay.table.viewport()
    QTest.mousePress(view, LEFT, keys, start)
    for share in (0.3, 0.7, 1.0):
        at = start + (stop - start) * share
        QTest.mouseMove(view, QPoint(at))
        let_run()
    if release:
        QTest.mouseRelease(view, LEFT, keys, QPoint(stop))
        let_run()
        desk.answered()


def test_pushing_moves_parts_to_the_edge_and_undo_takes_it_back(desk):
    key = key_of(desk, "wedge")
    choose(desk, key)
    before = bounds(desk, key)
    desk.act("push-up")
    desk.act("push-right")
    _, _, x1, y1 = bounds(desk, key)
    assert (x1, y1) == pytest.approx((400, 300), abs=0.05)
    assert holds(desk)
    desk.act("undo")
    desk.act("undo")
    assert bounds(desk, key) == pytest.approx(before)


def test_a_dragged_part_slides_along_its_neighbour(desk):
    key = key_of(desk, "wedge")
    choose(desk, key)
    for way in ("push-up", "push-right"):
        desk.act(way)
    lying = bounds(desk, key)
    found, _, placement = desk.lay.presenter.find(key)
    (start,) = placement.pose.apply(np.array([found.part("wedge").shape.centroid]))
    block = bounds(desk, key_of(desk, "block"))
    # Carried until it stands 12 mm into the block: it comes to lie beside it, not back.
    across = block[2] - 12 - lying[0]
    down = block[1] - lying[1]
    drag(desk, pixel(desk, *start), pixel(desk, start[0] + across, start[1] + down))
    assert holds(desk)
    moved = bounds(desk, key)
    assert moved != pytest.approx(lying)
    away = math.hypot(moved[0] - lying[0] - across, moved[1] - lying[1] - down)
    assert 5 < away < 60


def test_dropping_settles_a_part_and_keeps_the_layout_true(desk):
    key = key_of(desk, "wedge")
    choose(desk, key)
    desk.act("push-up")
    desk.act("settle")
    assert holds(desk)


def test_two_parts_change_places(desk):
    a, b = key_of(desk, "block", 0), key_of(desk, "wedge")
    choose(desk, a, b)
    before = bounds(desk, b)
    middle = ((before[0] + before[2]) / 2, (before[1] + before[3]) / 2)
    desk.act("swap")
    assert desk.session.undo_label == "Swap parts"
    x0, y0, x1, y1 = bounds(desk, a)
    assert abs((x0 + x1) / 2 - middle[0]) < 70
    assert abs((y0 + y1) / 2 - middle[1]) < 70
    assert holds(desk)


def test_a_part_is_sent_to_the_other_sheet_and_its_sheet_locked(desk):
    key = key_of(desk, "wedge")
    choose(desk, key)
    card = desk.lay.part_card
    names = [card.sheets.itemText(k) for k in range(card.sheets.count())]
    assert names == ["a new shelf sheet"]
    card.send.click()
    let_run()
    assert {p.sheet_copy for p in planned(desk).result.placements} == {0, 1}
    choose(desk, key)
    assert card.lock.text() == "Unlock sheet"  # all on it is pinned: the hand just put it there
    desk.act("lock-sheet")
    assert not desk.lay.presenter.is_pinned(key)
    choose(desk, key_of(desk, "block"))
    desk.act("lock-sheet")
    assert desk.lay.presenter.is_pinned(key_of(desk, "block", 1))
    assert card.lock.text() == "Unlock sheet"


def test_the_handle_turns_a_part_to_the_allowed_angle_it_points_at(desk):
    key = key_of(desk, "wedge")
    choose(desk, key)
    desk.act("push-up")
    desk.act("push-right")
    for _ in range(2):
        desk.act("push-left")
    table = desk.lay.table
    if not desk.lay.presenter.may_turn(key):
        pytest.skip("this shop's foam has one direction")
    handle = table.handle
    assert handle is not None
    item = table.parts[key]
    middle = table.mapFromScene(item.mapToScene(item.boundingRect().center()))
    below = QPoint(middle.x(), middle.y() + 80)
    before = item.pose.rotation
    drag(desk, QPoint(handle.toPoint()), below, release=False)
    assert item.pose.rotation != before
    assert abs(item.pose.rotation - 180.0) < 20
    QTest.mouseRelease(table.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, below)
    let_run()
    desk.answered()
    assert holds(desk)


def test_the_tape_measures_between_two_places(desk):
    desk.act("measure-table")
    drag(desk, pixel(desk, 50, 250), pixel(desk, 250, 250))
    assert desk.lay.table.tape.length == pytest.approx(200, abs=2.0)
    desk.act("measure-table")
    assert desk.lay.table.tape.length is None


def test_leftovers_are_outlined_with_their_size_and_can_be_hidden(desk):
    spot = desk.lay.table.spots[0]
    item = desk.lay.table.drawing.sheets[spot.key]
    assert let_run(lambda: item._rooms, 20)  # the engine finds them
    desk.act("leftovers")
    assert not item._rooms
    desk.act("leftovers")
    assert item._rooms


@pytest.mark.parametrize(
    ("side", "said"),
    [
        (290, "No order can use fewer than 2 sheets: area alone needs 1.4."),
        # By area one sheet would do.
        (205, "2 sheets are used; area alone needs 0.7, so 1 may or may not do."),
    ],
)
def test_the_card_tells_how_few_sheets_any_order_could_use(make_desk, side, said):
    plate = Piece("plate", "plate", rectangle(side, side), thickness=6.0, count=2)
    made = make_desk(Project("Two", (plate,)), fill=False)
    made.session.put_stock(sheet("shelf", "shelf sheet", FOAM, (400, 300), owned=2))
    made.rested()
    assert why(planned(made), made.session.plan) == [said]


def test_the_card_tells_what_would_fit(desk):
    foam, plan = planned(desk), desk.session.plan
    assert why(foam, plan) == []  # one sheet is the fewest, which nobody doubts
    (line,) = waste_lines(foam, leftovers(foam.job, foam.result.placements))
    assert "room for" in line
    assert "block" in line


def test_both_hands_of_a_part_are_named_once_among_what_would_fit(make_desk):
    cuff = Piece(
        "cuff", "cuff", Shape.make([(0, 0), (90, 0), (60, 40)]), thickness=6.0, hand=Hand.PAIR
    )
    made = make_desk(Project("Pair", (cuff,)), fill=False)
    made.session.put_stock(sheet("half", "half sheet", FOAM, (1000, 500), owned=1))
    made.rested()
    foam = planned(made)
    (line,) = waste_lines(foam, leftovers(foam.job, foam.result.placements))
    assert line.count("cuff") == 1


def why_beside(make_desk, piece, offcut):
    """What is said of a piece that is laid on a half sheet while an offcut is at hand."""
    made = make_desk(Project("Long", (piece,)), fill=False)
    made.session.put_stock(sheet("k7", "offcut K7", FOAM, offcut, owned=1))
    made.session.put_stock(sheet("big", "half sheet", FOAM, (1000, 500), owned=1))
    made.rested()
    return why(planned(made), made.session.plan)


def test_what_does_not_fit_is_told_in_millimetres(make_desk):
    long = Piece("band", "34 mm band", rectangle(412, 34), thickness=6.0)
    lines = why_beside(make_desk, long, (400, 200))
    assert "34 mm band does not fit on offcut K7: 12 mm too long." in lines


def test_what_fits_nowhere_is_counted_in_plain_words_and_hides_no_title(make_desk):
    large = Piece("back", "back plate", rectangle(2400, 1300), thickness=6.0)
    small = Piece("band", "band", rectangle(150, 30), thickness=10.0)
    odd = Piece("odd", "gorget", rectangle(100, 60), thickness=7.0)
    made = make_desk(Project("Large", (large, small, odd)), fill=False)
    made.session.put_stock(sheet("six", "half sheet", FOAM, (1000, 500), owned=1))
    made.session.put_stock(sheet("ten", "ten sheet", Foam(10.0, "eva"), (1000, 500), owned=1))
    made.rested()
    made.window.go("lay")
    words = [w.text() for w in made.lay.card.findChildren(QLabel)]
    assert "1 part does not fit" in words
    assert "1 part" in words  # nothing is used: no share of it
    assert made.lay.strip.text.text() == "2 parts do not fit on the shop's foam"
    let_run()  # the ledger follows a better layout a moment later
    assert made.window.ledger.cost_note.text() == "2 parts not laid"
    laid = quilt(made.session.plan)
    (spot,), (tray,) = laid.sheets, laid.tray
    below = tray.origin[1] + tray.part.shape.bounds[1]
    assert below - (spot.origin[1] + 500) > 2400 * TITLE_SHARE


def test_too_long_is_said_of_the_part_not_of_the_sheet(make_desk):
    band = Piece("band", "band", rectangle(30, 560), thickness=6.0)
    lines = why_beside(make_desk, band, (300, 400))
    assert "band does not fit on offcut K7: 160 mm too long." in lines


def test_a_run_can_be_compared_discarded_or_kept(desk):
    foam = planned(desk)
    before = foam.result
    # As a run would end: the layout before is remembered, another one is kept.
    moved = HandMove(foam.job, before.placements, 0).pushed(before.placements[0], "up")
    desk.window.laying.before = {FOAM: (foam.job, before)}
    better = summarise(foam.job, (moved, *before.placements[1:]))
    desk.window.laying._replace_kept(foam, better)
    let_run()
    assert desk.window.laying.has_gained
    desk.act("compare")
    page = desk.lay.compare
    assert desk.lay.stack.currentWidget() is page
    assert page.before.drawing.parts.keys() == page.now.drawing.parts.keys()
    assert page.before.scale_now == pytest.approx(page.now.scale_now)
    page.back.click()
    let_run()
    assert planned(desk).result.placements == before.placements
    assert desk.lay.stack.currentWidget() is desk.lay.table
    assert not desk.window.laying.has_gained


def test_a_question_about_free_turns_changes_nothing_and_is_answered(desk):
    before = planned(desk).result.placements
    desk.window.laying.ask_free_turns(planned(desk), seconds=0.4)
    assert let_run(lambda: not desk.window.laying.busy, 20)
    assert planned(desk).result.placements == before
    assert desk.window.laying.answer(planned(desk)) is not None
    desk.session.edit("Gap", lambda p: set_gap(p, 7.0))
    let_run()
    assert desk.window.laying.answer(planned(desk)) is None


def test_a_flaw_is_marked_on_the_sheet_and_parts_that_show_keep_off_it(make_desk):
    plate = Piece("plate", "plate", rectangle(200, 100), thickness=6.0, face=FaceUp.SKIN)
    made = make_desk(Project("Flaw", (plate,)), fill=False)
    made.session.put_stock(sheet("one", "offcut", FOAM, (400, 300), owned=1))
    made.rested()
    made.window.go("lay")
    made.window.fit()
    let_run()
    made.act("mark-flaw")
    drag(made, pixel(made, 20, 20), pixel(made, 160, 140))
    made.rested()
    (flaw,) = made.session.stock.item("one").defects
    assert flaw.area == pytest.approx(140 * 120, rel=0.05)
    assert holds(made)
    found = planned(made)
    lying = found.part("plate").shape.placed(found.result.placements[0].pose)
    assert lying.polygon.intersection(flaw.polygon).area < 1.0
    made.act("mark-flaw")
    made.act("clear-flaws")
    assert made.session.stock.item("one").defects == ()


def test_while_the_engine_works_words_come_first_and_the_drawing_in_a_turn_of_its_own(
    desk, monkeypatch
):
    key = key_of(desk, "block")
    foam = planned(desk)
    before = desk.lay.table.parts[key].pose
    kept = foam.kept
    moved = tuple(
        replace(p, pose=replace(p.pose, x=p.pose.x + 0.5)) for p in foam.result.placements
    )
    monkeypatch.setattr(type(desk.window.laying), "busy", property(lambda _: True))
    desk.session.edit("moved", lambda p: keep_layout(p, replace(kept, placements=moved)))
    assert desk.lay.table.parts[key].pose == before
    assert let_run(lambda: desk.lay.table.parts[key].pose != before, 5)
    assert desk.lay.table.parts[key].pose.x == pytest.approx(before.x + 0.5)


def test_a_part_in_the_hand_is_not_taken_away_by_a_late_drawing(desk):
    key = key_of(desk, "block")
    box = bounds(desk, key)
    start = pixel(desk, (box[0] + box[2]) / 2, (box[1] + box[3]) / 2)
    drag(desk, start, start + QPoint(30, -30), release=False)
    assert desk.lay.table.holding
    desk.lay.table.drawing.before_next(desk.lay._draw)
    let_run()
    assert desk.lay.table.holding
    QTest.mouseRelease(
        desk.lay.table.viewport(), LEFT, Qt.KeyboardModifier.NoModifier, start + QPoint(30, -30)
    )
