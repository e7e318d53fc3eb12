"""Form-up finds what helps, follows a hand, measures girths; the whole suit on the figure."""

import math
import threading

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from ivory_quilt.core.document.mending import MendKind
from ivory_quilt.core.document.project import Project, remove_pieces
from ivory_quilt.core.formup import skin
from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.desk.stations.build.form_up import (
    flat_group,
    former,
    girth,
    mending,
)
from ivory_quilt.desk.stations.build.form_up import (
    suit as whole_suit,
)
from ivory_quilt.desk.stations.build.presenter import BuildMode
from ivory_quilt.desk.widgets.label_list import LabelList
from ivory_quilt.engine.messages import MOST_SCENES
from ivory_quilt.files.project_file import decode_project, encode_project
from tests.desk.conftest import let_run
from tests.desk.test_form_up import sleeve

WEARER = Wearer("w", "lamplighter", (Measure("height", 1760.0), Measure("forearm", 270.0)))


def disc(radius=80.0, corners=40):
    turns = [2 * math.pi * k / corners for k in range(corners)]
    return Shape.make([(radius * math.cos(t), 0.9 * radius * math.sin(t)) for t in turns])


@pytest.fixture
def station(make_desk):
    project = Project(pieces=(Piece("k", "knee cup", disc(), thickness=5.0),))
    desk = make_desk(project, fill=False)
    desk.window.go("build")
    made = desk.window.building
    made.desk = desk
    made.form_up.edge = 12.0
    made.open("k")
    made.go_to(BuildMode.FORM_UP)
    made.form_up.choose("Pressed on", former=FormerKind.BALL, radius=90.0)
    settled(made)
    return made


def settled(station, seconds=60):
    assert let_run(lambda: not station.form_up.running, seconds), "still forming"
    let_run()


def said(widget):
    labels = [x.text() for x in widget.findChildren(QLabel) if x.isVisibleTo(widget)]
    lists = [x for x in widget.findChildren(LabelList) if x.isVisibleTo(widget)]
    return labels + [line.text for one in lists for line in one.lines]


def test_what_helps_is_found_shown_beside_and_taken_over_with_one_undo(station):
    card, p = station.form_up_card.mends, station.mending
    before = station.session.project
    card.look_for.click()
    assert p.running
    assert let_run(lambda: not p.running, 60)
    kinds = {t.mend.kind for t in p.tries}
    assert kinds >= {MendKind.DART, MendKind.PARTED, MendKind.HEAT}
    # The most helpful comes first, and says so.
    assert p.helps(p.ordered[0])
    let_run()
    assert "better" in said(card)
    card.buttons[MendKind.DART].click()
    assert let_run(lambda: station.form_up_pane.then.solid.shows, 15)
    assert "dart" in station.form_up_pane.then.words.text()
    assert station.form_up_pane.now.words.text() == "As it is"
    assert station.session.project is before
    card.amount.type("20 mm")
    assert let_run(lambda: p.chosen.mend.amount == 20.0, 20)
    assert "20 mm" in p.chosen.mend.words
    wanted = p.chosen.mend.project
    card.take.click()
    settled(station)
    assert station.session.project is wanted
    assert not station.form_up_pane.then.isVisible()
    station.desk.act("undo")
    assert station.session.project == before


def test_a_parted_piece_is_taken_over_and_taken_back(station):
    p = station.mending
    p.find()
    assert let_run(lambda: not p.running, 60)
    p.choose(next(t for t in p.tries if t.mend.kind is MendKind.PARTED))
    p.take()
    settled(station)
    assert len(station.form_up.group.pieces) == 2
    first = station.session.project.pieces[0].id
    station.session.edit("Take the first out", lambda q: remove_pieces(q, [first]))
    settled(station)
    station.desk.act("undo")
    station.desk.act("undo")
    settled(station)
    assert station.form_up.group.pieces == ("k",)
    assert station.form_up.shape is not None


def test_what_is_taken_over_sits_on_the_body_as_it_was_compared(station):
    p = station.mending
    head = (Measure("head", 560.0), Measure("head-height", 230.0))
    worn = Wearer("w", "lamplighter", (*WEARER.measures, *head))
    station.session.edit("Measure the head", lambda q: replace(q, wearers=(worn,)))
    station.form_up.wear("w", BodyPart.HEAD)
    station.form_up.press_on(FormerKind.WEARER)
    settled(station)
    p.find()
    assert let_run(lambda: not p.running, 60)
    one = next(t for t in p.ordered if t.mend.kind is MendKind.DART)
    p.choose(one)
    p.take()
    settled(station)
    taken = station.form_up.shape
    assert taken.off == pytest.approx(one.shape.off, abs=0.05)
    assert taken.strain.p01 == pytest.approx(one.shape.strain.p01, abs=1e-4)


def test_dragging_an_amount_shows_coarse_shapes_and_letting_go_the_full_one(station):
    p = station.mending
    p.find()
    assert let_run(lambda: not p.running, 60)
    one = next(t for t in p.tries if t.mend.kind is MendKind.DART)
    p.choose(one)
    full = len(one.shape.panels[0].triangles)
    seen = set()
    for amount in (10.0, 14.0, 18.0):
        shape = one.shape
        p.drag(amount)
        assert let_run(lambda shape=shape: one.shape is not shape, 20)
        seen.add(len(one.shape.panels[0].triangles))
    assert max(seen) < full
    p.let_go(18.0)
    assert let_run(lambda: len(one.shape.panels[0].triangles) > max(seen), 20)
    assert one.mend.amount == 18.0


def test_looking_can_be_stopped_and_a_change_meanwhile_is_not_overwritten(station):
    p = station.mending
    p.find()
    p.stop()
    assert not p.running
    assert p.tries == []
    p.find()
    assert let_run(lambda: not p.running, 60)
    p.choose(p.ordered[0])
    station.session.edit(
        "Thicker", lambda q: replace(q, pieces=(replace(q.pieces[0], thickness=8.0),))
    )
    settled(station)
    changed = station.session.project
    assert not p.fits
    card = station.form_up_card.mends
    assert not card.take.isEnabled()
    card._take()
    assert "changed meanwhile" in card.error.text()
    assert station.session.project is changed


def test_a_dragged_radius_is_followed_and_kept_when_it_is_let_go(station):
    p, slider = station.form_up, station.form_up_card.former.slider
    full = len(p.shape.panels[0].triangles)
    slider.setSliderDown(True)
    slider.sliderMoved.emit(40)
    shape = p.shape
    assert let_run(lambda: p.shape is not shape, 20)
    assert len(p.shape.panels[0].triangles) < full
    assert p.choice.radius == 90.0
    slider.setValue(40)
    slider.setSliderDown(False)
    settled(station)
    assert p.choice.radius == pytest.approx(90 * 2**0.4, abs=0.1)
    assert len(p.shape.panels[0].triangles) > 200


class Asked:
    """An engine that keeps what it is asked for, until a test answers."""

    def __init__(self):
        self.waiting = []

    def ask_form(self, job, then, **how):
        self.waiting.append((job.former.radius, then, how))

    def answer(self, what):
        self.waiting.pop(0)[1](what)


def test_a_drag_asks_for_two_shapes_at_once_and_for_the_newest_radius_next(station):
    p, engine = station.form_up, Asked()
    real, shape, p.engine = p.engine, p.shape, engine
    for radius in (91.0, 92.0, 93.0, 94.0, 95.0):
        p.drag_radius(radius)
    assert [r for r, _, _ in engine.waiting] == [91.0, 92.0]
    assert all(how == {"quick": True} for _, _, how in engine.waiting)
    engine.answer(replace(shape))
    assert [r for r, _, _ in engine.waiting] == [92.0, 95.0], "what lies between is left out"
    assert p.shape is not shape
    engine.answer("it tears")
    engine.answer(None)
    assert engine.waiting == [], "the last radius was asked for already"
    p.drag_radius(96.0)
    p.engine = real
    p.set_radius(96.0)
    settled(station)
    formed = p.shape
    engine.answer(shape)
    assert p.shape is formed, "a shape that comes after it was let go changes nothing"


def test_how_it_is_pressed_is_saved_with_the_project_and_undone(station):
    p, card = station.form_up, station.form_up_card.former
    off = p.shape.off
    card.firmly.click()
    settled(station)
    assert p.shape.off < 0.7 * off
    again = decode_project(encode_project(station.session.project))
    assert again == station.session.project
    assert again.forms[0].firmly
    assert again.forms[0].former is FormerKind.BALL
    station.desk.act("undo")
    settled(station)
    assert not card.firmly.isChecked()


def test_the_girth_of_a_sleeve_is_compared_with_the_wearers(station):
    tube = sleeve()
    station.form_up.edge = 8.0
    station.session.start(replace(tube, wearers=(WEARER,)))
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    settled(station)
    card = station.form_up_card.girth
    names = [card.measure.itemData(k) for k in range(card.measure.count())]
    assert names == ["", "forearm"]
    card.measure.setCurrentIndex(1)
    card.measure.activated.emit(1)
    let_run()
    # 300 mm drawn on the body: that is the girth inside, 30 mm more than the forearm.
    assert card.note.text() == "It closes. Inside it has 30 mm ease."
    assert card.figures.text().startswith("inner 300 mm")
    # Where it is measured is drawn on the shape.
    assert let_run(lambda: station.form_up_pane.solid._lines is not None, 10)
    # Leaning by 40° the plane cuts an ellipse longer than it is wide.
    card.sideways.type("40")
    assert let_run(lambda: station.girth.in_sight.plane.sideways == 40, 10)
    let_run()
    assert station.girth.in_sight.girth.closes
    assert station.girth.in_sight.girth.inner > 330
    assert card.figures.text().startswith("inner 3")
    card.sideways.type("95")
    assert "−90 to 90°" in card.error.text()


def test_what_takes_long_is_made_on_another_thread(station, monkeypatch):
    """The window's own thread makes no group, no picture of flat pieces, no girth.

    Solids are the engine's: no thread of the window makes one.
    """
    seen = {}

    def noted(module, name):
        real = getattr(module, name)

        def work(*args, **more):
            seen.setdefault(name, set()).add(threading.current_thread())
            return real(*args, **more)

        monkeypatch.setattr(module, name, work)

    noted(former, "_assembled")
    noted(flat_group, "_painted")
    noted(girth, "_measured")
    noted(mending, "assembly_of")
    noted(mending, "mends")
    noted(whole_suit, "_assemblies")
    noted(skin, "_solid")
    station.form_up.set_radius(95.0)
    settled(station)
    station.mending.find()
    assert let_run(lambda: not station.mending.running, 60)
    station.session.edit("Measure the wearer", lambda q: replace(q, wearers=(WEARER,)))
    station.go_to(BuildMode.SUIT)
    assert let_run(lambda: station.suit.dressed is not None and not station.suit.running, 60)
    assert set(seen) == {
        "_assembled",
        "_painted",
        "_measured",
        "assembly_of",
        "mends",
        "_assemblies",
    }
    assert all(threading.main_thread() not in threads for threads in seen.values())


def test_forces_are_told_where_the_foams_modulus_is_known(station):
    project = sleeve(other=330)
    station.session.start(project)
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    settled(station)
    card = station.form_up_card
    assert not any("N/cm" in t for t in said(card))
    card.modulus.type("2")
    settled(station)
    let_run()
    pull = station.form_up.shape.seams[0].pull
    # Hooke: 2 MPa × 6 mm × strain is N/mm.
    wanted = f"some {10 * 2 * 6 * abs(pull):.1f} N/cm"
    assert any(wanted in t for t in said(card)), said(card)
    card.modulus.type("5000")
    assert "0.01 to 1000 MPa" in card.error.text()
    assert station.session.project.forms[0].modulus == 2.0


# The whole suit


@pytest.fixture
def suit(station):
    pieces = (
        Piece("s", "shin plate", rectangle(110, 240), thickness=6.0, hand=Hand.PAIR),
        Piece("b", "breast plate", rectangle(240, 200), thickness=6.0),
        Piece("o", "odd thing", rectangle(60, 60), thickness=6.0),
    )
    station.session.start(Project(pieces=pieces, wearers=(WEARER,)))
    station.open("s")
    station.desk.act("build-suit")
    assert let_run(lambda: station.suit.dressed is not None and not station.suit.running, 60)
    let_run()
    return station


def test_groups_stand_on_the_figure_where_their_names_say(suit):
    assert suit.presenter.mode is BuildMode.SUIT
    assert let_run(lambda: suit.suit_view.shows, 15)
    words = said(suit.suit_card)
    assert "Not on the figure: odd thing." in words
    assert any(w.startswith("Guessed by the stature") and "knee height" in w for w in words)
    assert any(w.startswith("Legs standing: ") for w in words)
    assert suit.suit_card.part.value is BodyPart.SHIN
    # Both shins, the breast and the body's own layer.
    assert suit.suit.dressed.framing.thickness == (6.0, 0.0)


def test_the_suit_is_still_turned_after_many_other_shapes_were_painted(suit):
    assert let_run(lambda: suit.suit_view.rests, 20)
    suit.go_to(BuildMode.FORM_UP)
    settled(suit)
    solid = suit.form_up_pane.solid
    for k in range(2 * MOST_SCENES):
        suit.form_up.edge = 20.0 + k
        suit.form_up_card.fill()
        suit.form_up.changed()
        assert let_run(lambda: suit.form_up.running, 10)
        settled(suit)
        assert let_run(lambda: solid.shows, 20)
    suit.go_to(BuildMode.SUIT)
    assert let_run(lambda: suit.suit_view.rests, 20)
    before = suit.suit_view.grab().toImage()
    QTest.keyClick(suit.suit_view, Qt.Key.Key_Right)
    assert let_run(lambda: suit.suit_view.rests, 20)
    assert suit.suit_view.grab().toImage() != before


def test_a_group_is_moved_on_the_figure_and_that_is_undone(suit):
    before = suit.suit.dressed
    suit.suit_card.level.type("80 %")
    assert let_run(lambda: suit.suit.dressed is not before and not suit.suit.running, 30)
    form = suit.session.project.forms[0]
    assert (form.piece, form.worn.part, form.worn.height) == ("s", BodyPart.SHIN, 0.8)
    suit.suit_card.turn.type("900")
    assert "-360 to 360" in suit.suit_card.error.text()
    suit.desk.act("undo")
    assert suit.session.project.forms == ()


def test_without_a_wearer_or_a_height_it_says_what_is_wanted(suit):
    suit.session.edit("No wearer", lambda p: replace(p, wearers=()))
    assert let_run(lambda: "needs a wearer" in suit.suit_card.note.text(), 20)
    bare = Wearer("x", "apprentice", (Measure("calf", 340.0),))
    suit.session.edit("Wearer", lambda p: replace(p, wearers=(bare,)))
    assert let_run(lambda: "no 'height'" in suit.suit_card.note.text(), 30)
