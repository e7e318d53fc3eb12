"""Where a plotter's carriage goes so that its trailing blade cuts the strokes."""

import math

import numpy as np
import pytest

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
from ivory_quilt.core.cutting.knife_runs import PlotterTool, axis_path, knife_runs
from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.plotted import farthest_off
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.cutting.strokes import CutStep
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.part import BevelledEdge
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.record import replace
from tests.core.cutting.test_strokes import LINE, part

EAST, NORTH = np.array([1.0, 0.0]), np.array([0.0, 1.0])


def test_the_axis_runs_ahead_and_swings_about_a_corner():
    tip = np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)])
    axis, heading = axis_path(tip, 2.0, EAST)
    assert axis[0] == pytest.approx([2, 0])
    assert axis[-1] == pytest.approx([10, 12])
    assert heading == pytest.approx(NORTH)
    arc = axis[(axis[:, 0] >= 10) & (axis[:, 1] <= 2.0001)]
    assert np.hypot(*(arc - [10, 0]).T) == pytest.approx(2.0)
    # A straight stretch of 10, an arc of a quarter, and another stretch of 10.
    assert line_length(axis) == pytest.approx(20 + math.pi, rel=2e-3)


def test_it_first_swings_from_where_the_blade_points():
    axis, _ = axis_path(np.array([(0.0, 0.0), (10.0, 0.0)]), 2.0, NORTH)
    assert axis[0] == pytest.approx([0, 2])
    assert line_length(axis) == pytest.approx(math.pi + 10, rel=2e-3)


def test_a_blade_without_offset_goes_where_its_tip_goes():
    tip = np.array([(0.0, 0.0), (10.0, 0.0), (10.0, 10.0)])
    axis, _ = axis_path(tip, 0.0, EAST)
    assert axis.tolist() == tip.tolist()


def runs_of(laid, plotter=USUAL_PLOTTER, marks=()):
    return knife_runs(cutting_order(strokes_of(laid, upright=True)), plotter, marks)


def test_pens_then_scores_then_cuts():
    lines = [PieceLine(LineKind.SCORE, LINE), PieceLine(LineKind.UNDERCUT, LINE + 20)]
    hole = ((40.0, 40.0), (60.0, 40.0), (60.0, 60.0))
    laid = [
        (part("a", Shape.make([(0, 0), (99, 0), (99, 90), (0, 90)], [hole]), lines), Pose(0, 0))
    ]
    tools = [r.tool for r in runs_of(laid)]
    assert tools == [PlotterTool.SCORE, PlotterTool.CUT, PlotterTool.CUT]
    drawn = runs_of(laid, replace(USUAL_PLOTTER, marks=True), [(0, LINE + 5)])
    assert [r.tool for r in drawn] == [
        PlotterTool.PEN,
        PlotterTool.PEN,
        PlotterTool.SCORE,
        PlotterTool.CUT,
        PlotterTool.CUT,
    ]
    assert drawn[0].axis.tolist() == drawn[0].tip.tolist()


@pytest.mark.parametrize(("overcut", "more"), [(0.0, 0.0), (3.0, 3.0), (1e3, 100.0)])
def test_outlines_are_cut_past_where_they_began(overcut, more):
    plotter = replace(USUAL_PLOTTER, overcut=min(overcut, 50.0))
    (run,) = runs_of([(part("a", rectangle(30, 20)), Pose(0, 0))], plotter)
    assert line_length(run.tip) == pytest.approx(100 + min(more, 50.0))


def test_an_upright_blade_goes_around_all_that_a_bevelled_part_covers():
    left = BevelledEdge("A", -45.0, (5.0, 60.0), (5.0, 0.0))
    covers, marked = rectangle(100, 60), Shape.make([(5, 0), (95, 0), (95, 60), (5, 60)])
    bevelled = part("a", covers, marked=marked, bevels=(left,))
    (upright,) = strokes_of([(bevelled, Pose(0, 0))], upright=True)
    angled, square = strokes_of([(bevelled, Pose(0, 0))])
    assert np.ptp(upright.places[:, 0]) == 100
    assert np.ptp(square.places[:, 0]) == 90
    assert {upright.stage.setting, square.stage.setting, angled.stage.setting} == {0, 45}
    assert upright.closed
    assert upright.stage.step is CutStep.OUTLINE


def test_how_far_a_cut_is_off_counts_both_ways():
    (run,) = runs_of(
        [(part("a", rectangle(30, 20)), Pose(0, 0))], replace(USUAL_PLOTTER, overcut=0)
    )
    assert farthest_off([run], [run.tip]) == pytest.approx(0)
    assert farthest_off([run], [run.tip + np.array([0.0, 0.5])]) == pytest.approx(0.5)
    assert farthest_off([run], [run.tip[:-1]]) == pytest.approx(20, abs=11)  # a side is not cut
    stray = np.vstack([run.tip, run.tip[-1] + np.array([-4.0, 0.0])])
    assert farthest_off([run], [stray]) == pytest.approx(4)
    with pytest.raises(ValueError, match="shorter"):
        farthest_off([run], [])


@pytest.mark.parametrize(
    ("name", "value"),
    [("name", " "), ("offset", -1.0), ("speed", 0.0), ("width", float("nan")), ("lift", 99.0)],
)
def test_a_plotter_that_cannot_be_is_refused(name, value):
    with pytest.raises(InputError, match="plotter"):
        replace(USUAL_PLOTTER, **{name: value})
