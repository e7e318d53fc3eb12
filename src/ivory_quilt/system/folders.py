"""Folders that can be written, and such as go when the program ends."""

import atexit
import shutil
import tempfile
from pathlib import Path

APP = "ivory-quilt"


def folder_for_this_run(what: str) -> Path:
    """Make a folder that goes when the program ends."""
    folder = Path(tempfile.mkdtemp(prefix=f"{APP}-{what}-"))
    atexit.register(shutil.rmtree, folder, ignore_errors=True)
    return folder


def can_write(folder: Path) -> bool:
    """Return whether files can be made in a folder; it is made if need be."""
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            return True
    except OSError:
        return False
