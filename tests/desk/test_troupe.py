"""A troupe in a real window: suits on the card, the board's sizes, whose papers they are."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import sheet
from tests.desk.conftest import let_run

BAND = Piece("band", "belly band", rectangle(300.0, 60.0), count=2)
CAP = Piece("cap", "knee cap", rectangle(90.0, 70.0))
WEARERS = (
    Wearer("a", "Lantern bearer", (Measure("waist", 900.0),)),
    Wearer("b", "Moth", (Measure("waist", 620.0),)),
)


@pytest.fixture
def desk(make_desk):
    made = make_desk(Project("Troupe", (BAND, CAP), wearers=WEARERS), fill=False)
    made.session.put_stock(sheet("six", "half sheet", Foam(6.0, "eva"), (1000.0, 500.0), owned=9))
    made.rested()
    return made


@pytest.fixture
def measure(desk):
    desk.window.go("measure")
    return desk.window.stations["measure"]


def show(measure, wearer):
    measure.presenter.wearer_id = wearer
    measure.refresh()


def take(field, text):
    field.setText(text)
    field.setModified(True)
    field.editingFinished.emit()


def test_suits_are_counted_and_sized_on_the_card(desk, measure):
    box = measure.troupe
    assert box.words.text() == "One suit is made, as the pieces are drawn."
    show(measure, "a")
    assert not box.percent.isEnabled()
    box.count.setValue(2)
    show(measure, "b")
    box.count.setValue(1)
    take(box.percent, "70 %")
    assert box.words.text() == "3 suits in 2 sizes: 9 parts in all."
    assert desk.session.history[-3:] == [
        "2 suits for Lantern bearer",
        "1 suit for Moth",
        "Size for Moth: 70 %",
    ]
    assert box.percent.text() == "70 %"
    desk.act("undo")
    assert box.percent.text() == "100 %"
    show(measure, "b")
    box.count.setValue(0)
    assert [m.wearer for m in desk.session.project.troupe] == ["a"]


def test_a_size_that_makes_no_sense_stays_with_its_words(measure):
    box = measure.troupe
    show(measure, "a")
    box.count.setValue(1)
    take(box.percent, "large")
    assert box.complaint.text()
    assert box.percent.text() == "large"
    take(box.percent, "3")
    assert "20 to 500 %" in box.complaint.text()
    take(box.percent, "110")
    assert box.complaint.text() == ""
    assert measure.session.project.troupe[0].scale == pytest.approx(1.1)


def test_the_size_comes_from_the_fit_of_all_or_of_some(measure):
    box, presenter = measure.troupe, measure.presenter
    show(measure, "a")
    box.from_fit.click()
    assert "measure" in box.complaint.text()
    presenter.change(measure="waist", piece="band", around=3, ease="0")
    box.from_fit.click()
    scale = presenter.fit().scale
    member = measure.session.project.troupe[0]
    assert member.scale == pytest.approx(scale)
    assert measure.session.project.pieces == (BAND, CAP)  # drawn as before
    show(measure, "b")
    from ivory_quilt.desk.stations.measure.presenter import Together

    presenter.change(together=Together.ALONE)
    box.from_fit.click()
    member = measure.session.project.troupe[1]
    assert member.scale == 1.0
    assert dict(member.own).keys() == {"band"}
    assert "belly band" in box.own.text()


def test_the_board_shows_one_wearers_sizes_and_counts(desk, measure):
    show(measure, "b")
    measure.troupe.count.setValue(3)
    take(measure.troupe.percent, "50")
    desk.window.go("pattern")
    board = desk.pattern
    let_run()
    assert board.whom.isVisible()
    assert board.items["band"].shape_mm.area == pytest.approx(300 * 60)
    board.whom.box.setCurrentIndex(1)
    board.whom.box.activated.emit(1)
    assert board.items["band"].shape_mm.area == pytest.approx(150 * 30)
    assert board.presenter.on_board()[0].count == 6
    # What is chosen and edited is the drawn piece.
    board.presenter.selected = ("band",)
    board.presenter.change("Name", name="waist band")
    assert desk.session.project.piece("band").shape == BAND.shape
    desk.act("undo")
    board.refresh()
    measure.troupe.count.setValue(0)
    board.refresh()
    assert not board.whom.isVisible()
    assert board.items["band"].shape_mm.area == pytest.approx(300 * 60)


def test_parts_and_papers_say_whose_they_are(desk, measure):
    for wearer in ("a", "b"):
        show(measure, wearer)
        measure.troupe.count.setValue(1)
    take(measure.troupe.percent, "80")
    desk.rested()
    (foam,) = desk.session.plan.foams
    assert {p.wearer for p in foam.parts} == {"Lantern bearer", "Moth"}
    desk.window.go("lay")
    let_run()
    desk.lay.table.drawing.finish()
    notes = {item.note for item in desk.lay.table.parts.values()}
    assert any("Moth" in note for note in notes)
    desk.window.go("cut")
    cut = desk.cut
    assert cut.whom.isVisible()
    paging = cut.presenter.paging
    assert let_run(lambda: not paging.waiting and paging.papers is not None, 60)
    everyone = len(paging.papers.templates)
    cut.whom.box.activated.emit(2)
    assert let_run(lambda: not paging.waiting, 60)
    assert (everyone, len(paging.papers.templates)) == (4, 2)
    assert {t.whom for t in paging.papers.templates} == {"Moth"}
