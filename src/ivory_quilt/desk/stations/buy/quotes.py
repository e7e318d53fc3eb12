"""Quotes: what a supplier says today to the lines of an order, and taking that over."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.ordering import ShoppingLine
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.desk.session import Session
from ivory_quilt.devices.supplier import Quote, SimulatedSupplier


class Quoted(Struct, frozen=True):
    """What a supplier answers to one line: a price of one pack, or why not."""

    line: ShoppingLine
    quote: Quote | None
    problem: str = ""

    @property
    def words(self) -> str:
        """The answer in a few words."""
        if self.quote is None:
            return self.problem
        if self.quote.price == self.line.price:
            return "quoted as listed"
        return f"quoted {self.quote.price:.2f}"

    @property
    def differs(self) -> bool:
        """Whether the catalogue says something else."""
        return self.quote is None or self.quote.price != self.line.price


class Quotes:
    """Asks, and keeps the answers until the order is another."""

    def __init__(self, session: Session) -> None:
        """Ask for the order of `session`."""
        self._session = session
        self.answers: dict[str, Quoted] = {}

    def keep_for(self, lines: tuple[ShoppingLine, ...]) -> None:
        """Forget the answers to lines that are others by now."""
        now = {x.key: x for x in lines}
        self.answers = {k: a for k, a in self.answers.items() if now.get(k) == a.line}

    def can_answer(self, lines: tuple[ShoppingLine, ...], asked: SimulatedSupplier) -> bool:
        """Return whether any line is of the supplier that can be asked."""
        return any(line.supplier == self._id_of(asked) for line in lines)

    def _id_of(self, asked: SimulatedSupplier) -> str:
        """Return the shop's id of a supplier; the shop may know it by another."""
        name = asked.supplier.name.lower()
        known = (s.id for s in self._session.stock.suppliers if s.name.lower() == name)
        return next(known, asked.supplier.id)

    def ask(self, lines: tuple[ShoppingLine, ...], asked: SimulatedSupplier) -> int:
        """Ask for every line of that supplier; return how many answers differ from the list."""
        self.answers = {}
        for line in lines:
            if line.supplier != self._id_of(asked):
                continue
            try:
                answer = Quoted(line, asked.quote(line.ident, line.packs))
            except InputError as error:
                answer = Quoted(line, None, error.problem)
            self.answers[line.key] = answer
        return sum(1 for a in self.answers.values() if a.differs)

    def take_over(self, asked: SimulatedSupplier) -> bool:
        """Write what the supplier says of the lines asked for into the catalogue."""
        session = self._session
        listed = {i.id: i for i in asked.price_list()}

        def put() -> None:
            with session.store.together():
                for answer in self.answers.values():
                    item = session.stock.item(answer.line.ident)
                    now = listed.get(answer.line.ident)
                    if item is None:
                        continue
                    if now is None:  # it is not sold any more
                        session.store.put(replace(item, available=0))
                        continue
                    session.store.put(
                        replace(
                            item,
                            price=now.price,
                            steps=now.steps,
                            pack=now.pack,
                            available=now.available,
                        )
                    )

        done = session.try_shop(put)
        if done:
            self.answers = {}
            session.reload_stock()
        return done
