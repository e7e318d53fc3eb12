"""Pictures of solids: what covers what, from which side."""

import numpy as np
import pytest

from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Layer, LayerSize
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.core.rendering.scene import STRAIGHT, Scene, View, picture
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.solid import solid_of
from ivory_quilt.demo.project import demo_project


def plate(build):
    return Piece("a", "plate", rectangle(300.0, 90.0), build=build)


YELLOW, BLUE = (214, 180, 70), (70, 110, 190)


def seen(solid, turn, tilt=0.0, wide=200, high=200, colours=(BLUE, YELLOW, BLUE)):
    view = View(Camera(turn, tilt), wide, high, colours, (0, 0, 0))
    return picture(Scene.of(solid), view)


def test_the_look_shows_layers_and_turns():
    piece = plate(Build())
    solid = solid_of(piece, CutContext())
    front = seen(solid, 0, 0)
    covered = (front[..., 3] > 0).sum()
    # Seen from the front a plate of 300 by 90 fills its own share of the picture.
    scale = 0.88 * 100 / solid.reach
    assert covered == pytest.approx(300 * 90 * scale**2, rel=0.06)
    edge = seen(solid, 0, 89)
    assert (edge[..., 3] > 0).sum() < covered / 5
    behind = seen(solid, 179, 0)
    assert (behind[..., 3] > 0).sum() == pytest.approx(covered, rel=0.05)


def test_what_is_nearer_hides_what_is_behind():
    piece = plate(Build(layers=(Layer(2.0, size=LayerSize.INSET, by=30),)))
    solid = solid_of(piece, CutContext())
    middle = seen(solid, 0, 0, 300, 300)[150, 150, :3]
    behind = seen(solid, 180, 0, 300, 300)[150, 150, :3]
    assert middle[2] > middle[0]  # the yellow 2 mm layer, blue green red
    assert behind[2] < behind[0]  # the back of the 6 mm piece


def test_the_demos_largest_piece_is_another_picture_from_every_side():
    """How fast it turns is a figure of the benchmark."""
    largest = max(demo_project().pieces, key=lambda p: p.shape.area)
    solid = solid_of(largest, CutContext())
    pictures = [seen(solid, k * 60.0, -20, 200, 150) for k in range(6)]
    assert len({image.tobytes() for image in pictures}) == 6
    assert all((image[..., 3] > 0).sum() > 300 for image in pictures)
    again = seen(solid, 360.0, -20, 200, 150)
    assert np.abs(again.astype(int) - pictures[0].astype(int)).max() <= 1


def test_a_flat_picture_has_each_colour_where_it_was_put():
    left = [(10, 10), (60, 10), (10, 90)]
    right = [(110, 10), (110, 90), (60, 90)]  # the other way round: it has no back
    scene = Scene.flat(np.array([left, right], dtype=float), np.array([1, 0]), 2, 120, 100)
    paper = (250, 248, 240)
    made = picture(scene, View(STRAIGHT, 120, 100, (YELLOW, BLUE), (0, 0, 0), ground=paper))
    assert made.shape == (100, 120, 4)
    for (x, y), colour in (((20, 20), BLUE), ((100, 70), YELLOW), ((60, 50), paper)):
        assert tuple(made[y, x, 2::-1].tolist()) == pytest.approx(colour, abs=1)
    assert (made[..., 3] == 255).all()
    covered = (made[..., :3] != np.array(paper[::-1], dtype=np.uint8)).any(axis=2)
    assert covered.sum() == pytest.approx(2 * 50 * 80 / 2, rel=0.05)
    assert not covered[:, :9].any()
    assert not covered[:9].any()


def test_a_ground_is_seen_where_there_is_no_foam_and_shines_through_nothing():
    solid = solid_of(plate(Build()), CutContext())
    clear = seen(solid, -28, -22)
    view = View(Camera(-28, -22), 200, 200, (BLUE, YELLOW, BLUE), (0, 0, 0), ground=(9, 8, 7))
    grounded = picture(Scene.of(solid), view)
    foam = clear[..., 3] > 0
    assert (grounded[foam] == clear[foam]).all()
    assert (grounded[~foam] == (7, 8, 9, 255)).all()


def test_layers_beyond_the_colours_that_are_given_take_them_again():
    solid = solid_of(plate(Build(layers=(Layer(2.0), Layer(4.0)))), CutContext())
    given = seen(solid, 0, 0, colours=(BLUE,))
    assert (given == seen(solid, 0, 0, colours=(BLUE, BLUE, BLUE))).all()
