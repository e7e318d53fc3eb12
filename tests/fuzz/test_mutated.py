"""A fresh hundred of each kind every time; `./quilt fuzz` does ten thousand."""

import time

import pytest

from tests.effort import FEW, LONG
from tests.fuzz.mutate import mutated
from tests.fuzz.run import faults
from tests.fuzz.subjects import SUBJECTS

COUNT = 2000 if LONG else 60 if FEW else 100


@pytest.mark.parametrize("kind", list(SUBJECTS))
def test_mutated_files_are_read_or_refused_in_a_sentence(kind):
    found, figures = faults(kind, COUNT, int(time.time()))
    assert found == []
    assert figures["refused"] < COUNT
    assert figures["refused"] or kind == "store"  # which always opens, in its own place or another
    assert figures["peak"] < 1000


def test_a_mutation_is_the_same_for_the_same_seed():
    data = SUBJECTS["svg"][2]()
    assert mutated(data, 3) == mutated(data, 3) != mutated(data, 4)
