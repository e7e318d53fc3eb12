"""Cut sheets as files of one format, a file a sheet: for other programs and for machines."""

from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.cutting.order import Going
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.files.atomic import write_all
from ivory_quilt.files.papers.cut_sheets import CutSheet, clear_old_sheets, cut_sheet_svg, each
from ivory_quilt.files.plotter_files import (
    Language,
    PlotterSheet,
    by_hand_words,
    plotter_file,
    plotter_problem,
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


class SheetFiles(Struct, frozen=True):
    """What was made of cut sheets.

    Attributes:
        files: names to contents.
        left_out: sheets without a file, and why.
        by_hand: what a machine leaves to a hand, or empty.
        ready: sheets as a plotter cuts them; empty for programs.
    """

    files: dict[str, bytes]
    left_out: tuple[str, ...] = ()
    by_hand: str = ""
    ready: tuple[PlotterSheet, ...] = ()

    @property
    def notes(self) -> tuple[str, ...]:
        """What is to be told beside the files, a sentence each."""
        left_out = (f"Left out: {text}." for text in self.left_out)
        return (*left_out, *([self.by_hand] if self.by_hand else []))

    def check(self) -> None:
        """Refuse where the machine cuts none of the sheets.

        Raises:
            InputError: it cuts none.
        """
        if not self.files and self.left_out:
            raise InputError("plotter", self.left_out[0], "a sheet that it can cut")


def sheet_files(
    sheets: list[CutSheet],
    kind: SheetFormat,
    plotter: KnifePlotter,
    going: Going = lambda: True,
) -> SheetFiles:
    """Return the files of cut sheets.

    Raises:
        Stopped: `going`, asked at each sheet, said no.
    """
    if kind.language is None:
        write = WRITERS[kind]
        return SheetFiles({f"{s.file_stem}{kind.ending}": write(s) for s in each(sheets, going)})
    problems = [(s, plotter_problem(s, plotter)) for s in sheets]
    can = [s for s, problem in problems if not problem]
    ready = tuple(plotter_sheet(s, plotter) for s in each(can, going))
    files = {
        f"{r.sheet.file_stem}{kind.ending}": plotter_file(r, kind.language, plotter) for r in ready
    }
    left_out = tuple(f"{s.title}, {problem}" for s, problem in problems if problem)
    return SheetFiles(files, left_out, by_hand_words(list(ready)), ready)


def write_sheet_files(
    sheets: list[CutSheet],
    kind: SheetFormat,
    plotter: KnifePlotter,
    folder: Path,
    going: Going = lambda: True,
) -> tuple[list[Path], SheetFiles]:
    """Write the files of cut sheets into `folder`, all or none; those of an earlier plan go.

    Raises:
        InputError: the folder cannot be written, or the plotter cuts none of the sheets.
        Stopped: `going`, asked at each sheet, said no; nothing is written.
    """
    made = sheet_files(sheets, kind, plotter, going)
    made.check()
    write_all({folder / name: data for name, data in made.files.items()})
    clear_old_sheets(folder, sheets, kind.ending)
    return [folder / name for name in made.files], made
