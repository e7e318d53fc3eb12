"""Every kind of pattern file, by its ending; each reader loads only when its kind comes."""

from pathlib import PurePath

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.found import Reading
from ivory_quilt.core.reading.progress import ReadReport, tell_nobody
from ivory_quilt.core.reading.tracing.picture import Ink, PictureScale
from ivory_quilt.core.record import Struct
from ivory_quilt.files.kinds import DRAWINGS, FileKind, kind_of

LARGEST = 80_000_000  # bytes; drawings are far smaller


class ReadOptions(Struct, frozen=True):
    """What a maker says about a file; None where nothing is said.

    Attributes:
        mm_per_unit: true size of one unit of a file without size units; of a picture, of a pixel.
        dpi: resolution of a scan.
        rectangle: (width, height) mm of a whole sheet that is seen in a picture.
        ink: which side of a drawn line is the outline, in a picture.
    """

    mm_per_unit: float | None = None
    dpi: float | None = None
    rectangle: tuple[float, float] | None = None
    ink: Ink = Ink.MIDDLE


NOTHING_SAID = ReadOptions()


def read_drawing(
    data: bytes,
    file: str,
    options: ReadOptions = NOTHING_SAID,
    *,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Read a pattern of any kind; `report` is told how far it is.

    Raises:
        InputError: the kind is not read, or the file is not what its name says.
    """
    if len(data) > LARGEST:
        raise InputError(file, f"{len(data) / 1e6:.0f} MB", f"at most {LARGEST / 1e6:.0f} MB")
    kind = kind_of(file)
    if kind is FileKind.SVG:
        from ivory_quilt.files.svg_read import read_svg

        return read_svg(data, file=file, mm_per_unit=options.mm_per_unit, report=report)
    if kind is FileKind.DXF:
        from ivory_quilt.files.dxf_read import read_dxf

        return read_dxf(data, file=file, mm_per_unit=options.mm_per_unit, report=report)
    if kind is FileKind.PDF:
        from ivory_quilt.files.pdf_read import read_pdf

        return read_pdf(data, file=file, report=report)
    if kind is FileKind.PICTURE:
        from ivory_quilt.files.picture_read import read_picture

        scale = PictureScale(options.rectangle, options.mm_per_unit, options.dpi)
        return read_picture(data, file=file, scale=scale, ink=options.ink, report=report)
    ending = PurePath(file).suffix.lower()
    raise InputError(file, f"'{ending}' files are not read", f"one of {', '.join(DRAWINGS)}")
