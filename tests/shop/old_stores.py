"""Stores as older programs made them, table by table."""

import sqlite3
from contextlib import closing

FIRST = """
CREATE TABLE material (
  id TEXT PRIMARY KEY, name TEXT NOT NULL, both_faces_alike INTEGER NOT NULL
);
CREATE TABLE stock (
  id TEXT PRIMARY KEY, position INTEGER NOT NULL, name TEXT NOT NULL, kind TEXT NOT NULL,
  material TEXT NOT NULL, thickness REAL NOT NULL, outline TEXT NOT NULL,
  owned INTEGER NOT NULL, price TEXT, margin REAL NOT NULL, make TEXT NOT NULL
);
CREATE TABLE setting (key TEXT PRIMARY KEY, value TEXT NOT NULL);
INSERT INTO material VALUES ('eva', 'EVA foam', 1);
INSERT INTO material VALUES ('tile', 'EVA floor tile', 0);
INSERT INTO setting VALUES ('currency', '£');
INSERT INTO stock VALUES ('k', 1, 'offcut', 'offcut', 'eva', 6.0,
  '[[[0,0],[300,0],[300,200],[0,200]]]', 1, NULL, 2.0, '');
INSERT INTO stock VALUES ('half', 2, 'half sheet', 'sheet', 'eva', 4.0,
  '[[[0,0],[1000,0],[1000,500],[0,500]]]', 3, '8.90', 5.0, 'Thornmere');
"""
SECOND = """
CREATE TABLE printer (
  name TEXT PRIMARY KEY, nominal REAL NOT NULL, measured REAL NOT NULL, date TEXT NOT NULL
);
INSERT INTO printer VALUES ('bench inkjet', 100, 99.2, '2026-03-01');
"""
THIRD = """
CREATE TABLE book (
  material TEXT PRIMARY KEY, neutral REAL NOT NULL, shrink_along REAL NOT NULL,
  shrink_across REAL NOT NULL, density REAL NOT NULL, dish_limit REAL NOT NULL,
  tightest REAL NOT NULL, springback REAL NOT NULL, kind TEXT NOT NULL
);
CREATE TABLE coupon (
  number INTEGER PRIMARY KEY, material TEXT NOT NULL, what TEXT NOT NULL, date TEXT NOT NULL,
  before TEXT NOT NULL, after TEXT NOT NULL
);
INSERT INTO book VALUES ('eva', 0.45, 1.5, 1.0, 0.13, 15, 1.2, 7, 'foam');
"""
FOURTH = """
CREATE TABLE flaw (
  number INTEGER PRIMARY KEY, stock TEXT NOT NULL, outline TEXT NOT NULL
);
INSERT INTO flaw (stock, outline) VALUES ('k', '[[10,10],[40,10],[40,30]]');
"""
SCRIPTS = (FIRST, SECOND, THIRD, FOURTH)


def old_store(path, version):
    """Write a store of an older version to `path`."""
    with closing(sqlite3.connect(path)) as db, db:
        for script in SCRIPTS[:version]:
            db.executescript(script)
        db.execute(f"PRAGMA user_version={version}")
        if version > 2:  # the mark in the file's head came with the third
            db.execute(f"PRAGMA application_id={0x49515348}")
    return path
