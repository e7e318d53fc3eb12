"""All panels that open over one desk, and how each is opened."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.document.project import set_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.engine_choice import EngineChoice
from ivory_quilt.desk.preferences import Preferences
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.command_palette import CommandPalette, Entry
from ivory_quilt.desk.widgets.engine_panel import EnginePanel
from ivory_quilt.desk.widgets.guide_panel import GuidePanel
from ivory_quilt.desk.widgets.keys_panel import KeysPanel, Shortcut
from ivory_quilt.desk.widgets.panels import ErrorPanel, HistoryPanel, NamePanel
from ivory_quilt.desk.widgets.preferences_panel import PreferencesPanel
from ivory_quilt.desk.widgets.shop_panel import ShopPanel
from ivory_quilt.shop.opening import OpenedStore


class PanelSet:
    """The panels, all shut."""

    def __init__(
        self,
        desk: QWidget,
        session: Session,
        documents: Documents,
        choice: EngineChoice,
        preferences: Preferences,
        shortcuts: Sequence[Shortcut],
        menus: Sequence[str],
        entries: Callable[[], Sequence[Entry]],
        answers: Callable[[str], Sequence[Entry]],
    ) -> None:
        """Lie over `desk`; `shortcuts` are shown by `menus`, `entries` can be searched for.

        `answers` returns what a text means that is no entry's.
        """
        self._desk, self._session, self._choice = desk, session, choice
        self.guide = GuidePanel(desk)
        self.keys = KeysPanel(desk, shortcuts, menus)
        self.palette = CommandPalette(desk, entries, answers)
        self.history = HistoryPanel(desk, session.undo_to)
        self.namer = NamePanel(desk, self._rename)
        self.error = ErrorPanel(desk, documents.save_as)
        self.shop = ShopPanel(desk, session)
        self._preferences = preferences
        self.preferences: PreferencesPanel | None = None
        self.engine: EnginePanel | None = None
        """These two are made when somebody first wants them."""

    def show_guide(self, station: str) -> None:
        """Open the guide at a station, by its word."""
        self.guide.open_at(station)

    def show_engine(self) -> None:
        """Open the layout engine's panel."""
        if self.engine is None:
            self.engine = EnginePanel(self._desk, self._choice)
        self.engine.open()

    def show_preferences(self) -> None:
        """Open the preferences."""
        if self.preferences is None:
            self.preferences = PreferencesPanel(self._desk, self._preferences, self._choice)
        self.preferences.open()

    def show_keys(self) -> None:
        """Open the page of keys."""
        self.keys.open()

    def show_palette(self) -> None:
        """Open the command palette."""
        self.palette.open()

    def show_history(self) -> None:
        """Open the list of steps."""
        self.history.show_steps(self._session.history)

    def ask_name(self) -> None:
        """Ask for the project's name."""
        self.namer.ask(self._session.project.name)

    def tell_shop(self, opened: OpenedStore, path: Path) -> None:
        """Say what is wrong with the shop's store, when something is, and offer its copy."""
        if opened.problem:
            self.shop.show_problem(opened, path)

    def _rename(self, name: str) -> None:
        try:
            self._session.edit("Rename project", lambda p: set_name(p, name))
        except InputError as error:
            self._session.tell(str(error), "cut")
