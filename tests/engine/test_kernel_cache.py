"""Where compiled kernels are kept."""

from pathlib import Path

from ivory_quilt.engine import kernel_cache


def test_changed_kernels_are_compiled_anew(tmp_path, monkeypatch):
    """A compiled kernel holds those that it calls: an upgrade must not go on with the old ones."""
    folder = tmp_path / "nesting" / "kernels"
    folder.mkdir(parents=True)
    monkeypatch.setattr(kernel_cache, "CORE", tmp_path)
    (folder / "one.py").write_text("one = 1\n")
    found = []
    for text in ("two = 2\n", "two = 3\n", "two = 2\n"):
        (folder / "two.py").write_text(text)
        monkeypatch.delenv("NUMBA_CACHE_DIR", raising=False)
        kernel_cache.use_kernel_cache()
        found.append(kernel_cache.os.environ["NUMBA_CACHE_DIR"])
    assert found[0] != found[1]
    assert found[0] == found[2]
    assert Path(found[0]).parent.name == "kernels"


def test_the_kernels_are_where_they_are_looked_for():
    sources = [p.name for some in kernel_cache.COMPILED for p in kernel_cache.CORE.glob(some)]
    assert len(sources) > 5
    assert "raster.py" in sources


def test_a_folder_that_is_given_stays(monkeypatch):
    monkeypatch.setenv("NUMBA_CACHE_DIR", "elsewhere")
    kernel_cache.use_kernel_cache()
    assert kernel_cache.os.environ["NUMBA_CACHE_DIR"] == "elsewhere"
