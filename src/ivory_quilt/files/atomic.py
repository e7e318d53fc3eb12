"""Writing files so that a crash never leaves half of one."""

import contextlib
import os
import tempfile
from pathlib import Path

from ivory_quilt.core.errors import InputError


def write_atomic(path: Path, data: bytes, *, backup: bool = False) -> None:
    """Write `data` to `path` all at once; with `backup`, keep the old file as ``NAME~``.

    Raises:
        InputError: the place cannot be written; the old file is untouched.
    """
    try:
        handle, name = tempfile.mkstemp(dir=path.parent or Path(), prefix=f".{path.name}.")
    except OSError as error:
        raise InputError(
            str(path), f"cannot be written ({error.strerror})", "a folder that can be written"
        ) from error
    temporary = Path(name)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        temporary.chmod(path.stat().st_mode & 0o777 if path.exists() else 0o644)
        if backup and path.exists():
            # A hard link, then a replace: at no moment is there no good file at `path`.
            spare = path.with_name(path.name + "~")
            with contextlib.suppress(FileNotFoundError):
                spare.unlink()
            os.link(path, spare)
        temporary.replace(path)
    except OSError as error:
        temporary.unlink(missing_ok=True)
        raise InputError(
            str(path),
            f"cannot be written ({error.strerror})",
            "space and permission to write there",
        ) from error


def read_bytes(path: Path, most: int = 64 * 1024 * 1024) -> bytes:
    """Read a whole file.

    Raises:
        InputError: missing, unreadable, or larger than `most` bytes.
    """
    try:
        if path.is_dir():
            raise InputError(str(path), "it is a folder", "a file")
        if path.stat().st_size > most:
            raise InputError(str(path), f"it is larger than {most // 2**20} MB", "a smaller file")
        return path.read_bytes()
    except OSError as error:
        raise InputError(
            str(path), f"cannot be read ({error.strerror})", "a file that can be read"
        ) from error
