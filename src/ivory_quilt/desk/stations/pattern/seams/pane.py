"""The seam map as one place: presenter, map and card together."""

from collections.abc import Callable

from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.seams.card import SeamCard
from ivory_quilt.desk.stations.pattern.seams.map import SeamMap
from ivory_quilt.desk.stations.pattern.seams.presenter import SeamPresenter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background


class SeamPane:
    """All seams, their map and their card."""

    def __init__(
        self, session: Session, changed: Callable[[], None], background: Callable[[], Background]
    ) -> None:
        """Work on `session`; call `changed` when the station must be shown anew.

        Long work runs on what `background` returns.
        """
        self.presenter = SeamPresenter(session)
        self.map = SeamMap(self.presenter)
        self.card = SeamCard(self.presenter, changed, background)
        self.map.edge_clicked.connect(changed)
        self.map.hovered.connect(self.map.setToolTip)

    def refresh(self, look: Palette) -> None:
        """Show the map and its card."""
        self.map.show_pieces(look)
        self.card.fill(look)
