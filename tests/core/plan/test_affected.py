"""A plan that takes over what did not change is the plan that is derived anew."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.editing.reshape import scaled_piece
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import (
    PLAIN,
    Build,
    EdgeProfile,
    Layer,
    LayerSize,
    Placing,
    Profile,
    ProfileKind,
)
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.pattern.spares import SpareRule
from ivory_quilt.core.plan.affected import affected
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.bench_choices import SealOrder
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.demo.troupe import troupe_project
from tests.effort import random_cases

STOCK = ShopStock(demo_stock(), MATERIALS)
DEMO = demo_project()
IDS = [p.id for p in DEMO.pieces]
BASED = [p.id for p in DEMO.pieces if p.build.placing is not None]
TROUPE = troupe_project(2)
TROUPE_PLAN = derive(TROUPE, STOCK)


def thicker(project, piece, share):
    return change_piece(project, piece, thickness=project.piece(piece).thickness + 1 + share)


def larger(project, piece, share):
    made = scaled_piece(project.piece(piece), 1.0 + 0.05 * share)
    fields = ("shape", "lines", "labels", "match_marks", "edges")
    return change_piece(project, piece, **{f: getattr(made, f) for f in fields})


def none_of_it(project, piece, _):
    return change_piece(project, piece, count=0)


def plain(project, piece, _):
    return change_piece(project, piece, build=PLAIN)


def elsewhere(project, piece, share):
    """Put a piece on another base, or on one for the first time."""
    build = project.piece(piece).build
    base = IDS[int(share * (len(IDS) - 1))]
    if base == piece:
        return project
    return change_piece(project, piece, build=replace(build, placing=Placing(base)))


def as_another(project, piece, share):
    """Give a piece a layer with another's outline."""
    build = project.piece(piece).build
    other = IDS[int(share * (len(IDS) - 1))]
    layer = Layer(2.0, size=LayerSize.PIECE, other=other)
    return change_piece(project, piece, build=replace(build, layers=(*build.layers, layer)))


def gone(project, piece, _):
    return replace(project, pieces=tuple(p for p in project.pieces if p.id != piece))


def a_seam_less(project, _, share):
    seams = project.seams
    at = int(share * (len(seams) - 1))
    return replace(project, seams=seams[:at] + seams[at + 1 :])


def trimmed_all(project, _, share):
    return replace(project, rule=TraceRule(trim=1.0 + share))


def spares(project, _, share):
    return replace(project, spares=SpareRule(10 + round(80 * share)))


def sealed_first(project, _, __):
    return replace(project, bench=replace(project.bench, seal=SealOrder.BEFORE_CUT))


EDITS = [
    thicker,
    larger,
    none_of_it,
    plain,
    elsewhere,
    as_another,
    gone,
    a_seam_less,
    trimmed_all,
    spares,
    sealed_first,
]


def cuts(plan):
    return {
        (suit.name, i): (made.problem, made.context, made.cuts, made.parts, suit.parts[i])
        for suit in plan.suits
        for i, made in suit.made.items()
    }


def otherwise(one, other):
    """Return what two plans make differently; the pieces themselves would be too long to read."""
    first, second = cuts(one), cuts(other)
    return [key for key in first.keys() | second.keys() if first.get(key) != second.get(key)]


@given(
    st.lists(
        st.tuples(st.sampled_from(EDITS), st.sampled_from(IDS), st.floats(0, 1)),
        min_size=1,
        max_size=3,
    )
)
@random_cases(25, 300)
def test_what_is_taken_over_is_what_would_be_made_anew(edits):
    project, plan = TROUPE, TROUPE_PLAN
    for edit, piece, share in edits:
        if piece in {p.id for p in project.pieces}:
            project = edit(project, piece, share)
        plan = derive(project, STOCK, previous=plan)
    fresh = derive(project, STOCK)
    assert otherwise(plan, fresh) == []
    assert [f.foam for f in plan.foams] == [f.foam for f in fresh.foams]
    assert plan.ledger.lines == fresh.ledger.lines
    unlike = [f.foam for f, g in zip(plan.foams, fresh.foams, strict=True) if f.job != g.job]
    assert unlike == []


def test_an_edit_of_one_piece_affects_it_and_what_hangs_on_it():
    lame = next(p for p in DEMO.pieces if p.id == BASED[0])
    after = change_piece(DEMO, lame.id, thickness=lame.thickness + 1)
    found = affected(DEMO, after)
    assert {lame.id, lame.build.placing.base} <= found
    assert len(found) < len(IDS) / 3
    assert affected(DEMO, DEMO) == frozenset()
    base = lame.build.placing.base
    assert lame.id in affected(DEMO, change_piece(DEMO, base, name="another"))


def test_what_all_pieces_hang_on_affects_any():
    for edit in (trimmed_all, spares, sealed_first, a_seam_less):
        assert affected(DEMO, edit(DEMO, IDS[0], 0.5)) is None


@pytest.mark.parametrize("thicker_one", ["left", "right"])
def test_a_thicker_neighbour_turns_the_bevel_that_meets_it(thicker_one):
    meets = (EdgeProfile("A", Profile(ProfileKind.MEET)),)
    pieces = tuple(
        Piece(i, i, rectangle(80.0, 60.0), build=Build(edges=meets)) for i in ("left", "right")
    )
    seam = Seam(EdgeRef("left", "A"), EdgeRef("right", "A"), dihedral=110.0)
    before = Project("two", pieces, seams=(seam,))
    after = change_piece(before, thicker_one, thickness=10.0)
    plan = derive(before, STOCK)
    found = derive(after, STOCK, previous=plan)
    assert otherwise(found, derive(after, STOCK)) == []
    (other,) = {"left", "right"} - {thicker_one}
    assert found.made[other].cuts[0].knives != plan.made[other].cuts[0].knives
