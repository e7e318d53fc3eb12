"""The library as one pane: presenter, table and card together."""

from collections.abc import Callable

from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.library.card import LibraryCard
from ivory_quilt.desk.stations.pattern.library.presenter import LibraryPresenter
from ivory_quilt.desk.stations.pattern.library.view import LibraryTable
from ivory_quilt.desk.theme.palette import Palette


class LibraryPane:
    """The shop's sets of pieces."""

    def __init__(
        self, session: Session, changed: Callable[[], None], brought: Callable[[], None]
    ) -> None:
        """Serve `session`; `brought` is called when a set has come into the project."""
        self.presenter = LibraryPresenter(session)
        self.table = LibraryTable()
        self.card = LibraryCard(self.presenter, changed, brought)

    def refresh(self, look: Palette) -> None:
        """Show the set in sight."""
        self.table.show_set(self.presenter.kept, self.presenter.session.stock, look)
        self.card.fill()
