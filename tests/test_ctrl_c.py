"""Ctrl-C on the command line: heard at any moment, said in one sentence."""

import os
import signal
import subprocess
import sys
import time
from pathlib import Path

import pytest

from ivory_quilt.cli.interrupts import ctrl_c_heard
from ivory_quilt.core.errors import Stopped


def _hears_ctrl_c(pid):
    caught = next(
        line.split()[1]
        for line in Path(f"/proc/{pid}/status").read_text().splitlines()
        if line.startswith("SigCgt:")
    )
    return bool(int(caught, 16) >> (signal.SIGALRM - 1) & 1)


@pytest.mark.parametrize("moment", [0.0, 0.4, 0.8, 1.5])
@pytest.mark.parametrize("verb", ["read", "warm"])
def test_ctrl_c_while_modules_load_or_work_goes_on_is_said_in_a_sentence(verb, moment, tmp_path):
    wide = tmp_path / "wide.svg"
    rects = "".join(
        f'<rect x="{k % 300 * 3.3}" y="{k // 300 * 3.3}" width="2" height="2"/>'
        for k in range(60000)
    )
    wide.write_text(
        '<svg xmlns="http://www.w3.org/2000/svg" width="1000mm" height="1000mm" '
        f'viewBox="0 0 1000 1000">{rects}</svg>'
    )
    out = tmp_path / "o.json"
    arguments = {"read": ["read", str(wide), "--out", str(out)], "warm": ["warm"]}[verb]
    process = subprocess.Popen(
        [sys.executable, "-m", "ivory_quilt.cli", *arguments],
        stdout=subprocess.PIPE,
        stderr=subprocess.PIPE,
        text=True,
        env=os.environ | {"NUMBA_CACHE_DIR": str(tmp_path / "cold")},
    )
    while not _hears_ctrl_c(process.pid):
        time.sleep(0.01)
    time.sleep(moment)
    process.send_signal(signal.SIGINT)
    _, said = process.communicate(timeout=30)
    assert said == "ivory-quilt: stopped before there was anything to keep\n"
    assert process.returncode == 3
    assert not out.exists()


def test_an_interrupt_that_somebody_swallows_is_raised_again():
    heard, before = [], signal.getsignal(signal.SIGINT)

    def swallows():
        while len(heard) < 2:
            try:
                time.sleep(5)
            except BaseException as error:
                heard.append(error)
                if len(heard) == 2:
                    raise ImportError("a module failed to load") from error

    with pytest.raises(Stopped), ctrl_c_heard():
        signal.raise_signal(signal.SIGINT)
        pytest.fail("the interrupt was not raised")
    started = time.monotonic()
    with pytest.raises(Stopped), ctrl_c_heard():
        signal.setitimer(signal.ITIMER_REAL, 0.01)
        swallows()
    assert time.monotonic() - started < 3
    assert signal.getsignal(signal.SIGINT) is before
