"""Shelf and project agree, whichever of the two was written last before power went."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind, sheet
from ivory_quilt.core.stock.spent_sheet import CutPart, SpentSheet
from ivory_quilt.desk.foam_mover import FoamMover, finish_move, give_back
from ivory_quilt.files.project_file import save_project
from ivory_quilt.files.recovery import FoamMove, RecoveryFolder, UnsavedWork, WorkState
from ivory_quilt.shop.sqlite_store import SqliteStore

EVA = Foam(6.0, "eva")
HALF = sheet("s", "half", EVA, (1000, 500), owned=3)
PART = CutPart("p", "plate", rectangle(100, 50), Pose(5, 5))
OFFCUT = StockItem("A1", "offcut A1", StockKind.OFFCUT, EVA, rectangle(300, 200), 1)
CUT = SpentSheet("cut", HALF, owned=True, used_length=None, parts=(PART,), left=(OFFCUT,))
SUIT = Project("lamp suit", (Piece("p", "plate", rectangle(100, 50), count=2),))
DONE = replace(SUIT, spent=(CUT,))
TIME = "2027-03-01T18:00:00+01:00"


def owned(store):
    return {i.id: i.owned for i in store.stock().items if i.foam == EVA}


@pytest.fixture
def store():
    made = SqliteStore(None)
    made.put(HALF)
    yield made
    made.close()


def state(project, move=None):
    return WorkState(project, None, None, "Cut half", TIME, move)


def test_the_document_is_kept_before_the_shelf_changes(store):
    mover, heard = FoamMover(), []
    mover.keep = lambda project, move: heard.append((project, move, owned(store)))
    mover.move(store, SUIT, DONE)
    ((kept, move, shelf_then),) = heard
    assert (kept, move.before, shelf_then) == (DONE, (), {"s": 3})
    assert owned(store) == {"s": 2, "A1": 1}
    assert store.knows_move(move.token)
    mover.move(store, DONE, SUIT)
    assert not store.knows_move(move.token)  # one token a window is enough
    mover.move(store, SUIT, replace(SUIT, name="other"))
    assert len(heard) == 2  # no foam, no move


def test_a_move_that_the_shelf_refuses_is_withdrawn(store):
    mover, heard = FoamMover(), []
    mover.withdraw = lambda: heard.append("withdrawn")
    store.remove("s")
    with pytest.raises(InputError):
        mover.move(store, SUIT, DONE)
    assert heard == ["withdrawn"]


def test_a_move_that_was_kept_and_not_made_is_made_once(store):
    move = FoamMove("t", ())
    finish_move(store, state(DONE, move))
    assert owned(store) == {"s": 2, "A1": 1}
    finish_move(store, state(DONE, move))
    finish_move(store, state(DONE))
    assert owned(store) == {"s": 2, "A1": 1}


def test_what_is_let_go_lies_on_the_shelf_again(store):
    finish_move(store, state(DONE, FoamMove("t", ())))
    give_back(store, state(DONE, FoamMove("t", ())), ())
    assert owned(store) == {"s": 3}
    give_back(store, state(DONE, FoamMove("u", ())), ())  # never moved
    assert owned(store) == {"s": 3}
    give_back(store, state(SUIT), (CUT,))  # its undo is let go
    assert owned(store) == {"s": 2, "A1": 1}
    give_back(store, state(SUIT), (CUT,), since=True)  # saved since: the shelf knows of it
    assert owned(store) == {"s": 2, "A1": 1}


def test_a_move_outlives_the_window_with_the_work(tmp_path):
    journal = RecoveryFolder(tmp_path).begin()
    journal.keep(state(DONE, FoamMove("t", (replace(CUT, id="old"),))))
    kept = UnsavedWork(journal.folder, "", None, "", "").read()
    assert kept.move == FoamMove("t", (replace(CUT, id="old"),))
    journal.keep(state(DONE))
    assert UnsavedWork(journal.folder, "", None, "", "").read().move is None
    assert not list(journal.folder.glob("before-*"))
    journal.close()


def left_behind(desk, project, path, move):
    journal = RecoveryFolder(desk.where.recovery).begin()
    journal.keep(WorkState(project, path, None, "Cut half", TIME, move))
    journal.leave_behind()


@pytest.mark.parametrize(("take", "there"), [(True, {"s": 2, "A1": 1}), (False, {"s": 3})])
def test_in_the_window_work_taken_or_let_go_agrees_with_the_shelf(make_desk, tmp_path, take, there):
    desk = make_desk(Project(), fill=False)
    desk.store.put(HALF)
    save_project(SUIT, tmp_path / "suit.ivq")
    left_behind(desk, DONE, tmp_path / "suit.ivq", FoamMove("t", ()))
    assert desk.window.offer_recovery()
    desk.window.documents.asking.discard = lambda _: True
    panel = desk.window.recovering.panel
    (panel.take if take else panel.drop).click()
    assert owned(desk.store) == there
    assert bool(desk.session.project.spent) is take
