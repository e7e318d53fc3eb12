"""The open document without a window: history, what is unsaved, layouts, the shop."""

from decimal import Decimal

import pytest

from ivory_quilt.core.document.project import Project, add_pieces, change_piece, set_gap, set_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import ShopStock, sheet
from ivory_quilt.desk.session import MOST_UNDO, Session

SIX = Foam(6.0, "eva")
PLATE = Piece("plate", "Belly band", rectangle(200.0, 90.0), count=2)


class MemoryStore:
    """A shop store that lives in memory; the session asks no more of one."""

    def __init__(self, *items):
        self.items = {i.id: i for i in items}

    def readable_stock(self):
        return ShopStock(tuple(self.items.values())), ()

    def reserve(self, project, name, wants):
        pass

    def add(self, item):
        self.items[item.id] = item
        return item

    def change(self, _before, after):
        self.items[after.id] = after

    def remove(self, item_id):
        del self.items[item_id]

    def step_sets(self):
        return ()


@pytest.fixture
def session(qapp):
    made = Session(
        MemoryStore(sheet("s", "plain sheet", SIX, (500.0, 300.0), price=Decimal("4.20")))
    )
    made.start(Project("lamplighter", (PLATE,)))
    return made


@pytest.fixture
def signals(session):
    heard = []
    session.changed.connect(lambda: heard.append("changed"))
    session.opened.connect(lambda: heard.append("opened"))
    return heard


def lay_all(session, seed=1):
    for foam in session.plan.foams:
        session.propose(
            foam.foam, foam.job, lay(foam.job, limit=Limit(steps=0), clock=lambda: 0.0, seed=seed)
        )


def test_undo_and_redo_walk_the_same_projects(session):
    steps = [session.project]
    for count in (3, 4, 5):
        assert session.edit(f"count {count}", lambda p, n=count: change_piece(p, "plate", count=n))
        steps.append(session.project)
    assert session.history == ["count 3", "count 4", "count 5"]
    for before in reversed(steps[:-1]):
        session.undo()
        assert session.project is before
    assert session.undo_label == ""
    assert session.redo_label == "count 3"
    for after in steps[1:]:
        session.redo()
        assert session.project is after
    assert session.redo_label == ""


def test_undo_and_redo_at_the_ends_do_nothing(session, signals):
    session.undo()
    session.redo()
    assert signals == []


def test_a_new_edit_forgets_what_could_be_redone(session):
    session.edit("a", lambda p: set_gap(p, 3.0))
    session.undo()
    session.edit("b", lambda p: set_gap(p, 4.0))
    assert session.redo_label == ""
    session.undo()
    assert session.project.gap == 2.0


def test_an_edit_that_changes_nothing_leaves_no_step(session, signals):
    assert not session.edit("same gap", lambda p: set_gap(p, p.gap))
    assert session.history == []
    assert signals == []


def test_a_refused_edit_leaves_everything_as_it_was(session, signals):
    before = session.project
    with pytest.raises(InputError):
        session.edit("bad gap", lambda p: set_gap(p, -1.0))
    assert session.project is before
    assert session.history == []
    assert signals == []


def test_edits_of_one_label_join_only_when_asked(session):
    for gap in (3.0, 4.0, 5.0):
        session.edit("gap", lambda p, g=gap: set_gap(p, g), merge=True)
    assert session.history == ["gap"]
    session.edit("gap", lambda p: set_gap(p, 6.0))
    assert session.history == ["gap", "gap"]
    session.undo()
    session.undo()
    assert session.project.gap == 2.0


def test_several_steps_back_at_once_can_be_redone_one_by_one(session):
    for gap in (3.0, 4.0, 5.0):
        session.edit(f"gap {gap}", lambda p, g=gap: set_gap(p, g))
    session.undo_to(2)
    assert session.project.gap == 3.0
    assert session.redo_label == "gap 4.0"
    session.redo()
    assert session.project.gap == 4.0
    session.undo_to(99)
    assert session.project.gap == 2.0


def test_the_history_is_kept_within_its_limit(session):
    for k in range(MOST_UNDO + 20):
        session.edit(f"step {k}", lambda p, n=k: set_name(p, f"name {n}"))
    assert len(session.history) == MOST_UNDO
    assert session.history[0] == "step 20"


def test_dirty_follows_the_project_not_the_number_of_steps(session, tmp_path):
    assert not session.dirty
    session.edit("gap", lambda p: set_gap(p, 3.0))
    assert session.dirty
    assert session.title == "lamplighter •"
    session.undo()
    assert not session.dirty
    session.redo()
    session.save(tmp_path / "w.ivq")
    assert not session.dirty
    session.undo()
    assert session.dirty


def test_opening_starts_a_history_of_its_own(session, signals, tmp_path):
    session.edit("gap", lambda p: set_gap(p, 3.0))
    session.save(tmp_path / "w.ivq")
    session.edit("gap", lambda p: set_gap(p, 7.0))
    signals.clear()
    session.open(tmp_path / "w.ivq")
    assert signals == ["opened", "changed"]
    assert session.project.gap == 3.0
    assert session.history == []
    assert not session.dirty


def test_a_file_that_cannot_be_opened_leaves_the_project(session, signals, tmp_path):
    before = session.project
    (tmp_path / "bad.ivq").write_text("{", encoding="utf-8")
    with pytest.raises(InputError, match=r"bad\.ivq"):
        session.open(tmp_path / "bad.ivq")
    assert session.project is before
    assert signals == []


def test_a_save_that_fails_leaves_it_unsaved(session, tmp_path):
    session.edit("gap", lambda p: set_gap(p, 3.0))
    with pytest.raises(InputError):
        session.save(tmp_path / "no such folder" / "w.ivq")
    assert session.dirty
    assert session.path is None


def test_proposals_are_shown_kept_and_taken_back(session):
    assert session.plan.foam(SIX).standing is Standing.MISSING
    assert not session.keep_all()
    lay_all(session)
    assert session.plan.foam(SIX).standing is Standing.PROPOSED
    assert session.keep_all()
    assert session.plan.foam(SIX).standing is Standing.KEPT
    assert not session.keep_all()
    session.undo()
    assert session.plan.foam(SIX).standing is Standing.PROPOSED


def test_a_proposal_for_another_count_is_no_answer(session):
    lay_all(session)
    session.edit("more", lambda p: change_piece(p, "plate", count=3))
    assert session.plan.foam(SIX).standing is Standing.MISSING
    assert session.kept_or_shown(SIX) is None
    session.undo()
    assert session.plan.foam(SIX).standing is Standing.PROPOSED
    assert len(session.kept_or_shown(SIX).placements) == 2


def test_the_last_change_waits_until_all_is_laid(session):
    lay_all(session)
    assert session.last_change is None
    session.edit("more", lambda p: change_piece(p, "plate", count=9))
    assert session.last_change is None
    lay_all(session)
    change = session.last_change
    assert change.cost == Decimal("4.20")  # nine plates of 200 × 90 need a second 500 × 300
    assert change.foams == ((SIX, "+1 sheet"),)


def test_the_last_change_does_not_wait_for_foam_that_the_shop_has_not(session):
    lay_all(session)
    horn = Piece("horn", "Horn layer", rectangle(60.0, 20.0), thickness=10.0)
    session.edit("add", lambda p: add_pieces(p, [horn]))
    session.edit("more", lambda p: change_piece(p, "plate", count=9))
    lay_all(session)
    assert (SIX, "+1 sheet") in session.last_change.foams


def test_stock_that_comes_and_goes_is_planned_with_at_once(session):
    lay_all(session)
    cheap = sheet("t", "cheap sheet", SIX, (500.0, 300.0), price=Decimal("1.10"))
    session.put_stock(cheap)
    assert session.plan.foam(SIX).standing is Standing.MISSING
    lay_all(session)
    assert session.plan.ledger.cost == Decimal("1.10")
    session.put_stock(replace(cheap, owned=1))
    lay_all(session)
    assert session.plan.ledger.cost == 0
    session.remove_stock("t")
    session.remove_stock("s")
    assert session.plan.foam(SIX).standing is Standing.NO_STOCK


def test_pieces_of_another_foam_get_a_layout_of_their_own(session):
    lay_all(session)
    standing = session.plan.foam(SIX)
    horn = Piece("horn", "Horn layer", rectangle(60.0, 20.0), thickness=10.0)
    session.edit("add", lambda p: add_pieces(p, [horn]))
    assert session.plan.foam(SIX) is standing
    assert session.plan.foam(Foam(10.0, "eva")).standing is Standing.NO_STOCK


def test_going_back_offers_what_was_offered_then(session):
    """Also where the engine has laid the foam otherwise meanwhile."""
    lay_all(session)
    before = session.plan.foam(SIX).result
    session.edit("larger", lambda p: change_piece(p, "plate", shape=rectangle(210.0, 95.0)))
    lay_all(session)
    after = session.plan.foam(SIX).result
    session.undo()
    assert session.plan.foam(SIX).standing is Standing.PROPOSED
    assert session.plan.foam(SIX).result is before
    session.redo()
    assert session.plan.foam(SIX).result is after
    session.edit("name", lambda p: set_name(p, "lamplighter's suit"))
    lay_all(session, seed=2)
    better = session.plan.foam(SIX).result
    session.undo()
    assert session.plan.foam(SIX).result is better  # the foam is as it was then: the newer stands


def test_going_back_after_the_shop_has_changed_plans_anew(session):
    lay_all(session)
    session.edit("more", lambda p: change_piece(p, "plate", count=3))
    lay_all(session)
    session.put_stock(sheet("s", "plain sheet", SIX, (210.0, 100.0), price=Decimal("2.00")))
    session.undo()
    assert session.plan.foam(SIX).standing is Standing.MISSING
    assert session.plan.foam(SIX).job.sheets[0].shape == rectangle(210.0, 100.0)
