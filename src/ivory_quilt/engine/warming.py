"""Loading the kernels, and saying how far it is where they must be compiled first."""

import importlib
import math
import pkgutil
import time
from collections.abc import Callable
from typing import Any

from numba.core import event
from numba.core.dispatcher import Dispatcher

from ivory_quilt.core.formup import kernels as form_kernels
from ivory_quilt.core.formup.solver import load_kernels
from ivory_quilt.core.nesting import kernels
from ivory_quilt.core.nesting.engine import warm_up
from ivory_quilt.core.rendering import raster
from ivory_quilt.core.rendering.scene import load_painter

FIRST_GUESS = 45.0  # s that compiling all takes, while nothing is known yet

Tell = Callable[[float, float], object]
"""Called with the share that is done, and the seconds that the rest is thought to take."""


def prepare(tell: Tell) -> None:
    """Load every kernel; those that are not in the cache are compiled, kernel by kernel.

    `tell` is called only while something is compiled. Kernels take about as long as they are large;
    those that the cache holds count as done when one that calls them is.
    """
    sizes = {id(d): _size(d) for d in _dispatchers()}
    whole = sum(sizes.values())
    listener = _Listener(sizes, whole, tell)
    with event.install_listener("numba:compile", listener):
        warm_up()
        load_painter()
        load_kernels()


class _Listener(event.Listener):  # type: ignore[misc]
    def __init__(self, sizes: dict[int, int], whole: int, tell: Tell) -> None:
        self._sizes, self._whole, self._tell = sizes, whole, tell
        self._done: set[int] = set()
        self._began: float | None = None

    def on_start(self, _event: Any) -> None:
        if self._began is None:
            self._began = time.monotonic()
            self._tell(0.0, FIRST_GUESS)

    def on_end(self, ended: Any) -> None:
        self._done.add(id(ended.data["dispatcher"]))
        share = sum(self._sizes.get(k, 0) for k in self._done) / self._whole
        assert self._began is not None
        self._tell(share, seconds_left(share, time.monotonic() - self._began))


def seconds_left(share: float, spent: float) -> float:
    """Return how long the rest is thought to take.

    At first by what it usually takes, later more and more by how it went.
    """
    if share <= 0:
        return FIRST_GUESS
    trust = math.sqrt(share)
    whole = FIRST_GUESS * (1 - trust) + spent / share * trust
    return max(1.0, whole - spent)


def _dispatchers() -> list[Any]:
    """Return all compiled functions of the kernels."""
    found: dict[int, Any] = {}
    names = [m.name for m in pkgutil.iter_modules(kernels.__path__, kernels.__name__ + ".")]
    for module in (*map(importlib.import_module, names), raster, form_kernels):
        for value in vars(module).values():
            if isinstance(value, Dispatcher):
                found[id(value)] = value
    return list(found.values())


def _size(dispatcher: Any) -> int:
    return len(dispatcher.py_func.__code__.co_code)
