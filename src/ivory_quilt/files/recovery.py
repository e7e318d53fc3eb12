"""What is kept of unsaved work beside the profile, so that a crash takes at most seconds of it.

Every window has a folder of its own and holds a lock on it for as long as it lives; the system
lets go of a lock when its process ends, however it ends. In the folder stand what project is open
and, while something is unsaved, the document as it was a moment ago: the pieces and decisions in
one file, the kept layouts in another that is written anew only when they change, and a head that
names both. The head is replaced last, so that it always names whole files.
"""

import contextlib
import fcntl
import os
import shutil
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path
from typing import Literal
from urllib.parse import quote_from_bytes, unquote_to_bytes

import msgspec

from ivory_quilt.core.document.project import KeptLayout, Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.files.atomic import FileStamp, read_bytes, write_atomic
from ivory_quilt.files.project_file import decode_project, encode_project

FORMAT: Literal["ivory-quilt/recovery"] = "ivory-quilt/recovery"
MOST_BYTES = 512 * 1024 * 1024
_LOCK, _OPEN, _HEAD = "lock", "open.json", "work.json"


class FoamMove(Struct, frozen=True):
    """A move of foam on the shelf that goes with a state of the work.

    Attributes:
        token: by which the shop knows whether it was made.
        before: the sheets that were cut before it.
    """

    token: str
    before: tuple[SpentSheet, ...]


class WorkState(Struct, frozen=True):
    """Unsaved work at one moment.

    Attributes:
        project: the document.
        path: the file it belongs to; None for one that was never saved.
        stamp: of that file when it was last read or written.
        label: what was done last.
        time: when, as ISO 8601 text with the zone.
        move: of foam that was about to be made; None where all is done.
    """

    project: Project
    path: Path | None
    stamp: FileStamp | None
    label: str
    time: str
    move: FoamMove | None = None


class _Head(msgspec.Struct):
    format: Literal["ivory-quilt/recovery"]
    version: int
    path: str | None
    stamp: FileStamp | None
    label: str
    time: str
    name: str
    work: str
    layouts: str
    token: str = ""
    before: str = ""


class WorkJournal:
    """One window's folder; see the module. Not for use by two threads at once."""

    def __init__(self, folder: Path, lock: int) -> None:
        """Take over a folder whose lock is held as file descriptor `lock`."""
        self.folder = folder
        self._lock = lock
        self._number = 0
        self._layouts: tuple[tuple[KeptLayout, ...], str] | None = None

    def name_open(self, path: Path | None, since: str) -> None:
        """Tell other windows which project file is open here.

        Raises:
            InputError: nothing can be written there.
        """
        body = {"path": _quoted(path), "since": since}
        write_atomic(self.folder / _OPEN, msgspec.json.encode(body))

    def keep(self, state: WorkState) -> None:
        """Keep unsaved work in place of what was kept before.

        Raises:
            InputError: it cannot be written; what was kept before is still there.
        """
        self._number += 1
        layouts = state.project.layouts
        if self._layouts is None or self._layouts[0] is not layouts:
            name = f"layouts-{self._number}.json"
            alone = Project(layouts=layouts)
            write_atomic(self.folder / name, encode_project(alone, indent=False))
            self._layouts = (layouts, name)
        work = f"work-{self._number}.json"
        bare = replace(state.project, layouts=())
        write_atomic(self.folder / work, encode_project(bare, indent=False))
        before = ""
        if state.move is not None:
            before = f"before-{self._number}.json"
            alone = Project(spent=state.move.before)
            write_atomic(self.folder / before, encode_project(alone, indent=False))
        head = _Head(
            FORMAT,
            1,
            _quoted(state.path),
            state.stamp,
            state.label,
            state.time,
            state.project.name,
            work,
            self._layouts[1],
            state.move.token if state.move is not None else "",
            before,
        )
        write_atomic(self.folder / _HEAD, msgspec.json.encode(head))
        self._forget(but={work, self._layouts[1], before})

    def clear(self) -> None:
        """Nothing is unsaved: let go of what was kept."""
        with contextlib.suppress(OSError):
            (self.folder / _HEAD).unlink(missing_ok=True)
        self._layouts = None
        self._forget(but=set())

    def leave_behind(self) -> None:
        """Let go of the folder as a window does that ends without a word; its work stays."""
        os.close(self._lock)

    def close(self) -> None:
        """Remove the folder: the window was closed and nothing is unsaved that is wanted."""
        shutil.rmtree(self.folder, ignore_errors=True)
        with contextlib.suppress(OSError):
            os.close(self._lock)

    def _forget(self, but: set[str]) -> None:
        for kind in ("work-*.json", "layouts-*.json", "before-*.json"):
            for found in self.folder.glob(kind):
                if found.name not in but:
                    with contextlib.suppress(OSError):
                        found.unlink()


class UnsavedWork(Struct, frozen=True):
    """Unsaved work of a window that ended without being closed.

    Attributes:
        folder: where it lies.
        name: the project's.
        path: the file it belongs to, or None.
        label: what was done last.
        time: when, ISO 8601.
    """

    folder: Path
    name: str
    path: Path | None
    label: str
    time: str

    def read(self) -> WorkState:
        """Return the work.

        Raises:
            InputError: its files are damaged.
        """
        head = _head(self.folder) or _head_of_files(self.folder)
        if head is None:
            raise InputError(self.name, "its recovery copy is damaged", "a whole copy")
        project = decode_project(read_bytes(self.folder / head.work, MOST_BYTES), where=self.name)
        laid = decode_project(read_bytes(self.folder / head.layouts, MOST_BYTES), where=self.name)
        whole = replace(project, layouts=laid.layouts)
        move = None
        if head.token:
            old = decode_project(read_bytes(self.folder / head.before, MOST_BYTES), where=self.name)
            move = FoamMove(head.token, old.spent)
        return WorkState(whole, _unquoted(head.path), head.stamp, head.label, head.time, move)

    @property
    def saved_since(self) -> bool:
        """Whether its file was written after it was kept, by another window or program."""
        if self.path is None:
            return False
        try:
            changed = datetime.fromtimestamp(self.path.stat().st_mtime).astimezone()
        except OSError:
            return False
        return changed.isoformat(timespec="seconds") > self.time

    def discard(self) -> None:
        """Let it go for good; the maker said so."""
        shutil.rmtree(self.folder, ignore_errors=True)


class RecoveryFolder:
    """The folders of all windows of one profile."""

    def __init__(self, root: Path) -> None:
        """Use the folder `root`; it is made when a window begins."""
        self.root = root

    def begin(self) -> WorkJournal:
        """Make a folder for a new window, and hold its lock.

        Raises:
            InputError: nothing can be written there.
        """
        try:
            self.root.mkdir(parents=True, exist_ok=True)
            with self._alone():
                number = 1
                while True:
                    folder = self.root / f"window-{os.getpid()}-{number}"
                    with contextlib.suppress(FileExistsError):
                        folder.mkdir(mode=0o700)
                        break
                    number += 1
                lock = os.open(folder / _LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
                fcntl.flock(lock, fcntl.LOCK_EX | fcntl.LOCK_NB)
        except OSError as error:
            raise InputError(
                str(self.root), f"cannot be written ({error.strerror})", "a folder to recover from"
            ) from None
        return WorkJournal(folder, lock)

    def leftovers(self) -> list[UnsavedWork]:
        """Return the unsaved work of windows that are gone, newest first; tidy up after others."""
        found = []
        with self._alone():
            for folder in self._folders():
                if _held(folder):
                    continue
                head = _head(folder) or _head_of_files(folder)
                if head is None:
                    shutil.rmtree(folder, ignore_errors=True)
                    continue
                path = _unquoted(head.path)
                found.append(UnsavedWork(folder, head.name, path, head.label, head.time))
        return sorted(found, key=lambda left: left.time, reverse=True)

    def opened_elsewhere(self, path: Path, own: WorkJournal | None) -> str | None:
        """Return since when (ISO 8601) another window has a project file open, or None."""
        wanted = path.resolve()
        for folder in self._folders():
            if (own is not None and folder == own.folder) or not _held(folder):
                continue
            with contextlib.suppress(InputError, msgspec.DecodeError, AttributeError):
                said = msgspec.json.decode(read_bytes(folder / _OPEN))
                other = _unquoted(said.get("path"))
                if other is not None and other.resolve() == wanted:
                    return str(said.get("since", ""))
        return None

    def _folders(self) -> list[Path]:
        try:
            return sorted(p for p in self.root.glob("window-*") if p.is_dir())
        except OSError:
            return []

    @contextlib.contextmanager
    def _alone(self) -> Iterator[None]:
        """Keep other windows from beginning or tidying up at the same moment."""
        try:
            handle = os.open(self.root / _LOCK, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC, 0o600)
        except OSError:  # nothing can be written: there is nothing to keep apart
            yield
            return
        try:
            fcntl.flock(handle, fcntl.LOCK_EX)
            yield
        finally:
            os.close(handle)


def _held(folder: Path) -> bool:
    """Return whether a living window holds a folder."""
    try:
        handle = os.open(folder / _LOCK, os.O_RDWR | os.O_CLOEXEC)
    except OSError:
        return False
    try:
        fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
    except OSError:
        return True
    finally:
        os.close(handle)
    return False


def _head(folder: Path) -> _Head | None:
    try:
        return msgspec.json.decode(read_bytes(folder / _HEAD), type=_Head)
    except (InputError, msgspec.DecodeError, msgspec.ValidationError):
        return None


def _head_of_files(folder: Path) -> _Head | None:
    """Return a head for work whose own is not there: ended before it was written, or damaged."""

    def number(path: Path) -> int:
        return int("0" + "".join(c for c in path.stem if c.isdigit()))

    work = max(folder.glob("work-*.json"), key=number, default=None)
    laid = max(folder.glob("layouts-*.json"), key=number, default=None)
    if work is None or laid is None:
        return None
    when = datetime.fromtimestamp(work.stat().st_mtime).astimezone()
    time = when.isoformat(timespec="seconds")
    return _Head(FORMAT, 1, None, None, "", time, "Unnamed work", work.name, laid.name)


def _quoted(path: Path | None) -> str | None:
    # A name on the disk is bytes, and need not be text.
    return None if path is None else quote_from_bytes(os.fsencode(path))


def _unquoted(text: str | None) -> Path | None:
    return None if text is None else Path(os.fsdecode(unquote_to_bytes(text)))
