"""The Bench station: done when, what tonight, ticks, what would help, the ledger's day."""

from datetime import datetime
from decimal import Decimal

import pytest
from PySide6.QtWidgets import QCheckBox, QPushButton

from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Layer
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import Evening, JoinSchool
from ivory_quilt.core.schedule.own_steps import DoneStep
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.stations.bench.modes import BenchMode
from ivory_quilt.files.project_file import load_project
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")
MONDAY = datetime(2027, 3, 1, 12, 0)


@pytest.fixture
def bench_desk(make_desk):
    pieces = (
        Piece("p", "plate", rectangle(300, 200), count=2),
        Piece("q", "cuff", rectangle(200, 90)),
    )
    desk = make_desk(Project(pieces=pieces), fill=False)
    desk.store.put(sheet("s", "half sheet", EVA6, (1000, 500), owned=2))
    desk.session.reload_stock()
    desk.laid()
    desk.bench = desk.window.stations["bench"]
    desk.bench.planner.now = lambda: MONDAY
    desk.bench.planner.improves = False
    desk.window.go("bench")
    planned(desk)
    return desk


def planned(desk):
    planner = desk.bench.planner

    def ready():
        return (
            planner.found is not None and not planner.running and planner._plan is desk.session.plan
        )

    assert let_run(ready, 20), planner.problem
    return planner.found


def press(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text() == text).click()
    let_run()


def boxes(desk):
    return [b for b in desk.bench.findChildren(QCheckBox) if ":" in b.text()]


def test_it_says_when_all_is_done_and_what_to_do_tonight(bench_desk):
    desk = bench_desk
    found = desk.bench.planner.found
    assert found.base.isoformat() == "2027-03-01"
    assert desk.bench.evenings.end.text() == f"{found.end:%a %d %b}"
    first = boxes(desk)[0]
    assert first.text() == "templates: print and cut out"
    assert found.schedule.placed[0].start == 18 * 60 + 30
    assert desk.window.ledger.hours_note.text() == f"done {found.end:%d %b}"
    assert desk.window.ledger.hours.text() == f"{found.schedule.hands / 60:.1f} h"


def test_a_tick_plans_anew_survives_saving_and_is_taken_back(bench_desk, tmp_path):
    desk = bench_desk
    before = desk.bench.planner.found.schedule
    boxes(desk)[0].click()
    after = planned(desk).schedule
    assert len(after.placed) == len(before.placed) - 1
    assert desk.session.project.bench.done == (DoneStep("templates", "2027-03-01T12:00:00"),)
    desk.session.save(tmp_path / "suit.ivq")
    assert load_project(tmp_path / "suit.ivq").bench == desk.session.project.bench
    press(desk.bench, "Take the last back")
    assert len(planned(desk).schedule.placed) == len(before.placed)


def test_the_event_says_how_many_days_are_left(bench_desk):
    desk = bench_desk
    card = desk.bench.bench_card
    end = desk.bench.planner.found.end.date()
    for days, said in ((3, "3 days before the event"), (-2, "2 days after the event")):
        card.event_day.setText(end.fromordinal(end.toordinal() + days).isoformat())
        card.event_day.setModified(True)
        card.event_day.editingFinished.emit()
        planned(desk)
        assert desk.bench.evenings.end_note.text() == said
    assert desk.window.ledger.hours_note.property("tone") == "cut"
    card.event_day.setText("soon")
    card.event_day.setModified(True)
    card.event_day.editingFinished.emit()
    assert "2027-03-01" in card.error.text()


def test_other_evenings_and_schools_change_the_day(bench_desk):
    desk = bench_desk
    card, planner = desk.bench.bench_card, desk.bench.planner
    box, _, stop = card.days[6]
    box.click()
    assert planner.choices.evenings[-1] == Evening(6, "18:30", "22:00")
    stop.setText("20.15")
    stop.setModified(True)
    stop.editingFinished.emit()
    assert planner.choices.evenings[-1] == Evening(6, "18:30", "20:15")
    for k in range(7):
        if card.days[k][0].isChecked() and k != 2:
            card.days[k][0].click()
    assert [e.weekday for e in planner.choices.evenings] == [2]
    assert planned(desk).end.weekday() == 2
    card.days[2][0].click()
    assert "works on no day" in card.error.text()
    assert [e.weekday for e in planner.choices.evenings] == [2]
    card.join.activated.emit(1)
    assert planner.choices.join is JoinSchool.TACKY


def test_what_would_help_is_offered_and_done_in_one_click(bench_desk):
    desk = bench_desk
    planner = desk.bench.planner
    planner.choose("Evenings", evenings=(Evening(0, "18:30", "20:00"),), paint=3)
    found = planned(desk)
    assert found.helps
    best = found.helps[0]
    assert best.gained > 0
    press(desk.bench, "Do so")
    assert planner.choices == best.choices
    assert planned(desk).end < found.end


def test_a_simpler_part_is_among_what_helps_and_is_taken_with_one_click(bench_desk):
    desk = bench_desk
    layers = Build(layers=(Layer(6.0), Layer(6.0)))
    desk.session.edit("Layers", lambda p: change_piece(p, "p", build=layers, count=1))
    desk.laid()
    day = tuple(Evening(k, "20:00", "20:25") for k in range(7))
    # no coats: what dries a night would hide what is saved
    desk.bench.planner.choose("Evenings", evenings=day, primer=0, paint=0, sealer=0)
    found = planned(desk)
    (one,) = [h for h in found.helps if h.simpler is not None]
    assert one.words == "plate with one layer less"
    next(
        b
        for b in desk.bench.findChildren(QPushButton)
        if b.accessibleName() == f"do so: {one.words}"
    ).click()
    assert len(desk.session.project.piece("p").build.layers) == 1
    desk.laid()
    assert planned(desk).end < found.end
    desk.session.undo()
    assert len(desk.session.project.piece("p").build.layers) == 2


def test_a_supplier_who_brings_the_foam_sooner_is_among_what_helps(bench_desk):
    desk = bench_desk
    for name, days in (("Thornmere", 12), ("Dewpond", 2), ("Fernhill", 1)):
        desk.store.put_supplier(Supplier(name.lower(), name, days=days))
    for ident, price, by in (("s", 9, "thornmere"), ("d", 19, "dewpond")):
        sold = sheet(ident, "half sheet", EVA6, (1000, 500), price=Decimal(price))
        desk.store.put(replace(sold, supplier=by))
    desk.session.reload_stock()
    desk.laid()
    found = planned(desk)
    helps = {h.words: h.gained for h in found.helps}
    assert "all foam from Dewpond, here in 2 days" in helps
    assert not any("Fernhill" in w for w in helps)  # sells none of it
    assert helps["all foam from Dewpond, here in 2 days"] >= 5 * 1440


def test_formers_are_counted_on_the_card(bench_desk):
    desk = bench_desk
    desk.bench.bench_card.forms.setValue(1)
    assert desk.bench.planner.choices.forms == 1
    desk.session.undo()
    assert desk.bench.bench_card.forms.value() == 4


def test_tones_are_added_changed_moved_and_taken_out_in_a_table(bench_desk):
    desk = bench_desk
    desk.bench.go_to(BenchMode.PAINT)
    panel = desk.bench.paint
    panel.tone.setText("deep green")
    panel.add()
    panel.tone.setText("lamp brass")
    panel.where.setText("rims")
    panel.on.setText("Plate, cuff")
    panel.add()
    assert [(a.title, a.pieces) for a in desk.session.project.paint] == [
        ("deep green", ()),
        ("lamp brass, rims", ("p", "q")),
    ]

    def col(head):
        table = panel.table
        heads = [table.horizontalHeaderItem(k).text() for k in range(table.columnCount())]
        return heads.index(head)

    # a plate twice and a cuff: 0.138 m², a fifth of it rims
    assert [panel.table.text(r, col("Covers")) for r in (0, 1)] == ["0.14 m²", "0.03 m²"]
    panel.table.item(1, col("Share %")).setText("50 %")
    panel.table.item(1, col("Coats")).setText("3")
    panel.table.item(1, col("Before gluing")).setText("yes")
    brass = desk.session.project.paint[1]
    assert (brass.share, brass.coats, brass.before_glue) == (0.5, 3, True)
    for column, wrong, word in (
        (col("Share %"), "0", "share"),
        (col("Coats"), "many", "sprayed"),
        (col("On"), "plat", "plate"),
    ):
        panel.table.item(1, column).setText(wrong)
        assert word in panel.error.text()
    assert desk.session.project.paint[1] == brass
    steps = [s.title for s in planned(desk).steps.steps if s.kind is StepKind.PAINT]
    assert sum("lamp brass" in t for t in steps) == 6
    panel.table.setCurrentCell(1, 0)
    panel.earlier()
    assert [a.tone for a in desk.session.project.paint] == ["lamp brass", "deep green"]
    panel.table.item(0, 0).setText("")
    assert [a.tone for a in desk.session.project.paint] == ["deep green"]


def test_what_comes_late_holds_the_end_and_is_named(bench_desk):
    desk = bench_desk
    zip_ = Thing("z", "zip", piece="q", standing=ThingStanding.ORDERED, arrives="2027-03-20")
    desk.session.edit("Goods", lambda p: replace(p, things=(zip_,)))
    found = planned(desk)
    assert found.end.date().isoformat() >= "2027-03-20"
    assert found.helps[0].words == "zip before 2027-03-20"
    assert found.helps[0].choices is None


def test_a_better_schedule_comes_from_a_process_of_its_own(bench_desk):
    desk = bench_desk
    planner = desk.bench.planner
    first = planner.found
    planner.improves = True
    planner.choose("Coats", paint=3)
    found = planned(desk)
    assert found.end >= first.end
    assert found.schedule.bound <= found.schedule.end


def test_an_empty_project_has_nothing_to_do(make_desk):
    desk = make_desk(Project(), fill=False)
    desk.window.go("bench")
    let_run()
    assert desk.window.stations["bench"].evenings.end.text() == "–"
    assert desk.window.ledger.hours.text() == ""
