"""What the Cut station shows and writes, without a widget."""

from pathlib import Path

from ivory_quilt.core.plan import Plan
from ivory_quilt.core.project import Paper
from ivory_quilt.files.atomic import write_atomic
from ivory_quilt.files.papers.cut_sheets import (
    cut_sheet_svg,
    cut_sheets,
    cut_sheets_pdf,
)
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import TemplatePage, plan_pages
from ivory_quilt.files.plan_report import write_papers

TEMPLATES, CUT_PDF, CUT_SVG, ALL = "templates", "cut-pdf", "cut-svg", "all"


def pages(plan: Plan) -> list[TemplatePage]:
    """Return the template pages of all pieces on the project's paper."""
    return plan_pages(plan.project.pieces, plan.project.paper)


def write(plan: Plan, what: str, place: Path) -> list[Path]:
    """Write papers; `place` is a file for PDFs and a folder for the rest. Any thread.

    Raises:
        InputError: the place cannot be written.
    """
    project = plan.project
    if what == TEMPLATES:
        materials = {m.id: m.name for m in plan.stock.materials}
        write_atomic(place, templates_pdf(project, project.pieces, materials))
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
    return write_papers(plan, place)


def summary(plan: Plan) -> list[tuple[str, str]]:
    """Return what the papers come to: (what, how many)."""
    paper = "A4" if plan.project.paper is Paper.A4 else "US Letter"
    return [
        ("templates", f"{len(plan.project.pieces)}"),
        ("template pages", f"{len(pages(plan))} {paper}"),
        ("cut sheets", f"{len(cut_sheets(plan))}"),
        ("parts to cut", f"{plan.ledger.parts - plan.ledger.unplaced}"),
    ]
