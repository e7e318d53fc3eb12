"""Groups on the figure: where they are worn, on which side, and what lies between them."""

import numpy as np
import pytest

from ivory_quilt.core.formup.assembly import Assembly, Cylinder, FormPanel
from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.formup.skin import solid_of_suit
from ivory_quilt.core.formup.standing import between, legs_apart, stand, worn_by_name
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.figure import figure_of
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.record import replace
from tests.core.formup.nets import rectangle, tube

FIGURE = figure_of(Wearer("w", "lamplighter", (Measure("height", 1750.0),)))


@pytest.fixture(scope="module")
def plate():
    return form(Assembly((FormPanel("p", rectangle(90, 140), 6.0),), edge=20.0)).shape


@pytest.fixture(scope="module")
def greave():
    around = replace(tube(wide=330.0, high=200.0, edge=22.0), seams=(), former=Cylinder(62.0))
    return form(replace(around, firmly=True)).shape


def spots(standing):
    return np.vstack([p.places for p in standing.shape.panels])


def out_of(limb, places, grown):
    """Return how far out of a limb places lie: 1 on its skin, `grown` mm thicker."""
    own = (places - limb.low) @ limb.frame.T
    wide, deep = limb.radii(own[:, 2])
    return np.hypot(own[:, 0] / (wide + grown), own[:, 1] / (deep + grown))


@pytest.mark.parametrize(("turn", "axis", "sign"), [(0, 1, 1), (180, 1, -1), (90, 0, -1)])
def test_a_plate_lies_on_the_body_on_the_side_that_it_is_turned_to(plate, turn, axis, sign):
    worn = Worn(BodyPart.TORSO, 0.6, turn)
    standing = stand("plate", plate, FIGURE, worn, 0)
    limb = FIGURE.limb(BodyPart.TORSO, 0)
    middle = (spots(standing).min(0) + spots(standing).max(0)) / 2
    assert sign * (middle - limb.low)[axis] > 60
    assert middle[2] == pytest.approx(limb.low[2] + 0.6 * limb.length, abs=1)
    share = out_of(limb, spots(standing), 3.0)
    assert share.min() > 0.9
    assert share.min() < 1.15
    # Its outer face looks away from the body, and it stands upright.
    panel = standing.shape.panels[0]
    a, b, c = (panel.places[panel.triangles[:, k]] for k in range(3))
    assert sign * np.cross(b - a, c - a).sum(0)[axis] > 0
    assert np.ptp(spots(standing)[:, 2]) == pytest.approx(140, abs=1)


def test_the_other_hand_is_the_mirror_image(plate):
    outline = ((0.0, 0.0), (90.0, 0.0), (40.0, 140.0), (0.0, 140.0))
    lame = form(Assembly((FormPanel("p", outline, 6.0),), edge=20.0)).shape
    worn = Worn(BodyPart.UPPER_ARM, 0.8, 90)
    left, right = (stand("cap", lame, FIGURE, worn, side) for side in (-1, 1))
    assert spots(left) == pytest.approx(spots(right) * (-1, 1, 1), abs=1e-6)
    assert (left.title, right.title) == ("cap, left", "cap, right")
    arm = FIGURE.limb(BodyPart.UPPER_ARM, -1)
    assert spots(left)[:, 0].mean() < (arm.low + 0.8 * arm.length * arm.up)[0] - 20
    again = stand("cap", lame, FIGURE, worn, -1, drawn=1)
    assert not np.allclose(spots(again), spots(left), atol=1)


def test_what_goes_around_a_shin_goes_around_it(greave):
    standing = stand("greave", greave, FIGURE, Worn(BodyPart.SHIN, 0.5), 1)
    limb = FIGURE.limb(BodyPart.SHIN, 1)
    own = (spots(standing) - limb.low) @ limb.frame.T
    assert own[:, 1].min() < -20
    assert own[:, 1].max() > 40
    assert np.percentile(out_of(limb, spots(standing), 3.0), 5) > 0.8


def test_what_lies_between_plates_is_told_the_nearest_first(plate):
    low, high = (
        stand(n, plate, FIGURE, Worn(BodyPart.TORSO, h), 0)
        for n, h in (("belly", 0.4), ("breast", 0.6))
    )
    far = stand("greave", plate, FIGURE, Worn(BodyPart.SHIN, 0.5), 1)
    found = between((low, high, far))
    assert [(b.first, b.second) for b in found] == [("belly", "breast")]
    length = FIGURE.limb(BodyPart.TORSO, 0).length
    assert found[0].overlap == pytest.approx(140 - 0.2 * length, abs=2)
    same = stand("belt", plate, FIGURE, Worn(BodyPart.TORSO, 0.4), 0)
    assert between((low, same)) == ()


def test_the_legs_are_as_far_apart_as_what_is_on_them(plate):
    worn = Worn(BodyPart.SHIN, 0.5, -90)  # on the inner side of each leg
    both = tuple(stand("guard", plate, FIGURE, worn, side) for side in (-1, 1))
    gap = legs_apart(both)
    apart = spots(both[1])[:, 0].min() - spots(both[0])[:, 0].max()
    assert gap == pytest.approx(apart - 6, abs=1.5)
    assert legs_apart(both[:1]) is None


@pytest.mark.parametrize(
    ("name", "part"),
    [
        ("Shin cuff", BodyPart.SHIN),
        ("left forearm bracer", BodyPart.FOREARM),
        ("elbow cup", BodyPart.FOREARM),
        ("helmet crown", BodyPart.HEAD),
        ("thigh plate", BodyPart.THIGH),
    ],
)
def test_names_say_where_a_piece_is_worn(name, part):
    assert worn_by_name(name).part is part


def test_the_two_of_a_pair_stand_beside_the_middle_and_some_names_say_nothing():
    assert worn_by_name("wing case").turn == 180
    assert worn_by_name("wing case", pair=True).turn == 150
    assert worn_by_name("eye bezel", pair=True).turn == 30
    assert worn_by_name("lantern boss") is None
    assert worn_by_name("thing") is None


def test_the_suit_is_painted_by_thickness_and_the_body_last(plate):
    standing = stand("plate", plate, FIGURE, Worn(BodyPart.TORSO, 0.6), 0)
    limb = FIGURE.limb(BodyPart.TORSO, 0)
    solid = solid_of_suit([standing.shape], [(limb.vertices, limb.triangles)])
    assert solid.thickness == (6.0, 0.0)
    assert (solid.layer == 1).sum() == len(limb.triangles)
    assert (solid.layer == 0).sum() == len(solid.layer) - len(limb.triangles)
    # Seen from the front: up is up, the plate is nearer to the eye than the body.
    foam, body = (solid.corners[solid.layer == k] for k in (0, 1))
    assert foam[:, :, 2].max() > body[:, :, 2].max()
    assert np.ptp(body[:, :, 1]) == pytest.approx(limb.length, rel=0.01)
