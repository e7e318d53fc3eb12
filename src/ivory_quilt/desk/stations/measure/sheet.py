"""The wearer sheet: one row a measure, with how sure it is and how it was taken."""

from collections.abc import Callable
from datetime import date

from PySide6.QtCore import Qt, Signal
from PySide6.QtGui import QFocusEvent
from PySide6.QtWidgets import QGridLayout, QLineEdit, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import SPOTS, MeasureKind, Wearer
from ivory_quilt.core.units import show_length, show_number
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter
from ivory_quilt.desk.widgets.basics import Complaint, label, set_tone


class SheetField(QLineEdit):
    """A field that tells when it is entered, and gives its text when it is left."""

    entered = Signal()

    def focusInEvent(self, event: QFocusEvent) -> None:
        """Tell that the measure is in hand."""
        super().focusInEvent(event)
        self.entered.emit()


class WearerSheet(QWidget):
    """All measures that have a name."""

    chosen = Signal(str)

    def __init__(self, presenter: MeasurePresenter, today: Callable[[], date]) -> None:
        """Edit the wearer in sight; `today` dates what is typed."""
        super().__init__()
        self._presenter, self._today = presenter, today
        self.values: dict[str, SheetField] = {}
        self.sures: dict[str, SheetField] = {}
        self.methods: dict[str, SheetField] = {}
        self._notes = {s.id: label("", "note") for s in SPOTS}
        self.complaints = {s.id: Complaint() for s in SPOTS}
        grid = QGridLayout(self)
        grid.setContentsMargins(16, 12, 16, 16)
        grid.setHorizontalSpacing(10)
        grid.setVerticalSpacing(6)
        for column, text in enumerate(("measure", "size", "give or take", "how it was taken")):
            grid.addWidget(label(text, "note"), 0, column)
        for k, spot in enumerate(SPOTS):
            row = 2 * k + 1
            around = "around" if spot.kind is MeasureKind.GIRTH else "along"
            name = label(spot.title)
            name.setToolTip(f"{spot.how} ({around})")
            value = self._field(spot.id, f"{spot.title}, size", self._set_value)
            value.setToolTip(spot.how)
            value.setFixedWidth(96)
            sure = self._field(spot.id, f"{spot.title}, give or take", self._set_sure)
            sure.setFixedWidth(72)
            method = self._field(spot.id, f"{spot.title}, how it was taken", self._set_method)
            self.values[spot.id], self.sures[spot.id] = value, sure
            self.methods[spot.id] = method
            grid.addWidget(name, row, 0, Qt.AlignmentFlag.AlignVCenter)
            grid.addWidget(value, row, 1)
            grid.addWidget(sure, row, 2)
            grid.addWidget(method, row, 3)
            grid.addWidget(self._notes[spot.id], row, 4)
            grid.addWidget(self.complaints[spot.id], row + 1, 1, 1, 4)
        grid.setColumnStretch(3, 1)
        grid.setRowStretch(2 * len(SPOTS) + 1, 1)

    def _field(self, spot_id: str, name: str, take: Callable[[str, str], None]) -> SheetField:
        field = SheetField()
        field.setAccessibleName(name)
        field.entered.connect(lambda: self.chosen.emit(spot_id))
        field.editingFinished.connect(lambda: self._take(spot_id, field, take))
        return field

    def _take(self, spot_id: str, field: SheetField, take: Callable[[str, str], None]) -> None:
        if not field.isModified():
            return
        field.setModified(False)
        self.complaints[spot_id].setText("")
        try:
            take(spot_id, field.text())
        except InputError as error:
            self.complaints[spot_id].setText(str(error))
            field.setModified(True)

    def _set_value(self, spot_id: str, text: str) -> None:
        self._presenter.set_value(spot_id, text, self._today())

    def _set_sure(self, spot_id: str, text: str) -> None:
        self._presenter.set_detail(spot_id, uncertainty=text)

    def _set_method(self, spot_id: str, text: str) -> None:
        self._presenter.set_detail(spot_id, method=text)

    def fill(self, wearer: Wearer | None) -> None:
        """Show a wearer's measures; a field that holds something refused keeps it."""
        for spot in SPOTS:
            known = wearer.measure(spot.id) if wearer is not None else None
            texts = (
                (self.values[spot.id], show_length(known.value) if known else ""),
                (self.sures[spot.id], f"± {show_number(known.uncertainty, 1)}" if known else ""),
                (self.methods[spot.id], known.method if known else ""),
            )
            for field, text in texts:
                field.setEnabled(wearer is not None)
                if not field.isModified() and field.text() != text:
                    field.setText(text)
                    field.setCursorPosition(0)
            for field in (self.sures[spot.id], self.methods[spot.id]):
                field.setEnabled(known is not None)
            self.methods[spot.id].setToolTip(known.method if known else "")
            self._notes[spot.id].setText(known.date if known else "")
            if not self.values[spot.id].isModified():
                self.complaints[spot.id].setText(known.unusual if known else "")

    def show_spot(self, spot_id: str) -> None:
        """Put a measure into the hand."""
        if spot_id in self.values:
            self.values[spot_id].setFocus()
            self.values[spot_id].selectAll()

    def forget(self) -> None:
        """Let go of what was typed and refused."""
        for fields in (self.values, self.sures, self.methods):
            for field in fields.values():
                field.setModified(False)
        for complaint in self.complaints.values():
            complaint.setText("")
            set_tone(complaint, "cut")
