"""Which engine lays: processes here, a cluster, and back."""

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.desk.engine_choice import EngineChoice
from ivory_quilt.desk.settings import Settings
from ivory_quilt.engine.orders import EngineState
from tests.desk.conftest import let_run


class FarEngine:
    """A cluster that does nothing but be there."""

    def __init__(self):
        self.state = EngineState(ready=True, workers=3)
        self.closed = False
        self.stopped = []

    def lay(self, order, tell):
        return 1

    def stop(self, ticket):
        self.stopped.append(ticket)

    def lay_now(self, order, wanted=lambda: True):
        raise AssertionError

    def close(self):
        self.closed = True


@pytest.fixture
def far(monkeypatch):
    made = []

    def connect(address):
        if "nobody" in address:
            raise InputError("engine", f"no scheduler answers at {address}", "tcp://host:8786")
        made.append(FarEngine())
        return made[-1]

    monkeypatch.setattr("ivory_quilt.engine.cluster.ClusterEngine", connect)
    return made


@pytest.fixture
def panel(empty_desk):
    empty_desk.act("engine")
    return empty_desk.window.panels.engine


def test_the_panel_says_who_lays_and_remembers_how_many_processes(empty_desk, panel):
    choice = empty_desk.window.engine_choice
    assert panel.isVisible()
    assert panel.words.text().startswith("This machine lays")
    most = panel.processes.maximum()
    panel.processes.setValue(most)
    assert choice.processes == most
    service = empty_desk.window.laying.engine.service
    assert let_run(lambda: service.workers == most, 5)
    panel.processes.setValue(1)
    assert let_run(lambda: service.workers == 1, 5)


def test_a_cluster_lays_and_this_machine_again(empty_desk, panel, far):
    engine = empty_desk.window.laying.engine
    panel.address.setText(" tcp://bench:8786 ")
    panel.connect_button.click()
    assert let_run(lambda: engine.backend is not engine.service, 5)
    assert engine.backend is far[0]
    assert panel.words.text() == "3 workers at tcp://bench:8786 lay."
    far[0].state = EngineState(problem="No worker serves at tcp://bench:8786.", workers=0)
    empty_desk.window.engine_choice.changed.emit()
    assert panel.words.text() == "No worker serves at tcp://bench:8786."
    panel.away.click()
    assert engine.backend is engine.service
    assert far[0].closed
    assert not panel.away.isEnabled()


def test_where_nobody_answers_this_machine_lays_and_the_panel_says_why(empty_desk, panel, far):
    engine = empty_desk.window.laying.engine
    panel.address.setText("tcp://nobody:8786")
    panel.connect_button.click()
    choice = empty_desk.window.engine_choice
    assert let_run(lambda: bool(choice.problem), 5)
    assert engine.backend is engine.service
    assert "no scheduler answers at tcp://nobody:8786" in panel.words.text()
    assert panel.words.text().endswith("This machine lays.")
    assert far == []


def test_what_was_chosen_is_called_at_the_next_start(empty_desk, far, tmp_path):
    settings = Settings(tmp_path / "settings.ini")
    settings.engine_address = "tcp://bench:8786"
    settings.engine_processes = 2
    settings.sync()
    again = Settings(tmp_path / "settings.ini")
    assert (again.engine_address, again.engine_processes) == ("tcp://bench:8786", 2)
    engine = empty_desk.window.laying.engine
    choice = EngineChoice(engine, again, lambda work, done: done(work(), None), empty_desk.window)
    choice.connect_chosen()
    assert engine.backend is far[0]
    assert choice.on_cluster
    # An answer for another address than is wanted by now is let go.
    choice._called("tcp://other:8786", (late := FarEngine()), None)
    assert late.closed
    choice.set_address("")
    assert engine.backend is engine.service
