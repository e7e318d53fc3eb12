"""Foam leaves the shelf and comes back as sheets are cut: whole or not at all, whenever power goes.

The project is kept in one place and the shelf in another, and no machine writes both at once. So
the document as it is going to be is kept first, with a token; shelf and token are then changed in
one transaction. Unsaved work whose token the shop does not know has its foam moved when it is taken
up again (write-ahead logging: Mohan et al. 1992, ARIES).
"""

from collections.abc import Callable
from uuid import uuid4

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stock.spent_sheet import SpentSheet
from ivory_quilt.files.recovery import FoamMove, WorkState
from ivory_quilt.shop.cutting import foam_moves, move_foam
from ivory_quilt.shop.store import ShopStore


class FoamMover:
    """Moves foam for one window."""

    def __init__(self) -> None:
        """Keep nothing beforehand, until somebody says how."""
        self.keep: Callable[[Project, FoamMove], object] = lambda _project, _move: None
        """Keeps a document that is about to be, with the move that goes with it."""
        self.withdraw: Callable[[], object] = lambda: None
        """Keeps the document as it is: the move was refused."""
        self._last = ""

    def move(self, store: ShopStore, before: Project, after: Project) -> None:
        """Make the shelf follow from one document to another.

        Raises:
            InputError: it cannot; the shelf is as it was.
        """
        if not foam_moves(before.spent, after.spent):
            return
        move = FoamMove(uuid4().hex, before.spent)
        self.keep(after, move)
        try:
            with store.together():
                move_foam(store, before.spent, after.spent)
                store.note_move(self._last, move.token)
        except InputError:
            self.withdraw()
            raise
        self._last = move.token


def finish_move(store: ShopStore, state: WorkState) -> None:
    """Move the foam of unsaved work that was kept, but not moved any more.

    Raises:
        InputError: the shelf has changed since; it stays as it is.
    """
    if state.move is not None and not store.knows_move(state.move.token):
        with store.together():
            move_foam(store, state.move.before, state.project.spent)
            store.note_move("", state.move.token)


def give_back(
    store: ShopStore, state: WorkState, saved: tuple[SpentSheet, ...], *, since: bool = False
) -> None:
    """Let the shelf follow unsaved work that is let go, back to the sheets that are `saved` as cut.

    `since`: they were saved after the work was kept, so that the shelf knows of them.

    Raises:
        InputError: something of what they left is used already.
    """
    moved = state.move is None or store.knows_move(state.move.token)
    there = state.project.spent if moved or state.move is None else state.move.before
    if since:
        known = {s.id: s.moved for s in saved}
        there = tuple(s for s in there if known.get(s.id) != s.moved)
        saved = ()
    move_foam(store, there, saved)
