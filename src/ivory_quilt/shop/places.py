"""Where the maker's own things live, by the desktop's standard; the demo has places of its own."""

import atexit
import hashlib
import os
import shutil
import tempfile
from dataclasses import dataclass
from pathlib import Path

import platformdirs

APP = "ivory-quilt"
KERNELS = Path(__file__).parents[1] / "core" / "nesting" / "kernels"


@dataclass(frozen=True)
class Places:
    """Folders and files of one profile ("" is the maker's own, "demo" the demo's)."""

    data: Path
    config: Path

    @property
    def store(self) -> Path:
        """The shop's store."""
        return self.data / "shop.sqlite"

    @property
    def settings(self) -> Path:
        """Window state, theme, recent files."""
        return self.config / "settings.ini"

    @property
    def recovery(self) -> Path:
        """Unsaved work, for when the program ends without being closed."""
        return self.data / "recovery"

    @property
    def log(self) -> Path:
        """What happened lately, without the maker's data."""
        return self.data / "log.txt"

    @property
    def reports(self) -> Path:
        """Reports of unexpected errors."""
        return self.data / "reports"


def places(profile: str = "") -> Places:
    """Return the places of a profile."""
    name = f"{APP}-{profile}" if profile else APP
    return Places(platformdirs.user_data_path(name), platformdirs.user_config_path(name))


def use_kernel_cache() -> None:
    """Let compiled kernels be kept in a folder of ours; call before the engine is imported.

    Each state of the kernels has a folder of its own: a compiled kernel holds the others that it
    calls, and would go on with what they were before an upgrade. Where nothing can be written
    there, a folder for this run alone takes its place.
    """
    if "NUMBA_CACHE_DIR" in os.environ:
        return
    state = hashlib.sha256()
    for source in sorted(KERNELS.glob("*.py")):
        state.update(source.read_bytes())
    folder = platformdirs.user_cache_path(APP) / "kernels" / state.hexdigest()[:16]
    if not can_write(folder):
        folder = folder_for_this_run("kernels")
    os.environ["NUMBA_CACHE_DIR"] = str(folder)


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
