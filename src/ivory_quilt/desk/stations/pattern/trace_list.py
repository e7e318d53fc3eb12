"""The cards of pictures that wait to be traced, one below the other."""

from collections.abc import Callable

from PySide6.QtWidgets import QVBoxLayout

from ivory_quilt.desk.imports.picture import PictureImport
from ivory_quilt.desk.stations.pattern.trace_panel import TraceCard
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background


class TraceList(QVBoxLayout):
    """One card a picture; those that stay are not made anew."""

    def __init__(
        self,
        background: Callable[[], Background],
        bring_in: Callable[[PictureImport], None],
        leave: Callable[[PictureImport], None],
    ) -> None:
        """Trace on what `background` returns; `bring_in` or `leave` a picture as the maker says."""
        super().__init__()
        self.setContentsMargins(6, 8, 6, 0)
        self.cards: list[TraceCard] = []
        self._background, self._bring_in, self._leave = background, bring_in, leave

    def fill(self, waiting: list[PictureImport], look: Palette) -> None:
        """Show the pictures that wait."""
        for card in [c for c in self.cards if not any(c.found is p for p in waiting)]:
            self.cards.remove(card)
            self.removeWidget(card)
            card.hide()
            card.deleteLater()
        for card in self.cards:
            card.set_look(look)
        for found in waiting:
            if not any(c.found is found for c in self.cards):
                card = TraceCard(found, look, self._background(), self._bring_in, self._leave)
                self.cards.append(card)
                self.addWidget(card)
