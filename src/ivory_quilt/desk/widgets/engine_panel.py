"""The layout engine's panel: how many processes lay here, or which cluster does."""

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QLineEdit, QSpinBox, QWidget

from ivory_quilt.desk.engine_choice import EngineChoice
from ivory_quilt.desk.widgets.basics import button, column, label, row, set_tone
from ivory_quilt.desk.widgets.panels import Panel

CLUSTER = (
    "A cluster of other machines can lay instead: give the address of its scheduler. The guide's "
    "page on clusters says how to start one. An open scheduler runs anybody's code: keep it within "
    "a network that you trust, or use tls."
)


class EnginePanel(Panel):
    """Two choices, and who lays now."""

    def __init__(self, parent: QWidget, choice: EngineChoice) -> None:
        """Choose for `choice`."""
        super().__init__(parent, "Layout engine", (520, 380))
        self._choice = choice
        self.processes = QSpinBox()
        self.processes.setRange(1, choice.most_processes)
        self.processes.setAccessibleName("processes that lay on this machine")
        self.processes.setToolTip("As many foams are laid at once; one core less is usual")
        self.processes.valueChanged.connect(choice.set_processes)
        self.address = QLineEdit()
        self.address.setPlaceholderText("tcp://host:8786, or tls://host:8786")
        self.address.setAccessibleName("address of a cluster's scheduler")
        self.address.returnPressed.connect(self._call)
        self.connect_button = button("Use", self._call, "main", "Lay on this cluster from now on")
        self.away = button("This machine", self._leave, tip="Lay on this machine from now on")
        self.words = label("", wrap=True)
        self.fill(
            row(label("Processes on this machine"), None, self.processes),
            column(
                label("Cluster", "heading"),
                row(self.address, self.connect_button, self.away),
                label(CLUSTER, "note", wrap=True),
                space=6,
            ),
            self.words,
            None,
        )
        choice.changed.connect(self._show)

    def open(self) -> None:
        """Show what is chosen now."""
        with QSignalBlocker(self.processes):
            self.processes.setValue(self._choice.processes)
        self.address.setText(self._choice.address)
        self._show()
        super().open()
        self.address.setFocus()

    def _call(self) -> None:
        self._choice.set_address(self.address.text())

    def _leave(self) -> None:
        self.address.clear()
        self._choice.set_address("")

    def _show(self) -> None:
        self.words.setText(self._choice.words())
        set_tone(self.words, "cut" if self._choice.problem else "")
        self.away.setEnabled(self._choice.on_cluster or bool(self._choice.address))
