"""Matrices that elements add to, against SciPy's own sums of triplets."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.sparse import coo_matrix

from ivory_quilt.core.formup.sparse_pattern import SparsePattern
from tests.effort import random_cases

COUNT = 9


@st.composite
def elements(draw, corners):
    """Return elements of that many different numbers each, perhaps the same ones twice."""
    rows = draw(
        st.lists(
            st.lists(st.integers(0, COUNT - 1), min_size=corners, max_size=corners, unique=True),
            min_size=1,
            max_size=12,
        )
    )
    return np.array(rows, dtype=np.int64)


def summed(numbers, values, count):
    """Return SciPy's sum of elements' values, dense."""
    size = numbers.shape[1]
    rows = np.repeat(numbers, size, axis=1).ravel()
    columns = np.tile(numbers, (1, size)).ravel()
    return coo_matrix((values.ravel(), (rows, columns)), shape=(count, count)).toarray()


@random_cases(40, 2000)
@given(elements(3), st.integers(0, 2**32 - 1))
def test_a_matrix_is_the_sum_of_its_elements(numbers, seed):
    values = np.random.default_rng(seed).normal(size=(len(numbers), 3, 3))
    made = SparsePattern.of((numbers,), COUNT).matrix(values)
    assert made.toarray() == pytest.approx(summed(numbers, values, COUNT))
    assert made.has_sorted_indices


@random_cases(40, 2000)
@given(elements(3), elements(4), st.integers(0, 2**32 - 1))
def test_blocks_are_the_sum_of_elements_of_several_kinds(three, four, seed):
    random = np.random.default_rng(seed)
    kinds, wanted, values = (three, four), np.zeros((3 * COUNT, 3 * COUNT)), []
    for numbers in kinds:
        size = 3 * numbers.shape[1]
        some = random.normal(size=(len(numbers), size, size))
        values.append(some + some.swapaxes(1, 2))
        spread = (3 * numbers[:, :, None] + np.arange(3)).reshape(len(numbers), -1)
        wanted += summed(spread, values[-1], 3 * COUNT)
    made = SparsePattern.of(kinds, COUNT).blocks(values)
    assert made.toarray() == pytest.approx(wanted)
