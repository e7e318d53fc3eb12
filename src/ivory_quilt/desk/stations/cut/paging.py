"""Spreads templates over pages off the interface's thread, and keeps what came of it."""

from collections.abc import Callable

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.cutting.paper_layout import LayPaper
from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.plan.gauges import gauge_templates
from ivory_quilt.core.plan.masks import mask_templates
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, trial_templates
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.work import TaskRunner
from ivory_quilt.files.papers.tiling import TemplatePapers, material_names, papers_of, plan_pages

PaperLayer = Callable[[Callable[[], bool]], LayPaper]


class PagesWanted(Struct, frozen=True):
    """Which templates are wanted, and how.

    Attributes:
        plan: all that is cut.
        day: on which they are made, in words.
        wanted: ids of the pieces; None: all.
        wearer: the id of the one wearer they are for; empty: all.
        correction: the factor that makes the printer's prints true.
        strips: whether plain straight strips are told in numbers.
    """

    plan: Plan
    day: str = ""
    wanted: frozenset[str] | None = None
    wearer: str = ""
    correction: float = 1.0
    strips: bool = True

    @property
    def key(self) -> tuple[object, ...]:
        """All that the pages depend on, to be compared."""
        project = self.plan.project
        # What is cut hangs on the shop as well: on what its foams do.
        made = tuple(m for suit in self.plan.suits for m in suit.made.values())
        rules = (project.paper, project.halves, project.rule, project.seams)
        who = (project.troupe, project.wearers, self.wearer, self.wanted)
        words = (self.day, tuple(p.id for p in project.pieces), self.plan.stock.materials)
        return (made, rules, who, words, self.correction, self.strips)


class Paging(QObject):
    """The pages as last wanted, and whether they are still being laid."""

    changed = Signal()

    def __init__(self, tasks: TaskRunner, layer: PaperLayer, parent: QObject | None = None) -> None:
        """Lay nothing yet; `tasks` works elsewhere, `layer` lays there."""
        super().__init__(parent)
        self._tasks, self._layer = tasks, layer
        self._number = 0
        self._key: tuple[object, ...] | None = None
        self._made: tuple[tuple[object, ...], TemplatePapers] | None = None
        self.papers: TemplatePapers | None = None
        self.problem = ""
        self.waiting = False

    def ask(self, wish: PagesWanted) -> None:
        """Lay other pages, unless these are those that were wanted last."""
        key = wish.key
        if key == self._key:
            return
        self._key, self.waiting, self.problem = key, True, ""
        self._number += 1
        number = self._number
        self._tasks.run(
            lambda: self.made(wish, lambda: number == self._number),
            lambda papers, error: self._laid(number, papers, error),
        )
        self.changed.emit()

    def forget(self) -> None:
        """Let go of the pages: another project is open."""
        self._number += 1
        self._key, self.papers, self.problem, self.waiting = None, None, "", False

    def made(self, wish: PagesWanted, wanted: Callable[[], bool] = lambda: True) -> TemplatePapers:
        """Return pages, those of before where nothing changed; for the tasks' thread alone.

        Raises:
            InputError: a template that takes hundreds of pages.
            Stopped: they are no longer wanted.
        """
        if self._made is None or self._made[0] != wish.key:
            if not wanted():
                raise Stopped("other pages are wanted by now")
            papers = papers_of(
                wish.plan,
                self._layer(wanted),
                wish.day,
                wanted=wish.wanted,
                wearer=wish.wearer,
                correction=wish.correction,
                strips=wish.strips,
            )
            self._made = (wish.key, papers)
        return self._made[1]

    def trial(
        self, wish: PagesWanted, ids: tuple[str, ...], factors: tuple[float, ...]
    ) -> TemplatePapers:
        """Return pages with pieces in a few sizes to try on; for the tasks' thread alone.

        Raises:
            InputError: no pieces or sizes, or one that makes no sense.
        """
        if not ids:
            raise InputError("trial print", "no piece is selected", "a key piece, at Pattern")
        return self._pages(wish, trial_templates(wish.plan, ids, factors))

    def gauges(self, wish: PagesWanted) -> TemplatePapers:
        """Return pages with card gauges of the formed pieces; for the tasks' thread alone.

        Raises:
            InputError: none of them is formed.
        """
        return self._pages(wish, gauge_templates(wish.plan, wish.wanted))

    def masks(self, wish: PagesWanted) -> TemplatePapers:
        """Return pages with masks of what is painted in part; for the tasks' thread alone.

        Raises:
            InputError: nothing is.
        """
        return self._pages(wish, mask_templates(wish.plan, wish.wanted))

    def _pages(self, wish: PagesWanted, templates: tuple[Template, ...]) -> TemplatePapers:
        return plan_pages(
            templates,
            wish.plan.project.paper,
            self._layer(lambda: True),
            materials=material_names(wish.plan),
            day=wish.day,
            correction=wish.correction,
        )

    def _laid(self, number: int, papers: TemplatePapers | None, error: Exception | None) -> None:
        if number != self._number:
            return
        if error is not None and not isinstance(error, QuiltError):
            raise error
        self.waiting = False
        self.papers = papers
        self.problem = str(error) if error is not None else ""
        if isinstance(error, Stopped):
            self._key = None  # asked again, it is laid again
        self.changed.emit()
