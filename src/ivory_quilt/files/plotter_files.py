"""Cut sheets for a knife plotter: HPGL and G-code, as its carriage must go.

HPGL counts in units of 0.025 mm (Hewlett-Packard, 7475A Interfacing and Programming Manual). G-code
uses the words of the RS274/NGC interpreter (Kramer, Proctor, Messina, NIST IR 6556, 2000): G21 mm,
G90 absolute, G0 and G1, M0 to change what is held, M2 at the end.
"""

from enum import StrEnum
from itertools import groupby

import numpy as np

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.cutting.knife_runs import PlotterTool, ToolRun, knife_runs
from ivory_quilt.core.cutting.order import cutting_order
from ivory_quilt.core.cutting.sheet_strokes import strokes_of
from ivory_quilt.core.errors import one_line
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.edges import mark_tick
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import counted
from ivory_quilt.files.papers.cut_sheets import CutSheet

UNITS_PER_MM = 40
PENS = {PlotterTool.CUT: 1, PlotterTool.SCORE: 2, PlotterTool.PEN: 3}
SAFE = 5.0  # mm above the foam
SCORED = 0.5  # of the thickness: half-depth, common practice, no source
A_LINE = 40  # places a command, so that small buffers take it
DRAWN = (LineKind.FOLD, LineKind.OTHER, LineKind.MARK)
"""Lines to draw beside undercuts, which the order of cuts knows."""


class Language(StrEnum):
    """What a plotter reads."""

    HPGL = "HPGL"
    G_CODE = "G-code"

    @property
    def ending(self) -> str:
        """Of its files."""
        return {Language.HPGL: ".plt", Language.G_CODE: ".nc"}[self]


class PlotterSheet(Struct, frozen=True, eq=False):
    """A cut sheet as a plotter cuts it, its lower left corner at (0, 0).

    Attributes:
        sheet: what is cut.
        runs: of the carriage, in order.
        by_hand: parts that are finished with a knife: their edges or grooves are at an angle.
    """

    sheet: CutSheet
    runs: tuple[ToolRun, ...]
    by_hand: tuple[str, ...]


def plotter_sheet(sheet: CutSheet, plotter: KnifePlotter) -> PlotterSheet:
    """Return how a plotter cuts a sheet."""
    x0, y0, _, _ = sheet.shape.bounds
    laid = [(part, replace(p.pose, x=p.pose.x - x0, y=p.pose.y - y0)) for part, p in sheet.parts]
    order = cutting_order(strokes_of(laid, upright=True))
    marks: list[tuple[int, Array]] = []
    for number, (part, pose) in enumerate(laid):
        marks += [(number, k.placed(pose).points) for k in part.lines if k.kind in DRAWN]
        for mark in part.match_marks:
            tick = mark_tick(part.shape, mark)
            if tick is not None:
                marks.append((number, pose.apply(np.array(tick))))
    by_hand = {
        part.label
        for part, _ in laid
        if part.bevels or any(k.kind is LineKind.UNDERCUT for k in part.lines)
    }
    return PlotterSheet(sheet, knife_runs(order, plotter, marks), tuple(sorted(by_hand)))


def plotter_problem(sheet: CutSheet, plotter: KnifePlotter) -> str:
    """Return why a plotter cannot cut a sheet, or nothing."""
    thickness = sheet.foam.foam.thickness
    wide, high = sheet.shape.width, sheet.shape.height
    if thickness > plotter.thickest:
        return f"{thickness:g} mm foam is thicker than the {plotter.thickest:g} mm that it cuts"
    if wide > plotter.length or high > plotter.width:
        reach = f"{plotter.length:g} × {plotter.width:g} mm"
        return f"the sheet is {wide:.0f} × {high:.0f} mm, beyond its reach of {reach}"
    return ""


def plotter_file(ready: PlotterSheet, language: Language, plotter: KnifePlotter) -> bytes:
    """Return a sheet's file in a plotter's language."""
    write = _hpgl if language is Language.HPGL else _g_code
    return "\n".join([*write(ready, plotter), ""]).encode("ascii", "replace")


def _hpgl(ready: PlotterSheet, plotter: KnifePlotter) -> list[str]:
    rows = ["IN;PA;"]
    for tool, runs in groupby(ready.runs, key=lambda r: r.tool):
        rows.append(f"SP{PENS[tool]};VS{max(1, round(plotter.speed / 10))};")
        for run in runs:
            places = np.rint(run.axis * UNITS_PER_MM).astype(int)
            rows.append(f"PU{places[0, 0]},{places[0, 1]};")
            for k in range(1, len(places), A_LINE):
                rows.append(f"PD{','.join(f'{x},{y}' for x, y in places[k : k + A_LINE])};")
    return [*rows, "PU0,0;SP0;"]


def _g_code(ready: PlotterSheet, plotter: KnifePlotter) -> list[str]:
    thickness = ready.sheet.foam.foam.thickness
    depths = {
        PlotterTool.CUT: thickness,
        PlotterTool.SCORE: SCORED * thickness,
        PlotterTool.PEN: 0.0,
    }
    rows = [
        f"({_plain(ready.sheet.title)})",
        "(X0 Y0 is the sheet's lower left corner, Z0 the foam's face)",
        "(turn the blade by hand so that it points along X)",
        "G21 G90 G94",
        f"G0 Z{SAFE:g}",
    ]
    for tool, runs in groupby(ready.runs, key=lambda r: r.tool):
        rows += [f"({tool.value})", f"T{PENS[tool]}", "M0"]
        feed = f"F{plotter.speed * 60:g}"
        for run in runs:
            (x, y), *rest = run.axis
            rows.append(f"G0 X{x:.3f} Y{y:.3f}")
            rows.append(f"G1 Z{-depths[tool]:g} {feed}")
            rows += [f"G1 X{x:.3f} Y{y:.3f}" for x, y in rest]
            rows.append(f"G0 Z{SAFE:g}")
    return [*rows, "G0 X0 Y0", "M2"]


def _plain(text: str) -> str:
    """Return a text as a comment may hold it."""
    return one_line(text).replace("(", "[").replace(")", "]")


def by_hand_words(sheets: list[PlotterSheet]) -> str:
    """Return what is left for a knife in the hand, or nothing."""
    names = sorted({name for s in sheets for name in s.by_hand})
    if not names:
        return ""
    few = ", ".join(names[:3]) + (f" and {len(names) - 3} more" if len(names) > 3 else "")
    return f"{counted(len(names), 'part')} still to bevel or groove by hand: {few}."
