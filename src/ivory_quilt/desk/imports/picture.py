"""A scan or photo on its way in: how large it is, which side of the ink counts, what was found."""

import math
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.reading.found import FoundPiece, Reading
from ivory_quilt.core.reading.tracing.picture import (
    SIMPLIFIED,
    Ink,
    LoadedPicture,
    PictureScale,
    TickRow,
    parse_dpi,
    parse_sheet,
)
from ivory_quilt.core.record import Struct, field, replace
from ivory_quilt.core.units import counted, parse_scalar, show_number, typed_length

SHEETS: tuple[tuple[str, tuple[float, float]], ...] = (
    ("A4", (210.0, 297.0)),
    ("Letter", (215.9, 279.4)),
    ("A3", (297.0, 420.0)),
    ("A2", (420.0, 594.0)),
)


class ScaleBy(StrEnum):
    """How the maker says how large a picture is."""

    SHEET = "sheet"
    DPI = "dpi"
    KNOWN = "known"


SCALE_WORDS = (
    (ScaleBy.SHEET, "A whole sheet is in the picture"),
    (ScaleBy.DPI, "It is a scan"),
    (ScaleBy.KNOWN, "I know one length"),
)
TICK_WORDS = (
    (0.0, "no ticks to count"),
    (1.0, "count ticks, 1 mm each"),
    (5.0, "count ticks, 5 mm each"),
    (10.0, "count ticks, 10 mm each"),
    (25.4 / 8, "count ticks, 1/8 in each"),
    (25.4, "count ticks, 1 in each"),
)
INK_WORDS = (
    (Ink.MIDDLE, "the middle of the line"),
    (Ink.INSIDE, "its inner side"),
    (Ink.OUTSIDE, "its outer side"),
)


class TraceChoices(Struct, frozen=True):
    """What the maker says about a picture, as typed."""

    scale_by: ScaleBy = ScaleBy.SHEET
    sheet: str = "A4"
    own_sheet: str = ""
    dpi: str = "300"
    pixels: str = ""
    real: str = ""
    ink: Ink = Ink.MIDDLE
    level: int = 0
    """Threshold in percent of the paper's brightness; 0 finds it by itself."""

    def scale(self) -> PictureScale:
        """Return the scale that is meant.

        Raises:
            InputError: a field says no size.
        """
        if self.scale_by is ScaleBy.SHEET:
            return PictureScale(rectangle=self.rectangle())
        if self.scale_by is ScaleBy.DPI:
            return PictureScale(dpi=parse_dpi(self.dpi, where="resolution"))
        pixels = parse_scalar(self.pixels, where="length in the picture")
        real = typed_length(self.real, where="real length")
        if pixels <= 0 or real <= 0:
            raise InputError("known length", f"{self.pixels} = {self.real}", "two lengths above 0")
        return PictureScale(mm_per_pixel=real / pixels)

    def rectangle(self) -> tuple[float, float]:
        """Return the sheet's size.

        Raises:
            InputError: the maker's own size is none.
        """
        for name, size in SHEETS:
            if name == self.sheet:
                return size
        return parse_sheet(self.own_sheet, where="size of the sheet")


class PictureImport(Struct):
    """A picture that waits for the maker.

    `reading` is what the last tracing found; `wanted` counts tracings asked for, so that late
    answers are dropped.
    """

    file: str
    picture: LoadedPicture
    choices: TraceChoices = field(default_factory=TraceChoices)
    reading: Reading | None = None
    error: str = ""
    wanted: int = 0
    busy: bool = False
    known_line: tuple[Point, Point] | None = None
    ticks: TickRow | None = None
    each: float = 0.0

    @property
    def pieces(self) -> tuple[FoundPiece, ...]:
        """What would come in."""
        return self.reading.pieces if self.reading is not None else ()

    def change(self, **said: object) -> None:
        """Take over what the maker says."""
        self.choices = replace(self.choices, **said)  # type: ignore[arg-type]

    def lay_known(self, start: Point, stop: Point) -> None:
        """Take a line laid over the picture as the known length, in pixels."""
        self.known_line = (start, stop)
        length = math.dist(start, stop) * self.picture.shrunk  # in the file's own pixels
        self.change(scale_by=ScaleBy.KNOWN, pixels=show_number(length, 1))
        self.ticks = None
        if self.each:
            self.count_ticks(self.each)

    def count_ticks(self, each: float) -> None:
        """Count a ruler's or bar's ticks along the known line, `each` mm apart; 0 counts none."""
        self.each = each
        self.ticks = None
        if not each or self.known_line is None:
            return
        from ivory_quilt.core.reading.tracing.ruler import find_ticks  # the picture library

        self.ticks = find_ticks(self.picture.grey, *self.known_line)
        if self.ticks is not None:
            spans = self.ticks.count - 1
            self.change(
                pixels=show_number(spans * self.ticks.pixels * self.picture.shrunk, 2),
                real=f"{show_number(spans * each, 2)} mm",
            )

    def known_words(self) -> str:
        """Return what the line laid over the picture says."""
        if self.known_line is None:
            return "Drag a line over the picture: along a ruler's ticks, a check bar, a known edge."
        if not self.each:
            return "Enter its actual length, or let the ticks along it be counted."
        if self.ticks is None:
            return "No even ticks are found along the line: lay it across them, near their ends."
        off = show_number(self.ticks.spread * self.each / self.ticks.pixels, 2)
        return f"{self.ticks.count} ticks, each {self.each:g} mm, even within {off} mm."

    def trace(self) -> Reading:
        """Trace as chosen; may run on any thread.

        Raises:
            InputError: the choices make no sense, or the picture shows no outlines.
        """
        from ivory_quilt.files.picture_read import read_loaded  # it loads the picture library

        level = self.choices.level / 100 if self.choices.level else None
        return read_loaded(self.picture, self.file, self.choices.scale(), self.choices.ink, level)

    def summary(self) -> str:
        """Return what was found, in a line."""
        if self.busy:
            return "tracing …"
        if self.reading is None:
            return ""
        count = len(self.pieces)
        widest = max((p.shape.width for p in self.pieces), default=0.0)
        found = counted(count, "outline")
        if not count:
            return "no outline found"
        within = show_number(SIMPLIFIED, 2)
        return (
            f"{found}, the widest {show_number(widest, 1)} mm; simplified within {within} mm of "
            "what was traced"
        )


def first_choices(picture: LoadedPicture) -> TraceChoices:
    """Return a sensible beginning: a scan when the file states a resolution."""
    if picture.dpi is None:
        return TraceChoices()
    return TraceChoices(scale_by=ScaleBy.DPI, dpi=show_number(picture.dpi, 1))
