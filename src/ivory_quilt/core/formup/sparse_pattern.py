"""Sparse matrices that elements add to: where they have entries is found once for several."""

from collections.abc import Sequence
from functools import cached_property

import numpy as np
import numpy.typing as npt
from scipy.sparse import csc_matrix, csr_matrix

from ivory_quilt.core.formup.assembly import Array, Ints
from ivory_quilt.core.record import Struct

Numbers = npt.NDArray[np.int32]  # as SciPy keeps rows and columns


class SparsePattern(Struct, frozen=True, dict=True):
    """Where a symmetric matrix has entries, row by row.

    Attributes:
        count: rows.
        columns: of all entries, rising in each row; `starts` is where each row's begin.
        entry: which entry each of the pairs belongs to that it was made of.
    """

    count: int
    columns: Ints
    starts: Ints
    entry: Ints

    @classmethod
    def of(cls, elements: Sequence[Ints], count: int) -> "SparsePattern":
        """Return the pattern of elements' numbers, each `(k, n)`: all pairs of the n meet."""
        codes = [(e[:, :, None] * count + e[:, None, :]).ravel() for e in elements]
        known, entry = np.unique(np.concatenate(codes), return_inverse=True)
        rows, columns = np.divmod(known, count)
        starts = np.searchsorted(rows, np.arange(count + 1))
        return cls(count, columns.astype(np.int32), starts.astype(np.int32), entry.ravel())

    def matrix(self, values: Array) -> csr_matrix:
        """Return the sum of elements' values, pair by pair as they were given."""
        data = np.bincount(self.entry, weights=values.ravel(), minlength=len(self.columns))
        return csr_matrix((data, self.columns, self.starts), shape=(self.count, self.count))

    def blocks(self, values: Sequence[Array]) -> csc_matrix:
        """Return the sum of elements' values, each `(k, 3 n, 3 n)`: 3 rows for each number.

        The sum must be symmetric.
        """
        at, rows, starts = self._in_threes
        pairs = np.concatenate([_in_blocks(v) for v in values])
        data = np.bincount(at, weights=pairs.ravel(), minlength=len(rows))
        # Of a symmetric matrix rows are columns.
        return csc_matrix((data, rows, starts), shape=(3 * self.count, 3 * self.count))

    @cached_property
    def _in_threes(self) -> tuple[Ints, Numbers, Numbers]:
        """Where the values of all blocks go, and the pattern, with 3 rows for each number."""
        first, blocks = self.starts[:-1], np.diff(self.starts)
        row = np.repeat(np.arange(self.count), blocks)
        before = 9 * first[row] + 3 * (np.arange(len(self.columns)) - first[row])
        three = np.arange(3)
        down = (3 * blocks[row])[:, None] * three
        spots = before[:, None, None] + down[:, :, None] + three  # of each block's nine
        rows = np.empty(spots.size, dtype=np.int32)
        rows[spots] = np.broadcast_to(3 * self.columns[:, None, None] + three, spots.shape)
        begins = (9 * first[:, None] + 3 * blocks[:, None] * three).ravel()
        starts = np.append(begins, spots.size).astype(np.int32)
        return spots.reshape(-1, 9)[self.entry].ravel(), rows, starts


def _in_blocks(values: Array) -> Array:
    """Return values as 3 × 3 blocks, pair by pair, `(k n², 9)`."""
    corners = values.shape[1] // 3
    cut = values.reshape(len(values), corners, 3, corners, 3).swapaxes(2, 3)
    return cut.reshape(-1, 9)
