"""The shop's store could not be opened, or not all of it: what was done, and its copy."""

from pathlib import Path

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, button, label, row
from ivory_quilt.desk.widgets.panels import Panel
from ivory_quilt.shop.opening import OpenedStore, take_spare


class ShopPanel(Panel):
    """Says what happened to the shop; nothing is lost, and the last copy is one click away."""

    def __init__(self, parent: QWidget, session: Session) -> None:
        """Put the copy into `session` when the maker wants it."""
        super().__init__(parent, "The shop could not be read", (600, 280))
        self._session = session
        self._opened: OpenedStore | None = None
        self._path = Path()
        self.what = label("", wrap=True)
        self.next = label("", wrap=True)
        self.error = Complaint()
        self.take = button("Use the copy", self._take, "main")
        self.go_on = button("Go on without it", self.put_away)
        self.fill(self.what, self.next, self.error, None, row(self.take, self.go_on, None))

    def show_problem(self, opened: OpenedStore, path: Path) -> None:
        """Show what is wrong with the store at `path`."""
        self._opened, self._path = opened, path
        self.what.setText(opened.problem)
        self.error.setText("")
        has = opened.spare is not None
        self.take.setVisible(has)
        self.take.setText(f"Use the copy of {opened.spare_time}")
        self.go_on.setText("Go on without it" if has else "Go on")
        self.next.setText(
            "Ivory Quilt keeps a copy of the shop from the last good start."
            if has
            else "Projects can be opened, laid and saved as ever."
        )
        self.open()

    def _take(self) -> None:
        opened = self._opened
        if opened is None or opened.spare is None:
            return
        try:
            store = take_spare(self._path, opened.store, opened.spare)
        except InputError as error:
            self.error.setText(str(error))
            return
        self._session.use_store(store)
        self.put_away()
        self._session.tell(f"The shop is as it was on {opened.spare_time}.", "good")
