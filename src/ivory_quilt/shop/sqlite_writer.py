"""Writing to the shop's SQLite file, through SQLAlchemy."""

import random
import sqlite3
import time

from sqlalchemy import create_engine, event
from sqlalchemy.exc import OperationalError
from sqlalchemy.pool import StaticPool

from ivory_quilt.shop.preparing import prepare
from ivory_quilt.shop.revision import APPLICATION, HEAD
from ivory_quilt.shop.sql_store import SqlStore

TURNS = 2.5  # times the patience: how long a transaction waits for its turn


class SqliteWriter(SqlStore):
    """Everything that the shop's store does, on one connection to a file."""

    def __init__(self, raw: sqlite3.Connection, name: str, patience: float) -> None:
        """Write through `raw`, whose transactions begin and end when this says so.

        `patience`: seconds that anything but the beginning of a transaction may wait for others.
        """
        super().__init__(name)
        self._raw, self._patience = raw, patience
        engine = create_engine("sqlite://", creator=lambda: raw, poolclass=StaticPool)
        event.listen(engine, "begin", lambda db: db.exec_driver_sql("BEGIN"))
        with self._told():
            self._db = engine.connect()
            self._seen = self._version()

    def prepare(self) -> None:
        """Make the tables, or bring older ones up to the present.

        Raises:
            InputError: another program's database, a newer store, or it cannot be written.
        """
        # Another window may do the same at this moment: the second finds it done.
        with self._told(), self._db.begin():
            self._begin_writing()
            version = self._raw.execute("PRAGMA user_version").fetchone()[0]
            if prepare(self._db, self._name, str(version)):
                self._raw.execute(f"PRAGMA user_version={HEAD}")
                self._raw.execute(f"PRAGMA application_id={APPLICATION}")

    def _begin_writing(self) -> None:
        # The transaction has begun, but reads nothing before it may write: so it begins anew.
        self._db.exec_driver_sql("COMMIT")
        # The database's own waiting looks ever more seldom, and beside a busy bench for nothing:
        # here it looks again at once, at odd moments.
        end = time.monotonic() + TURNS * self._patience
        self._raw.execute("PRAGMA busy_timeout=1")
        try:
            while True:
                try:
                    self._db.exec_driver_sql("BEGIN IMMEDIATE")
                except OperationalError as error:
                    if "locked" not in str(error) or time.monotonic() > end:
                        self._db.exec_driver_sql("BEGIN")  # which what follows will end
                        raise
                    time.sleep(random.uniform(0.0005, 0.006))
                else:
                    return
        finally:
            self._raw.execute(f"PRAGMA busy_timeout={round(1000 * self._patience)}")

    def _version(self) -> int:
        return int(self._raw.execute("PRAGMA data_version").fetchone()[0])
