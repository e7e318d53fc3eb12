"""What the Cut station shows and writes, without a widget."""

from collections.abc import Callable
from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.document.project import Paper, set_halves, set_paper, set_rule
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.suits import template_pieces_of, wearers_of
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.quilt import quilt
from ivory_quilt.desk.session import Session
from ivory_quilt.files.atomic import write_all, write_atomic
from ivory_quilt.files.papers.cut_sheets import (
    CutSheet,
    clear_old_sheets,
    cut_sheet_svg,
    cut_sheets,
    cut_sheets_pdf,
)
from ivory_quilt.files.papers.templates import template_pieces, templates_pdf
from ivory_quilt.files.papers.tiling import TemplatePage, frame_of, plan_pages
from ivory_quilt.files.plan_report import write_papers

PAPERS = (
    (Paper.A4, "A4"),
    (Paper.LETTER, "US Letter"),
    (Paper.A3, "A3"),
    (Paper.TABLOID, "US Tabloid"),
    (Paper.A2, "A2"),
    (Paper.A1, "A1"),
    (Paper.A0, "A0"),
)
HALVES = ((False, "whole"), (True, "half on fold"))
GAP = 30.0  # mm between pages of the preview


class Output(StrEnum):
    """What is written."""

    TEMPLATES = "templates"
    CUT_PDF = "cut sheets as PDF"
    CUT_SVG = "cut sheets as SVG"
    ALL = "all papers"

    @property
    def ending(self) -> str:
        """What the file's name ends in; empty where a folder is written."""
        return {Output.TEMPLATES: "templates.pdf", Output.CUT_PDF: "cut-sheets.pdf"}.get(self, "")


class CutPresenter:
    """The papers of the project: which, on what, and where to."""

    def __init__(self, session: Session) -> None:
        """Show the papers of `session`'s project."""
        self.session = session
        self.only_chosen = False
        self.wearer = ""
        """The one of a troupe whose templates are wanted; empty: all."""
        self.chosen_at_pattern: Callable[[], tuple[Piece, ...]] = tuple

    @property
    def plan(self) -> Plan:
        """The plan as it stands."""
        return self.session.plan

    @property
    def correction(self) -> float:
        """The factor that makes prints of the printer in use true."""
        try:
            printer = self.session.store.printer()
        except InputError as error:
            self.session.tell(str(error), "cut")
            printer = None
        return printer.correction if printer is not None else 1.0

    @property
    def chosen(self) -> tuple[Piece, ...] | None:
        """The pieces whose templates are wanted, None for all."""
        return self.chosen_at_pattern() if self.only_chosen else None

    # What is shown

    def wearers(self) -> list[tuple[str, str]]:
        """Return whose templates can be printed: (wearer's id, words); nothing without a troupe."""
        known = wearers_of(self.plan.suits)
        return [("", "everyone"), *known] if known else []

    def _as_cut(self) -> tuple[Piece, ...]:
        if self.wearer not in dict(self.wearers()):
            self.wearer = ""
        return as_cut(self.plan, self.chosen, self.wearer)

    def pages(self) -> list[TemplatePage]:
        """Return the template pages of the wanted pieces on the project's paper."""
        pieces = template_pieces(self.plan.project, self._as_cut())
        return plan_pages(pieces, self.plan.project.paper, self.correction)

    def page_size(self) -> tuple[float, float]:
        """Return the paper's size, mm."""
        return frame_of(self.plan.project.paper, self.correction).page

    def laid_pages(self, aspect: float) -> list[tuple[TemplatePage, tuple[float, float]]]:
        """Return the pages in rows of about a window's proportions: (page, its corner), mm."""
        wide, high = self.page_size()
        found = self.pages()
        across = max(1, round((len(found) * aspect * high / wide) ** 0.5))
        return [
            (page, ((k % across) * (wide + GAP), (k // across + 1) * (high + GAP)))
            for k, page in enumerate(found)
        ]

    def laid_sheets(self, aspect: float) -> list[tuple[CutSheet, tuple[float, float]]]:
        """Return the cut sheets where the quilt has them: (sheet, its origin), mm."""
        at = {(s.foam.foam, s.number): s.origin for s in quilt(self.plan, aspect).sheets}
        return [(sheet, at[sheet.foam.foam, sheet.number]) for sheet in cut_sheets(self.plan)]

    def state(self) -> tuple[object, ...]:
        """Return all that the papers depend on, to be compared."""
        project = self.plan.project
        rules = (project.paper, project.halves, project.rule, self.correction, self.chosen)
        troupe = (project.troupe, project.wearers, self.wearer)
        return (project.pieces, rules, troupe, tuple(f.result for f in self.plan.foams))

    def summary(self) -> list[tuple[str, str]]:
        """Return what the papers come to: (what, how many)."""
        paper = dict(PAPERS)[self.plan.project.paper]
        ledger = self.plan.ledger
        return [
            ("templates", f"{len(self._as_cut())}"),
            ("template pages", f"{len(self.pages())} {paper}"),
            ("cut sheets", f"{len(cut_sheets(self.plan))}"),
            ("parts to cut", f"{ledger.parts - ledger.unplaced - ledger.cut}"),
        ]

    # Choosing

    def choose_paper(self, paper: Paper) -> None:
        """Print on another paper."""
        self.session.edit(f"Paper {paper.value}", lambda p: set_paper(p, paper))

    def choose_halves(self, *, halves: bool) -> None:
        """Print symmetrical pieces half or whole."""
        what = "half, on the fold" if halves else "whole"
        self.session.edit(f"Symmetrical pieces {what}", lambda p: set_halves(p, halves=halves))

    def choose_rule(self, rule: TraceRule | None) -> None:
        """Take the project's rule of tracing and trimming."""
        if rule is not None:
            self.session.edit("Tracing and trimming", lambda p: set_rule(p, rule))

    # Writing

    def offered_name(self, what: Output) -> str:
        """Return the name that a file is offered under."""
        stem = self.session.project.name.lower().replace(" ", "-") or "suit"
        return f"{stem}-{what.ending}"

    def caution(self, what: Output) -> str:
        """Return what is missing in the papers, in a sentence, or nothing."""
        if what is not Output.TEMPLATES and any(f.result is None for f in self.plan.foams):
            return "Some foam is not laid yet: its cut sheets are left out."
        return ""

    def writing(self, what: Output, place: Path) -> Callable[[], list[Path]]:
        """Return the work that writes the papers as they stand now; see `write`."""
        plan, correction = self.plan, self.correction
        pieces = self._as_cut()
        return lambda: write(plan, what, place, correction, pieces)

    @staticmethod
    def written_words(paths: list[Path]) -> str:
        """Return what was written, in a sentence."""
        where = paths[0] if len(paths) == 1 else f"{len(paths)} files in {paths[0].parent}"
        return f"Exported: {where}"


def as_cut(
    plan: Plan, chosen: tuple[Piece, ...] | None = None, wearer: str = ""
) -> tuple[Piece, ...]:
    """Return the chosen pieces, or all, as they are cut, with their layers.

    In a troupe they are those of one `wearer`, or of all where it is empty.
    """
    wanted = None if chosen is None else frozenset(p.id for p in chosen)
    return template_pieces_of(plan.suits, wanted, wearer)


def printer_words(printer: Printer | None) -> str:
    """Return what a printer's check bar says, in a sentence."""
    if printer is None:
        return "Print a template, measure its 100 mm bar, and say what it is."
    if abs(printer.correction - 1) < 5e-4:
        return f"{printer.name} prints true."
    percent = show_number(100 * printer.correction, 2)
    return f"Templates are written at {percent} %, so that {printer.name} prints true."


def write(
    plan: Plan,
    what: Output,
    place: Path,
    correction: float = 1.0,
    templates: tuple[Piece, ...] | None = None,
) -> list[Path]:
    """Write papers; `place` is a file for PDFs and a folder for the rest. Any thread.

    Templates alone are of the pieces given as they are cut (`as_cut`), or of all.

    Raises:
        InputError: the place cannot be written.
    """
    project = plan.project
    if what is Output.TEMPLATES:
        materials = {m.id: m.name for m in plan.stock.materials}
        pieces = as_cut(plan) if templates is None else templates
        write_atomic(place, templates_pdf(project, pieces, materials, correction))
        return [place]
    if what is Output.CUT_PDF:
        write_atomic(place, cut_sheets_pdf(cut_sheets(plan), project.paper, project.name))
        return [place]
    if what is Output.CUT_SVG:
        sheets = cut_sheets(plan)
        files = {place / f"{s.file_stem}.svg": cut_sheet_svg(s) for s in sheets}
        write_all(files)
        clear_old_sheets(place, sheets)
        return list(files)
    return write_papers(plan, place, correction)
