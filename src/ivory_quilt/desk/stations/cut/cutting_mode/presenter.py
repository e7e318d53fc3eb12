"""One sheet under the knife: what is cut next, what was, and what becomes of spoiled parts."""

import time
from collections.abc import Callable
from datetime import date

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.cutting.order import CuttingOrder, cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.document.cutting import cut_sheet, uncut_sheet
from ivory_quilt.core.document.project import Project, keep_layout
from ivory_quilt.core.document.under_knife import add_part, close_sheet, mark_part
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.at_hand import AtHand, cutting_at_hand
from ivory_quilt.core.plan.cut_facts import CutFacts, cut_facts, set_blade
from ivory_quilt.core.plan.cutting import (
    left_of,
    part_of,
    planned_rests,
    sheet_to_begin,
    sheet_to_cut,
)
from ivory_quilt.core.plan.effort import pass_minutes
from ivory_quilt.core.plan.plan import UsedSheet
from ivory_quilt.core.plan.templates import Template, templates_by_part
from ivory_quilt.core.stock.consumables import ConsumableKind
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.stock.purchase import FoamLine
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.cut.cutting_mode.hand_time import HandTime
from ivory_quilt.desk.stations.cut.cutting_mode.spoilt_part import (
    RoomLayer,
    Spoilt,
    SpoiltPart,
)
from ivory_quilt.desk.work import TaskRunner


class KnifeWork(QObject):
    """The sheet that lies under the knife."""

    changed = Signal()
    """Another part, another sheet, or something is known of a spoiled part."""
    timed = Signal(str, float, float)
    """A sheet is done: its name, the minutes that hands took, and those that were planned."""
    marked = Signal()
    """A tick is in the project: it must be on the disk before the hand leaves the key."""

    def __init__(self, session: Session, layer: RoomLayer) -> None:
        """Cut sheets of `session`'s project; `layer` looks for room on them."""
        super().__init__()
        # A thread of its own: a hand with a knife does not wait until papers are laid.
        self.session, self._tasks = session, TaskRunner()
        self.today: Callable[[], date] = date.today
        self.clock: Callable[[], float] = time.monotonic
        self._hands = HandTime()
        self.sheet_id = ""
        self.beginning = False
        """Whether the order of cuts is being worked out for a sheet that is about to begin."""
        self.last: int | None = None
        """Number of the part that was ticked last, or None."""
        self._chosen: int | None = None
        self._seen: SpentSheet | None = None
        self._laid: FoamLine | None = None
        self._room = SpoiltPart(session, self._tasks, layer, self.changed.emit)
        self._templates: dict[str, tuple[str, Template]] = {}
        session.changed.connect(self._follow)
        session.proposed.connect(self._note_laid)

    def end(self) -> None:
        """Work no more: the desk closes."""
        self._room.forget()
        self._tasks.close()

    # What lies there

    @property
    def sheet(self) -> SpentSheet | None:
        """The sheet under the knife, or None."""
        spent = self.session.project.spent
        return next((s for s in spent if s.id == self.sheet_id and s.under_knife), None)

    @property
    def spoilt(self) -> Spoilt | None:
        """What is known of the part that was spoiled last; None where none was just now."""
        return self._room.found

    @property
    def open_sheets(self) -> tuple[SpentSheet, ...]:
        """All sheets that were begun and are not done."""
        return tuple(s for s in self.session.project.spent if s.under_knife)

    @property
    def present(self) -> int | None:
        """Number of the part in hand: the one that was chosen, else the first to cut."""
        sheet = self.sheet
        if sheet is None:
            return None
        if self._chosen is not None and self._chosen < len(sheet.parts):
            return self._chosen
        return sheet.to_make[0][0] if sheet.to_make else None

    def facts(self, number: int) -> CutFacts:
        """Return what is to be known of one part."""
        sheet = self.sheet
        if sheet is None:
            return CutFacts("")
        return cut_facts(self.session.plan, sheet, number, self._templates)

    def next_after(self, number: int) -> int | None:
        """Return which part's pass comes after the present one of a part, of those to be made."""
        sheet = self.sheet
        if sheet is None:
            return None
        order = sheet.passes
        here = (number, sheet.parts[number].passes)
        others = [one for one in sheet.to_make if one != here]
        later = [k for k, n in others if order.index((k, n)) > order.index(here)]
        return later[0] if later else next((k for k, _ in others), None)

    def blade_words(self, number: int) -> str:
        """Return what is to be done to the blade before a part's present pass, or nothing."""
        sheet = self.sheet
        if sheet is None or not sheet.parts[number].waiting:
            return ""
        return ". ".join(
            words for words in (set_blade(sheet, number), self._fresh_blade(sheet, number)) if words
        )

    def _fresh_blade(self, sheet: SpentSheet, number: int) -> str:
        """Return that a fresh blade is due before a part, by the metres cut, or nothing."""
        blades = self.session.plan.stock.consumables
        lasts = next((c.coverage for c in blades if c.kind is ConsumableKind.BLADE), 0.0) * 1000
        if not lasts:
            return ""
        made = sum(_cut_length(s) for s in self.session.project.spent)
        last = sheet.parts[number].shape.polygon.length
        if int(made // lasts) == int((made + last) // lasts):
            return ""
        return f"A fresh blade: one lasts about {show_number(lasts / 1000, 0)} m"

    def at_hand(self, one: UsedSheet) -> tuple[AtHand, ...]:
        """Return what the cutting of a sheet needs."""
        return cutting_at_hand(self.session.plan, one, self.today().isoformat())

    # Sheets

    def begin(self, one: UsedSheet) -> None:
        """Work out the order of a sheet's cuts, and put it under the knife."""
        poses = [p.pose for p in one.placements]
        strokes = strokes_of(zip(one.parts, poses, strict=True))
        self.beginning = True
        self.changed.emit()

        plan, taken = self.session.plan, self._taken()

        def work() -> tuple[CuttingOrder, tuple[str, ...]]:
            rest = planned_rests(plan, taken).get((one.foam.foam, one.key))
            return cutting_order(strokes), rest.labels if rest is not None else ()

        def done(
            found: tuple[CuttingOrder, tuple[str, ...]] | None, error: Exception | None
        ) -> None:
            self.beginning = False
            if error is not None:
                raise error
            if found is not None:
                self._put_under_knife(one, *found)
            self.changed.emit()

        self._tasks.run(work, done)

    def _put_under_knife(self, one: UsedSheet, order: CuttingOrder, own: tuple[str, ...]) -> None:
        session = self.session
        foam = session.plan.foam(one.item.foam)
        try:
            if foam is None or foam.result is not one.foam.result:
                raise InputError(one.item.name, "it is laid otherwise by now", "the sheet again")
            whole = sheet_to_cut(session.plan, foam, one.key, self._taken(), own)
            sheet = sheet_to_begin(whole, order)
            shown = session.kept_or_shown(foam.foam)

            def change(project: Project) -> Project:
                if shown is not None:
                    project = keep_layout(project, shown)
                return cut_sheet(project, sheet, one.key)

            session.edit(f"Begin {one.item.name}", change)
        except InputError as error:
            session.tell(str(error), "cut")
            return
        self.take_up(sheet.id)
        self.marked.emit()

    def take_up(self, sheet_id: str) -> None:
        """Go on with a sheet that was begun."""
        self.sheet_id, self._chosen, self.last = sheet_id, None, None
        self._room.forget()
        self._seen, self._laid = self.sheet, None
        self._note_laid()
        self._hands = HandTime(self.clock())
        self._templates = templates_by_part(self.session.plan)
        self.changed.emit()

    def set_aside(self) -> None:
        """Leave the sheet as it is; it can be taken up again."""
        self.sheet_id, self._chosen, self.last = "", None, None
        self._room.forget()
        self.changed.emit()

    def left(self) -> tuple[StockItem, ...]:
        """Return what goes to the shelf when the sheet is done as it is now."""
        sheet = self.sheet
        return left_of(self.session.plan, sheet, self._taken()) if sheet is not None else ()

    def close(self, left: tuple[StockItem, ...]) -> bool:
        """Say that the sheet is done, and what of it goes to the shelf; return whether it is."""
        ident, sheet = self.sheet_id, self.sheet
        name = sheet.item.name if sheet is not None else ""
        if not self._edit(f"Cut {name}", lambda p: close_sheet(p, ident, left)):
            return False
        if self._hands.planned > 0:
            self.timed.emit(name, round(self._hands.taken, 2), self._hands.planned)
        self.set_aside()
        return True

    def give_back(self, sheet_id: str) -> None:
        """Say that nothing of a sheet was cut: it lies on the shelf as before."""
        if self._edit("Not begun", lambda p: uncut_sheet(p, sheet_id)):
            self.set_aside()

    def _taken(self) -> set[str]:
        """Return the ids on the whole shelf: what others hold, too."""
        return {i.id for i in self.session.stock.items}

    # Parts

    def choose(self, number: int) -> None:
        """Take another part in hand."""
        sheet = self.sheet
        if sheet is not None and 0 <= number < len(sheet.parts):
            self._chosen = number
            self.changed.emit()

    def step(self, by: int) -> None:
        """Take the part before or after in hand."""
        sheet, present = self.sheet, self.present
        if sheet is not None:
            at = present if present is not None else len(sheet.parts)
            self.choose(min(max(at + by, 0), len(sheet.parts) - 1))

    def mark(self, state: CutState, remark: str = "") -> None:
        """Say how the part in hand went, and go on with the next."""
        number, ident, sheet = self.present, self.sheet_id, self.sheet
        if number is None or sheet is None:
            return
        before = self._laid
        word = {CutState.WAITING: "Not cut", CutState.SPOILED: "Spoiled"}.get(state, "Cut")
        label = f"{word}: {sheet.parts[number].label}"
        self._room.forget()
        following = self.next_after(number)
        if not self._edit(label, lambda p: mark_part(p, ident, number, state, remark)):
            return
        if sheet.parts[number].waiting:
            self._measure(sheet, sheet.parts[number])
        self._chosen = following if state is not CutState.WAITING else number
        self.last = number
        if state is CutState.SPOILED:
            after = self.sheet
            assert after is not None
            self._room.look(after, number, before)
        self.changed.emit()

    def _measure(self, sheet: SpentSheet, one: CutPart) -> None:
        """Count the time since the tick before, for the pass that is ticked."""
        part, rates = part_of(self.session.plan, sheet, one), self.session.stock.rates
        minutes = 0.0
        if part is not None:
            setting, first = one.settings[one.passes], one.passes == 0
            minutes = pass_minutes(part, setting, rates, first=first, last=one.last_pass)
        self._hands.tick(self.clock(), minutes)

    def remark(self, text: str) -> None:
        """Say what was changed on the part that was ticked last, or why it is spoiled."""
        sheet, last, ident = self.sheet, self.last, self.sheet_id
        if sheet is None or last is None or sheet.parts[last].remark == text.strip():
            return
        state = sheet.parts[last].state
        label = f"Remark: {sheet.parts[last].label}"
        self._edit(label, lambda p: mark_part(p, ident, last, state, text))

    def _follow(self) -> None:
        """Take that part in hand which was changed from elsewhere: by undo or redo."""
        before, after = self._seen, self.sheet
        self._seen = after
        self._note_laid()
        if before is None or after is before:
            return
        self._room.forget()
        self.last = None
        if after is None:
            self.set_aside()
        else:
            pairs = enumerate(zip(before.parts, after.parts, strict=False))
            self._chosen = next((k for k, (a, b) in pairs if a != b), None)
        self.marked.emit()
        self.changed.emit()

    def _note_laid(self) -> None:
        """Remember what the sheet's foam comes to, whenever all of it is laid."""
        sheet = self.sheet
        foam = self.session.plan.foam(sheet.item.foam) if sheet is not None else None
        if foam is not None and foam.line.laid:
            self._laid = foam.line

    def _edit(self, label: str, change: Callable[[Project], Project]) -> bool:
        self._seen = None  # what follows is this edit's own
        try:
            done = self.session.edit(label, change)
        except InputError as error:
            self.session.tell(str(error), "cut")
            return False
        finally:
            self._seen = self.sheet
        if done:
            self.marked.emit()
        return done

    # Spoiled parts

    def put_here(self) -> None:
        """Lay the part that was spoiled last on what is left of this sheet, to be cut next."""
        spoilt, sheet = self.spoilt, self.sheet
        if spoilt is None or spoilt.room is None or sheet is None:
            return
        old = sheet.parts[spoilt.number]
        again = CutPart(old.part, old.label, old.shape, spoilt.room, settings=old.settings)
        whole = (*(CutPart(p.part, p.label, p.shape, p.pose) for p in sheet.parts), again)
        left = left_of(
            self.session.plan,
            SpentSheet(sheet.id, sheet.item, sheet.owned, sheet.used_length, whole),
            self._taken(),
        )
        ident = sheet.id
        if self._edit(f"Again: {old.label}", lambda p: add_part(p, ident, again, left)):
            self._chosen = self.last = None
            self._room.forget()
            self.changed.emit()

    def spoilt_words(self) -> str:
        """Return what the part that was spoiled last costs, as far as it is known."""
        sheet = self.sheet
        return self._room.words(sheet) if sheet is not None else ""


def _cut_length(sheet: SpentSheet) -> float:
    """Return how much of a sheet is cut, mm, spoiled parts too."""
    return sum(p.shape.polygon.length for p in sheet.parts if not p.waiting)
