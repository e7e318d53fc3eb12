"""The shop in a relational database, whichever it is: what is the same in all of them."""

import json
from abc import abstractmethod
from collections.abc import Iterator, Mapping
from contextlib import contextmanager
from typing import Any

from sqlalchemy import Connection, Integer, Select, Table, cast, delete, func, insert, select, text
from sqlalchemy.exc import SQLAlchemyError

from ivory_quilt.core.cutting.knife_plotter import KnifePlotter
from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.coupons import Coupon
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.journal.entry import JournalEntry
from ivory_quilt.core.record import astuple, replace
from ivory_quilt.core.schedule.bench_choices import StepSet
from ivory_quilt.core.stock.bars import BarItem
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable
from ivory_quilt.core.stock.foam_stock import Material, StockItem
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.stock.past_order import PastOrder
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.stock.work_rates import Rates
from ivory_quilt.core.units import Currency
from ivory_quilt.shop import journal_rows, rows
from ivory_quilt.shop.shop_reading import BOOK_FIELDS, ReadingStore
from ivory_quilt.shop.tables import (
    BAR,
    BOOK,
    CONSUMABLE,
    COUPON,
    ENTRY,
    FLAW,
    LIBRARY,
    MATERIAL,
    PAST_ORDER,
    PRINTER,
    RESERVATION,
    SETTING,
    STEP_SET,
    STOCK,
    SUPPLIER,
)

MOVE = "foam moved "  # before its token, among the settings


class SqlStore(ReadingStore):
    """The shop's tables, read and written; how a transaction begins, each database says itself.

    Every method may raise `InputError`: the store is damaged, locked by another program, on a full
    disk, cannot be reached, or may not be written; nothing is half done then.
    """

    _db: Connection

    def __init__(self, name: str) -> None:
        """Call the store `name` in messages."""
        self._name = name
        self._deep = False
        self._seen = 0

    @contextmanager
    def _told(self) -> Iterator[None]:
        """Say in a sentence what the database or the system refuses."""
        try:
            yield
        except (OSError, SQLAlchemyError, OverflowError, UnicodeError) as error:
            raise rows.refusal(self._name, error) from None

    @abstractmethod
    def _begin_writing(self) -> None:
        """Take the right to write, or wait for it: the first thing of a writing transaction."""

    @abstractmethod
    def _version(self) -> int:
        """Return a number that others' writing changes."""

    @contextmanager
    def _reading(self) -> Iterator[None]:
        if self._deep:  # within what is written together: its own state
            yield
            return
        with self._told(), self._db.begin():
            yield

    @contextmanager
    def together(self) -> Iterator[None]:
        """Write several things at once, with the newest state before the eyes: all or none."""
        if self._deep:  # a part of what is done together
            yield
            return
        with self._told():
            with self._db.begin():
                self._deep = True
                try:
                    self._begin_writing()
                    yield
                finally:
                    self._deep = False
            self._seen = self._version()

    def changed_elsewhere(self) -> bool:
        """Return whether another window wrote to the shop since this was last asked."""
        with self._told():
            before, self._seen = self._seen, self._version()
        return self._seen != before

    def close(self) -> None:
        """Let go of the store."""
        self._db.close()
        self._db.engine.dispose()

    # What there is

    def _rows(self, query: Select[Any]) -> list[Mapping[str, Any]]:
        return [dict(r) for r in self._db.execute(query).mappings()]

    def _ask(self, sql: str) -> list[Mapping[str, Any]]:
        return [dict(r) for r in self._db.execute(text(sql)).mappings()]

    # The shelf and the catalogue

    def put(self, item: StockItem) -> None:
        """Add an item, or replace the one with the same id."""
        with self.together():
            self._insert(item)

    def add(self, item: StockItem) -> StockItem:
        """Add an item; return it as it was added, with another id when its own is taken."""
        with self.together():
            taken = set(self._db.execute(select(STOCK.c.id)).scalars())
            item = replace(item, id=free_name(item.id, taken))
            self._insert(item)
        return item

    def change(self, before: StockItem, after: StockItem) -> None:
        """Change what differs between two states of an item; the rest stays as it is.

        Raises:
            InputError: another window took the item out, or changed the same thing meanwhile.
        """
        with self.together():
            found = self._rows(select(STOCK).where(STOCK.c.id == before.id))
            if not found:
                raise InputError(
                    before.name, "it was taken out of the shop meanwhile", "an item of the shop"
                )
            there = replace(rows.item_of_row(found[0]), defects=self._flaws(before.id))
            changed = {
                name: getattr(after, name)
                for name in StockItem.__struct_fields__
                if getattr(after, name) != getattr(before, name)
            }
            for name, value in changed.items():
                now = getattr(there, name)
                if now not in (getattr(before, name), value):
                    word = {"owned": "the number owned", "defects": "its flaws"}.get(name, name)
                    told = f"{word} was changed in another window meanwhile"
                    said = f", it is {now} now" if name in ("owned", "price", "name") else ""
                    raise InputError(before.name, told + said, "a look at it again")
            self._insert(replace(there, **changed))

    def _flaws(self, item_id: str) -> tuple[Shape, ...]:
        query = select(FLAW.c.outline).where(FLAW.c.stock == item_id).order_by(FLAW.c.number)
        return tuple(Shape.make(json.loads(o)) for o in self._db.execute(query).scalars())

    def _insert(self, item: StockItem) -> None:
        query = select(STOCK.c.position).where(STOCK.c.id == item.id)
        position = self._db.execute(query).scalar()
        if position is None:
            last = self._db.execute(select(func.max(cast(STOCK.c.position, Integer)))).scalar()
            position = (last or 0) + 1
        self._replace(STOCK, "id", rows.row_of_item(item, position))
        self._db.execute(delete(FLAW).where(FLAW.c.stock == item.id))
        for flaw in item.defects:
            outline = json.dumps([list(map(float, p)) for p in flaw.outer])
            self._db.execute(insert(FLAW), {"stock": item.id, "outline": outline})

    def _replace(self, table: Table, key: str, row: Mapping[str, object]) -> None:
        """Put a row in the place of the one with the same key."""
        self._db.execute(delete(table).where(table.c[key] == row[key]))
        self._db.execute(insert(table), dict(row))

    def remove(self, item_id: str) -> None:
        """Take an item out; unknown ids are ignored."""
        with self.together():
            self._db.execute(delete(STOCK).where(STOCK.c.id == item_id))
            self._db.execute(delete(FLAW).where(FLAW.c.stock == item_id))
            self._db.execute(delete(RESERVATION).where(RESERVATION.c.item == item_id))

    def put_material(self, material: Material) -> None:
        """Add a material, or replace the one with the same id."""
        alike = int(material.both_faces_alike)
        book = dict(zip(BOOK_FIELDS, astuple(material.book), strict=True))
        with self.together():
            row = {"id": material.id, "name": material.name, "both_faces_alike": alike}
            self._replace(MATERIAL, "id", row)
            values = {"material": material.id, "kind": material.kind.value, **book}
            self._replace(BOOK, "material", values)

    def put_supplier(self, supplier: Supplier) -> None:
        """Add a supplier, or replace the one with the same id."""
        with self.together():
            self._replace(SUPPLIER, "id", rows.row_of_supplier(supplier))

    def remove_supplier(self, supplier_id: str) -> None:
        """Take a supplier out; what it sells is sold by nobody in particular then."""
        with self.together():
            self._db.execute(delete(SUPPLIER).where(SUPPLIER.c.id == supplier_id))
            for table in (STOCK, BAR, CONSUMABLE):
                mine = table.c.supplier == supplier_id
                self._db.execute(table.update().where(mine).values(supplier=""))

    def put_bar(self, bar: BarItem) -> None:
        """Add bars, or replace those with the same id."""
        with self.together():
            self._replace(BAR, "id", rows.row_of_bar(bar))

    def remove_bar(self, bar_id: str) -> None:
        """Take bars out; unknown ids are ignored."""
        with self.together():
            self._db.execute(delete(BAR).where(BAR.c.id == bar_id))
            self._db.execute(delete(RESERVATION).where(RESERVATION.c.item == bar_id))

    def put_consumable(self, what: Consumable) -> None:
        """Add something that is used up, or replace what has the same id."""
        with self.together():
            self._replace(CONSUMABLE, "id", rows.row_of_consumable(what))

    def remove_consumable(self, ident: str) -> None:
        """Take something that is used up out; unknown ids are ignored."""
        with self.together():
            self._db.execute(delete(CONSUMABLE).where(CONSUMABLE.c.id == ident))

    # What projects hold

    def reserve(self, project: str, name: str, wants: Mapping[str, int]) -> None:
        """Let a project hold so many of some items, and nothing else of the shelf any more.

        Raises:
            InputError: another project holds what is wanted, or there are not so many; nothing is
                changed then.
        """
        with self.together():
            self._db.execute(delete(RESERVATION).where(RESERVATION.c.project == project))
            for item, count in sorted(wants.items()):
                if count < 1:
                    continue
                self._check_free(item, count)
                row = {"project": project, "item": item, "name": name, "count": count}
                self._db.execute(insert(RESERVATION), row)

    def _check_free(self, item: str, count: int) -> None:
        owned, called = 0, item
        for table in (STOCK, BAR):
            found = self._rows(select(table).where(table.c.id == item))
            if found:
                owned = int(found[0]["owned"])
                called = str(found[0].get("name", item))
        held = self._rows(select(RESERVATION).where(RESERVATION.c.item == item))
        free = owned - sum(int(r["count"]) for r in held)
        if count > free:
            by = ", ".join(sorted({f"“{r['name']}”" for r in held}))
            who = f", the rest is held by {by}" if by else ""
            raise InputError(
                called, f"{count} wanted, {max(0, free)} free{who}", "another sheet, or fewer"
            )

    def release(self, project: str) -> None:
        """Let go of everything that a project holds."""
        with self.together():
            self._db.execute(delete(RESERVATION).where(RESERVATION.c.project == project))

    # Test strips, orders of the past

    def put_coupon(self, coupon: Coupon) -> None:
        """Keep a set of test strips."""
        row = {
            "material": coupon.material,
            "what": coupon.what.value,
            "date": coupon.date,
            "before": json.dumps(coupon.before),
            "after": json.dumps(coupon.after),
        }
        with self.together():
            self._db.execute(insert(COUPON), row)

    def put_past_order(self, order: PastOrder) -> None:
        """Keep an order; another of the same day and project takes the place of the one before."""
        mine = (PAST_ORDER.c.day == order.day) & (PAST_ORDER.c.project == order.project)
        with self.together():
            self._db.execute(delete(PAST_ORDER).where(mine))
            self._db.execute(insert(PAST_ORDER), rows.row_of_past_order(order))

    # Journal, kept steps, rates

    def put_entry(self, entry: JournalEntry) -> None:
        """Write an entry of the journal, or replace the one with the same id."""
        with self.together():
            self._replace(ENTRY, "id", journal_rows.row_of_entry(entry))

    def remove_entry(self, ident: str) -> None:
        """Take an entry out; unknown ids are ignored."""
        with self.together():
            self._db.execute(delete(ENTRY).where(ENTRY.c.id == ident))

    def put_step_set(self, kept: StepSet) -> None:
        """Keep a set of steps, or replace the one with the same name."""
        with self.together():
            if kept.usual:
                for other in self.step_sets():
                    if other.usual and other.name != kept.name:
                        row = journal_rows.row_of_step_set(replace(other, usual=False))
                        self._replace(STEP_SET, "name", row)
            self._replace(STEP_SET, "name", journal_rows.row_of_step_set(kept))

    def remove_step_set(self, name: str) -> None:
        """Let go of a set of steps; unknown names are ignored."""
        with self.together():
            self._db.execute(delete(STEP_SET).where(STEP_SET.c.name == name))

    def put_library_set(self, kept: LibrarySet) -> None:
        """Keep a set of pieces, or replace the one with the same id."""
        with self.together():
            self._replace(LIBRARY, "id", journal_rows.row_of_library_set(kept))

    def remove_library_set(self, ident: str) -> None:
        """Let go of a set of pieces; unknown ids are ignored."""
        with self.together():
            self._db.execute(delete(LIBRARY).where(LIBRARY.c.id == ident))

    def set_rates(self, rates: Rates) -> None:
        """Say how long hands take from now on, and how often a part is spoiled."""
        self._set("rates", journal_rows.text_of_rates(rates))

    # Settings, printers

    def set_currency(self, currency: Currency) -> None:
        """Set the currency of all prices."""
        with self.together():
            self._set("currency", currency.sign)
            self._set("currency place", "first" if currency.first else "last")

    def set_keep_rule(self, rule: KeepRule) -> None:
        """Say which offcuts are worth a place on the shelf."""
        with self.together():
            self._set("keep side", repr(rule.least_side))
            self._set("keep area", repr(rule.least_area))
            self._set("keep joined", "yes" if rule.joined else "no")

    def _set(self, key: str, value: str) -> None:
        with self.together():
            self._replace(SETTING, "key", {"key": key, "value": value})

    def note_move(self, old: str, new: str) -> None:
        """Remember the token of a move of foam in place of an older one."""
        with self.together():
            self._db.execute(delete(SETTING).where(SETTING.c.key == MOVE + old))
            self._set(MOVE + new, "made")

    def knows_move(self, token: str) -> bool:
        """Return whether the move of foam with this token was made."""
        with self._reading():
            query = select(SETTING.c.value).where(SETTING.c.key == MOVE + token)
            return self._db.execute(query).first() is not None

    def put_printer(self, printer: Printer) -> None:
        """Add a printer, or what its check bar measures now; it is the one in use."""
        row = {
            "name": printer.name,
            "nominal": printer.nominal,
            "measured": printer.measured,
            "date": printer.date,
        }
        with self.together():
            self._replace(PRINTER, "name", row)
            self._set("printer", printer.name)

    def use_printer(self, name: str) -> None:
        """Print on another printer; an empty name for none that is known."""
        self._set("printer", name)

    def put_plotter(self, plotter: KnifePlotter) -> None:
        """Say how the shop's knife plotter works."""
        self._set("plotter", journal_rows.text_of_plotter(plotter))
