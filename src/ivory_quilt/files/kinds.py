"""What a file is, by its ending; nothing else decides by an ending."""

from collections.abc import Sequence
from enum import Enum
from pathlib import PurePath

VECTORS = (".svg", ".dxf", ".pdf")
PICTURES = (".png", ".jpg", ".jpeg", ".tif", ".tiff")
DRAWINGS = (*VECTORS, *PICTURES)


class FileKind(Enum):
    """What a file is."""

    PROJECT = (".ivq",)
    SVG = (".svg",)
    DXF = (".dxf",)
    PDF = (".pdf",)
    PICTURE = PICTURES


def kind_of(name: str) -> FileKind | None:
    """Return what a file of this name is, None for one that is not read."""
    ending = PurePath(name).suffix.lower()
    return next((kind for kind in FileKind if ending in kind.value), None)


def one_kind(names: Sequence[str]) -> FileKind | None:
    """Return the kind that all files of these names are, None when they differ."""
    kinds = {kind_of(name) for name in names}
    return kinds.pop() if len(kinds) == 1 else None


def title(names: Sequence[str]) -> str:
    """Return one name for several files."""
    return names[0] if len(names) == 1 else f"{names[0]} and {len(names) - 1} more"
