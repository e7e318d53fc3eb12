"""What leaves the bench: the calendar, the week on paper, the journal's table, photos, timers."""

import csv
import io
from datetime import UTC, datetime, timedelta

import pdfplumber
import pytest
import vobject
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.journal.entry import EntryKind, JournalEntry
from ivory_quilt.core.schedule.bench_schedule import DAY, BenchSchedule, PlacedStep
from ivory_quilt.core.schedule.step import BenchStep, StepKind
from ivory_quilt.core.schedule.timer import Moment, Timer
from ivory_quilt.files.calendar_file import calendar_bytes, sittings
from ivory_quilt.files.journal_file import HEADS, write_journal
from ivory_quilt.files.papers.week import first_week, week_bytes
from ivory_quilt.files.photos import keep_photo, move_photos, photo_folder
from ivory_quilt.files.timers_file import load_timers, save_timers
from tests.effort import random_cases

MIDNIGHT = datetime(2027, 3, 1)
WRITTEN = datetime(2027, 2, 1, 12, tzinfo=UTC)
TEXT = st.text(st.characters(blacklist_categories=["Cs", "Cc"]), min_size=1, max_size=90)


def placed(start, minutes=20, title="shin cuff", kind=StepKind.CUT, slack=5):
    step = BenchStep(f"s{start}", kind, title, minutes)
    return PlacedStep(step, start, start + minutes, slack)


def schedule(*steps):
    return BenchSchedule(tuple(steps), 0, optimal=True)


EVENING = 18 * 60 + 30
WEEK = schedule(
    placed(EVENING),
    placed(EVENING + 20, 10, "lantern; hooks, brackets", StepKind.COAT, 0),
    placed(EVENING + 150, 30),
    placed(DAY + EVENING, 60),
    placed(9 * DAY + EVENING, 5),
)


def read(data):
    """Read a calendar with a parser that had no part in writing it."""
    return vobject.readOne(data.decode("utf-8"))


def test_sittings_are_parted_at_night_and_by_long_rests():
    assert [len(s) for s in sittings(WEEK.placed)] == [2, 1, 1, 1]


def test_a_calendar_is_read_by_an_independent_parser():
    data = calendar_bytes(WEEK, MIDNIGHT, "Beetle, lamplighter", "2027-05-08", WRITTEN)
    events = read(data).vevent_list
    assert [e.dtstart.value for e in events[:-1]] == [
        MIDNIGHT + timedelta(minutes=m)
        for m in (EVENING, EVENING + 150, DAY + EVENING, 9 * DAY + EVENING)
    ]
    assert events[0].dtend.value == MIDNIGHT + timedelta(minutes=EVENING + 30)
    assert "18:50 coat: lantern; hooks, brackets (10 min)" in events[0].description.value
    assert events[-1].dtstart.value.isoformat() == "2027-05-08"
    assert len({e.uid.value for e in events}) == len(events)
    # RFC 5545, 3.1: lines end in CRLF and have at most 75 octets.
    lines = data.split(b"\r\n")
    assert b"\n" not in b"".join(lines)
    assert max(map(len, lines)) <= 75


@random_cases(30, 300)
@given(TEXT, st.lists(st.tuples(st.integers(0, 20 * DAY), TEXT), min_size=1, max_size=8))
def test_whatever_things_are_called_the_calendar_holds(name, steps):
    made = schedule(*(placed(start, 7, title) for start, title in steps))
    found = read(calendar_bytes(made, MIDNIGHT, name, "", WRITTEN))
    told = "\n".join(e.description.value for e in found.vevent_list)
    assert all(f"cut: {title}" in told for _, title in steps)


def test_the_week_on_paper_says_everything_once():
    data = week_bytes(WEEK, MIDNIGHT, "Beetle", first_week(WEEK))
    with pdfplumber.open(io.BytesIO(data)) as book:
        text = "\n".join(page.extract_text() for page in book.pages)
        assert (round(book.pages[0].width), round(book.pages[0].height)) == (595, 842)
    assert text.count("cut: shin cuff") == 3
    assert "18:50 coat: lantern; hooks, brackets (cannot be later)" in text
    assert "Monday 01 March" in text
    assert "Respirator" in text
    assert "After this week: 1 evening, done Wednesday 10 March." in text


def test_a_long_week_goes_on_on_the_next_page():
    many = schedule(*(placed(EVENING + k, 1, f"step {k} " + "x" * 200) for k in range(120)))
    data = week_bytes(many, MIDNIGHT, "Beetle", 0)
    with pdfplumber.open(io.BytesIO(data)) as book:
        text = "\n".join(page.extract_text() for page in book.pages)
        right = max(c["x1"] for page in book.pages for c in page.chars)
        assert len(book.pages) > 2
    assert all(f"step {k} " in text for k in range(120))
    assert right < 595


def entry(words="", kind=EntryKind.NOTE, **more):
    return JournalEntry("e", "p", "2027-03-01T19:00:00", kind, words, **more)


def test_the_journals_table_is_read_back_and_no_cell_is_a_formula(tmp_path):
    tricky = ['=1+1 "quoted", with\r\nlines', "+cmd", "-2", "@sum", "plain"]
    entries = [entry(w, EntryKind.CUT, value=2.5, piece="=x") for w in tricky]
    write_journal(entries, tmp_path / "j.csv")
    written = (tmp_path / "j.csv").read_bytes().decode("utf-8")
    rows = list(csv.reader(io.StringIO(written, newline="")))
    assert rows[0] == list(HEADS)
    words = [r[HEADS.index("words")] for r in rows[1:]]
    assert [w[0] for w in words] == ["'", "'", "'", "'", "p"]
    assert {r[HEADS.index("value")] for r in rows[1:]} == {"2.5"}
    write_journal(entries, tmp_path / "j.ods")
    assert (tmp_path / "j.ods").stat().st_size > 500
    with pytest.raises(InputError, match="csv"):
        write_journal(entries, tmp_path / "j.xls")


def test_photos_are_copied_once_and_never_only_linked(tmp_path):
    source = tmp_path / "a photo.png"
    source.write_bytes(b"\x89PNG\r\n\x1a\n" + b"body")
    folder = photo_folder(tmp_path / "suit.ivq", tmp_path)
    name = keep_photo(source, folder)
    assert keep_photo(source, folder) == name
    source.unlink()
    assert (folder / name).read_bytes().endswith(b"body")
    assert folder.name == "suit photos"
    other = photo_folder(tmp_path / "other.ivq", tmp_path)
    move_photos(folder, other, (name, "../../etc/passwd"))
    assert [p.name for p in other.iterdir()] == [name]


@pytest.mark.parametrize(
    ("name", "data"), [("a.txt", b"x"), ("a.png", b"no picture"), ("gone.png", None)]
)
def test_what_is_no_photo_is_refused(tmp_path, name, data):
    source = tmp_path / name
    if data is not None:
        source.write_bytes(data)
    with pytest.raises(InputError):
        keep_photo(source, tmp_path / "photos")
    assert not (tmp_path / "photos").exists()


def test_timers_are_read_as_they_were_written_and_damage_is_told(tmp_path):
    path = tmp_path / "timers.json"
    assert load_timers(path) == ()
    timers = (Timer("a", "cuff", 720, Moment(1.5, "boot", 2.25), 900, "join"),)
    save_timers(path, timers)
    assert load_timers(path) == timers
    path.write_bytes(path.read_bytes()[:-9])
    with pytest.raises(InputError, match="damaged"):
        load_timers(path)
