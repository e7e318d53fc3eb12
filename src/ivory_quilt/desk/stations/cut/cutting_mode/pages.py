"""What stands beside a sheet before its first cut, and after its last."""

from collections.abc import Callable

from PySide6.QtWidgets import QCheckBox, QVBoxLayout, QWidget

from ivory_quilt.core.plan.at_hand import AtHand
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.units import counted
from ivory_quilt.desk.widgets.basics import Stitch, button, clear, column, label, row, scrolled

CAUTION = (
    "Cut away from yourself, with a fresh blade, on a mat; the other hand stays behind the edge."
)


def for_hands(key: QWidget) -> QWidget:
    """Return a button as large as a gloved hand takes it."""
    key.setProperty("reach", "hand")
    return key


class BeforePage(QWidget):
    """Are blade, tape and foam at hand?"""

    def __init__(self, begin: Callable[[], object], leave: Callable[[], object]) -> None:
        """Call `begin` once all is at hand, `leave` if it is not."""
        super().__init__()
        self.title = label("", "far", wrap=True)
        self.words = label("", wrap=True)
        self.things = QVBoxLayout()
        self.things.setSpacing(10)
        self.start = button("All at hand: begin", begin, "main")
        for_hands(self.start)
        away = button("Not yet", leave, "quiet")
        for_hands(away)
        inside = QWidget()
        inside.setLayout(
            column(
                self.title,
                self.words,
                Stitch(),
                label("Before the first cut: at hand, and still good?", "title", wrap=True),
                self.things,
                Stitch(),
                label(CAUTION, "", "heat", wrap=True),
                None,
                row(self.start, away, None, space=12),
                space=14,
                edge=24,
            )
        )
        self.setLayout(column(scrolled(inside)))

    def fill(self, title: str, words: str, things: tuple[AtHand, ...]) -> None:
        """Show what one sheet needs."""
        self.title.setText(title)
        self.words.setText(words)
        clear(self.things)
        for thing in things:
            said = label(thing.problem, "title", "cut")
            said.setVisible(bool(thing.problem))
            self.things.addLayout(row(label(thing.words, "title"), said, None, space=24))

    def wait(self, *, on: bool) -> None:
        """Show that the order of cuts is being worked out, or is not."""
        self.start.setEnabled(not on)
        self.start.setText("Working out the order …" if on else "All at hand: begin")


class AfterPage(QWidget):
    """What goes back to the shelf, each with the label that is written on it."""

    def __init__(
        self, close: Callable[[tuple[StockItem, ...]], object], back: Callable[[], object]
    ) -> None:
        """Call `close` with what is kept, or `back` to go on cutting."""
        super().__init__()
        self._close = close
        self.title = label("", "far", wrap=True)
        self.words = label("", "title", "heat", wrap=True)
        self.things = QVBoxLayout()
        self.things.setSpacing(8)
        self.boxes: list[tuple[QCheckBox, tuple[StockItem, ...]]] = []
        self.done = button("Sheet is done", self._done, "main", "Put what is ticked on the shelf")
        for_hands(self.done)
        again = button("Go on cutting", back, "quiet")
        for_hands(again)
        inside = QWidget()
        inside.setLayout(
            column(
                self.title,
                self.words,
                Stitch(),
                label("Onto the shelf, with this label:", "title"),
                self.things,
                None,
                row(self.done, again, None, space=12),
                space=14,
                edge=24,
            )
        )
        self.setLayout(column(scrolled(inside)))

    def fill(self, title: str, words: str, left: tuple[StockItem, ...]) -> None:
        """Show what is left of a sheet."""
        self.title.setText(title)
        self.words.setText(words)
        self.words.setVisible(bool(words))
        clear(self.things)
        self.boxes = []
        scraps = tuple(i for i in left if i.kind is StockKind.SCRAP)
        kept: list[tuple[str, tuple[StockItem, ...]]]
        kept = [(f"{i.id}: {i.size_text}", (i,)) for i in left if i.kind is not StockKind.SCRAP]
        if scraps:
            many = counted(sum(i.owned for i in scraps), "smaller piece")
            kept.append((f"{many} for the box", scraps))
        for text, items in kept:
            box = QCheckBox(text)
            box.setChecked(True)
            box.setProperty("role", "title")
            box.setToolTip("Untick what is thrown away")
            box.setMinimumHeight(36)
            self.boxes.append((box, items))
            self.things.addWidget(box)
        if not kept:
            self.things.addWidget(label("Nothing is left worth keeping.", "title"))

    def _done(self) -> None:
        self._close(tuple(i for box, items in self.boxes if box.isChecked() for i in items))
