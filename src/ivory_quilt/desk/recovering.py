"""At the start: what was unsaved when the program last ended is offered, and taken or left."""

from datetime import datetime

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.document.difference import differences
from ivory_quilt.core.errors import QuiltError
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.recovery_panel import FoundWork, RecoveryPanel
from ivory_quilt.files.atomic import shown_name
from ivory_quilt.files.project_file import load_project
from ivory_quilt.files.recovery import RecoveryFolder, UnsavedWork


class Recovering:
    """The panel, and what its answers do."""

    def __init__(self, parent: QWidget, documents: Documents, folder: RecoveryFolder) -> None:
        """Offer what `folder` holds, over `parent`."""
        self._documents, self._folder = documents, folder
        self._left: list[UnsavedWork] = []
        self.look: Palette = LIGHT
        self.panel = RecoveryPanel(parent, self._open, self._discard)

    def offer(self) -> bool:
        """Offer what is there; return whether there is anything."""
        self._left = self._folder.leftovers()
        self.panel.offer([_beside_saved(left) for left in self._left], self.look)
        return bool(self._left)

    def _open(self, number: int) -> None:
        if self._documents.recover(self._left[number]):
            self.offer()

    def _discard(self, number: int) -> None:
        left = self._left[number]
        if self._documents.asking.discard(left.name):
            self._documents.let_go(left)
            self.offer()


def _beside_saved(left: UnsavedWork) -> FoundWork:
    try:
        work = left.read().project
    except QuiltError:
        work = None
    saved, when = None, "It was never saved."
    if left.path is not None:
        try:
            saved = load_project(left.path)
            changed = datetime.fromtimestamp(left.path.stat().st_mtime).astimezone()
            when = f"{shown_name(left.path.name)}, saved {show_moment(changed)}"
        except (QuiltError, OSError) as error:
            when = f"The file cannot be opened: {error}"
    differs = tuple(differences(saved, work)) if saved is not None and work is not None else ()
    return FoundWork(
        left.name,
        work,
        show_moment(_moment(left.time)),
        left.label,
        saved,
        when,
        differs,
        left.saved_since,
    )


def _moment(text: str) -> datetime | None:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        return None


def show_moment(moment: datetime | None) -> str:
    """Return a moment as a maker reads it."""
    return f"{moment:%Y-%m-%d at %H:%M:%S}" if moment is not None else "at an unknown time"
