"""How many processor cores there are, and how many of them work is given."""

import os


def usual_workers() -> int:
    """Return how many engine processes a machine is given: a core is left for the maker."""
    return max(1, cores() - 1)


def cores() -> int:
    """Return how many processor cores this program may use."""
    return len(os.sched_getaffinity(0))
