"""Opening the shop's store whatever state it is in: a window comes in any case.

A damaged store is set aside under a name that says so, never overwritten; its last copy is offered.
A store that is newer, another program's or cannot be written stays as it is, and the shop of this
run is kept in memory.
"""

import contextlib
from datetime import datetime
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.files.atomic import backup_of, shown_name
from ivory_quilt.shop.rows import UnusableStore
from ivory_quilt.shop.sqlite_store import SqliteStore
from ivory_quilt.shop.store import ShopStore, asked_address, is_server, open_address


class OpenedStore(Struct, frozen=True):
    """A store that can be used, and what is to be said of it.

    Attributes:
        problem: what is wrong with the maker's own; empty when it is that.
        spare: a copy of the store that can be taken in its place, or None.
        spare_time: when that was made.
    """

    store: ShopStore
    problem: str = ""
    spare: Path | None = None
    spare_time: str = ""


def open_asked(path: Path, chosen: str = "") -> OpenedStore:
    """Open the store that the environment names, else the one `chosen`, else the file at `path`.

    A server that does not answer leaves the maker's own file in its place for this run.
    """
    asked = asked_address() or chosen
    if not asked:
        return open_store(path)
    if not is_server(asked):
        return open_store(Path(asked).expanduser())
    try:
        return OpenedStore(open_address(asked))
    except InputError as error:
        own = open_store(path)
        text = f"{error}. Your own file's shop is shown in its place."
        return OpenedStore(own.store, text)


def open_store(path: Path) -> OpenedStore:
    """Open the store at `path`, or what there can be in its place."""
    try:
        store = SqliteStore(path)
        _, damaged = store.readable_stock()
    except InputError as error:
        return _instead(path, error)
    if not damaged:
        with contextlib.suppress(InputError):  # no room for a copy is no reason not to begin
            store.copy_to(backup_of(path))
        return OpenedStore(store)
    some = f"{len(damaged)} entries of the shop" if len(damaged) > 1 else "an entry of the shop"
    text = f"{some} cannot be read and stay as they are: {damaged[0]}"
    return OpenedStore(store, text, *_spare(path))


def _instead(path: Path, error: InputError) -> OpenedStore:
    """Return a store in the place of one that cannot be opened."""
    kept = "What you change in the shop now is not kept."
    if not (isinstance(error, UnusableStore) and path.is_file()):
        return OpenedStore(SqliteStore(None), f"{error}. It is left as it is. {kept}")
    try:
        aside = _set_aside(path, "damaged")
        store = SqliteStore(path)
    except (OSError, InputError):
        return OpenedStore(SqliteStore(None), f"{error}. It is left as it is. {kept}")
    text = (
        f"The shop's file is damaged: {error.problem}. It was set aside as "
        f"{shown_name(aside.name)}, and the shop begins empty."
    )
    return OpenedStore(store, text, *_spare(path))


def _set_aside(path: Path, why: str) -> Path:
    """Give a store a name that says when and why it was set aside; return that."""
    aside = path.with_name(f"{path.name}.{why}-{datetime.now():%Y-%m-%d-%H%M%S-%f}")
    path.rename(aside)
    # A journal belongs to the file that it was written for.
    journal = path.with_name(f"{path.name}-journal")
    if journal.exists():
        journal.rename(aside.with_name(f"{aside.name}-journal"))
    return aside


def _spare(path: Path) -> tuple[Path | None, str]:
    spare = backup_of(path)
    try:
        SqliteStore(spare, make=False).close()
        when = datetime.fromtimestamp(spare.stat().st_mtime)
    except (InputError, OSError):
        return None, ""
    return spare, f"{when:%Y-%m-%d, %H:%M}"


def take_spare(path: Path, store: ShopStore, spare: Path) -> SqliteStore:
    """Put the copy in the store's place and open it; what was there is set aside.

    Raises:
        InputError: it cannot be done; the store may still be used.
    """
    with contextlib.closing(SqliteStore(spare, make=False)) as copy:
        store.close()
        try:
            if path.exists():
                _set_aside(path, "before")
        except OSError as error:
            raise InputError(
                shown_name(path), f"it cannot be replaced ({error.strerror})", "a writable folder"
            ) from None
        copy.copy_to(path)
    return SqliteStore(path)
