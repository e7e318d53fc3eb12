"""Which processes run on this machine: what one that is gone left behind is nobody's."""

import os


def runs(process: int) -> bool:
    """Return whether a process of that number runs, whoever began it."""
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
