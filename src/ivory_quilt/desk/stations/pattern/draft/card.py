"""Draft's card: what the hand holds, what the drawn line is, the edges, the tracing rule."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import (
    QButtonGroup,
    QGridLayout,
    QLineEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.pattern.edges import edge_length, edges_of
from ivory_quilt.core.pattern.piece import Edge, LineKind, Piece, TraceRule
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.stations.pattern.draft.motif_box import MotifBox
from ivory_quilt.desk.stations.pattern.draft.outline_box import OutlineBox
from ivory_quilt.desk.stations.pattern.draft.picture_box import PictureBox
from ivory_quilt.desk.stations.pattern.draft.plate_box import PlateBox
from ivory_quilt.desk.stations.pattern.draft.presenter import (
    LINES,
    TOOLS,
    DraftPresenter,
    Tool,
)
from ivory_quilt.desk.stations.pattern.draft.row_box import RowBox
from ivory_quilt.desk.stations.pattern.draft.version_box import VersionBox
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    clear,
    column,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import Taking, regard, tick
from ivory_quilt.desk.widgets.rule_box import RuleBox

MOST_EDGES = 16
ADVICE = {
    Tool.CHOOSE: "Click a line, a mark or text.",
    Tool.LINE: "Drag a line across the piece. Corners, middles and edges pull it.",
    Tool.MATCH: "Click the outline where two edges must meet.",
    Tool.WORDS: "Type the text, then click where it goes.",
    Tool.CORNER: "Click the outline to split an edge there; click a corner to remove it.",
    Tool.OUTLINE: "Drag nodes, handles or sides. Double-click a side to add a node; "
    "arrow keys move by 1 mm, with Shift 10.",
    Tool.REDRAW: "Draw over the outline, from one place on it to another: that stretch goes.",
    Tool.PICTURE: "Lay a scan or photo beneath the piece, to its size, and draw over it.",
}


class DraftCard(QWidget):
    """Everything that can be done to the piece that is drafted."""

    def __init__(self, presenter: DraftPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the table must be drawn anew."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self._filling = False
        self._edges_shown: list[tuple[Edge, float]] = []
        self.title = label("", "title", wrap=True)
        self.tools: dict[Tool, QPushButton] = {}
        self.advice = label("", "note", wrap=True)
        self.error = Complaint()
        self.words = QLineEdit()
        self.words.setPlaceholderText("e.g. top, buckle here")
        self.words.setAccessibleName("words")
        self.words.textChanged.connect(self._type)
        self.line_box = self._line_box()
        self.outline = OutlineBox(presenter.outline, changed)
        self.picture = PictureBox(presenter.picture, changed)
        self.chosen_text = label("", wrap=True)
        self.delete = button("Delete", self.delete_chosen, tip="Delete it from the piece (Delete)")
        self.chosen_box = QWidget()
        self.chosen_box.setLayout(column(self.chosen_text, row(self.delete, None)))
        self.edges = QVBoxLayout()
        self.edges.setSpacing(4)
        self.row = RowBox(presenter, changed)
        self.plates = PlateBox(presenter, changed)
        self.motif = MotifBox(presenter.motif, changed)
        self.versions = VersionBox(presenter.versions, changed)
        self.rule = RuleBox(self._set_rule, "The project's rule")
        group = QButtonGroup(self)
        grid = QGridLayout()
        grid.setSpacing(6)
        for k, (tool, title, tip) in enumerate(TOOLS):
            made = button(title, partial(self.hold, tool), tip=tip)
            made.setCheckable(True)
            group.addButton(made)
            grid.addWidget(made, k // 3, k % 3)
            self.tools[tool] = made
        self.setLayout(
            column(
                self.title,
                grid,
                self.advice,
                self.words,
                self.error,
                self.outline,
                self.picture,
                self.line_box,
                self.chosen_box,
                Stitch(),
                label("Edges", "heading"),
                self.edges,
                Stitch(),
                self.versions,
                Stitch(),
                self.row,
                Stitch(),
                self.plates,
                Stitch(),
                self.motif,
                Stitch(),
                label("Tracing and trimming", "heading"),
                self.rule,
                None,
                space=10,
                edge=16,
            )
        )

    def _line_box(self) -> QWidget:
        box = QWidget()
        grid = QGridLayout()
        grid.setSpacing(6)
        for k, (kind, title) in enumerate(LINES):
            grid.addWidget(button(title, partial(self.keep_line, kind)), k // 2, k % 2)
        self.width_field = QLineEdit("10 mm")
        self.width_field.setAccessibleName("width")
        self.width_field.setFixedWidth(84)
        p = self._presenter
        part = button("Split here", lambda: self.cut(p.part), tip="Two pieces with a seam")
        strip = button(
            "Let in a strip",
            lambda: self.cut_by(p.let_in),
            tip="What lies left of the line moves away by the width",
        )
        self.too = tick(
            "a strip goes into the neighbours too",
            self._strip_too,
            "Where the line meets a seam, the piece on its other side gets one as well",
        )
        self.too.setChecked(p.neighbours)
        dart = button(
            "Cut a dart",
            lambda: self.cut_by(p.dart),
            tip="Mouth at the line's start on the edge, tip at its end",
        )
        take = button(
            "Take in",
            lambda: self.cut_by(p.take_in),
            tip="The width goes at the line's start, nothing at its end",
        )
        box.setLayout(
            column(
                label("This line is a", "note"),
                grid,
                label("or cut the piece along it", "note"),
                row(part, None),
                row(label("Width"), self.width_field, None),
                row(strip, dart, None),
                self.too,
                row(take, None),
            )
        )
        return box

    def _strip_too(self, on: bool) -> None:  # noqa: FBT001 - Qt says whether it is ticked
        self._presenter.neighbours = on

    # Showing

    def fill(self) -> None:
        """Show the piece that is drafted."""
        piece = self._presenter.piece
        if piece is None:
            return
        self._filling = True
        regard(self, piece.id)
        tool = self._presenter.tool
        self.title.setText(piece.name)
        self.tools[tool].setChecked(True)
        self.advice.setText(ADVICE[tool])
        self.words.setVisible(tool is Tool.WORDS)
        self.line_box.setVisible(self._presenter.pending is not None)
        self.outline.setVisible(tool is Tool.OUTLINE)
        if tool is Tool.OUTLINE:
            self.outline.fill()
        self.picture.setVisible(tool in (Tool.REDRAW, Tool.PICTURE))
        if tool in (Tool.REDRAW, Tool.PICTURE):
            self.picture.fill(stroke=tool is Tool.REDRAW)
        what = self._presenter.what_is_chosen()
        self.chosen_box.setVisible(bool(what))
        self.chosen_text.setText(f"Selected: {what}")
        self._fill_edges(piece)
        self.row.fill(piece)
        self.plates.fill(piece)
        self.motif.fill(piece)
        self.versions.fill()
        self.rule.fill(piece.rule, self._presenter.session.project.rule)
        self._filling = False

    def _fill_edges(self, piece: Piece) -> None:
        known = edges_of(piece)
        state = [(e, edge_length(piece, e)) for e in known]
        if state == self._edges_shown:
            return  # a name that is being typed stays
        self._edges_shown = state
        clear(self.edges)
        for edge in known[:MOST_EDGES]:
            field = QLineEdit(edge.name)
            field.setAccessibleName(f"name of edge {edge.name}")
            field.setFixedWidth(120)
            field.editingFinished.connect(partial(self._rename, edge.name, field))
            length = label(f"{show_number(edge_length(piece, edge), 1)} mm", "mono")
            self.edges.addLayout(row(field, length, None))
        if len(known) > MOST_EDGES:
            self.edges.addWidget(label(f"and {len(known) - MOST_EDGES} more", "note"))

    # Doing

    def hold(self, tool: Tool) -> None:
        """Take another tool in the hand."""
        self._presenter.tool = tool
        self._presenter.pending = None
        self.error.setText("")
        self._changed()

    def keep_line(self, kind: LineKind) -> None:
        """Say what the drawn line is."""
        self._presenter.keep_line(kind)
        self._changed()

    def cut(self, work: Callable[[], None]) -> None:
        """Cut the piece, or say why not."""
        with Taking(self.error) as taken:
            work()
        if taken:
            self._changed()

    def cut_by(self, work: Callable[[str], None]) -> None:
        """Cut the piece by the width typed."""
        self.cut(lambda: work(self.width_field.text()))

    def delete_chosen(self) -> None:
        """Take the chosen thing off the piece, the chosen nodes with the Outline tool."""
        if self._presenter.tool is Tool.OUTLINE:
            self.outline.do(self._presenter.outline.remove)
            return
        self._presenter.delete_chosen()
        self._changed()

    def complain(self, text: str) -> None:
        """Say why something was refused."""
        self.error.setText(text)

    def _type(self, text: str) -> None:
        self._presenter.words = text

    def _rename(self, old: str, field: QLineEdit) -> None:
        if self._filling or field.text().strip() == old:
            return
        with Taking(self.error, field):
            self._presenter.rename_edge(old, field.text())

    def _set_rule(self, rule: TraceRule | None) -> None:
        self.cut(lambda: self._presenter.set_rule(rule))
