"""The places of the Bench station."""

from enum import Enum, auto


class BenchMode(Enum):
    """What stands in the centre."""

    EVENINGS = auto()
    TONIGHT = auto()
    STEPS = auto()
    GLUE = auto()
    PAINT = auto()
    FIXINGS = auto()


MODES = (
    (BenchMode.EVENINGS, "Evenings", "Every step in its time, to the end"),
    (BenchMode.TONIGHT, "Tonight", "Large, one step after the other, with timers"),
    (BenchMode.STEPS, "Steps", "Change, add, repeat or leave out steps; keep them for next time"),
    (BenchMode.GLUE, "Glue", "What each joint is glued with, and why"),
    (BenchMode.PAINT, "Paint", "Which tone goes where, in which order, in how many coats"),
    (BenchMode.FIXINGS, "Fixings", "Straps, buckles, rivets; checks before anything permanent"),
)
