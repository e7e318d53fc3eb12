"""The shop whatever state its file is in: a window comes, nothing is overwritten or lost."""

import sqlite3
from contextlib import closing
from decimal import Decimal
from random import Random

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.files.atomic import backup_of
from ivory_quilt.shop import sqlite_store as store_module
from ivory_quilt.shop.opening import open_asked, open_store, take_spare
from ivory_quilt.shop.revision import HEAD
from ivory_quilt.shop.sqlite_store import SqliteStore
from ivory_quilt.shop.store import read_stock

EVA6 = Foam(6.0, "eva")


def half(ident="k", **rest):
    given = {"owned": 3, "price": Decimal("4.50")} | rest
    return sheet(ident, f"sheet {ident}", EVA6, (500, 400), **given)


@pytest.fixture
def path(tmp_path):
    with closing(SqliteStore(tmp_path / "shop.sqlite")) as made:
        fill_demo_shop(made)
    return tmp_path / "shop.sqlite"


@pytest.fixture
def two(tmp_path):
    """Two windows on one shop."""
    first, second = (SqliteStore(tmp_path / "shop.sqlite") for _ in range(2))
    yield first, second
    first.close()
    second.close()


# Two windows


def test_two_windows_that_add_alike_get_different_ids(two):
    first, second = two
    assert first.add(half()).id == "k"
    assert second.add(half(owned=1)).id == "k-2"
    assert second.add(half()).id == "k-3"
    assert [(i.id, i.owned) for i in first.stock().items] == [("k", 3), ("k-2", 1), ("k-3", 3)]


def test_a_stale_change_undoes_nothing_of_the_others(two):
    first, second = two
    seen = first.add(half())
    second.change(seen, replace(seen, owned=5))
    first.change(seen, replace(seen, price=Decimal("9.00")))
    (now,) = first.stock().items
    assert (now.owned, now.price) == (5, Decimal("9.00"))


def test_the_same_thing_changed_in_two_windows_is_said_not_overwritten(two):
    first, second = two
    seen = first.add(half())
    second.change(seen, replace(seen, owned=5))
    with pytest.raises(InputError, match="changed in another window meanwhile, it is 5 now"):
        first.change(seen, replace(seen, owned=2))
    assert first.stock().items[0].owned == 5
    first.change(seen, replace(seen, owned=5))  # both want the same
    second.remove("k")
    with pytest.raises(InputError, match="taken out of the shop meanwhile"):
        first.change(seen, replace(seen, owned=2))


def test_a_window_hears_that_another_wrote(two):
    first, second = two
    assert not first.changed_elsewhere()
    first.add(half())
    assert not first.changed_elsewhere()
    second.add(half())
    assert first.changed_elsewhere()
    assert not first.changed_elsewhere()


# Trouble while it is open


def test_a_locked_store_is_said_soon(tmp_path, monkeypatch):
    monkeypatch.setattr(store_module, "PATIENCE", 0.05)
    path = tmp_path / "shop.sqlite"
    with closing(SqliteStore(path)) as store, closing(sqlite3.connect(path)) as other:
        other.execute("BEGIN EXCLUSIVE")
        for work in (lambda: store.add(half()), store.stock, lambda: store.use_printer("p")):
            with pytest.raises(InputError, match="another window is writing"):
                work()
        other.rollback()
        store.add(half())


def test_a_full_disk_is_said_and_nothing_is_half_done(path):
    with closing(SqliteStore(path)) as store:
        many = len(store.stock().items)
        pages = store.raw.execute("PRAGMA page_count").fetchone()[0]
        store.raw.execute(f"PRAGMA max_page_count={pages}")
        with pytest.raises(InputError, match=r"cannot be written.*space on the disk"):
            for k in range(2000):
                store.add(half(f"much {k}"))
        assert len(store.stock().items) >= many
    assert len(read_stock(path).items) >= many


def test_a_store_that_may_not_be_written_can_be_read(path):
    with closing(SqliteStore(path)) as store:
        store.raw.execute("PRAGMA query_only=1")
        with pytest.raises(InputError, match="cannot be written"):
            store.add(half())
        assert store.stock().items


# What is found at the start


def test_a_good_start_keeps_a_copy(path):
    opened = open_store(path)
    opened.store.close()
    assert opened.problem == ""
    assert read_stock(backup_of(path)) == read_stock(path)


def test_a_damaged_store_is_set_aside_and_its_copy_offered(path):
    open_store(path).store.close()
    good = read_stock(path)
    path.write_bytes(b"not a database at all " * 400)
    opened = open_store(path)
    assert "set aside as shop.sqlite.damaged-" in opened.problem
    assert opened.store.stock().items == ()
    (aside,) = path.parent.glob("shop.sqlite.damaged-*")
    assert aside.read_bytes().startswith(b"not a database")
    assert opened.spare == backup_of(path)
    opened.store.add(half())
    with closing(take_spare(path, opened.store, opened.spare)) as back:
        assert back.stock() == good
    (before,) = path.parent.glob("shop.sqlite.before-*")
    assert [i.id for i in read_stock(before).items] == ["k"]


def test_a_row_that_cannot_be_read_costs_only_itself(path):
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute("UPDATE stock SET outline='[]' WHERE id='K7'")
        raw.execute("INSERT INTO flaw (stock, outline) VALUES ('T6-half', 'x')")
        raw.execute("UPDATE book SET kind='jelly' WHERE material='eva'")
    opened = open_store(path)
    with closing(opened.store) as store:
        assert "3 entries of the shop cannot be read" in opened.problem
        items = {i.id for i in store.readable_stock()[0].items}
        assert "K7" not in items
        assert "T6-half" in items
        store.add(half())
        assert "K7" in {i for (i,) in store.raw.execute("SELECT id FROM stock")}


@pytest.mark.parametrize(
    ("harm", "said"),
    [
        (f"PRAGMA user_version={int(HEAD) + 1}", "newer Ivory Quilt"),
        ("PRAGMA application_id=7", "another program's database"),
    ],
)
def test_a_newer_or_foreign_store_is_left_as_it_is(path, harm, said):
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute(harm)
    data = path.read_bytes()
    opened = open_store(path)
    with closing(opened.store) as store:
        assert said in opened.problem
        assert "not kept" in opened.problem
        store.add(half())
    assert path.read_bytes() == data


def test_a_foreign_database_gets_none_of_our_tables(tmp_path):
    path = tmp_path / "bees.sqlite"
    with closing(sqlite3.connect(path)) as raw, raw:
        raw.execute("CREATE TABLE hive (id INTEGER)")
    data = path.read_bytes()
    with pytest.raises(InputError, match="another program's database"):
        SqliteStore(path)
    assert path.read_bytes() == data


def test_a_store_that_is_named_wrong_is_not_made(tmp_path):
    with pytest.raises(InputError, match="there is no shop store"):
        read_stock(tmp_path / "tpyo.sqlite")
    assert list(tmp_path.iterdir()) == []


def test_forty_two_damaged_stores_and_always_a_shop(path):
    whole = path.read_bytes()
    for seed in range(42):
        random, data = Random(seed), bytearray(whole)
        for _ in range(random.choice((1, 5, 40))):
            at = random.randrange(len(data))
            data[at : at + 30] = random.randbytes(30)
        if seed % 7 == 0:
            del data[random.randrange(len(data)) :]
        path.write_bytes(bytes(data))
        opened = open_store(path)
        with closing(opened.store) as store:
            try:
                store.add(half(f"k{seed}"))
            except InputError as error:
                assert "\n" not in str(error)
        for left in path.parent.iterdir():
            left.unlink()


# Where the shop is


def test_the_environment_says_where_the_shop_is(path, tmp_path, monkeypatch):
    other = tmp_path / "other.sqlite"
    with closing(SqliteStore(other)) as made:
        made.add(half("elsewhere"))
    with closing(open_asked(path).store) as mine:
        assert "K7" in {i.id for i in mine.stock().items}
    monkeypatch.setenv("IVORY_QUILT_STORE", str(other))
    with closing(open_asked(path, "postgresql://quilt@127.0.0.1:1/shop").store) as asked:
        assert [i.id for i in asked.stock().items] == ["elsewhere"]


def test_a_server_that_is_away_leaves_the_makers_own_shop(path):
    opened = open_asked(path, "postgresql://quilt@127.0.0.1:1/shop")
    with closing(opened.store) as store:
        assert "Your own file's shop" in opened.problem
        assert "K7" in {i.id for i in store.stock().items}
