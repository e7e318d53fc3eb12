"""Fields that are typed into, and rows of them: what cards with many numbers are made of."""

from collections.abc import Callable
from dataclasses import replace
from typing import TypeVar

from PySide6.QtWidgets import QCheckBox, QHBoxLayout, QLineEdit, QWidget

from ivory_quilt.core.units import show_number
from ivory_quilt.desk.widgets.basics import label, row

T = TypeVar("T")


class EntryField(QLineEdit):
    """A number with its unit, as typed; `take` gets the text once it is typed in full."""

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
        self._shown = f"{show_number(value, 2)}{space}{self._unit}".strip()
        if not (self.hasFocus() and self.isModified()):
            self.setText(self._shown)

    def type(self, text: str) -> None:
        """Type a text and finish, as a hand would."""
        self.setText(text)
        self.setModified(True)
        self._typed()

    def _typed(self) -> None:
        text = self.text()
        if self.isModified() and text != self._shown:
            self.setModified(False)
            self._take(text)


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
