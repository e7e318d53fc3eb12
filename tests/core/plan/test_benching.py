"""Steps at the bench: what follows what, on the maker's evenings, with waits kept."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Layer, Placing
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.gluing import joints_of, proposal_of
from ivory_quilt.core.plan.gluing_steps import OPEN
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import (
    BenchChoices,
    Evening,
    FormOrder,
    JoinSchool,
)
from ivory_quilt.core.schedule.bench_schedule import (
    bench_job,
    bench_schedule,
    evening_windows,
    slacks,
)
from ivory_quilt.core.schedule.check import broken_rules
from ivory_quilt.core.schedule.conflict import earliest_starts
from ivory_quilt.core.schedule.joint_choice import GlueKind, JointChoice
from ivory_quilt.core.schedule.own_steps import DoneStep
from ivory_quilt.core.schedule.schedule_job import (
    Follow,
    Resource,
    ScheduleJob,
    ScheduleResult,
    Task,
    Timed,
)
from ivory_quilt.core.schedule.serial import serial_schedule
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.foam_stock import ShopStock, sheet

EVA = Foam(6.0, "eva")
SHOP = ShopStock(
    (
        sheet("s", "half", EVA, (1000, 500), owned=2),
        sheet("t", "thin", Foam(2.0, "eva"), (1000, 500), owned=1),
    )
)
ROLLED = Build(form=Form(FormKind.ROLLED, Given.ANGLE, 90.0))


def laid(*pieces, seams=()):
    project = Project(pieces=pieces, seams=seams)
    plan = derive(project, SHOP)
    offers = {
        f.foam: Proposal(f.job, lay(f.job, limit=Limit(steps=0), clock=lambda: 0.0))
        for f in plan.foams
    }
    return derive(project, SHOP, offers, plan)


def suit():
    cuff = Piece("c", "cuff", rectangle(300, 120), count=2, build=ROLLED)
    plate = Piece("p", "plate", rectangle(200, 100), build=Build(layers=(Layer(2.0),)))
    side = Piece("q", "side", rectangle(200, 90))
    ends = edges_of(plate)[0].name, edges_of(side)[0].name
    return laid(cuff, plate, side, seams=(Seam(EdgeRef("p", ends[0]), EdgeRef("q", ends[1])),))


def before(steps, step):
    """Return every step that comes before one, however far."""
    found, todo = set(), [step]
    while todo:
        name = todo.pop()
        for f in steps.follows:
            if f.task == name and f.after not in found:
                found.add(f.after)
                todo.append(f.after)
    return found


def test_each_piece_is_cut_formed_glued_fitted_painted_and_packed_in_this_order():
    steps = bench_steps(suit(), BenchChoices())
    by_id = {s.id: s for s in steps.steps}
    kinds = {k: [s.id for s in steps.steps if s.kind is k] for k in StepKind}
    assert len(kinds[StepKind.CUT]) == 2  # one sheet of each thickness
    assert kinds[StepKind.FORM] == ["form:c"]
    assert by_id["form:c"].minutes == 2 * 6
    assert before(steps, "form:c") == {"cut:eva:6:1", "templates"}
    seam = next(s.id for s in steps.steps if s.id.startswith("join:seam"))
    assert {by_id[i].kind for i in before(steps, seam)} == {
        StepKind.PATTERN,
        StepKind.CUT,
        StepKind.COAT,
        StepKind.JOIN,
    }
    assert "form:c" in before(steps, "fit")
    assert seam in before(steps, "fit")
    assert before(steps, "pack") == set(by_id) - {"pack"}
    assert all(s.booth for s in steps.steps if s.kind in (StepKind.PRIME, StepKind.PAINT))
    assert all(
        s.caution for s in steps.steps if s.kind in (StepKind.CUT, StepKind.COAT, StepKind.FORM)
    )


@pytest.mark.parametrize("school", JoinSchool)
def test_every_join_has_its_wait_and_its_open_time(school):
    steps = bench_steps(suit(), BenchChoices(join=school))
    joins = {s.id for s in steps.steps if s.kind is StepKind.JOIN}
    tied = [f for f in steps.follows if f.task in joins and f.most is not None]
    assert {f.task for f in tied} == joins
    assert {(f.least, f.most) for f in tied} == {(school.least, school.least + OPEN)}
    assert all(s.minutes <= 3 for s in steps.steps if s.kind is StepKind.COAT)


def test_the_schools_change_the_order_and_the_coats():
    formed = replace(
        Piece("p", "plate", rectangle(200, 100)),
        build=Build(form=Form(FormKind.ROLLED, Given.ANGLE, 45.0), layers=(Layer(2.0),)),
    )
    plan = laid(formed)
    first = bench_steps(plan, BenchChoices())
    assert "form:p" in before(first, next(s.id for s in first.steps if s.kind is StepKind.COAT))
    last = bench_steps(plan, BenchChoices(order=FormOrder.GLUE_FIRST))
    assert any(i.startswith("join:layer") for i in before(last, "form:p"))
    bare = bench_steps(plan, BenchChoices(primer=0, paint=0, sealer=0, filled=False))
    kinds = {s.kind for s in bare.steps}
    assert not kinds & {StepKind.PRIME, StepKind.PAINT, StepKind.SEAL, StepKind.WIPE, StepKind.FILL}


def test_what_is_not_here_is_waited_for():
    shop = ShopStock((sheet("b", "half", EVA, (1000, 500), price=Decimal(9)),))
    project = Project(pieces=(Piece("p", "plate", rectangle(200, 100)),))
    project = keep_layout(project, KeptLayout(EVA, (Placement("p", 0, "buy:b", 0, Pose(5, 5)),)))
    steps = bench_steps(derive(project, shop), BenchChoices(), {"foam": 4320, "p": 9000})
    by_id = {s.id: s for s in steps.steps}
    assert by_id["cut:eva:6:1"].ready == 4320
    assert by_id["strap:p"].ready == 9000
    job = bench_job(steps, BenchChoices(), 0)
    early = earliest_starts(job)
    assert early["cut:eva:6:1"] == 4320 + 18 * 60 + 30
    assert early["strap:p"] >= 9000


def test_the_whole_of_it_keeps_every_rule_and_what_is_done_is_left_out():
    steps = bench_steps(suit(), BenchChoices())
    choices = BenchChoices()
    job = bench_job(steps, choices, 0)
    timed = serial_schedule(job, earliest_starts(job))
    assert broken_rules(job, timed) == []
    schedule = bench_schedule(steps, job, ScheduleResult(timed, 0, optimal=False))
    assert schedule.hands == sum(s.minutes for s in steps.steps)
    assert [p.start for p in schedule.placed] == sorted(p.start for p in schedule.placed)
    assert schedule.critical
    for placed in schedule.placed:
        assert any(
            e.weekday == placed.day % 7
            and e.minutes[0] <= placed.start % 1440
            and placed.end - 1440 * placed.day <= e.minutes[1]
            for e in choices.evenings
        )
    done = replace(choices, done=tuple(map(DoneStep, ("templates", "cut:eva:6:1", "form:c"))))
    left = bench_job(steps, done, 0, 1440)
    assert {t.id for t in left.tasks} == {s.id for s in steps.steps} - done.done_ids
    timed = serial_schedule(left, earliest_starts(left))
    assert broken_rules(left, timed) == []
    assert min(t.start for t in timed) >= 1440


def test_evenings_by_hand():
    choices = BenchChoices(evenings=(Evening(0, "18:30", "22:00"), Evening(5, "10:00", "12:00")))
    # From a Friday on: Saturday is the second day, Monday the fourth.
    assert evening_windows(choices, 4, 7) == ((2040, 2160), (5430, 5640))
    assert evening_windows(choices, 4, 7, 2100) == ((2100, 2160), (5430, 5640))
    with pytest.raises(InputError):
        evening_windows(replace(choices, evenings=()), 0, 7)


def test_slack_by_hand():
    # a (5) then c (5); b (3) only must be done before the end: it may start 2 + 5 later.
    hands = Resource("hands", 2)
    tasks = tuple(Task(i, m, {"hands": 1}) for i, m in (("a", 5), ("b", 3), ("c", 5)))
    job = ScheduleJob((hands,), tasks, (Follow("c", "a", 2),))
    timed = (Timed("a", 0, 5), Timed("b", 0, 3), Timed("c", 7, 12))
    assert broken_rules(job, timed) == []
    found = slacks(job, ScheduleResult(timed, 12, optimal=True))
    assert (found["a"], found["c"]) == (0, 0)
    assert 0 < found["b"] <= 9


@pytest.mark.parametrize(
    "wrong",
    [
        lambda: Evening(7, "18:00", "20:00"),
        lambda: Evening(0, "6pm", "20:00"),
        lambda: Evening(0, "20:00", "18:00"),
        lambda: BenchChoices(start="tomorrow"),
        lambda: BenchChoices(people=0),
        lambda: BenchChoices(paint=9),
    ],
)
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InputError):
        wrong()


def test_two_suits_take_twice_the_hands():
    piece = Piece("c", "cuff", rectangle(200, 120), build=ROLLED)
    one = bench_steps(laid(piece), BenchChoices())
    wearers = (Wearer("a", "Mika"), Wearer("b", "Juno"))
    troupe = (Member("a"), Member("b"))
    project = Project(pieces=(piece,), wearers=wearers, troupe=troupe)
    plan = derive(project, SHOP)
    offers = {
        f.foam: Proposal(f.job, lay(f.job, limit=Limit(steps=0), clock=lambda: 0.0))
        for f in plan.foams
    }
    two = bench_steps(derive(project, SHOP, offers, plan), BenchChoices())
    form = {s.id: s for s in one.steps}["form:c"], {s.id: s for s in two.steps}["form:c"]
    assert form[1].minutes == 2 * form[0].minutes
    assert form[1].title == "cuff × 2"


def test_an_old_can_takes_more_stages():
    large = Piece("p", "plate", rectangle(400, 400), build=Build(layers=(Layer(6.0),)))
    shop = ShopStock((sheet("s", "sheet", EVA, (1000, 1000), owned=1),))
    plan = derive(Project(pieces=(large,)), shop)

    def stages(opened):
        steps = bench_steps(plan, BenchChoices(can_opened=opened), today="2027-03-01").steps
        return sum(s.kind is StepKind.JOIN for s in steps)

    # 0.16 m², both faces, 6.4 minutes of brushing: three a stage, and then one.
    assert (stages(""), stages("2027-02-28"), stages("2026-08-01")) == (3, 3, 7)


def test_glue_that_holds_in_seconds_needs_no_coat_and_spray_one_with_its_window():
    plan = suit()
    seam = next(j for j in joints_of(plan, BenchChoices()) if not j.face)
    quick = BenchChoices().with_joint(JointChoice(seam.id, GlueKind.CYANOACRYLATE))
    ids = {s.id for s in bench_steps(plan, quick).steps}
    assert f"join:{seam.id}:0" in ids
    assert f"coat:{seam.id}:0" not in ids
    spray = BenchChoices().with_joint(JointChoice(seam.id, GlueKind.SPRAY))
    follows = bench_steps(plan, spray).follows
    assert Follow(f"join:{seam.id}:0", f"coat:{seam.id}:0", 1, 5) in follows


def test_what_is_proposed_follows_from_what_a_joint_bears():
    joints = {j.title: j for j in joints_of(suit(), BenchChoices())}
    seam = joints["plate to side"]
    said = {
        "as it is": (seam, GlueKind.CEMENT),
        "short": (replace(seam, size=0.03), GlueKind.HOT_MELT),
        "short, but it bends": (replace(seam, size=0.03, flexes=True), GlueKind.CEMENT),
        "heated": (replace(seam, heated=True), GlueKind.CYANOACRYLATE),
        "heated, but it bends": (replace(seam, heated=True, flexes=True), GlueKind.CEMENT),
        "large face": (replace(seam, face=True, size=2.0), GlueKind.SPRAY),
        "large, porous": (replace(seam, face=True, size=2.0, porous=True), GlueKind.CEMENT),
    }
    found = {name: proposal_of(joint).glue for name, (joint, _) in said.items()}
    assert found == {name: glue for name, (_, glue) in said.items()}
    assert all(proposal_of(joint).reason for joint, _ in said.values())
    assert not proposal_of(replace(seam, flexes=True)).filled
    assert "filler would crack" in proposal_of(replace(seam, flexes=True)).reason


def test_a_mock_up_comes_before_foam_and_a_base_before_its_ornament():
    base = Piece("b", "base", rectangle(300, 200))
    stud = Piece("s", "stud", rectangle(60, 60), build=Build(placing=Placing("b")))
    steps = bench_steps(laid(base, stud), BenchChoices(mock_up=True))
    cut = next(s.id for s in steps.steps if s.kind is StepKind.CUT)
    assert {"mock:b", "try:b"} <= before(steps, cut)
    assert "templates" in before(steps, "mock:b")


def test_a_laminated_curve_stays_on_its_form_overnight():
    curved = Piece("c", "cuff", rectangle(300, 120), build=replace(ROLLED, layers=(Layer(2.0),)))
    steps = bench_steps(laid(curved), BenchChoices())
    off = next(f for f in steps.follows if f.task == "set:c")
    assert off.least == 480
    assert off.after.startswith("join:layer")
    assert "set:c" in before(steps, "fit")


def test_real_paces_change_the_minutes():
    plan = suit()
    slow = replace(plan.stock, rates=plan.stock.rates.with_pace("form", 2.0))
    plain = {s.id: s.minutes for s in bench_steps(plan, BenchChoices()).steps}
    paced = {s.id: s.minutes for s in bench_steps(replace(plan, stock=slow), BenchChoices()).steps}
    changed = {i for i in plain if paced[i] != plain[i]}
    assert changed == {"form:c"}
    assert paced["form:c"] == 2 * plain["form:c"]
