"""Versions of the piece, on Draft's card: keep, compare, take back; a mock-up to cut first."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.pattern.version import PieceVersion
from ivory_quilt.desk.stations.pattern.draft.version_presenter import VersionPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    button,
    clear,
    column,
    fill_box,
    filled_later,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import Taking, tick

THIN = "2 mm"  # usual craft foam, from memory, no source


class VersionBox(QWidget):
    """What the piece once was."""

    def __init__(self, presenter: VersionPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the table must be drawn anew."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self._shown: tuple[object, ...] = ()
        self.name = QLineEdit()
        self.name.setAccessibleName("name of the version")
        self.keep = button("Keep", self._keep, tip="Keep the piece as it is now, under a name")
        self.others = tick("with the others selected", self._with_others)
        self.words = label("", wrap=True)
        self.error = Complaint()
        self.list = QVBoxLayout()
        self.material = filled_later("material of the mock-up", lambda _: None)
        self.thickness = QLineEdit(THIN)
        self.thickness.setAccessibleName("thickness of the mock-up")
        self.thickness.setFixedWidth(64)
        mock_up = button("Add", self._mock_up, tip="The piece once more, plain, to be cut first")
        self.setLayout(
            column(
                label("Versions", "heading"),
                row(self.name, self.keep),
                self.others,
                self.words,
                self.list,
                self.error,
                label("Mock-up, cut before the foam", "note"),
                row(self.material, self.thickness, mock_up),
            )
        )

    def fill(self) -> None:
        """Show the versions of the piece."""
        p = self._presenter
        self.name.setPlaceholderText(p.next_name())
        self.others.setVisible(p.others > 0)
        self.others.setText(f"with the {p.others} others selected")
        self.others.setChecked(p.with_others)
        self.words.setText(p.words())
        self.words.setVisible(bool(p.words()))
        fill_box(self.material, p.materials(), str(self.material.currentData() or ""))
        state = (p.known, p.beside)
        if state == self._shown:
            return  # a note that is being typed stays
        self._shown = state
        clear(self.list)
        for version in p.known:
            self.list.addWidget(self._line(version))

    def _line(self, version: PieceVersion) -> QWidget:
        p = self._presenter
        compare = button("Compare", partial(self._compare, version.id), tip="Lay it over the piece")
        compare.setCheckable(True)
        compare.setChecked(p.beside == version.id)
        back = button("Take back", partial(self._back, version), tip="The piece as it was then")
        drop = button("×", partial(p.drop, version), "quiet", "Delete this version")
        drop.setFixedWidth(36)
        note = QLineEdit(version.note)
        note.setPlaceholderText("what was found with it")
        note.setAccessibleName(f"note on {version.name}")
        note.editingFinished.connect(lambda: p.note(version, note.text()))
        many = f", {len(version.pieces)} pieces" if len(version.pieces) > 1 else ""
        made = QWidget()
        made.setLayout(
            column(
                row(
                    label(version.name, "heading"),
                    label(f"{version.when}{many}", "note"),
                    None,
                    drop,
                ),
                note,
                row(compare, back, None),
                space=4,
            )
        )
        return made

    def _keep(self) -> None:
        with Taking(self.error, self.name) as taken:
            self._presenter.keep(self.name.text())
        if taken:
            self.name.clear()
            self._changed()

    def _compare(self, version_id: str) -> None:
        self._presenter.compare(version_id)
        self._changed()

    def _back(self, version: PieceVersion) -> None:
        with Taking(self.error):
            self._presenter.take_back(version)
        self._changed()

    def _with_others(self, on: bool) -> None:  # noqa: FBT001 - a signal's
        self._presenter.with_others = on
        self._changed()

    def _mock_up(self) -> None:
        with Taking(self.error, self.thickness):
            self._presenter.mock_up(str(self.material.currentData()), self.thickness.text())
