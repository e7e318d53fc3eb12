"""What the maker changes in the derived steps, adds to them, and has done. Data only."""

import re

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.step import StepKind

LONGEST_STEP = 24 * 60  # minutes
LONGEST_WAIT = 60 * 24 * 60
MOST_TIMES, MOST_HANDS = 20, 20
MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d)?")


class DoneStep(Struct, frozen=True):
    """A step that is done.

    Attributes:
        at: ISO moment of the bench's own clock at which it was; empty: nobody knows.
        minutes: that it really took; 0: nobody knows.
    """

    id: str
    at: str = ""
    minutes: float = 0.0

    def __post_init__(self) -> None:
        if self.at and not MOMENT.fullmatch(self.at):
            raise InputError(f"step '{self.id}'", f"done '{self.at}'", "2027-03-01T19:30:00")
        if not 0 <= self.minutes <= LONGEST_WAIT:
            raise InputError(f"step '{self.id}'", f"took {self.minutes:g} min", "0 or more")


class StepChange(Struct, frozen=True):
    """What the maker has changed in a derived step.

    Attributes:
        minutes: of hands, instead of what was worked out; None: as worked out.
        times: how often it is done, with `wait` minutes between.
        skip: it is not done at all.
        after: further steps that come before it.
        hands: how many people it takes.
    """

    id: str
    minutes: int | None = None
    times: int = 1
    wait: int = 0
    skip: bool = False
    after: tuple[str, ...] = ()
    hands: int = 1

    def __post_init__(self) -> None:
        where = f"step '{self.id}'"
        if self.minutes is not None and not 1 <= self.minutes <= LONGEST_STEP:
            raise InputError(where, f"{self.minutes} min", f"1 to {LONGEST_STEP} min")
        _check_hands(where, self.hands)
        if not 1 <= self.times <= MOST_TIMES:
            raise InputError(where, f"{self.times} times", f"1 to {MOST_TIMES} times")
        if not 0 <= self.wait <= LONGEST_WAIT:
            raise InputError(where, f"a wait of {self.wait} min", f"0 to {LONGEST_WAIT} min")


class OwnStep(Struct, frozen=True):
    """A step that the maker adds.

    Attributes:
        after, before: ids of steps between which it is done.
        wait: minutes after it before what follows may begin.
        pieces: ids of the pieces that it is done to; none: the whole suit.
        hands: how many people it takes.
    """

    id: str
    title: str
    kind: StepKind = StepKind.OTHER
    minutes: int = 15
    after: tuple[str, ...] = ()
    before: tuple[str, ...] = ()
    wait: int = 0
    booth: bool = False
    pieces: tuple[str, ...] = ()
    hands: int = 1

    def __post_init__(self) -> None:
        if not self.title.strip():
            raise InputError("own step", "it has no name", "what is done")
        where = f"step '{self.title}'"
        _check_hands(where, self.hands)
        if not 1 <= self.minutes <= LONGEST_STEP:
            raise InputError(where, f"{self.minutes} min", f"1 to {LONGEST_STEP} min")
        if not 0 <= self.wait <= LONGEST_WAIT:
            raise InputError(where, f"a wait of {self.wait} min", f"0 to {LONGEST_WAIT} min")


def _check_hands(where: str, hands: int) -> None:
    if not 1 <= hands <= MOST_HANDS:
        raise InputError(where, f"{hands} people", f"1 to {MOST_HANDS}")
