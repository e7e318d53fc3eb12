"""What every station is: a centre, a card at the side, and actions by name."""

from collections.abc import Callable

from PySide6.QtCore import Signal
from PySide6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import scrolled

CARD_WIDTH = 316
WORDS = {
    "measure": "Measure",
    "pattern": "Pattern",
    "build": "Build",
    "lay": "Lay",
    "buy": "Buy",
    "cut": "Cut",
    "bench": "Bench",
    "journal": "Journal",
}
"""The stations in the order of work, and what they are called."""


class Station(QWidget):
    """One station of the desk. Actions are run by name, from keys, menus and buttons alike."""

    ident = ""
    picked = Signal()
    """Something else is chosen: other actions make sense now."""

    def __init__(self, session: Session) -> None:
        """Follow `session`."""
        super().__init__()
        self.session = session
        self.look: Palette = LIGHT
        self.canvas: Canvas | None = None
        self.card: QWidget | None = None
        self._centre: QWidget | None = None
        self.actions_by_name: dict[str, tuple[Callable[[], object], Callable[[], bool]]] = {}
        session.changed.connect(self._maybe_refresh)
        # Better layouts are shown in a turn of their own: deriving the plan took one already.
        session.proposed.connect(Later(self._maybe_refresh, 0, self).soon)
        self._stale = True

    def lay_out(self, centre: QWidget, card: QWidget) -> None:
        """Put the station's centre and its card side by side."""
        self._centre = centre
        holder = QWidget()
        holder.setObjectName("Card")
        area = scrolled(card)
        inner = QVBoxLayout(holder)
        inner.setContentsMargins(0, 0, 0, 0)
        inner.addWidget(area)
        holder.setFixedWidth(CARD_WIDTH)
        self.card = holder
        layout = QHBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(centre, 1)
        layout.addWidget(holder)

    @property
    def word(self) -> str:
        """What it is called."""
        return WORDS[self.ident]

    @property
    def view(self) -> QWidget:
        """What a picture of the station shows: its drawing, or all but its card."""
        return self.canvas or self._centre or self

    # Actions

    def offer(
        self, name: str, run: Callable[[], object], can: Callable[[], bool] = lambda: True
    ) -> None:
        """Say that this station can do an action, and when."""
        self.actions_by_name[name] = (run, can)

    def can(self, name: str) -> bool:
        """Return whether an action makes sense now."""
        found = self.actions_by_name.get(name)
        return found is not None and found[1]()

    def act(self, name: str) -> None:
        """Do an action, if it makes sense now."""
        if self.can(name):
            self.actions_by_name[name][0]()

    # Showing

    def _maybe_refresh(self) -> None:
        if self.isVisible():
            self._stale = False
            self.refresh()
        else:
            self._stale = True

    def enter(self) -> None:
        """Called when the station comes to the front."""
        if self._stale:
            self._stale = False
            self.refresh()

    def leave(self) -> None:
        """Called when the desk closes: long work that nobody will see ends."""

    def refresh(self) -> None:
        """Show the present project; only called while in sight."""

    def set_look(self, palette: Palette) -> None:
        """Take another theme."""
        self.look = palette
        if self.canvas is not None:
            self.canvas.set_look(palette)
        self._stale = True
        if self.isVisible():
            self.enter()

    def foams_in_sight(self) -> frozenset[Foam]:
        """Return the foams that the maker looks at here: they are laid before others."""
        return frozenset()

    def show_foam(self, foam: Foam) -> None:
        """Bring one foam to the middle."""
