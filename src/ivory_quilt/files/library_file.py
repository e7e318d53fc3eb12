"""Sets of pieces that the shop keeps, as JSON: what the store holds of each."""

from typing import Literal

import msgspec

from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.measure.wearer import Measure
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.files.project_file import piece_body, piece_of
from ivory_quilt.files.project_wire import PieceWire
from ivory_quilt.files.wire import decode, encode

FORMAT = "ivory-quilt/set"
VERSION = 1


class LibrarySetWire(msgspec.Struct):
    """A set of pieces."""

    format: Literal["ivory-quilt/set"]
    version: int
    id: str
    name: str
    pieces: list[PieceWire]
    seams: tuple[Seam, ...] = ()
    tags: tuple[str, ...] = ()
    made_for: tuple[Measure, ...] = ()
    when: str = ""
    note: str = ""


def encode_set(kept: LibrarySet) -> bytes:
    """Return a set as JSON."""
    return encode(
        {
            "format": FORMAT,
            "version": VERSION,
            "id": kept.id,
            "name": kept.name,
            "pieces": [piece_body(p) for p in kept.pieces],
            "seams": kept.seams,
            "tags": kept.tags,
            "made_for": kept.made_for,
            "when": kept.when,
            "note": kept.note,
        },
        indent=False,
    )


def decode_set(data: bytes, *, where: str = "set") -> LibrarySet:
    """Return the set that JSON holds.

    Raises:
        InputError: it is none, newer than this program, or wrong inside.
    """
    wire = decode(data, LibrarySetWire, where=where, format_name=FORMAT, newest=VERSION)
    return LibrarySet(
        wire.id,
        wire.name,
        tuple(piece_of(p) for p in wire.pieces),
        wire.seams,
        wire.tags,
        wire.made_for,
        wire.when,
        wire.note,
    )
