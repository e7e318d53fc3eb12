"""The shelf and the catalogue: what is owned, what can be bought, and adding to both."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import (
    QComboBox,
    QFileDialog,
    QGridLayout,
    QLabel,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.stock.foam_stock import StockItem, StockKind
from ivory_quilt.core.units import show_length, show_thickness
from ivory_quilt.desk.stations.buy.offcut_outline import BENEATH, read_outline
from ivory_quilt.desk.stations.buy.presenter import (
    DEFAULT_MARGIN,
    KINDS,
    BuyPresenter,
    StockForm,
)
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    clear,
    column,
    counter,
    label,
    row,
)
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.fields import Taking, show_text
from ivory_quilt.desk.work import Background

TEETH = (
    ("on all sides", ""),
    ("on three sides (border)", "left right above"),
    ("on two sides (corner)", "right above"),
    ("on two facing sides", "left right"),
    ("on one side", "left"),
)
OUTLINES = "Drawings and pictures (*.svg *.dxf *.pdf *.png *.jpg *.jpeg *.tif *.tiff)"


class Shelf(QWidget):
    """All stock of the shop, with how many are owned and what one costs."""

    def __init__(self, presenter: BuyPresenter, reader: Callable[[], Background]) -> None:
        """Change the shop through `presenter`; drawings are read on what `reader` returns."""
        super().__init__()
        self._presenter = presenter
        self._state: object = None
        self._prices: list[QLineEdit] = []
        self.rows = QVBoxLayout()
        self.rows.setSpacing(8)
        self.error = Complaint()
        self.form = AddForm(presenter, reader)
        self.usual = UsualSizes(presenter)
        self.setLayout(
            column(
                label("Shelf and catalogue", "title"),
                label("How many you own, and what one more costs.", "note", wrap=True),
                self.error,
                self.usual,
                self.rows,
                Stitch(),
                self.form,
                None,
                space=10,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the present stock."""
        stock = self._presenter.session.stock
        self.form.fill()
        self.usual.setVisible(not stock.items)
        if self._state == stock or any(f.isModified() for f in self._prices if f.hasFocus()):
            return  # a price that is being typed stays; the rows follow once it is taken
        self._state = stock
        self._prices.clear()
        clear(self.rows)
        thickness = None
        for item in stock.items:
            if item.foam != thickness:
                thickness = item.foam
                self.rows.addWidget(Stitch())
                name = stock.material_name(item.foam.material)
                head = label(f"{show_thickness(item.foam.thickness)} {name}", "heading")
                kind = stock.material(item.foam.material).kind
                self.rows.addLayout(row(EdgeBar(item.foam.thickness, kind=kind), head, None))
            self.rows.addLayout(self._row(item))

    def _row(self, item: StockItem) -> QGridLayout:
        most = 999 if item.kind is not StockKind.ROLL else 1
        owned = counter(0, most, f"{item.name}: how many are owned")
        owned.setValue(item.owned)
        owned.setFixedWidth(64)
        owned.valueChanged.connect(lambda n, i=item: self._presenter.set_owned(i, n))
        price = QLineEdit("" if item.price is None else f"{item.price:.2f}")
        self._prices.append(price)
        price.setFixedWidth(72)
        price.setAlignment(Qt.AlignmentFlag.AlignRight)
        price.setPlaceholderText("price?" if item.offered else "none")
        price.setAccessibleName(f"{item.name}: price")
        per = "per metre" if item.kind is StockKind.ROLL else "each"
        price.setToolTip(f"Price {per}; empty when it cannot be bought")
        price.editingFinished.connect(partial(self._price, item, price))
        remove = button("×", partial(self._remove, item), "quiet", "Remove from the shop")
        remove.setFixedWidth(30)
        remove.setAccessibleName(f"remove {item.name}")
        grid = QGridLayout()
        grid.setHorizontalSpacing(6)
        grid.setVerticalSpacing(0)
        grid.addWidget(label(item.name, wrap=True), 0, 0)
        held = [r for r in self._presenter.session.stock.reserved if r.item == item.id]
        words = "".join(f"\n{r.count} held for {r.name}" for r in held)
        grid.addWidget(label(item.size_text + words, "note", wrap=True), 1, 0)
        grid.addWidget(owned, 0, 1, 2, 1)
        grid.addWidget(price, 0, 2, 2, 1)
        grid.addWidget(remove, 0, 3, 2, 1)
        grid.setColumnStretch(0, 1)
        return grid

    def _price(self, item: StockItem, field: QLineEdit) -> None:
        shown = "" if item.price is None else f"{item.price:.2f}"
        if field.text().strip() != shown:
            with Taking(self.error, field):
                self._presenter.set_price(item, field.text())

    def _remove(self, item: StockItem) -> None:
        self._presenter.remove(item)


class UsualSizes(QWidget):
    """Fills an empty shop in one click."""

    def __init__(self, presenter: BuyPresenter) -> None:
        """Fill the shop through `presenter`."""
        super().__init__()
        text = (
            "The shop is empty. Begin with the sizes that foam usually comes in: from memory, and "
            "without prices. Take out what is not sold near you."
        )
        self.metric_button = button("Metric", lambda: presenter.add_usual(metric=True), "main")
        self.imperial = button("Inches", lambda: presenter.add_usual(imperial=True))
        self.both = button("Both", lambda: presenter.add_usual(metric=True, imperial=True))
        for made in (self.metric_button, self.imperial, self.both):
            made.setAccessibleName(f"usual sizes, {made.text().lower()}")
        buttons = row(self.metric_button, self.imperial, self.both, None)
        self.setLayout(column(label("Usual sizes", "heading"), label(text, wrap=True), buttons))


class AddForm(QWidget):
    """A form for stock that the shop does not know yet."""

    def __init__(self, presenter: BuyPresenter, reader: Callable[[], Background]) -> None:
        """Add through `presenter`; drawings are read on what `reader` returns."""
        super().__init__()
        self._presenter, self._reader = presenter, reader
        self._outline: Shape | None = None
        self.kind = QComboBox()
        for kind, word in KINDS:
            self.kind.addItem(word, kind)
        self.kind.activated.connect(lambda _: self._kind())
        self.material = QComboBox()
        self.thickness = QLineEdit("6 mm")
        self.length, self.breadth = QLineEdit(), QLineEdit()
        self.corners = QLineEdit()
        self.corners.setPlaceholderText("0,0; 420,0; 420,180; 0,390")
        self.corners.setToolTip("An offcut's outline, corner by corner, in place of its size")
        self.beneath = QComboBox()
        self.beneath.setEditable(True)
        self.beneath.addItems(["", *BENEATH])
        self.beneath.setToolTip(
            "What the offcut lies on in a photo: a whole sheet of paper or a mat gives the scale "
            "and removes perspective; of a scan, its resolution"
        )
        self.owned = counter(0, 999, "owned")
        self.owned.setValue(1)
        self.price = QLineEdit()
        self.price.setPlaceholderText("none")
        self.margin = QLineEdit()
        self.sides = QComboBox()
        for words, value in TEETH:
            self.sides.addItem(words, value)
        self.sides.setToolTip("The tile's sides that interlock: they are cut off, and make strips")
        self.sides.setEnabled(False)
        self.name = QLineEdit()
        self.name.setPlaceholderText("optional")
        self.corners.setEnabled(False)
        self.error = Complaint()
        self.outline_note = label("", "note", wrap=True)
        grid = QGridLayout()
        grid.setVerticalSpacing(8)
        size = QWidget()
        size.setLayout(row(self.length, label("×"), self.breadth, space=4))
        self.length.setAccessibleName("length")
        self.breadth.setAccessibleName("width")
        for k, (text, field) in enumerate(
            (
                ("Kind", self.kind),
                ("Foam", self.material),
                ("Thickness", self.thickness),
                ("Size", size),
                ("Corners", self.corners),
                ("Photo on", self.beneath),
                ("Owned", self.owned),
                ("Price", self.price),
                ("Edge strip", self.margin),
                ("Teeth", self.sides),
                ("Name", self.name),
            )
        ):
            grid.addWidget(QLabel(text), k, 0)
            field.setAccessibleName(text)
            grid.addWidget(field, k, 1)
        self.margin.setToolTip("Kept free along every edge: a tile loses its interlocking edge")
        add = button("Add", self._add, "main")
        drawn = button(
            "Outline from file …",
            self._choose,
            tip="An irregular offcut: a drawing at true size, a scan, or a photo of it on paper",
        )
        self.setLayout(
            column(
                label("Add foam", "heading"),
                grid,
                self.outline_note,
                self.error,
                row(add, drawn, None),
                space=8,
            )
        )

    def fill(self) -> None:
        """Offer the shop's materials; sizes stand in the maker's unit until others are typed."""
        show_text(self.length, show_length(1000.0))
        show_text(self.breadth, show_length(500.0))
        show_text(self.margin, show_length(DEFAULT_MARGIN[self._chosen_kind()]))
        known = [(m.id, m.name) for m in self._presenter.session.stock.materials]
        if [self.material.itemData(k) for k in range(self.material.count())] == [
            i for i, _ in known
        ]:
            return
        self.material.clear()
        for ident, name in known:
            self.material.addItem(name, ident)

    def _kind(self) -> None:
        kind = self._chosen_kind()
        self.margin.setText(show_length(DEFAULT_MARGIN[kind]))
        self.set_outline(None)
        self.corners.setEnabled(kind is StockKind.OFFCUT)
        self.sides.setEnabled(kind is StockKind.TILE)

    def _chosen_kind(self) -> StockKind:
        # Qt hands text enums back as plain text.
        return StockKind(self.kind.currentData())

    def set_outline(self, shape: Shape | None) -> None:
        """Take an outline in place of length × width."""
        self._outline = shape
        self.length.setEnabled(shape is None)
        self.breadth.setEnabled(shape is None)
        text = "" if shape is None else f"outline taken, {shape.width:.0f} × {shape.height:.0f} mm"
        self.outline_note.setText(text)

    def _choose(self) -> None:
        name, _ = QFileDialog.getOpenFileName(self, "Outline of an offcut", "", OUTLINES)
        if name:
            self.read_outline(Path(name))

    def read_outline(self, path: Path) -> None:
        """Take the largest outline of a drawing or a photo as an offcut."""
        work = partial(read_outline, path, self.beneath.currentText())
        self._reader()(work, self._have_outline)

    def _have_outline(self, shape: Shape | None, error: Exception | None) -> None:
        if shape is None:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self.kind.setCurrentIndex([k for k, _ in KINDS].index(StockKind.OFFCUT))
        self.margin.setText(show_length(DEFAULT_MARGIN[StockKind.OFFCUT]))
        self.set_outline(shape)

    def _add(self) -> None:
        form = StockForm(
            self._chosen_kind(),
            self.material.currentData() or "eva",
            self.thickness.text(),
            self.length.text(),
            self.breadth.text(),
            self.owned.value(),
            self.price.text(),
            self.margin.text(),
            self.name.text(),
            self._outline,
            self.corners.text() if self._chosen_kind() is StockKind.OFFCUT else "",
            self.sides.currentData() if self._chosen_kind() is StockKind.TILE else "",
        )
        try:
            item = self._presenter.add(form)
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self.name.clear()
        self.set_outline(None)
        self.corners.clear()
        self._presenter.session.tell(f"{item.name} is in the shop now.", "good")
