"""The Pattern station's modes: the board, Draft, the seam map, the page table."""

from enum import StrEnum


class PatternMode(StrEnum):
    """Where the maker works."""

    BOARD = "board"
    DRAFT = "draft"
    SEAMS = "seams"
    PAGES = "pages"


MODES = (
    (PatternMode.BOARD, "Board", "All pieces at one scale (Ctrl+Shift+B)"),
    (PatternMode.DRAFT, "Draft", "One piece, to draw on and to cut open (Ctrl+E)"),
    (PatternMode.SEAMS, "Seams", "Which edges are glued together (Ctrl+J)"),
    (PatternMode.PAGES, "Pages", "Pages of a pattern on their way in, joined by their marks"),
)
