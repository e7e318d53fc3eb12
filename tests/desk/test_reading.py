"""A file at work: the window stays alive, says how far it is, and can be told to stop."""

import time
from functools import partial

from ivory_quilt.core.errors import InputError, Stopped
from ivory_quilt.files.apart import ReaderCrash
from tests.desk.conftest import let_run
from tests.files.test_apart import SQUARE, native_fault, slow, wrong


def test_a_long_reading_shows_its_progress_and_is_cancelled_at_once(empty_desk, tmp_path):
    desk, ended = empty_desk, []
    window = desk.window
    path = tmp_path / "plate.svg"
    path.write_bytes(SQUARE)
    window.reading.run(partial(slow, 60.0), lambda *answer: ended.append(answer), "wide.svg")
    window.drawings.read_files([path])  # waits behind it
    bar = window.reading_bar
    assert not bar.isVisible()  # most files are read before anyone could look
    assert let_run(lambda: "counting" in bar.text.text(), 20)
    assert let_run(bar.isVisible, 5)
    assert bar.text.text().startswith("Reading wide.svg: counting · ")
    window.resize(1100, 700)
    let_run()
    assert bar.parentWidget().rect().contains(bar.geometry())
    began = time.monotonic()
    bar.cancel.click()
    assert let_run(lambda: bool(ended), 2)
    assert time.monotonic() - began < 1.0
    result, error = ended[0]
    assert result is None
    assert isinstance(error, Stopped)
    # What waited behind it comes in.
    assert let_run(lambda: bool(desk.session.project.pieces), 20)
    assert let_run(lambda: not bar.isVisible(), 5)


def test_a_reader_that_faults_costs_its_file_alone(empty_desk):
    desk, ended = empty_desk, []
    for work in (native_fault, wrong):
        desk.window.reading.run(work, lambda *answer: ended.append(answer), "odd.dxf")
    assert let_run(lambda: len(ended) == 2, 30)
    assert isinstance(ended[0][1], InputError)
    assert isinstance(ended[1][1], ReaderCrash)


def test_closing_the_window_does_not_wait_for_a_reader(make_desk):
    desk = make_desk()
    desk.window.reading.run(partial(slow, 60.0), lambda *_: None, "wide.svg")
    let_run(seconds=0.9)
    began = time.monotonic()
    desk.window.reading.close()
    assert time.monotonic() - began < 3.0
