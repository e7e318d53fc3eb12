"""What is asked of the engine and when, with an engine that answers only when told."""

from decimal import Decimal

import pytest
from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.project import Project, add_pieces, change_piece, set_gap
from ivory_quilt.core.geometry.shape import Pose, rectangle
from ivory_quilt.core.nesting.job import LayResult, Placement
from ivory_quilt.core.nesting.summary import summarise
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.laying import IMPROVED, Laying
from ivory_quilt.desk.session import Session
from ivory_quilt.engine.orders import EngineFault, EngineState
from ivory_quilt.engine.queue import Rank
from tests.desk.conftest import let_run
from tests.desk.test_session import MemoryStore

SIX, TEN = Foam(6.0, "eva"), Foam(10.0, "eva")
BAND = Piece("band", "Belly band", rectangle(200.0, 40.0), count=2)
HORN = Piece("horn", "Horn layer", rectangle(90.0, 30.0), thickness=10.0)


class PatientEngine(QObject):
    """Takes requests and does nothing until a test answers for it."""

    better = Signal(object, object)
    progress = Signal(object, float, float)
    finished = Signal()
    failed = Signal(object, object)
    lost = Signal()
    state_changed = Signal(object)

    def __init__(self, parent=None):
        super().__init__(parent)
        self.requests = []
        self.stops = 0
        self.stopped = []
        self.state = EngineState(ready=True)
        self.busy = False

    def request(self, tasks):
        self.requests.append(tasks)
        self.busy = bool(tasks)

    def add(self, tasks):
        self.requests.append(tasks)
        self.busy = True

    def stop(self):
        self.stops += 1
        self.busy = False

    def stop_foam(self, foam):
        self.stopped.append(foam)

    def finish(self):
        self.busy = False
        self.finished.emit()


@pytest.fixture
def laying(qapp):
    stock = [
        sheet("six", "6 mm", SIX, (500.0, 300.0), price=Decimal(4)),
        sheet("ten", "10 mm", TEN, (500.0, 300.0), price=Decimal(7)),
    ]
    session = Session(MemoryStore(*stock))
    made = Laying(session, PatientEngine())
    session.start(Project("lamplighter", (BAND, HORN)))
    return made


def row(task, y=10.0, step=50.0):
    """A layout of a task: its parts in a column."""
    (stock_id,) = {s.id for s in task.job.sheets}
    placed = [
        Placement(p.id, c, stock_id, 0, Pose(10.0, y + step * c))
        for p in task.job.pieces
        for c in range(p.quantity)
    ]
    return summarise(task.job, tuple(placed))


def apart(task):
    """The same with every copy on a sheet of its own, which costs more."""
    single = row(task, step=0.0)
    spread = tuple(replace(p, sheet_copy=p.copy) for p in single.placements)
    return summarise(task.job, spread)


def answer(laying, **where):
    for task in laying.engine.requests[-1]:
        laying.engine.better.emit(task, row(task, **where))
    laying.take_in()


def test_what_waits_is_asked_for_once(laying):
    (first,) = laying.engine.requests
    assert [t.foam for t in first] == [SIX, TEN]
    assert {t.seconds for t in first} == {0.0}
    laying.session.changed.emit()
    assert len(laying.engine.requests) == 1


def test_a_first_layout_is_followed_by_a_short_improvement_from_it(laying):
    answer(laying)
    laying.engine.finish()
    second = laying.engine.requests[-1]
    assert {t.seconds for t in second} == {laying.auto_seconds}
    assert [t.start for t in second] == [row(t).placements for t in laying.engine.requests[0]]
    laying.engine.finish()
    assert len(laying.engine.requests) == 2
    assert not laying.busy


def test_an_edit_asks_for_the_foam_it_touches(laying):
    answer(laying)
    laying.engine.finish()
    laying.session.edit("more", lambda p: change_piece(p, "horn", count=3))
    assert [t.foam for t in laying.engine.requests[-1]] == [TEN]


def test_on_more_foam_it_goes_on_from_what_took_not_everything(laying):
    (six, _) = laying.engine.requests[0]
    part = summarise(six.job, row(six).placements[:1])
    laying.engine.better.emit(six, part)
    laying.take_in()
    laying.session.put_stock(sheet("six", "6 mm", SIX, (600.0, 300.0), price=Decimal(4)))
    again = next(t for t in laying.engine.requests[-1] if t.foam == SIX)
    assert again.start == part.placements
    # What took everything is begun anew: nothing can stay out of it.
    answer(laying)
    laying.session.put_stock(sheet("six", "6 mm", SIX, (700.0, 300.0), price=Decimal(4)))
    again = next(t for t in laying.engine.requests[-1] if t.foam == SIX)
    assert again.start == ()


def test_an_edit_elsewhere_leaves_a_run_alone_and_one_of_its_foam_ends_it(laying):
    answer(laying)
    laying.session.keep_all()
    laying.engine.finish()
    laying.improve([SIX])
    laying.engine.progress.emit(laying.engine.requests[-1][0], 0.2, 1.5)
    laying.session.edit("name", lambda p: change_piece(p, "horn", name="Crest"))
    assert laying.engine.stops == 0
    # The kept layout holds at a smaller gap too, so nothing is asked anew.
    laying.session.edit("gap", lambda p: set_gap(p, 1.0))
    assert laying.session.plan.foam(SIX).standing is Standing.KEPT
    assert (laying.engine.stops, laying.engine.stopped) == (0, [SIX])


def test_an_answer_that_comes_too_late_is_dropped(laying):
    late = laying.engine.requests[-1][0]
    laying.session.edit("gap", lambda p: set_gap(p, 9.0))
    laying.engine.better.emit(late, row(late))
    laying.take_in()
    assert laying.session.plan.foam(SIX).standing is Standing.MISSING


def test_another_project_ends_the_work_on_the_last(laying):
    laying.session.start(Project("other"))
    assert laying.engine.stops == 1
    assert not laying.busy


def test_improving_goes_on_from_what_is_seen_with_another_seed(laying):
    answer(laying)
    laying.engine.finish()
    seed = laying.seed
    laying.improve([SIX], seconds=3.0)
    (task,) = laying.engine.requests[-1]
    assert (task.foam, task.seconds, task.seed) == (SIX, 3.0, seed + 1)
    assert task.start == laying.session.plan.foam(SIX).result.placements
    laying.improve()
    assert len(laying.engine.requests[-1]) == 2


def test_stopping_asks_for_nothing_more(laying):
    answer(laying)
    laying.stop()
    laying.engine.finish()
    assert len(laying.engine.requests) == 1


def test_a_kept_layout_gets_better_as_one_edit(laying):
    answer(laying)
    laying.engine.finish()
    laying.session.keep_all()
    laying.improve([SIX])
    for y in (20.0, 30.0):
        answer(laying, y=y)
    assert laying.session.history == ["Keep layouts", IMPROVED]
    assert laying.session.plan.foam(SIX).standing is Standing.KEPT
    assert laying.session.plan.foam(SIX).result.placements[0].pose.y == 30.0


def test_keeping_ends_the_run_and_what_comes_later_does_not_replace_what_is_kept(laying):
    answer(laying)
    laying.engine.finish()
    laying.improve([SIX])
    (task,) = laying.engine.requests[-1]
    answer(laying, y=20.0)
    laying.keep()
    assert laying.engine.stops == 1
    laying.engine.better.emit(task, row(task, y=30.0))  # was under way when the maker kept
    laying.take_in()
    assert laying.session.history == ["Keep layouts"]
    assert laying.session.plan.foam(SIX).result.placements[0].pose.y == 20.0


def test_keeping_one_foam_does_not_stop_the_first_layout_of_another(laying):
    first = laying.engine.requests[-1][0]
    laying.engine.better.emit(first, row(first))
    laying.keep()
    assert laying.engine.stops == 0
    assert laying.session.plan.foam(first.foam).standing is Standing.KEPT


def test_a_kept_layout_is_never_replaced_by_one_that_leaves_parts_out(laying):
    answer(laying)
    laying.session.keep_all()
    laying.improve([SIX])
    (task,) = laying.engine.requests[-1]
    whole = row(task)
    short: LayResult = summarise(task.job, whole.placements[:1])
    laying.engine.better.emit(task, short)
    laying.take_in()
    assert laying.session.history == ["Keep layouts"]
    assert laying.session.plan.foam(SIX).result.placements == whole.placements


@pytest.fixture
def dear(laying):
    """Every foam laid and improved on its own, on more sheets than it needs; and what is told."""
    for task in laying.engine.requests[-1]:
        laying.engine.better.emit(task, apart(task))
    laying.take_in()
    laying.engine.finish()
    laying.engine.finish()
    assert laying.session.plan.ledger.cost == Decimal(15)
    told = []
    laying.session.told.connect(lambda text, _: told.append(text))
    return laying, told


def test_a_run_ends_as_soon_as_all_foam_costs_no_more_than_asked(dear):
    laying, told = dear
    laying.target = Decimal(11)
    laying.improve()
    assert [t.seconds for t in laying.engine.requests[-1]] == [laying.improve_seconds] * 2
    assert (laying.engine.stops, told) == (0, [])
    answer(laying)
    assert laying.session.plan.ledger.cost == Decimal(11)
    assert laying.engine.stops == 1
    assert told == ["Foam for 11.00 €: no more than you asked for. Stopped."]
    asked = len(laying.engine.requests)
    laying.improve()
    assert len(laying.engine.requests) == asked
    assert told[1:] == ["Foam for 11.00 € is no more than you asked for."]


@pytest.mark.parametrize("target", [None, Decimal("10.99")])
def test_a_run_goes_on_while_the_cost_asked_for_is_not_met(dear, target):
    laying, told = dear
    laying.target = target
    laying.improve()
    answer(laying)
    assert (laying.engine.stops, told) == (0, [])


def test_another_project_asks_for_no_cost(dear):
    laying, _ = dear
    laying.target = Decimal(11)
    laying.session.start(Project("empty", ()))
    assert laying.target is None


def test_new_pieces_of_foam_without_stock_ask_for_nothing(laying):
    answer(laying)
    laying.engine.finish()
    odd = Piece("odd", "Trim", rectangle(20.0, 20.0), thickness=3.0)
    laying.session.edit("add", lambda p: add_pieces(p, [odd]))
    assert len(laying.engine.requests) == 2
    assert laying.session.plan.foam(Foam(3.0, "eva")).standing is Standing.NO_STOCK


def test_what_the_maker_looks_at_is_laid_first(laying):
    laying.look_at(frozenset({TEN}))
    laying.session.edit("gap", lambda p: set_gap(p, 3.0))
    ranks = {t.foam: t.rank for t in laying.engine.requests[-1]}
    assert ranks == {SIX: Rank.FOAM, TEN: Rank.IN_SIGHT}
    answer(laying)
    laying.engine.finish()
    assert {t.rank for t in laying.engine.requests[-1]} == {Rank.IMPROVE}


def test_a_foam_that_could_not_be_laid_is_marked_and_the_other_goes_on(laying):
    told, failed = [], []
    laying.session.told.connect(lambda text, _: told.append(text))
    laying.failed.connect(lambda foam, error: failed.append((foam, error)))
    six, ten = laying.engine.requests[-1]
    fault = EngineFault("The layout engine was lost 3 times on this foam.", "SIGSEGV")
    laying.engine.failed.emit(six, fault)
    laying.engine.better.emit(ten, row(ten))
    laying.engine.finish()
    plan = laying.session.plan
    assert laying.problem(plan.foam(SIX)) == str(fault)
    assert laying.problem(plan.foam(TEN)) == ""
    assert plan.foam(TEN).standing is Standing.PROPOSED
    assert told == [f"6 mm could not be laid: {fault}"]
    assert failed == [(SIX, fault)]
    assert "SIGSEGV" in fault.__notes__
    # Another job of that foam is another matter.
    laying.session.edit("gap", lambda p: set_gap(p, 3.0))
    assert laying.problem(laying.session.plan.foam(SIX)) == ""
    assert SIX in {t.foam for t in laying.engine.requests[-1]}


@pytest.mark.parametrize(
    ("state", "said"),
    [
        (EngineState(ready=True), ""),
        (EngineState(), ""),  # loading from the cache takes a moment and is no matter for words
        (EngineState(share=0.1, seconds=42.0), "Preparing the layout engine, once: 50 s"),
        (EngineState(share=0.9, seconds=3.2), "Preparing the layout engine, once: 5 s"),
        (
            EngineState(problem="The layout engine cannot be started."),
            "The layout engine cannot be started. Layouts that are kept stay as they are.",
        ),
    ],
)
def test_what_is_said_while_the_engine_is_prepared(laying, state, said):
    laying.engine.state = state
    assert laying.preparing == said


def test_a_lost_process_is_one_line(laying):
    told = []
    laying.session.told.connect(lambda text, _: told.append(text))
    laying.engine.lost.emit()
    assert len(told) == 1
    assert "started again" in told[0]
    laying.engine.state = EngineState(problem="The layout engine cannot be started.")
    laying.engine.lost.emit()
    assert told[1:] == [laying.preparing]


def test_what_is_looked_at_is_improved_first(laying):
    answer(laying)
    laying.engine.finish()
    laying.look_at(frozenset({TEN}))
    laying.improve()
    assert [t.foam for t in laying.engine.requests[-1]] == [TEN, SIX]
    laying.look_at(frozenset())
    laying.improve()
    assert [t.foam for t in laying.engine.requests[-1]] == [SIX, TEN]


def test_many_foams_are_shown_a_few_in_a_turn_until_none_is_left(laying):
    for task in laying.engine.requests[-1]:
        laying.engine.better.emit(task, row(task))
    shown = lambda: [f.foam for f in laying.session.plan.foams if f.result]  # noqa: E731
    laying.take_in(1)
    assert shown() == [SIX]
    assert let_run(lambda: shown() == [SIX, TEN], 5)
