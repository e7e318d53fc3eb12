"""What the card says while no piece is chosen."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.desk.widgets.basics import button, column, label, row


def board_hint(make_shape: Callable[[], object]) -> QWidget:
    """Return the words, with a button that makes a shape."""
    made = QWidget()
    hint = "Select pieces on the board to name them and set their foam."
    make = button("Make a shape …", make_shape, tip="Bands, domes, spikes, horns (Ctrl+M)")
    keys = "Drag a box to select several. Ctrl+A selects all."
    made.setLayout(
        column(
            label("Pieces", "title"),
            label(hint, wrap=True),
            label(keys, "note", wrap=True),
            row(make, None),
            None,
            space=12,
            edge=16,
        )
    )
    return made
