"""Plan against what happened: time by kind of step, parts, foam, cement; in one project or all."""

from collections.abc import Iterable
from decimal import Decimal

from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.past_order import PastOrder
from ivory_quilt.core.stock.work_rates import USUAL_RATES, Rates

MONEY = "money"
"""The unit of a line that is shown with the shop's currency."""
FAR = 1.25  # times more or less than planned: worth a reason


class Actual(Struct, frozen=True):
    """One line: what was planned, what it came to.

    Attributes:
        why: what the journal says of it, where it came out far from the plan.
    """

    name: str
    unit: str
    planned: float
    actual: float
    count: int
    why: str = ""

    @property
    def ratio(self) -> float:
        """How many times as much as planned; 0 where nothing was."""
        return self.actual / self.planned if self.planned else 0.0


def actuals_of(
    entries: Iterable[JournalEntry],
    rates: Rates = USUAL_RATES,
    orders: Iterable[PastOrder] = (),
) -> tuple[Actual, ...]:
    """Return what entries and orders come to, line by line; times as the present rates plan them.

    A project's first order is what was planned; what was ordered after it is more.
    """
    entries = tuple(entries)
    made = []
    timed: dict[str, list[JournalEntry]] = {}
    for entry in entries:
        if entry.kind is EntryKind.TIME and entry.planned:
            timed.setdefault(entry.about, []).append(entry)
    for about, found in sorted(timed.items()):
        planned = sum(e.planned for e in found) * rates.pace(about)
        actual = sum(e.value for e in found)
        made.append(Actual(about, "min", planned, actual, len(found), _furthest(found, rates)))
    foam = [e for e in entries if e.kind is EntryKind.FOAM and e.planned]
    if foam:
        planned, actual = sum(e.planned for e in foam), sum(e.value for e in foam)
        made.append(_line("foam", "m²", planned, actual, foam))
    cut = [e for e in entries if e.kind is EntryKind.CUT]
    spoiled = [e for e in entries if e.kind is EntryKind.SPOILED]
    if cut or spoiled:
        whole, lost = sum(e.value for e in cut), sum(e.value for e in spoiled)
        why = "; ".join(dict.fromkeys(e.words for e in spoiled if e.words))
        made.append(Actual("parts", "parts", whole, whole + lost, len(cut) + len(spoiled), why))
    return (*made, *_money(tuple(orders)))


def _money(orders: tuple[PastOrder, ...]) -> tuple[Actual, ...]:
    """Return what was paid against each project's first order, no line without orders."""
    if not orders:
        return ()
    first: dict[str, PastOrder] = {}
    for order in sorted(orders, key=lambda o: o.day):
        first.setdefault(order.project, order)
    later = [o for o in orders if o is not first[o.project]]
    planned = float(sum(o.total for o in first.values()))
    paid = float(sum(o.total for o in orders))
    why = "; ".join(f"{o.day} ordered again: {', '.join(x.name for x in o.lines)}" for o in later)
    return (Actual("orders", MONEY, planned, paid, len(orders), why),)


def _furthest(found: list[JournalEntry], rates: Rates) -> str:
    """Say which step came out furthest from the plan, where any did far; empty for none."""

    def off(entry: JournalEntry) -> float:
        ratio = entry.value / (entry.planned * rates.pace(entry.about))
        return max(ratio, 1 / ratio) if ratio else 0.0

    worst = max(found, key=off)
    if off(worst) <= FAR:
        return ""
    planned = worst.planned * rates.pace(worst.about)
    return f"{worst.words}: {worst.value:.0f} min, planned {planned:.0f}"


def _line(name: str, unit: str, planned: float, actual: float, found: list[JournalEntry]) -> Actual:
    far = actual > FAR * planned or actual * FAR < planned
    why = "; ".join(dict.fromkeys(e.words for e in found if e.words)) if far else ""
    return Actual(name, unit, planned, actual, len(found), why)


class ProjectActual(Struct, frozen=True):
    """One project: hours planned and real, parts spoiled, hours worn, what was paid."""

    name: str
    planned: float
    actual: float
    parts: float
    spoiled: float
    worn: float
    entries: int
    paid: Decimal = Decimal(0)


def projects_of(
    entries: Iterable[JournalEntry], orders: Iterable[PastOrder] = ()
) -> tuple[ProjectActual, ...]:
    """Return every project that the journal knows, by name; minutes at rates from memory."""
    paid: dict[str, Decimal] = {}
    for order in orders:
        paid[order.project] = paid.get(order.project, Decimal(0)) + order.total
    named: dict[str, list[JournalEntry]] = {}
    for entry in entries:
        named.setdefault(entry.project_name or entry.project, []).append(entry)

    def total(found: list[JournalEntry], kind: EntryKind) -> float:
        return sum(e.value for e in found if e.kind is kind)

    return tuple(
        ProjectActual(
            name,
            sum(e.planned for e in found if e.kind is EntryKind.TIME and e.value),
            sum(e.value for e in found if e.kind is EntryKind.TIME and e.planned),
            total(found, EntryKind.CUT),
            total(found, EntryKind.SPOILED),
            total(found, EntryKind.WORN),
            len(found),
            paid.get(name, Decimal(0)),
        )
        for name, found in sorted(named.items())
    )
