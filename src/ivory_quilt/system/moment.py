"""Now: by the wall's clock, and by the machine's own, which sleeps and settings do not touch."""

import time
from functools import lru_cache
from pathlib import Path

from ivory_quilt.core.schedule.timer import Moment

_BOOT = Path("/proc/sys/kernel/random/boot_id")


@lru_cache(maxsize=1)
def _boot() -> str:
    """Return which start of the machine this is; empty where the system does not say."""
    try:
        return _BOOT.read_text(encoding="ascii").strip()
    except OSError:
        return ""


def moment() -> Moment:
    """Return now."""
    return Moment(time.time(), _boot(), time.clock_gettime(time.CLOCK_BOOTTIME))
