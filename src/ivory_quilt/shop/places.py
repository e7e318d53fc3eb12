"""Where the maker's own things live, by the desktop's standard; the demo has places of its own."""

from pathlib import Path

import platformdirs

from ivory_quilt.core.record import Struct
from ivory_quilt.system.folders import APP


class Places(Struct, frozen=True):
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
