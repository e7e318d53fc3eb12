"""`plan`: everything that follows of a project."""

import argparse
import json
import sys
from datetime import date
from pathlib import Path
from typing import TYPE_CHECKING

from ivory_quilt.cli.engines import first_layout, lay_orders, starts_of
from ivory_quilt.cli.shared import DONE, whole
from ivory_quilt.core.errors import InputError, printable
from ivory_quilt.core.units import parse_scalar, show_thickness
from ivory_quilt.engine.orders import Order
from ivory_quilt.shop.places import places

if TYPE_CHECKING:
    from ivory_quilt.core.plan.plan import Plan
    from ivory_quilt.files.sheet_files import SheetFormat


def plan(options: argparse.Namespace) -> int:
    """Derive a project, lay what is missing, and write what it comes to."""
    from ivory_quilt.core.plan.plan import derive
    from ivory_quilt.core.plan.standing import Proposal
    from ivory_quilt.files.papers.tiling import papers_of
    from ivory_quilt.files.plan_report import plan_json, plan_text, write_papers
    from ivory_quilt.files.project_file import load_project
    from ivory_quilt.shop.store import new_stock, read_stock

    kinds = _formats(options.sheets)
    if kinds and options.out_dir is None:
        raise InputError("--sheets", "no folder is named", "--out-dir as well")
    project = load_project(options.project)
    if options.store is not None:
        stock = read_stock(options.store)
    else:
        own = places().store
        stock = read_stock(own) if own.is_file() else new_stock()
    seconds = parse_scalar(options.seconds, where="--seconds")
    seed, starts = whole(options.seed, "--seed", 0), starts_of(options.starts)
    made = derive(project, stock)
    proposals = {}
    if made.unlaid:
        from ivory_quilt.core.nesting.best import best_of

        if not options.json:
            foams = ", ".join(
                f"{show_thickness(f.foam.thickness)} {f.foam.material}" for f in made.unlaid
            )
            print(f"laying {foams} ...", file=sys.stderr)
        orders = [Order(f.job, seconds, None, seed + k) for f in made.unlaid for k in range(starts)]
        found = lay_orders(orders, options.engine)
        for number, foam in enumerate(made.unlaid):
            mine = found[number * starts : (number + 1) * starts]
            if mine:  # stopped before its turn otherwise
                proposals[foam.foam] = Proposal(foam.job, best_of(foam.job, mine))
    made = derive(project, stock, proposals, made)
    if options.out_dir is not None:
        pages = papers_of(made, first_layout, date.today().isoformat())
        for path in write_papers(made, options.out_dir, pages):
            print(path, file=sys.stderr)
        _machine_sheets(made, kinds, options.out_dir)
    if options.book is not None:
        from ivory_quilt.files.atomic import write_atomic
        from ivory_quilt.files.papers.shop_book import shop_book_pdf

        write_atomic(options.book, shop_book_pdf(made, date.today().isoformat()))
        print(options.book, file=sys.stderr)
    print(json.dumps(plan_json(made), indent=1) if options.json else printable(plan_text(made)))
    return DONE


def _formats(text: str | None) -> list["SheetFormat"]:
    """Return the formats that are named."""
    from ivory_quilt.files.sheet_files import SheetFormat

    known = {k.value.lower(): k for k in SheetFormat}
    named = [word.strip().lower() for word in (text or "").split(",") if word.strip()]
    for word in named:
        if word not in known:
            raise InputError("--sheets", f"'{word}'", f"{', '.join(known)}")
    return [known[word] for word in named]


def _machine_sheets(made: "Plan", kinds: list["SheetFormat"], folder: Path) -> None:
    """Write cut sheets in other formats, and tell what a machine leaves."""
    from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
    from ivory_quilt.files.papers.cut_sheets import cut_sheets
    from ivory_quilt.files.sheet_files import write_sheet_files

    for kind in kinds:
        paths, files = write_sheet_files(cut_sheets(made), kind, USUAL_PLOTTER, folder)
        for line in (*paths, *files.notes):
            print(line, file=sys.stderr)
