"""The compiled kernels' cache, made safe: what is damaged in it is dropped and compiled anew.

The compiler takes a file that was cut short or overwritten for good, and a full disk for a reason
to stop. Here each compiled kernel is kept with its checksum; one that does not match, or an index
that cannot be read, counts as absent, and a kernel that cannot be kept is used all the same.
"""

import contextlib
import hashlib
import pickle
from typing import Any

from numba.core import caching


class CheckedCacheFile(caching.IndexDataCacheFile):  # type: ignore[misc]
    """The cache files of one kernel, each compiled form with its checksum before it."""

    def load(self, key: object) -> Any:
        """Return a compiled kernel, or None where there is none that is whole."""
        try:
            return super().load(key)
        except Exception:  # noqa: BLE001 - whatever is wrong with the files: compile anew
            self._drop()
            return None

    def save(self, key: object, data: Any) -> None:
        """Keep a compiled kernel if that can be done."""
        for _ in range(2):
            try:
                super().save(key, data)
            except Exception:  # noqa: BLE001 - a bad index or a full disk: the kernel works
                self._drop()
            else:
                return

    def _drop(self) -> None:
        with contextlib.suppress(OSError):
            self.flush()

    def _load_data(self, name: str) -> Any:
        found, data = super()._load_data(name)
        if hashlib.sha256(data).digest() != found:
            raise ValueError(f"{name} is damaged")
        return pickle.loads(data)

    def _save_data(self, name: str, data: Any) -> None:
        made = self._dump(data)
        super()._save_data(name, (hashlib.sha256(made).digest(), made))


def use_checked_files() -> None:
    """Let the compiler keep kernels in checked files from now on."""
    caching.IndexDataCacheFile = CheckedCacheFile
