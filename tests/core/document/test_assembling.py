"""From pieces and seams to an assembly: which way each lies, both hands, bevels, forms."""

from dataclasses import replace

import pytest

from ivory_quilt.core.document.assembling import assembly_of, joined_to
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Meeting
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.build import Build, Face, Form, FormKind, Given, Layer
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
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
