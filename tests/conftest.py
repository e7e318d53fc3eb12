"""Shared fixtures: everything runs without a screen, a network, or the maker's own files."""

import os
import threading

import pytest
from hypothesis import HealthCheck, settings

from ivory_quilt.core.units import LengthUnit, show_figures
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from tests.effort import FEW, LONG

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")

use_kernel_cache()  # before any test changes where user folders are

settings.register_profile(
    "quilt",
    derandomize=True,
    deadline=None,
    suppress_health_check=[HealthCheck.too_slow, HealthCheck.data_too_large],
)
settings.register_profile(
    "quilt-long", settings.get_profile("quilt"), derandomize=False, print_blob=True
)
settings.register_profile("quilt-few", settings.get_profile("quilt"), max_examples=25)
settings.load_profile("quilt-long" if LONG else "quilt-few" if FEW else "quilt")


@pytest.fixture(autouse=True)
def own_folders(tmp_path_factory, monkeypatch):
    """Keep the maker's own settings and store out of every test."""
    home = tmp_path_factory.mktemp("home")
    for name in ("CONFIG", "DATA", "STATE"):
        monkeypatch.setenv(f"XDG_{name}_HOME", str(home / name.lower()))
    runtime = home / "run"
    runtime.mkdir(mode=0o700)
    monkeypatch.setenv("XDG_RUNTIME_DIR", str(runtime))


@pytest.fixture(autouse=True)
def usual_figures():
    """Figures are shown with a point, lengths in millimetres, whatever the test before liked."""
    show_figures(comma=False, unit=LengthUnit.MM)
    yield
    show_figures(comma=False, unit=LengthUnit.MM)


# What the cluster library keeps going for the whole process, or for its own workers.
LIBRARIES = ("Dummy", "Dask", "IO loop", "AsyncProcess", "QueueFeederThread")


@pytest.fixture(autouse=True)
def no_thread_left():
    """A test that leaves a thread running would disturb those after it: close its window."""
    before = set(threading.enumerate())
    yield
    left = []
    for thread in set(threading.enumerate()) - before:
        # Told to stop, and waited for ten seconds at most: they end by themselves.
        if thread.name.startswith(("lay", "tasks")):
            thread.join(20.0)
        if thread.is_alive() and not thread.name.startswith(LIBRARIES):
            left.append(thread.name)
    assert not left, f"threads left running: {left}; close the window or the engine in the test"
