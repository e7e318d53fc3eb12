"""Where things of ours are kept."""

from pathlib import Path

from ivory_quilt.shop import places


def test_changed_kernels_are_compiled_anew(tmp_path, monkeypatch):
    """A compiled kernel holds those that it calls: an upgrade must not go on with the old ones."""
    monkeypatch.setattr(places, "KERNELS", tmp_path)
    (tmp_path / "one.py").write_text("one = 1\n")
    found = []
    for text in ("two = 2\n", "two = 3\n", "two = 2\n"):
        (tmp_path / "two.py").write_text(text)
        monkeypatch.delenv("NUMBA_CACHE_DIR", raising=False)
        places.use_kernel_cache()
        found.append(places.os.environ["NUMBA_CACHE_DIR"])
    assert found[0] != found[1]
    assert found[0] == found[2]
    assert Path(found[0]).parent.name == "kernels"


def test_the_kernels_are_where_they_are_looked_for():
    assert len(list(places.KERNELS.glob("*.py"))) > 5


def test_a_folder_that_is_given_stays(monkeypatch):
    monkeypatch.setenv("NUMBA_CACHE_DIR", "elsewhere")
    places.use_kernel_cache()
    assert places.os.environ["NUMBA_CACHE_DIR"] == "elsewhere"
