"""A sheet under the knife: ticked part by part, spoiled parts asked for again, foam counted."""

import random

import pytest
import shapely
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.document.cutting import cut_sheet
from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.document.under_knife import (
    add_part,
    close_sheet,
    mark_part,
    sheet_under_knife,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.check import violations
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.build import Build, Profile, ProfileKind
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece
from ivory_quilt.core.plan.at_hand import cutting_at_hand
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.cut_facts import cut_facts, pass_lines, set_blade
from ivory_quilt.core.plan.cutting import (
    AGAIN,
    left_of,
    part_of,
    planned_rests,
    room_job,
    sheet_to_begin,
    sheet_to_cut,
)
from ivory_quilt.core.plan.plan import derive, used_sheets
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.plan.templates import templates_by_part
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind, sheet
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState
from tests.effort import random_cases

EVA = Foam(6.0, "eva")
SHOP = ShopStock((sheet("s", "half", EVA, (500, 300), owned=9),))
ROLL = ShopStock((sheet("r", "roll", EVA, (3000, 400), owned=1, kind=StockKind.ROLL, margin=5),))


def begun(pieces, shop=SHOP, gap=2.0):
    """Lay pieces, and put the first sheet under the knife: (project, shop without it)."""
    project = Project(pieces=pieces, gap=gap)
    plan = derive(project, shop)
    (foam,) = plan.foams
    result = lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0)
    project = keep_layout(project, KeptLayout(foam.foam, result.placements))
    plan = derive(project, shop)
    one = next(used_sheets(plan.foams[0], shop))
    laid = zip(one.parts, (p.pose for p in one.placements), strict=True)
    cuts = cutting_order(strokes_of(laid))
    spent = sheet_to_begin(sheet_to_cut(plan, plan.foams[0], one.key), cuts)
    assert [p.state for p in spent.parts] == [CutState.WAITING] * len(one.placements)
    project = cut_sheet(project, spent, one.key)
    items = tuple(replace(i, owned=i.owned - 1) for i in shop.items)
    return project, replace(shop, items=items)


def plates(*sizes):
    return tuple(
        Piece(f"p{k}", f"plate {k}", rectangle(w, h), count=n) for k, (w, h, n) in enumerate(sizes)
    )


def test_a_tick_counts_and_a_spoiled_part_is_asked_for_again():
    project, shop = begun(plates((200, 100, 3)))
    plan = derive(project, shop)
    assert plan.foams[0].standing is Standing.CUT
    assert (plan.ledger.cut, plan.foams[0].line.under_knife) == (0, 3)
    for number, state in enumerate((CutState.CUT, CutState.CHANGED, CutState.SPOILED)):
        project = mark_part(project, "cut", number, state, " dull blade ")
        plan = derive(project, shop, previous=plan)
    line = plan.foams[0].line
    assert (line.cut, line.under_knife, line.unplaced) == (2, 0, 1)
    assert plan.foams[0].job.pieces[0].quantity == 1
    assert [p.remark for p in project.spent[0].parts] == ["dull blade"] * 3
    project = mark_part(project, "cut", 2, CutState.WAITING)
    assert derive(project, shop, previous=plan).foams[0].standing is Standing.CUT


def bevelled(*angles):
    """Pieces with one edge each at these angles, larger ones first."""
    return tuple(
        Piece(
            f"b{k}",
            f"bevelled {k}",
            rectangle(120 - 10 * k, 80),
            build=Build().with_profile("A", Profile(ProfileKind.OUT, angle)),
        )
        for k, angle in enumerate(angles)
    )


def test_a_bevelled_part_is_cut_in_passes_and_free_with_the_last():
    project, shop = begun((*bevelled(45, 30), *plates((40, 30, 1))))
    (sheet_now,) = project.spent
    plan = derive(project, shop)
    told, blade = [], []
    while (under := sheet_under_knife(project, "cut")).to_make:
        number, nth = under.to_make[0]
        one = under.parts[number]
        lines = pass_lines(part_of(plan, under, one), one)
        length = sum(line_length(line) for line in lines)
        words = cut_facts(plan, under, number, {}).cuts
        told.append((one.label, one.settings[nth], round(length), *words[:1]))
        blade.append(set_blade(under, number))
        project = mark_part(project, "cut", number, CutState.CUT)
    assert told == [
        ("plate 0", 0, 0),
        ("bevelled 0", 0, 292, "Square now: all but edge A"),  # 120 + 2 × (80 + 6)
        ("bevelled 1", 0, 277, "Square now: all but edge A"),
        ("bevelled 1", 30, 110, "Edge A: bevel 30° out"),
        ("bevelled 0", 45, 120, "Edge A: bevel 45° out"),
    ]
    assert [p.state for p in project.spent[0].parts] == [CutState.CUT] * 3
    assert blade == ["", "", "", "Set the blade at 30°", "Set the blade at 45°"]
    assert sheet_now.parts[-1].settings == (0, 45)


def test_a_pass_can_be_taken_back_and_what_is_cut_in_part_is_spoiled_at_the_end():
    project, shop = begun(bevelled(45, 45))
    once = mark_part(project, "cut", 0, CutState.CUT)
    assert [p.passes for p in once.spent[0].parts] == [1, 0]
    assert [p.waiting for p in once.spent[0].parts] == [True, True]
    assert mark_part(once, "cut", 0, CutState.WAITING) == project
    closed = close_sheet(once, "cut", left_of(derive(once, shop), once.spent[0]))
    assert [p.state for p in closed.spent[0].parts] == [CutState.SPOILED]
    assert sum(p.quantity for p in derive(closed, shop).foams[0].job.pieces) == 2
    spoiled = mark_part(once, "cut", 1, CutState.SPOILED)
    assert [k for k, _ in spoiled.spent[0].to_make] == [0]


@random_cases(20, 200)
@given(
    st.lists(st.sampled_from([30, 45, 60]), min_size=1, max_size=4),
    st.integers(1, 3),
    st.integers(0, 10**6),
)
def test_a_part_put_in_between_has_its_passes_where_the_blade_is_set_so(angles, plain, seed):
    chance = random.Random(seed)
    project, _ = begun((*bevelled(*angles), *plates((30, 20, plain))))
    for _ in range(chance.randrange(len(project.spent[0].order))):
        number, _ = project.spent[0].to_make[0]
        project = mark_part(project, "cut", number, CutState.CUT)
    before = project.spent[0].to_make
    again = project.spent[0].parts[chance.randrange(len(project.spent[0].parts))]
    waiting = [k for k, p in enumerate(project.spent[0].parts) if p.waiting]
    project = add_part(project, "cut", replace(again, label="again"), ())
    (under,) = project.spent
    todo = under.to_make
    assert len(todo) == len(before) + len(again.settings)
    assert under.parts[todo[0][0]].label == "again"
    assert len(waiting) + 1 == sum(p.waiting for p in under.parts)
    # The blade is set no oftener than with the part alone in front.
    angles_now = [under.parts[k].settings[n] for k, n in todo]
    assert angles_now[1:] == sorted(angles_now[1:])


def test_what_is_not_under_the_knife_is_refused():
    project, _ = begun(plates((200, 100, 1)))
    with pytest.raises(InputError, match="no part 2"):
        mark_part(project, "cut", 1, CutState.CUT)
    with pytest.raises(InputError, match="not being cut"):
        mark_part(project, "cut-2", 0, CutState.CUT)
    with pytest.raises(InputError, match="nothing of it is cut"):
        close_sheet(project, "cut", ())
    done = close_sheet(mark_part(project, "cut", 0, CutState.CUT), "cut", ())
    with pytest.raises(InputError, match="not being cut"):
        mark_part(done, "cut", 0, CutState.SPOILED)


@random_cases(12, 60)
@given(
    st.lists(
        st.tuples(st.integers(40, 240), st.integers(40, 200), st.integers(1, 3)),
        min_size=1,
        max_size=4,
    ),
    st.integers(0, 10**6),
    st.booleans(),
)
def test_foam_is_accounted_for_however_a_sheet_goes(sizes, seed, rolled):
    chance = random.Random(seed)
    project, shop = begun(plates(*sizes), ROLL if rolled else SHOP)
    expected = project.spent[0].left
    for number in range(len(project.spent[0].parts)):
        state = chance.choice(list(CutState))
        project = mark_part(project, "cut", number, state)
    project = mark_part(project, "cut", 0, chance.choice((CutState.CUT, CutState.SPOILED)))
    plan = derive(project, shop)
    under = sheet_under_knife(project, "cut")
    left = left_of(plan, under)
    closed = close_sheet(project, "cut", left)
    (spent,) = closed.spent
    taken = spent.area
    used = sum(p.shape.area for p in spent.parts)  # spoiled foam is gone as well
    rest = [i for i in spent.left if i.kind is not StockKind.ROLL]
    kept = sum(i.shape.area * i.owned for i in rest)
    edges = sum(p.shape.outline_length for p in spent.parts)
    assert used + kept <= taken + 0.01 * edges  # the engine lays as near as that to an edge
    # Labels stay, too, where everything was cut: they may be written already.
    assert under.has(CutState.WAITING) or left == expected
    ids = [i.id for i in left]
    assert len(ids) == len(set(ids))
    after = derive(closed, shop).foams[0]
    wanted = sum(n for _, _, n in sizes)
    assert after.line.cut == sum(p.made for p in spent.parts)
    assert sum(p.quantity for p in after.job.pieces) == wanted - after.line.cut


@random_cases(12, 120)
@given(st.integers(20, 200), st.integers(20, 200), st.integers(1, 8), st.booleans())
def test_a_spoiled_part_finds_room_on_its_own_sheet_where_there_is_some(w, h, n, rolled):
    shop = ROLL if rolled else SHOP
    project, left = begun(plates((w, h, n)), shop)
    plan = derive(mark_part(project, "cut", 0, CutState.SPOILED), left)
    under = plan.project.spent[0]
    job = room_job(plan, under, 0)
    result = lay(job, limit=Limit(steps=0), clock=lambda: 0.0)
    assert violations(job, result.placements) == []
    found = next((p for p in result.placements if p.piece == AGAIN), None)
    assert (found is None) is bool(result.unplaced)
    if found is None:
        return
    again = CutPart(under.parts[0].part, "again", under.parts[0].shape, found.pose)
    project = add_part(plan.project, "cut", again, ())
    (sheet_now,) = project.spent
    assert sheet_now.parts[1 if n > 1 else len(under.parts)].label == "again"
    for part in under.parts:
        apart = part.shape.placed(part.pose).polygon.distance(
            again.shape.placed(again.pose).polygon
        )
        assert apart >= project.gap - 0.01
    assert derive(project, left).foams[0].standing is Standing.CUT


def test_a_part_that_fills_its_sheet_finds_no_room_there():
    project, shop = begun(plates((480, 280, 1)))
    plan = derive(mark_part(project, "cut", 0, CutState.SPOILED), shop)
    result = lay(room_job(plan, plan.project.spent[0], 0), limit=Limit(steps=0), clock=lambda: 0.0)
    assert result.unplaced == ((AGAIN, 0),)


@random_cases(10, 100)
@given(
    st.lists(
        st.tuples(st.integers(40, 240), st.integers(40, 200), st.integers(1, 4)),
        min_size=1,
        max_size=4,
    ),
    st.randoms(use_true_random=False),
)
def test_offcuts_have_the_labels_of_the_papers_whatever_sheet_is_cut_first(sizes, chance):
    project = Project(pieces=plates(*sizes))
    plan = derive(project, SHOP)
    result = lay(plan.foams[0].job, limit=Limit(steps=0), clock=lambda: 0.0)
    plan = derive(keep_layout(project, KeptLayout(EVA, result.placements)), SHOP)
    rests = planned_rests(plan, {"A2"})
    said = [label for rest in rests.values() for label in rest.labels]
    assert len(said) == len(set(said))
    assert "A2" not in said
    sheets = list(used_sheets(plan.foams[0], SHOP))
    chance.shuffle(sheets)
    for one in sheets:
        rest = rests[EVA, one.key]
        spent = sheet_to_cut(plan, plan.foams[0], one.key, {"A2"}, rest.labels)
        assert spent.left == rest.items
        parts = shapely.union_all([p.shape.placed(p.pose).polygon for p in spent.parts])
        for _, place in rest.places:
            assert one.item.shape.polygon.buffer(1e-6).covers(place.polygon)
            assert place.polygon.intersection(parts).area < 1e-6


def test_what_is_left_of_a_sheet_under_the_knife_is_a_step_of_the_bench():
    project, shop = begun(plates((200, 100, 2), (60, 50, 1)))

    def cutting():
        steps = bench_steps(derive(project, shop), BenchChoices()).steps
        return [s for s in steps if s.kind is StepKind.CUT]

    (whole,) = cutting()
    assert (whole.id, whole.title) == ("cut:begun:cut", "half, begun: 3 parts more")
    project = mark_part(project, "cut", 0, CutState.CUT)
    (rest,) = cutting()
    assert 0 < rest.minutes < whole.minutes
    for number in (1, 2):
        project = mark_part(project, "cut", number, CutState.CUT)
    assert cutting() == []


def test_what_the_hands_must_know_of_a_part():
    pair = Piece("a", "shin plate", rectangle(120, 80), hand=Hand.PAIR, face=FaceUp.SKIN)
    studs = Piece("b", "stud", rectangle(20, 20), count=3)
    project, shop = begun((pair, studs))
    plan = derive(project, shop)
    (one,) = project.spent
    templates = templates_by_part(plan)
    facts = [cut_facts(plan, one, k, templates) for k in range(len(one.parts))]
    hands = {f.hand: f.template for f in facts if f.name == "shin plate"}
    assert set(hands) == {"left", "right"}
    assert sorted("turned over" in words for words in hands.values()) == [False, True]
    assert {f.count for f in facts if f.name == "stud"} == {"1 of 3", "2 of 3", "3 of 3"}
    assert {f.template for f in facts if f.name == "stud"} == {"Template 2"}
    other = replace(project, pieces=(replace(pair, shape=rectangle(130, 80)), studs))
    lost = [cut_facts(derive(other, shop), one, k, templates) for k in range(len(one.parts))]
    assert sum("plan has changed" in " ".join(f.notes) for f in lost) == 2


def test_before_the_first_cut_blade_tape_and_foam_are_asked_for():
    blades = Consumable("k", "knife blades", ConsumableKind.BLADE, 10, 12.0, left=2)
    shop = replace(SHOP, consumables=(blades,))
    project = Project(pieces=plates((200, 100, 1)))
    plan = derive(project, shop)
    result = lay(plan.foams[0].job, limit=Limit(steps=0), clock=lambda: 0.0)
    plan = derive(keep_layout(project, KeptLayout(EVA, result.placements)), shop)
    (one,) = used_sheets(plan.foams[0], shop)
    things = cutting_at_hand(plan, one, "2026-03-01")
    assert [t.problem for t in things] == ["", "", ""]
    assert things[0].words == "half"
    assert "tape" in things[2].words
    spent = replace(shop, consumables=(replace(blades, left=0),))
    plan = derive(plan.project, spent)
    (one,) = used_sheets(plan.foams[0], spent)
    assert "none at hand" in cutting_at_hand(plan, one, "2026-03-01")[1].problem
