"""Readers in a process of their own: limits kept, sentences told, the process there again."""

import os
import signal
import threading
import time
from functools import partial

import pytest
from PIL import Image, ImageDraw

from ivory_quilt.core.errors import InputError, Stopped
from ivory_quilt.core.reading.progress import ReadProgress
from ivory_quilt.desk.imports.reader import read_pages
from ivory_quilt.files.apart import Apart, Limits, ReaderCrash
from ivory_quilt.files.drawings import ReadOptions, read_drawing

SQUARE = (
    b'<svg xmlns="http://www.w3.org/2000/svg" width="90mm" height="90mm" viewBox="0 0 90 90">'
    b'<rect id="plate" width="50" height="40"/></svg>'
)


def number():
    return os.getpid()


def slow(seconds, *, report):
    end = time.monotonic() + seconds
    k = 0
    while time.monotonic() < end:
        k += 1
        report(ReadProgress(k, 0, "counting"))
        time.sleep(0.01)
    return k


def greedy(amount):
    return len(bytearray(amount))


def native_fault():
    os.kill(os.getpid(), signal.SIGSEGV)


def refused():
    raise InputError("collar.svg", "it is torn", "a whole drawing")


def wrong():
    return 1 / 0


def deep():
    return deep()


def grab_terabytes():
    import numpy as np

    return np.zeros(10**13)


@pytest.fixture(scope="module")
def apart():
    with Apart(Limits(seconds=3.0)) as made:
        yield made


def test_a_drawing_is_read_as_here(apart):
    there = apart.run(read_drawing, SQUARE, "plate.svg", ReadOptions(), what="plate.svg")
    assert there == read_drawing(SQUARE, "plate.svg")
    assert not there.pieces[0].shape.outer.flags.writeable
    assert apart.peak > 10_000_000


def test_one_process_serves_reading_after_reading(apart):
    first = apart.run(number, what="x")
    assert first != os.getpid()
    with pytest.raises(InputError, match=r"collar.svg: it is torn; expected a whole drawing"):
        apart.run(refused, what="x")
    for work in (wrong, deep):
        with pytest.raises(ReaderCrash):
            apart.run(work, what="x")
    assert apart.run(number, what="x") == first


@pytest.mark.parametrize("work", [partial(greedy, 2_000_000_000), grab_terabytes])
def test_a_reader_that_takes_too_much_memory_is_told_so(apart, work):
    with pytest.raises(InputError, match=r"wide.svg: reading it takes more than 1 GB of memory"):
        apart.run(work, what="wide.svg")
    assert apart.run(greedy, 1000, what="x") == 1000


def test_a_reader_that_ends_its_process_takes_nothing_along(apart):
    with pytest.raises(InputError, match="simpler file"):
        apart.run(native_fault, what="odd.pdf")
    assert apart.run(greedy, 1000, what="x") == 1000


def test_a_reader_that_never_ends_is_ended(apart):
    began = time.monotonic()
    with pytest.raises(InputError, match=r"long.dxf: reading it takes longer than 3 s"):
        apart.run(slow, 60.0, what="long.dxf")
    assert time.monotonic() - began < 4.5


def test_cancel_is_at_once_and_progress_is_told_meanwhile(apart):
    apart.start()
    told, stopped = [], []

    def report(progress):
        told.append(progress)
        if progress.done <= 5:
            return True
        stopped.append(time.monotonic())
        return False

    with pytest.raises(Stopped, match=r"long.svg: not read"):
        apart.run(slow, 60.0, what="long.svg", report=report)
    assert time.monotonic() - stopped[0] < 1.0
    assert told[-1].words == "counting"


def test_a_pattern_of_many_scanned_pages_has_room(tmp_path):
    """Eight sheets of A4 at 300 dpi: a usual scan must not be taken for a hostile one."""
    paths = []
    for k in range(8):
        image = Image.new("L", (2480, 3508), 245)
        pen = ImageDraw.Draw(image)
        for x, y in ((200, 200), (2280, 200), (200, 3300), (2280, 3300)):
            pen.line((x - 60, y, x + 60, y), fill=10, width=5)
            pen.line((x, y - 60, x, y + 60), fill=10, width=5)
        pen.ellipse((500, 700, 1900, 2800), outline=20, width=6)
        paths.append(tmp_path / f"page-{k}.png")
        image.save(paths[-1], dpi=(300, 300))
    with Apart() as apart:
        found = apart.run(read_pages, paths, what="pages")
        assert [len(page.marks) for page in found.pages] == [4] * 8
        assert apart.peak < 700e6


def test_the_process_ends_with_the_one_that_began_it():
    """A killed window leaves no reader behind."""
    inner = os.pipe()
    child = os.fork()
    if child == 0:
        apart = Apart()
        os.write(inner[1], f"{apart.run(number, what='x')}\n".encode())
        os._exit(0)
    reader = int(os.read(inner[0], 50))
    os.waitpid(child, 0)
    gone = threading.Event()
    for _ in range(200):
        try:
            os.kill(reader, 0)
        except ProcessLookupError:
            gone.set()
            break
        with open(f"/proc/{reader}/stat") as stat:
            if stat.read().split()[2] == "Z":
                gone.set()
                break
        time.sleep(0.01)
    assert gone.is_set()
