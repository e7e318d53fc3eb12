"""Whose pieces or papers are shown: everyone's, or one wearer's; there only with a troupe."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.widgets.basics import filled_later, label, row


class WearerBox(QWidget):
    """A choice of one wearer."""

    def __init__(self, word: str, name: str, choose: Callable[[str], object], tip: str) -> None:
        """Ask for `word`; call `choose` with the id that is picked, empty for the first entry."""
        super().__init__()
        self._choose = choose
        self.box = filled_later(name, self._picked)
        self.box.setToolTip(tip)
        self.setLayout(row(label(word), self.box))

    def fill(self, known: list[tuple[str, str]], chosen: str) -> None:
        """Show the choice among (id, words); nothing is shown where there is none."""
        self.setVisible(bool(known))
        there = [(self.box.itemData(k), self.box.itemText(k)) for k in range(self.box.count())]
        if there != known:
            self.box.clear()
            for wearer, words in known:
                self.box.addItem(words, wearer)
        self.box.setCurrentIndex(max(0, self.box.findData(chosen)))

    def _picked(self, index: int) -> None:
        self._choose(str(self.box.itemData(index)))
