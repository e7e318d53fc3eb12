"""The presenter of what helps: mends of the worst place, each formed up and compared."""

from collections.abc import Callable
from functools import partial
from typing import Any

from ivory_quilt.core.document.assembling import PieceAssembly, assembly_of
from ivory_quilt.core.document.mending import Mend, hurt, mends, redrawn
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter, seat_on
from ivory_quilt.desk.work import Background, at_once

LEAST = 0.03  # of how much it hurts: what brings less is no help


class Try(Struct):
    """A mend, and what comes of it once that is known."""

    mend: Mend
    group: PieceAssembly | None = None
    shape: FormedShape | None = None
    problem: str = ""

    @property
    def known(self) -> bool:
        """Whether it is known what comes of it."""
        return self.shape is not None or bool(self.problem)


class MendPresenter:
    """What may help the group in sight, tried one after another."""

    def __init__(self, form_up: FormUpPresenter) -> None:
        """Ask for what `form_up` shows."""
        self.form_up = form_up
        self.changed: Callable[[], object] = lambda: None
        self.background: Background = at_once
        self.tries: list[Try] = []
        self.chosen: Try | None = None
        self.running = False
        self.looked = False
        self.problem = ""
        self._project: Project | None = None
        self._before: FormedShape | None = None
        self._turn = 0
        self._dragged: float | None = None
        self._waiting = False

    @property
    def fits(self) -> bool:
        """Whether what was found is of the project as it is, and of the shape in sight."""
        return self._project is self.form_up.session.project

    def helps(self, one: Try) -> bool:
        """Whether a try is better than how it stands."""
        if one.shape is None or self._before is None:
            return False
        return hurt(one.shape) < (1 - LEAST) * hurt(self._before)

    @property
    def ordered(self) -> list[Try]:
        """The tries, the most helpful first; as they come while it looks, so that no row jumps."""
        if self.running:
            return self.tries
        none = float("inf")
        return sorted(self.tries, key=lambda t: hurt(t.shape) if t.shape is not None else none)

    def forget(self) -> None:
        """Show the group as it stands, and nothing beside it."""
        self._turn += 1
        self.tries, self.chosen, self.running, self.problem = [], None, False, ""
        self.looked = False

    def stop(self) -> None:
        """Look no further; what was found stays."""
        self._turn += 1
        self.running = False
        self.tries = [t for t in self.tries if t.known]
        self.changed()

    # Finding

    def find(self) -> None:
        """Look for what helps at the worst place."""
        p = self.form_up
        if p.group is None or p.shape is None:
            return
        self.forget()
        self._project, self._before = p.session.project, p.shape
        self.running = self.looked = True
        turn, group = self._turn, p.group

        def pressed(made: PieceAssembly | None, why: str) -> None:
            if turn != self._turn:
                return
            if made is None:
                self._end(why)
                return
            have = partial(self._have_worst, turn, group)
            p.engine.ask_form(made.assembly, have, laid=True, finer=p.edge is None)

        # Pressed down everywhere it says what the foam would have to give.
        firmly = group.assembly.former is not None
        self._work(partial(_pressed, group, (), firmly=firmly), pressed)
        self.changed()

    def _have_worst(
        self, turn: int, group: PieceAssembly, answer: FormedShape | str | None
    ) -> None:
        if turn != self._turn:
            return
        if not isinstance(answer, FormedShape):
            self._end(answer or "The layout engine gave no answer: look again.")
            return
        stock = self.form_up.session.stock
        material = self.form_up.session.project.piece(group.pieces[0]).material
        there = tuple(
            sorted({i.foam.thickness for i in stock.items if i.foam.material == material})
        )
        books = {m: stock.material(m).book for m in {material}}
        project = self._project
        assert project is not None
        work = partial(mends, project, group, answer, there, books)
        self._work(work, partial(self._have_mends, turn))

    def _have_mends(self, turn: int, found: tuple[Mend, ...] | None, why: str) -> None:
        if turn != self._turn:
            return
        if found is None:
            self._end(why)
            return
        self.tries = [Try(m) for m in found]
        self._next(turn)

    def _end(self, problem: str = "") -> None:
        self.running, self.problem = False, problem
        self.changed()

    def _next(self, turn: int) -> None:
        """Form up the next mend that is not known."""
        if turn != self._turn:
            return
        one = next((t for t in self.tries if not t.known), None)
        if one is None:
            self._end()
            return
        self.changed()
        self._form(one, turn, lambda: self._next(turn))

    def _form(
        self, one: Try, turn: int, then: Callable[[], object], *, quick: bool = False
    ) -> None:
        """Form one mend up; parts that are drawn anew by their shape are, and formed up again."""
        mend = one.mend
        former, edge = self.form_up.former, self.form_up.fineness
        again = bool(mend.again)

        def assembled(group: PieceAssembly | None, why: str) -> None:
            if turn != self._turn:
                return
            if group is None:
                one.problem = why
                then()
                return
            finer = self.form_up.edge is None
            have = partial(formed, group)
            ask = self.form_up.engine.ask_form
            ask(group.assembly, have, quick=quick, laid=again, finer=finer)

        def formed(group: PieceAssembly, answer: FormedShape | str | None) -> None:
            if turn != self._turn:
                return
            if isinstance(answer, FormedShape) and again:
                self._work(partial(redrawn, mend, group, answer), drawn)
                return
            if isinstance(answer, FormedShape):
                one.group, one.shape = group, answer
            else:
                one.problem = answer or "no answer"
            then()

        def drawn(made: Mend | None, why: str) -> None:
            if turn != self._turn:
                return
            if made is None:
                one.problem = why
                then()
                return
            one.mend = made
            self._form(one, turn, then, quick=quick)

        firmly = former is not None and (again or self.form_up.choice.firmly)
        before = self._before

        def work() -> PieceAssembly:
            made = assembly_of(mend.project, mend.piece, edge, former)
            return _pressed(made, seat_on(before, made), firmly=firmly)

        self._work(work, assembled)

    def _work(self, work: Callable[[], Any], done: Callable[[Any, str], None]) -> None:
        """Work elsewhere; `done` gets what came of it, or why nothing did."""

        def ended(result: Any, error: Exception | None) -> None:
            if error is not None and not isinstance(error, QuiltError):
                raise error
            done(result, "" if error is None else str(error))

        self.background(work, ended)

    # Choosing

    def choose(self, one: Try | None) -> None:
        """Show one beside the group as it stands, or nothing."""
        self.chosen = None if one is self.chosen else one
        self.changed()

    def drag(self, amount: float) -> None:
        """Follow an amount that is being dragged: coarse shapes."""
        self._dragged = amount
        if not self._waiting:
            self._follow()

    def let_go(self, amount: float) -> None:
        """Settle on an amount of what is chosen, and form that up in full."""
        self._dragged = None
        one = self.chosen
        if one is None or not self.fits:
            return
        turn = self._turn

        def have(made: Mend | None, why: str) -> None:
            if turn != self._turn:
                return
            if made is None:
                self.problem = why
                self.changed()
                return
            self.problem = ""
            one.mend = made
            self._form(one, turn, self.changed)

        self._work(lambda: one.mend.with_amount(amount), have)

    def _follow(self) -> None:
        amount, one, turn = self._dragged, self.chosen, self._turn
        if amount is None or one is None:
            return
        self._waiting = True

        def done() -> None:
            self._waiting = False
            if turn == self._turn and self._dragged is not None:
                self.changed()
                if self._dragged != amount:
                    self._follow()

        def have(made: Mend | None, _: Any) -> None:
            if turn != self._turn or made is None:
                self._waiting = False
                return
            one.mend = made
            self._form(one, turn, done, quick=True)

        self._work(lambda: one.mend.with_amount(amount), have)

    def take(self) -> None:
        """Take over what is chosen as an edit of the flat pieces.

        Raises:
            InputError: the pieces were changed meanwhile.
        """
        one = self.chosen
        if one is None:
            return
        if not self.fits:
            raise InputError("what helps", "the pieces were changed meanwhile", "look again")
        made = one.mend.project
        self.forget()
        self.form_up.session.edit(one.mend.words, lambda _: made)
        self.changed()


def _pressed(
    group: PieceAssembly, seat: tuple[tuple[float, ...], ...], *, firmly: bool
) -> PieceAssembly:
    """Return a group as it is pressed on; checked anew, so on any thread.

    Raises:
        InputError: it makes no sense.
    """
    return replace(group, assembly=replace(group.assembly, firmly=firmly, seat=seat))
