"""Cutting mode: one part at a time, large enough to be read from a metre away."""

from PySide6.QtCore import QPointF, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent
from PySide6.QtWidgets import QLabel, QLineEdit, QPushButton, QStackedWidget, QVBoxLayout, QWidget

from ivory_quilt.core.cutting.strokes import STEPS
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.pattern.piece import PieceLine
from ivory_quilt.core.plan.cut_facts import blade_word, pass_lines
from ivory_quilt.core.plan.cutting import part_of
from ivory_quilt.core.plan.effort import cutting_minutes
from ivory_quilt.core.plan.plan import UsedSheet
from ivory_quilt.core.stock.foam_stock import StockItem
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.core.units import counted, show_parts
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.stations.cut.cutting_mode.pages import AfterPage, BeforePage, for_hands
from ivory_quilt.desk.stations.cut.cutting_mode.part_picture import PartPicture
from ivory_quilt.desk.stations.cut.cutting_mode.presenter import KnifeWork
from ivory_quilt.desk.stations.cut.cutting_mode.sheet_item import SheetUnderKnifeItem
from ivory_quilt.desk.stations.cut.sheet_list import sheet_title
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import Stitch, button, clear, column, label, row, scrolled
from ivory_quilt.desk.widgets.edgebar import EdgeBar

SIDE = 400  # px of the words beside the sheet
CHANGED = "Cut otherwise than drawn, and used all the same"
DONE_WORDS = {
    CutState.CUT: "is cut",
    CutState.CHANGED: "is cut otherwise than drawn",
    CutState.SPOILED: "is spoiled",
}


class SheetCanvas(Canvas):
    """The sheet; a click takes a part in hand. Keys are the mode's."""

    clicked = Signal(QPointF)

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.setAccessibleName("sheet under the knife")

    def mousePressEvent(self, event: QMouseEvent) -> None:
        """Tell where it was clicked."""
        super().mousePressEvent(event)
        if event.button() is Qt.MouseButton.LeftButton:
            self.clicked.emit(self.mapToScene(event.position().toPoint()))


class CuttingMode(QWidget):
    """Before the first cut, part by part, and what goes back to the shelf."""

    left = Signal()
    """The sheet is done or set aside: the list of sheets is wanted again."""

    def __init__(self, work: KnifeWork) -> None:
        """Show `work`."""
        super().__init__()
        self.work = work
        self.look: Palette = LIGHT
        self._about: UsedSheet | None = None
        self._finishing = False
        self._item: SheetUnderKnifeItem | None = None
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.sheet_name = label("", "title")
        self.bar = QVBoxLayout()
        self.progress = label("", "far")
        aside = button("Set aside", self.leave, "quiet", "The sheet stays as it is, to go on later")
        self.finish = button("Sheet is done …", self._finish, "", "What is left goes to the shelf")
        head = row(self.bar, self.sheet_name, None, self.progress, self.finish, aside, space=16)
        head.setContentsMargins(16, 8, 16, 8)
        self.canvas = SheetCanvas()
        self.canvas.clicked.connect(self._click)
        self.canvas.reshaped.connect(self.canvas.refit)
        self.picture = PartPicture()
        self.number = label("", "farther")
        self.name = label("", "far", wrap=True)
        self.whose = label("", "far", "cut", wrap=True)
        self.count = label("", "title")
        self.cuts = label("", "title", "score", wrap=True)
        self.blade = label("", "title", "heat", wrap=True)
        self.notes = label("", wrap=True)
        self.next = label("", "title", "soft", wrap=True)
        self.said = label("", "title", wrap=True)
        self.remark = QLineEdit()
        self.remark.setAccessibleName("what happened to the part")
        self.remark.editingFinished.connect(self._tell)
        self.cost = label("", wrap=True)
        self.here = button("Put it on this sheet", self.work.put_here, "main", "It is cut next")
        for_hands(self.here)
        words = column(
            row(self.number, self.count, None, space=16),
            self.name,
            self.whose,
            self.picture,
            self.blade,
            self.cuts,
            self.notes,
            self.next,
            None,
            space=10,
            edge=20,
        )
        words.setStretchFactor(self.picture, 100)  # what room there is
        inside = QWidget()
        inside.setLayout(words)
        above = scrolled(inside)
        above.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.odd = QWidget()  # in sight however low the window is
        odd = column(self.said, self.remark, self.cost, self.here, space=10)
        odd.setContentsMargins(20, 8, 20, 20)
        self.odd.setLayout(odd)
        side = QWidget()
        side.setFixedWidth(SIDE)
        side.setLayout(column(above, self.odd, space=0))
        self.keys = {
            state: self._key(f"{words}   {number}", state, tip)
            for number, state, words, tip in (
                (1, CutState.CUT, "Cut", "As drawn; the space bar does it too"),
                (2, CutState.CHANGED, "Changed", CHANGED),
                (3, CutState.SPOILED, "Spoiled", "It is asked for again"),
            )
        }
        self.keys[CutState.CUT].setProperty("kind", "main")
        self.unmark = self._key("Not cut", CutState.WAITING, "Say that it is still to be cut")
        before = button("◀", lambda: self.work.step(-1), "", "The part before")
        after = button("▶", lambda: self.work.step(1), "", "The part after")
        for key, name in ((before, "part before"), (after, "part after")):
            for_hands(key)
            key.setAccessibleName(name)
        undo = button("Undo", self.work.session.undo, "", "Take back the last tick")
        for_hands(undo)
        foot = row(*self.keys.values(), self.unmark, None, before, after, undo, space=12)
        foot.setContentsMargins(16, 10, 16, 12)
        at_work = QWidget()
        at_work.setLayout(
            column(head, Stitch(), row(self.canvas, side, space=0), Stitch(), foot, space=0)
        )
        self.before = BeforePage(self._begin, self.leave)
        self.after = AfterPage(self._close, self._go_on)
        self.pages = QStackedWidget()
        for page in (self.before, at_work, self.after):
            self.pages.addWidget(page)
        self.setLayout(column(self.pages, space=0))
        work.changed.connect(self.show_state)
        work.session.changed.connect(self._changed)

    def _key(self, text: str, state: CutState, tip: str) -> QPushButton:
        key = button(text, lambda: self.work.mark(state), "", tip)
        for_hands(key)
        key.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        return key

    @property
    def on(self) -> bool:
        """Whether a sheet is under the knife here, or about to be."""
        return self._about is not None or self.work.sheet is not None

    def ask(self, one: UsedSheet) -> None:
        """Ask whether all is at hand for a sheet."""
        self._about, self._finishing = one, False
        parts = one.parts
        minutes = cutting_minutes(parts, self.work.session.stock.rates)
        words = [f"{show_parts(len(parts))} on it: about {minutes:.0f} min at your pace."]
        lines = sum(k.kind in STEPS for part in parts for k in part.lines)
        if lines:
            words.append(f"First, while it is whole: score or undercut {counted(lines, 'line')}.")
        self.before.fill(sheet_title(one.item), " ".join(words), self.work.at_hand(one))
        self.before.wait(on=False)
        self.show_state()

    def go_on(self, sheet_id: str) -> None:
        """Go on with a sheet that was begun."""
        self._about, self._finishing = None, False
        self.work.take_up(sheet_id)

    # What the hands do

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """1, 2, 3 or the space bar tick the part in hand; left and right choose another."""
        marks = {
            Qt.Key.Key_Space: CutState.CUT,
            Qt.Key.Key_1: CutState.CUT,
            Qt.Key.Key_2: CutState.CHANGED,
            Qt.Key.Key_3: CutState.SPOILED,
        }
        steps = {Qt.Key.Key_Left: -1, Qt.Key.Key_Right: 1}
        key = Qt.Key(event.key())
        if self.pages.currentIndex() != 1 or event.isAutoRepeat():
            super().keyPressEvent(event)
        elif key in marks:
            self.work.mark(marks[key])
        elif key in steps:
            self.work.step(steps[key])
        else:
            super().keyPressEvent(event)

    def _click(self, at: QPointF) -> None:
        number = self._item.at(at) if self._item is not None else None
        if number is not None:
            self.work.choose(number)

    def _begin(self) -> None:
        if self._about is not None:
            self.before.wait(on=True)
            self.work.begin(self._about)

    def leave(self) -> None:
        """Put the sheet aside as it is."""
        self._about, self._finishing = None, False
        self.work.set_aside()

    def _finish(self) -> None:
        self._finishing = True
        self.show_state()

    def _go_on(self) -> None:
        self._finishing = False
        self.show_state()

    def _close(self, kept: tuple[StockItem, ...]) -> None:
        if self.work.close(kept):
            self._finishing = False

    def _tell(self) -> None:
        self.work.remark(self.remark.text())

    # What they see

    def set_look(self, look: Palette) -> None:
        """Take another theme."""
        self.look = look
        self.picture.look = look
        self.canvas.set_look(look)
        self._changed()

    def _changed(self) -> None:
        if self.isVisible():
            self.show_state()

    def show_state(self) -> None:
        """Show the sheet as it is now."""
        sheet = self.work.sheet
        if sheet is not None and self._about is not None and not self.work.beginning:
            self._about = None  # it lies under the knife by now
        if self._about is not None:
            self.pages.setCurrentIndex(0)
            if not self.work.beginning:
                self.before.wait(on=False)
            return
        if sheet is None:
            self.left.emit()  # it was never begun after all
            return
        waiting = sheet.has(CutState.WAITING)
        if self._finishing or (not waiting and self.work.present is None):
            self._show_end(sheet, len(waiting))
            return
        if self.pages.currentIndex() != 1:
            self.pages.setCurrentIndex(1)
            self.setFocus()
        done = len(sheet.parts) - len(waiting)
        self.progress.setText(f"{done} of {len(sheet.parts)}")
        self.sheet_name.setText(sheet_title(sheet.item))
        clear(self.bar)
        kind = self.work.session.stock.material(sheet.item.foam.material).kind
        self.bar.addWidget(EdgeBar(sheet.item.foam.thickness, 40, kind))
        self._draw(sheet)
        self._words(sheet)

    def _show_end(self, sheet: SpentSheet, waiting: int) -> None:
        self.pages.setCurrentIndex(2)
        made = sum(part.made for part in sheet.parts)
        odd = []
        if half := sum(p.waiting and p.passes > 0 for p in sheet.parts):
            odd.append(f"{show_parts(half)} cut only in part: counted as spoiled.")
            waiting -= half
        if spoiled := sheet.has(CutState.SPOILED):
            odd.append(f"{len(spoiled)} spoiled: asked for again.")
        if waiting:
            odd.append(f"{show_parts(waiting)} not cut: to be laid anew.")
        title = f"{sheet.item.name}: {show_parts(made)} cut"
        self.after.fill(title, " ".join(odd), self.work.left())

    def _draw(self, sheet: SpentSheet) -> None:
        lines = tuple(self._lines(sheet, part) for part in sheet.parts)
        scene = self.canvas.scene()
        first = self._item is None or not scene.items()
        scene.clear()
        cuts = self._present_cuts(sheet)
        self._item = SheetUnderKnifeItem(sheet, lines, self.work.present, cuts, self.look)
        scene.addItem(self._item)
        if first:
            self.canvas.fit()
        else:
            self.canvas.refit()

    def _present_cuts(self, sheet: SpentSheet) -> tuple[Array, ...]:
        """Return where the part in hand is cut in its present pass; nothing: all around."""
        if self.work.present is None:
            return ()
        one = sheet.parts[self.work.present]
        return pass_lines(part_of(self.work.session.plan, sheet, one), one)

    def _lines(self, sheet: SpentSheet, one: CutPart) -> tuple[PieceLine, ...]:
        part = part_of(self.work.session.plan, sheet, one)
        return part.lines if part is not None else ()

    def _words(self, sheet: SpentSheet) -> None:
        number = self.work.present
        if number is None:
            return
        facts, one = self.work.facts(number), sheet.parts[number]
        thickness = sheet.item.foam.thickness
        self.picture.show_part(one, self._lines(sheet, one), self._present_cuts(sheet), thickness)
        self.number.setText(f"{number + 1}")
        self.name.setText(facts.name)
        _say(self.whose, " · ".join(w for w in (facts.hand, facts.whom) if w))
        _say(self.count, "\n".join(w for w in (facts.count, facts.template) if w))
        _say(self.blade, self.work.blade_words(number))
        _say(self.cuts, "\n".join(facts.cuts))
        _say(self.notes, "\n".join(facts.notes))
        after = self.work.next_after(number)
        _say(self.next, _then(sheet, number, after))
        self.unmark.setVisible(not one.waiting or one.passes > 0)
        changed = self.keys[CutState.CHANGED]
        changed.setEnabled(one.last_pass or not one.waiting)
        changed.setToolTip(CHANGED if changed.isEnabled() else "It is said with the last cut of it")
        self._words_of_last(sheet)

    def _words_of_last(self, sheet: SpentSheet) -> None:
        """Say how the part went that was ticked last, where that is not as it should be."""
        last = self.work.last
        one = sheet.parts[last] if last is not None else None
        odd = one is not None and one.state in (CutState.CHANGED, CutState.SPOILED)
        _say(self.said, f"{one.label} {DONE_WORDS[one.state]}." if one is not None and odd else "")
        self.remark.setVisible(odd)
        if one is not None and odd and not self.remark.hasFocus():
            self.remark.setText(one.remark)
            changed = one.state is CutState.CHANGED
            self.remark.setPlaceholderText("What was changed?" if changed else "Why?")
        _say(self.cost, self.work.spoilt_words())
        spoilt = self.work.spoilt
        self.here.setVisible(spoilt is not None and spoilt.room is not None)
        self.odd.setVisible(odd or spoilt is not None)


def _then(sheet: SpentSheet, number: int, after: int | None) -> str:
    """Return what comes after the present pass around a part."""
    if after is None:
        return ""
    one = sheet.parts[number]
    if after == number:
        return f"Then its edges with the blade {blade_word(one.settings[one.passes + 1])}"
    return f"Then {after + 1}: {sheet.parts[after].label}"


def _say(words: QLabel, text: str) -> None:
    words.setText(text)
    words.setVisible(bool(text))
