"""Whose suits a project makes, and in which sizes."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.troupe import drop_member, member_of, put_member, size_pieces
from ivory_quilt.core.document.wearers import add_wearer, remove_wearer
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.troupe import MOST_SUITS, Member


@pytest.fixture
def project():
    return add_wearer(add_wearer(Project("troupe"), "Lantern bearer"), "Moth")


def test_a_member_is_put_in_changed_and_dropped(project):
    assert member_of(project, "wearer") is None
    made = put_member(project, Member("wearer", 2, 0.9))
    made = put_member(made, Member("wearer-2"))
    assert [m.wearer for m in made.troupe] == ["wearer", "wearer-2"]
    made = put_member(made, Member("wearer", 3, 0.95))
    assert member_of(made, "wearer") == Member("wearer", 3, 0.95)
    assert [m.wearer for m in made.troupe] == ["wearer", "wearer-2"]
    assert drop_member(made, "wearer").troupe == (Member("wearer-2"),)
    with pytest.raises(InputError, match="wearer 'nobody'"):
        put_member(project, Member("nobody"))


def test_a_wearer_who_goes_takes_the_suit_along(project):
    made = put_member(project, Member("wearer"))
    assert remove_wearer(made, "wearer").troupe == ()


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"count": 0}, "suits: 0"),
        ({"count": MOST_SUITS + 1}, "suits"),
        ({"scale": 0.1}, "size: 10 %"),
        ({"scale": float("nan")}, "size"),
        ({"own": (("a", 9.0),)}, "size: 900 %"),
        ({"own": (("a", 1.0), ("a", 1.1))}, "two sizes"),
    ],
)
def test_a_member_that_makes_no_sense_is_refused(wrong, said):
    with pytest.raises(InputError, match=said):
        Member("w", **wrong)


def test_a_troupe_names_each_wearer_once_and_only_those_there(project):
    with pytest.raises(InputError, match="no wearer 'x'"):
        Project(troupe=(Member("x"),))
    with pytest.raises(InputError, match="in it twice"):
        Project(wearers=project.wearers, troupe=(Member("wearer"), Member("wearer")))


def test_pieces_have_sizes_of_their_own_until_those_are_the_suits():
    member = size_pieces(Member("w", 1, 0.9), ["cuff", "cap"], 1.05)
    assert member.own == (("cap", 1.05), ("cuff", 1.05))
    assert [member.scale_of(i) for i in ("cuff", "band")] == [1.05, 0.9]
    assert size_pieces(member, ["cap"], 0.9).own == (("cuff", 1.05),)
    assert member.size != Member("w", 1, 0.9).size
    assert Member("a", 2, 0.9).size == Member("b", 1, 0.9).size
