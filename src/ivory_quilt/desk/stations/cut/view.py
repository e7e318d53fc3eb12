"""The Cut station: the papers, previewed and written."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QFileDialog, QLineEdit, QPushButton, QStackedWidget, QWidget

from ivory_quilt.core.errors import InputError, QuiltError, Stopped
from ivory_quilt.core.plan.plan import UsedSheet
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.cut.codes import CodeBox
from ivory_quilt.desk.stations.cut.cutting_mode.presenter import KnifeWork
from ivory_quilt.desk.stations.cut.cutting_mode.view import CuttingMode
from ivory_quilt.desk.stations.cut.machines import MachineBox
from ivory_quilt.desk.stations.cut.paging import Paging, PaperLayer
from ivory_quilt.desk.stations.cut.presenter import HALVES, PAPERS, CutPresenter
from ivory_quilt.desk.stations.cut.preview import CutSheetItem, TemplatePageItem
from ivory_quilt.desk.stations.cut.print_keys import SheetKeys, TemplateKeys
from ivory_quilt.desk.stations.cut.printers import PrinterBox
from ivory_quilt.desk.stations.cut.sheet_list import SheetList
from ivory_quilt.desk.stations.cut.sticker_box import StickerBox
from ivory_quilt.desk.stations.cut.writing import Output, Wish, Written, try_on_plotter
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.widgets.basics import (
    Stitch,
    button,
    choices,
    clear,
    column,
    label,
    row,
    scrolled,
)
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.fields import tick
from ivory_quilt.desk.widgets.rule_box import RuleBox
from ivory_quilt.desk.widgets.wearer_box import WearerBox
from ivory_quilt.desk.work import TaskRunner

CAUTION = (
    "Knives: cut away from yourself with a fresh blade, on a mat. Follow the maker's labels and "
    "your workshop's rules."
)


class CutStation(Station):
    """Templates and cut sheets."""

    ident = "cut"

    def __init__(self, session: Session, tasks: TaskRunner, layer: PaperLayer) -> None:
        """Preview and write the papers of `session`; `layer` lays templates on pages."""
        super().__init__(session)
        self._tasks = tasks
        self.presenter = CutPresenter(session, Paging(tasks, layer, self))
        self.presenter.paging.changed.connect(self._paged)
        self.preview = Canvas()
        self.preview.setAccessibleName("preview of the papers")
        self.canvas = self.preview
        self.preview.reshaped.connect(self._rearrange)
        self.show_templates = QPushButton("Templates")
        self.show_sheets = QPushButton("Cut sheets")
        self.show_list = QPushButton("Cutting")
        self.show_list.setToolTip("Sheet by sheet: say what is cut, and what is left for the shelf")
        for key in (self.show_templates, self.show_sheets, self.show_list):
            key.setCheckable(True)
            key.setAutoExclusive(True)
            key.clicked.connect(self._switch)
        self.show_sheets.setChecked(True)
        self.empty = EmptyState(
            "cut",
            "Templates and cut sheets can be printed from here as soon as there are pieces.",
            "Go to Pattern",
            lambda: None,
        )
        self.stack = QStackedWidget()
        self.stack.addWidget(self.preview)
        self.stack.addWidget(self.empty)
        self.list = SheetList(session, tasks)
        self.stack.addWidget(scrolled(self.list))
        self.laying = label("Laying templates on pages …", "title")
        self.laying.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self.stack.addWidget(self.laying)
        self.knife = KnifeWork(session, layer)
        self.mode = CuttingMode(self.knife)
        self.mode.left.connect(self._leave_mode)
        self.list.wants_cutting.connect(self._cut)
        self.stack.addWidget(self.mode)
        self.head = QWidget()
        head = row(self.show_sheets, self.show_templates, self.show_list, None)
        head.setContentsMargins(16, 8, 12, 8)
        self.head.setLayout(head)
        centre = QWidget()
        centre.setLayout(column(self.head, self.stack, space=0))
        self.paper = choices(PAPERS, self.presenter.choose_paper)
        self.paper.setAccessibleName("paper")
        self.halves = choices(HALVES, lambda halves: self.presenter.choose_halves(halves=halves))
        self.halves.setAccessibleName("symmetrical pieces")
        self.halves.setToolTip("A piece with a centre line that its halves mirror each other about")
        whose = ((False, "of all pieces"), (True, "of selected pieces"))
        self.which = choices(whose, self._choose_which)
        self.which.setAccessibleName("templates of which pieces")
        self.which.setToolTip("The pieces that are selected at the Pattern station")
        self.whom = WearerBox(
            "For", "templates for whom", self._choose_wearer, "Suits of one size share theirs"
        )
        self.strips = tick(
            "Straight strips as numbers",
            self._choose_strips,
            "A plain strip is told by its length and width instead of on paper",
        )
        self.strips.setChecked(self.presenter.strips)
        self.rule = RuleBox(self.presenter.choose_rule)
        self.printers = PrinterBox(session, self._printer_changed)
        self.codes = CodeBox(session, tasks, lambda: self.presenter.wearer)
        self.figures = column(space=4)
        self.stop = button("Stop writing", self._stop, "", "Nothing of it is written then")
        self.stop.setVisible(False)
        self.sizes = QLineEdit(self.presenter.percents)
        self.sizes.setAccessibleName("sizes of a trial print, %")
        self.sizes.setToolTip("Sizes in percent at which the selected pieces are printed to try on")
        self.sizes.textEdited.connect(self._type_sizes)
        self.prints = TemplateKeys(self.ask, self.sizes)
        self.lists = SheetKeys(self.ask)
        self.stickers = StickerBox(self.presenter, lambda: self.ask(Output.STICKERS))
        self.machines = MachineBox(session, lambda: self.ask(Output.SHEETS), self.try_on_plotter)
        card = QWidget()
        card.setLayout(
            column(
                label("Papers", "title"),
                self.figures,
                self.stop,
                row(label("Templates"), self.which),
                self.whom,
                row(label("Paper"), self.paper),
                row(label("Symmetrical"), self.halves),
                self.strips,
                Stitch(),
                self.prints,
                self.printers,
                self.codes,
                Stitch(),
                self.lists,
                Stitch(),
                self.stickers,
                Stitch(),
                self.machines,
                Stitch(),
                label("Tracing and trimming", "heading"),
                self.rule,
                Stitch(),
                label(CAUTION, "note", "heat", wrap=True),
                None,
                space=12,
                edge=16,
            )
        )
        self.lay_out(centre, card)
        self.ask_file: Callable[[str, str], str] = self._ask_file
        self.ask_folder: Callable[[], str] = self._ask_folder
        self._shown: tuple[object, ...] = ()
        self._card_folded = False

        def some() -> bool:
            return bool(session.project.pieces)

        self.offer("print-templates", lambda: self.ask(Output.TEMPLATES), some)
        self.offer("print-cut-sheets", lambda: self.ask(Output.CUT_PDF), some)
        self.offer("print-all", lambda: self.ask(Output.ALL), some)
        self.offer("export-book", lambda: self.ask(Output.BOOK), some)
        self.offer("export-gauges", lambda: self.ask(Output.GAUGES), some)
        self.offer("export-masks", lambda: self.ask(Output.MASKS), some)
        self.offer("export-parts", lambda: self.ask(Output.PARTS), some)
        self.offer("look-up-code", self.look_up_code, some)
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self.mode.leave()
        self._shown = ()
        self.presenter.paging.forget()

    def refresh(self) -> None:
        """Show the present papers."""
        plan = self.session.plan
        have = bool(plan.project.pieces)
        if self.mode.on:
            return
        self.presenter.ask_pages()
        cutting = 2 if self.show_list.isChecked() else 0
        if self.show_templates.isChecked() and not self.presenter.pages():
            cutting = 3
            self.laying.setText(self.presenter.no_pages())
        self.stack.setCurrentIndex(cutting if have or plan.project.spent else 1)
        self.list.fill()
        self.empty.set_look(self.look)
        clear(self.figures)
        for what, many in self.presenter.summary() if have else ():
            self.figures.addLayout(row(label(what, "note"), None, label(many, "mono")))
        self.whom.fill(self.presenter.wearers(), self.presenter.wearer)
        self.paper.setCurrentIndex([p for p, _ in PAPERS].index(plan.project.paper))
        self.halves.setCurrentIndex(int(plan.project.halves))
        self.rule.fill(plan.project.rule, plan.project.rule)
        self.printers.fill()
        self.machines.fill()
        for keys in (self.prints, self.lists, self.machines.save, self.machines.try_out):
            keys.setEnabled(have)
        self._redraw()

    def set_look(self, palette: Palette) -> None:
        """Take another theme."""
        self.mode.set_look(palette)
        super().set_look(palette)

    def _cut(self, what: UsedSheet | str) -> None:
        """Cut a sheet part by part: one that is laid, or the id of one that was begun."""
        if isinstance(what, str):
            self.mode.go_on(what)
        else:
            self.mode.ask(what)
        self._show_mode(on=self.mode.on)

    def _leave_mode(self) -> None:
        self._show_mode(on=False)
        self._maybe_refresh()

    def _show_mode(self, *, on: bool) -> None:
        """Give cutting mode all the room there is, or the papers theirs."""
        if on is self.head.isHidden():
            return
        self.head.setVisible(not on)
        if self.card is not None:
            if on:
                self._card_folded = self.card.isHidden()
            self.card.setVisible(not on and not self._card_folded)
        if on:
            self.stack.setCurrentWidget(self.mode)
            self.mode.setFocus()

    def _choose_wearer(self, wearer: str) -> None:
        self.presenter.wearer = wearer
        self.refresh()

    def _type_sizes(self, text: str) -> None:
        self.presenter.percents = text

    def _choose_strips(self, on: bool) -> None:  # noqa: FBT001 - Qt hands it over so
        self.presenter.strips = on
        self.refresh()

    def _paged(self) -> None:
        """Other pages are laid, or begun."""
        if self.presenter.paging.problem:
            self.session.tell(self.presenter.paging.problem, "cut")
        if self.isVisible():
            self.refresh()

    def _switch(self) -> None:
        self.refresh()

    def _redraw(self) -> None:
        if self.show_list.isChecked():
            return
        templates = self.show_templates.isChecked()
        state = (templates, self.presenter.state(), self.look)
        if state == self._shown:
            return
        same_view = bool(self._shown) and self._shown[0] == templates
        self._shown = state
        scene, aspect = self.preview.scene(), self.preview.aspect
        scene.clear()
        if templates:
            for page, (x, y) in self.presenter.laid_pages(aspect):
                drawn = TemplatePageItem(page, self.look)
                drawn.setPos(x, y)
                scene.addItem(drawn)
        else:
            for sheet, (x, y) in self.presenter.laid_sheets(aspect):
                item = CutSheetItem(sheet, self.look)
                item.setPos(x, -y)
                scene.addItem(item)
        if same_view:
            self.preview.refit()
        else:
            self.preview.fit()

    def _rearrange(self) -> None:
        if self._shown:
            self._shown = ()
            self._redraw()

    def leave(self) -> None:
        """Lay no more pages, and look for no room: the desk closes."""
        self.knife.end()
        self.presenter.paging.forget()

    def enter(self) -> None:
        """Show the papers; other pieces may be chosen by now."""
        self._stale = True
        super().enter()

    def _choose_which(self, chosen: object) -> None:
        self.presenter.only_chosen = bool(chosen)
        self.refresh()

    def _printer_changed(self) -> None:
        self._shown = ()
        self.refresh()

    def ask(self, what: Output) -> None:
        """Ask for a place and write there, off the interface thread."""
        try:
            wish = self._wish(what)
        except InputError as error:
            self.session.tell(str(error), "cut")
            return
        if what.ending:
            place = self.ask_file(self.presenter.offered_name(what), what.kinds)
        else:
            place = self.ask_folder()
        if not place:
            return
        if caution := self.presenter.caution(what):
            self.session.tell(caution, "heat")
        self.stop.setVisible(True)
        self._tasks.run(self.presenter.writing(what, Path(place), wish), self._written)

    def _stop(self) -> None:
        self.presenter.stopped = True

    def _wish(self, what: Output) -> Wish:
        return self.presenter.wish(what, self.machines.kind.value, self.machines.plotter)

    def _written(self, written: Written | None, error: Exception | None) -> None:
        self.stop.setVisible(False)
        if isinstance(error, Stopped):
            self.session.tell("Stopped: nothing is written.")
        elif isinstance(error, QuiltError):
            self.session.tell(str(error), "cut")
        elif error is not None:
            raise error
        elif written is not None and written.paths:
            self.session.tell(written.words, "good")

    def look_up_code(self, text: str = "") -> None:
        """Tell what a template's code says, or let one be typed."""
        if text:
            self.codes.look_up(text)
        else:
            self.codes.field.setFocus()
            self.codes.field.selectAll()

    def try_on_plotter(self) -> None:
        """Cut the sheets on the simulated plotter, off the interface thread."""
        self.machines.tell("Trying …")
        self._tasks.run(partial(try_on_plotter, self._wish(Output.SHEETS)), self._tried)

    def _tried(self, words: str | None, error: Exception | None) -> None:
        if error is not None and not isinstance(error, QuiltError):
            raise error
        self.machines.tell(str(error) if error is not None else words or "")

    def _ask_file(self, name: str, kinds: str) -> str:
        start = self.session.path.parent if self.session.path else Path.home()
        found, _ = QFileDialog.getSaveFileName(self, "Export", str(start / name), kinds)
        return found

    def _ask_folder(self) -> str:
        start = self.session.path.parent if self.session.path else Path.home()
        return QFileDialog.getExistingDirectory(self, "Export to folder", str(start))
