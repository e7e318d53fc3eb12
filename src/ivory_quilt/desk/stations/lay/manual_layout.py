"""Exact work with the chosen parts: push, settle, swap, send to another sheet, lock a sheet."""

from ivory_quilt.core.document.project import keep_layout, move_part, set_pins
from ivory_quilt.core.geometry.centred import at_centre, centre_of
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.purchase import item_of
from ivory_quilt.desk.stations.lay.hands import HandQuestion, Hands, Steps, question
from ivory_quilt.desk.stations.lay.presenter import Laid, LayPresenter, PartKey

SheetKey = tuple[str, int]


class ManualLayout:
    """What the maker's hands do with chosen parts, each as one edit that undo takes back."""

    def __init__(self, presenter: LayPresenter, hands: Hands) -> None:
        """Work on what `presenter` has chosen; `hands` find free places."""
        self.presenter, self.hands = presenter, hands

    @property
    def one(self) -> tuple[PartKey, Laid] | None:
        """The only chosen part and how it lies, or None."""
        chosen = self.presenter.selected
        found = self.presenter.find(chosen[0]) if len(chosen) == 1 else None
        return None if found is None else (chosen[0], found)

    @property
    def pair(self) -> bool:
        """Whether two parts of one foam are chosen."""
        chosen = self.presenter.selected
        return len(chosen) == 2 and chosen[0][0] == chosen[1][0]

    # Single parts

    def _do(self, steps: Steps) -> None:
        if not self.hands.ready:
            self.presenter.session.tell("The layout engine is not ready yet.", "heat")
            return
        self.hands.do(steps)

    def push(self, direction: str) -> None:
        """Push every chosen part one after another until it touches something."""
        self._do(self._push(direction))

    def _push(self, direction: str) -> Steps:
        for key in self.presenter.selected:
            found = self.presenter.find(key)
            if found is None:
                continue
            planned, index, placement = found
            moved = yield question(planned, index, direction, placement)
            if moved is not None and moved != placement and self._as_before(key, found):
                self.presenter.move(key, moved, "Push")

    def settle(self) -> None:
        """Let the chosen part drop into the nearest gap, in any way that it may lie."""
        self._do(self._settle())

    def _settle(self) -> Steps:
        one = self.one
        if one is None:
            return
        key, found = one
        moved = yield question(found.plan, found.number, "dropped", found.placement)
        if not self._as_before(key, found):
            return
        if moved is None:
            self.presenter.session.tell("No gap nearby takes this part.", "heat")
        else:
            self.presenter.move(key, moved, "Settle")

    def _as_before(self, key: PartKey, found: Laid) -> bool:
        """Whether the layout is still the one that was asked about."""
        now = self.presenter.find(key)
        return now is not None and now.plan.result is found.plan.result

    def targets(self) -> list[tuple[str, SheetKey]]:
        """Return (name, sheet) of the sheets that the chosen part may be sent to."""
        one = self.one
        if one is None:
            return []
        _, (planned, _, placement) = one
        assert planned.result is not None
        found: list[tuple[str, SheetKey]] = []
        for number, use in enumerate(planned.result.stock, 1):
            if (use.id, use.copy) != (placement.sheet, placement.sheet_copy):
                found.append((self._name(number, use.id), (use.id, use.copy)))
        used = {(u.id, u.copy) for u in planned.result.stock}
        for sheet in planned.job.sheets:
            copy = 0
            while (sheet.id, copy) in used:
                copy += 1
            if sheet.quantity is None or copy < sheet.quantity:
                found.append((f"a new {self._name(0, sheet.id)}", (sheet.id, copy)))
        return found

    def _name(self, number: int, stock_id: str) -> str:
        item, _ = item_of(stock_id, self.presenter.session.plan.stock)
        name = item.name if item is not None else stock_id
        return f"sheet {number}: {name}" if number else name

    def send(self, sheet: SheetKey) -> None:
        """Send the chosen part to another sheet; say so when it has no room there."""
        self._do(self._send(sheet))

    def _send(self, sheet: SheetKey) -> Steps:
        one = self.one
        if one is None:
            return
        key, found = one
        there = replace(found.placement, sheet=sheet[0], sheet_copy=sheet[1])
        moved = yield question(found.plan, found.number, "onto", there)
        if not self._as_before(key, found):
            return
        if moved is None:
            self.presenter.session.tell(f"{found.part.label} finds no room there.", "heat")
        else:
            self.presenter.move(key, moved, "Send")

    def swap(self) -> None:
        """Let two chosen parts change places; refuse when one does not fit the other's."""
        if self.pair:
            self._do(self._swap())

    def _swap(self) -> Steps:
        a, b = self.presenter.selected
        first, second = self.presenter.find(a), self.presenter.find(b)
        if first is None or second is None:
            return
        (planned, i, one), (_, j, two) = first, second
        assert planned.result is not None
        shapes = {p.id: p.shape for p in planned.job.pieces}
        # The first settles among all others; the second then finds its place beside it.
        settled = [p for k, p in enumerate(planned.result.placements) if k not in (i, j)]
        kept = self.presenter.session.kept_or_shown(planned.foam)
        if kept is None:
            return
        for key, mine, theirs in ((a, one, two), (b, two, one)):
            centre = centre_of(shapes[theirs.piece], theirs.pose)
            pose = at_centre(shapes[mine.piece], mine.pose, centre)
            moved = replace(mine, sheet=theirs.sheet, sheet_copy=theirs.sheet_copy, pose=pose)
            layout = (*settled, moved)
            found = yield HandQuestion(planned.job, layout, len(settled), "near", moved)
            if not self._as_before(a, first):
                return
            if found is None:
                text = f"{planned.part(mine.piece).label} does not fit where the other lies."
                self.presenter.session.tell(text, "heat")
                return
            settled.append(found)
            kept = set_pins(move_part(kept, found), [key[1]], pinned=True)
        final = kept
        self.presenter.session.edit("Swap parts", lambda p: keep_layout(p, final))

    # Sheets

    def sheet_of_chosen(self) -> SheetKey | None:
        """Return the sheet that the chosen parts lie on, None when they lie on several."""
        sheets = set()
        for key in self.presenter.selected:
            found = self.presenter.find(key)
            if found is not None:
                sheets.add((found.placement.sheet, found.placement.sheet_copy))
        return sheets.pop() if len(sheets) == 1 else None

    def is_locked(self, planned: FoamPlan, sheet: SheetKey) -> bool:
        """Return whether every part of a sheet is pinned."""
        assert planned.result is not None
        on = [p for p in planned.result.placements if (p.sheet, p.sheet_copy) == sheet]
        return bool(on) and all(
            self.presenter.is_pinned((planned.foam, (p.piece, p.copy))) for p in on
        )

    def lock_sheet(self) -> None:
        """Lock the chosen parts' sheet: all on it is pinned; or unlock it."""
        sheet = self.sheet_of_chosen()
        found = self.presenter.find(self.presenter.selected[0]) if sheet else None
        if sheet is None or found is None:
            return
        planned = found.plan
        assert planned.result is not None
        kept = self.presenter.session.kept_or_shown(planned.foam)
        if kept is None or planned.line.unplaced:
            return
        lock = not self.is_locked(planned, sheet)
        keys = [
            (p.piece, p.copy) for p in planned.result.placements if (p.sheet, p.sheet_copy) == sheet
        ]
        changed = set_pins(kept, keys, pinned=lock)
        word = "Lock sheet" if lock else "Unlock sheet"
        self.presenter.session.edit(word, lambda p: keep_layout(p, changed))
