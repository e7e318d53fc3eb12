import sqlite3
from contextlib import closing
from decimal import Decimal

import pytest
from sqlalchemy import inspect

from ivory_quilt.core.document.library import LibrarySet
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.coupons import Coupon, CouponKind
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.bars import BarItem, BarKind, BarSection
from ivory_quilt.core.stock.catalogue import Supplier
from ivory_quilt.core.stock.consumables import Consumable, ConsumableKind, RateSource
from ivory_quilt.core.stock.foam_stock import Material, MaterialKind, StockItem, StockKind, sheet
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import Currency
from ivory_quilt.demo.shop import demo_stock, fill_demo_shop
from ivory_quilt.shop.places import places
from ivory_quilt.shop.sqlite_store import SqliteStore
from ivory_quilt.shop.store import read_stock
from ivory_quilt.shop.tables import TABLES
from tests.shop.old_stores import old_store

EVA6 = Foam(6.0, "eva")


@pytest.fixture
def store(tmp_path):
    made = SqliteStore(tmp_path / "deep" / "shop.sqlite")
    yield made
    made.close()


def test_a_new_store_knows_two_materials_and_no_foam(store):
    stock = store.stock()
    assert stock.items == ()
    assert stock.material_name("eva") == "EVA foam"
    assert stock.material_name("cork") == "cork"


def test_printers_are_remembered(store):
    assert store.printer() is None
    store.put_printer(Printer("bench inkjet", 100, 99.2, "2026-03-01"))
    store.put_printer(Printer("copy shop", 100, 100.4))
    assert store.printer().name == "copy shop"
    store.use_printer("bench inkjet")
    assert store.printer() == Printer("bench inkjet", 100, 99.2, "2026-03-01")
    store.put_printer(Printer("bench inkjet", 100, 99.6))
    assert [(p.name, p.measured) for p in store.printers()] == [
        ("bench inkjet", 99.6),
        ("copy shop", 100.4),
    ]
    store.use_printer("")
    assert store.printer() is None


@pytest.mark.parametrize("version", [1, 2, 3, 4])
def test_an_older_store_becomes_a_present_one_and_loses_nothing(tmp_path, version):
    path = old_store(tmp_path / "old.sqlite", version)
    with closing(SqliteStore(path)) as store:
        stock = store.stock()
        assert stock.currency == Currency("£")
        assert [(i.id, i.owned, i.price) for i in stock.items] == [
            ("half", 3, Decimal("8.90")),
            ("k", 1, None),
        ]
        assert len(stock.item("k").defects) == (1 if version == 4 else 0)
        assert len(store.printers()) == (1 if version > 1 else 0)
        assert stock.material("eva").book == (
            FoamBook(0.45, 1.5, 1.0, 0.13, 15, 1.2, 7) if version > 2 else FoamBook()
        )
        store.put_supplier(Supplier("north", shipping=Decimal("4.90")))
        store.put(replace(stock.item("half"), supplier="north", pack=2, steps=((3, Decimal(15)),)))
        with store._writing()._db.begin():
            there = inspect(store._writing()._db)
            columns = {t: {c["name"] for c in there.get_columns(t)} for t in TABLES.tables}
        assert columns == {t.name: set(t.columns.keys()) for t in TABLES.sorted_tables}
    again = read_stock(path)
    assert again.item("half").supplier == "north"
    assert again.item("half").steps == ((3, Decimal(15)),)


def test_everything_comes_back_as_it_was_put(store):
    fill_demo_shop(store)
    stock = store.stock()
    assert sorted(stock.items, key=lambda i: i.id) == sorted(demo_stock(), key=lambda i: i.id)
    assert [i.foam.thickness for i in stock.items] == sorted(i.foam.thickness for i in stock.items)
    assert stock.item("K7").shape.holes
    assert stock.item("nothing") is None
    assert all(i.foam == EVA6 for i in stock.of(EVA6))


def test_putting_again_replaces_and_keeps_the_order(store):
    for name in ("a", "b"):
        store.put(sheet(name, name, EVA6, (100, 50), owned=1))
    store.put(sheet("a", "a", EVA6, (100, 50), owned=4, price=Decimal("1.10")))
    assert [(i.id, i.owned) for i in store.stock().items] == [("a", 4), ("b", 1)]
    assert store.stock().item("a").price == Decimal("1.10")
    store.remove("a")
    store.remove("a")
    assert [i.id for i in store.stock().items] == ["b"]


def test_materials_and_currency(store):
    store.put_material(Material("cork", "Cork sheet", both_faces_alike=True))
    store.set_currency(Currency("£"))
    stock = store.stock()
    assert stock.material_name("cork") == "Cork sheet"
    assert stock.currency == Currency("£")


def test_books_and_coupons_come_back(store):
    book = FoamBook(0.45, 1.5, 1.0, 0.13, 15, 1.2, 7)
    store.put_material(Material("soft", "Padding", True, book, MaterialKind.SOFT))
    assert store.stock().material("soft").book == book
    assert store.stock().material("soft").kind is MaterialKind.SOFT
    assert store.stock().material("unheard of").book == FoamBook()
    coupon = Coupon("soft", CouponKind.ACROSS, "2026-02-03", (100.0, 101.0), (98.0, 99.5))
    store.put_coupon(coupon)
    store.put_coupon(coupon)
    assert store.coupons() == (coupon, coupon)


def test_flaws_go_with_their_sheet(store):
    flaw = Shape.make([(10, 10), (40, 10), (40, 30)])
    item = sheet("k", "offcut", Foam(6.0, "eva"), (300, 200), owned=1)
    store.put(replace(item, defects=(flaw,)))
    (kept,) = store.stock().item("k").defects
    assert kept.area == pytest.approx(flaw.area)
    store.remove("k")
    store.put(item)
    assert store.stock().item("k").defects == ()


def test_bars_and_what_is_used_up_come_back(store):
    bar = BarItem("d10", BarSection(BarKind.ROUND, 10.0), 1000.0, 4, Decimal("1.20"), pack=5)
    tin = Consumable(
        "c1",
        "cement tin",
        ConsumableKind.CEMENT,
        750.0,
        3.5,
        2,
        Decimal("11.40"),
        "",
        300.0,
        "2026-03-01",
        6,
        RateSource.BOOK,
    )
    store.put_bar(bar)
    store.put_consumable(tin)
    stock = store.stock()
    assert stock.bars == (bar,)
    assert stock.consumables == (tin,)
    store.remove_bar("d10")
    store.remove_consumable("c1")
    assert store.stock().bars == store.stock().consumables == ()


def test_a_supplier_that_goes_leaves_its_goods(store):
    store.put_supplier(Supplier("north", "North Meadow", Decimal(5), Decimal(60), Decimal(10), 4))
    store.put(replace(sheet("a", "a", EVA6, (100, 50), price=Decimal(2)), supplier="north"))
    assert store.stock().suppliers[0].free_from == 60
    store.remove_supplier("north")
    assert store.stock().suppliers == ()
    assert store.stock().item("a").supplier == ""


def test_a_store_outlives_its_program(tmp_path):
    path = tmp_path / "shop.sqlite"
    first = SqliteStore(path)
    offcut = Shape.make([(0, 0), (90, 0), (40, 60)], [[(30, 10), (40, 10), (35, 20)]])
    first.put(StockItem("k", "k", StockKind.OFFCUT, EVA6, offcut, owned=1))
    first.close()
    assert read_stock(path).item("k").shape == offcut


def test_a_newer_store_is_refused(tmp_path):
    path = tmp_path / "shop.sqlite"
    SqliteStore(path).close()
    db = sqlite3.connect(path)
    db.execute("PRAGMA user_version=99")
    db.commit()
    db.close()
    with pytest.raises(InputError, match="newer Ivory Quilt"):
        SqliteStore(path)


def test_what_is_no_store_is_refused(tmp_path):
    path = tmp_path / "shop.sqlite"
    path.write_text("this is not a database, it is a shopping list " * 40)
    with pytest.raises(InputError, match="cannot be used"):
        SqliteStore(path)
    with pytest.raises(InputError, match="cannot be used"):
        SqliteStore(tmp_path / "shop.sqlite" / "below")


@pytest.mark.parametrize("damage", ["outline='[]'", "kind='plank'", "owned='many'", "price='dear'"])
def test_a_damaged_row_is_named(tmp_path, damage):
    path = tmp_path / "shop.sqlite"
    made = SqliteStore(path)
    made.put(sheet("a", "a", EVA6, (100, 50), owned=1))
    made.close()
    db = sqlite3.connect(path)
    db.execute(f"UPDATE stock SET {damage}")
    db.commit()
    db.close()
    with pytest.raises(InputError, match="stock 'a'"):
        read_stock(path)


def test_the_demo_has_places_of_its_own():
    mine, demo = places(), places("demo")
    assert mine.store != demo.store
    assert mine.settings != demo.settings
    assert mine.reports != demo.reports


def test_what_is_written_together_is_written_whole_or_not_at_all(tmp_path):
    path = tmp_path / "shop.sqlite"
    with closing(SqliteStore(path)) as store:
        with store.together():
            store.put(sheet("a", "a", Foam(6.0, "eva"), (90, 50), owned=1))
            store.put(sheet("b", "b", Foam(6.0, "eva"), (90, 50), owned=1))
        with pytest.raises(ZeroDivisionError), store.together():
            store.put(sheet("c", "c", Foam(6.0, "eva"), (90, 50), owned=1))
            raise ZeroDivisionError
        assert {i.id for i in store.stock().items} == {"a", "b"}
        store.put(sheet("d", "d", Foam(6.0, "eva"), (90, 50), owned=1))
    with closing(SqliteStore(path)) as store:
        assert {i.id for i in store.stock().items} == {"a", "b", "d"}


def test_sets_of_pieces_are_kept_by_name_and_a_damaged_one_is_left_out(store, tmp_path):
    pieces = tuple(Piece(i, i, rectangle(40, 30)) for i in ("cup", "lame"))
    store.put_library_set(LibrarySet("b", "knees", pieces, tags=("legs",)))
    store.put_library_set(LibrarySet("a", "collar", pieces[:1]))
    assert [k.name for k in store.library_sets()] == ["collar", "knees"]
    store.put_library_set(LibrarySet("b", "elbows", pieces[:1]))
    assert [k.name for k in store.library_sets()] == ["collar", "elbows"]
    store.remove_library_set("a")
    store.remove_library_set("none")
    (kept,) = store.library_sets()
    assert kept == LibrarySet("b", "elbows", pieces[:1])
    with closing(sqlite3.connect(tmp_path / "deep" / "shop.sqlite")) as db:
        db.execute("UPDATE library SET body = '{' WHERE id = 'b'")
        db.commit()
    assert store.library_sets() == ()
