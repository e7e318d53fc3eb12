"""What a file still wants from the maker: one known length, or mends to choose."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QFrame, QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.imports.drawing import DrawingImport
from ivory_quilt.desk.stations.pattern.presenter import PatternPresenter
from ivory_quilt.desk.widgets.basics import Complaint, Stitch, button, clear, column, label, row
from ivory_quilt.desk.work import Background

MOST_SHOWN = 40


class ImportPanel(QWidget):
    """One block a file."""

    def __init__(
        self,
        presenter: PatternPresenter,
        changed: Callable[[], None],
        reader: Callable[[], Background],
    ) -> None:
        """Show `presenter`'s imports; call `changed` when one is settled.

        Files are read again on what `reader` returns.
        """
        super().__init__()
        self._presenter, self._reader = presenter, reader
        self._changed = changed
        self._blocks = QVBoxLayout()
        self._blocks.setContentsMargins(0, 0, 0, 0)
        self.setLayout(self._blocks)

    def fill(self) -> None:
        """Show what waits; hide when nothing does."""
        clear(self._blocks)
        self.setVisible(bool(self._presenter.imports))
        for found in self._presenter.imports:
            frame = QFrame()
            frame.setObjectName("Bar")
            frame.setProperty("tone", "heat")
            frame.setLayout(self._scale(found) if found.reading.needs_scale else self._list(found))
            self._blocks.addWidget(frame)

    def _scale(self, found: DrawingImport) -> QVBoxLayout:
        drawn, real = QLineEdit(show_number(found.drawn_width, 3)), QLineEdit()
        drawn.setAccessibleName("length in the file")
        real.setAccessibleName("real length")
        real.setPlaceholderText("e.g. 127 mm")
        error = Complaint()

        def settle() -> None:
            try:
                scale = self._presenter.scale_said(drawn.text(), real.text())
            except InputError as problem:
                error.setText(str(problem))
                return
            self._reader()(partial(found.at_scale, scale), have)

        def have(reading: Reading | None, problem: Exception | None) -> None:
            if reading is None:
                error.setText(str(problem))
                return
            self._presenter.set_scale(found, reading)
            self._changed()

        real.returnPressed.connect(settle)
        width = show_number(found.drawn_width, 2)
        text = (
            f"The file gives no size units. All outlines together are {width} units wide. "
            "Enter one length you know."
        )
        return column(
            label(f"How large is {found.file}?", "heading", wrap=True),
            label(text, "note", wrap=True),
            row(label("in the file", "note"), drawn),
            row(label("actual size", "note"), real),
            error,
            row(
                button("Set the scale", settle, "main"),
                button("Dismiss", lambda: self._dismiss(found), "quiet"),
                None,
            ),
            edge=12,
        )

    def _list(self, found: DrawingImport) -> QVBoxLayout:
        layout = column(label(f"{found.file}: to check", "heading", wrap=True), edge=8)
        problems = found.open_problems
        if sum(bool(p.hints_of) for p in problems) > 1:
            take = button("Apply all labels", lambda: self._take_hints(found), "main")
            layout.addLayout(row(take, None))
        for problem in problems[:MOST_SHOWN]:
            layout.addWidget(Stitch())
            layout.addLayout(self._problem(found, problem))
        if len(problems) > MOST_SHOWN:
            layout.addWidget(label(f"and {len(problems) - MOST_SHOWN} more", "note"))
        layout.addWidget(Stitch())
        layout.addLayout(row(button("Done", lambda: self._dismiss(found)), None))
        return layout

    def _problem(self, found: DrawingImport, problem: ReadProblem) -> QVBoxLayout:
        x, y = problem.where
        place = f"at {show_number(x, 1)}, {show_number(y, 1)} mm in the file"
        layout = column(
            label(problem.message.capitalize(), wrap=True), label(place, "note"), space=4
        )
        if problem.fix or problem.adds_line is not None or problem.hints_of:
            text = problem.mend[:1].upper() + problem.mend[1:]
            take = button(text, lambda: self._mend(found, problem))
            layout.addLayout(row(take, None))
        elif problem.mend:
            layout.addWidget(label(problem.mend.capitalize(), "note", wrap=True))
        return layout

    def _mend(self, found: DrawingImport, problem: ReadProblem) -> None:
        self._presenter.mend(found, problem)
        self._changed()

    def _take_hints(self, found: DrawingImport) -> None:
        self._presenter.take_all_hints(found)
        self._changed()

    def _dismiss(self, found: DrawingImport) -> None:
        self._presenter.dismiss(found)
        self._changed()
