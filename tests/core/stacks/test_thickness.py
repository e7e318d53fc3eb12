"""Ways to a thickness: exact before near, few joints before many."""

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stacks.thickness import make_thickness, ways_to


def words(wanted, *available):
    return [w.words for w in ways_to(wanted, available)]


def layers(wanted, *available):
    return [(w.layers, w.split) for w in ways_to(wanted, available)]


def test_what_is_at_hand_comes_first_then_what_is_glued_then_what_is_split():
    assert layers(10.0, 10, 5, 4, 6) == [
        ((10.0,), 1),
        ((6.0, 4.0), 1),
        ((5.0, 5.0), 1),
    ]
    assert layers(5.0, 10, 3, 2) == [((3.0, 2.0), 1), ((10.0,), 2)]


def test_no_more_than_four_layers_and_four_from_one_sheet():
    assert layers(8.0, 2) == [((2.0, 2.0, 2.0, 2.0), 1)]
    assert layers(10.0, 2) == []
    assert layers(2.0, 8) == [((8.0,), 4)]
    assert layers(2.0, 10) == []


@pytest.mark.parametrize(("at_hand", "exact"), [(6.045, True), (5.955, True), (6.06, False)])
def test_foam_is_no_truer_than_a_twentieth(at_hand, exact):
    (step,) = make_thickness(6.0, (at_hand,)).steps
    assert (step.text == "as it is") == exact
    assert exact or step.text == "other thickness, allowances changed"


@pytest.mark.parametrize(
    ("at_hand", "near"), [(5.2, True), (6.8, True), (5.0, False), (7.1, False)]
)
def test_another_thickness_within_15_percent_is_offered(at_hand, near):
    """From memory, no source."""
    assert bool(layers(6.0, at_hand)) == near


def test_the_two_nearest_stand_in_only_where_nothing_exact_is_whole():
    assert layers(10.0, 11, 9, 9.5, 20) == [((20.0,), 2), ((9.5,), 1), ((11.0,), 1)]
    assert ((11.0,), 1) not in layers(10.0, 10, 11)
    assert layers(10.0, 5, 9.5)[0] == ((5.0, 5.0), 1)


def test_each_way_says_what_it_costs_in_work():
    texts = [(s.text, s.value) for s in make_thickness(10.0, (10.0, 5.0, 20.0, 4.0, 2.0)).steps]
    assert texts[0] == ("as it is", 10.0)
    assert ("1 glue faces", 10.0) in texts
    assert ("2 glue faces", 10.0) in texts
    assert ("split with a long blade, one rough face", 10.0) in texts
    assert words(10.0, 20)[0].endswith("split in 2")


def test_what_makes_no_sense_is_refused():
    for wanted, available in ((0.0, (6.0,)), (6.0, (0.0,)), (6.0, ())):
        with pytest.raises(InputError):
            ways_to(wanted, available)
    many = tuple(1.0 + k / 10 for k in range(41))
    with pytest.raises(InputError, match="41 thicknesses"):
        ways_to(6.0, many)
    assert ways_to(6.0, many[:40]) is not None
