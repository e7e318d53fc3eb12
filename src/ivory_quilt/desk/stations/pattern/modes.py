"""The Pattern station's places: the board, the bench, the seam map, the page table."""

from enum import StrEnum


class Mode(StrEnum):
    """Where the maker works."""

    BOARD = "board"
    BENCH = "bench"
    SEAMS = "seams"
    PAGES = "pages"


MODES = (
    (Mode.BOARD, "Board", "All pieces at one scale (Ctrl+Shift+B)"),
    (Mode.BENCH, "Bench", "One piece, to draw on and to cut open (Ctrl+E)"),
    (Mode.SEAMS, "Seams", "Which edges are glued together (Ctrl+J)"),
    (Mode.PAGES, "Pages", "Pages of a pattern on their way in, joined by their marks"),
)
