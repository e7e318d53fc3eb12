"""Questions on their way to an engine's process, and what a process keeps for them."""

from collections import deque
from collections.abc import Callable, Sequence
from functools import partial
from typing import NamedTuple

from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.wearing import Nearness
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.record import Struct
from ivory_quilt.core.rendering.scene import Framing
from ivory_quilt.engine.forming import shape_from
from ivory_quilt.engine.last_few import LastFew
from ivory_quilt.engine.messages import (
    MOST_HANDS,
    MOST_SCENES,
    FormAnswer,
    FramingAnswer,
    HandAnswer,
    LeftoversAnswer,
    Painted,
    SuitAnswer,
)
from ivory_quilt.engine.process import EngineProcess
from ivory_quilt.engine.scenes import framing_from

MOST_ASKED = 3  # times that one question is put

Room = tuple[str, int, tuple[float, float, float, float]]
"""An empty place: sheet, copy, and its box (x0, y0, x1, y1)."""


class DressedSuit(NamedTuple):
    """A figure with what is worn on it: how it fills a picture, and what lies between groups."""

    framing: Framing
    nearness: Nearness


Answer = Placement | tuple[Room, ...] | bytes | FormedShape | Framing | DressedSuit | str | None
Answering = HandAnswer | Painted | FramingAnswer | SuitAnswer | LeftoversAnswer | FormAnswer
Guarded = Callable[[EngineProcess, Callable[[EngineProcess], object]], None]
"""Does something with a process, which may be lost over it."""


def answer_in(message: Answering) -> Answer:
    """Return what a process answered."""
    match message:
        case HandAnswer():
            return message.placement
        case Painted():
            return message.pixels
        case LeftoversAnswer():
            return message.rooms
        case FormAnswer():
            return message.problem if message.shape is None else shape_from(message.shape)
        case FramingAnswer():
            return None if message.framing is None else framing_from(message.framing)
        case SuitAnswer():
            if message.framing is None or message.nearness is None:
                return message.problem or None
            return DressedSuit(framing_from(message.framing), message.nearness)


class Question(Struct):
    """A question on its way, and how it is put to a process: `put(process, ticket=…)`."""

    put: Callable[..., None]
    then: Callable[[Answer], object]
    asked: int = 0


class Held(Struct):
    """Something that a process keeps, how it is handed over, and which one has it."""

    hand_over: Callable[[EngineProcess], None]
    hand: bool = False
    """Whether it is a hand; else it is a scene."""
    at: EngineProcess | None = None


class Questions:
    """All questions and all that is kept for them; for the engine's thread alone.

    The first process that is ready answers. When it is lost they are put to the next one.
    """

    def __init__(self, guarded: Guarded) -> None:
        """Nothing is asked yet; `guarded` speaks to processes."""
        self._guarded = guarded
        self._known: dict[int, Question] = {}
        self._asking: deque[int] = deque()
        self._hands: LastFew[Held] = LastFew(MOST_HANDS)
        self._scenes: LastFew[Held] = LastFew(MOST_SCENES)

    def __contains__(self, ticket: int) -> bool:
        """Whether a ticket is a question's."""
        return ticket in self._known

    def take(self, ticket: int, question: Question) -> None:
        """Take in a question."""
        self._known[ticket] = question
        self._asking.append(ticket)

    def put(self, processes: Sequence[EngineProcess], *, hopeless: bool) -> None:
        """Put what waits to a process; where there will never be one, answer with nothing."""
        while self._asking:
            process = next((p for p in processes if p.ready), None)
            if process is None and not hopeless:
                return
            ticket = self._asking.popleft()
            question = self._known[ticket]
            question.asked += 1
            if process is None or question.asked > MOST_ASKED:
                del self._known[ticket]
                question.then(None)
                continue
            process.questions.add(ticket)
            self._guarded(process, partial(question.put, ticket=ticket))

    def answered(self, process: EngineProcess, ticket: int, answer: Answer) -> None:
        """Pass an answer on."""
        process.questions.discard(ticket)
        question = self._known.pop(ticket, None)
        if question is not None:
            question.then(answer)

    def lost(self, process: EngineProcess) -> None:
        """Put what a lost process had not answered to the next one, before all others."""
        self._asking.extendleft(sorted(process.questions, reverse=True))

    def hold(self, number: int, held: Held, processes: Sequence[EngineProcess]) -> None:
        """Keep something in the place of what had its number; the oldest of too many is forgotten.

        It is handed over at once where a process is there for it.
        """
        self._like(held).put(number, held)
        ready = next((p for p in processes if p.ready), None)
        if ready is not None:
            self._guarded(ready, lambda p: self.give(p, number))

    def give(self, process: EngineProcess, number: int) -> None:
        """Hand over to a process what it is asked about, unless it has that.

        Raises:
            EngineLost: the process is gone.
        """
        held = self._hands.get(number) or self._scenes.get(number)
        if held is not None and held.at is not process:
            held.hand_over(process)
            held.at = process
            # The process forgets what was handed over first, so that is forgotten here first too.
            self._like(held).put(number, held)

    def _like(self, held: Held) -> LastFew[Held]:
        return self._hands if held.hand else self._scenes
