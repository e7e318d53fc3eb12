"""Records: frozen, compared and hashed by their fields, checked again when replaced."""

import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

POINTS = [(0.0, 0.0), (5.0, 5.0)]


def test_a_record_is_its_fields():
    assert Pose(1.0, 2.0) == Pose(1.0, 2.0, 0.0, mirrored=False)
    assert Pose(1.0, 2.0) != Pose(1.0, 2.0, 90.0)
    assert len({Pose(1.0, 2.0), Pose(1.0, 2.0), Pose(2.0, 1.0)}) == 2
    assert repr(Pose(1.0, 2.0)) == "Pose(x=1.0, y=2.0, rotation=0.0, mirrored=False)"


def test_lines_are_alike_by_their_points_whichever_way_it_is_asked():
    one, alike = (PieceLine(LineKind.SCORE, np.array(POINTS)) for _ in range(2))
    assert one == alike
    assert (one != alike) is False
    assert one != replace(one, name="2")
    assert (one == replace(one, kind=LineKind.MARK)) is False
    assert len({one, alike}) == 1


def test_a_record_cannot_be_changed_and_its_copy_is_checked():
    with pytest.raises(AttributeError, match="immutable"):
        Pose(0.0, 0.0).x = 1.0
    with pytest.raises(InputError, match="count -1"):
        replace(Piece("a", "plate", rectangle(9.0, 9.0)), count=-1)
    with pytest.raises(TypeError, match="colour"):
        replace(Pose(0.0, 0.0), colour="red")
