"""Writing files so that neither a crash nor a full disk ever leaves half of one.

New bytes go to a hidden copy beside the file, are forced to the disk, and take the file's place in
one step; then the folder is forced to the disk too, or the step might be lost with the power.
"""

import contextlib
import errno
import os
import platform
import shutil
import time
from collections.abc import Iterator, Mapping
from itertools import count
from pathlib import Path

from ivory_quilt.core.errors import InputError, one_line
from ivory_quilt.core.record import Struct
from ivory_quilt.system.alive import runs

MOST_BYTES = 64 * 1024 * 1024  # of a file that is read whole
LONGEST_NAME = 255  # bytes, on all usual file systems
STALE_AFTER = 24 * 3600.0  # s: a hidden copy of another machine's is nobody's by then
_MARK = ".ivory-quilt-"  # what hidden copies are called, so that forgotten ones are known
_HOST = "".join(c for c in platform.node() if c.isalnum())[:20] or "here"
_numbers = count(1)


def write_atomic(path: Path, data: bytes, *, backup: bool = False) -> None:
    """Write `data` to `path` all at once; with `backup`, keep the old file as ``NAME~``.

    A symbolic link stays one: the file that it names is written.

    Raises:
        InputError: the place cannot be written; the old file is untouched.
    """
    write_all({path: data}, backup=backup)


def write_all(files: Mapping[Path, bytes], *, backup: bool = False) -> None:
    """Write several files; none takes its place until all are on the disk.

    Raises:
        InputError: one cannot be written; none is changed.
    """
    made: list[tuple[Path, Path]] = []
    try:
        for path, data in files.items():
            with _told(path):
                target = path.resolve() if path.is_symlink() else path
                made.append((_hidden(target.parent), target))
                _fill(*made[-1], data)
        for temporary, target in made:
            with _told(target):
                if backup:
                    _keep_old(target)
                temporary.replace(target)
        for folder in {target.parent for _, target in made}:
            _sync_folder(folder)
            _clear_forgotten(folder)
    finally:
        for temporary, _ in made:
            with contextlib.suppress(OSError):
                temporary.unlink(missing_ok=True)


def make_folder(folder: Path) -> None:
    """Make a folder, if it is not there.

    Raises:
        InputError: it cannot be made.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
    except OSError as error:
        problem = f"cannot be made ({error.strerror or error})"
        raise InputError(shown_name(folder), problem, "a folder") from error


@contextlib.contextmanager
def _told(path: Path) -> Iterator[None]:
    """Say in a sentence what the system refuses."""
    try:
        yield
    except OSError as error:
        raise InputError(shown_name(path), *_refusal(error)) from error


def _refusal(error: OSError) -> tuple[str, str]:
    """Return (what is wrong, what was expected)."""
    expected = {
        errno.ENOSPC: "space on the disk",
        errno.EDQUOT: "space in your quota",
        errno.EACCES: "a folder that may be written",
        errno.EPERM: "a folder that may be written",
        errno.EROFS: "a folder that may be written",
        errno.ENOENT: "a folder that is there",
        errno.ENOTDIR: "a folder that is there",
        errno.ENAMETOOLONG: "a shorter name",
        errno.EISDIR: "a file's name, not a folder's",
    }.get(error.errno or 0, "space and permission to write there")
    return f"cannot be written ({error.strerror or error})", expected


def _hidden(folder: Path) -> Path:
    """Return a new hidden name in a folder; short, so that the longest file name has room."""
    return folder / f"{_MARK}{_HOST}-{os.getpid()}-{next(_numbers)}.tmp"


def _fill(temporary: Path, target: Path, data: bytes) -> None:
    # A new file's rights are what the maker's umask leaves; an old one keeps its own.
    handle = os.open(temporary, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_CLOEXEC, 0o666)
    with os.fdopen(handle, "wb") as file:
        file.write(data)
        file.flush()
        os.fsync(file.fileno())
    if target.is_dir():
        raise IsADirectoryError(errno.EISDIR, "it is a folder")
    if target.exists():
        with contextlib.suppress(OSError):  # some file systems know no rights
            temporary.chmod(target.stat().st_mode & 0o777)


def backup_of(path: Path) -> Path:
    """Return where the file that was there before the last save is kept."""
    name = path.name
    while len(os.fsencode(name)) >= LONGEST_NAME:
        name = name[:-1]
    return path.with_name(name + "~")


def _keep_old(target: Path) -> None:
    """Keep the old file as its backup; at no moment is there neither."""
    if not target.exists():
        return
    spare, temporary = backup_of(target), _hidden(target.parent)
    try:
        try:
            os.link(target, temporary)
        except OSError:  # a file system without hard links, as sticks have
            shutil.copyfile(target, temporary)
            with temporary.open("rb+") as file:
                os.fsync(file.fileno())
        temporary.replace(spare)
    finally:
        # Two names of one file are left as they are by a rename.
        temporary.unlink(missing_ok=True)


def _sync_folder(folder: Path) -> None:
    with contextlib.suppress(OSError):  # not every file system can
        handle = os.open(folder, os.O_RDONLY)
        try:
            os.fsync(handle)
        finally:
            os.close(handle)


def _clear_forgotten(folder: Path) -> None:
    """Remove hidden copies that a killed process left in a folder."""
    with contextlib.suppress(OSError):
        for found in folder.glob(f"{_MARK}*.tmp"):
            host, _, rest = found.name.removeprefix(_MARK).rpartition("-")[0].rpartition("-")
            with contextlib.suppress(OSError, ValueError):
                gone = host == _HOST and not runs(int(rest))
                if gone or time.time() - found.stat().st_mtime > STALE_AFTER:
                    found.unlink()


class FileStamp(Struct, frozen=True):
    """What tells that a file is still as it was when it was last read or written."""

    size: int
    changed: int
    """Time of the last change, ns."""
    number: int
    """Of the file on its file system."""

    @classmethod
    def of(cls, path: Path) -> "FileStamp | None":
        """Return the stamp of a file, or None when it is gone."""
        try:
            found = path.stat()
        except OSError:
            return None
        return cls(found.st_size, found.st_mtime_ns, found.st_ino)


def shown_name(path: Path | str) -> str:
    """Return a file's name as it can be shown and kept: valid text, no control characters."""
    name = os.fsencode(path).decode("utf-8", "replace")
    return one_line(name) or "file"


def read_bytes(path: Path, most: int = MOST_BYTES) -> bytes:
    """Read a whole file.

    Raises:
        InputError: missing, unreadable, or larger than `most` bytes.
    """
    where = shown_name(path)
    try:
        if path.is_dir():
            raise InputError(where, "it is a folder", "a file")
        if path.exists() and not path.is_file():  # a pipe or a device may never end
            raise InputError(where, "it is no ordinary file", "a file")
        with path.open("rb") as file:
            data = file.read(most + 1)
    except OSError as error:
        problem = f"cannot be read ({error.strerror or error})"
        raise InputError(where, problem, "a file that can be read") from error
    if len(data) > most:
        raise InputError(where, f"it is larger than {most // 2**20} MB", "a smaller file")
    return data
