"""What is cut for a piece and why: layers, covers, wraps, placing, and what a project keeps."""

import math
from decimal import Decimal

import numpy as np
import pytest

from ivory_quilt.core.document.darts import as_gores, darts_in, dish_verdict, strained, with_darts
from ivory_quilt.core.document.panels import PanelGrid, panels, with_panels
from ivory_quilt.core.document.project import Project, change_piece, remove_pieces
from ivory_quilt.core.document.seam_book import let_meet, seam_book
from ivory_quilt.core.document.thickness import in_way
from ivory_quilt.core.edges.groove_check import grooves_cross, grooves_of
from ivory_quilt.core.edges.mating import mate_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.coupons import (
    Coupon,
    CouponKind,
    coupon_sentence,
    overbend,
    with_coupon,
)
from ivory_quilt.core.forming.dishing import Remedy, dishing, gore_strain
from ivory_quilt.core.geometry.curves import circle
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Placing,
    Profile,
    ProfileKind,
    Trim,
    TrimKind,
    Wrap,
)
from ivory_quilt.core.pattern.edges import edge_length, edges_of, named_edge, with_corner
from ivory_quilt.core.pattern.piece import Crease, FaceUp, Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.thickness_change import in_thickness
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.review import review
from ivory_quilt.core.stacks.cut import CutContext, stack_thickness
from ivory_quilt.core.stacks.layering import cuts_of
from ivory_quilt.core.stacks.lengths import cut_lengths
from ivory_quilt.core.stacks.thickness import ThicknessWay
from ivory_quilt.core.stock.foam_stock import Foam, Material, ShopStock, sheet
from tests.parts import parts_of

HORN = Shape.make([(0, 0), (62, 0), (70, 200), (90, 340), (30, 180)])


def piece(ident="a", shape=None, thickness=6.0, build=None, **rest):
    shape = shape or rectangle(200, 100)
    return Piece(ident, ident, shape, thickness=thickness, build=build or Build(), **rest)


def stock(*thicknesses, **book):
    items = tuple(
        sheet(f"S{t:g}", f"{t:g} mm", Foam(t, "eva"), (1000, 600), owned=2, price=Decimal(10))
        for t in thicknesses
    )
    return ShopStock(items, (Material("eva", "EVA foam", True, FoamBook(**book)),))


def rolled(radius):
    return Form(FormKind.ROLLED, Given.RADIUS, radius)


# Stacks


def test_a_horn_is_62_mm_at_its_thickest():
    """Common practice, no source: a 10 mm spine with 10, 6, 6 and 4 mm on each side."""
    layers = tuple(
        Layer(t, size=LayerSize.INSET, by=3.0 * k, side=LayerSide.BOTH)
        for k, t in enumerate((10.0, 6.0, 6.0, 4.0), 1)
    )
    spine = piece("horn", HORN, 10.0, Build(layers=layers))
    assert stack_thickness(spine) == 62
    cuts = cuts_of(spine)
    assert [c.piece.thickness for c in cuts] == [10, 10, 6, 6, 4, 10, 6, 6, 4]
    areas = [c.outer.area for c in cuts]
    assert areas[0] > areas[1] > areas[2] > areas[3] > areas[4]
    # What lies on the inner side is mirrored: its skin faces the other way.
    assert [c.other_hand for c in cuts] == [False] * 5 + [True] * 4
    parts = parts_of(spine)
    assert [p.mirrored for p in parts] == [False] * 5 + [True] * 4
    assert len({p.id for p in parts}) == 9
    flipped = parts[5].shape.mirrored().polygon
    assert flipped.symmetric_difference(parts[1].shape.polygon).area < 1e-6


def test_a_layer_may_take_another_pieces_outline_or_stand_out():
    disc = piece("disc", Shape.make(circle((500, 500), 40)))
    base = piece(
        build=Build(
            layers=(
                Layer(4, size=LayerSize.PIECE, other="disc"),
                Layer(2, size=LayerSize.OVERSIZE, by=5),
            )
        )
    )
    cuts = cuts_of(base, CutContext(outlines=(disc,)))
    assert cuts[1].outer.area == pytest.approx(disc.shape.area)
    assert cuts[1].outer.centroid == pytest.approx((100, 50), abs=1e-6)
    assert cuts[2].outer.bounds == pytest.approx((-5, -5, 205, 105))
    with pytest.raises(InputError, match="is gone"):
        cuts_of(base)


def test_bevels_go_through_all_layers_of_one_outline():
    build = Build(layers=(Layer(6.0),)).with_profile("A", Profile(ProfileKind.IN, 45))
    base, upper = cuts_of(piece(build=build))
    assert base.inner.bounds[1] == pytest.approx(0)
    assert base.outer.bounds[1] == pytest.approx(6)
    assert upper.inner.bounds[1] == pytest.approx(6)
    assert upper.outer.bounds[1] == pytest.approx(12)
    assert base.footprint.bounds[1] == pytest.approx(0)


def test_a_blade_of_two_layers_hides_half_the_rod_in_each():
    """Common practice, no source: the trench is half the rod deep in each layer."""
    build = Build(layers=(Layer(6.0),), rod=8).with_profile(
        "A", Profile(ProfileKind.BLADE, width=20)
    )
    base, upper = cuts_of(piece(build=build))
    # Both bevels meet where the layers do.
    assert base.outer.bounds[1] == pytest.approx(0)
    assert upper.inner.bounds[1] == pytest.approx(0)
    assert base.inner.bounds[1] == upper.outer.bounds[1] == pytest.approx(20)
    assert "8 wide, 4 deep" in base.piece.labels[0].text


def test_a_wrap_is_as_long_as_the_edge_and_as_wide_as_the_stack():
    build = Build(layers=(Layer(4.0),), wrap=Wrap(2, "eva", 2.5, 3))
    wrap = cuts_of(piece(build=build, hand=Hand.PAIR))[-1]
    assert (wrap.outer.width, wrap.outer.height) == pytest.approx((600 - 2.5, 13))
    assert wrap.piece.count == 2  # both hands take the same strip
    assert any("end faces" in n for n in wrap.notes)
    long = cuts_of(piece("b", rectangle(600, 300), build=Build(wrap=Wrap())))[-1]
    assert long.outer.width == pytest.approx((1800 - 2.5) / 2)
    assert long.piece.count == 2
    assert "in 2 lengths" in long.notes
    both = cuts_of(
        piece("b", rectangle(600, 300), build=Build(wrap=Wrap()), hand=Hand.PAIR, count=3)
    )
    assert (both[-1].piece.count, both[-1].piece.hand) == (12, Hand.NONE)


def test_covers_come_over_the_edge():
    """Common practice, no source: two sheets a core; cloth wraps over to the back."""
    sandwich = Build(cover=Cover(CoverKind.SANDWICH, 1, "thermoplastic", 8))
    _, cover = cuts_of(piece(build=sandwich))
    assert cover.outer.bounds == pytest.approx((-14, -14, 214, 114))
    assert cover.piece.count == 2
    cloth = Build(cover=Cover(CoverKind.CLOTH, 1, "cloth", 14))
    _, front, back = cuts_of(piece(build=cloth))
    assert front.outer.width == pytest.approx(240)
    assert back.outer.width == pytest.approx(194)
    assert {c.foam.material for c in (front, back)} == {"cloth"}


def test_shaped_lengths_follow_edges():
    build = Build(trims=(Trim("A", TrimKind.HALF, 10, halved=True), Trim("Z")))
    (length,) = cut_lengths(piece(build=build, hand=Hand.PAIR, count=2))
    assert (length.length, length.count) == (pytest.approx(200), 2)
    assert length.words == "10 mm half-round, halved"
    (odd,) = cut_lengths(piece(build=build, count=3))
    assert odd.count == 2  # one and a half are two
    whole = Build(trims=(Trim("B", TrimKind.HALF, 8, trenched=True),))
    (each,) = cut_lengths(piece(build=whole, count=3))
    assert (each.count, each.length) == (3, pytest.approx(100))
    assert each.words == "8 mm half-round, trenched"


def test_equal_layers_step_in_one_after_the_other():
    """One layer used three times is three layers: each is told by its place, not by what it is."""
    step = Layer(4, side=LayerSide.OUTER, size=LayerSize.STEPPED, by=5)
    widths = [c.outer.width for c in cuts_of(piece(build=Build(layers=(step, step, step))))]
    assert widths == pytest.approx([200, 190, 180, 170])


def test_a_split_sheet_is_cut_half_as_often():
    split = piece(thickness=5, count=3, build=Build(split=2))
    (cut,) = cuts_of(split)
    assert (cut.piece.thickness, cut.piece.count) == (10, 2)
    assert "slice" in cut.notes[0]


# Placing


def test_what_is_glued_onto_a_base_is_drawn_there_and_drifts_on_a_curve():
    base = piece("base", rectangle(300, 100), 6, Build(form=rolled(60)))
    panel = piece("panel", rectangle(120, 40), 4, Build(placing=Placing("base", 0.5, 0.5)))
    (own,) = cuts_of(panel, CutContext(base=base))
    turn = 120 / 60  # on the body that the pattern was taken from
    assert own.outer.width == pytest.approx(turn * (60 + 6 + 2), rel=1e-6)
    assert own.outer.height == pytest.approx(40)
    under, over = turn * (60 + 3), turn * (60 + 6 + 2)
    assert own.changes[0].amount == pytest.approx(over - under)
    assert len(own.piece.match_marks) == 2
    (marked,) = cuts_of(base, CutContext(placed=(panel,)))
    ring = marked.piece.lines[0].points
    assert np.ptp(ring[:, 0]) == pytest.approx(under)
    assert [k.text for k in marked.piece.labels] == ["cement here: panel"]
    flat = replace(base, build=Build())
    (plain,) = cuts_of(panel, CutContext(base=flat))
    assert plain.outer.width == pytest.approx(120)


def test_panels_leave_an_even_channel():
    base = piece("base", rectangle(300, 100))
    made = panels(base, PanelGrid(3, 2, channel=4, rim=8))
    assert len(made) == 6
    project = with_panels(Project(pieces=(base,)), "base", PanelGrid(3, 2, channel=4, rim=8))
    from ivory_quilt.core.stacks.placing import on_base

    there = [on_base(p, base).shape.polygon for p in project.pieces[1:]]
    for k, one in enumerate(there):
        others = [one.distance(o) for o in there[:k] + there[k + 1 :]]
        assert min(others) == pytest.approx(4, abs=1e-6)
        assert one.distance(base.shape.polygon.exterior) == pytest.approx(8, abs=1e-6)
    with pytest.raises(InputError, match="nothing is left"):
        panels(base, PanelGrid(3, 2, channel=4, rim=60))


# A project


def test_the_plan_makes_anew_only_what_changed():
    base = piece("base", rectangle(300, 100), build=Build(form=rolled(60)))
    panel = piece("panel", rectangle(120, 40), 4, Build(placing=Placing("base")))
    other = piece("other")
    project = Project(pieces=(base, panel, other))
    first = derive(project, stock(4, 6))
    second = derive(change_piece(project, "base", build=Build()), stock(4, 6), None, first)
    assert second.made["other"] is first.made["other"]
    # The panel depends on its base, and the base on what lies on it.
    assert second.made["panel"] is not first.made["panel"]
    third = derive(change_piece(project, "panel", thickness=6.0), stock(4, 6), None, first)
    assert third.made["base"] is not first.made["base"]


def test_what_cannot_be_made_is_cut_as_drawn_and_says_so():
    tight = piece("tight", build=Build(form=rolled(5)))
    plan = derive(Project(pieces=(tight,)), stock(6))
    assert "around" in plan.problems["tight"]
    assert plan.parts["tight"][0].shape == tight.shape
    assert [f.code for f in review(plan.project)] == ["cannot-be-made"]
    lost = piece("lost", build=Build(layers=(Layer(4, size=LayerSize.PIECE, other="x"),)))
    assert "is gone" in derive(Project(pieces=(lost,)), stock(4, 6)).problems["lost"]


def test_weight_is_volume_by_density():
    plan = derive(Project(pieces=(piece(count=2),)), stock(6, density=0.12))
    assert plan.weight == pytest.approx(2 * 20 * 10 * 0.6 * 0.12)
    bevelled = piece(build=Build().with_profile("A", Profile(ProfileKind.IN, 45)))
    plan = derive(Project(pieces=(bevelled,)), stock(6, density=0.1))
    assert plan.weight == pytest.approx(20 * (10 - 0.3) * 0.6 * 0.1)


def test_bevelled_parts_never_lie_under_their_neighbour():
    """The table gets the footprint, the knife the face that is up."""
    out = piece(build=Build().with_profile("A", Profile(ProfileKind.OUT, 45)))
    (part,) = parts_of(out)
    assert part.shape.bounds == pytest.approx((0, -6, 200, 100))
    assert part.marked.bounds == pytest.approx((0, -6, 200, 100))
    assert part.far.bounds == pytest.approx((0, 0, 200, 100))
    (edge,) = part.bevels
    assert (edge.name, edge.angle) == ("A", 45.0)
    assert (*edge.start, *edge.stop) == pytest.approx((0, -6, 200, -6))
    # Laid the other way round, the inner face is up: its outline is cut, and the bevel leans in.
    (far,) = part.bevels_up(Pose(0, 0, 0, mirrored=True))
    assert part.line_up(Pose(0, 0, 0, mirrored=True)) == part.far
    assert (far.angle, *far.start, *far.stop) == pytest.approx((-45, 0, 0, 200, 0))
    assert part.line_up(Pose(0, 0)) == part.marked
    (hidden,) = parts_of(replace(out, face=FaceUp.EITHER))
    assert not hidden.may_flip  # a bevel has an upper and a lower face
    (textured,) = parts_of(replace(out, face=FaceUp.TEXTURED))
    assert textured.mirrored
    (edge,) = textured.bevels
    assert (*edge.start, *edge.stop) == pytest.approx((-200, -6, 0, -6))
    assert textured.marked.bounds == pytest.approx((-200, -6, 0, 100))


def test_edges_keep_their_profiles_through_names_and_corners():
    known = Profile(ProfileKind.IN, 30)
    own = piece(build=Build(trims=(Trim("A"),)).with_profile("A", known))
    renamed = named_edge(own, "A", "hem")
    assert renamed.build.profile("hem") == known
    assert renamed.build.trims[0].edge == "hem"
    parted = with_corner(renamed, (100, 0))
    assert sum(renamed.build.profile(e.name) == known for e in edges_of(renamed)) == 1
    assert sum(parted.build.profile(e.name) == known for e in edges_of(parted)) == 2


# Seams that mate


def two(dihedral, joint=Joint.MITRE, other=6.0, **profiles):
    first, second = piece("a"), piece("b", thickness=other)
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"), False, dihedral, joint)
    return Project(pieces=(first, second), seams=(seam,)), seam


def test_the_seam_book_says_whether_bevels_mate():
    project, seam = two(120)
    assert "gape by 60°" in seam_book(project)[0].mate.sentence
    assert "seam-bevels" in [f.code for f in review(project)]
    mended = let_meet(project, seam)
    (entry,) = seam_book(mended)
    assert entry.mate.good
    assert (entry.mate.first, entry.mate.second) == pytest.approx((30, 30))
    finding = next(f for f in review(project) if f.code == "seam-bevels")
    assert seam_book(finding.apply(project))[0].mate.good
    step, _ = two(180, other=4.0)
    assert "step" in seam_book(step)[0].mate.sentence
    unequal, seam = two(100, other=4.0)
    mate = seam_book(let_meet(unequal, seam))[0].mate
    assert mate.good
    assert mate.faces[0] == pytest.approx(mate.faces[1])


def test_an_edge_that_butts_stands_square_at_a_right_angle():
    project, seam = two(90, Joint.BUTT)
    pieces = {p.id: p for p in project.pieces}
    assert mate_of(seam, pieces).good
    lean, seam = two(60, Joint.BUTT)
    assert not mate_of(seam, {p.id: p for p in lean.pieces}).good
    assert mate_of(seam, {p.id: p for p in let_meet(lean, seam).pieces}).first == 30
    gone = remove_pieces(project, ["b"])
    assert mate_of(seam, {p.id: p for p in gone.pieces}) is None


# Grooves


def grooved(*lines):
    return piece(
        "g",
        rectangle(200, 100),
        10,
        lines=tuple(
            PieceLine(LineKind.UNDERCUT, np.array(points, dtype=float), crease)
            for points, crease in lines
        ),
    )


def test_grooves_are_looked_over():
    good = grooved((((100, 0), (100, 100)), Crease(90, skin=2.5)))
    (groove,) = grooves_of(good)
    assert (groove.width, groove.depth, groove.problems) == (pytest.approx(15), 7.5, ())
    thin = grooved((((100, 0), (100, 100)), Crease(90, skin=1.0)))
    assert "may tear" in grooves_of(thin)[0].problems[0]
    rim = grooved((((10, 0), (10, 100)), Crease(90, skin=2.5)))
    assert "from the edge" in grooves_of(rim)[0].problems[0]
    near = grooved(
        (((90, 0), (90, 100)), Crease(60, skin=2.5)), (((105, 0), (105, 100)), Crease(60, skin=2.5))
    )
    assert "from another groove" in grooves_of(near)[0].problems[0]
    crossing = grooved(
        (((50, 0), (150, 100)), Crease(60, skin=2.5)), (((50, 100), (150, 0)), Crease(60, skin=2.5))
    )
    assert grooves_cross(crossing.lines)
    assert "folds-cross" in [f.code for f in review(Project(pieces=(crossing,)))]
    recess = grooved((((100, 0), (100, 100)), Crease(90, skin=1.0, front=True, folds=False)))
    assert grooves_of(recess)[0].problems == ()
    deep = grooved((((100, 0), (100, 100)), Crease(90, skin=12.0)))
    assert "skin" in grooves_of(deep)[0].problems[0]


# Dishing


def test_a_bowl_goes_by_heat_then_darts_then_gores():
    shallow, deeper = dishing(100, math.radians(30), 0.12), dishing(100, math.radians(68), 0.12)
    deep = dishing(100, math.radians(88), 0.12)
    verdicts = [v.remedy for v in (shallow, deeper, deep)]
    assert verdicts == [Remedy.HEAT, Remedy.DARTS, Remedy.GORES]
    # A dart takes what the rim has too much, heat the rest.
    rim, around = (
        2 * math.pi * 100 * math.sin(math.radians(68)),
        2 * math.pi * math.radians(68) * 100,
    )
    left = around - deeper.count * deeper.dart
    assert rim / left - 1 >= -0.12 - 1e-9
    assert gore_strain(math.radians(88), deep.count) <= 0.12
    assert deep.count == 5
    assert gore_strain(math.radians(88), deep.count - 1) > 0.12


def bowl(height):
    disc = Shape.make(circle((0, 0), 70.0))
    return piece("bowl", disc, 4.0, Build(form=Form(FormKind.DISHED, Given.HEIGHT, height)))


def test_darts_are_drawn_and_gores_are_made():
    project = Project(pieces=(bowl(46),))
    verdict = dish_verdict(project.piece("bowl"), 0.5, 12)
    assert verdict.remedy is Remedy.DARTS
    cut = with_darts(project, "bowl", verdict)
    assert darts_in(cut, "bowl").count == verdict.count
    made = cut.piece("bowl")
    length = {e.name: edge_length(made, e) for e in edges_of(made)}
    for seam in cut.seams:
        assert length[seam.first.edge] == pytest.approx(length[seam.second.edge], abs=0.2)
    with pytest.raises(InputError, match="goes with darts"):
        with_darts(project, "bowl", dish_verdict(bowl(10), 0.5, 12))
    deep = Project(pieces=(bowl(68),))
    verdict = dish_verdict(deep.piece("bowl"), 0.5, 12)
    assert verdict.remedy is Remedy.GORES
    gores = as_gores(deep, "bowl", verdict)
    assert sum(p.count for p in gores.pieces) == verdict.count
    assert dish_verdict(piece(), 0.5, 12) is None
    with pytest.raises(InputError, match="not dished"):
        as_gores(Project(pieces=(piece(),)), "a", verdict)


# Thickness


def test_another_thickness_shows_what_it_does():
    """Common practice, no source: from 4 to 2 mm about 2 mm smaller, 1.5 mm at each end here."""
    cover = piece("toe", rectangle(45 * math.pi, 100), 4.0, Build(form=rolled(45)))
    plan = derive(Project(pieces=(cover, piece("b"))), stock(2, 4, 6))
    change = in_thickness(plan, "toe", 2.0)
    before, after = change.width
    assert after - before == pytest.approx(-math.pi)
    assert {e.edge for e in change.edges} == {"A", "C"}
    assert change.project.piece("toe").thickness == 2
    flat = in_thickness(plan, "b", 4.0)
    assert flat.edges == ()
    # What is told is told of the piece itself, not of what lies on it.
    layered = Build(form=rolled(45), layers=(Layer(2.0, size=LayerSize.INSET, by=10),))
    stacked = derive(Project(pieces=(replace(cover, build=layered),)), stock(2, 4, 6))
    assert in_thickness(stacked, "toe", 2.0).width == pytest.approx((before, after))
    assert in_thickness(stacked, "toe", 3.9).edges[0].before == pytest.approx(before)
    outside = Form(FormKind.ROLLED, Given.ANGLE, 350, face=Face.OUTER)
    tight = piece("t", rectangle(30, 40), 4, Build(form=outside))
    with pytest.raises(InputError, match="20 mm"):
        in_thickness(derive(Project(pieces=(tight,)), stock(4)), "t", 20.0)


def test_a_thickness_is_made_of_others():
    project = Project(pieces=(piece(thickness=10),))
    glued = in_way(project, "a", ThicknessWay((5.0, 5.0))).piece("a")
    assert (glued.thickness, stack_thickness(glued)) == (5, 10)
    sliced = in_way(project, "a", ThicknessWay((20.0,), 2)).piece("a")
    assert (sliced.thickness, sliced.build.split) == (10, 2)


# Coupons


def test_a_coupon_says_whether_the_book_is_wrong():
    """Two-sided 95 % interval of Student's t, 4 degrees of freedom: 2.776 (t table)."""
    strips = Coupon("eva", CouponKind.ALONG, "2026-03-01", (100,) * 5, (97.8, 98, 98.2, 97.9, 98.1))
    spread = np.std([2.2, 2.0, 1.8, 2.1, 1.9], ddof=1) / math.sqrt(5)
    assert strips.result.low == pytest.approx(2 - 2.776 * spread, abs=1e-3)
    assert "differs" in coupon_sentence(strips, FoamBook(shrink_along=0.5))
    assert coupon_sentence(strips, FoamBook(shrink_along=1.95)) == (
        "2 % (1.8 to 2.2 %, 95 %): the book's 1.95 % may be right."
    )
    assert with_coupon(FoamBook(), strips).shrink_along == pytest.approx(2.0)
    back = Coupon("eva", CouponKind.SPRINGBACK, "", (90, 90), (81, 81.2))
    assert with_coupon(FoamBook(), back).springback == pytest.approx(9.889, abs=1e-3)
    assert overbend(90, 10) == pytest.approx(100)
    with pytest.raises(InputError, match="dish limit"):
        FoamBook(dish_limit=200)


def test_bowls_that_neither_heat_nor_darts_close_are_told():
    disc = bowl(46)
    project = Project(pieces=(disc,))
    books = {"eva": FoamBook()}
    assert strained(project, books) == (disc,)
    verdict = dish_verdict(disc, 0.5, 12)
    cut = with_darts(project, "bowl", verdict)
    assert darts_in(cut, "bowl").width == pytest.approx(verdict.count * verdict.dart, rel=0.05)
    assert strained(cut, books) == ()
    assert strained(project, {"eva": FoamBook(dish_limit=40)}) == ()
    assert strained(Project(pieces=(bowl(70),)), books)


def test_a_bevel_that_can_be_cut_again_is_no_longer_a_problem():
    meet = Profile(ProfileKind.MEET)
    first = piece("a", build=Build().with_profile("B", meet))
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"), dihedral=20.0)
    project = Project(pieces=(first, piece("b")), seams=(seam,))
    plan = derive(project, stock(6))
    assert "bevelled by 160°" in plan.problems["a"]
    flat = replace(project, seams=(replace(seam, dihedral=180.0),))
    assert derive(flat, stock(6), None, plan).problems == {}


def test_a_piece_is_not_glued_onto_itself():
    own = piece("a", build=Build(placing=Placing("a")))
    plan = derive(Project(pieces=(own,)), stock(6))
    assert plan.made["a"].cuts[0].piece.labels == ()


def test_a_base_of_another_foam_bends_by_its_own_book():
    own, other = FoamBook(neutral=0.5), FoamBook(neutral=0.2)
    shop = stock(6)
    shop = replace(
        shop,
        materials=(
            Material("eva", "EVA foam", True, own),
            Material("tile", "Tile", False, other),
        ),
    )
    base = piece("base", rectangle(300, 100), 6, Build(form=rolled(60)), material="tile")
    panel = piece("panel", rectangle(120, 40), 4, Build(placing=Placing("base")))
    plan = derive(Project(pieces=(base, panel)), shop)
    turn = 120 / 60
    expected = turn * (60 + 6 + 2) - turn * (60 + 0.2 * 6)
    assert plan.made["panel"].cuts[0].changes[0].amount == pytest.approx(expected)
