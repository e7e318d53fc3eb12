"""Timers: right through sleep, a clock that is set, and a new start."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.timer import Moment, Timer, TimerStanding, show_left
from tests.effort import random_cases

START = Moment(1_000_000.0, "one", 500.0)
CEMENT = Timer("t", "cuff", 720, START, 900)


def later(seconds, *, wall=None, boot="one"):
    ticks = START.ticks + seconds if boot == "one" else 30.0
    return Moment(START.wall + (seconds if wall is None else wall), boot, ticks)


@random_cases(60, 600)
@given(st.floats(0, 5000), st.floats(-1e6, 1e6))
def test_a_clock_that_is_set_changes_nothing(seconds, wall):
    assert CEMENT.elapsed(later(seconds, wall=wall)) == pytest.approx(seconds)


@random_cases(60, 600)
@given(st.floats(0, 5000))
def test_after_a_new_start_the_wall_clock_tells(seconds):
    assert CEMENT.elapsed(later(seconds, boot="two")) == pytest.approx(seconds, abs=1e-3)


def test_how_a_timer_stands():
    said = [
        (0, TimerStanding.RUNNING, 720),
        (719, TimerStanding.RUNNING, 1),
        (720, TimerStanding.READY, 180),
        (839, TimerStanding.READY, 61),
        (840, TimerStanding.CLOSING, 60),
        (900, TimerStanding.CLOSING, 0),
        (901, TimerStanding.OVER, 0),
    ]
    for seconds, standing, left in said:
        assert CEMENT.standing(later(seconds)) is standing
        assert CEMENT.left(later(seconds)) == left
    open_ended = Timer("t", "paint", 60, START)
    assert open_ended.standing(later(1e5)) is TimerStanding.READY
    # A window of two minutes is warned of in its second half.
    short = Timer("t", "wet", 0, START, 60)
    assert short.standing(later(29)) is TimerStanding.READY
    assert short.standing(later(30)) is TimerStanding.CLOSING


def test_what_is_left_is_shown_as_a_clock_does():
    assert [show_left(s) for s in (0, 59.2, 60, 3725)] == ["0:00", "1:00", "1:00", "1:02:05"]


def test_a_window_that_closes_before_it_opens_is_refused():
    with pytest.raises(InputError):
        Timer("t", "cuff", 720, START, 600)
    with pytest.raises(InputError):
        Timer("t", "cuff", -1, START)
