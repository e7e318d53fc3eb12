"""A damaged cache of compiled kernels is made anew; a full disk is no reason to stop."""

from pathlib import Path

import pytest
from numba import njit
from numba.core import caching

from ivory_quilt.core.nesting.kernels.cache import CheckedCacheFile

SOURCE = "def one(x):\n    return x + {}\n"


@pytest.fixture
def kept(tmp_path, monkeypatch):
    """Return a maker of one kernel, compiled afresh or loaded, and the files it is kept in."""
    # The compiler reads its environment again when that changed in any test before.
    monkeypatch.setenv("NUMBA_CACHE_DIR", str(tmp_path / "cache"))
    monkeypatch.setattr("numba.core.config.CACHE_DIR", str(tmp_path / "cache"))
    file = tmp_path / "kernel.py"
    file.write_text(SOURCE.format(1))

    def make():
        space = {"__name__": "kernel"}
        exec(compile(file.read_text(), str(file), "exec"), space)
        kernel = njit(cache=True)(space["one"])
        assert kernel(1) == 2
        return (
            kernel.stats.cache_hits[next(iter(kernel.stats.cache_hits))]
            if (kernel.stats.cache_hits)
            else 0
        )

    return make, lambda kind: next(Path(tmp_path / "cache").rglob(f"*.{kind}"))


def test_the_compiler_keeps_kernels_in_checked_files():
    assert caching.IndexDataCacheFile is CheckedCacheFile


def test_what_was_compiled_is_loaded_again(kept):
    make, _ = kept
    assert [make(), make()] == [0, 1]


@pytest.mark.parametrize("kind", ["nbi", "nbc"])
@pytest.mark.parametrize("harm", ["empty", "short", "other", "gone"])
def test_a_damaged_file_is_made_anew(kept, kind, harm):
    make, file = kept
    make()
    path = file(kind)
    whole = path.read_bytes()
    if harm == "gone":
        path.unlink()
    else:
        middle = len(whole) // 2
        path.write_bytes(
            {
                "empty": b"",
                "short": whole[:middle],
                "other": whole[:middle] + b"\0" * 8 + whole[middle + 8 :],
            }[harm]
        )
    make()
    assert make() == 1


def test_a_full_disk_is_no_reason_to_stop(kept, monkeypatch):
    make, _ = kept

    def full(*_):
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(CheckedCacheFile, "_open_for_write", full)
    assert [make(), make()] == [0, 0]
