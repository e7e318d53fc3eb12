"""The bench as one place: presenter, table and card together."""

from collections.abc import Callable

from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.bench.card import BenchCard
from ivory_quilt.desk.stations.pattern.bench.presenter import BenchPresenter
from ivory_quilt.desk.stations.pattern.bench.table import BenchTable
from ivory_quilt.desk.theme.palette import Palette


class BenchPlace:
    """One piece, its table and its card."""

    def __init__(self, session: Session, changed: Callable[[], None]) -> None:
        """Work on `session`; call `changed` when the station must be shown anew."""
        self.presenter = BenchPresenter(session)
        self.table = BenchTable(self.presenter)
        self.card = BenchCard(self.presenter, changed)
        self.table.drawn.connect(changed)
        self.table.refused.connect(self.card.complain)

    def refresh(self, look: Palette) -> None:
        """Show the piece on the bench."""
        piece = self.presenter.piece
        if piece is not None:
            self.table.show_piece(piece, look)
            self.card.fill()
