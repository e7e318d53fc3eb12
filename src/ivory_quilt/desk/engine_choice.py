"""Which engine lays, and with how many processes: what the maker chose, and whether it is there."""

from PySide6.QtCore import QObject, QTimer, Signal

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import counted
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.settings import Settings
from ivory_quilt.desk.work import Background
from ivory_quilt.engine.orders import LayBackend
from ivory_quilt.system.cores import cores, usual_workers

LOOK_EVERY = 2000  # ms between two looks at how many workers serve


class EngineChoice(QObject):
    """The engine as it was chosen; a cluster is called in the background."""

    changed = Signal()
    """Another engine lays, or how many serve is another number."""

    def __init__(
        self, engine: LayoutEngine, settings: Settings, background: Background, parent: QObject
    ) -> None:
        """Choose for `engine`; connecting takes its time, on `background`."""
        super().__init__(parent)
        self._engine, self._settings, self._background = engine, settings, background
        self.problem = ""
        """Why the cluster that was chosen does not lay."""
        self.calling = False
        self._look = QTimer(self)
        self._look.setInterval(LOOK_EVERY)
        self._look.timeout.connect(self.changed)
        if settings.engine_processes is not None:
            engine.service.resize(settings.engine_processes)

    @property
    def most_processes(self) -> int:
        """How many processes make sense here."""
        return cores()

    @property
    def processes(self) -> int:
        """How many processes lay on this machine."""
        return self._settings.engine_processes or usual_workers()

    @property
    def address(self) -> str:
        """The cluster's address, empty for none."""
        return self._settings.engine_address

    @property
    def on_cluster(self) -> bool:
        """Whether a cluster lays."""
        return self._engine.backend is not self._engine.service

    def words(self) -> str:
        """Return who lays now, in a sentence."""
        if self.calling:
            return f"Calling {self.address} …"
        if self.problem:
            return f"{self.problem} This machine lays."
        if not self.on_cluster:
            return f"This machine lays, with up to {counted(self.processes, 'process')}."
        state = self._engine.backend.state
        if state.problem:
            return state.problem
        return f"{counted(state.workers, 'worker')} at {self.address} lay."

    def set_processes(self, count: int) -> None:
        """Let up to so many processes lay on this machine."""
        if count != self.processes:
            self._settings.engine_processes = None if count == usual_workers() else count
            self._engine.service.resize(count)
            self.changed.emit()

    def set_address(self, address: str) -> None:
        """Let the cluster at an address lay, or this machine for an empty one."""
        self._settings.engine_address = address.strip()
        self.connect_chosen()

    def connect_chosen(self) -> None:
        """Call the cluster that was chosen; without one, this machine lays."""
        address = self.address
        self.problem = ""
        self._look.stop()
        if not address:
            if self.on_cluster:
                self._engine.lay_with(None)
            self.changed.emit()
            return
        self.calling = True
        self.changed.emit()

        def call() -> LayBackend:
            from ivory_quilt.engine.cluster import ClusterEngine

            return ClusterEngine(address)

        self._background(call, lambda found, error: self._called(address, found, error))

    def _called(self, address: str, found: LayBackend | None, error: Exception | None) -> None:
        if address != self.address:  # another one was chosen meanwhile
            if found is not None:
                found.close()
            return
        self.calling = False
        if found is None:
            self.problem = str(error)
            self._engine.lay_with(None)
            if not isinstance(error, InputError) and error is not None:
                self.changed.emit()
                raise error
        else:
            self._engine.lay_with(found)
            self._look.start()
        self.changed.emit()
