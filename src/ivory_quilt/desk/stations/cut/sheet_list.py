"""Sheet by sheet: what is still to be cut, what is cut, and what each left for the shelf."""

from functools import partial

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.document.cutting import SheetKey, cut_sheet, uncut_sheet
from ivory_quilt.core.document.project import Project, keep_layout
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.cutting import SheetRest, planned_rests, sheet_to_cut
from ivory_quilt.core.plan.plan import FoamPlan, Plan, UsedSheet, used_sheets
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.stock.spent_sheet import CutState, SpentSheet
from ivory_quilt.core.units import counted, show_area, show_parts, show_thickness
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Stitch, button, clear, column, label, row
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.work import TaskRunner

MOST_NAMES = 4  # parts named on a row


class SheetCutting:
    """Tells the session that sheets are cut."""

    def __init__(self, session: Session) -> None:
        """Work on `session`'s project and shop."""
        self.session = session
        self.planned: dict[tuple[Foam, SheetKey], SheetRest] = {}
        """What sheets leave, as papers say it, once that is known."""

    def to_cut(self) -> list[UsedSheet]:
        """Return the sheets that are still to be cut, thin foam first."""
        plan = self.session.plan
        return [one for foam in plan.foams for one in used_sheets(foam, plan.stock)]

    def cut(self, foam: FoamPlan, key: SheetKey) -> SpentSheet | None:
        """Note that a sheet is cut; its foam leaves the shelf, what is left comes onto it.

        Returns None, and tells why, when that cannot be.
        """
        session = self.session
        try:
            rest = self.planned.get((foam.foam, key))
            own = rest.labels if rest is not None else ()
            spent = sheet_to_cut(session.plan, foam, key, self.taken(), own)
            shown = session.kept_or_shown(foam.foam)

            def change(project: Project) -> Project:
                if shown is not None:
                    project = keep_layout(project, shown)
                return cut_sheet(project, spent, key)

            session.edit(f"Cut {spent.item.name}", change)
        except InputError as error:
            session.tell(str(error), "cut")
            return None
        session.tell(f"{spent.item.name} is cut. {left_words(spent)}", "good")
        return spent

    def taken(self) -> set[str]:
        """Return the ids on the whole shelf: what others hold, too."""
        return {i.id for i in self.session.stock.items}

    def uncut(self, sheet: SpentSheet) -> None:
        """Take back that a sheet was cut."""
        session = self.session
        try:
            session.edit(f"Not cut: {sheet.item.name}", lambda p: uncut_sheet(p, sheet.id))
        except InputError as error:
            session.tell(str(error), "cut")


def left_words(sheet: SpentSheet) -> str:
    """Return what goes to the shelf, with the labels to write on it."""
    offcuts = [i for i in sheet.left if i.kind is StockKind.OFFCUT]
    rolls = [i for i in sheet.left if i.kind is StockKind.ROLL]
    scraps = sum(i.owned for i in sheet.left if i.kind is StockKind.SCRAP)
    words = [f"Label {i.id}: {_size(i)}" for i in (*rolls, *offcuts)]
    if scraps:
        words.append(f"{counted(scraps, 'scrap piece')} for the box")
    return "; ".join(words) + "." if words else "Nothing is left worth keeping."


def sheet_title(item: StockItem) -> str:
    """Return a sheet's thickness and name; many a name has the thickness in it."""
    thick = show_thickness(item.foam.thickness)
    return item.name if item.name.startswith(thick) else f"{thick} {item.name}"


def _size(item: StockItem) -> str:
    return item.size_text.removeprefix("about ")


def _names(one: UsedSheet) -> str:
    here = [part.label for part in one.parts]
    names = list(dict.fromkeys(here))
    more = f" and {len(names) - MOST_NAMES} more" if len(names) > MOST_NAMES else ""
    return f"{show_parts(len(here))}: {', '.join(names[:MOST_NAMES])}{more}"


class SheetList(QWidget):
    """One row a sheet."""

    wants_cutting = Signal(object)
    """A sheet is to be cut part by part: a `UsedSheet`, or the id of one that was begun."""

    def __init__(self, session: Session, tasks: TaskRunner) -> None:
        """Show the sheets of `session`'s project; `tasks` finds out what they leave."""
        super().__init__()
        self._session, self._tasks = session, tasks
        self.work = SheetCutting(session)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(10)
        around = column(self.rows, None, space=0)
        around.setContentsMargins(24, 16, 24, 20)
        self.setLayout(around)
        self._shown: object = None

    def fill(self) -> None:
        """Show the sheets as they stand."""
        plan = self._session.plan
        state = (tuple((f.foam, f.result, f.standing) for f in plan.foams), plan.project.spent)
        if state == self._shown:
            return
        self._shown = state
        self._plan_rests(plan)
        clear(self.rows)
        to_cut = self.work.to_cut()
        begun = [s for s in plan.project.spent if s.under_knife]
        spent = [s for s in plan.project.spent if not s.under_knife]
        if not to_cut and not plan.project.spent:
            self.rows.addWidget(label("No sheet is laid yet.", "note"))
        if begun:
            self.rows.addWidget(label(f"Under the knife: {counted(len(begun), 'sheet')}", "title"))
        for sheet in begun:
            self._add_begun(sheet)
        if to_cut:
            if begun:
                self.rows.addWidget(Stitch())
            self.rows.addWidget(label(f"To cut: {counted(len(to_cut), 'sheet')}", "title"))
        for one in to_cut:
            self._add_to_cut(one)
        if spent:
            self.rows.addWidget(Stitch())
            self.rows.addWidget(label(f"Cut: {counted(len(spent), 'sheet')}", "title"))
        for sheet in reversed(spent):
            self._add_spent(sheet)

    def _plan_rests(self, plan: Plan) -> None:
        self.work.planned = {}
        if plan.unlaid:
            return
        taken = self.work.taken()

        def done(
            found: dict[tuple[Foam, SheetKey], SheetRest] | None, error: Exception | None
        ) -> None:
            if error is not None:
                raise error
            if self._session.plan is plan:
                self.work.planned = found or {}

        self._tasks.run(lambda: planned_rests(plan, taken), done)

    def _head(self, item: StockItem) -> QWidget:
        kind = self._session.stock.material(item.foam.material).kind
        return EdgeBar(item.foam.thickness, 40, kind)

    def _add_to_cut(self, one: UsedSheet) -> None:
        cut = button(
            "Cut part by part …",
            partial(self.wants_cutting.emit, one),
            "main",
            "Large and one part at a time, with each tick kept",
        )
        cut.setAccessibleName(f"cut sheet {one.number} of {one.item.name} part by part")
        cut.setEnabled(not self._session.plan.unlaid)
        made = button(
            "It is cut",
            partial(self.work.cut, one.foam, one.key),
            "quiet",
            "Take it off the shelf, and put what is left of it there; can be undone",
        )
        made.setAccessibleName(f"sheet {one.number} of {one.item.name} is cut")
        made.setEnabled(not self._session.plan.unlaid)
        origin = "from the shelf" if one.owned else "bought"
        head = row(
            label(f"{one.number}. {sheet_title(one.item)}", "heading"), label(origin, "note"), None
        )
        words = column(head, label(_names(one), "note", wrap=True), space=2)
        self.rows.addLayout(row(self._head(one.item), words, made, cut, space=12))

    def _add_begun(self, sheet: SpentSheet) -> None:
        on = button("Go on", partial(self.wants_cutting.emit, sheet.id), "main", "Cut it further")
        on.setAccessibleName(f"go on cutting {sheet.item.name}")
        back = button(
            "Take back",
            partial(self.work.uncut, sheet),
            "quiet",
            "Nothing of it was cut: it lies on the shelf again, its parts are laid anew",
        )
        back.setAccessibleName(f"take back that {sheet.item.name} is begun")
        done = len(sheet.parts) - len(sheet.has(CutState.WAITING))
        spoiled = len(sheet.has(CutState.SPOILED))
        note = f"{done} of {show_parts(len(sheet.parts))} ticked"
        note += f", {spoiled} spoiled" if spoiled else ""
        words = column(label(sheet.item.name, "heading"), label(note, "note"), space=2)
        self.rows.addLayout(row(self._head(sheet.item), words, None, back, on, space=12))

    def _add_spent(self, sheet: SpentSheet) -> None:
        back = button(
            "Take back",
            partial(self.work.uncut, sheet),
            "quiet",
            "It was not cut after all: it lies on the shelf again, its parts are laid anew",
        )
        back.setAccessibleName(f"take back that {sheet.item.name} is cut")
        area = show_area(sheet.part_area)
        spoiled = len(sheet.has(CutState.SPOILED))
        note = f"{show_parts(len(sheet.parts))}, {area}"
        note += f", {spoiled} spoiled" if spoiled else ""
        head = row(label(sheet.item.name, "heading"), label(note, "note"), None)
        words = column(head, label(left_words(sheet), "note", wrap=True), space=2)
        self.rows.addLayout(row(self._head(sheet.item), words, back, space=12))
