"""What the shop knows of a foam: its book values, and test strips that say otherwise."""

from collections.abc import Callable
from datetime import UTC, datetime
from functools import partial

from PySide6.QtWidgets import QLineEdit, QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bend_allowance import neutral_from_coupon
from ivory_quilt.core.forming.book import FoamBook, density_of
from ivory_quilt.core.forming.coupons import Coupon, CouponKind, coupon_sentence, with_coupon
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import Material, MaterialKind
from ivory_quilt.core.units import parse_lengths, parse_scalar, show_number, typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, button, choices, clear, column, label, row
from ivory_quilt.desk.widgets.fields import (
    EntryField,
    FieldLine,
    Taking,
    number_in,
    said,
    with_field,
)

VALUES = (
    ("neutral", "Neutral line, of thickness", ""),
    ("shrink_along", "Heat shrinks it along", "%"),
    ("shrink_across", "and across", "%"),
    ("dish_limit", "Dishes up to a strain of", "%"),
    ("tightest", "Tightest bend, thicknesses", ""),
    ("springback", "Springs back by", "%"),
    ("stretch_along", "Stretches along the grain", "%"),
    ("stretch_across", "and across it", "%"),
    ("density", "Density", "g/cm³"),
)
STRETCHES = ("stretch_along", "stretch_across")
STRIPS = tuple((k, k.value) for k in CouponKind)


class BookCard(QWidget):
    """The book of the piece's foam."""

    def __init__(self, session: Session, changed: Callable[[], None]) -> None:
        """Show what the shop of `session` knows."""
        super().__init__()
        self._session, self._changed = session, changed
        self._piece: Piece | None = None
        self.open_button = button("", self._toggle, "quiet")
        self.fields = {
            name: EntryField(words.lower(), partial(self._typed, name), unit, 90)
            for name, words, unit in VALUES
        }
        self.error = Complaint()
        self.kind = choices(STRIPS, lambda _: None)
        self.kind.setAccessibleName("what the strips tell")
        self.before, self.after = QLineEdit(), QLineEdit()
        self.before.setPlaceholderText("100, 100, 100")
        self.after.setPlaceholderText("99.2, 99.5, 99.1")
        self.before.setAccessibleName("each strip before")
        self.after.setAccessibleName("the same after")
        self.result = label("", wrap=True)
        self.use = button("Save to the book", self._use)
        self.kept = QVBoxLayout()
        self._coupon: Coupon | None = None
        self.angle = EntryField("angle of the bent strip", lambda _: None, "°", 70)
        self.radius = EntryField("inside radius of the bent strip", lambda _: None)
        self.flat_length = EntryField("strip before it was bent", lambda _: None)
        self.angle.setText("90°")
        self.sheet_length = EntryField("length of the weighed sheet", lambda _: None)
        self.sheet_width = EntryField("width of the weighed sheet", lambda _: None)
        self.grams = EntryField("its weight", lambda _: None, "g")
        self.body = QWidget()
        self._lines = {name: FieldLine(words, self.fields[name]) for name, words, _ in VALUES}
        note = (
            "These values are from memory, common practice: change them, or let test strips speak."
        )
        self.body.setLayout(
            column(
                label(note, "note", wrap=True),
                *self._lines.values(),
                self.error,
                label("Weigh a sheet", "heading"),
                FieldLine("Size", self.sheet_length, label("×"), self.sheet_width),
                FieldLine("Weighs", self.grams, button("Use it", self._weigh)),
                label("Test strips", "heading"),
                self.kind,
                said("Before", self.before),
                said("After", self.after),
                row(button("Calculate", self._reckon, "main"), self.use, None),
                self.result,
                self.kept,
                label("Neutral line from a bent strip", "heading"),
                FieldLine("Angle", self.angle),
                FieldLine("Inside radius", self.radius),
                FieldLine("Flat before", self.flat_length),
                row(button("Use it", self._neutral), None),
                space=6,
            )
        )
        self.body.setVisible(False)
        self.use.setVisible(False)
        self.setLayout(column(row(self.open_button, None), self.body))

    @property
    def material(self) -> Material | None:
        """The foam of the piece under work."""
        if self._piece is None:
            return None
        return self._session.stock.material(self._piece.material)

    def fill(self, piece: Piece) -> None:
        """Show the book of a piece's foam."""
        self._piece = piece
        found = self.material
        assert found is not None
        word = "Close" if not self.body.isHidden() else "Open"
        self.open_button.setText(f"{word} the book of {found.name}")
        for name, field in self.fields.items():
            field.show_value(getattr(found.book, name))
        for name in STRETCHES:
            self._lines[name].setVisible(found.kind is MaterialKind.CLOTH)
        if not self.body.isHidden():
            self._fill_kept(found)

    def _fill_kept(self, material: Material) -> None:
        clear(self.kept)
        for coupon in [c for c in self._session.store.coupons() if c.material == material.id][-4:]:
            text = f"{coupon.date} {coupon.what.value}: {coupon_sentence(coupon, material.book)}"
            self.kept.addWidget(label(text, "note", wrap=True))

    def _toggle(self) -> None:
        self.body.setVisible(self.body.isHidden())
        if self._piece is not None:
            self.fill(self._piece)

    # Doing

    def _write(self, book: FoamBook) -> None:
        found = self.material
        if found is not None and book != found.book:
            made = replace(found, book=book)
            if self._session.try_shop(lambda: self._session.store.put_material(made)):
                self._session.reload_stock()
                self._changed()

    def _typed(self, name: str, text: str) -> bool:
        found = self.material
        if found is None:
            return True
        number = text.replace("g/cm³", "")
        with Taking(self.error) as taken:
            value = parse_scalar(number_in(number), where=name.replace("_", " "))
            self._write(with_field(found.book, name, value))
        return bool(taken)

    def _reckon(self) -> None:
        found = self.material
        if found is None:
            return
        self._coupon = None
        self.use.setVisible(False)
        try:
            before = parse_lengths(self.before.text(), where="before")
            after = parse_lengths(self.after.text(), where="after")
            today = datetime.now(UTC).date().isoformat()
            what = STRIPS[self.kind.currentIndex()][0]
            coupon = Coupon(found.id, what, today, before, after)
            self.result.setText(coupon_sentence(coupon, found.book))
        except InputError as error:
            self.result.setText("")
            self.error.setText(str(error))
            return
        self.error.setText("")
        self._coupon = coupon
        self.use.setVisible(True)

    def _use(self) -> None:
        found, coupon = self.material, self._coupon
        if found is None or coupon is None:
            return
        try:
            book = with_coupon(found.book, coupon)
        except InputError as error:
            self.error.setText(str(error))
            return
        if not self._session.try_shop(lambda: self._session.store.put_coupon(coupon)):
            return
        self._write(book)
        self.use.setVisible(False)
        name = show_number(coupon.result.mean, 2)
        self._session.tell(f"{found.name}: {coupon.what.value} is {name} % from now on.", "good")

    def _weigh(self) -> None:
        found, piece = self.material, self._piece
        if found is None or piece is None:
            return
        try:
            density = density_of(
                typed_length(self.sheet_length.text(), where="length"),
                typed_length(self.sheet_width.text(), where="width"),
                piece.thickness,
                parse_scalar(self.grams.text().strip(" g"), where="weight"),
            )
            book = replace(found.book, density=round(density, 4))
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self._write(book)

    def _neutral(self) -> None:
        found, piece = self.material, self._piece
        if found is None or piece is None:
            return
        try:
            reckoned = neutral_from_coupon(
                parse_scalar(number_in(self.angle.text()), where="angle"),
                typed_length(self.radius.text(), where="inside radius"),
                piece.thickness,
                typed_length(self.flat_length.text(), where="flat before"),
            )
            book = replace(found.book, neutral=round(reckoned.figure("neutral"), 3))
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self._write(book)


assert {name for name, _, _ in VALUES} == set(FoamBook.__struct_fields__)
