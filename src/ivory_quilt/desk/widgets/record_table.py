"""A table of records of one kind, typed into cell by cell, with an empty row to add."""

from collections.abc import Callable, Sequence
from typing import Generic, TypeVar

from PySide6.QtCore import QSignalBlocker

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.widgets.typed_table import TypedTable

T = TypeVar("T")


class Column(Struct, Generic[T], frozen=True):
    """One column: how it is shown, and what a typed text makes of goods; None: shown only.

    `take` raises `InputError` where the text makes no sense.
    """

    head: str
    show: Callable[[T], str]
    take: Callable[[T, str], T] | None = None


class RecordTable(TypedTable, Generic[T]):
    """Shows goods as they are; what is typed is put back, or complained of."""

    def __init__(
        self,
        name: str,
        columns: Sequence[Column[T]],
        goods: Callable[[], Sequence[T]],
        put: Callable[[T], object],
        complain: Callable[[str], object],
        *,
        remove: Callable[[T], object] | None = None,
        fresh: Callable[[str], T] | None = None,
    ) -> None:
        """Show `goods()` and `put` what is changed.

        `remove` is called when the first cell is emptied, `fresh` makes goods of a first cell typed
        into the empty row.
        """
        super().__init__([c.head for c in columns], name)
        self._columns, self._goods, self._put = columns, goods, put
        self._complain, self._remove, self._fresh = complain, remove, fresh
        self._shown: list[T] = []
        self.cellChanged.connect(self._typed)

    def fill(self) -> None:
        """Show the goods as they are now."""
        with QSignalBlocker(self):
            self._shown = list(self._goods())
            rows = len(self._shown)
            self.setRowCount(rows + (self._fresh is not None))
            for r, one in enumerate(self._shown):
                for c, column in enumerate(self._columns):
                    typed = column.take is not None or (c == 0 and self._remove is not None)
                    self.put(r, c, column.show(one), typed=typed)
            if self._fresh is not None:
                for c in range(len(self._columns)):
                    self.put(rows, c, "", typed=c == 0)
            self.resizeColumnsToContents()

    def _typed(self, r: int, c: int) -> None:
        text, take = self.text(r, c), self._columns[c].take
        try:
            if r >= len(self._shown):
                if text.strip() and self._fresh is not None:
                    self._put(self._fresh(text.strip()))
            elif c == 0 and not text.strip() and self._remove is not None:
                self._remove(self._shown[r])
            elif take is not None:
                self._put(take(self._shown[r], text))
        except InputError as error:
            self._complain(str(error))
        else:
            self._complain("")
        self.fill()
