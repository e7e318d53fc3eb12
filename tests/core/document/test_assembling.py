"""From pieces and seams to an assembly: which way each lies, both hands, bevels, forms."""

import math

import numpy as np
import pytest

from ivory_quilt.core.document.assembling import assembly_of, joined_to
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import let_meet
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Meeting
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.skin import solid_of_form
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import (
    Build,
    Face,
    Form,
    FormKind,
    Given,
    Layer,
    Profile,
    ProfileKind,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, marks_locally
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project


def seam(one, first, other, second, **more):
    return Seam(
        EdgeRef(one.id, edges_of(one)[first].name),
        EdgeRef(other.id, edges_of(other)[second].name),
        **more,
    )


A = Piece("a", "crown", rectangle(120, 80))
B = Piece("b", "side", rectangle(120, 60))
C = Piece("c", "strap", rectangle(30, 60))


def test_pieces_that_seams_connect_are_one_assembly_in_the_projects_order():
    project = Project(pieces=(C, A, B), seams=(seam(A, 2, B, 0),))
    assert joined_to(project, "b") == ("a", "b")
    assert joined_to(project, "c") == ("c",)
    made = assembly_of(project, "b")
    assert (made.pieces, made.seams) == (("a", "b"), (0,))
    shape = form(made.assembly).shape
    assert shape.size[:2] == pytest.approx((140, 120), abs=0.5)
    assert shape.strain.p99 < 1e-6


def test_a_bevelled_seam_turns_the_faces_apart_by_its_angle():
    project = Project(pieces=(A, B), seams=(seam(A, 2, B, 0, dihedral=120.0),))
    made = assembly_of(project, "a")
    assert made.assembly.seams[0].meet is Meeting.ANGLE
    outcome = form(made.assembly).seams[0]
    assert outcome.angle == pytest.approx(120, abs=0.01)


def test_a_seam_that_is_turned_lays_the_second_piece_the_other_way_up():
    project = Project(pieces=(A, B), seams=(seam(A, 2, B, 0, turned=True),))
    panels = assembly_of(project, "a").assembly.panels
    assert [p.mirrored for p in panels] == [False, True]
    twisted = replace(project, seams=(*project.seams, seam(A, 0, B, 2)))
    with pytest.raises(InputError, match=r"seam crown .*twists against side"):
        assembly_of(twisted, "a")


def test_an_edge_that_meets_the_other_hands_brings_both_hands():
    pair = replace(A, hand=Hand.PAIR)
    edge = edges_of(pair)[1].name
    project = Project(pieces=(pair,), seams=(Seam(EdgeRef("a", edge), EdgeRef("a", edge)),))
    made = assembly_of(project, "a")
    assert [p.mirrored for p in made.assembly.panels] == [False, True]
    assert made.pieces == ("a", "a")
    assert form(made.assembly).shape.size[0] == pytest.approx(240, abs=0.5)
    lone = Project(pieces=(A,), seams=project.seams)
    made = assembly_of(lone, "a")
    assert len(made.assembly.panels) == 1
    assert made.notes == ("crown is no pair: it cannot meet its other hand.",)


def test_a_pair_beside_a_middle_piece_comes_in_both_hands():
    middle = Build(form=Form(face=Face.MIDDLE))
    floor, side = replace(A, build=middle), replace(B, hand=Hand.PAIR, build=middle)
    project = Project(pieces=(floor, side), seams=(seam(A, 2, side, 0, dihedral=120.0),))
    made = assembly_of(project, "a")
    assert made.pieces == ("a", "b", "b")
    assert [p.mirrored for p in made.assembly.panels] == [False, False, True]
    formed = form(made.assembly)
    assert [s.angle for s in formed.seams] == pytest.approx([120, 120], abs=0.1)
    # A channel: 80 mm of floor and both sides of 60 mm at 120°: 30 mm more to either side.
    assert formed.shape.size[0] == pytest.approx(80 + 60, abs=1.0)
    odd = replace(A, shape=Shape.make([(0, 0), (90, 0), (120, 80), (0, 80)]))
    made = assembly_of(replace(project, pieces=(odd, side)), "a")
    assert made.pieces == ("a", "b")
    assert "finds no edge of that length on crown" in made.notes[0]


def test_forms_layers_and_faces_go_into_the_assembly():
    bent = Build(form=Form(FormKind.ROLLED, Given.RADIUS, 60.0, face=Face.OUTER))
    rolled = replace(A, build=bent, thickness=6.0)
    made = assembly_of(Project(pieces=(rolled,)), "a").assembly
    assert made.panels[0].face is Face.OUTER
    shape = form(made).shape
    assert shape.strain.p99 < 1e-3
    assert shape.size[2] > 10
    thick = replace(A, build=Build(layers=(Layer(4.0),)), thickness=6.0)
    assert assembly_of(Project(pieces=(thick,)), "a").assembly.panels[0].thickness == 10.0


def test_corners_of_edges_are_found_on_a_curved_outline():
    round_ = Shape.make([(0, 0), (100, 0), (100, 40), (80, 60), (50, 66), (20, 60), (0, 40)])
    piece = Piece("r", "round", round_)
    project = Project(pieces=(piece, A), seams=())
    names = [e.name for e in edges_of(piece)]
    joined = replace(project, seams=(Seam(EdgeRef("r", names[0]), EdgeRef("a", "A")),))
    made = assembly_of(joined, "r").assembly
    outcome = form(made).seams[0]
    assert (outcome.length_a, outcome.length_b) == (pytest.approx(100), pytest.approx(120))


def test_every_group_of_the_demo_stands():
    project = demo_project()
    groups = {joined_to(project, p.id) for p in project.pieces}
    for ids in sorted(g for g in groups if any(s.first.piece in g for s in project.seams)):
        formed = form(assembly_of(project, ids[0], edge=14.0).assembly)
        assert formed.settled, ids
        assert max(abs(formed.strain.p01), formed.strain.p99) < 0.1, ids


def rims(shape):
    """Return the outer faces' rim points of both panels along their seam, as they are painted."""
    solid = solid_of_form(shape)
    outer = [line for k, line in enumerate(solid.outlines[:4]) if k % 2 == 0]
    return [line[:-1] for line in outer]


@pytest.mark.parametrize("dihedral", [100.0, 140.0, 230.0])
def test_square_edges_leave_a_wedge_and_bevels_that_meet_leave_none(dihedral):
    """Two square edges of thickness t at an angle θ off flat stand 2 t sin(θ/2) apart outside."""
    project = Project(pieces=(A, B), seams=(seam(A, 2, B, 0, dihedral=dihedral),))
    square = form(assembly_of(project, "a", 20.0).assembly)
    wanted = 2 * 6.0 * math.sin(math.radians(abs(180 - dihedral)) / 2)
    assert square.seams[0].wedge == pytest.approx(wanted, rel=1e-3)
    met = let_meet(project, project.seams[0])
    bevelled = form(assembly_of(met, "a", 20.0).assembly)
    assert bevelled.seams[0].angle == pytest.approx(dihedral, abs=0.01)
    assert bevelled.seams[0].wedge == pytest.approx(0.0, abs=1e-3)
    # That is when they turn about their inner corners. They are painted about the middle of the
    # foam, where the plate is welded: half of it stands open, half in the foam.
    for formed, gap in ((square, wanted / 2), (bevelled, 0.0)):
        one, other = rims(formed.shape)
        far = np.linalg.norm(one[:, None] - other[None], axis=2)
        close = np.sort(far.min(1))[:4]
        # In a valley the wedge is on the inner face: outside, foam stands in foam.
        assert close == pytest.approx(gap if dihedral < 180 else close, abs=0.05)


def test_a_bevel_of_the_wrong_angle_is_told_by_what_stays_open():
    project = Project(pieces=(A, B), seams=(seam(A, 2, B, 0, dihedral=120.0),))
    edges = (edges_of(A)[2].name, edges_of(B)[0].name)
    cut = [
        replace(p, build=p.build.with_profile(e, Profile(ProfileKind.OUT, 20.0)))
        for p, e in zip((A, B), edges, strict=True)
    ]
    formed = form(assembly_of(replace(project, pieces=tuple(cut)), "a", 20.0).assembly)
    # Bevelled for 40° of the 60°: 20° are left open.
    assert formed.seams[0].wedge == pytest.approx(12 * math.sin(math.radians(10)), rel=1e-3)


def test_match_marks_meet_and_the_ease_stays_between_them():
    """Edges of 120 and 126 mm: all the ease is to fall between two marks, the ends are as long."""
    long = Piece("b", "side", rectangle(126, 60))
    project = Project(pieces=(A, long), seams=(seam(A, 2, long, 0),))
    marked = marks_locally(A, long, project.seams[0], 0.4, 0.6)
    made = assembly_of(replace(project, pieces=marked), "a", 10.0).assembly
    wanted = np.array([(48 / 120, 48 / 126), (72 / 120, 78 / 126)])
    assert np.array(made.seams[0].marks) == pytest.approx(wanted, abs=1e-6)
    strains = []
    for job in (made, replace(made, seams=(replace(made.seams[0], marks=()),))):
        shape = form(job).shape
        panel = shape.panels[0]
        ends = np.abs(panel.flat[:, 0] - panel.flat[:, 0].mean()) > 40
        strains.append(np.abs(panel.at_points[ends]).max())
    # Where both are as long, nothing strains; spread over all, the ends are pulled, too.
    assert strains[0] < 0.5 * strains[1]
    with pytest.raises(InputError, match="do not follow each other"):
        replace(made, seams=(replace(made.seams[0], marks=((0.6, 0.2), (0.4, 0.7))),))
