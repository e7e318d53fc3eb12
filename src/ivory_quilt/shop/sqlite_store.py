"""The shop in one SQLite file; made when it is missing."""

import sqlite3
from contextlib import closing
from pathlib import Path

from sqlalchemy import Connection, create_engine, event
from sqlalchemy.pool import StaticPool

from ivory_quilt.core.errors import InputError
from ivory_quilt.files.atomic import shown_name
from ivory_quilt.shop.preparing import newer, prepare
from ivory_quilt.shop.sql_store import SqlStore
from ivory_quilt.shop.tables import HEAD

PATIENCE = 0.8  # s to wait for another window that writes; longer would stop the maker's own
APPLICATION = 0x49515348  # "IQSH" in the file's head: a store of ours


class SqliteStore(SqlStore):
    """The shop in an SQLite file, or in memory for this run alone."""

    def __init__(self, path: Path | None, *, make: bool = True) -> None:
        """Open or make the store at `path`; None keeps it in memory.

        Raises:
            InputError: not a shop store, from a newer version, or it cannot be opened; or it is
                not there and `make` is off.
        """
        super().__init__("the shop store" if path is None else shown_name(path))
        if path is not None and not make and not path.is_file():
            raise InputError(self._name, "there is no shop store", "an existing store")
        try:
            with self._told():
                if path is not None:
                    path.parent.mkdir(parents=True, exist_ok=True)
                self.raw = sqlite3.connect(path or ":memory:", timeout=PATIENCE)
        except sqlite3.Error as error:
            raise self._refused(error) from None
        # Transactions begin and end when this says so, not when the driver thinks fit.
        self.raw.isolation_level = None
        self.raw.text_factory = lambda data: data.decode("utf-8", "replace")
        engine = create_engine("sqlite://", creator=lambda: self.raw, poolclass=StaticPool)
        event.listen(engine, "begin", lambda db: db.exec_driver_sql("BEGIN"))
        try:
            with self._told():
                self._db = engine.connect()
                self._prepare(self._db)
                self._seen = self._version()
        except (InputError, sqlite3.Error) as error:
            engine.dispose()
            self.raw.close()
            if isinstance(error, InputError):
                raise
            raise self._refused(error) from None

    def _refused(self, error: sqlite3.Error) -> InputError:
        from ivory_quilt.shop.rows import refusal

        return refusal(self._name, error)

    def _prepare(self, db: Connection) -> None:
        version = self._pragma("user_version")
        application = self._pragma("application_id")
        if application not in (0, APPLICATION):
            raise InputError(self._name, "it is another program's database", "a shop store")
        if version > int(HEAD):
            raise newer(self._name, str(version))
        if version == int(HEAD) and application == APPLICATION:
            return
        # Another window may do the same at this moment: the second finds it done.
        with db.begin():
            self._begin_writing()
            if prepare(db, self._name, str(self._pragma("user_version")) or None):
                self.raw.execute(f"PRAGMA user_version={HEAD}")
                self.raw.execute(f"PRAGMA application_id={APPLICATION}")

    def _pragma(self, name: str) -> int:
        return int(self.raw.execute(f"PRAGMA {name}").fetchone()[0])

    def _begin_writing(self) -> None:
        # The transaction has begun, but reads nothing before it may write: so it begins anew.
        self._db.exec_driver_sql("COMMIT")
        self._db.exec_driver_sql("BEGIN IMMEDIATE")

    def _version(self) -> int:
        return self._pragma("data_version")

    def copy_to(self, path: Path) -> None:
        """Keep a copy of the whole store at `path`, all at once."""
        temporary = path.with_name(f"{path.name}.new")
        try:
            with self._told():
                temporary.unlink(missing_ok=True)
                with closing(sqlite3.connect(temporary)) as copy:
                    self.raw.backup(copy)
                temporary.replace(path)
        except sqlite3.Error as error:
            raise self._refused(error) from None

    def close(self) -> None:
        """Let go of the file."""
        super().close()
        self.raw.close()
