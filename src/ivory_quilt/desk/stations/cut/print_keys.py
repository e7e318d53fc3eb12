"""The buttons that write papers, on the Cut card."""

from collections.abc import Callable

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.desk.stations.cut.writing import Output
from ivory_quilt.desk.widgets.basics import button, column, label, row


class TemplateKeys(QWidget):
    """Templates, and what is printed as they are: trial sizes, gauges, masks."""

    def __init__(self, ask: Callable[[Output], object], sizes: QLineEdit) -> None:
        """Call `ask` with what is wanted; `sizes` are those of a trial print."""
        super().__init__()
        self.templates = button("Templates as PDF …", lambda: ask(Output.TEMPLATES), "main")
        self.trial = button(
            "Trial print …",
            lambda: ask(Output.TRIAL),
            tip="The pieces selected at Pattern in these sizes, on the fewest pages, to try on",
        )
        self.gauges = button(
            "Gauges …",
            lambda: ask(Output.GAUGES),
            tip="Cards with the inside curve of formed pieces, so that twins come out alike",
        )
        self.masks = button(
            "Masks …",
            lambda: ask(Output.MASKS),
            tip="What stays covered while a strip or the inside of a line is painted",
        )
        self.setLayout(
            column(
                self.templates,
                row(self.trial, sizes, label("%")),
                row(self.gauges, self.masks),
                space=12,
            )
        )


class SheetKeys(QWidget):
    """Cut sheets, the parts list, the shop book, everything at once."""

    def __init__(self, ask: Callable[[Output], object]) -> None:
        """Call `ask` with what is wanted."""
        super().__init__()
        self.sheets = button("Cut sheets as PDF …", lambda: ask(Output.CUT_PDF))
        self.parts = button("Parts list …", lambda: ask(Output.PARTS))
        self.book = button(
            "Shop book …",
            lambda: ask(Output.BOOK),
            tip="One PDF of the project: parts, build cards, order, cut sheets, seams, steps",
        )
        self.everything = button("All papers into a folder …", lambda: ask(Output.ALL))
        self.setLayout(column(self.sheets, self.parts, self.book, self.everything, space=12))
