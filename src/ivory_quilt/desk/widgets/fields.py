"""Fields that are typed into, and rows of them: what cards with many numbers are made of."""

from collections.abc import Callable
from enum import Enum
from typing import TypeVar

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QSpinBox, QWidget

from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import show_length, show_number, shown_digits
from ivory_quilt.desk.widgets.basics import Complaint, label, row

T = TypeVar("T")
E = TypeVar("E", bound=Enum)


class EntryField(QLineEdit):
    """A number with its unit, as typed; `take` gets the text once it is typed in full.

    `take` returns False when it refuses the text.
    """

    def __init__(
        self, name: str, take: Callable[[str], object], unit: str = "mm", width: int = 88
    ) -> None:
        """Make an empty field that screen readers call `name`."""
        super().__init__()
        self._unit, self._shown = unit, ""
        self.setAccessibleName(name)
        self.setFixedWidth(width)
        self._take = take
        self.editingFinished.connect(self._typed)

    def show_value(self, value: float, unit: str = "") -> None:
        """Show a value, unless the maker is typing another; in another unit where one is given."""
        self._unit = unit or self._unit
        space = "" if self._unit == "°" else " "
        if self._unit == "mm":  # a length: in the maker's unit
            self._shown = show_length(value, digits=shown_digits())
        else:
            self._shown = f"{show_number(value, 2)}{space}{self._unit}".strip()
        show_text(self, self._shown)

    def type(self, text: str) -> None:
        """Type a text and finish, as a hand would."""
        self.setText(text)
        self.setModified(True)
        self._typed()

    def _typed(self) -> None:
        text, before = self.text(), self._shown
        if not self.isModified() or text == self._shown:
            self.setModified(False)
            return
        if self._take(text) is False:
            return  # refused: it stays as typed, until it is typed anew
        self.setModified(False)
        if self._shown != before:
            self.setText(self._shown)


def show_text(field: QLineEdit, text: str) -> None:
    """Show a text, unless the maker has typed another that is not taken over yet, or was refused.

    Cards are filled anew whenever anything changes, the engine's layouts too.
    """
    if not field.isModified() and field.text() != text:
        field.setText(text)


def show_count(field: QSpinBox, value: int) -> None:
    """Show a whole number, unless the maker is typing another."""
    special = field.specialValueText() if field.value() == field.minimum() else ""
    as_shown = special or field.prefix() + field.textFromValue(field.value()) + field.suffix()
    if field.text() == as_shown and field.value() != value:
        field.setValue(value)


YES = {"yes": True, "no": False, "": False}


def yes_or_no(*, on: bool) -> str:
    """Return how a yes or no stands in a table."""
    return "yes" if on else "no"


def typed_yes(text: str, where: str) -> bool:
    """Read a yes or no as typed into a table; nothing is a no.

    Raises:
        InputError: at `where`: it is neither.
    """
    wish = text.strip().lower()
    if wish not in YES:
        raise InputError(where, f"'{text}'", "yes or no")
    return YES[wish]


def typed_whole(text: str, where: str) -> int:
    """Read a whole number as typed.

    Raises:
        InputError: at `where`: it is none.
    """
    plain = text.strip()
    if not plain.isdigit():
        raise InputError(where, f"'{plain}'", "a whole number")
    return int(plain)


def typed_word(kinds: type[E], where: str, text: str) -> E:
    """Read which of a few kinds a word means.

    Raises:
        InputError: at `where`: none of them.
    """
    known = {str(k.value): k for k in kinds}
    wish = text.strip().lower()
    if wish not in known:
        raise InputError(where, f"'{text}'{nearest(wish, known)}", ", ".join(known))
    return known[wish]


class Taking:
    """Takes over what was typed: ``with Taking(error, field) as taken: ...``.

    What is refused stays in its fields, with the reason below, until it is typed anew. Afterwards
    `taken` is true when nothing was refused.
    """

    def __init__(self, complaint: Complaint, *fields: QLineEdit) -> None:
        """Say in `complaint` why what `fields` hold is refused."""
        self._complaint, self._fields = complaint, fields
        self._taken = True

    def __enter__(self) -> "Taking":
        """Let the fields show what becomes of the edit."""
        for field in self._fields:
            field.setModified(False)
        return self

    def __exit__(
        self, _kind: type[BaseException] | None, error: BaseException | None, _trace: object
    ) -> bool:
        """Keep what was refused."""
        self._taken = error is None
        if error is not None and not isinstance(error, InputError):
            return False
        self._complaint.setText(str(error) if error is not None else "")
        for field in self._fields if error is not None else ():
            field.setModified(True)
        return error is not None

    def __bool__(self) -> bool:
        """Return whether nothing was refused."""
        return self._taken


def regard(card: QWidget, subject: str) -> None:
    """Let go of what was typed and refused in a card as soon as it shows another `subject`."""
    if card.property("subject") == subject:
        return
    card.setProperty("subject", subject)
    for field in card.findChildren(QLineEdit):
        field.setModified(False)
    for complaint in card.findChildren(Complaint):
        complaint.setText("")


def said(text: str, *widgets: QWidget) -> QHBoxLayout:
    """Return a row: words at the left, what is chosen or typed at the right."""
    return row(label(text), None, *widgets)


class FieldLine(QWidget):
    """A row that can be hidden as one."""

    def __init__(self, text: str, *widgets: QWidget) -> None:
        """Make the row."""
        super().__init__()
        self.words = label(text)
        self.setLayout(row(self.words, None, *widgets))


def tick(text: str, take: Callable[[bool], object], tip: str = "") -> QCheckBox:
    """Return a box to tick; `take` gets whether it is ticked by hand."""
    made = QCheckBox(text)
    made.setToolTip(tip)
    made.clicked.connect(lambda on: take(bool(on)))
    return made


def number_in(text: str) -> str:
    """Return what was typed without the sign of a degree or percent."""
    return text.strip().rstrip("°% ").strip()


def with_field(thing: T, name: str, value: object) -> T:
    """Return a record with one field changed, where the field's name is data.

    Raises:
        InputError: a value that makes no sense.
    """
    changed: T = replace(thing, **{name: value})  # type: ignore[type-var]
    return changed
