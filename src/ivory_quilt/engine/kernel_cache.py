"""Where compiled kernels are kept between runs."""

import hashlib
import os
from pathlib import Path

import platformdirs

from ivory_quilt.system.folders import APP, can_write, folder_for_this_run

CORE = Path(__file__).parents[1] / "core"
COMPILED = ("nesting/kernels/*.py", "rendering/raster.py")


def use_kernel_cache() -> None:
    """Let compiled kernels be kept in a folder of ours; call before the engine is imported.

    Each state of the kernels has a folder of its own: a compiled kernel holds the others that it
    calls, and would go on with what they were before an upgrade. Where nothing can be written
    there, a folder for this run alone takes its place.
    """
    if "NUMBA_CACHE_DIR" in os.environ:
        return
    state = hashlib.sha256()
    for source in sorted(path for some in COMPILED for path in CORE.glob(some)):
        state.update(source.read_bytes())
    folder = platformdirs.user_cache_path(APP) / "kernels" / state.hexdigest()[:16]
    if not can_write(folder):
        folder = folder_for_this_run("kernels")
    os.environ["NUMBA_CACHE_DIR"] = str(folder)
