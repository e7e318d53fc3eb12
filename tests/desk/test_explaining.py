"""What is said of layouts comes step by step, foam by foam, and never of another layout."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.lay.explaining import Explaining
from tests.desk.conftest import let_run
from tests.desk.test_session import MemoryStore, lay_all

SIX, TEN = Foam(6.0, "eva"), Foam(10.0, "eva")
PLATE = Piece("plate", "Belly band", rectangle(200.0, 90.0), count=2)
HORN = Piece("horn", "Horn layer", rectangle(90.0, 30.0), thickness=10.0)


@pytest.fixture
def session(qapp):
    made = Session(
        MemoryStore(
            sheet("six", "plain sheet", SIX, (500.0, 300.0), price=Decimal("4.20")),
            sheet("ten", "thick sheet", TEN, (500.0, 300.0), price=Decimal("7.10")),
        )
    )
    made.start(Project("lamplighter", (PLATE, HORN)))
    lay_all(made)
    return made


@pytest.fixture
def explaining(qapp, engine_service):
    engine = LayoutEngine(engine_service)
    yield Explaining(engine)
    engine.close()


def finish(explaining):
    assert let_run(lambda: not explaining.waiting, 20)


def known(explaining, session):
    plan = session.plan
    return [foam.foam for foam in plan.foams if explaining.of(foam, plan) is not None]


def test_every_foam_is_explained_in_several_turns_of_the_event_loop(explaining, session):
    told = []
    explaining.found.connect(told.append)
    explaining.ask(session.plan)
    assert known(explaining, session) == []
    assert let_run(lambda: len(told) == 2, 10)
    assert set(told) == {SIX, TEN}
    six = explaining.of(session.plan.foam(SIX), session.plan)
    (room, *_) = six.rooms
    assert room.area > 0.2 * 500 * 300
    assert six.why == ()  # one sheet is the fewest, which nobody doubts
    assert "Belly band" in six.waste[0]


def test_only_what_changed_is_explained_again(explaining, session):
    explaining.ask(session.plan)
    finish(explaining)
    told = []
    explaining.found.connect(told.append)
    session.edit("more", lambda p: change_piece(p, "horn", count=2))
    foam = session.plan.foam(TEN)
    session.propose(TEN, foam.job, lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0))
    assert known(explaining, session) == [SIX]
    explaining.ask(session.plan)
    finish(explaining)
    assert told == [TEN]


def test_a_new_name_is_told_at_once_though_the_layout_is_the_same(explaining, session):
    explaining.ask(session.plan)
    finish(explaining)
    session.edit("name", lambda p: change_piece(p, "plate", name="Throat band"))
    explaining.ask(session.plan)
    finish(explaining)
    waste = explaining.of(session.plan.foam(SIX), session.plan).waste
    assert "Throat band" in waste[0]


def test_halting_drops_what_waits(explaining, session):
    explaining.ask(session.plan)
    explaining.halt()
    assert not let_run(lambda: bool(known(explaining, session)), 0.2)
