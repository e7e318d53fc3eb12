"""What the desk remembers between runs: theme, unit, window state, recent files."""

from pathlib import Path

from PySide6.QtCore import QByteArray, QLocale, QSettings

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.units import LengthUnit

MOST_RECENT = 8
TEXT_SIZES = (100, 115, 130, 150)  # percent


class Settings:
    """One settings file of one profile."""

    def __init__(self, path: Path) -> None:
        """Use the file at `path`; it is made when something is first kept."""
        path.parent.mkdir(parents=True, exist_ok=True)
        self._store = QSettings(str(path), QSettings.Format.IniFormat)

    @property
    def dark(self) -> bool:
        """Whether the dark theme is on."""
        return str(self._store.value("theme", "light")) == "dark"

    @dark.setter
    def dark(self, on: bool) -> None:
        self._store.setValue("theme", "dark" if on else "light")

    @property
    def unit(self) -> LengthUnit:
        """The unit lengths are shown in."""
        text = str(self._store.value("unit", "mm"))
        return LengthUnit(text) if text in set(LengthUnit) else LengthUnit.MM

    @unit.setter
    def unit(self, unit: LengthUnit) -> None:
        self._store.setValue("unit", unit.value)

    @property
    def comma(self) -> bool:
        """Whether decimals are shown with a comma; as the system's locale has it unless chosen."""
        chosen = str(self._store.value("decimal", ""))
        return chosen == "comma" if chosen else QLocale.system().decimalPoint() == ","

    @comma.setter
    def comma(self, on: bool) -> None:
        self._store.setValue("decimal", "comma" if on else "point")

    @property
    def text_size(self) -> int:
        """Text size in percent of the usual."""
        text = str(self._store.value("text size", "100"))
        return int(text) if text in {str(s) for s in TEXT_SIZES} else 100

    @text_size.setter
    def text_size(self, percent: int) -> None:
        self._store.setValue("text size", str(percent))

    @property
    def paper(self) -> Paper:
        """The paper that new projects begin with."""
        text = str(self._store.value("paper", Paper.A4.value))
        return Paper(text) if text in set(Paper) else Paper.A4

    @paper.setter
    def paper(self, paper: Paper) -> None:
        self._store.setValue("paper", paper.value)

    @property
    def store_address(self) -> str:
        """The server that keeps the shop; empty: a file of the maker's own."""
        return str(self._store.value("store/address", ""))

    @store_address.setter
    def store_address(self, address: str) -> None:
        self._store.setValue("store/address", address)

    @property
    def recent(self) -> list[Path]:
        """Recent projects that still exist, newest first."""
        found = self._store.value("recent", [])
        names = found if isinstance(found, list) else [found] if found else []
        return [Path(str(n)) for n in names if Path(str(n)).exists()]

    def add_recent(self, path: Path) -> None:
        """Put a project first among the recent ones."""
        others = [p for p in self.recent if p != path]
        names = [str(p) for p in [path, *others][:MOST_RECENT]]
        self._store.setValue("recent", names)

    @property
    def engine_processes(self) -> int | None:
        """How many engine processes lay on this machine; None: as is usual."""
        text = str(self._store.value("engine/processes", ""))
        return int(text) if text.isdigit() and int(text) > 0 else None

    @engine_processes.setter
    def engine_processes(self, count: int | None) -> None:
        self._store.setValue("engine/processes", "" if count is None else str(count))

    @property
    def engine_address(self) -> str:
        """The scheduler of a cluster that lays; empty: this machine does."""
        return str(self._store.value("engine/address", ""))

    @engine_address.setter
    def engine_address(self, address: str) -> None:
        self._store.setValue("engine/address", address)

    def window(self) -> tuple[QByteArray, str]:
        """Return the window's geometry and the station it stood at."""
        geometry = self._store.value("geometry", QByteArray())
        if not isinstance(geometry, QByteArray):
            geometry = QByteArray()
        return geometry, str(self._store.value("station", "pattern"))

    def keep_window(self, geometry: QByteArray, station: str) -> None:
        """Remember the window's geometry and station."""
        self._store.setValue("geometry", geometry)
        self._store.setValue("station", station)

    def flag(self, name: str) -> bool:
        """Return a remembered yes or no (a folded card, say); no when never kept."""
        return str(self._store.value(f"flag/{name}", "no")) == "yes"

    def set_flag(self, name: str, *, on: bool) -> None:
        """Remember a yes or no."""
        self._store.setValue(f"flag/{name}", "yes" if on else "no")

    def sync(self) -> None:
        """Write to disk now."""
        self._store.sync()
