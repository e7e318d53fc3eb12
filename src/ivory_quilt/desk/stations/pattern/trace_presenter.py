"""A scan or photo on its way in: how large it is, which side of the ink counts, what was found."""

from dataclasses import dataclass, field, replace
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.found import FoundPiece, Reading
from ivory_quilt.core.pattern.tracing.picture import (
    Ink,
    LoadedPicture,
    PictureScale,
    parse_dpi,
    parse_sheet,
)
from ivory_quilt.core.units import parse_length, parse_scalar, show_number

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
INK_WORDS = (
    (Ink.MIDDLE, "the middle of the line"),
    (Ink.INSIDE, "its inner side"),
    (Ink.OUTSIDE, "its outer side"),
)


@dataclass(frozen=True)
class TraceChoices:
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
        real = parse_length(self.real, where="real length")
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


@dataclass
class PictureImport:
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

    @property
    def pieces(self) -> tuple[FoundPiece, ...]:
        """What would come in."""
        return self.reading.pieces if self.reading is not None else ()

    def change(self, **said: object) -> None:
        """Take over what the maker says."""
        self.choices = replace(self.choices, **said)  # type: ignore[arg-type]

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
        found = f"{count} outline{'s' if count != 1 else ''}"
        return f"{found}, the widest {show_number(widest, 1)} mm" if count else "no outline found"


def first_choices(picture: LoadedPicture) -> TraceChoices:
    """Return a sensible beginning: a scan when the file states a resolution."""
    if picture.dpi is None:
        return TraceChoices()
    return TraceChoices(scale_by=ScaleBy.DPI, dpi=show_number(picture.dpi, 1))
