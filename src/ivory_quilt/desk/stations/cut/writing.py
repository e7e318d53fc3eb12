"""What the Cut station writes, on any thread: papers, sheets for machines, trials of them."""

from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER, KnifePlotter
from ivory_quilt.core.cutting.order import Going
from ivory_quilt.core.cutting.plotted import farthest_off
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.desk.stations.cut.paging import PagesWanted, Paging
from ivory_quilt.devices.knife_plotter import SimulatedPlotter
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.papers.cut_sheet_pages import plan_cut_sheets_pdf
from ivory_quilt.files.papers.cut_sheets import cut_sheets
from ivory_quilt.files.papers.stickers import (
    StickerPaper,
    part_stickers,
    shelf_stickers,
    stickers_pdf,
)
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import material_names
from ivory_quilt.files.parts_list import write_parts_list
from ivory_quilt.files.plan_report import write_papers
from ivory_quilt.files.sheet_files import SheetFormat, sheet_files, write_sheet_files


class Output(StrEnum):
    """What is written."""

    TEMPLATES = "templates"
    TRIAL = "trial print"
    GAUGES = "gauges"
    MASKS = "masks"
    STICKERS = "stickers"
    PARTS = "parts list"
    CUT_PDF = "cut sheets as PDF"
    SHEETS = "cut sheets for machines"
    BOOK = "shop book"
    ALL = "all papers"

    @property
    def ending(self) -> str:
        """What the file's name ends in; empty where a folder is written."""
        return {
            Output.TEMPLATES: "templates.pdf",
            Output.TRIAL: "trial.pdf",
            Output.GAUGES: "gauges.pdf",
            Output.MASKS: "masks.pdf",
            Output.STICKERS: "stickers.pdf",
            Output.PARTS: "parts.ods",
            Output.CUT_PDF: "cut-sheets.pdf",
            Output.BOOK: "shop-book.pdf",
        }.get(self, "")

    @property
    def kinds(self) -> str:
        """Which files are offered."""
        return "ODS (*.ods);;CSV (*.csv)" if self is Output.PARTS else "PDF (*.pdf)"


class Written(Struct, frozen=True):
    """What was written, and what is to be told beside: sheets left out, work left to a hand."""

    paths: tuple[Path, ...]
    notes: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """What was written, in a sentence or more."""
        many = len(self.paths)
        where = self.paths[0] if many == 1 else f"{many} files in {self.paths[0].parent}"
        return " ".join([f"Exported: {where}.", *self.notes])


class StickerWish(Struct, frozen=True):
    """Which stickers: on which sheet of labels, of the shelf's offcuts or the parts, from where."""

    paper: StickerPaper = StickerPaper.A4_24
    shelf: bool = False
    first: int = 1


class Wish(Struct, frozen=True):
    """How papers are wanted.

    Attributes:
        pages: which templates, and on what.
        kind: what sheets for machines are written as.
        plotter: the machine.
        trial: ids of the pieces to try on, and the factors to print them at.
        stickers: which.
    """

    pages: PagesWanted
    kind: SheetFormat = SheetFormat.SVG
    plotter: KnifePlotter = USUAL_PLOTTER
    trial: tuple[tuple[str, ...], tuple[float, ...]] = ((), ())
    stickers: StickerWish = StickerWish()


def write(
    what: Output, place: Path, wish: Wish, paging: Paging, going: Going = lambda: True
) -> Written:
    """Write papers; `place` is a file for PDFs and a folder for the rest. For the tasks' thread.

    Raises:
        InputError: the place cannot be written, or the machine cuts none of the sheets.
        Stopped: `going`, asked now and then, said no; nothing is written.
    """
    plan = wish.pages.plan
    project, correction = plan.project, wish.pages.correction
    if what is Output.TEMPLATES:
        papers = paging.made(wish.pages, going)
        pdf = templates_pdf(papers, project.name, material_names(plan), correction)
        write_atomic(place, pdf)
        return Written((place,))
    other = {
        Output.TRIAL: lambda: paging.trial(wish.pages, *wish.trial),
        Output.GAUGES: lambda: paging.gauges(wish.pages),
        Output.MASKS: lambda: paging.masks(wish.pages),
    }
    if what in other:
        title = f"{project.name}, {what.value}"
        pdf = templates_pdf(other[what](), title, material_names(plan), correction)
        write_atomic(place, pdf)
        return Written((place,))
    if what is Output.PARTS:
        write_parts_list(plan, place)
        return Written((place,))
    if what is Output.STICKERS:
        return _write_stickers(plan, place, wish.stickers)
    if what is Output.CUT_PDF:
        write_atomic(place, plan_cut_sheets_pdf(plan, going))
        return Written((place,))
    if what is Output.BOOK:
        from ivory_quilt.files.papers.shop_book import shop_book_pdf

        write_atomic(place, shop_book_pdf(plan, wish.pages.day))
        return Written((place,))
    if what is Output.SHEETS:
        paths, made = write_sheet_files(cut_sheets(plan), wish.kind, wish.plotter, place, going)
        return Written(tuple(paths), made.notes)
    every = replace(wish.pages, wanted=None, wearer="")
    return Written(tuple(write_papers(plan, place, paging.made(every, going), correction, going)))


def _write_stickers(plan: Plan, place: Path, wish: StickerWish) -> Written:
    made = shelf_stickers(plan.shop or plan.stock) if wish.shelf else part_stickers(plan)
    write_atomic(place, stickers_pdf(made, wish.paper, plan.project.name, wish.first))
    return Written((place,), (f"{counted(len(made), 'sticker')}.",))


def try_on_plotter(wish: Wish) -> str:
    """Cut all sheets on the simulated plotter, and say how true and how quick that is. Any thread.

    Raises:
        InputError: the machine cuts none of the sheets.
    """
    made = sheet_files(cut_sheets(wish.pages.plan), wish.kind, wish.plotter)
    made.check()
    if not made.ready:
        raise InputError("plotter", "no sheet is laid", "a sheet that it can cut")
    off = seconds = 0.0
    for ready, (name, data) in zip(made.ready, made.files.items(), strict=True):
        done = SimulatedPlotter(wish.plotter).run(data, name)
        off = max(off, farthest_off(ready.runs, [d.places for d in done.lines]))
        seconds += done.seconds
    many = counted(len(made.ready), "sheet")
    words = [
        f"{many} tried on the simulated plotter: {seconds / 60:.0f} min of cutting, the blade's "
        f"tip at most {show_number(off, 2)} mm from the parts' lines."
    ]
    return "\n".join([*words, *made.notes])
