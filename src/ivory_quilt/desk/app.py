"""Starting the desk: the maker's own, or the demo's with a shop and settings of its own."""

import gc
import linecache
import os
import sys
from functools import partial
from pathlib import Path

from PySide6.QtCore import QTimer
from PySide6.QtGui import QGuiApplication
from PySide6.QtWidgets import QApplication

from ivory_quilt import __version__
from ivory_quilt.core.document.project import Project
from ivory_quilt.desk.errors import ErrorWatch
from ivory_quilt.desk.rehearsal import rehearse_window
from ivory_quilt.desk.run_log import RunLog
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import Settings
from ivory_quilt.desk.theme.icons import icon
from ivory_quilt.desk.window import DeskWindow
from ivory_quilt.engine.service import EngineService
from ivory_quilt.files.atomic import shown_name
from ivory_quilt.files.recovery import RecoveryFolder
from ivory_quilt.shop.opening import open_asked
from ivory_quilt.shop.places import Places, places
from ivory_quilt.shop.sqlite_store import SqliteStore
from ivory_quilt.shop.store import ShopStore
from ivory_quilt.system.folders import can_write, folder_for_this_run

DESKTOP_ID = "org.ivoryquilt.IvoryQuilt"
REHEARSE_AFTER = 600  # ms: the window is there, the engine gets ready
QUIT_AFTER = "IVORY_QUILT_QUIT_AFTER"  # seconds; for measuring start-up from outside


def make_app() -> QApplication:
    """Return the one application object."""
    found = QApplication.instance()
    if isinstance(found, QApplication):
        return found
    QGuiApplication.setDesktopFileName(DESKTOP_ID)
    app = QApplication(sys.argv[:1])
    app.setApplicationName("Ivory Quilt")
    app.setApplicationVersion(__version__)
    return app


def open_window(
    where: Places,
    store: ShopStore,
    project: Project | None = None,
    run: RunLog | None = None,
    service: EngineService | None = None,
) -> tuple[DeskWindow, ErrorWatch]:
    """Put a window together on a store, with `project` in it, not yet shown.

    Commands are noted in `run`; layouts come from `service`, or an engine of the window's own.
    """
    watch = ErrorWatch(where.reports, run or RunLog())
    session = Session(store)
    folder = RecoveryFolder(where.recovery)
    window = DeskWindow(session, Settings(where.settings), watch, folder, service)
    if project is not None:
        session.start(project, saved=True)
    window.setWindowIcon(icon("pattern", window.look.ink))
    return window, watch


def run_desk(where: Places, files: list[Path]) -> int:
    """Open the desk on the maker's own store, with `files` on it."""
    if not _has_screen():
        return 2
    app = make_app()
    where, homeless = _writable(where)
    run = RunLog()
    faults = run.begin(where.log, where.reports)
    opened = open_asked(where.store, Settings(where.settings).store_address)
    window, watch = open_window(where, opened.store, run=run)
    window.panels.tell_shop(opened, where.store)
    if faults:
        text = f"The last run ended by a fault of the program; its report is {faults[-1].name} in "
        window.session.tell(f"{text}{shown_name(where.reports)}", "heat")
    if homeless:
        window.session.tell(homeless, "heat")
    be_quick(window)
    watch.install()
    window.show()
    QTimer.singleShot(0, window.offer_recovery)
    if files:
        QTimer.singleShot(0, lambda: window.drawings.read_files(files))
    return _run(app, watch, run)


def run_demo() -> int:
    """Open the desk with the demo suit, in a fresh shop of the demo's own."""
    from ivory_quilt.demo.project import demo_project
    from ivory_quilt.demo.shop import fill_demo_shop

    if not _has_screen():
        return 2
    app = make_app()
    where, homeless = _writable(places("demo"))
    run = RunLog()
    run.begin(where.log, where.reports)
    where.store.unlink(missing_ok=True)
    store = SqliteStore(where.store)
    fill_demo_shop(store)
    window, watch = open_window(where, store, demo_project(), run)
    if homeless:
        window.session.tell(homeless, "heat")
    be_quick(window)
    watch.install()
    window.show()
    QTimer.singleShot(0, window.offer_recovery)
    return _run(app, watch, run)


def _writable(where: Places) -> tuple[Places, str]:
    """Return places that can be written, and what is to be said when they are not the maker's."""
    bad = [folder for folder in (where.data, where.config) if not can_write(folder)]
    if not bad:
        return where, ""
    home = folder_for_this_run("home")
    text = (
        f"{shown_name(bad[0])} cannot be written: the shop, settings and unsaved work of this run "
        "are not kept. Projects are saved where you say."
    )
    return Places(home / "data", home / "config"), text


def _run(app: QApplication, watch: ErrorWatch, run: RunLog) -> int:
    if seconds := os.environ.get(QUIT_AFTER):
        QTimer.singleShot(round(1000 * float(seconds)), app.closeAllWindows)
    try:
        return app.exec()
    finally:
        watch.remove()
        run.end()


def be_quick(window: DeskWindow) -> None:
    """Keep the interface thread's turns short.

    Threads that read and write hand over soon when they run Python code. What is behind the other
    stations is loaded once the window stands; it stays, so that no garbage collection need look at
    it again. What painting does once for all is done while nobody waits.
    """
    QTimer.singleShot(REHEARSE_AFTER, window, partial(rehearse_window, window))
    sys.setswitchinterval(0.0001)
    gc.disable()
    QTimer.singleShot(REHEARSE_AFTER, window, partial(window.stations.load_ahead, _settle))


def _settle() -> None:
    linecache.clearcache()  # the sources that Qt's bindings looked through
    gc.freeze()
    gc.enable()


def _has_screen() -> bool:
    """Say in one sentence when there is no screen, instead of Qt's abort."""
    given = os.environ.get("QT_QPA_PLATFORM") or os.environ.get("DISPLAY")
    if given or os.environ.get("WAYLAND_DISPLAY") or sys.platform != "linux":
        return True
    print(
        "ivory-quilt: there is no screen here (DISPLAY is not set); run it on a desktop, or with "
        "QT_QPA_PLATFORM=offscreen to try it without one",
        file=sys.stderr,
    )
    return False
