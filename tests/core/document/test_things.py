from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.things import drop_thing, fresh_thing_id, put_thing
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.files.project_file import decode_project, encode_project

LAMP = Thing("thing", "lantern light", 2, Decimal("4.20"), "Dewpond", "", ThingStanding.ORDERED)


def test_things_are_put_changed_and_taken_out():
    project = put_thing(Project(), LAMP)
    assert fresh_thing_id(project) == "thing-2"
    more = put_thing(project, Thing("thing-2", "zip"))
    changed = put_thing(more, Thing("thing", "lantern light", 3))
    assert [(t.id, t.count) for t in changed.things] == [("thing", 3), ("thing-2", 1)]
    assert drop_thing(changed, "thing").things == (Thing("thing-2", "zip"),)
    assert drop_thing(changed, "nothing") == changed


def test_things_are_saved_with_the_project():
    project = put_thing(Project(), LAMP)
    project = put_thing(project, Thing("z", "zip", needed="2027-03-01", arrives="2027-03-05"))
    assert decode_project(encode_project(project)) == project


def test_what_is_on_hand_costs_nothing_and_what_comes_after_its_day_is_late():
    assert LAMP.cost == Decimal("8.40")
    assert Thing("a", "buckle", 4).cost == 0
    here = Thing("a", "b", 1, Decimal(3), standing=ThingStanding.ON_HAND)
    assert here.cost == 0
    late = {"needed": "2027-03-01", "arrives": "2027-03-02"}
    assert Thing("a", "b", **late).late
    assert not Thing("a", "b", standing=ThingStanding.ON_HAND, **late).late
    assert not Thing("a", "b", needed="2027-03-01", arrives="2027-03-01").late
    assert not Thing("a", "b", arrives="2027-03-01").late


@pytest.mark.parametrize(
    "wrong",
    [
        {"name": " "},
        {"count": 0},
        {"price": Decimal(-1)},
        {"price": Decimal("NaN")},
        {"arrives": "1 March"},
        {"needed": "2027-13-01"},
    ],
)
def test_what_makes_no_sense_is_refused(wrong):
    with pytest.raises(InputError):
        Thing(**({"id": "t", "name": "zip"} | wrong))
