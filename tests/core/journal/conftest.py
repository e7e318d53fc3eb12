"""A small plan with something of everything."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.build import Build, Layer
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.stock.foam_stock import ShopStock


@pytest.fixture
def small_plan():
    plate = Piece("p", "plate", rectangle(200, 100), build=Build(layers=(Layer(2.0),)))
    return derive(Project(pieces=(plate,)), ShopStock())
