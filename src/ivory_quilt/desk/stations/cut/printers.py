"""The printer in use and its check bar: what it measured, and the correction that follows."""

from collections.abc import Callable
from datetime import date

from PySide6.QtWidgets import QComboBox, QLineEdit, QWidget

from ivory_quilt.core.calculators.sizes import print_scale
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stock.printer import Printer
from ivory_quilt.core.units import parse_length, show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.cut.presenter import printer_words
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, narrow, row
from ivory_quilt.desk.widgets.fields import show_text
from ivory_quilt.desk.widgets.slip import SlipFigure

NONE = ""


class PrinterBox(QWidget):
    """Choose a printer, or type what its 100 mm bar measures; the shop remembers it."""

    def __init__(self, session: Session, changed: Callable[[], None]) -> None:
        """Keep printers in the shop of `session`; call `changed` when the correction is another."""
        super().__init__()
        self._session, self._changed = session, changed
        self.today: Callable[[], date] = date.today
        self.which = QComboBox()
        self.which.setEditable(True)
        self.which.setAccessibleName("printer")
        narrow(self.which)
        line = self._line = QLineEdit()
        line.setPlaceholderText("name of the printer")
        line.setAccessibleName("printer")
        self.which.setLineEdit(line)
        self.which.activated.connect(self._use)
        self.measured = QLineEdit()
        self.measured.setPlaceholderText("e.g. 99.2 mm")
        self.measured.setAccessibleName("the 100 mm bar measures")
        self.measured.returnPressed.connect(self.remember)
        self.error = Complaint()
        self.figure = SlipFigure("figure")
        self.note = label("", "note", wrap=True)
        self.setLayout(
            column(
                row(label("Printer"), self.which),
                label("Its 100 mm bar measures", "note"),
                row(self.measured, button("Remember", self.remember)),
                self.error,
                self.figure,
                self.note,
                space=6,
            )
        )

    def fill(self) -> None:
        """Show the printers that the shop knows."""
        store = self._session.store
        try:
            used, known = store.printer(), store.printers()
        except InputError as error:  # locked for a moment: what was shown stays
            self.error.setText(str(error))
            return
        if not self._line.isModified():  # a name that is being typed stays
            self.which.clear()
            self.which.addItem("none checked", NONE)
            for printer in known:
                self.which.addItem(printer.name, printer.name)
            self.which.setCurrentIndex(max(0, self.which.findData(used.name if used else NONE)))
        self.note.setText(printer_words(used))
        self.figure.setVisible(used is not None)
        if used is not None:
            self.figure.show_figure(
                f"{show_number(100 * used.correction, 2)} %",
                lambda: print_scale(used.nominal, used.measured),
            )
            show_text(self.measured, f"{show_number(used.measured, 2)} mm")

    def remember(self) -> None:
        """Keep what the bar measured for the printer named."""
        name = self.which.currentText().strip()
        try:
            if name == self.which.itemText(0):
                raise InputError("printer", "it has no name", "a name typed above")
            measured = parse_length(self.measured.text(), where="check bar")
            printer = Printer(name, 100.0, measured, self.today().isoformat())
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        self._in_shop(lambda: self._session.store.put_printer(printer))

    def _in_shop(self, work: Callable[[], object]) -> None:
        if self._session.try_shop(work):
            self._line.setModified(False)
            self.measured.setModified(False)
            self._changed()

    def _use(self, index: int) -> None:
        name = str(self.which.itemData(index) or NONE)
        self._in_shop(lambda: self._session.store.use_printer(name))
