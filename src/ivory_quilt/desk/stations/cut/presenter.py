"""What the Cut station shows and writes, without a widget."""

import re
from collections.abc import Callable
from datetime import date
from pathlib import Path

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.project import Paper, set_halves, set_paper, set_rule
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.suits import wearers_of
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import parse_scalar, show_number
from ivory_quilt.desk.canvas.quilt import quilt
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.cut.paging import PagesWanted, Paging
from ivory_quilt.desk.stations.cut.writing import Output, StickerWish, Wish, Written, write
from ivory_quilt.files.papers.cut_sheets import CutSheet, cut_sheets
from ivory_quilt.files.papers.tiling import ROLL_WIDTH, TemplatePage
from ivory_quilt.files.sheet_files import SheetFormat

PAPERS = (
    (Paper.A4, "A4"),
    (Paper.LETTER, "US Letter"),
    (Paper.A3, "A3"),
    (Paper.TABLOID, "US Tabloid"),
    (Paper.A2, "A2"),
    (Paper.A1, "A1"),
    (Paper.A0, "A0"),
    (Paper.ROLL_24, "roll, 24 in"),
    (Paper.ROLL_36, "roll, 36 in"),
)
HALVES = ((False, "whole"), (True, "half on fold"))
NEED_LAYOUTS = (Output.CUT_PDF, Output.SHEETS, Output.BOOK, Output.ALL)
MOST_SIZES = 6  # of a trial print
GAP = 30.0  # mm between pages of the preview


class CutPresenter:
    """The papers of the project: which, on what, and where to."""

    def __init__(self, session: Session, paging: Paging) -> None:
        """Show the papers of `session`'s project; `paging` lays templates on pages."""
        self.session, self.paging = session, paging
        self.today: Callable[[], date] = date.today
        self.only_chosen = False
        self.strips = True
        """Whether plain straight strips are told in numbers."""
        self.percents = "95, 100, 105"
        """Sizes of a trial print, as typed."""
        self.stickers = StickerWish()
        self.stopped = False
        """Whether what is being written is not wanted any more."""
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

    def pages_wanted(self) -> PagesWanted:
        """Return which templates are wanted as things stand, and how."""
        if self.wearer not in dict(self.wearers()):
            self.wearer = ""
        chosen = self.chosen
        wanted = None if chosen is None else frozenset(p.id for p in chosen)
        day = self.today().isoformat()
        return PagesWanted(self.plan, day, wanted, self.wearer, self.correction, self.strips)

    def ask_pages(self) -> None:
        """Let the pages be laid that are wanted now."""
        if self.plan.project.pieces:
            self.paging.ask(self.pages_wanted())

    def pages(self) -> tuple[TemplatePage, ...]:
        """Return the pages as far as they are laid."""
        papers = self.paging.papers
        return papers.pages if papers is not None else ()

    def no_pages(self) -> str:
        """Return why there is no page to show, in a sentence."""
        if self.paging.problem:
            return self.paging.problem
        if self.paging.papers is None:
            return "Laying templates on pages …"
        return "All of it are straight strips: they are told in numbers."

    def laid_pages(self, aspect: float) -> list[tuple[TemplatePage, tuple[float, float]]]:
        """Return the pages in rows of about a window's proportions: (page, its corner), mm."""
        found = self.pages()
        if not found:
            return []
        wide, high = (max(page.size[k] for page in found) for k in (0, 1))
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
        """Return all that the cut sheets and pages shown depend on, to be compared."""
        return (self.paging.papers, tuple(f.result for f in self.plan.foams))

    def summary(self) -> list[tuple[str, str]]:
        """Return what the papers come to: (what, how many)."""
        ledger = self.plan.ledger
        return [
            *self._page_summary(),
            ("cut sheets", f"{len(cut_sheets(self.plan))}"),
            ("parts to cut", f"{ledger.parts - ledger.unplaced - ledger.cut}"),
        ]

    def _page_summary(self) -> list[tuple[str, str]]:
        papers = self.paging.papers
        if self.paging.waiting or papers is None:
            return [("template pages", "laying …")]
        paper, drawn = self.plan.project.paper, len(papers.templates) - len(papers.strips)
        found = [("templates", f"{drawn}")]
        if papers.strips:
            found.append(("strips in numbers", f"{len(papers.strips)}"))
        if paper in ROLL_WIDTH:
            length = sum(page.size[0] for page in papers.pages) / 1000
            return [*found, (dict(PAPERS)[paper], f"{show_number(length, 2)} m")]
        pages = f"{len(papers.pages)} {dict(PAPERS)[paper]}"
        least = f"{papers.bound} or more"
        return [*found, ("template pages", pages), ("by area alone", least)]

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
        if what in NEED_LAYOUTS and any(f.result is None for f in self.plan.foams):
            return "Some foam is not laid yet: its cut sheets are left out."
        return ""

    def wish(self, what: Output, kind: SheetFormat, plotter: KnifePlotter) -> Wish:
        """Return how papers are wanted as they stand now.

        Raises:
            InputError: a trial print in sizes that are none.
        """
        trial: tuple[tuple[str, ...], tuple[float, ...]] = ((), ())
        if what is Output.TRIAL:
            trial = (tuple(p.id for p in self.chosen_at_pattern()), sizes_of(self.percents))
        return Wish(self.pages_wanted(), kind, plotter, trial, self.stickers)

    def writing(self, what: Output, place: Path, wish: Wish) -> Callable[[], Written]:
        """Return the work that writes the papers as they stand now; see `write`."""
        self.stopped = False
        return lambda: write(what, place, wish, self.paging, lambda: not self.stopped)


def sizes_of(text: str) -> tuple[float, ...]:
    """Return the factors of sizes in percent that are typed one after another.

    Raises:
        InputError: one of them is none, or there are too many.
    """
    words = re.split(r"[\s,;%]+", text.strip(" ,;%"))
    found = tuple(parse_scalar(word, where="sizes") / 100 for word in words if word)
    if not 1 <= len(found) <= MOST_SIZES or not all(0.2 <= f <= 5.0 for f in found):
        raise InputError("sizes", f"'{text.strip()}'", "one to six sizes from 20 to 500 %")
    return found


def printer_words(printer: Printer | None) -> str:
    """Return what a printer's check bar says, in a sentence."""
    if printer is None:
        return "Print a template, measure its 100 mm bar, and say what it is."
    if abs(printer.correction - 1) < 5e-4:
        return f"{printer.name} prints true."
    percent = show_number(100 * printer.correction, 2)
    return f"Templates are written at {percent} %, so that {printer.name} prints true."
