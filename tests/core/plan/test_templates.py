"""What stands on a template: numbers, sharing, edges and what they meet, codes."""

import numpy as np
import pytest

from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.document.seam_book import join_edges
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.build import Build, Layer, LayerSize, Profile, ProfileKind
from ivory_quilt.core.pattern.piece import Hand, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.templates import (
    edge_words,
    find_code,
    template_code,
    templates_by_part,
    templates_of,
    use_words,
    version_of,
)
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock

LEG = Shape.make([(0, 0), (120, 0), (100, 60), (0, 80)])


def made(*pieces, **more):
    return templates_of(derive(Project("t", tuple(pieces), **more), ShopStock()))


def numbers(templates):
    return [[u.number for u in t.uses] for t in templates]


def test_pieces_are_numbered_and_their_layers_lettered():
    layers = (Layer(4.0, size=LayerSize.INSET, by=8.0), Layer(2.0, size=LayerSize.INSET, by=16.0))
    build = Build(layers=layers)
    templates = made(Piece("a", "leg", LEG, build=build), Piece("b", "arm", rectangle(90, 50)))
    assert numbers(templates) == [["1"], ["1a"], ["1b"], ["2"]]
    assert [t.number for t in templates] == ["1", "1a", "1b", "2"]


def test_layers_of_one_outline_share_a_template():
    (template,) = made(Piece("a", "horn", LEG, build=Build(layers=(Layer(4.0), Layer(2.0)))))
    assert [u.number for u in template.uses] == ["1", "1a", "1b"]
    assert [use_words(u, "EVA").split(" · ")[1] for u in template.uses] == [
        "6 mm EVA",
        "4 mm EVA",
        "2 mm EVA",
    ]


@pytest.mark.parametrize(
    ("other", "shared", "over"),
    [
        (LEG, True, False),
        (Shape.make(LEG.outer[[2, 3, 0, 1]] + 40), True, False),
        (LEG.mirrored(), True, True),
        (Shape.make(LEG.outer @ np.array([(0.0, 1.0), (-1.0, 0.0)])), True, False),
        (LEG.scaled(1.01), False, False),
        (Shape.make([(0, 0), (120, 0), (100, 60), (0, 81)]), False, False),
    ],
)
def test_pieces_of_one_outline_share_wherever_they_lie(other, shared, over):
    templates = made(Piece("a", "leg", LEG), Piece("b", "arm", other, thickness=4.0))
    assert len(templates) == (1 if shared else 2)
    uses = [u for t in templates for u in t.uses]
    assert [u.number for u in uses] == ["1", "2"]
    assert [u.turned_over for u in uses] == [False, over]
    words = use_words(uses[1], "EVA")
    assert "4 mm EVA" in words
    assert ("template turned over" in words) == over


def test_what_is_drawn_differently_shares_nothing():
    line = PieceLine(LineKind.SCORE, np.array([(10.0, 10.0), (90.0, 10.0)]))
    scored = Piece("b", "arm", LEG, lines=(line,))
    assert len(made(Piece("a", "leg", LEG), scored)) == 2
    assert len(made(replace(scored, id="a"), scored)) == 1
    marked = Piece("c", "c", LEG, match_marks=((60.0, 0.0),))
    assert len(made(Piece("a", "leg", LEG), marked)) == 2
    square = Piece("s", "s", rectangle(60, 60), match_marks=((30.0, 0.0),))
    turned = replace(square, id="t", match_marks=((60.0, 30.0),))
    assert len(made(square, turned)) == 1  # a quarter turn lays mark on mark
    moved = replace(marked, id="d", match_marks=((50.0, 0.0),))
    assert len(made(marked, moved)) == 2


def test_edges_say_how_they_are_cut_and_what_they_meet():
    one = Piece("a", "leg", rectangle(120, 80), match_marks=((60.0, 0.0),))
    two = Piece("b", "arm", rectangle(120, 50))
    bevelled = replace(one, build=Build().with_profile("B", Profile(ProfileKind.OUT, 30)))
    project = join_edges(Project("t", (bevelled, two)), Seam(EdgeRef("a", "A"), EdgeRef("b", "C")))
    first, second = templates_of(derive(project, ShopStock()))
    assert {n.name: edge_words(n) for n in first.edges} == {"A": "A · to 2 C", "B": "B · 30° out"}
    assert [edge_words(n) for n in second.edges] == ["C · to 1 A"]
    assert [said for _, said in first.partners] == [("2 C",)]
    assert first.profiles == (("B", 30.0, 0.0),)
    # What is said along the edges is not said again among the labels.
    assert [k.text for k in first.piece.labels] == []


def test_a_half_says_only_what_is_on_it():
    centre = PieceLine(LineKind.CENTRE, np.array([(60.0, 0.0), (60.0, 80.0)]))
    plate = Piece("a", "plate", rectangle(120, 80), lines=(centre,))
    other = Piece("b", "side", rectangle(80, 40))
    seams = (Seam(EdgeRef("a", "B"), EdgeRef("b", "A")), Seam(EdgeRef("a", "D"), EdgeRef("b", "C")))
    whole, _ = made(plate, other, seams=seams)
    half, _ = made(plate, other, seams=seams, halves=True)
    assert {n.name for n in whole.edges} == {"B", "D"}
    assert len(half.edges) == 1


def test_a_pair_is_one_template_and_never_turned_over_for_itself():
    (template,) = made(Piece("a", "cuff", LEG, hand=Hand.PAIR))
    assert use_words(template.uses[0], "EVA").startswith("cut 1 left as drawn, 1 right flipped")
    assert not template.uses[0].turned_over


# Codes


def troupe(scale=0.9):
    wearers = (Wearer("m", "Moth"), Wearer("b", "Bat"))
    members = (Member("m", 1, scale), Member("b", 1, 1.1))
    return Project("t", (Piece("a", "leg", LEG),), wearers=wearers, troupe=members)


def test_each_wearer_has_templates_and_codes_of_their_own():
    plan = derive(troupe(), ShopStock())
    moth, bat = templates_of(plan)
    assert (moth.whom, moth.scale, bat.whom, bat.scale) == ("Moth", 0.9, "Bat", 1.1)
    assert moth.code != bat.code
    assert find_code(moth.code, (moth, bat)) == (moth, True)
    assert find_code(f"  {bat.code.lower()} ", (moth, bat)) == (bat, True)
    assert templates_of(plan, wearer="b") == (bat,)


def test_suits_of_one_size_are_traced_with_one_template():
    project = replace(troupe(), pieces=(Piece("a", "leg", LEG, hand=Hand.PAIR),))
    alike = replace(project, troupe=(Member("m", 1, 0.9), Member("b", 1, 0.9)))
    plan = derive(alike, ShopStock())
    (template,) = templates_of(plan)
    parts = [part.id for foam in plan.foams for part in foam.parts]
    assert len(parts) == 4
    assert templates_by_part(plan) == {part: ("1", template) for part in parts}
    plan = derive(project, ShopStock())
    found = templates_by_part(plan)
    assert {i: t.whom for i, (_, t) in found.items()} == {
        "a/left@m": "Moth",
        "a/right@m": "Moth",
        "a/left@b": "Bat",
        "a/right@b": "Bat",
    }


def test_an_older_template_is_told_from_the_present_one():
    before = templates_of(derive(troupe(), ShopStock()))
    after = templates_of(derive(troupe(0.95), ShopStock()))
    assert find_code(before[0].code, after) == (after[0], False)
    assert find_code(before[1].code, after) == (after[1], True)
    assert version_of(before) != version_of(after)
    renamed = change_piece(troupe(), "a", name="long leg")
    assert version_of(templates_of(derive(renamed, ShopStock()))) == version_of(before)


def test_codes_of_nothing_here_are_told():
    (leg,) = made(Piece("a", "leg", LEG))
    (other,) = made(Piece("z", "z", LEG))
    assert find_code(other.code, (leg,)) == (None, False)
    assert template_code("hello") is None
    with pytest.raises(InputError, match="code: 'hello'"):
        find_code("hello", (leg,))
