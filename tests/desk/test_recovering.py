"""Sudden ends, second windows, files changed elsewhere: what the maker is asked and told."""

import pytest
from PySide6.QtCore import QEvent

from ivory_quilt.core.document.project import Project, change_piece, set_name
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.desk.asking import Changed, Damaged, Elsewhere, Unsaved
from ivory_quilt.desk.run_log import RunLog, log
from ivory_quilt.files.project_file import load_project, save_project
from ivory_quilt.files.recovery import RecoveryFolder, WorkState
from tests.desk.conftest import let_run

SUIT = Project("lamp suit", (Piece("cap", "shoulder cap", rectangle(120, 80)),))


def told(desk):
    return desk.window.message.text.text()


def rename(desk, name):
    desk.session.edit("Rename project", lambda p: set_name(p, name))


@pytest.fixture
def saved(tmp_path):
    path = tmp_path / "lamp-suit.ivq"
    save_project(SUIT, path)
    return path


def left_behind(desk, project, path=None, time="2027-03-01T18:00:00+01:00"):
    """Leave unsaved work as a window that was killed leaves it."""
    journal = RecoveryFolder(desk.where.recovery).begin()
    journal.keep(WorkState(project, path, None, "Rename project", time))
    journal.leave_behind()
    return journal.folder


# Recovery


def test_every_edit_reaches_the_journal_and_goes_when_it_is_saved(empty_desk, tmp_path):
    desk = empty_desk
    assert let_run(lambda: desk.window.laying.engine.loaded, 60)
    keeper = desk.window.keeper
    rename(desk, "one")
    assert keeper.settle(2.0)
    assert (keeper.journal.folder / "work.json").exists()
    for name in ("two", "three", "four"):
        rename(desk, name)
    assert keeper.settle(2.5)
    kept = next(keeper.journal.folder.glob("work-*.json")).read_text()
    assert '"name":"four"' in kept
    desk.session.save(tmp_path / "a.ivq")
    assert keeper.settle(1.0)
    assert not (keeper.journal.folder / "work.json").exists()


def test_the_same_document_is_not_written_again_when_layouts_come_in(demo_desk, monkeypatch):
    desk = demo_desk
    rename(desk, "x")
    desk.window.keeper.settle()
    before = desk.window.keeper.journal._number
    desk.laid()
    desk.session.changed.emit()
    desk.window.keeper.settle()
    assert desk.window.keeper.journal._number == before


def test_work_is_offered_beside_the_saved_file_and_taken(empty_desk, saved):
    desk = empty_desk
    work = change_piece(SUIT, "cap", name="shoulder lame", count=2)
    folder = left_behind(desk, work, saved, "2099-03-01T18:00:00+01:00")
    assert desk.window.offer_recovery()
    panel = desk.window.recovering.panel
    assert panel.isVisible()
    assert "lamp suit" in panel.what.text()
    assert "Rename project" in panel.what.text()
    assert "lamp-suit.ivq, saved 20" in panel.saved.when.text()
    assert "2099-03-01 at 18:00:00" in panel.work.when.text()
    assert "shoulder lame: name, quantity changed" in panel.differs.text()
    panel.take.click()
    assert desk.session.project == work
    assert desk.session.path == saved
    assert desk.session.dirty
    assert not folder.exists()
    assert not panel.isVisible()
    assert load_project(saved) == SUIT  # the file is touched by saving alone
    desk.act("save")
    assert load_project(saved) == work


def test_work_is_left_until_the_maker_says_so(empty_desk, saved):
    desk = empty_desk
    folder = left_behind(desk, SUIT)
    desk.window.offer_recovery()
    panel = desk.window.recovering.panel
    panel.close_button.click()
    assert not panel.isVisible()
    assert folder.exists()
    desk.window.offer_recovery()
    desk.window.documents.asking.discard = lambda name: False
    panel.drop.click()
    assert folder.exists()
    desk.window.documents.asking.discard = lambda name: True
    panel.drop.click()
    assert not folder.exists()
    assert not panel.isVisible()
    assert not desk.window.offer_recovery()


def test_of_several_the_newest_comes_first_and_older_files_are_said(empty_desk, saved):
    desk = empty_desk
    left_behind(desk, replace(SUIT, name="first"), None, "2021-03-01T18:00:00+01:00")
    left_behind(desk, replace(SUIT, name="second"), saved, "2021-03-02T18:00:00+01:00")
    broken = left_behind(desk, SUIT, None, "2021-02-01T18:00:00+01:00")
    next(broken.glob("work-*")).write_text("{")
    desk.window.offer_recovery()
    panel = desk.window.recovering.panel
    assert [panel.which.itemText(k).split(",")[0] for k in range(3)] == [
        "second",
        "first",
        "lamp suit",
    ]
    assert "saved after this work" in panel.differs.text()
    panel.which.setCurrentIndex(1)
    panel.which.activated.emit(1)
    assert "never saved" in panel.saved.when.text()
    assert panel.differs.text() == ""  # there is nothing that it could be alike to
    panel.which.setCurrentIndex(2)
    panel.which.activated.emit(2)
    assert "damaged" in panel.differs.text()
    assert not panel.take.isEnabled()


def test_a_window_that_closes_leaves_nothing(make_desk, tmp_path):
    desk = make_desk(SUIT)
    rename(desk, "x")
    desk.window.keeper.settle()
    folder = desk.where.recovery
    desk.window.close()
    assert list(folder.glob("window-*")) == []


def test_no_room_for_recovery_is_said_once(empty_desk, monkeypatch):
    desk = empty_desk

    def full(_state):
        from ivory_quilt.core.errors import InputError

        raise InputError("work.json", "cannot be written (No space left on device)", "space")

    monkeypatch.setattr(desk.window.keeper.journal, "keep", full)
    rename(desk, "x")
    desk.window.keeper.settle()
    assert let_run(lambda: "No space left" in told(desk), 2)
    assert "Save often" in told(desk)


# Two windows, other programs


def test_a_second_window_opens_a_copy_or_nothing(make_desk, saved):
    first, second = make_desk(), make_desk()
    first.window.documents.open(saved)
    asked = []

    def answer(file, since):
        asked.append((file, since[:2]))
        return Elsewhere.CANCEL

    second.window.documents.asking.elsewhere = answer
    second.window.documents.open(saved)
    assert asked == [("lamp-suit.ivq", "20")]
    assert second.session.path is None
    assert second.session.project == Project()
    second.window.documents.asking.elsewhere = lambda *_: Elsewhere.COPY
    second.window.documents.open(saved)
    assert second.session.path is None
    assert second.session.project.name == "lamp suit (copy)"
    assert second.session.dirty
    first.window.documents.new()
    second.window.documents.open(saved)
    assert second.session.path == saved


def test_a_file_that_another_program_changed_is_not_overwritten_unasked(empty_desk, saved):
    desk = empty_desk
    desk.window.documents.open(saved)
    save_project(replace(SUIT, name="theirs"), saved)
    desk.act("save")
    assert "changed by another program" in told(desk)
    assert load_project(saved).name == "theirs"
    rename(desk, "mine")
    desk.window.documents.asking.changed = lambda _: Changed.CANCEL
    desk.act("save")
    assert load_project(saved).name == "theirs"
    assert desk.session.dirty
    desk.window.documents.asking.changed = lambda _: Changed.REPLACE
    desk.act("save")
    assert load_project(saved).name == "mine"
    assert load_project(saved.with_name("lamp-suit.ivq~")).name == "theirs"
    desk.act("save")
    assert told(desk) == "Everything is saved."


def test_coming_back_to_the_window_tells_what_others_did(empty_desk, saved):
    desk = empty_desk
    desk.window.documents.open(saved)
    desk.window.documents.notice()
    assert told(desk) != "x"
    save_project(replace(SUIT, name="theirs"), saved)
    desk.window.activateWindow()
    desk.window.changeEvent(QEvent(QEvent.Type.ActivationChange))
    desk.window.documents.notice()
    assert "changed by another program" in told(desk)
    saved.unlink()
    desk.window.documents.notice()
    assert "is gone from its folder" in told(desk)
    desk.act("save")
    rename(desk, "x")
    desk.act("save")
    assert load_project(saved).name == "x"


def test_a_damaged_file_offers_its_copy_and_its_whole_pieces(empty_desk, saved):
    desk = empty_desk
    save_project(replace(SUIT, name="newer"), saved)
    whole = saved.read_bytes()
    saved.write_bytes(whole[: whole.index(b'"layouts"')])
    said, wanted = [], []

    def answer(problem, readable, *, has_backup):
        said.append((readable, has_backup))
        return wanted[-1]

    desk.window.documents.asking.damaged = answer
    for way, name in (
        (Damaged.CANCEL, "Untitled"),
        (Damaged.RESCUE, "newer"),
        (Damaged.BACKUP, "lamp suit"),
    ):
        wanted.append(way)
        desk.session.start(Project())
        desk.window.documents.open(saved)
        assert desk.session.project.name == name
    assert said[0] == ("1 piece can be read, 0 damaged entries cannot", True)
    assert desk.session.path is None
    assert saved.read_bytes() == whole[: whole.index(b'"layouts"')]
    desk.session.start(Project())
    saved.write_text("shopping list")
    saved.with_name("lamp-suit.ivq~").unlink()
    desk.window.documents.open(saved)
    assert "not JSON" in told(desk)


def test_measures_alone_are_asked_about_by_new_open_and_quit(empty_desk, saved):
    desk = empty_desk
    desk.session.edit("w", lambda p: replace(p, wearers=(Wearer("w", "Wren"),)))
    asked = []
    desk.window.documents.asking.unsaved = lambda name: asked.append(name) or Unsaved.CANCEL
    desk.act("new")
    desk.window.documents.open(saved)
    assert not desk.window.close()
    assert len(asked) == 3
    assert desk.session.project.wearers


def test_messages_stay_at_their_station(empty_desk):
    desk = empty_desk
    desk.session.tell("All 6 pages are joined.", "good")
    assert desk.window.message.isVisible()
    desk.window.go("buy")
    assert not desk.window.message.isVisible()


# Reports


def test_the_log_knows_commands_and_none_of_the_makers_data(tmp_path):
    run = RunLog()
    assert run.begin(tmp_path / "log.txt", tmp_path / "reports") == []
    run.did("save")
    log.info("reading")
    run.end()
    text = (tmp_path / "log.txt").read_text()
    assert "command: save" in text
    assert "begins: Ivory Quilt" in text
    assert list((tmp_path / "reports").iterdir()) == []


def test_a_fault_of_the_last_run_is_made_a_report(tmp_path):
    reports = tmp_path / "reports"
    reports.mkdir()
    (reports / "fault-999999999.txt").write_text("Ivory Quilt\nFatal Python error: Segmentation\n")
    (reports / "fault-999999998.txt").write_text("Ivory Quilt\n")
    run = RunLog()
    (report,) = run.begin(tmp_path / "log.txt", reports)
    run.end()
    assert "Segmentation" in report.read_text()
    assert [p.name for p in reports.iterdir()] == [report.name]
