"""Keeps unsaved work beside the profile, on a thread of its own, within a second of each edit."""

import threading
import time
from collections.abc import Callable
from datetime import datetime
from pathlib import Path

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.session import Session
from ivory_quilt.files.recovery import FoamMove, RecoveryFolder, WorkJournal, WorkState

EVERY = 1.0  # s between two writes: edits come faster than disks


def now() -> str:
    """Return the time as it is kept, ISO 8601 with the zone."""
    return datetime.now().astimezone().isoformat(timespec="seconds")


class WorkKeeper(QObject):
    """Follows a session and keeps what is unsaved of it."""

    failed = Signal(str)
    """Unsaved work cannot be kept: a sentence why. Told once, until it works again."""

    def __init__(
        self, session: Session, folder: RecoveryFolder, parent: QObject | None = None
    ) -> None:
        """Begin to follow; without a place that can be written, only tell so."""
        super().__init__(parent)
        self._session, self.folder = session, folder
        self._wake = threading.Condition()
        self._waiting: Callable[[WorkJournal], None] | None = None
        self._closing = self._urgent = False
        self._writing = False
        self._well = True
        self._seen: tuple[Project, Path | None, bool] | None = None
        self.journal: WorkJournal | None = None
        self.problem = ""
        try:
            self.journal = folder.begin()
        except InputError as error:
            self.problem = str(error)
            return
        session.changed.connect(self._note)
        session.foam.keep, session.foam.withdraw = self.keep_move, self.keep_again
        session.opened.connect(self._name_open)
        self._name_open()
        self._thread = threading.Thread(target=self._run, name="keeper", daemon=True)
        self._thread.start()

    def opened_elsewhere(self, path: Path) -> str | None:
        """Return since when another window has a project file open, or None."""
        return self.folder.opened_elsewhere(path, self.journal)

    def _name_open(self) -> None:
        if self.journal is None:
            return
        try:
            self.journal.name_open(self._session.path, now())
        except InputError as error:
            self.failed.emit(str(error))

    def _note(self) -> None:
        """Hand what is unsaved to the thread; the same document is not written twice."""
        session = self._session
        seen, self._seen = self._seen, (session.project, session.path, session.dirty)
        if seen is not None and seen[0] is session.project and seen[1:] == self._seen[1:]:
            return
        if seen is not None and seen[1] != session.path:
            self._name_open()
        if session.dirty:
            kept = WorkState(
                session.project, session.path, session.stamp, session.undo_label, now()
            )
            self._hand_over(lambda journal: journal.keep(kept), urgent=False)
        else:  # what is saved must not be offered as unsaved
            self._hand_over(lambda journal: journal.clear(), urgent=True)

    def keep_move(self, project: Project, move: FoamMove) -> None:
        """Keep a document that is about to be, before its foam is moved; wait until it is kept."""
        session = self._session
        kept = WorkState(project, session.path, session.stamp, session.undo_label, now(), move)
        self._seen = None
        self._hand_over(lambda journal: journal.keep(kept), urgent=True)
        self.settle(2.0)

    def keep_again(self) -> None:
        """Keep the document as it is after all."""
        self._seen = None
        self._note()

    def _hand_over(self, errand: Callable[[WorkJournal], None], *, urgent: bool) -> None:
        with self._wake:
            self._waiting, self._urgent = errand, urgent
            self._wake.notify_all()

    def settle(self, seconds: float = 10.0) -> bool:
        """Write everything noted at once and wait for it; return whether it is on the disk."""
        with self._wake:
            self._urgent = True
            self._wake.notify_all()
            return self._wake.wait_for(lambda: self._waiting is None and not self._writing, seconds)

    def close(self) -> None:
        """The window is closed by its maker: nothing that is wanted is unsaved."""
        if self.journal is None:
            return
        with self._wake:
            self._closing = True
            self._waiting = None
            self._wake.notify_all()
        self._thread.join(10)
        self.journal.close()
        self.journal = None

    def _run(self) -> None:
        journal = self.journal
        assert journal is not None
        last = 0.0
        while True:
            with self._wake:
                self._wake.wait_for(lambda: self._waiting is not None or self._closing)
                # The first edit is kept at once, those that follow soon after together.
                rest = last + EVERY - time.monotonic()
                if rest > 0 and not self._closing:
                    self._wake.wait_for(lambda: self._closing or self._urgent, rest)
                if self._closing:
                    return
                errand, self._waiting, self._writing = self._waiting, None, True
            assert errand is not None
            try:
                errand(journal)
                self._well = True
            except InputError as error:
                if self._well:
                    self._well = False
                    self.failed.emit(error.problem)
            finally:
                last = time.monotonic()
                with self._wake:
                    self._writing = False
                    self._wake.notify_all()
