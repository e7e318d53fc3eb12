"""How much work random tests do: some cases in every run, many in `./quilt test --long`."""

import os

import pytest
from hypothesis import settings

LONG = os.environ.get("IVORY_QUILT_LONG") == "1"
FEW = os.environ.get("IVORY_QUILT_FEW") == "1"  # while thousands of mutants wait


def random_cases(short, long):
    """Mark a property test: `short` random cases as a rule, `long` fresh ones in a long run."""

    def decorate(test):
        return pytest.mark.long(
            settings(max_examples=long if LONG else min(short, 25) if FEW else short)(test)
        )

    return decorate


def seeds(short, long):
    """Return seeds from 1 on for a test marked `long`: `short` as a rule, `long` in a long run."""
    return range(1, 1 + (long if LONG else short))
