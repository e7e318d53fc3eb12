"""Every kind of pattern file, by its ending; each reader loads only when its kind comes."""

from dataclasses import dataclass
from pathlib import PurePath

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.found import Reading

LARGEST = 80_000_000  # bytes; drawings are far smaller
DRAWINGS = (".svg", ".dxf", ".pdf")


@dataclass(frozen=True)
class ReadOptions:
    """What a maker says about a file; None where nothing is said.

    Attributes:
        mm_per_unit: true size of one unit of a file without size units.
    """

    mm_per_unit: float | None = None


def can_read(name: str) -> bool:
    """Return whether a file of this name is a drawing that can be read."""
    return PurePath(name).suffix.lower() in DRAWINGS


def read_drawing(data: bytes, file: str, options: ReadOptions = ReadOptions()) -> Reading:
    """Read a pattern of any kind.

    Raises:
        InputError: the kind is not read, or the file is not what its name says.
    """
    if len(data) > LARGEST:
        raise InputError(file, f"{len(data) / 1e6:.0f} MB", f"at most {LARGEST / 1e6:.0f} MB")
    kind = PurePath(file).suffix.lower()
    if kind == ".svg":
        from ivory_quilt.files.svg_read import read_svg

        return read_svg(data, file=file, mm_per_unit=options.mm_per_unit)
    if kind == ".dxf":
        from ivory_quilt.files.dxf_read import read_dxf

        return read_dxf(data, file=file, mm_per_unit=options.mm_per_unit)
    if kind == ".pdf":
        from ivory_quilt.files.pdf_read import read_pdf

        return read_pdf(data, file=file)
    raise InputError(file, f"'{kind}' files are not read", f"one of {', '.join(DRAWINGS)}")
