"""Papers: how many pages the demo takes, and how long all papers of some 400 parts take."""

import tempfile
import time
from pathlib import Path

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.demo.troupe import troupe_project
from ivory_quilt.files.papers.cut_sheets import cut_sheets
from ivory_quilt.files.papers.tiling import papers_of
from ivory_quilt.files.plan_report import write_papers
from ivory_quilt.files.sheet_files import SheetFormat, write_sheet_files

PAGES = 45  # A4, promised for the demo
PARTS = 400


def bench_papers() -> list[Figure]:
    """Measure the pages of the demo's templates, and writing everything for 400 parts."""
    demo = _laid(demo_project())
    began = time.perf_counter()
    pages = papers_of(demo, _first)
    took = time.perf_counter() - began
    figures = [
        Figure("demo's templates on A4", len(pages.pages), "pages", PAGES),
        Figure("no layout takes fewer pages than", pages.bound, "pages"),
        Figure("demo's templates laid on pages", took, "s", 5.0),
    ]
    troupe = troupe_project()
    count = 1
    while derive(replace(troupe, troupe=troupe.troupe[:count]), _stock()).ledger.parts < PARTS:
        count += 1
    plan = _laid(replace(troupe, troupe=troupe.troupe[:count]))
    sheets = cut_sheets(plan)
    with tempfile.TemporaryDirectory() as folder:
        began = time.perf_counter()
        write_papers(plan, Path(folder), papers_of(plan, _first))
        papers = time.perf_counter() - began
        began = time.perf_counter()
        plotter = KnifePlotter(thickest=20.0)
        for kind in (SheetFormat.DXF, SheetFormat.HPGL):
            write_sheet_files(sheets, kind, plotter, Path(folder))
        machines = time.perf_counter() - began
    named = f"{plan.ledger.parts} parts on {len(sheets)} sheets"
    return [
        *figures,
        Figure(f"{named}: templates and cut sheets", papers, "s", 20.0),
        Figure(f"{named}: DXF and HPGL as well", machines, "s"),
    ]


def _stock() -> ShopStock:
    return ShopStock(demo_stock(), MATERIALS)


def _first(job: LayJob) -> LayResult:
    return lay(job, limit=Limit(steps=0), clock=time.monotonic)


def _laid(project: Project) -> Plan:
    """Return a plan whose foams are all laid, for the first time."""
    plan = derive(project, _stock())
    found = {f.foam: Proposal(f.job, _first(f.job)) for f in plan.unlaid}
    return derive(project, _stock(), found, plan)
