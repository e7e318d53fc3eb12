"""Many changes of a card, laid out once.

Qt lays all that surrounds a widget out whenever one is shown or hidden; a card of wrapped words
takes some milliseconds for it, and a card that is filled shows and hides many.
"""

from collections.abc import Iterator
from contextlib import contextmanager

from PySide6.QtWidgets import QLayout, QWidget


@contextmanager
def laid_out_once(*widgets: QWidget) -> Iterator[None]:
    """Keep `widgets`, and all that they stand in, as they are laid out until the block is over.

    What changed within is laid out by Qt in its next turn, before anything is painted.
    """
    held: list[QLayout] = []
    for widget in widgets:
        at: QWidget | None = widget
        while at is not None:
            layout = at.layout()
            if layout is not None and layout.isEnabled():
                layout.setEnabled(False)
                held.append(layout)
            at = at.parentWidget()
    try:
        yield
    finally:
        for layout in held:
            layout.setEnabled(True)
