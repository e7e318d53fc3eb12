"""The window's start loads nothing that can wait: each of these costs a tenth of a second."""

import os
import subprocess
import sys
from contextlib import closing

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QLabel, QWidget
from shiboken6 import delete

from ivory_quilt.demo.shop import demo_stock, fill_demo_shop
from ivory_quilt.desk.rehearsal import _polished
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


def test_what_is_let_go_while_all_is_styled_is_left_alone(qtbot):
    window = QWidget()
    qtbot.addWidget(window)
    ones = [QLabel(str(k), window) for k in range(4)]
    tasks = _polished(window)
    next(tasks)
    delete(ones[2])
    assert len(list(tasks)) == 4
    styled = Qt.WidgetAttribute.WA_WState_Polished
    assert all(ones[k].testAttribute(styled) for k in (0, 1, 3))


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


def test_a_project_that_is_opened_loads_none_of_them_either(tmp_path):
    with closing(SqliteStore(tmp_path / "shop.sqlite")) as made:
        fill_demo_shop(made)
    code = f"""
import sys
from pathlib import Path
from ivory_quilt.demo.project import demo_project
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore
app = make_app()
folder = Path({str(tmp_path)!r})
window, _ = open_window(
    Places(folder / "d", folder / "c"), SqliteStore(folder / "shop.sqlite"), demo_project()
)
window.go("lay")
window.show()
app.processEvents()
window.tasks.close()  # what waits on its thread is done first
print([m for m in {HEAVY!r} if m in sys.modules])
window.close()
"""
    environment = {**os.environ, "QT_QPA_PLATFORM": "offscreen"}
    found = subprocess.run(
        [sys.executable, "-c", code], capture_output=True, text=True, check=True, env=environment
    )
    assert found.stdout.strip() == "[]"
