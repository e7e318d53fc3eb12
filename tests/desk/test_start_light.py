"""The window's start loads nothing that can wait: each of these costs a tenth of a second."""

import subprocess
import sys
from contextlib import closing

from ivory_quilt.demo.shop import demo_stock, fill_demo_shop
from ivory_quilt.shop.sqlite_store import SqliteStore

HEAVY = (
    "sqlalchemy",
    "alembic",
    "highspy",
    "odf",
    "scipy",
    "numba",
    "cv2",
    "PIL",
    "ezdxf",
    "pdfminer",
    "reportlab",
    "contourpy",
)


def test_the_window_starts_without_the_heavy_libraries():
    code = (
        "import sys, ivory_quilt.desk.app, ivory_quilt.desk.window; "
        f"print([m for m in {HEAVY!r} if m in sys.modules])"
    )
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert found.stdout.strip() == "[]"


def test_a_shop_that_is_there_is_read_without_what_writes_it(tmp_path):
    with closing(SqliteStore(tmp_path / "shop.sqlite")) as made:
        fill_demo_shop(made)
    code = (
        "import sys; from pathlib import Path; from ivory_quilt.shop.opening import open_store; "
        f"opened = open_store(Path({str(tmp_path)!r}) / 'shop.sqlite'); "
        "print(len(opened.store.stock().items), opened.problem, 'sqlalchemy' in sys.modules); "
        "opened.store.use_printer('p'); print('sqlalchemy' in sys.modules)"
    )
    found = subprocess.run([sys.executable, "-c", code], capture_output=True, text=True, check=True)
    assert found.stdout.split() == [str(len(demo_stock())), "False", "True"]
