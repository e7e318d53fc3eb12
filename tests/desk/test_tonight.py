"""An evening at the bench: ticks with real minutes, timers, own steps, glue, fixings, papers."""

from datetime import datetime, timedelta

import pytest
from PySide6.QtWidgets import QLabel, QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.journal.entry import EntryKind
from ivory_quilt.core.pattern.build import Build, Layer
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.fixing import FixingKind
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.joint_choice import GlueKind
from ivory_quilt.core.schedule.timer import Moment
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.stations.bench.modes import BenchMode
from ivory_quilt.files.timers_file import load_timers
from tests.desk.conftest import let_run

MONDAY = datetime(2027, 3, 1, 18, 30)


class Clock:
    """A clock that tests set: the wall's, and the machine's own."""

    def __init__(self, desk):
        self.gone = 0.0
        desk.bench.planner.now = lambda: MONDAY + timedelta(seconds=self.gone)
        desk.bench.timers.now = lambda: Moment(1e9 + self.gone, "boot", 500 + self.gone)


@pytest.fixture
def evening(make_desk):
    plate = Piece("p", "plate", rectangle(200, 100), build=Build(layers=(Layer(6.0),)))
    side = Piece("q", "side", rectangle(200, 90))
    ends = edges_of(plate)[0].name, edges_of(side)[0].name
    seam = Seam(EdgeRef("p", ends[0]), EdgeRef("q", ends[1]))
    desk = make_desk(Project("Evening", (plate, side), seams=(seam,)), fill=False)
    desk.store.put(sheet("s", "half sheet", Foam(6.0, "eva"), (1000, 500), owned=2))
    desk.session.reload_stock()
    desk.laid()
    desk.bench = desk.window.stations["bench"]
    desk.clock = Clock(desk)
    desk.bench.planner.improves = False
    desk.window.go("bench")
    planned(desk)
    desk.bench.go_to(BenchMode.TONIGHT)
    return desk


def planned(desk):
    planner = desk.bench.planner
    assert let_run(
        lambda: (
            planner.found is not None and not planner.running and planner._plan is desk.session.plan
        ),
        20,
    ), planner.problem
    return planner.found


def named(panel, name):
    return next(b for b in panel.findChildren(QPushButton) if b.accessibleName() == name)


def words(panel):
    return [x.text() for x in panel.findChildren(QLabel)]


def do_next(desk):
    step = desk.bench.tonight.tonight()[0].step
    named(desk.bench.tonight, f"{step.kind.value} {step.title} is done").click()
    planned(desk)
    return step


def test_what_takes_longer_is_measured_and_told_to_the_journal(evening):
    desk = evening
    step = desk.bench.tonight.tonight()[0].step
    named(desk.bench.tonight, f"begin {step.title}").click()
    desk.clock.gone = 600
    named(desk.bench.tonight, f"{step.kind.value} {step.title} is done").click()
    done = desk.session.project.bench.done
    assert [(d.id, d.at, d.minutes) for d in done] == [("templates", "2027-03-01T18:40:00", 10.0)]
    entry = desk.store.entries()[-1]
    assert (entry.kind, entry.about, entry.value) == (EntryKind.TIME, "templates", 10.0)
    assert entry.planned == step.minutes
    # Taken back, the journal forgets it as well.
    desk.bench.planner.tick("templates", done=False)
    assert desk.store.entries() == ()


def test_a_coat_starts_its_timer_which_rings_before_the_window_closes(evening):
    desk = evening
    while desk.bench.tonight.tonight()[0].step.kind.value != "coat":
        do_next(desk)
    coat = do_next(desk)
    board = desk.bench.timers
    (timer,) = board.timers
    assert timer.step == coat.id.replace("coat:", "join:")
    assert (timer.least, timer.most) == (12 * 60, 15 * 60)
    assert load_timers(desk.where.recovery.parent / "timers.json") == board.timers
    faces = [desk.bench.tonight._faces[t.id] for t in board.timers]
    assert faces[0][0].text() == "12:00"
    said = []
    board.rang.connect(lambda title, what: said.append(what))
    for gone, what in ((719, None), (720, "ready"), (850, "closes in a moment")):
        desk.clock.gone = gone
        board.look()
        assert said[-1:] == ([what] if what else [])
    assert faces[0][0].text() == "0:50"
    # The join is done in time: its timer ends.
    desk.clock.gone = 860
    named(desk.bench.tonight, f"join {coat.title} is done").click()
    assert [t for t in board.timers if t.step == timer.step] == []


def test_what_dried_out_is_brushed_again(evening):
    desk = evening
    while desk.bench.tonight.tonight()[0].step.kind.value != "coat":
        do_next(desk)
    coat = do_next(desk)
    desk.clock.gone = 20 * 60
    desk.bench.planner._plan = None
    desk.bench.planner.plan()
    again = planned(desk).schedule.placed
    assert coat.id in [p.step.id for p in again]


def test_timers_outlive_the_window(evening, make_desk):
    desk = evening
    tonight = desk.bench.tonight
    tonight.timer_name.setText("clay on the horn")
    tonight.timer_minutes.setText("480")
    tonight.start_own()
    assert "clay on the horn" in words(tonight)
    tonight.timer_minutes.setText("soon")
    tonight.start_own()
    assert "soon" in tonight.error.text()
    other = make_desk()
    other.bench = other.window.stations["bench"]
    assert [t.title for t in other.bench.timers.timers] == ["clay on the horn"]
    other.bench.timers.stop("own:1")
    assert load_timers(desk.where.recovery.parent / "timers.json") == ()


def test_what_must_be_at_hand_is_said_with_what_is_missing(evening):
    shown = words(evening.bench.tonight)
    assert any("knife" in w for w in shown)
    assert any("respirator" in w for w in shown)
    assert any("none at hand" in w for w in shown)


def test_tell_opens_the_journal_about_the_step(evening):
    desk = evening
    do_next(desk)
    step = next(p.step for p in desk.bench.tonight.tonight() if p.step.kind.value == "cut")
    named(desk.bench.tonight, f"tell of {step.title}").click()
    assert desk.window.station.ident == "journal"
    assert desk.window.journal.entry_card.kind.value is EntryKind.SPOILED


def cell(table, row, head):
    heads = [table.horizontalHeaderItem(c).text() for c in range(table.columnCount())]
    return table.item(row, heads.index(head))


def row_of(table, head, text):
    return next(r for r in range(table.rowCount()) if cell(table, r, head).text() == text)


def test_steps_are_changed_added_repeated_left_out_and_kept_for_next_time(evening):
    desk = evening
    panel = desk.bench.steps
    desk.bench.go_to(BenchMode.STEPS)
    before = panel.table.rowCount()
    panel.own.setText("wire the lanterns")
    panel.add_own()
    planned(desk)
    row = row_of(panel.table, "Step", "wire the lanterns")
    cell(panel.table, row, "Minutes").setText("40")
    planned(desk)
    cell(panel.table, row_of(panel.table, "Kind", "pack"), "Times").setText("0")
    planned(desk)
    assert panel.table.rowCount() == before
    first_paint = row_of(panel.table, "Kind", "paint")
    cell(panel.table, first_paint, "Times").setText("3")
    planned(desk)
    assert panel.table.rowCount() == before + 2
    lanterns = cell(panel.table, row_of(panel.table, "Step", "wire the lanterns"), "No.").text()
    cell(panel.table, 0, "After").setText(lanterns)
    planned(desk)
    ids = {f.after for f in desk.bench.planner.found.steps.follows if f.task == "templates"}
    assert ids == {"own:1"}
    # A step that would wait for itself is refused, and nothing changes.
    kept = desk.session.project.bench
    row = row_of(panel.table, "Step", "wire the lanterns")
    cell(panel.table, row, "After").setText("1")
    assert "wait for itself" in panel.error.text()
    assert desk.session.project.bench == kept
    panel.set_name.setText("Lanterns")
    panel.keep()
    panel.make_usual()
    assert [(s.name, s.usual) for s in desk.store.step_sets()] == [("Lanterns", True)]
    panel.reset()
    planned(desk)
    assert desk.session.project.bench.changes == ()
    assert [o.minutes for o in desk.session.project.bench.own] == [40]
    # A new project begins with the usual set.
    desk.window.documents.new()
    assert [o.title for o in desk.session.project.bench.own] == ["wire the lanterns"]


def test_every_joint_has_a_proposal_with_its_reason(evening):
    desk = evening
    panel = desk.bench.glue
    desk.bench.go_to(BenchMode.GLUE)
    assert panel.table.rowCount() == 2
    assert "contact cement. Face on face" in panel.why.text()
    cell(panel.table, 1, "Glue").setText("hot")
    planned(desk)
    assert [c.glue for c in desk.session.project.bench.joints] == [GlueKind.HOT_MELT]
    coats = [s.id for s in desk.bench.planner.found.steps.steps if s.id.startswith("coat:seam")]
    assert coats == []
    cell(panel.table, 1, "Glue").setText("chewing gum")
    assert "chewing gum" in panel.error.text()
    cell(panel.table, 1, "Seam").setText("hidden")
    planned(desk)
    assert not any(s.kind.value == "fill" for s in desk.bench.planner.found.steps.steps)
    panel.take_all()
    planned(desk)
    assert [c.glue for c in desk.session.project.bench.joints] == [GlueKind.CEMENT] * 2


def test_fixings_reach_the_things_and_checks_say_their_verdict(evening):
    desk = evening
    panel = desk.bench.fixings
    desk.bench.go_to(BenchMode.FIXINGS)
    panel.on_piece.setText("plate")
    panel.along.setText("300")
    panel.add()
    assert cell(panel.table, 0, "Takes").text().startswith("1 × strap of cloth, 20 mm finished")
    assert [t.id for t in desk.session.project.things] == ["fixing:fixing"]
    cell(panel.table, 0, "Inside").setText("yes")
    inside = next(s for s in planned(desk).steps.steps if s.id == "inside:fixing")
    assert inside.title == "sewn strap inside plate, before it closes"
    seams = {
        f.task for f in planned(desk).steps.follows if f.after == inside.id and "seam" in f.task
    }
    assert seams
    panel.on_piece.setText("plat")
    panel.add()
    assert "plate" in panel.error.text()
    panel.check_name.setText("left knee past right")
    panel.check_kind.setCurrentIndex(1)
    panel.check_values.setText("60 20 20")
    panel.add_check()
    assert cell(panel.checks, 0, "Says").text() == "20 mm left, 15 wanted: enough"
    cell(panel.checks, 0, "Tried on").setText("failed")
    assert desk.session.project.checks[0].tried.value == "failed"
    assert "1 check" in next(s.title for s in planned(desk).steps.steps if s.id == "fit")


def test_calendar_and_week_are_written_and_other_names_refused(evening, tmp_path):
    desk = evening
    desk.bench.export(tmp_path / "bench.ics")
    assert (tmp_path / "bench.ics").read_bytes().startswith(b"BEGIN:VCALENDAR")
    desk.bench.export(tmp_path / "week.pdf")
    assert (tmp_path / "week.pdf").read_bytes().startswith(b"%PDF")
    desk.bench.export(tmp_path / "bench.txt")
    assert not (tmp_path / "bench.txt").exists()
    desk.bench.export(tmp_path / "none" / "bench.ics")
    assert not (tmp_path / "none").exists()


def test_an_old_can_shortens_what_is_open(evening):
    desk = evening

    def windows():
        follows = planned(desk).steps.follows
        return {f.most - f.least for f in follows if f.most is not None}

    assert windows() == {3}
    desk.bench.planner.choose("Can", can_opened="2026-11-01")
    assert windows() == {1}


def test_a_sheet_that_is_sealed_first_is_smaller_and_pieces_need_no_allowance(evening):
    desk = evening
    eva = next(m for m in desk.session.stock.materials if m.id == "eva")
    desk.store.put_material(replace(eva, book=replace(eva.book, shrink_along=4.0)))
    desk.session.reload_stock()
    desk.laid()
    from ivory_quilt.core.schedule.bench_choices import SealOrder

    desk.bench.planner.choose("Sealing", seal=SealOrder.BEFORE_CUT)
    desk.laid()
    assert desk.session.plan.stock.items[0].shape.width == pytest.approx(960)
    assert desk.session.stock.items[0].shape.width == 1000
    steps = planned(desk).steps
    assert any(s.id.startswith("shut:") for s in steps.steps)


def test_the_ledger_says_what_the_last_edit_did_to_hours_and_day(evening):
    desk = evening
    before = planned(desk)
    desk.bench.planner.choose("Coats", paint=6)
    after = planned(desk)
    days = (after.end.date() - before.end.date()).days
    assert days > 0
    assert desk.window.ledger.hours_note.text() == f"done {after.end:%d %b}, +{days} d"


def test_two_people_for_one_step_wait_for_each_other(evening):
    desk = evening
    desk.bench.planner.choose("People", people=2)
    planned(desk)
    desk.bench.go_to(BenchMode.STEPS)
    table = desk.bench.steps.table
    cell(table, row_of(table, "Kind", "cut"), "People").setText("2")
    placed = planned(desk).schedule.placed
    cut = next(p for p in placed if p.step.kind.value == "cut")
    assert cut.step.hands == 2
    others = [p for p in placed if p is not cut]
    assert all(p.end <= cut.start or p.start >= cut.end for p in others)


def test_a_strap_is_cut_from_the_shop_s_cloth(evening):
    desk = evening
    panel = desk.bench.fixings
    desk.bench.go_to(BenchMode.FIXINGS)
    piece = desk.session.project.pieces[0]
    panel.kind.show_value(FixingKind.STRAP)
    panel.on_piece.setText(piece.name)
    panel.along.setText("300 mm")
    panel.add()
    heads = [panel.table.horizontalHeaderItem(k).text() for k in range(panel.table.columnCount())]
    column = heads.index("Cut from")
    panel.table.item(0, column).setText("silk")
    assert "cut from" in panel.error.text()
    known = desk.session.stock.materials[0]
    panel.table.item(0, column).setText(known.name)
    (fixing,) = desk.session.project.fixings
    assert fixing.cloth == known.id
    assert desk.session.project.things == ()
    strap = next(p for p in desk.session.plan.parts[piece.id] if "+strap" in p.id)
    assert strap.shape.width == pytest.approx(300 + 50 + 80)
    panel.table.item(0, column).setText("")
    assert len(desk.session.project.things) == 1
