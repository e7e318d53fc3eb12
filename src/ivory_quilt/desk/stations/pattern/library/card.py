"""The library's card: find a set, see whom it was made for, bring it in; keep pieces."""

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QListWidget, QListWidgetItem, QWidget

from ivory_quilt.desk.stations.pattern.library.presenter import LibraryPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    column,
    fill_box,
    filled_later,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import FieldLine, Taking, regard, show_text

TALL = 190  # px


class LibraryCard(QWidget):
    """Everything that is done with the shop's sets."""

    def __init__(
        self,
        presenter: LibraryPresenter,
        changed: Callable[[], None],
        brought: Callable[[], None],
    ) -> None:
        """Work `presenter`; `changed`: another set is in sight; `brought`: one has come in."""
        super().__init__()
        self._presenter, self._changed, self._brought = presenter, changed, brought
        self.search = QLineEdit()
        self.search.setPlaceholderText("find: name, tag, piece")
        self.search.setAccessibleName("find a set")
        self.search.textEdited.connect(self._search)
        self.list = QListWidget()
        self.list.setAccessibleName("sets of the shop")
        self.list.setFixedHeight(TALL)
        self.list.currentItemChanged.connect(self._choose)
        self.facts = label("", "note", wrap=True)
        self.match = label("", wrap=True)
        self.name, self.tags, self.note = QLineEdit(), QLineEdit(), QLineEdit()
        for field, name, hint in (
            (self.name, "name of the set", ""),
            (self.tags, "tags of the set", "tags, with commas between"),
            (self.note, "note on the set", "what is to be known of it"),
        ):
            field.setAccessibleName(name)
            field.setPlaceholderText(hint)
            field.editingFinished.connect(self._describe)
        self.wearer = filled_later("for whom", self._for_whom)
        self.percent = QLineEdit("100 %")
        self.percent.setAccessibleName("size that it is brought in")
        self.percent.setFixedWidth(84)
        self.error = Complaint()
        self.bring = button("Bring in", self._bring, "main", "Add its pieces to this project")
        self.remove = button("Delete", self._remove, "quiet", "Take the set out of the shop")
        self.one = QWidget()
        self.one.setLayout(
            column(
                self.facts,
                self.name,
                self.tags,
                self.note,
                FieldLine("For", self.wearer),
                self.match,
                FieldLine("Size", self.percent),
                row(self.bring, None, self.remove),
            )
        )
        self.fresh = QLineEdit()
        self.fresh.setPlaceholderText("name, e.g. knee cups")
        self.fresh.setAccessibleName("name of a new set")
        self.fresh_tags = QLineEdit()
        self.fresh_tags.setPlaceholderText("tags, with commas between")
        self.fresh_tags.setAccessibleName("tags of a new set")
        self.keep = button("Keep", self._keep, tip="Keep these pieces in the shop")
        self.what = label("", "note", wrap=True)
        self.hint = label("", "note", wrap=True)
        self.setLayout(
            column(
                label("Library", "title"),
                self.search,
                self.list,
                self.hint,
                self.one,
                self.error,
                Stitch(),
                label("Keep pieces", "heading"),
                self.what,
                row(self.fresh, self.keep),
                self.fresh_tags,
                None,
                space=10,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the sets and the one in sight."""
        p = self._presenter
        kept = p.kept
        self.list.blockSignals(True)  # noqa: FBT003 - Qt's
        self.list.clear()
        for one in p.found:
            item = QListWidgetItem(one.name)
            item.setData(256, one.id)
            self.list.addItem(item)
            if kept is not None and one.id == kept.id:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)  # noqa: FBT003 - Qt's
        self.list.setVisible(bool(p.found))
        self.hint.setText("" if p.found else _nothing(some=bool(p.sets)))
        self.hint.setVisible(not p.found)
        self.one.setVisible(kept is not None)
        many = len(p.selected())
        word = "selected on the board" if p.session.selected else "of this project"
        self.what.setText(f"{many} pieces {word}." if many else "No pieces yet.")
        self.keep.setEnabled(many > 0)
        if kept is None:
            return
        regard(self, kept.id)
        self.facts.setText(p.facts())
        for field, text in (
            (self.name, kept.name),
            (self.tags, ", ".join(kept.tags)),
            (self.note, kept.note),
        ):
            show_text(field, text)
        wearers = [(w.name, w.id) for w in p.session.project.wearers]
        wearer = p.wearer
        fill_box(self.wearer, wearers or [("nobody yet", "")], wearer.id if wearer else "")
        found = p.match()
        self.match.setText(found.sentence)
        set_tone(self.match, "good" if found.same else "heat")
        self.match.setVisible(bool(found.sentence))
        show_text(self.percent, f"{100 * found.factor:.1f} %")

    # Doing

    def _search(self, text: str) -> None:
        self._presenter.words = text
        self._changed()

    def _choose(self, item: QListWidgetItem | None) -> None:
        if item is not None:
            self._presenter.chosen = str(item.data(256))
            self._changed()

    def _for_whom(self, _index: int) -> None:
        self._presenter.wearer_id = str(self.wearer.currentData() or "")
        self._changed()

    def _describe(self) -> None:
        with Taking(self.error, self.name, self.tags, self.note):
            self._presenter.describe(
                name=self.name.text(), tags=self.tags.text(), note=self.note.text()
            )
        self._changed()

    def _keep(self) -> None:
        with Taking(self.error, self.fresh, self.fresh_tags) as taken:
            self._presenter.keep(self.fresh.text(), self.fresh_tags.text())
        if taken:
            self.fresh.clear()
            self.fresh_tags.clear()
            self.search.clear()
            self._changed()

    def _remove(self) -> None:
        with Taking(self.error):
            self._presenter.remove()
        self._changed()

    def _bring(self) -> None:
        with Taking(self.error, self.percent) as taken:
            self._presenter.bring(self.percent.text())
        if taken:
            self._brought()


def _nothing(*, some: bool) -> str:
    if some:
        return "No set has these words."
    return "Nothing is kept yet. Keep pieces below: they come into other projects with one click."
