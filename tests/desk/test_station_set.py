"""Stations, and the places beside the board, are made when somebody first goes there."""

import sys
import time

import pytest

from ivory_quilt.core.schedule.timer import Moment, Timer
from ivory_quilt.core.units import LengthUnit
from ivory_quilt.desk.app import open_window
from ivory_quilt.desk.asking import Unsaved
from ivory_quilt.desk.stations.base import WORDS
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from ivory_quilt.desk.theme.palette import DARK
from ivory_quilt.files.timers_file import load_timers, save_timers
from ivory_quilt.shop.places import Places
from ivory_quilt.shop.sqlite_store import SqliteStore
from ivory_quilt.system.moment import moment
from tests.desk.conftest import let_run


@pytest.fixture
def window(qapp, tmp_path, engine_service):
    store = SqliteStore(tmp_path / "shop.sqlite")
    made, watch = open_window(Places(tmp_path / "d", tmp_path / "c"), store, service=engine_service)
    made.documents.asking.unsaved = lambda _: Unsaved.DISCARD
    made.show()
    let_run()
    yield made
    made.close()
    watch.remove()
    store.close()


def names(window):
    return {station.ident for station in window.stations.made}


def test_only_the_station_in_front_and_the_board_are_there_at_first(window):
    assert names(window) == {"pattern"}
    assert not window.pattern.panes.made
    assert "lay" in window.stations
    assert "attic" not in window.stations
    assert list(window.stations) == list(WORDS)
    assert len(window.stations) == len(WORDS)
    assert names(window) == {"pattern"}, "looking at their names makes none"
    window.go("buy")
    assert names(window) == {"pattern", "buy"}


def test_every_station_goes_by_its_own_name_and_word(window):
    for ident, station in window.stations.items():
        assert (station.ident, station.word) == (ident, WORDS[ident])


def test_what_is_made_later_wears_what_the_others_do(window):
    window.settings.unit = LengthUnit.INCH
    window.preferences.set_dark(on=True)
    window.fold_card()
    assert names(window) == {"pattern"}
    window.go("build")
    assert window.building.look is DARK
    assert window.building.canvas.unit is LengthUnit.INCH
    assert not window.building.card.isVisible()
    window.fold_card()
    assert window.building.card.isVisible()


def test_a_place_beside_the_board_is_made_at_the_first_visit(demo_desk):
    desk = demo_desk
    desk.window.settings.unit = LengthUnit.INCH
    desk.window._show_unit()
    assert not desk.pattern.panes.made
    desk.pattern.go_to(PatternMode.SEAMS)
    assert set(desk.pattern.panes.made) == {PatternMode.SEAMS}
    assert desk.pattern.seams.map.isVisible()
    assert desk.pattern.seams.card.isVisible()
    assert desk.pattern.seams.map.unit is LengthUnit.INCH
    desk.pattern.go_to(PatternMode.DRAFT)
    assert desk.pattern.draft.card.isVisible()
    assert not desk.pattern.seams.card.isVisible()


def test_commands_of_a_station_not_made_yet_wait_for_pieces_and_then_work(window, request):
    assert not window.actions_by_id["build-suit"].isEnabled()
    assert not window.actions_by_id["print-all"].isEnabled()
    desk = request.getfixturevalue("demo_desk")
    assert {s.ident for s in desk.window.stations.made} == {"pattern"}
    assert desk.window.actions_by_id["print-all"].isEnabled()
    assert desk.window.actions_by_id["build-suit"].isEnabled()
    desk.window.actions_by_id["build-stack"].trigger()
    assert desk.window.building.isVisible()
    assert desk.window.building.stack_card.isVisible()


def test_timers_of_the_last_run_ring_though_nobody_opens_the_bench(qapp, tmp_path, engine_service):
    where = Places(tmp_path / "d", tmp_path / "c")
    kept = where.recovery.parent / "timers.json"
    now = moment()
    long_ago = Moment(now.wall - 3600, now.boot, now.ticks - 3600)
    save_timers(kept, (Timer("glue", "Cement", 600.0, long_ago),))
    store = SqliteStore(tmp_path / "shop.sqlite")
    made, watch = open_window(where, store, service=engine_service)
    told = []
    made.session.told.connect(lambda text, _tone: told.append(text))
    made.show()
    assert let_run(lambda: any("Cement" in text for text in told), 5)
    assert names(made) == {"pattern", "bench"}
    made.bench.timers.stop("glue")
    assert not kept.exists()
    assert load_timers(kept) == ()
    made.close()
    watch.remove()
    store.close()


def test_what_is_behind_the_stations_is_loaded_ahead_and_none_is_made(window):
    loaded = []
    window.stations.load_ahead(lambda: loaded.append(time.monotonic()))
    assert let_run(lambda: loaded, 20)
    assert {f"ivory_quilt.desk.stations.{name}.view" for name in WORDS} <= set(sys.modules)
    assert names(window) == {"pattern"}
    assert len(loaded) == 1
