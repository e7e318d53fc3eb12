"""Something doubtful, with its place and a mend."""

from collections.abc import Callable

from ivory_quilt.core.document.project import (
    Project,
)
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.core.record import Struct


class Finding(Struct, frozen=True):
    """Something doubtful.

    Attributes:
        code: stable word for programs.
        message: one sentence.
        pieces: ids of the pieces it is about, the first of them the place to go to.
        mend: what would put it right, or an empty string.
        apply: does the mend.
        seam: the seam it is about, if it is about one.
    """

    code: str
    message: str
    pieces: tuple[str, ...]
    mend: str = ""
    apply: Callable[[Project], Project] | None = None
    seam: Seam | None = None

    @property
    def key(self) -> tuple[object, ...]:
        """What makes it the same finding as an earlier one."""
        return (self.code, self.pieces, self.seam)
