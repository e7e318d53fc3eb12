"""Making a store's tables, and bringing older stores up to the present ones."""

from sqlalchemy import Connection, inspect, text

from ivory_quilt.shop.revision import HEAD, OURS, foreign, newer
from ivory_quilt.shop.tables import MATERIAL, SETTING, TABLES

STAMP = "alembic_version"
CHANGES = "changes"
"""The setting that counts how often the store was written, where the database does not."""


def prepare(db: Connection, where: str, known: str | None = None) -> bool:
    """Make the tables in an empty database, or bring older ones up; return whether it was so.

    `known` is the revision of a store from before revisions were written down.

    Raises:
        InputError: the database is another program's, or a newer Ivory Quilt's.
        SQLAlchemyError: it is damaged, locked, or cannot be written.
    """
    names = set(inspect(db).get_table_names())
    if names and not names >= OURS:
        raise foreign(where)
    if not names:
        _make(db)
        return True
    revision = known
    if STAMP in names:
        revision = db.execute(text(f"SELECT version_num FROM {STAMP}")).scalar()
    if revision == HEAD:
        return False
    if revision is None or not revision.isdigit() or int(revision) > int(HEAD):
        raise newer(where, str(revision))
    _bring_up(db, revision, stamped=STAMP in names)
    return True


def _make(db: Connection) -> None:
    TABLES.create_all(db)
    db.execute(text(f"CREATE TABLE {STAMP} (version_num VARCHAR(32) NOT NULL PRIMARY KEY)"))
    db.execute(text(f"INSERT INTO {STAMP} VALUES ('{HEAD}')"))
    db.execute(
        MATERIAL.insert(),
        [
            {"id": "eva", "name": "EVA foam", "both_faces_alike": 1},
            {"id": "tile", "name": "EVA floor tile", "both_faces_alike": 0},
        ],
    )
    db.execute(SETTING.insert(), {"key": CHANGES, "value": "0"})


def _bring_up(db: Connection, revision: str, *, stamped: bool) -> None:
    # Half a second to load, for stores of an older program alone.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", "ivory_quilt:shop/migrations")
    config.set_main_option("version_path_separator", "os")
    config.attributes["connection"] = db
    if not stamped:
        command.stamp(config, revision)
    command.upgrade(config, HEAD)
    if db.execute(SETTING.select().where(SETTING.c.key == CHANGES)).first() is None:
        db.execute(SETTING.insert(), {"key": CHANGES, "value": "0"})
