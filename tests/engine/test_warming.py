"""How long preparing is said to take, and that every kernel is counted."""

import os
import subprocess
import sys

import pytest

from ivory_quilt.engine.warming import FIRST_GUESS, seconds_left


def test_the_first_guess_gives_way_to_how_it_goes():
    assert seconds_left(0.0, 3.0) == FIRST_GUESS
    assert seconds_left(0.25, 20.0) == pytest.approx(0.5 * FIRST_GUESS + 0.5 * 80 - 20)
    assert seconds_left(1.0, 70.0) == 1.0
    # Twice as slow as thought: near the end it is the run itself that counts.
    assert seconds_left(0.81, 81.0) == pytest.approx(19, rel=0.35)


def test_with_nothing_compiled_it_is_told_kernel_by_kernel(tmp_path):
    """One kernel compiled in a process of its own is counted with those that it calls."""
    code = (
        "import numpy as np\n"
        "from numba.core import event\n"
        "from ivory_quilt.core.nesting.kernels.geometry import place_edges\n"
        "from ivory_quilt.engine import warming\n"
        "told = []\n"
        "sizes = {id(d): warming._size(d) for d in warming._dispatchers()}\n"
        "assert len(sizes) > 40, len(sizes)\n"
        "ear = warming._Listener(sizes, sum(sizes.values()), lambda *a: told.append(a))\n"
        "with event.install_listener('numba:compile', ear):\n"
        "    e = np.zeros((3, 4)); p = np.array([0.0, 0, 1, 0, 1])\n"
        "    place_edges(e, 0, 3, p, e.copy(), 0, np.zeros(4))\n"
        "shares = [share for share, _ in told]\n"
        "assert shares[0] == 0.0 and shares == sorted(shares) and 0 < shares[-1] < 0.2, shares\n"
    )

    done = subprocess.run(
        [sys.executable, "-c", code],
        env=os.environ | {"NUMBA_CACHE_DIR": str(tmp_path)},
        capture_output=True,
        text=True,
    )
    assert done.returncode == 0, done.stderr[-1500:]
