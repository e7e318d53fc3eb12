"""New, open, save, bring in: what is asked first, and what happens when it goes wrong."""

from pathlib import Path

import pytest
from PySide6.QtCore import QObject, QTimer, Signal
from PySide6.QtWidgets import QFileDialog, QMenu, QMessageBox, QPushButton, QWidget

from ivory_quilt.core.document.project import Project, set_gap
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.desk.asking import Unsaved
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.drawings import Drawings
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import MOST_RECENT, Settings
from ivory_quilt.files.project_file import load_project, save_project
from tests.desk.test_session import MemoryStore

LAMPLIGHTER = Project("Night lamplighter", (Piece("cap", "Shoulder cap", rectangle(120.0, 80.0)),))


class AtOnce(QObject):
    """Tasks that run where they are asked for."""

    ran = Signal()

    def run(self, work, done):
        try:
            result, error = work(), None
        except Exception as failure:  # noqa: BLE001 - handed over, as the real tasks do
            result, error = None, failure
        done(result, error)


class House:
    def __init__(self, folder):
        self.window = QWidget()
        self.session = Session(MemoryStore())
        self.settings = Settings(folder / "settings.ini")
        self.documents = Documents(self.window, self.session, self.settings)
        at_once = AtOnce().run
        self.drawings = Drawings(
            self.window,
            self.session,
            self.documents,
            lambda work, done, what: at_once(work, done),
            at_once,
            lambda: self.session.project.pieces,
        )
        self.arrived = []
        self.drawings.arrived.connect(self.arrived.append)
        self.said = []
        self.session.told.connect(lambda text, tone: self.said.append((text, tone)))
        self.began = []
        self.documents.began.connect(lambda: self.began.append(1))

    def change(self):
        self.session.edit("gap", lambda p: set_gap(p, p.gap + 1))


@pytest.fixture
def house(qapp, tmp_path):
    return House(tmp_path)


@pytest.fixture
def asked(house, tmp_path):
    """A saved project with a change that is not."""
    house.session.start(LAMPLIGHTER)
    house.session.save(tmp_path / "lamplighter.ivq")
    house.change()
    return house


@pytest.mark.parametrize(
    ("answer", "leaves", "gap"),
    [
        (Unsaved.SAVE, True, 3.0),
        (Unsaved.DISCARD, True, 2.0),
        (Unsaved.CANCEL, False, 2.0),
    ],
)
def test_unsaved_changes_are_saved_or_given_up_only_as_said(asked, tmp_path, answer, leaves, gap):
    asked.documents.asking.unsaved = lambda _: answer
    asked.documents.new()
    assert bool(asked.began) is leaves
    assert (asked.session.project == Project()) is leaves
    assert load_project(tmp_path / "lamplighter.ivq").gap == gap


def test_a_save_that_fails_keeps_the_maker_in_the_project(asked, tmp_path):
    asked.documents.asking.unsaved = lambda _: Unsaved.SAVE
    asked.session.path = tmp_path / "gone" / "lamplighter.ivq"
    asked.documents.new()
    assert not asked.began
    assert asked.session.dirty
    assert asked.said[-1][1] == "cut"


def test_nobody_is_asked_about_a_project_that_is_as_it_began(house):
    house.documents.asking.unsaved = lambda _: pytest.fail("asked")
    assert house.documents.may_leave()


def test_a_wearers_measures_alone_are_worth_a_question(house):
    house.session.edit("wearer", lambda p: replace(p, wearers=(Wearer("w", "Wren"),)))
    house.documents.asking.unsaved = lambda _: Unsaved.CANCEL
    house.documents.new()
    assert [w.name for w in house.session.project.wearers] == ["Wren"]


@pytest.mark.parametrize(
    ("button", "answer"),
    [
        ("Save", Unsaved.SAVE),
        ("Don't save", Unsaved.DISCARD),
        ("Cancel", Unsaved.CANCEL),
        (None, Unsaved.CANCEL),
    ],
)
def test_the_question_is_answered_by_its_buttons(asked, button, answer):
    texts = []

    def press():
        (box,) = asked.window.findChildren(QMessageBox)
        texts.append(box.text())
        if button is None:
            box.close()
        else:
            next(b for b in box.findChildren(QPushButton) if b.text() == button).click()

    QTimer.singleShot(0, press)
    assert asked.documents.asking.unsaved("Night lamplighter") == answer
    assert "Night lamplighter" in texts[0]


def test_saving_asks_where_only_the_first_time(house, tmp_path, monkeypatch):
    offered = []

    def choose(_parent, _title, start, _filter):
        offered.append(Path(start).name)
        return str(tmp_path / "mine"), ""

    monkeypatch.setattr(QFileDialog, "getSaveFileName", choose)
    house.session.start(LAMPLIGHTER)
    assert house.documents.save()
    house.change()
    assert house.documents.save()
    assert offered == ["night-lamplighter.ivq"]
    assert load_project(tmp_path / "mine.ivq").gap == 3.0
    assert house.settings.recent == [tmp_path / "mine.ivq"]


def test_a_save_dialog_that_is_closed_saves_nothing(house, monkeypatch):
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *a: ("", ""))
    house.session.start(LAMPLIGHTER, saved=False)
    assert not house.documents.save()
    assert house.session.dirty


def test_opening_by_dialog_and_by_the_recent_list(house, tmp_path, monkeypatch):
    path = tmp_path / "other.ivq"
    save_project(LAMPLIGHTER, path)
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *a: (str(path), ""))
    house.documents.ask_open()
    assert house.session.project == LAMPLIGHTER
    house.documents.new()
    menu = QMenu()
    house.documents.fill_recent(menu)
    (action,) = menu.actions()
    action.trigger()
    assert house.session.path == path
    assert len(house.began) == 3


def test_the_recent_list_is_short_in_order_and_true(house, tmp_path):
    paths = [tmp_path / f"{k}.ivq" for k in range(MOST_RECENT + 2)]
    for path in paths:
        path.write_text("{}", encoding="utf-8")
        house.settings.add_recent(path)
    assert house.settings.recent == paths[:1:-1]
    house.settings.add_recent(paths[4])
    assert house.settings.recent[0] == paths[4]
    assert len(house.settings.recent) == MOST_RECENT
    paths[4].unlink()
    assert paths[4] not in house.settings.recent
    empty = QMenu()
    for path in paths:
        path.unlink(missing_ok=True)
    house.documents.fill_recent(empty)
    assert not empty.actions()[0].isEnabled()


def test_every_file_of_a_drop_is_taken_or_refused_by_name(house, tmp_path, monkeypatch):
    names = [str(tmp_path / n) for n in ("a.svg", "bad.svg", "notes.txt", "B.SVG")]
    monkeypatch.setattr(QFileDialog, "getOpenFileNames", lambda *a: (names, ""))
    square = '<svg xmlns="http://www.w3.org/2000/svg" width="9mm" height="9mm"><rect/></svg>'
    for name in ("a.svg", "B.SVG"):
        (tmp_path / name).write_text(square)
    (tmp_path / "bad.svg").write_text("no drawing")
    house.drawings.ask_import()
    assert [found.file for found in house.arrived] == ["a.svg", "B.SVG"]
    assert [text.split()[0].rstrip(":") for text, tone in house.said if tone == "cut"] == [
        "bad.svg",
        "notes.txt",
    ]


def test_an_error_that_nobody_expected_is_not_swallowed(house):
    with pytest.raises(ZeroDivisionError):
        house.drawings._have_read(None, ZeroDivisionError("odd"))
