"""What names in a drawing say: a layer's what is done along its lines, a path's who gave it.

The words are common practice, no source.
"""

import re
from functools import lru_cache

from ivory_quilt.core.pattern.piece import LineKind

_MATCH = re.compile(r"\b(match|hash|notch|notches)\b", re.I)
_KINDS = (
    (LineKind.UNDERCUT, re.compile(r"\bunder ?cuts?\b", re.I)),
    (LineKind.SCORE, re.compile(r"\b(score|scores|groove|panel ?lines?|engrave)\b", re.I)),
    (LineKind.SLIT, re.compile(r"\bslits?\b", re.I)),
    (LineKind.CENTRE, re.compile(r"\b(cent(re|er) ?lines?|axis)\b", re.I)),
    (LineKind.GRAIN, re.compile(r"\b(grain|direction)\b", re.I)),
    (LineKind.FOLD, re.compile(r"\b(fold|folds|crease)\b", re.I)),
    (LineKind.MARK, re.compile(r"\b(mark|marks|guides?|notes?|pen)\b", re.I)),
)
STOCK_LAYER = "stock sheet"
"""Holds what parts lie on in a cut sheet: nothing there is a piece."""
_MACHINE_NAME = re.compile(
    r"^(path|rect|circle|ellipse|polygon|polyline|line|g|group|use|svg|layer|object|shape|curve|id|cut|cuts|outlines?)?"
    r"[-_ ]?[0-9_.:-]*$",
    re.I,
)


@lru_cache(maxsize=1024)
def holds_marks(layer: str) -> bool:
    """Return whether a layer's name says that its strokes are match marks."""
    return _MATCH.search(re.sub(r"[_\-.]+", " ", layer)) is not None


@lru_cache(maxsize=1024)
def line_kind(layer: str) -> LineKind | None:
    """Return what a layer's name says is done along its lines, or None."""
    words = re.sub(r"[_\-.]+", " ", layer)
    return next((kind for kind, pattern in _KINDS if pattern.search(words)), None)


def made_by_machine(name: str) -> bool:
    """Return whether a name is one that a drawing program gave, and says nothing."""
    return _MACHINE_NAME.match(name) is not None
