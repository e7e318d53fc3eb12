"""How cut faces come together: what closes, what leaves a step, and the words for it."""

import math

import pytest

from ivory_quilt.core.edges.bevels import flare_offset, mitre, mitre_unequal, unequal_mitre
from ivory_quilt.core.edges.mating import Mate, mate_of
from ivory_quilt.core.edges.profiles import from_table, with_kind
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.record import replace
from tests.core.edges.plates import plate

MATE = Mate(30.0, 30.0, (6.9, 6.9), 0.0, False, 120.0)


def test_equal_bevels_mate():
    assert MATE.good
    assert MATE.sentence == "edges mate"
    figures = {(s.text, round(s.value, 3)) for s in MATE.reckon().steps}
    assert ("bevels must come to", 60.0) in figures
    assert ("blade from the table", 60.0) not in figures
    assert [s.value for s in MATE.reckon().steps][:6] == [60.0, 30.0, 60.0, 30.0, 60.0, 0.0]


@pytest.mark.parametrize(
    ("gap", "words"),
    [
        (0.9, "edges mate"),
        (-0.9, "edges mate"),
        (1.2, "bevels gape by 1° at 120°"),
        (-1.2, "bevels leave no room by 1° at 120°"),
    ],
)
def test_a_degree_is_as_true_as_a_hand_holds_a_knife(gap, words):
    """Common practice, no source."""
    assert replace(MATE, gap=gap).sentence == words


@pytest.mark.parametrize(("second", "flush"), [(7.35, True), (6.45, True), (7.5, False)])
def test_cut_faces_may_differ_by_half_a_millimetre(second, flush):
    mate = replace(MATE, faces=(6.9, second))
    assert mate.flush == mate.good == flush
    assert replace(mate, butt=True).flush
    assert flush or mate.sentence == "cut faces of 6.9 and 7.5 mm leave a step"


def test_what_gapes_and_what_has_a_step_are_both_no_good():
    assert not replace(MATE, gap=5.0).good
    assert not replace(MATE, faces=(6.0, 9.0)).good


@pytest.mark.parametrize(
    ("dihedral", "joint", "first", "second", "gap"),
    [
        (180.0, Joint.MITRE, 0, 0, 0.0),
        (90.0, Joint.MITRE, 0, 0, 90.0),
        (90.0, Joint.MITRE, 45, 45, 0.0),
        (120.0, Joint.MITRE, 30, 10, 20.0),
        (90.0, Joint.BUTT, 0, 0, 0.0),
        (100.0, Joint.BUTT, 0, 45, -10.0),
        (270.0, Joint.BUTT, 0, 0, 0.0),
        (200.0, Joint.BUTT, 0, 0, 70.0),
        (180.0, Joint.BUTT, 0, 0, -90.0),
    ],
)
def test_what_two_edges_leave_open(dihedral, joint, first, second, gap):
    """A mitre's bevels and its angle make half a turn; what butts stands on a square face."""
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"), dihedral=dihedral, joint=joint)
    one = plate("a", B=Profile(ProfileKind.OUT, first)) if first else plate("a")
    two = plate("b", D=Profile(ProfileKind.OUT, second)) if second else plate("b")
    mate = mate_of(seam, {"a": one, "b": two})
    assert mate.gap == pytest.approx(gap)
    assert mate.butt == (joint is Joint.BUTT)
    assert mate_of(seam, {"a": one}) is None
    assert mate_of(seam, {"b": two}) is None


def test_cut_faces_are_wider_by_the_slant():
    """Thickness ÷ cos 60° is twice the thickness."""
    seam = Seam(EdgeRef("a", "B"), EdgeRef("b", "D"), dihedral=120.0)
    pieces = {"a": plate("a", B=Profile(ProfileKind.OUT, 60.0)), "b": plate("b", 8.0)}
    mate = mate_of(seam, pieces)
    assert mate.faces == pytest.approx((12.0, 8.0))
    assert [s.value for s in mate.reckon().steps][-2:] == pytest.approx([12.0, 8.0])


@pytest.mark.parametrize("dihedral", [0.5, 180.5])
def test_a_mitre_is_between_a_fold_and_a_flat(dihedral):
    assert mitre(180.0).results["bevel"] == 0.0
    assert mitre(1.0).results["bevel"] == 89.5
    with pytest.raises(InputError, match="dihedral"):
        mitre(dihedral)


@pytest.mark.parametrize("kind", list(ProfileKind))
def test_another_profile_starts_from_its_usual_width(kind):
    """From memory, no source: blade 3 ×, rounding half, lap once the thickness."""
    usual = {ProfileKind.BLADE: 18.0, ProfileKind.ROUND: 3.0, ProfileKind.LAP: 6.0}
    fresh = with_kind(Profile(angle=20.0), kind, 6.0)
    assert (fresh.kind, fresh.angle, fresh.width) == (kind, 20.0, usual.get(kind, 0.0))
    assert with_kind(Profile(width=5.0), kind, 6.0).width == 5.0


def test_a_blade_is_set_from_the_table_or_from_square():
    assert [from_table(b) for b in (0.0, 30.0, 90.0, -20.0)] == [90.0, 60.0, 0.0, 110.0]
    assert mitre(90.0).results == {"bevel": 45.0, "from_table": 45.0}
    assert mitre(120.0).results["from_table"] == pytest.approx(60.0)
    table = {s.text: s.value for s in mitre(120.0).steps}
    assert table["the blade from the table"] == pytest.approx(60.0)


@pytest.mark.parametrize(("angle", "cuts"), [(78.0, True), (82.0, False)])
def test_no_blade_cuts_beyond_80_degrees(angle, cuts):
    """From memory, no source; the offset is thickness × tan."""
    if not cuts:
        with pytest.raises(InputError):
            flare_offset(10.0, angle)
        return
    assert flare_offset(10.0, angle) == pytest.approx(47.046, abs=1e-3)


def test_unequal_foam_meets_with_equal_faces():
    """Both cut faces are one hypotenuse, t₁ ÷ cos β₁ = t₂ ÷ cos β₂; β₁ + β₂ = 180° − dihedral."""
    found = unequal_mitre(90.0, 6.0, 10.0)
    assert found.bevel_1 + found.bevel_2 == pytest.approx(90.0)
    # At a right angle the face is the diagonal of 6 by 10.
    assert math.tan(math.radians(found.bevel_1)) == pytest.approx(10 / 6)
    reckoned = mitre_unequal(90.0, 6.0, 10.0)
    assert reckoned.results["face"] == pytest.approx(math.hypot(6, 10))
    assert reckoned.results["bevel_2"] == pytest.approx(found.bevel_2)
