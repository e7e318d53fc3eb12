"""Draft as one pane: presenter, table and card together."""

from collections.abc import Callable

from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.draft.card import DraftCard
from ivory_quilt.desk.stations.pattern.draft.presenter import DraftPresenter
from ivory_quilt.desk.stations.pattern.draft.table import DraftTable
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background


class DraftPane:
    """One piece, its table and its card."""

    def __init__(
        self, session: Session, changed: Callable[[], None], reader: Callable[[], Background]
    ) -> None:
        """Work on `session`; call `changed` when the station must be shown anew."""
        self.presenter = DraftPresenter(session, reader)
        self.table = DraftTable(self.presenter)
        self.card = DraftCard(self.presenter, changed)
        self.table.drawn.connect(changed)
        self.table.refused.connect(self.card.complain)

    def refresh(self, look: Palette) -> None:
        """Show the piece that is drafted."""
        piece = self.presenter.piece
        if piece is not None:
            self.table.show_piece(piece, look)
            self.card.fill()
