"""The tables of the shop's SQLite file, and how older ones become the present ones."""

import sqlite3
from dataclasses import fields

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook

SCHEMA_VERSION = 4
APPLICATION = 0x49515348  # "IQSH" in the file's head: a store of ours
BOOK_FIELDS = ", ".join(f.name for f in fields(FoamBook))
_OURS = {"material", "stock", "setting"}
_PRINTERS = """
CREATE TABLE printer (
  name TEXT PRIMARY KEY, nominal REAL NOT NULL, measured REAL NOT NULL, date TEXT NOT NULL
);
"""
_BOOKS = """
CREATE TABLE book (
  material TEXT PRIMARY KEY, neutral REAL NOT NULL, shrink_along REAL NOT NULL,
  shrink_across REAL NOT NULL, density REAL NOT NULL, dish_limit REAL NOT NULL,
  tightest REAL NOT NULL, springback REAL NOT NULL, kind TEXT NOT NULL
);
CREATE TABLE coupon (
  number INTEGER PRIMARY KEY, material TEXT NOT NULL, what TEXT NOT NULL, date TEXT NOT NULL,
  before TEXT NOT NULL, after TEXT NOT NULL
);
"""
_FLAWS = """
CREATE TABLE flaw (
  number INTEGER PRIMARY KEY, stock TEXT NOT NULL, outline TEXT NOT NULL
);
"""
_FIRST = """
CREATE TABLE material (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, both_faces_alike INTEGER NOT NULL
);
CREATE TABLE stock (
  id TEXT PRIMARY KEY, position INTEGER NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL,
  material TEXT NOT NULL, thickness REAL NOT NULL, outline TEXT NOT NULL,
  owned INTEGER NOT NULL, price TEXT, margin REAL NOT NULL, make TEXT NOT NULL
);
CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL);
"""


def prepare(db: sqlite3.Connection, where: str) -> None:
    """Make the tables in an empty file, or bring older ones up to the present.

    Raises:
        InputError: the file is another program's, or a newer Ivory Quilt's.
        sqlite3.Error: it is damaged, locked, or cannot be written.
    """
    version = db.execute("PRAGMA user_version").fetchone()[0]
    application = db.execute("PRAGMA application_id").fetchone()[0]
    names = {n for (n,) in db.execute("SELECT name FROM sqlite_master WHERE type='table'")}
    if application not in (0, APPLICATION) or (names and not names >= _OURS):
        raise InputError(where, "it is another program's database", "a shop store")
    if version > SCHEMA_VERSION:
        raise InputError(
            where,
            f"it is of a newer Ivory Quilt (store version {version})",
            f"version {SCHEMA_VERSION} or older",
        )
    if version == SCHEMA_VERSION and names:
        return
    # Another window may do the same at this moment: the second finds it done.
    with db:
        db.execute("BEGIN IMMEDIATE")
        version = db.execute("PRAGMA user_version").fetchone()[0]
        if version == 0:
            _run(db, _FIRST + _PRINTERS + _BOOKS + _FLAWS)
            db.execute("INSERT INTO material VALUES ('eva', 'EVA foam', 1)")
            db.execute("INSERT INTO material VALUES ('tile', 'EVA floor tile', 0)")
        elif version < SCHEMA_VERSION:
            _run(db, {1: _PRINTERS + _BOOKS, 2: _BOOKS, 3: ""}[version] + _FLAWS)
        db.execute(f"PRAGMA user_version={SCHEMA_VERSION}")
        db.execute(f"PRAGMA application_id={APPLICATION}")


def _run(db: sqlite3.Connection, script: str) -> None:
    # Not `executescript`, which would end the transaction.
    for statement in script.split(";"):
        if statement.strip():
            db.execute(statement)
