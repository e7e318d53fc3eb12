"""Timers at the bench: what dries, from when it is ready, until when it can be joined.

A timer goes by the seconds since the machine was started, sleep included, as long as it was not
started anew; a clock that is set forward or back changes nothing. After a new start the wall's
clock is all there is.
"""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

WARNED = 60.0  # s before a window closes
LONGEST = 60 * 24 * 3600.0


class Moment(Struct, frozen=True):
    """A moment: the wall's clock, and the machine's own since its start.

    Attributes:
        wall: s since the epoch.
        boot: which start of the machine it was.
        ticks: s since then, sleep included.
    """

    wall: float
    boot: str
    ticks: float


class TimerStanding(StrEnum):
    """How a timer stands."""

    RUNNING = "wait"
    READY = "ready"
    CLOSING = "closing"
    OVER = "too late"


class Timer(Struct, frozen=True):
    """Something that dries or rests.

    Attributes:
        step: id of the step that may follow; empty for a timer by hand.
        least: s until it is ready.
        most: s until it is too late; 0 where it never is.
    """

    id: str
    title: str
    least: float
    started: Moment
    most: float = 0.0
    step: str = ""

    def __post_init__(self) -> None:
        where = f"timer '{self.title}'"
        if not 0 <= self.least <= LONGEST:
            raise InputError(where, f"{self.least:g} s", f"0 to {LONGEST:g} s")
        if self.most and not self.least <= self.most <= LONGEST:
            raise InputError(where, f"closes after {self.most:g} s", f"{self.least:g} s or more")

    def elapsed(self, now: Moment) -> float:
        """Return how long it has run, s."""
        if now.boot and now.boot == self.started.boot:
            return max(0.0, now.ticks - self.started.ticks)
        return max(0.0, now.wall - self.started.wall)

    def standing(self, now: Moment) -> TimerStanding:
        """Return how it stands."""
        gone = self.elapsed(now)
        if gone < self.least:
            return TimerStanding.RUNNING
        if not self.most:
            return TimerStanding.READY
        if gone > self.most:
            return TimerStanding.OVER
        warned = min(WARNED, (self.most - self.least) / 2)
        return TimerStanding.CLOSING if gone >= self.most - warned else TimerStanding.READY

    def left(self, now: Moment) -> float:
        """Return s until it is ready; then until it closes, or 0 where it never does."""
        gone = self.elapsed(now)
        if gone < self.least:
            return self.least - gone
        return max(0.0, self.most - gone) if self.most else 0.0


def show_left(seconds: float) -> str:
    """Show a time that is left, as a clock shows it: "4:05", "1:02:30"."""
    whole = int(seconds + 0.999)
    hours, rest = divmod(whole, 3600)
    minutes, left = divmod(rest, 60)
    return f"{hours}:{minutes:02d}:{left:02d}" if hours else f"{minutes}:{left:02d}"
