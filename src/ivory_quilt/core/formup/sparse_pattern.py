"""Sparse matrices that elements add to: where they have entries is found once for several."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from scipy.sparse import bsr_matrix, csc_matrix, csr_matrix

from ivory_quilt.core.formup.assembly import Array, Ints


@dataclass(frozen=True)
class SparsePattern:
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
        pairs = [_in_blocks(v) for v in values]
        at = (9 * self.entry[:, None] + np.arange(9)).ravel()
        size = 9 * len(self.columns)
        data = np.bincount(at, weights=np.concatenate(pairs).ravel(), minlength=size)
        whole = (3 * self.count, 3 * self.count)
        made = bsr_matrix((data.reshape(-1, 3, 3), self.columns, self.starts), shape=whole).tocsr()
        # Of a symmetric matrix rows are columns.
        return csc_matrix((made.data, made.indices, made.indptr), shape=whole)


def _in_blocks(values: Array) -> Array:
    """Return values as 3 × 3 blocks, pair by pair, `(k n², 9)`."""
    corners = values.shape[1] // 3
    cut = values.reshape(len(values), corners, 3, corners, 3).swapaxes(2, 3)
    return cut.reshape(-1, 9)
