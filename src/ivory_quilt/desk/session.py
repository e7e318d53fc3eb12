"""The open document: project, undo history, plan, and the shop it is planned in.

Data runs one way: an edit makes a new project, the plan is derived anew, `changed` tells every
view. Views never hold decisions of their own.
"""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.fastening import refreshed_fixings
from ivory_quilt.core.document.project import KeptLayout, Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import Plan, derive, owned_use
from ivory_quilt.core.plan.standing import Proposal, Standing
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem
from ivory_quilt.core.stock.purchase import Ledger, LedgerChange, ledger_change
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.desk.foam_mover import FoamMover
from ivory_quilt.files.atomic import FileStamp
from ivory_quilt.files.project_file import load_project, save_project
from ivory_quilt.shop.cutting import foam_moves, move_foam
from ivory_quilt.shop.store import ShopStore

MOST_UNDO = 500
MOST_PLANS = 8  # states of the project whose plans are kept, so that undoing is no work


class Edit(Struct, frozen=True):
    """One step of the history: what was done, and the project before it."""

    label: str
    before: Project


class Session(QObject):
    """One project under work."""

    changed = Signal()
    """The project, the plan, the stock or the history changed."""
    proposed = Signal()
    """Better layouts are offered, and nothing else changed: the plan, and what follows of it."""
    opened = Signal()
    """Another project took the place of the last one."""
    told = Signal(str, str)
    """A message for the maker: text, and its tone ("", "good", "heat" or "cut")."""

    def __init__(self, store: ShopStore, parent: QObject | None = None) -> None:
        """Begin with an empty project in the shop of `store`."""
        super().__init__(parent)
        self.store = store
        self.project = Project()
        self.path: Path | None = None
        self.stamp: FileStamp | None = None
        """Of the file at `path`, as it was when it was last read or written here."""
        self.stock: ShopStock = store.readable_stock()[0]
        """The whole shop; the plan has of it what no other project holds."""
        self._free = self.stock
        self.foam = FoamMover()
        self.proposals: dict[Foam, Proposal] = {}
        self.selected: tuple[str, ...] = ()
        """The pieces selected on the board; some of them may be gone."""
        self._undo: list[Edit] = []
        self._redo: list[Edit] = []
        self._saved = self.project
        self.plan: Plan = derive(self.project, self._free)
        self._plans: list[Plan] = [self.plan]
        self._base: Ledger = self.plan.ledger

    # Opening and saving

    @property
    def dirty(self) -> bool:
        """Whether there is something unsaved."""
        return self.project is not self._saved

    @property
    def title(self) -> str:
        """The project's name, marked when unsaved."""
        return f"{self.project.name}{' •' if self.dirty else ''}"

    def start(
        self,
        project: Project,
        path: Path | None = None,
        *,
        saved: bool = True,
        stamp: FileStamp | None = None,
    ) -> None:
        """Take up another project; the history starts anew. `stamp` is of the file at `path`."""
        self.project, self.path, self.stamp = project, path, stamp
        self.selected = ()
        self._saved = project if saved else Project()
        self._undo.clear()
        self._redo.clear()
        self.proposals.clear()
        self._free = self.stock.free_for(self.key)
        self.plan = derive(project, self._free)
        self._plans = [self.plan]
        self._base = self.plan.ledger
        self.opened.emit()
        self.changed.emit()

    def give_up(self, spent: tuple[SpentSheet, ...]) -> None:
        """Let go of what is unsaved: foam of sheets cut since lies on the shelf again.

        `spent` are the sheets that are cut as the project was saved last.
        """
        self.try_shop(lambda: move_foam(self.store, self.project.spent, spent))

    def open(self, path: Path) -> None:
        """Open a project file.

        Raises:
            InputError: see `load_project`; the present project stays.
        """
        stamp = FileStamp.of(path)
        self.start(load_project(path), path, stamp=stamp)

    def save(self, path: Path) -> None:
        """Save to `path` and keep it as the project's place.

        Raises:
            InputError: it cannot be written; nothing is lost.
        """
        save_project(self.project, path)
        self.path, self._saved, self.stamp = path, self.project, FileStamp.of(path)
        self._reserve()
        self.changed.emit()

    @property
    def changed_outside(self) -> bool:
        """Whether another program changed the project's file since it was read or written here."""
        if self.path is None or self.stamp is None:
            return False
        there = FileStamp.of(self.path)
        return there is not None and there != self.stamp

    # Editing

    def edit(
        self, label: str, change: Callable[[Project], Project], *, merge: bool = False
    ) -> bool:
        """Do an edit; return False when it changed nothing.

        With `merge`, an edit of the same label as the last one joins it in the history.

        Raises:
            InputError: the edit makes no sense; the project stays as it was.
        """
        after = change(self.project)
        if after == self.project:
            return False
        after = refreshed_fixings(after)
        self.foam.move(self.store, self.project, after)
        if not (merge and self.undo_label == label):
            self._undo.append(Edit(label, self.project))
            del self._undo[:-MOST_UNDO]
        self._redo.clear()
        self._take(after)
        return True

    def undo(self) -> None:
        """Go back one step."""
        if self._undo and self._foam_follows(self._undo[-1]):
            step = self._undo.pop()
            self._redo.append(Edit(step.label, self.project))
            self._take(step.before)

    def redo(self) -> None:
        """Go forward again one step."""
        if self._redo and self._foam_follows(self._redo[-1]):
            step = self._redo.pop()
            self._undo.append(Edit(step.label, self.project))
            self._take(step.before)

    @property
    def undo_label(self) -> str:
        """What undo would take back, or an empty string."""
        return self._undo[-1].label if self._undo else ""

    @property
    def redo_label(self) -> str:
        """What redo would do again, or an empty string."""
        return self._redo[-1].label if self._redo else ""

    @property
    def history(self) -> list[str]:
        """Labels of all steps that can be undone, oldest first."""
        return [step.label for step in self._undo]

    def undo_to(self, steps: int) -> None:
        """Go back several steps at once."""
        for _ in range(min(steps, len(self._undo))):
            if not self._foam_follows(self._undo[-1]):
                break
            step = self._undo.pop()
            self._redo.append(Edit(step.label, self.project))
            self.project = step.before
        self._take(self.project)

    def _foam_follows(self, step: Edit) -> bool:
        """Move foam on the shelf as going to a step asks; return whether that could be done."""
        return self.try_shop(lambda: self.foam.move(self.store, self.project, step.before))

    def _take(self, project: Project) -> None:
        # A ledger with foam still to be laid is no base to compare with.
        if not any(not line.laid for line in self.plan.ledger.lines):
            self._base = self.plan.ledger
        moved = foam_moves(self.project.spent, project.spent)
        self.project = project
        if moved:
            self.reload_stock()
            if self.path is not None:
                self._reserve()
        else:
            self._derive()

    def _derive(self) -> None:
        self._plan_anew()
        self.changed.emit()

    def _plan_anew(self) -> None:
        """Derive the plan from what is known of this state of the project, or of the last one."""
        known = [p for p in self._plans if p.project is self.project and p.shop is self._free]
        if known and known[0] is not self.plan:
            self._offer_again(known[0])
        before = known[0] if known else self.plan
        self.plan = derive(self.project, self._free, self.proposals, before)
        others = [p for p in self._plans if p.project is not self.project]
        self._plans = [*others, self.plan][-MOST_PLANS:]

    def _offer_again(self, before: Plan) -> None:
        """Offer what was offered for a state that is gone back to, where nothing better is."""
        for planned in before.foams:
            offered = self.proposals.get(planned.foam)
            if planned.standing is Standing.PROPOSED and (
                offered is None or offered.job != planned.job
            ):
                self.proposals[planned.foam] = before.proposals[planned.foam]

    # Layouts

    def propose(self, foam: Foam, job: LayJob, result: LayResult) -> None:
        """Show a layout that the engine made for `job`, unless the maker keeps one that holds."""
        self.proposals[foam] = Proposal(job, result)
        self._derive()

    def propose_all(self, proposals: dict[Foam, Proposal]) -> None:
        """Offer layouts of several foams at once, while the maker may be at something else."""
        self.proposals.update(proposals)
        self._plan_anew()
        self.proposed.emit()

    def kept_or_shown(self, foam: Foam) -> KeptLayout | None:
        """Return the layout of one foam as it is shown, as something that can be kept."""
        planned = self.plan.foam(foam)
        if planned is None or planned.result is None:
            return None
        pins = planned.kept.pins if planned.kept is not None else frozenset()
        return KeptLayout(foam, planned.result.placements, pins)

    def keep_all(self) -> bool:
        """Keep every proposed layout; return whether there was any."""
        shown = [
            self.kept_or_shown(f.foam) for f in self.plan.foams if f.standing is Standing.PROPOSED
        ]

        def keep(project: Project) -> Project:
            for kept in shown:
                if kept is not None:
                    project = keep_layout(project, kept)
            return project

        return bool(shown) and self.edit("Keep layouts", keep)

    @property
    def last_change(self) -> LedgerChange | None:
        """What the last edit changed, once everything is laid again."""
        if self.plan.unlaid or not (self._undo or self._redo):
            return None
        return ledger_change(self._base, self.plan.ledger)

    # The shop

    def put_stock(self, item: StockItem) -> None:
        """Add stock or change it; layouts are derived anew.

        Raises:
            InputError: the shop refuses it, or another window changed the same thing meanwhile; the
                shop is shown as it is now.
        """
        known = self.stock.item(item.id)
        try:
            if known is None:
                self.store.add(item)
            else:
                self.store.change(known, item)
        finally:
            self.reload_stock()

    def remove_stock(self, item_id: str) -> None:
        """Take stock out of the shop.

        Raises:
            InputError: the shop cannot be written.
        """
        self.store.remove(item_id)
        self.reload_stock()

    def reload_stock(self) -> None:
        """Read the shop again; one that cannot be read now stays as it was read last."""
        try:
            self.stock = self.store.readable_stock()[0]
        except InputError as error:
            self.tell(str(error), "cut")
            return
        before, self._free = self._free, self.stock.free_for(self.key)
        # What is offered for foams whose stock is as it was stands.
        for foam in [f for f in self.proposals if not before.same_for(f, self._free)]:
            del self.proposals[foam]
        self._derive()

    @property
    def key(self) -> str:
        """By what the shop knows the project when it holds something: its file's place."""
        return "" if self.path is None else str(self.path.resolve())

    def _reserve(self) -> None:
        """Hold what the kept layouts take from the shelf; say so when another project holds it."""
        wants = owned_use(self.plan)
        mine = {r.item: r.count for r in self.stock.reserved if r.project == self.key}
        if mine == wants:
            return
        try:
            self.store.reserve(self.key, self.project.name, wants)
            self.stock = self.store.readable_stock()[0]
        except InputError as error:
            text = f"Saved, but the shelf is not held for it. {error}"
            self.tell(text, "heat")

    def use_store(self, store: ShopStore) -> None:
        """Work in another store from now on."""
        self.store = store
        self.reload_stock()

    def notice_shop(self) -> None:
        """Read the shop again when another window changed it."""
        try:
            changed = self.store.changed_elsewhere()
        except InputError as error:
            self.tell(str(error), "cut")
            return
        if changed:
            self.reload_stock()

    def try_shop(self, work: Callable[[], object]) -> bool:
        """Do something in the shop; return whether it was done, and tell why not."""
        try:
            work()
        except InputError as error:
            self.tell(str(error), "cut")
            return False
        return True

    def tell(self, text: str, tone: str = "") -> None:
        """Say something to the maker."""
        self.told.emit(text, tone)
