"""The library's table: the pieces of the set in sight."""

from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.pattern.board_items import draw_board
from ivory_quilt.desk.theme.palette import Palette


class LibraryTable(Canvas):
    """A set of pieces, to look at."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setAccessibleName("pieces of a set of the library")
        self._shown: tuple[object, ...] = ()

    def show_set(self, kept: LibrarySet | None, stock: ShopStock, look: Palette) -> None:
        """Draw the pieces of a set."""
        state = (kept, look)
        if state == self._shown:
            return
        self._shown = state
        self.set_look(look)
        draw_board(self.scene(), kept.pieces if kept is not None else (), self.aspect, stock, look)
        self.fit()
