"""The shop in one SQLite file; made when it is missing.

Read here in plain SQL; what writes is loaded when it is first needed: it takes a fifth of a second,
which a window's start has not to spare.
"""

import importlib
import sqlite3
from collections.abc import Iterator, Mapping
from contextlib import closing, contextmanager
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ivory_quilt.core.errors import InputError
from ivory_quilt.files.atomic import shown_name
from ivory_quilt.shop.revision import APPLICATION, HEAD, foreign, newer
from ivory_quilt.shop.rows import refusal
from ivory_quilt.shop.shop_reading import ReadingStore

if TYPE_CHECKING:
    from ivory_quilt.shop.sqlite_writer import SqliteWriter
else:
    SqliteWriter = ReadingStore  # what it does besides reading is handed on to one

PATIENCE = 0.8  # s to wait for another window that writes; longer would stop the maker's own


def load_writer() -> None:
    """Load what writes, so that nobody waits for it when it is first needed; on any thread."""
    importlib.import_module("ivory_quilt.shop.sqlite_writer")


class SqliteStore(SqliteWriter):
    """The shop in an SQLite file, or in memory for this run alone."""

    def __init__(self, path: Path | None, *, make: bool = True) -> None:
        """Open or make the store at `path`; None keeps it in memory.

        Raises:
            InputError: not a shop store, from a newer version, or it cannot be opened; or it is
                not there and `make` is off.
        """
        self._name = "the shop store" if path is None else shown_name(path)
        self._writer: SqliteWriter | None = None
        if path is not None and not make and not path.is_file():
            raise InputError(self._name, "there is no shop store", "an existing store")
        with self._refusing():
            if path is not None:
                path.parent.mkdir(parents=True, exist_ok=True)
            self.raw = sqlite3.connect(path or ":memory:", timeout=PATIENCE)
        # Transactions begin and end when this says so, not when the driver thinks fit.
        self.raw.isolation_level = None
        self.raw.text_factory = lambda data: data.decode("utf-8", "replace")
        try:
            with self._refusing():
                self._look()
                self._seen = self._pragma("data_version")
        except InputError:
            self.raw.close()
            raise

    def __getattr__(self, name: str) -> Any:
        """Hand on to the writer what is not done here."""
        if name.startswith("_"):
            raise AttributeError(name)
        return getattr(self._writing(), name)

    def _writing(self) -> SqliteWriter:
        if self._writer is None:
            from ivory_quilt.shop import sqlite_writer

            self._writer = sqlite_writer.SqliteWriter(self.raw, self._name, PATIENCE)
        return self._writer

    @contextmanager
    def _refusing(self) -> Iterator[None]:
        """Say in a sentence what the database or the system refuses."""
        try:
            yield
        except (OSError, sqlite3.Error, OverflowError, UnicodeError) as error:
            raise refusal(self._name, error) from None

    def _look(self) -> None:
        """See whether it is a store of the present; make it so where it can be.

        Raises:
            InputError: another program's, or a newer one.
        """
        version, application = self._pragma("user_version"), self._pragma("application_id")
        if application not in (0, APPLICATION):
            raise foreign(self._name)
        if version > int(HEAD):
            raise newer(self._name, str(version))
        if version < int(HEAD) or application != APPLICATION:
            self._writing().prepare()

    def _pragma(self, name: str) -> int:
        return int(self.raw.execute(f"PRAGMA {name}").fetchone()[0])

    def _ask(self, sql: str) -> list[Mapping[str, Any]]:
        found = self.raw.execute(sql)
        names = [d[0] for d in found.description]
        return [dict(zip(names, row, strict=True)) for row in found]

    @contextmanager
    def _reading(self) -> Iterator[None]:
        with self._refusing():
            if self.raw.in_transaction:  # within what is written together: its own state
                yield
                return
            self.raw.execute("BEGIN")
            try:
                yield
            finally:
                self.raw.execute("COMMIT")

    def changed_elsewhere(self) -> bool:
        """Return whether another window wrote to the shop since this was last asked."""
        with self._refusing():
            before, self._seen = self._seen, self._pragma("data_version")
        return self._seen != before

    def copy_to(self, path: Path) -> None:
        """Keep a copy of the whole store at `path`, all at once."""
        temporary = path.with_name(f"{path.name}.new")
        with self._refusing():
            temporary.unlink(missing_ok=True)
            with closing(sqlite3.connect(temporary)) as copy:
                self.raw.backup(copy)
            temporary.replace(path)

    def close(self) -> None:
        """Let go of the file."""
        if self._writer is not None:
            self._writer.close()
        self.raw.close()
