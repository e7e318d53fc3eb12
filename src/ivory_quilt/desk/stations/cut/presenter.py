"""What the Cut station shows and writes, without a widget."""

from pathlib import Path

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.making import cut_pieces
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import show_number
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.papers.cut_sheets import (
    cut_sheet_svg,
    cut_sheets,
    cut_sheets_pdf,
)
from ivory_quilt.files.papers.templates import template_pieces, templates_pdf
from ivory_quilt.files.papers.tiling import TemplatePage, plan_pages
from ivory_quilt.files.plan_report import write_papers

TEMPLATES, CUT_PDF, CUT_SVG, ALL = "templates", "cut-pdf", "cut-svg", "all"


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


def pages(
    plan: Plan, correction: float = 1.0, chosen: tuple[Piece, ...] | None = None
) -> list[TemplatePage]:
    """Return the template pages of the chosen pieces, or all, on the project's paper."""
    project = plan.project
    pieces = template_pieces(project, as_cut(plan, chosen))
    return plan_pages(pieces, project.paper, correction)


def as_cut(plan: Plan, chosen: tuple[Piece, ...] | None = None) -> tuple[Piece, ...]:
    """Return the chosen pieces, or all, as they are cut, with their layers."""
    return cut_pieces(plan.made, plan.project.pieces if chosen is None else chosen)


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
    what: str,
    place: Path,
    correction: float = 1.0,
    chosen: tuple[Piece, ...] | None = None,
) -> list[Path]:
    """Write papers; `place` is a file for PDFs and a folder for the rest. Any thread.

    Templates alone are of the `chosen` pieces, or all.

    Raises:
        InputError: the place cannot be written.
    """
    project = plan.project
    if what == TEMPLATES:
        materials = {m.id: m.name for m in plan.stock.materials}
        pieces = as_cut(plan, chosen)
        write_atomic(place, templates_pdf(project, pieces, materials, correction))
        return [place]
    if what == CUT_PDF:
        write_atomic(place, cut_sheets_pdf(cut_sheets(plan), project.paper, project.name))
        return [place]
    if what == CUT_SVG:
        written = []
        for sheet in cut_sheets(plan):
            path = place / f"{sheet.file_stem}.svg"
            write_atomic(path, cut_sheet_svg(sheet))
            written.append(path)
        return written
    return write_papers(plan, place, correction)


def summary(
    plan: Plan, correction: float = 1.0, chosen: tuple[Piece, ...] | None = None
) -> list[tuple[str, str]]:
    """Return what the papers come to: (what, how many)."""
    paper = dict(PAPERS)[plan.project.paper]
    return [
        ("templates", f"{len(as_cut(plan, chosen))}"),
        ("template pages", f"{len(pages(plan, correction, chosen))} {paper}"),
        ("cut sheets", f"{len(cut_sheets(plan))}"),
        ("parts to cut", f"{plan.ledger.parts - plan.ledger.unplaced}"),
    ]
