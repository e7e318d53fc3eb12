"""What becomes of a spoiled part: room on its own sheet, or other foam and its cost."""

from collections.abc import Callable

from ivory_quilt.core.cutting.paper_layout import LayPaper
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.geometry.shape import Pose
from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.plan.cutting import AGAIN, room_job
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.purchase import FoamLine, Ledger, ledger_change
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import TaskRunner

RoomLayer = Callable[[Callable[[], bool]], LayPaper]


class Spoilt(Struct, frozen=True):
    """What becomes of the part that was spoiled last.

    Attributes:
        number: on the sheet.
        before: its foam in the ledger before it was spoiled, laid; None where that is not known.
        looking: whether room for it on this sheet is still looked for.
        room: where it finds room there; None: nowhere.
    """

    number: int
    before: FoamLine | None
    looking: bool = True
    room: Pose | None = None


class SpoiltPart:
    """The part that was spoiled last, as long as nothing else was done."""

    def __init__(
        self,
        session: Session,
        tasks: TaskRunner,
        layer: RoomLayer,
        changed: Callable[[], object],
    ) -> None:
        """Look for room with `layer` on the thread of `tasks`; `changed` is called then."""
        self._session, self._tasks, self._layer, self._changed = session, tasks, layer, changed
        self.found: Spoilt | None = None
        self._search = 0

    def forget(self) -> None:
        """Something else was done: nothing is looked for any more."""
        self._search += 1
        self.found = None

    def look(self, sheet: SpentSheet, number: int, before: FoamLine | None) -> None:
        """Look for room for a part on its own sheet; `before` is its foam before it was spoiled."""
        self.forget()
        search = self._search

        def found(result: LayResult | None, error: Exception | None) -> None:
            if error is not None and not isinstance(error, QuiltError):
                raise error
            if search == self._search:
                laid = result.placements if result is not None else ()
                room = next((p.pose for p in laid if p.piece == AGAIN), None)
                self.found = Spoilt(number, before, looking=False, room=room)
                self._changed()

        try:
            job = room_job(self._session.plan, sheet, number)
        except InputError:
            self.found = Spoilt(number, before, looking=False)
            return
        self.found = Spoilt(number, before)
        lay = self._layer(lambda: search == self._search)
        self._tasks.run(lambda: lay(job), found)

    def words(self, sheet: SpentSheet) -> str:
        """Return what it costs that the part on `sheet` is spoiled, as far as it is known."""
        spoilt, plan = self.found, self._session.plan
        if spoilt is None:
            return ""
        name = sheet.parts[spoilt.number].label
        foam = plan.foam(sheet.item.foam)
        if foam is None or not foam.line.laid:
            return f"{name} is asked for again: it is laid on other foam …"
        before, after = spoilt.before, foam.line
        if after.unplaced > (before.unplaced if before is not None else 0):
            return f"There is no other foam for {name}: buy more."
        if before is None:
            return f"{name} is laid on other foam."
        change = ledger_change(Ledger((before,)), Ledger((after,)))
        sheets = ", ".join(words for _, words in change.foams) or "no sheet more"
        money = f"{plan.stock.money(change.cost)} more" if change.cost > 0 else "no money more"
        return f"{name} on other foam: {sheets}, {money}."
