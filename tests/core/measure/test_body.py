"""A body of ellipses: its girths are the wearer's, its meshes closed."""

import math

import numpy as np
import pytest
import trimesh
from scipy.special import ellipe

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import MeshFormer
from ivory_quilt.core.formup.formers import distance_grid
from ivory_quilt.core.measure.body import BodyPart, body_part, ellipse_of
from ivory_quilt.core.measure.wearer import Measure, Wearer

VALUES = {
    "head": 570,
    "head-height": 230,
    "neck": 370,
    "chest": 960,
    "waist": 820,
    "hip": 990,
    "torso": 430,
    "upper-arm": 310,
    "elbow": 270,
    "forearm": 265,
    "wrist": 170,
    "arm": 600,
    "thigh": 560,
    "knee": 380,
    "calf": 370,
    "ankle": 230,
    "knee-height": 500,
    "leg": 790,
}
WEARER = Wearer("w", "lamplighter", tuple(Measure(k, float(v)) for k, v in VALUES.items()))


@pytest.mark.parametrize("flat", [0.4, 0.7, 0.9, 1.0])
def test_an_ellipse_has_the_girth_that_was_measured(flat):
    # The perimeter is 4 a E(m), m = 1 − (b/a)² (Abramowitz and Stegun 17.3.3).
    wide, deep = ellipse_of(820.0, flat)
    assert deep / wide == pytest.approx(flat)
    assert 4 * wide * ellipe(1 - flat**2) == pytest.approx(820.0, rel=1e-5)


@pytest.mark.parametrize("part", BodyPart)
def test_every_part_is_closed_and_looks_outwards(part):
    vertices, triangles = body_part(WEARER, part)
    mesh = trimesh.Trimesh(vertices, triangles, process=False)
    assert mesh.is_watertight
    assert mesh.volume > 0


@pytest.mark.parametrize(
    ("part", "share", "girth"),
    [
        (BodyPart.FOREARM, 0.7, 265),
        (BodyPart.SHIN, 0.65, 370),
        (BodyPart.THIGH, 0.85, 560),
        (BodyPart.TORSO, 0.32, 820),
    ],
)
def test_a_limb_has_its_girths_where_they_are_measured(part, share, girth):
    vertices, triangles = body_part(WEARER, part)
    mesh = trimesh.Trimesh(vertices, triangles, process=False)
    high = share * vertices[:, 2].max()
    cut = mesh.section((0, 0, 1), (0, 0, high))
    assert cut.length == pytest.approx(girth, rel=0.01)


def test_a_head_is_as_high_and_as_round_as_measured():
    vertices, triangles = body_part(WEARER, BodyPart.HEAD)
    assert np.ptp(vertices[:, 2]) == pytest.approx(230)
    a, b = ellipse_of(570.0, 0.78)
    volume = trimesh.Trimesh(vertices, triangles, process=False).volume
    assert volume == pytest.approx(4 / 3 * math.pi * a * b * 115, rel=0.02)
    grid = distance_grid(MeshFormer(vertices, triangles))
    far, _ = grid.away(np.array([(0.0, a + 10, 0.0), (0.0, 0.0, 125.0)]))
    assert far == pytest.approx((10, 10), abs=2.0)


def test_what_is_missing_or_contradicts_itself_is_named():
    with pytest.raises(InputError, match="lamplighter, head: no 'head'"):
        body_part(Wearer("w", "lamplighter"), BodyPart.HEAD)
    short = WEARER.with_measure(Measure("leg", 510.0))
    with pytest.raises(InputError, match="lamplighter, thigh: 10 mm long"):
        body_part(short, BodyPart.THIGH)
