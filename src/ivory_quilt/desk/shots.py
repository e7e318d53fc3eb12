"""Renews docs/screenshots from the demo: one picture of each main view, at 1280 × 800."""

import math
import sys
import tempfile
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PySide6.QtCore import QCoreApplication, QEventLoop

from ivory_quilt.core.journal.entry import EntryKind
from ivory_quilt.core.stock.spent_sheet import CutState
from ivory_quilt.demo.practice import practice_names, practice_picture
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import fill_demo_shop
from ivory_quilt.desk.app import make_app, open_window
from ivory_quilt.desk.asking import Discarding
from ivory_quilt.desk.stations.bench.modes import BenchMode
from ivory_quilt.desk.stations.lay.view import LayStation
from ivory_quilt.desk.stations.pattern.draft.outline_choice import Grip, GripKind
from ivory_quilt.desk.stations.pattern.draft.presenter import Tool
from ivory_quilt.desk.widgets.panels import Panel
from ivory_quilt.desk.window import DeskWindow
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore

SIZE = (1280, 800)


def wait(_window: DeskWindow, until: Callable[[], bool], seconds: float = 60.0) -> bool:
    """Let the desk work until `until` holds; return whether it came to that."""
    end = time.monotonic() + seconds
    while time.monotonic() < end:
        QCoreApplication.processEvents(QEventLoop.ProcessEventsFlag.AllEvents, 20)
        if until():
            return True
        time.sleep(0.005)
    return False


def settle(window: DeskWindow) -> None:
    """Wait until everything is laid and the engine rests."""
    wait(window, lambda: not window.session.plan.unlaid and not window.laying.busy)
    wait(window, lambda: False, 0.3)


def demo_window(folder: Path) -> DeskWindow:
    """Return a shown window with the demo suit, on a store in `folder`."""
    make_app()
    where = Places(folder / "data", folder / "config")
    store = SqliteStore(where.store)
    fill_demo_shop(store)
    window, _ = open_window(where, store, demo_project())
    window.resize(*SIZE)
    window.show()
    return window


def take(window: DeskWindow, path: Path) -> None:
    """Write what the window shows as a PNG."""
    wait(window, lambda: False, 0.25)
    window.grab().save(str(path))


def measuring() -> dict[str, Callable[[DeskWindow], object]]:
    """Return the pictures of the Measure station, and how to bring the desk there."""

    def measure(window: DeskWindow) -> None:
        window.go("measure")
        station: Any = window.stations["measure"]
        station.presenter.change(measure="calf", piece="shin-cuff")
        station._in_hand("calf")
        station.refresh()

    return {"measure": measure}


def laying() -> dict[str, Callable[[DeskWindow], object]]:
    """Return the pictures of the Lay station, and how to bring the desk there."""

    def lay_far(window: DeskWindow) -> None:
        settle(window)  # another project was opened for the pictures before
        window.go("lay")
        lay_station(window).table.drawing.finish()
        wait(window, lambda: not lay_station(window).explaining.waiting)
        window.fit()

    def suit(window: DeskWindow) -> None:
        """The whole suit, in the dark theme."""
        window.preferences.set_dark(on=not window.preferences.dark)
        window.go("build")
        station = window.building
        station.open("thigh-plate")
        station.act("build-suit")
        wait(window, lambda: station.suit.dressed is not None and not station.suit.running)
        wait(window, lambda: station.suit_view.rests, 8.0)

    return {"lay": lay_far, "build-suit-dark": suit}


def ordering() -> dict[str, Callable[[DeskWindow], object]]:
    """Return the pictures of Buy, Bench and Journal, and how to bring the desk there."""

    def buy(window: DeskWindow) -> None:
        settle(window)
        window.go("buy")
        station: Any = window.stations["buy"]
        wait(window, lambda: station.ordering.result is not None and not station.ordering.running)

    def what_if(window: DeskWindow) -> None:
        buy(window)
        station: Any = window.stations["buy"]
        station.act("what-if")
        wait(window, lambda: bool(station.asked.ways) and not station.asked.running)

    def bench(window: DeskWindow) -> None:
        settle(window)
        window.go("bench")
        planner = window.bench.planner
        wait(window, lambda: planner.found is not None and not planner.running)

    def tonight(window: DeskWindow) -> None:
        """Two steps are done, the cement of a third dries."""
        bench(window)
        station = window.bench
        station.go_to(BenchMode.TONIGHT)
        for step in ("templates", station.tonight.tonight()[1].step.id):
            station.planner.tick(step, done=True, minutes=42.0)
        wait(window, lambda: not station.planner.running)
        station.timers.start("horn", "clay on the left horn", 3 * 3600)
        station.timers.start("rim", "join: shoulder cap crown, stage 2 of 3", 720, 900)

    def journal(window: DeskWindow) -> None:
        bench(window)
        telling = window.journal.presenter
        telling.tell(
            EntryKind.FIT, "shin cuffs sit; the left one wants 4 mm more", piece="shin-cuff"
        )
        telling.tell(
            EntryKind.SPOILED, "through the fold: a dull blade", piece="wing-case", value=1
        )
        telling.tell(EntryKind.TONE, "3 bronze, 1 black, a drop of green")
        telling.tell(EntryKind.WORN, "the left shoulder slipped on the stairs", value=3)
        telling.tell(EntryKind.NEXT, "cut the rim last, when the caps are formed")
        window.go("journal")

    return {
        "buy": buy,
        "buy-what-if": what_if,
        "bench": bench,
        "bench-tonight": tonight,
        "journal": journal,
    }


def views() -> dict[str, Callable[[DeskWindow], object]]:
    """Return each picture's name and how to bring the desk there."""

    def pattern(window: DeskWindow) -> None:
        window.go("pattern")
        window.pattern.presenter.selected = ("shin-cuff",)
        window.pattern.refresh()

    def draft(window: DeskWindow) -> None:
        window.go("pattern")
        station = window.pattern
        station.presenter.selected = ("collar-front",)
        station.open_draft()
        station.draft.card.hold(Tool.OUTLINE)
        outline = station.draft.presenter.outline
        outline.alike = True
        # The longest side, pulled out while the other follows.
        path = outline.paths()[0]
        side = max(range(len(path)), key=lambda k: math.dist(path.node(k).at, path.node(k + 1).at))
        x, y = at = path.place(side + 0.5)
        grip = Grip(GripKind.SPAN, 0, side, at)
        outline.choose(grip)
        outline.take(grip)
        outline.drag((x - 12, y - 16), 2.0)
        station.refresh()

    def seams(window: DeskWindow) -> None:
        station = window.pattern
        station.seams.presenter.chosen = window.session.project.seams[1]
        station.act("seams")

    def build(piece: str, mode: str) -> Callable[[DeskWindow], object]:
        def show(window: DeskWindow) -> None:
            window.go("build")
            station = window.building
            station.open(piece)
            station.act(f"build-{mode}")
            form_up = station.form_up
            wait(window, lambda: mode != "form-up" or form_up.shape is not None)
            solid = station.form_up_pane.solid if mode == "form-up" else station.solid
            wait(window, lambda: solid.rests, 5.0)

        return show

    def helps(window: DeskWindow) -> None:
        """What helps is known, and the best of it stands beside the group as it is."""
        build("shoulder-cap-crown", "form-up")(window)
        station = window.building
        station.mending.find()
        wait(window, lambda: not station.mending.running)
        station.mending.choose(station.mending.ordered[0])
        wait(window, lambda: station.form_up_pane.then.solid.rests, 8.0)
        wait(window, lambda: station.form_up_pane.solid.rests, 5.0)

    def shape(window: DeskWindow) -> None:
        window.pattern.make_shape()
        window.pattern._start_shape("layered-horn")

    def tracing(window: DeskWindow) -> None:
        name = practice_names()[0]
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / name
            path.write_bytes(practice_picture(name))
            window.pattern._leave_shape()
            window.drawings.read_files([path])
            wait(window, lambda: bool(window.pattern.traces.cards))
        wait(window, lambda: not window.pattern.traces.cards[0].found.busy)

    def sheets(window: DeskWindow) -> None:
        window.go("cut")
        cut: Any = window.stations["cut"]
        wait(window, lambda: bool(cut.presenter.pages()))

    def templates(window: DeskWindow) -> None:
        cut: Any = window.stations["cut"]
        cut.show_templates.click()
        wait(window, lambda: not cut.presenter.paging.waiting)

    return {
        **measuring(),
        "pattern": pattern,
        "pattern-draft": draft,
        "pattern-seams": seams,
        "pattern-shape": shape,
        "pattern-trace": tracing,
        "build-form": build("knee-cup", "form"),
        "build-finish": build("wing-case", "finish"),
        "build-form-up": helps,
        **ordering(),
        "cut": sheets,
        "cut-templates": templates,
        **laying(),
        "cut-mode": cutting,
    }


def cutting(window: DeskWindow) -> None:
    """A sheet under the knife: some parts are cut, one is spoiled and finds room beside them."""
    window.preferences.set_dark(on=False)
    settle(window)
    window.go("cut")
    cut: Any = window.stations["cut"]
    cut.show_list.click()
    sheets = [one for one in cut.list.work.to_cut() if one.item.foam.thickness == 4]
    cut.list.wants_cutting.emit(max(sheets, key=lambda one: len(one.parts)))
    cut.mode.before.start.click()
    wait(window, lambda: cut.knife.sheet is not None)
    for _ in range(9):
        cut.knife.mark(CutState.CUT)
    cut.knife.mark(CutState.SPOILED)
    wait(window, lambda: not cut.knife.spoilt.looking)
    settle(window)


def lay_station(window: DeskWindow) -> LayStation:
    """Return the Lay station as what it is."""
    station = window.stations["lay"]
    assert isinstance(station, LayStation)
    return station


def main(arguments: list[str]) -> int:
    """Write all pictures into docs/screenshots, or into the folder given."""
    use_kernel_cache()
    target = Path(arguments[0]) if arguments else Path("docs/screenshots")
    target.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        window = demo_window(Path(folder))
        settle(window)
        for name, go in views().items():
            for panel in window.findChildren(Panel):
                panel.put_away()
            go(window)
            take(window, target / f"{name}.png")
        window.documents.asking = Discarding(window)
        window.close()
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
