"""The engine's own process: takes what is asked from a pipe, lays, and tells what it finds.

Five threads: this one reads the pipe, one lays, one answers hands and questions, so that a part in
the hand need not wait for a search, one forms up, and one dresses figures. When the pipe ends,
whoever asked is gone, and so is this.
"""

import gc
import os
import sys
import threading
import time
import traceback
from collections.abc import Callable
from functools import partial
from multiprocessing.connection import Connection
from queue import SimpleQueue
from typing import Any

from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.nesting.job import LayResult, Progress
from ivory_quilt.engine.last_few import LastFew
from ivory_quilt.engine.messages import (
    MOST_HANDS,
    MOST_SCENES,
    AskForm,
    AskFraming,
    AskHand,
    AskLeftovers,
    AskSuit,
    EngineReady,
    Failed,
    ForgetShapes,
    FormAnswer,
    FramingAnswer,
    FromEngine,
    HandAnswer,
    HoldForm,
    HoldScene,
    HoldSuit,
    LaidBetter,
    LayingEnded,
    LayingFor,
    LeftoversAnswer,
    Painted,
    PaintScene,
    Preparing,
    Refused,
    SendShapes,
    StartLaying,
    StopLaying,
    SuitAnswer,
    TakeUp,
    TookTooMuch,
    decode_to_engine,
    encode,
)
from ivory_quilt.engine.scenes import (
    KeptScene,
    framing_message,
    kept_form,
    kept_scene,
    kept_suit,
)
from ivory_quilt.engine.shape_book import ShapeBook
from ivory_quilt.system.child import take_up_work

TELL_EVERY = 0.1  # s between two words on how long it has been
SHOW_EVERY = 0.4  # s between two better layouts: showing them takes the maker's time
PATIENCE = 10  # how far laying and forming stand back where others want the processor ("nice")
PREPARE = -1  # the ticket of getting ready

ToHold = TakeUp | HoldScene | HoldForm | HoldSuit
Question = ToHold | AskHand | PaintScene | AskFraming | AskSuit | AskLeftovers


class EngineWorker:
    """Everything that one engine's process does."""

    def __init__(self, pipe: Connection) -> None:
        """Serve whoever is at the other end of `pipe`."""
        self._pipe = pipe
        self._send_lock = threading.Lock()
        self._shapes = ShapeBook()
        self._orders: SimpleQueue[StartLaying] = SimpleQueue()
        self._questions: SimpleQueue[Question] = SimpleQueue()
        self._forms: SimpleQueue[AskForm] = SimpleQueue()
        self._suits: SimpleQueue[tuple[int, KeptScene | None]] = SimpleQueue()
        self._drag: Any = None
        self._stops: set[int] = set()
        self._switch: tuple[int, Any] | None = None
        self._ready = threading.Event()
        self._hands: LastFew[Any] = LastFew(MOST_HANDS)
        self._scenes: LastFew[KeptScene] = LastFew(MOST_SCENES)

    def run(self) -> None:
        """Work until the pipe ends."""
        for work in (self._lay_orders, self._answer_questions, self._form_up, self._dress):
            threading.Thread(target=work, daemon=True).start()
        while True:
            try:
                message = decode_to_engine(self._pipe.recv_bytes())
            except (EOFError, OSError):
                os._exit(0)  # nobody is there: not a moment longer, whatever is under way
            self._take(message)

    def _take(self, message: object) -> None:
        match message:
            case SendShapes():
                self._shapes.learn(message.shapes)
            case ForgetShapes():
                self._shapes.clear()
            case StartLaying():
                self._orders.put(message)
            case StopLaying():
                self._stop(message.ticket)
            case AskForm():
                self._forms.put(message)
            case _ if isinstance(message, Question):
                self._questions.put(message)

    def _stop(self, ticket: int) -> None:
        self._stops.add(ticket)
        switch = self._switch
        if switch is not None and switch[0] == ticket:
            switch[1].stop()

    def _send(self, message: FromEngine) -> None:
        data = encode(message)
        with self._send_lock:
            try:
                self._pipe.send_bytes(data)
            except OSError:
                os._exit(0)

    # Laying

    def _lay_orders(self) -> None:
        # Threads that the search starts are as patient as the one they come from.
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), PATIENCE)
        self._guarded(PREPARE, self._prepare)
        while True:
            order = self._orders.get()
            self._guarded(order.ticket, partial(self._lay, order))
            self._stops.discard(order.ticket)

    def _prepare(self) -> None:
        from ivory_quilt.engine.warming import prepare

        prepare(lambda share, seconds: self._send(Preparing(share, seconds)))
        gc.collect()
        gc.freeze()  # the compiler's objects all stay: no collection need look at them again
        self._ready.set()
        self._send(EngineReady())

    def _guarded(self, ticket: int, work: Callable[[], object], *, tidy: bool = True) -> None:
        """Do something, and tell how it failed if it does.

        It looks for garbage after, unless a hand waits for the next: that takes tens of
        milliseconds.
        """
        try:
            work()
        except InputError as error:
            self._send(Refused(ticket, error.where, error.problem, error.expected))
        except MemoryError:
            self._send(TookTooMuch(ticket))
        except Exception as error:  # noqa: BLE001 - handed over, never swallowed
            if "bad_alloc" in str(error):  # a library's own word for no memory
                self._send(TookTooMuch(ticket))
            else:
                self._send(Failed(ticket, traceback.format_exc()))
        if tidy:
            gc.collect()

    def _lay(self, order: StartLaying) -> None:
        from ivory_quilt.core.nesting.engine import StopSwitch
        from ivory_quilt.engine.searching import search

        began = last = shown = time.monotonic()
        shown -= SHOW_EVERY
        known: LayResult | None = None
        waiting: LayResult | None = None
        switch = StopSwitch()
        self._switch = (order.ticket, switch)
        if order.ticket in self._stops:
            self._send(LayingEnded(order.ticket, None))
            return

        def report(progress: Progress) -> bool:
            nonlocal last, shown, known, waiting
            now = time.monotonic()
            if progress.better is not None:
                known = waiting = progress.better
            wanted = order.ticket not in self._stops
            if waiting is not None and wanted and now - shown >= SHOW_EVERY:
                shown = now
                self._send(LaidBetter(order.ticket, waiting))
                waiting = None
            if now - last >= TELL_EVERY:
                last = now
                self._send(LayingFor(order.ticket, now - began))
            # Nothing can be gained: a single part leaves no choice.
            alone = known is not None and len(known.placements) <= 1 and not known.unplaced
            return wanted and not alone

        result = search(self._shapes.job(order.job), order, report, switch)
        if waiting is not None and order.ticket not in self._stops:
            self._send(LaidBetter(order.ticket, waiting))
        self._send(LayingEnded(order.ticket, result))

    # Questions

    def _answer_questions(self) -> None:
        self._ready.wait()
        while True:
            question = self._questions.get()
            if isinstance(question, ToHold):
                self._guarded(PREPARE, partial(self._hold, question), tidy=False)
            else:
                self._guarded(question.ticket, partial(self._answer, question), tidy=False)

    def _hold(self, what: ToHold) -> None:
        match what:
            case TakeUp():
                from ivory_quilt.core.nesting.hand_moves import HandMove

                job = self._shapes.job(what.job)
                self._hands.put(what.hand, HandMove(job, what.placements, what.index))
            case HoldScene():
                self._scenes.put(what.number, kept_scene(what.scene))
            case HoldForm():
                self._scenes.put(what.number, kept_form(what.shape, what.seen_as))
            case HoldSuit():
                self._scenes.put(what.number, kept_suit(what.wearer, what.garments))

    def _answer(self, question: Question) -> None:
        from ivory_quilt.core.nesting.leftovers import leftovers
        from ivory_quilt.core.rendering.scene import picture

        match question:
            case AskHand():
                hand = self._hands.get(question.hand)
                found = None if hand is None else hand.asked(question.how, question.held)
                self._send(HandAnswer(question.ticket, found))
            case PaintScene():
                kept = self._scenes.get(question.number)
                pixels = None if kept is None else picture(kept.scene, question.view).tobytes()
                self._send(Painted(question.ticket, pixels))
            case AskFraming():
                kept = self._scenes.get(question.number)
                framing = None if kept is None else framing_message(kept.scene.framing)
                self._send(FramingAnswer(question.ticket, framing))
            case AskSuit():
                self._suits.put((question.ticket, self._scenes.get(question.number)))
            case AskLeftovers():
                rooms = leftovers(self._shapes.job(question.job), question.placements)
                self._send(
                    LeftoversAnswer(
                        question.ticket,
                        tuple((r.sheet, r.copy, (r.x0, r.y0, r.x1, r.y1)) for r in rooms),
                    )
                )

    # Form-up

    def _form_up(self) -> None:
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), PATIENCE)
        self._ready.wait()
        while True:
            asked = self._forms.get()
            while not self._forms.empty():  # only the newest is looked at
                self._send(FormAnswer(asked.ticket, None))
                asked = self._forms.get()
            self._guarded(asked.ticket, partial(self._form, asked), tidy=not asked.quick)

    def _form(self, asked: AskForm) -> None:
        from ivory_quilt.core.formup.form import form
        from ivory_quilt.engine.forming import assembly_from, shape_message

        end = time.monotonic() + asked.seconds

        def going() -> bool:
            return not self._newer(asked) and time.monotonic() < end

        try:
            job = assembly_from(asked.assembly)
            if asked.quick:
                shape = self._dragged().form(job, going).shape
            elif asked.laid:
                shape = form(job, going, finer=asked.finer).cut_as_it_stands(going)
            else:
                shape = form(job, going, finer=asked.finer).shape
        except QuiltError as error:
            self._send(FormAnswer(asked.ticket, None, str(error)))
        else:
            newer = self._newer(asked)
            self._send(FormAnswer(asked.ticket, None if newer else shape_message(shape)))

    def _newer(self, asked: AskForm) -> bool:
        """Return whether a newer assembly makes this one idle; each shape of a drag is shown."""
        return not asked.quick and not self._forms.empty()

    def _dragged(self) -> Any:
        """Return the shape that follows a number under the maker's hand."""
        if self._drag is None:
            from ivory_quilt.core.formup.dragging import Dragged

            self._drag = Dragged()
        return self._drag

    def _dress(self) -> None:
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), PATIENCE)
        self._ready.wait()
        while True:
            ticket, suit = self._suits.get()
            self._guarded(ticket, partial(self._tell_suit, ticket, suit))

    def _tell_suit(self, ticket: int, suit: KeptScene | None) -> None:
        if suit is None:
            self._send(SuitAnswer(ticket, None, None))
            return
        try:
            framing = framing_message(suit.scene.framing)
        except QuiltError as error:
            self._send(SuitAnswer(ticket, None, None, str(error)))
        else:
            self._send(SuitAnswer(ticket, framing, suit.nearness))


def main() -> None:
    """Work for whoever began this process."""
    pipe = take_up_work()
    # Python code of a search hands over soon when a hand or a stop is waiting.
    sys.setswitchinterval(0.0005)
    import faulthandler

    faulthandler.enable()
    EngineWorker(pipe).run()


if __name__ == "__main__":
    main()
