"""The Journal: told, searched, learned from; photos kept; what is cut notes itself."""

from datetime import datetime

import pytest
from PySide6.QtGui import QColor, QImage
from PySide6.QtWidgets import QLabel, QPushButton

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.stations.journal.view import JournalMode
from tests.desk.conftest import let_run

EVA6 = Foam(6.0, "eva")


@pytest.fixture
def desk(make_desk):
    pieces = (Piece("p", "plate", rectangle(300, 200)), Piece("q", "cuff", rectangle(200, 90)))
    made = make_desk(Project("Beetle", pieces), fill=False)
    made.store.put(sheet("s", "half sheet", EVA6, (1000, 500), owned=2))
    made.session.reload_stock()
    made.rested()
    made.journal = made.window.journal
    made.journal.presenter.now = lambda: datetime(2027, 3, 1, 19, 30)
    made.window.go("journal")
    return made


def words(widget):
    return [x.text() for x in widget.findChildren(QLabel)]


def wanted(desk):
    """Return the parts that are still to be laid."""
    return [p.id for p in desk.session.plan.foam(EVA6).job.pieces if p.quantity]


def press(widget, text):
    next(b for b in widget.findChildren(QPushButton) if b.text() == text).click()
    let_run()


def tell(desk, kind, text="", piece="", value="", photos=()):
    card = desk.journal.entry_card
    card.begin(kind, piece=piece, words=text)
    if value:
        card.value.setText(value)
    card.take_photos(tuple(photos))
    card.tell()
    let_run()
    return card.error.text()


def page(desk, mode):
    desk.journal.go_to(mode)
    let_run()
    return words(desk.journal.pages[mode].widget())


def test_an_entry_is_told_found_and_taken_out_again(desk):
    assert tell(desk, EntryKind.WORN, "the left shoulder slipped", value="3") == ""
    assert tell(desk, EntryKind.FIT, "cuff sits", piece="q") == ""
    shown = page(desk, JournalMode.ENTRIES)
    assert "the left shoulder slipped" in shown
    assert "3 h" in shown
    desk.journal.search.setText("CUFF")
    assert "the left shoulder slipped" not in page(desk, JournalMode.ENTRIES)
    inside = desk.journal.pages[JournalMode.ENTRIES].widget()
    next(b for b in inside.findChildren(QPushButton) if b.text() == "Remove").click()
    assert [e.kind for e in desk.store.entries()] == [EntryKind.WORN]


def test_what_makes_no_sense_is_said_and_nothing_is_lost(desk):
    assert "soon" in tell(desk, EntryKind.WORN, "long", value="soon")
    card = desk.journal.entry_card
    assert card.words.toPlainText() == "long"
    card.piece.setText("cuf")
    card.value.setText("2")
    card.tell()
    assert "cuff" in card.error.text()
    assert desk.store.entries() == ()


def test_photos_lie_beside_the_project_and_on_the_board(desk, tmp_path):
    desk.session.save(tmp_path / "suit.ivq")
    image = QImage(300, 200, QImage.Format.Format_RGB32)
    image.fill(QColor("teal"))
    image.save(str(tmp_path / "wing.png"))
    assert tell(desk, EntryKind.REFERENCE, "wing case", "p", photos=[tmp_path / "wing.png"]) == ""
    (name,) = desk.store.entries()[0].photos
    assert (tmp_path / "suit photos" / name).exists()
    (tmp_path / "wing.png").unlink()
    desk.journal.go_to(JournalMode.PICTURES)
    assert desk.journal.board.item(0).text() == "plate"
    assert not desk.journal.board.item(0).icon().isNull()
    (tmp_path / "note.txt").write_text("x")
    assert "photo" in tell(desk, EntryKind.NOTE, "x", photos=[tmp_path / "note.txt"])


def test_a_sheet_that_is_cut_notes_itself_and_a_spoiled_part_is_asked_for_again(desk):
    desk.window.go("cut")
    station = desk.window.stations["cut"]
    station.show_list.click()
    press(station.list, "It is cut")
    (spent,) = desk.session.project.spent
    noted = {e.kind: e for e in desk.store.entries()}
    assert noted[EntryKind.CUT].value == len(spent.parts)
    assert noted[EntryKind.FOAM].planned == pytest.approx(spent.part_area / 1e6)
    assert wanted(desk) == []
    desk.window.go("journal")
    assert tell(desk, EntryKind.SPOILED, "dull blade", "p", "1") == ""
    # It is laid and cut again.
    assert wanted(desk) == ["p"]
    # A second one was never cut: the entry stands, and nothing more is asked for.
    assert tell(desk, EntryKind.SPOILED, "again", "p", "1") == ""
    assert len(desk.store.entries()) == 4
    desk.session.undo()
    desk.session.undo()
    assert EntryKind.CUT not in {e.kind for e in desk.store.entries()}


def test_what_was_learned_is_accepted_and_every_plan_uses_it(desk):
    for n, minutes in enumerate((15, 15.5, 14.5)):
        entry = JournalEntry(f"t{n}", "", "2027-03-01T19:00:00", EntryKind.TIME, "cut", "Beetle")
        desk.store.put_entry(replace(entry, about="cut", value=minutes, planned=10.0))
    desk.journal.presenter.reload()
    shown = page(desk, JournalMode.LEARNED)
    assert "1 → 1.5 ×" in shown
    inside = desk.journal.pages[JournalMode.LEARNED].widget()
    next(b for b in inside.findChildren(QPushButton) if b.text() == "Accept").click()
    assert desk.session.stock.rates.pace("cut") == pytest.approx(1.5, abs=0.01)
    assert desk.store.stock().rates == desk.session.stock.rates
    page(desk, JournalMode.ACTUAL)
    (line,) = desk.journal.presenter.actuals()
    assert (line.planned, line.actual) == (pytest.approx(45, abs=0.1), 45.0)


def test_two_projects_are_told_apart_and_compared(desk):
    other = JournalEntry(
        "o", "elsewhere", "2026-01-01T10:00:00", EntryKind.WORN, "rain", "Moth", value=2.0
    )
    desk.store.put_entry(other)
    desk.journal.presenter.reload()
    assert "rain" not in page(desk, JournalMode.ENTRIES)
    desk.journal.everywhere.click()
    assert "rain" in page(desk, JournalMode.ENTRIES)
    assert any("worn 2 h" in w for w in page(desk, JournalMode.ACTUAL))


def test_the_journal_is_written_as_a_table(desk, tmp_path):
    tell(desk, EntryKind.NEXT, "cut the rim last")
    desk.journal.presenter.export(tmp_path / "journal.csv")
    assert "cut the rim last" in (tmp_path / "journal.csv").read_text()
