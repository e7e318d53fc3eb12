"""The board: all pieces side by side at true size, those in hand marked."""

from collections.abc import Iterable

from PySide6.QtCore import QRectF, Signal

from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.pattern.board_items import draw_board
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.theme.palette import Palette

AROUND = 60.0  # mm around pieces that are brought to the middle


class PieceBoard(Canvas):
    """All pieces; which of them are selected the presenter knows."""

    selected = Signal()
    """Other pieces are in hand."""

    def __init__(self, presenter: PatternPresenter) -> None:
        """Show the pieces that `presenter` has on the board."""
        super().__init__()
        self._p = presenter
        self.items_by_id: dict[str, FoamItem] = {}
        self._shown: tuple[object, ...] = ()
        self._filling = False
        self.setAccessibleName("board with all pieces")
        self.setDragMode(Canvas.DragMode.RubberBandDrag)
        self.scene().selectionChanged.connect(self._select)
        self.reshaped.connect(self._rearrange)

    def forget(self) -> None:
        """Another project is open."""
        self._shown = ()

    def fill(self, look: Palette) -> None:
        """Show the present pieces, unless they are shown; more than there were are all shown."""
        project = self._p.session.project
        paint = project.paint if self._p.in_colour else ()
        state = (project.pieces, look, paint, self._p.wearer, project.troupe)
        if state == self._shown:
            return
        fresh = not self._shown or len(project.pieces) > len(self.items_by_id)
        self._shown = state
        self.look = look
        self._draw()
        if fresh:
            self.fit()
        else:  # another thickness regroups them
            self.refit()

    def mark_selected(self) -> None:
        """Mark the pieces in hand."""
        self._filling = True
        chosen = set(self._p.selected)
        for ident, item in self.items_by_id.items():
            item.setSelected(ident in chosen)
        self._filling = False

    def bring_to_middle(self, ids: Iterable[str]) -> None:
        """Look at some pieces."""
        box = QRectF()
        for ident in ids:
            if ident in self.items_by_id:
                box = box.united(self.items_by_id[ident].sceneBoundingRect())
        if not box.isEmpty():
            self.fit(box.adjusted(-AROUND, -AROUND, AROUND, AROUND))

    def _draw(self) -> None:
        self._filling = True
        self.items_by_id = draw_board(
            self.scene(),
            self._p.on_board(),
            self.aspect,
            self._p.session.stock,
            self.look,
            self._p.session.project.paint if self._p.in_colour else (),
        )
        self._filling = False

    def _rearrange(self) -> None:
        if self._shown:
            self._draw()
            self.mark_selected()

    def _select(self) -> None:
        if self._filling:
            return
        chosen = [str(i.data(0)) for i in self.scene().selectedItems()]
        self._p.selected = tuple(sorted(chosen, key=list(self.items_by_id).index))
        self.selected.emit()
