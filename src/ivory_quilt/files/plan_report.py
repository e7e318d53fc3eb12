"""A whole plan as JSON, as text, and as a folder of papers."""

from pathlib import Path
from typing import Any

import msgspec

from ivory_quilt.core.cutting.order import Going
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.stock.purchase import FoamLine
from ivory_quilt.core.units import (
    show_area,
    show_misfits,
    show_money,
    show_parts,
    show_thickness,
    show_weight,
)
from ivory_quilt.files.atomic import make_folder, write_all
from ivory_quilt.files.papers.cut_sheet_pages import plan_cut_sheets_pdf
from ivory_quilt.files.papers.cut_sheets import clear_old_sheets, cut_sheet_svg, cut_sheets, each
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import TemplatePapers, material_names
from ivory_quilt.files.project_file import placement_wire


def plan_json(plan: Plan) -> dict[str, Any]:
    """Return the plan as JSON data."""
    return {
        "format": "ivory-quilt/plan",
        "version": 1,
        "project": plan.project.name,
        "parts": [_part(part) for group in plan.parts.values() for part in group],
        "made": [
            {
                "piece": piece_id,
                "problem": made.problem,
                "weight": round(plan.piece_weight(piece_id), 3),
                "cuts": [
                    {
                        "id": piece_id + cut.suffix,
                        "name": cut.name,
                        "material": cut.foam.material,
                        "thickness": cut.foam.thickness,
                        "outer": _rings(cut.outer),
                        "inner": _rings(cut.inner),
                        "footprint_area": cut.footprint.area,
                        "changes": [c.text for c in cut.changes],
                        "notes": list(cut.notes),
                    }
                    for cut in made.cuts
                ],
            }
            for piece_id, made in plan.made.items()
        ],
        "lengths": [
            {
                "piece": k.piece_id,
                "edge": k.where,
                "what": k.words,
                "count": k.count,
                "length": round(k.length, 3),
            }
            for k in plan.lengths
        ],
        "foams": [_foam(f) for f in plan.foams],
        "purchase": [
            {
                "item": line.item.id,
                "name": line.item.name,
                "owned": line.owned,
                "amount": line.amount,
                "cost": f"{line.cost:.2f}",
            }
            for foam in plan.ledger.lines
            for line in foam.lines
        ],
        "ledger": {
            "cost": f"{plan.ledger.cost:.2f}",
            "cost_bound": f"{plan.ledger.bound:.2f}",
            "parts": plan.ledger.parts,
            "unplaced": plan.ledger.unplaced,
            "part_area": plan.ledger.part_area,
            "foam_area": plan.ledger.foam_area,
            "waste": plan.ledger.waste_share,
            "scrap": plan.ledger.scrap_share,
            "kept": plan.ledger.kept,
            "weight": round(plan.weight, 3),
        },
    }


def _part(part: Part) -> dict[str, Any]:
    return {
        "id": part.id,
        "piece": part.piece_id,
        "name": part.name,
        "hand": part.hand.value,
        "wearer": part.wearer,
        "material": part.foam.material,
        "thickness": part.foam.thickness,
        "count": part.count,
        "spares": part.spares,
        "mirrored": part.mirrored,
        "area": part.shape.area,
        "bevels": {e.name: e.angle for e in part.bevels},
        "notes": list(part.notes),
    }


def _rings(shape: Shape) -> list[list[tuple[float, float]]]:
    return [[(round(x, 4), round(y, 4)) for x, y in ring.tolist()] for ring in shape.rings]


def _foam(foam: FoamPlan) -> dict[str, Any]:
    line = foam.line
    placements = foam.result.placements if foam.result else ()
    return {
        "material": foam.foam.material,
        "thickness": foam.foam.thickness,
        "standing": foam.standing.value,
        "parts": line.parts,
        "unplaced": line.unplaced,
        "part_area": line.part_area,
        "foam_area": line.foam_area,
        "waste": line.waste_share,
        "scrap": line.scrap_share,
        "kept": line.kept,
        "cost": f"{line.cost:.2f}",
        "cost_bound": f"{line.bound:.2f}",
        "placements": [msgspec.to_builtins(placement_wire(p)) for p in placements],
    }


def plan_text(plan: Plan) -> str:
    """Return the plan's ledger as a few lines of text."""
    sign = plan.stock.currency
    rows = [f"{plan.project.name}: {show_parts(plan.ledger.parts)}"]
    rows += [_line_text(line, plan) for line in plan.ledger.lines]
    ledger = plan.ledger
    rows.append(
        f"in all {show_money(ledger.cost, sign)} (no layout under "
        f"{show_money(ledger.bound, sign)}), scrap {100 * ledger.scrap_share:.0f} %"
    )
    rows.append(f"{show_weight(plan.weight)} of parts")
    rows += [
        f"  {k.count} × {k.length:.0f} mm of {k.words}, along {k.where} of {k.name}"
        for k in plan.lengths
    ]
    names = {p.id: p.name for p in plan.project.pieces}
    rows += [f"  {names[i]}: {problem}" for i, problem in plan.problems.items()]
    return "\n".join(rows)


def _line_text(line: FoamLine, plan: Plan) -> str:
    name = f"{show_thickness(line.foam.thickness)} {plan.stock.material_name(line.foam.material)}"
    if not line.laid:
        return f"  {name}: {show_parts(line.parts)}, no foam of this kind in the shop"
    taken = ", ".join(
        f"{item.amount_text} {item.item.name} ({'shelf' if item.owned else 'buy'})"
        for item in line.lines
    )
    left = f", {show_misfits(line.unplaced)}" if line.unplaced else ""
    return (
        f"  {name}: {show_parts(line.parts)}{left}, {show_area(line.part_area)} of "
        f"{show_area(line.foam_area)}; {taken}; {show_money(line.cost, plan.stock.currency)}"
    )


def write_papers(
    plan: Plan,
    folder: Path,
    pages: TemplatePapers,
    correction: float = 1.0,
    going: Going = lambda: True,
) -> list[Path]:
    """Write all papers of a plan into `folder`, or none; return their paths.

    Cut sheets of an earlier plan that lie there are removed: they would be cut as well.

    Args:
        plan: what is cut.
        folder: where to.
        pages: of its templates.
        correction: makes the templates true on a printer that is not.
        going: asked now and then whether to go on.

    Raises:
        InputError: the folder cannot be made or written.
        Stopped: it was not to go on; nothing is written.
    """
    make_folder(folder)
    project, sheets = plan.project, cut_sheets(plan)
    papers = {
        "templates.pdf": templates_pdf(pages, project.name, material_names(plan), correction),
        "cut-sheets.pdf": plan_cut_sheets_pdf(plan, going, sheets),
    }
    papers.update({f"{s.file_stem}.svg": cut_sheet_svg(s) for s in each(sheets, going)})
    write_all({folder / name: data for name, data in papers.items()})
    clear_old_sheets(folder, sheets)
    return [folder / name for name in papers]
