"""What the Cut station writes, on any thread: papers, sheets for machines, trials of them."""

from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER, KnifePlotter
from ivory_quilt.core.cutting.plotted import farthest_off
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.suits import template_pieces_of
from ivory_quilt.core.units import counted, show_number
from ivory_quilt.devices.knife_plotter import SimulatedPlotter
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.papers.cut_sheets import cut_sheets, cut_sheets_pdf
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.plan_report import write_papers
from ivory_quilt.files.sheet_files import SheetFormat, sheet_files, write_sheet_files


class Output(StrEnum):
    """What is written."""

    TEMPLATES = "templates"
    CUT_PDF = "cut sheets as PDF"
    SHEETS = "cut sheets for machines"
    ALL = "all papers"

    @property
    def ending(self) -> str:
        """What the file's name ends in; empty where a folder is written."""
        return {Output.TEMPLATES: "templates.pdf", Output.CUT_PDF: "cut-sheets.pdf"}.get(self, "")


@dataclass(frozen=True)
class Written:
    """What was written, and what is to be told beside: sheets left out, work left to a hand."""

    paths: tuple[Path, ...]
    notes: tuple[str, ...] = ()

    @property
    def words(self) -> str:
        """What was written, in a sentence or more."""
        many = len(self.paths)
        where = self.paths[0] if many == 1 else f"{many} files in {self.paths[0].parent}"
        return " ".join([f"Exported: {where}.", *self.notes])


@dataclass(frozen=True)
class Wish:
    """How papers are wanted.

    Attributes:
        correction: the factor that makes the printer's prints true.
        templates: the pieces as they are cut whose templates are wanted, None for all.
        kind: what sheets for machines are written as.
        plotter: the machine.
    """

    correction: float = 1.0
    templates: tuple[Piece, ...] | None = None
    kind: SheetFormat = SheetFormat.SVG
    plotter: KnifePlotter = USUAL_PLOTTER


def as_cut(
    plan: Plan, chosen: tuple[Piece, ...] | None = None, wearer: str = ""
) -> tuple[Piece, ...]:
    """Return the chosen pieces, or all, as they are cut, with their layers.

    In a troupe they are those of one `wearer`, or of all where it is empty.
    """
    wanted = None if chosen is None else frozenset(p.id for p in chosen)
    return template_pieces_of(plan.suits, wanted, wearer)


def write(plan: Plan, what: Output, place: Path, wish: Wish = Wish()) -> Written:
    """Write papers; `place` is a file for PDFs and a folder for the rest. Any thread.

    Raises:
        InputError: the place cannot be written, or the machine cuts none of the sheets.
    """
    project = plan.project
    if what is Output.TEMPLATES:
        materials = {m.id: m.name for m in plan.stock.materials}
        pieces = as_cut(plan) if wish.templates is None else wish.templates
        write_atomic(place, templates_pdf(project, pieces, materials, wish.correction))
        return Written((place,))
    if what is Output.CUT_PDF:
        write_atomic(place, cut_sheets_pdf(cut_sheets(plan), project.paper, project.name))
        return Written((place,))
    if what is Output.SHEETS:
        paths, made = write_sheet_files(cut_sheets(plan), wish.kind, wish.plotter, place)
        notes = (*made.left_out, *([made.by_hand] if made.by_hand else []))
        return Written(tuple(paths), notes)
    return Written(tuple(write_papers(plan, place, wish.correction)))


def try_on_plotter(plan: Plan, wish: Wish) -> str:
    """Cut all sheets on the simulated plotter, and say how true and how quick that is. Any thread.

    Raises:
        InputError: the machine cuts none of the sheets.
    """
    made = sheet_files(cut_sheets(plan), wish.kind, wish.plotter)
    if not made.ready:
        left_out = (*made.left_out, "no sheet is laid")[0]
        problem = left_out.removeprefix("Left out: ").rstrip(".")
        raise InputError("plotter", problem, "a sheet that it can cut")
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
    return "\n".join([*words, *made.left_out, *([made.by_hand] if made.by_hand else [])])
