"""Cut sheets as files of one format, a file a sheet: for other programs and for machines."""

from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.errors import InputError
from ivory_quilt.files.atomic import write_all
from ivory_quilt.files.papers.cut_sheets import CutSheet, clear_old_sheets, cut_sheet_svg
from ivory_quilt.files.plotter_files import (
    Language,
    PlotterSheet,
    by_hand_words,
    plotter_file,
    plotter_sheet,
)
from ivory_quilt.files.sheet_dxf import cut_sheet_dxf
from ivory_quilt.files.sheet_geojson import cut_sheet_geojson


class SheetFormat(StrEnum):
    """What a cut sheet is written as."""

    SVG = "SVG"
    DXF = "DXF"
    HPGL = "HPGL"
    G_CODE = "G-code"
    GEOJSON = "GeoJSON"

    @property
    def ending(self) -> str:
        """Of its files."""
        return self.language.ending if self.language else f".{self.value.lower()}"

    @property
    def language(self) -> Language | None:
        """What a plotter reads it as; None where a program reads it."""
        return {SheetFormat.HPGL: Language.HPGL, SheetFormat.G_CODE: Language.G_CODE}.get(self)


WRITERS = {
    SheetFormat.SVG: cut_sheet_svg,
    SheetFormat.DXF: cut_sheet_dxf,
    SheetFormat.GEOJSON: cut_sheet_geojson,
}
"""Those that no plotter reads."""


@dataclass(frozen=True)
class SheetFiles:
    """What was made of cut sheets.

    Attributes:
        files: names to contents.
        left_out: why sheets have no file, a sentence each.
        by_hand: what a machine leaves to a hand, or empty.
        ready: sheets as a plotter cuts them; empty for programs.
    """

    files: dict[str, bytes]
    left_out: tuple[str, ...] = ()
    by_hand: str = ""
    ready: tuple[PlotterSheet, ...] = ()


def sheet_files(sheets: list[CutSheet], kind: SheetFormat, plotter: KnifePlotter) -> SheetFiles:
    """Return the files of cut sheets."""
    if kind.language is None:
        write = WRITERS[kind]
        return SheetFiles({f"{s.file_stem}{kind.ending}": write(s) for s in sheets})
    every = [plotter_sheet(s, plotter) for s in sheets]
    ready = tuple(r for r in every if not r.problem)
    files = {
        f"{r.sheet.file_stem}{kind.ending}": plotter_file(r, kind.language, plotter) for r in ready
    }
    left_out = tuple(f"Left out: {r.sheet.title}, {r.problem}." for r in every if r.problem)
    return SheetFiles(files, left_out, by_hand_words(list(ready)), ready)


def write_sheet_files(
    sheets: list[CutSheet], kind: SheetFormat, plotter: KnifePlotter, folder: Path
) -> tuple[list[Path], SheetFiles]:
    """Write the files of cut sheets into `folder`, all or none; those of an earlier plan go.

    Raises:
        InputError: the folder cannot be written, or the plotter cuts none of the sheets.
    """
    made = sheet_files(sheets, kind, plotter)
    if not made.files and made.left_out:
        problem = made.left_out[0].removeprefix("Left out: ").rstrip(".")
        raise InputError("plotter", problem, "a sheet that it can cut")
    write_all({folder / name: data for name, data in made.files.items()})
    clear_old_sheets(folder, sheets, kind.ending)
    return [folder / name for name in made.files], made
