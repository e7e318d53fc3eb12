"""Questions that only the maker can answer before something would be lost."""

from enum import Enum
from typing import TypeVar

from PySide6.QtWidgets import QMessageBox, QWidget

Answer = TypeVar("Answer", bound=Enum)


class Unsaved(Enum):
    """What becomes of unsaved changes."""

    SAVE = "save"
    DISCARD = "discard"
    CANCEL = "cancel"


class Changed(Enum):
    """What becomes of a file that another program changed."""

    REPLACE = "replace"
    SAVE_AS = "save as"
    CANCEL = "cancel"


class Elsewhere(Enum):
    """How a project that another window has open is opened."""

    COPY = "copy"
    CANCEL = "cancel"


class Damaged(Enum):
    """What is opened in place of a damaged file."""

    BACKUP = "backup"
    RESCUE = "rescue"
    CANCEL = "cancel"


class Asking:
    """Asks in front of a window; tests put answers in the place of its methods."""

    def __init__(self, window: QWidget) -> None:
        """Ask in front of `window`."""
        self._window = window

    def unsaved(self, name: str) -> Unsaved:
        """Ask about unsaved changes of a project."""
        return self._ask(
            f"{name} has changes that are not saved.",
            "",
            [
                ("Save", QMessageBox.ButtonRole.AcceptRole, Unsaved.SAVE),
                ("Don't save", QMessageBox.ButtonRole.DestructiveRole, Unsaved.DISCARD),
            ],
            Unsaved.CANCEL,
        )

    def changed(self, file: str) -> Changed:
        """Ask before replacing what another program wrote."""
        return self._ask(
            f"{file} was changed by another program since it was opened here.",
            "Replacing it keeps that version beside it, with ~ at the end of its name.",
            [
                ("Save as …", QMessageBox.ButtonRole.AcceptRole, Changed.SAVE_AS),
                ("Replace it", QMessageBox.ButtonRole.DestructiveRole, Changed.REPLACE),
            ],
            Changed.CANCEL,
        )

    def elsewhere(self, file: str, since: str) -> Elsewhere:
        """Ask how to open what another window has open since a time (ISO 8601)."""
        clock = since[11:16]
        when = f" since {clock}" if clock else ""
        return self._ask(
            f"{file} is open in another window{when}.",
            "Two windows saving one file would undo each other's work. A copy is a project of its "
            "own.",
            [("Open a copy", QMessageBox.ButtonRole.AcceptRole, Elsewhere.COPY)],
            Elsewhere.CANCEL,
        )

    def damaged(self, problem: str, readable: str, *, has_backup: bool) -> Damaged:
        """Ask what to open in place of a damaged file."""
        accept, ways = QMessageBox.ButtonRole.AcceptRole, []
        if has_backup:
            ways.append(("Open the copy before the last save", accept, Damaged.BACKUP))
        if readable:
            ways.append(("Open what can be read", accept, Damaged.RESCUE))
        said = f"{readable[:1].upper()}{readable[1:]}. " if readable else ""
        return self._ask(
            "The project file is damaged.",
            f"{problem}\n\n{said}The file itself is left as it is.",
            ways,
            Damaged.CANCEL,
        )

    def discard(self, name: str) -> bool:
        """Ask whether unsaved work may go for good."""
        answer = self._ask(
            f"Discard the unsaved work on {name}?",
            "It cannot be brought back. The saved file stays as it is.",
            [("Discard it", QMessageBox.ButtonRole.DestructiveRole, Unsaved.DISCARD)],
            Unsaved.CANCEL,
        )
        return answer is Unsaved.DISCARD

    def _ask(
        self,
        text: str,
        more: str,
        ways: list[tuple[str, QMessageBox.ButtonRole, Answer]],
        otherwise: Answer,
    ) -> Answer:
        box = QMessageBox(self._window)
        box.setWindowTitle("Ivory Quilt")
        box.setText(text)
        box.setInformativeText(more)
        answers = {box.addButton(word, role): answer for word, role, answer in ways}
        box.addButton("Cancel", QMessageBox.ButtonRole.RejectRole)
        box.exec()
        return next((a for b, a in answers.items() if b is box.clickedButton()), otherwise)


class Discarding(Asking):
    """Gives up what is unsaved without asking: pictures and benchmarks have no maker."""

    def unsaved(self, name: str) -> Unsaved:
        """Nobody wants it."""
        del name
        return Unsaved.DISCARD
