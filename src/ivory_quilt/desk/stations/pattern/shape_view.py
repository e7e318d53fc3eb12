"""Make a shape: choose one, fill in its numbers, see its pieces and their reckoning at once."""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import QRectF, QSize, Qt
from PySide6.QtGui import QIcon, QPainter, QPaintEvent, QPixmap, QTransform
from PySide6.QtWidgets import (
    QComboBox,
    QGridLayout,
    QLabel,
    QLineEdit,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.shapes.book import MAKERS
from ivory_quilt.core.shapes.maker import ShapeInput, ShapeInputKind, ShapeResult
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.paths import line_path, shape_path
from ivory_quilt.desk.canvas.pens import cosmetic
from ivory_quilt.desk.stations.pattern.shape_presenter import ShapePresenter, shown_result, sizes
from ivory_quilt.desk.theme.palette import LIGHT, Palette, piece_fill
from ivory_quilt.desk.widgets.basics import Complaint, Stitch, button, clear, label, row
from ivory_quilt.desk.widgets.slip import SlipFigure

PREVIEW_HEIGHT = 150
ICON = QSize(96, 52)


def paint_pieces(
    painter: QPainter,
    made: ShapeResult,
    room: QRectF,
    look: Palette,
    thickness: float,
    width: float = 1.2,
) -> None:
    """Paint all pieces of a shape side by side at one scale, as large as `room` allows."""
    gap = 0.06 * max(p.shape.width for p in made.pieces)
    wide = sum(p.shape.width for p in made.pieces) + gap * (len(made.pieces) - 1)
    high = max(p.shape.height for p in made.pieces)
    scale = min(room.width() / wide, room.height() / high)
    x = room.center().x() - wide * scale / 2
    for piece in made.pieces:
        x0, y0, _, y1 = piece.shape.bounds
        top = room.center().y() - (y1 - y0) * scale / 2
        move = QTransform(scale, 0, 0, scale, x - x0 * scale, top + y1 * scale)
        painter.setPen(cosmetic(look.colour("ink"), width))
        painter.setBrush(piece_fill(piece.thickness or thickness, look))
        painter.drawPath(move.map(shape_path(piece.shape)))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        for line in piece.lines:
            name = "ink_soft" if line.kind is LineKind.MARK else "score"
            painter.setPen(cosmetic(look.colour(name), width, (4, 3)))
            painter.drawPath(move.map(line_path(line)))
        x += (piece.shape.width + gap) * scale


def shape_icon(ident: str, look: Palette) -> QIcon:
    """Return a small picture of a shape made of its default numbers."""
    ratio = 2.0
    pixmap = QPixmap(ICON * ratio)
    pixmap.setDevicePixelRatio(ratio)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    room = QRectF(4, 4, ICON.width() - 8, ICON.height() - 8)
    paint_pieces(painter, MAKERS[ident].made({}), room, look, 6.0, 1.0)
    painter.end()
    return QIcon(pixmap)


class Preview(QWidget):
    """The pieces that the numbers make."""

    def __init__(self) -> None:
        """Show nothing yet."""
        super().__init__()
        self.setFixedHeight(PREVIEW_HEIGHT)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setAccessibleName("preview of the shape")
        self.look = LIGHT
        self.made: ShapeResult | None = None
        self.thickness = 6.0

    def show_made(self, made: ShapeResult | None, look: Palette, thickness: float) -> None:
        """Show what was made, or an empty frame."""
        self.made, self.look, self.thickness = made, look, thickness
        self.update()

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Paint the pieces on paper with a stitched edge."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        frame = QRectF(self.rect()).adjusted(1, 1, -1, -1)
        painter.setPen(cosmetic(self.look.colour("thread"), 1.6, (4, 3)))
        painter.setBrush(self.look.colour("paper"))
        painter.drawRoundedRect(frame, 6, 6)
        if self.made is not None:
            room = frame.adjusted(12, 12, -12, -12)
            paint_pieces(painter, self.made, room, self.look, self.thickness)


class ShapePanel(QWidget):
    """First the shapes to choose from, then the numbers of the chosen one."""

    def __init__(
        self,
        presenter: ShapePresenter,
        start: Callable[[str], None],
        add: Callable[[], None],
        edge_of_chosen: Callable[[], float | None],
        done: Callable[[], None],
    ) -> None:
        """Show `presenter`; `edge_of_chosen` is the outline of the piece chosen on the board."""
        super().__init__()
        self.presenter = presenter
        self._start, self._add, self._done = start, add, done
        self._edge_of_chosen = edge_of_chosen
        self.look = LIGHT
        self.tiles: dict[str, QToolButton] = {}
        self.fields: dict[str, QLineEdit | QComboBox] = {}
        self._shown: object = None
        self.preview = Preview()
        self.complaint = Complaint()
        self.sizes = label("", "note", wrap=True)
        self.figures = QVBoxLayout()
        self._content = QVBoxLayout(self)
        self._content.setContentsMargins(16, 16, 16, 16)
        self._content.setSpacing(12)

    def fill(self, look: Palette) -> None:
        """Show the present state."""
        state = (self.presenter.choosing, self.presenter.shape, self.presenter.group, look)
        self.look = look
        if state != self._shown:
            self._shown = state
            self._rebuild()
        if self.presenter.shape is not None:
            self._fill_numbers()

    # Choosing

    def _rebuild(self) -> None:
        for kept in (self.preview, self.complaint, self.sizes):
            kept.setParent(None)
        clear(self._content)
        self.figures = QVBoxLayout()
        self.tiles, self.fields = {}, {}
        if self.presenter.shape is not None:
            self._build_numbers()
        elif self.presenter.choosing:
            self._build_choice()

    def _build_choice(self) -> None:
        grid = QGridLayout()
        grid.setSpacing(8)
        for k, shape in enumerate(MAKERS.values()):
            tile = QToolButton()
            tile.setText(shape.title)
            tile.setToolTip(shape.help)
            tile.setIcon(shape_icon(shape.id, self.look))
            tile.setIconSize(ICON)
            tile.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextUnderIcon)
            tile.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
            tile.setMinimumHeight(88)
            tile.clicked.connect(partial(self._start, shape.id))
            self.tiles[shape.id] = tile
            grid.addWidget(tile, k // 2, k % 2)
        self._content.addWidget(label("Make a shape", "title"))
        note = "Pieces made from numbers stay linked to them: change a number, and they follow."
        self._content.addWidget(label(note, "note", wrap=True))
        self._content.addLayout(grid)
        self._content.addLayout(row(button("Cancel", self._done, "quiet"), None))
        self._content.addStretch(1)

    # Numbers

    def _build_numbers(self) -> None:
        shape = self.presenter.shape
        assert shape is not None
        grid = QGridLayout()
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(8)
        for k, field in enumerate(shape.fields):
            made = self._field(field)
            text = QLabel(field.title)
            text.setWordWrap(True)
            text.setBuddy(made)
            made.setAccessibleName(field.title)
            self.fields[field.name] = made
            grid.addWidget(text, k, 0, Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(made, k, 1)
            if field.unit:
                grid.addWidget(label(field.unit, "note", wrap=True), k, 2)
        grid.setColumnStretch(0, 3)
        grid.setColumnStretch(1, 2)
        new = self.presenter.is_new
        items: list[QWidget | QVBoxLayout | QGridLayout] = [
            label(shape.title, "title", wrap=True),
            label(shape.help, "note", wrap=True),
            self.preview,
            self.sizes,
            self.complaint,
            grid,
        ]
        for item in items:
            if isinstance(item, QWidget):
                self._content.addWidget(item)
            else:
                self._content.addLayout(item)
        if shape.id == "edging":
            take = button("Use the selected piece's outline", self._take_edge, "quiet")
            self._content.addLayout(row(take, None))
        self._content.addWidget(Stitch())
        self._content.addLayout(self.figures)
        self._content.addWidget(Stitch())
        self.add_button = button("Add to the project", self._add, "main")
        if new:
            self._content.addLayout(row(self.add_button, button("Back", self.back, "quiet"), None))
        else:
            self._content.addLayout(row(button("Done", self._done, "main"), None))
        self._content.addStretch(1)

    def _field(self, field: ShapeInput) -> QLineEdit | QComboBox:
        if field.kind is ShapeInputKind.CHOICE:
            box = QComboBox()
            for value, words in field.options:
                box.addItem(words, value)
            box.activated.connect(lambda k: self._set(field, field.options[k][0]))
            return box
        line = QLineEdit()
        line.textEdited.connect(lambda text: self._set(field, text))
        return line

    def _set(self, field: ShapeInput, text: str) -> None:
        self.presenter.set(field, text)
        self._fill_numbers()

    def _take_edge(self) -> None:
        shape, found = self.presenter.shape, self._edge_of_chosen()
        if shape is None:
            return
        if found is None:
            self.complaint.setText("Select a piece on the board first.")
            return
        field = next(f for f in shape.fields if f.name == "edges")
        self._set(field, show_number(found, 1))

    def _fill_numbers(self) -> None:
        shape, made = self.presenter.shape, self.presenter.made
        if shape is None:
            return
        for field in shape.fields:
            shown, value = self.fields[field.name], self.presenter.values[field.name]
            if isinstance(shown, QComboBox):
                shown.setCurrentIndex(shown.findData(value))
            elif shown.text() != value and not shown.hasFocus():
                shown.setText(value)
        self.complaint.setText(self.presenter.error)
        self.add_button.setEnabled(made is not None)
        if made is None:
            return  # the last good picture stays while a number is being typed
        self.preview.show_made(made, self.look, self._thickness())
        self.sizes.setText(sizes(made))
        clear(self.figures)
        for name, result in made.reckoning.results.items():
            figure = SlipFigure("mono")
            figure.show_figure(shown_result(name, result), partial(_same, made.reckoning))
            self.figures.addLayout(row(label(name.replace("_", " "), "note"), None, figure))
        for note in made.reckoning.notes:
            self.figures.addWidget(label(note, "note", "heat", wrap=True))

    def _thickness(self) -> float:
        shape = self.presenter.shape
        assert shape is not None
        for field in shape.fields:
            if field.is_thickness:
                value = field.parse(self.presenter.values[field.name])
                return value if isinstance(value, float) and value > 0 else 6.0
        return 6.0

    def back(self) -> None:
        """Go back to the choice of shapes."""
        self.presenter.choose()
        self.fill(self.look)


def _same(reckoning: Reckoning) -> Reckoning:
    return reckoning
