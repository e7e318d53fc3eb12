"""The Pattern station's modes: the board, Draft, the seam map, the page table."""

from collections.abc import Callable
from enum import StrEnum

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.record import Struct
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.theme.palette import Palette


class PatternMode(StrEnum):
    """Where the maker works."""

    BOARD = "board"
    DRAFT = "draft"
    SEAMS = "seams"
    PAGES = "pages"
    LIBRARY = "library"


MODES = (
    (PatternMode.BOARD, "Board", "All pieces at one scale (Ctrl+Shift+B)"),
    (PatternMode.DRAFT, "Draft", "One piece, to draw on and to cut open (Ctrl+E)"),
    (PatternMode.SEAMS, "Seams", "Which edges are glued together (Ctrl+J)"),
    (PatternMode.LIBRARY, "Library", "Sets of pieces that the shop keeps (Ctrl+Alt+K)"),
    (PatternMode.PAGES, "Pages", "Pages of a pattern on their way in, joined by their marks"),
)


class ModePane(Struct, frozen=True):
    """What a mode shows in place of the board: its table, its card, and how both are made anew."""

    table: Canvas
    card: QWidget
    refresh: Callable[[Palette], None]
