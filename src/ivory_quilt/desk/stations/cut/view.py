"""The Cut station: the papers for the bench, previewed and written."""

from collections.abc import Callable
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QPushButton, QStackedWidget, QWidget

from ivory_quilt.core.document.project import Paper, set_halves, set_paper, set_rule
from ivory_quilt.core.errors import QuiltError
from ivory_quilt.core.pattern.piece import Piece, TraceRule
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.desk.canvas.quilt import quilt
from ivory_quilt.desk.canvas.view import Canvas
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.base import Station
from ivory_quilt.desk.stations.cut.presenter import (
    ALL,
    CUT_PDF,
    CUT_SVG,
    HALVES,
    PAPERS,
    TEMPLATES,
    pages,
    summary,
    write,
)
from ivory_quilt.desk.stations.cut.preview import CutSheetItem, TemplatePageItem
from ivory_quilt.desk.stations.cut.printers import PrinterBox
from ivory_quilt.desk.widgets.basics import Stitch, button, choices, clear, column, label, row
from ivory_quilt.desk.widgets.empty import EmptyState
from ivory_quilt.desk.widgets.rule_box import RuleBox
from ivory_quilt.desk.work import TaskRunner
from ivory_quilt.files.papers.cut_sheets import cut_sheets
from ivory_quilt.files.papers.tiling import frame_of

GAP = 30.0  # mm between pages of the preview
CAUTION = (
    "Knives: cut away from yourself with a fresh blade, on a mat. Follow the maker's labels and "
    "your workshop's rules."
)


class CutStation(Station):
    """Templates and cut sheets."""

    ident = "cut"
    word = "Cut"

    def __init__(self, session: Session, tasks: TaskRunner) -> None:
        """Preview and write the papers of `session`."""
        super().__init__(session)
        self._tasks = tasks
        self.preview = Canvas()
        self.preview.setAccessibleName("preview of the papers")
        self.canvas = self.preview
        self.preview.reshaped.connect(self._rearrange)
        self.show_templates = QPushButton("Templates")
        self.show_sheets = QPushButton("Cut sheets")
        for key in (self.show_templates, self.show_sheets):
            key.setCheckable(True)
            key.setAutoExclusive(True)
            key.clicked.connect(self._redraw)
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
        head = row(self.show_sheets, self.show_templates, None)
        head.setContentsMargins(16, 8, 12, 8)
        centre = QWidget()
        centre.setLayout(column(head, self.stack, space=0))
        self.paper = choices(PAPERS, self._choose_paper)
        self.paper.setAccessibleName("paper")
        self.halves = choices(HALVES, lambda halves: self._choose_halves(halves=halves))
        self.halves.setAccessibleName("symmetrical pieces")
        self.halves.setToolTip("A piece with a centre line that its halves mirror each other about")
        self.chosen_at_pattern: Callable[[], tuple[Piece, ...]] = tuple
        whose = ((False, "of all pieces"), (True, "of the chosen"))
        self.which = choices(whose, lambda _: self.refresh())
        self.which.setAccessibleName("templates of which pieces")
        self.which.setToolTip("The pieces that are chosen at the Pattern station")
        self.rule = RuleBox(self._choose_rule)
        self.printers = PrinterBox(session, self._printer_changed)
        self.figures = column(space=4)
        self.save_templates = button("Templates as PDF …", lambda: self.ask(TEMPLATES), "main")
        self.save_cut_pdf = button("Cut sheets as PDF …", lambda: self.ask(CUT_PDF))
        self.save_cut_svg = button("Cut sheets as SVG …", lambda: self.ask(CUT_SVG))
        self.save_all = button("All papers into a folder …", lambda: self.ask(ALL))
        card = QWidget()
        card.setLayout(
            column(
                label("Papers", "title"),
                self.figures,
                row(label("Templates"), self.which),
                row(label("Paper"), self.paper),
                row(label("Symmetrical"), self.halves),
                Stitch(),
                self.save_templates,
                self.printers,
                Stitch(),
                self.save_cut_pdf,
                self.save_cut_svg,
                label("SVG is true size in mm, cut and score on layers.", "note", wrap=True),
                self.save_all,
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

        def some() -> bool:
            return bool(session.project.pieces)

        self.offer("print-templates", lambda: self.ask(TEMPLATES), some)
        self.offer("print-cut-sheets", lambda: self.ask(CUT_PDF), some)
        self.offer("print-all", lambda: self.ask(ALL), some)
        session.opened.connect(self._opened)

    def _opened(self) -> None:
        self._shown = ()

    def refresh(self) -> None:
        """Show the present papers."""
        plan = self.session.plan
        have = bool(plan.project.pieces)
        self.stack.setCurrentWidget(self.preview if have else self.empty)
        self.empty.set_look(self.look)
        clear(self.figures)
        for what, many in summary(plan, self.correction, self.chosen) if have else ():
            self.figures.addLayout(row(label(what, "note"), None, label(many, "mono")))
        self.paper.setCurrentIndex([p for p, _ in PAPERS].index(plan.project.paper))
        self.halves.setCurrentIndex(int(plan.project.halves))
        self.rule.fill(plan.project.rule, plan.project.rule)
        self.printers.fill()
        for key in (self.save_templates, self.save_cut_pdf, self.save_cut_svg, self.save_all):
            key.setEnabled(have)
        self._redraw()

    def _redraw(self) -> None:
        plan = self.session.plan
        templates = self.show_templates.isChecked()
        results = tuple(f.result for f in plan.foams)
        p = plan.project
        print_rules = (p.paper, p.halves, p.rule, self.correction, self.chosen)
        state = (templates, p.pieces, print_rules, results, self.look)
        if state == self._shown:
            return
        same_view = bool(self._shown) and self._shown[0] == templates
        self._shown = state
        self.preview.scene().clear()
        if templates:
            self._draw_pages(plan)
        else:
            self._draw_sheets(plan)
        if same_view:
            self.preview.refit()
        else:
            self.preview.fit()

    def _rearrange(self) -> None:
        if self._shown:
            self._shown = ()
            self._redraw()

    def _draw_pages(self, plan: Plan) -> None:
        size = frame_of(plan.project.paper, self.correction).page
        found = pages(plan, self.correction, self.chosen)
        aspect = self.preview.aspect
        across = max(1, round((len(found) * aspect * size[1] / size[0]) ** 0.5))
        for k, page in enumerate(found):
            item = TemplatePageItem(page, size, self.look)
            item.setPos((k % across) * (size[0] + GAP), (k // across + 1) * (size[1] + GAP))
            self.preview.scene().addItem(item)

    def _draw_sheets(self, plan: Plan) -> None:
        spots = quilt(plan, self.preview.aspect).sheets
        at = {(s.foam.foam, s.number): s.origin for s in spots}
        for sheet in cut_sheets(plan):
            x, y = at[sheet.foam.foam, sheet.number]
            item = CutSheetItem(sheet, self.look)
            item.setPos(x, -y)
            self.preview.scene().addItem(item)

    # Writing

    @property
    def correction(self) -> float:
        """The factor that makes prints of the printer in use true."""
        printer = self.session.store.printer()
        return printer.correction if printer is not None else 1.0

    @property
    def chosen(self) -> tuple[Piece, ...] | None:
        """The pieces whose templates are wanted, None for all."""
        return self.chosen_at_pattern() if self.which.currentIndex() else None

    def enter(self) -> None:
        """Show the papers; other pieces may be chosen by now."""
        self._stale = True
        super().enter()

    def _choose_paper(self, paper: Paper) -> None:
        self.session.edit(f"Paper {paper.value}", lambda p: set_paper(p, paper))

    def _choose_halves(self, *, halves: bool) -> None:
        what = "half, on the fold" if halves else "whole"
        self.session.edit(f"Symmetrical pieces {what}", lambda p: set_halves(p, halves=halves))

    def _choose_rule(self, rule: TraceRule | None) -> None:
        if rule is not None:
            self.session.edit("Tracing and trimming", lambda p: set_rule(p, rule))

    def _printer_changed(self) -> None:
        self._shown = ()
        self.refresh()

    def ask(self, what: str) -> None:
        """Ask for a place and write there, off the interface thread."""
        stem = self.session.project.name.lower().replace(" ", "-") or "suit"
        if what in (TEMPLATES, CUT_PDF):
            ending = "templates" if what == TEMPLATES else "cut-sheets"
            place = self.ask_file(f"{stem}-{ending}.pdf", "PDF (*.pdf)")
        else:
            place = self.ask_folder()
        if not place:
            return
        plan = self.session.plan
        if what != TEMPLATES and any(f.result is None for f in plan.foams):
            self.session.tell("Some foam is not laid yet: its cut sheets are left out.", "heat")
        correction, chosen = self.correction, self.chosen
        self._tasks.run(lambda: write(plan, what, Path(place), correction, chosen), self._written)

    def _written(self, paths: list[Path] | None, error: Exception | None) -> None:
        if isinstance(error, QuiltError):
            self.session.tell(str(error), "cut")
        elif error is not None:
            raise error
        elif paths:
            where = paths[0] if len(paths) == 1 else f"{len(paths)} files in {paths[0].parent}"
            self.session.tell(f"Written: {where}", "good")

    def _ask_file(self, name: str, kinds: str) -> str:
        start = self.session.path.parent if self.session.path else Path.home()
        found, _ = QFileDialog.getSaveFileName(self, "Where to", str(start / name), kinds)
        return found

    def _ask_folder(self) -> str:
        start = self.session.path.parent if self.session.path else Path.home()
        return QFileDialog.getExistingDirectory(self, "Into which folder", str(start))
