"""What `ivory-quilt read` writes: the pieces that files hold, and what is wrong with the rest."""

from typing import Any

from ivory_quilt.core.reading.found import FoundPiece, Reading
from ivory_quilt.core.reading.hints import Hints
from ivory_quilt.core.reading.pages.joined_reading import JoinedReading
from ivory_quilt.core.reading.pages.page import JoinedPages
from ivory_quilt.files.wire import encode

FORMAT = "ivory-quilt/pieces"


def encode_reading(readings: list[Reading]) -> bytes:
    """Return readings as the bytes of a pieces file; ids run through all files."""
    pieces: list[dict[str, Any]] = []
    problems: list[dict[str, Any]] = []
    for reading in readings:
        for found in reading.pieces:
            pieces.append(_piece(found, f"p{len(pieces) + 1}"))
        problems += [
            {
                "code": p.code,
                "message": p.message,
                "where": [p.where[0], p.where[1]],
                "mend": p.mend,
                "mended": p.mended,
            }
            for p in reading.problems
        ]
    body = {"format": FORMAT, "version": 1, "pieces": pieces, "problems": problems}
    joins = [_joins(r.joined) for r in readings if isinstance(r, JoinedReading)]
    if joins:
        body["joins"] = joins[0]
    return encode(body)


def _joins(placed: JoinedPages) -> list[dict[str, Any]]:
    """Return the joins between pages, counted from 1, with how far their marks miss, mm."""
    return [
        {"first": j.first + 1, "second": j.second + 1, "marks": len(j.pairs), "residual": r}
        for j, r in zip(placed.joins, placed.residuals, strict=True)
    ]


def _piece(found: FoundPiece, piece_id: str) -> dict[str, Any]:
    return {
        "id": piece_id,
        "name": found.name,
        "outline": found.shape.outer,
        "holes": found.shape.holes,
        "area": found.shape.area,
        "length": found.shape.outline_length,
        "lines": [{"kind": k.kind.value, "points": k.points} for k in found.lines],
        "marks": [
            *({"kind": "match", "at": [x, y]} for x, y in found.match_marks),
            *({"kind": "label", "at": list(k.at), "text": k.text} for k in found.labels),
        ],
        "hints": _hints(found.hints),
        "source": {"file": found.file, "page": found.page, "layer": found.layer},
    }


def _hints(hints: Hints) -> dict[str, Any]:
    """Return what the writing says; what it does not say is left out."""
    said: dict[str, Any] = {}
    if hints.quantity is not None:
        said["quantity"] = hints.quantity
    if hints.thickness is not None:
        said["thickness"] = hints.thickness
    if hints.hand is not None:
        said["hand"] = hints.hand.value
    if hints.on_fold:
        said["fold"] = True
    return said
