"""The simulated plotter: what it reads, how its blade trails, what it says of a file."""

import math

import numpy as np
import pytest

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.devices.knife_plotter import SimulatedPlotter

MACHINE = replace(USUAL_PLOTTER, offset=1.0, speed=10.0, travel=100.0, lift=0.5)


def run(text, heading=0.0, machine=MACHINE):
    return SimulatedPlotter(machine, heading).run(text.encode())


def test_hpgl_counts_in_fortieths_of_a_millimetre():
    done = run("IN;SP1;PU400,800;PD4400,800;PU;", machine=replace(MACHINE, offset=0))
    (line,) = done.lines
    assert line.places.tolist() == [[10, 20], [110, 20]]
    assert done.seconds == pytest.approx(math.hypot(10, 20) / 100 + 10 + 0.5)


def test_hpgl_goes_by_steps_when_told():
    done = run("IN SP1 PA0,0 PR400,0 PD0,400,400,0 PU", machine=replace(MACHINE, offset=0))
    assert done.lines[0].places.tolist() == [[10, 0], [10, 10], [20, 10]]


def test_g_code_in_inches_and_millimetres():
    machine = replace(MACHINE, offset=0)
    text = "(a)\nG20 G90\nT2\nM0\nG0 Z1\nG0 X1 Y0\nG1 Z-0.2 F100\nG1 X2\nG1 Y1 ; b\nG0 Z1\nM2\n"
    (line,) = run(text, machine=machine).lines
    assert line.tool == 2
    assert line.places[[0, -2, -1]].tolist() == [[25.4, 0], [50.8, 0], [50.8, 25.4]]
    metric = run(text.replace("G20", "G21"), machine=machine).lines[0]
    assert metric.places[-1].tolist() == [2, 1]


def test_a_blade_that_is_not_made_up_for_rounds_a_corner():
    done = run("IN;SP1;PU0,0;PD4000,0,4000,4000;PU;")
    (line,) = done.lines
    # Without help the tip leaves the corner out; it lags one offset behind at the end.
    corner = np.hypot(*(line.places - [100, 0]).T).min()
    assert 0.2 < corner < 1.0
    assert line.places[-1] == pytest.approx([100, 99], abs=0.01)


def test_the_tip_follows_the_tractrix():
    """Textbook: with the axis along x from a blade at right angles, y = offset / cosh(s/offset)."""
    done = run("IN;SP1;PU0,0;PD400,0;PU;", heading=-90.0)
    x, y = done.lines[0].places.T
    s = np.arccosh(np.clip(1.0 / np.clip(y, 1e-9, 1.0), 1.0, None))  # offset 1
    known = y > 1e-3
    assert x[known] == pytest.approx((s - np.tanh(s))[known], abs=1e-6)
    assert known.sum() > 5


def test_tools_changed_and_the_reach_are_told():
    machine = replace(MACHINE, length=50.0, width=50.0)
    done = run("IN;SP2;PU0,0;PD400,0;PU;SP1;PD400,4000;PU;SP1;PD0,0;PU;", machine=machine)
    assert done.changes == 1
    assert done.beyond == pytest.approx(100 - 50 - 1)
    assert run("IN;SP1;PD40,40;PU;").beyond == 0


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("", "no word"),
        ("hello", "'hello'|'h|letter"),
        ("IN;XX1;", "'XX'"),
        ("IN;PD1;", "pairs"),
        ("IN;PD1,a2;", "no HPGL|numbers"),
        ("G0 X1\nG7 X2", "line 2: 'G7'"),
        ("G0 X1\n???", "line 2"),
        ("IN;PD1.2.3,4;", "numbers"),
    ],
)
def test_what_it_does_not_know_is_refused(text, said):
    with pytest.raises(InputError, match=said):
        run(text)
