"""The strip above the table: what the engine does, what it has gained, and what to do with it."""

from collections.abc import Callable

from PySide6.QtWidgets import QFrame, QProgressBar, QPushButton

from ivory_quilt.core.units import show_misfits, show_money, show_thickness
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.stations.lay.presenter import LayPresenter
from ivory_quilt.desk.widgets.basics import button, column, label, row
from ivory_quilt.desk.widgets.curve import CostCurve


class ProgressStrip(QFrame):
    """What the engine does, with stop, improve and keep."""

    def __init__(
        self, laying: Laying, presenter: LayPresenter, compare: Callable[[], object]
    ) -> None:
        """Follow `laying`."""
        super().__init__()
        self.setObjectName("Card")
        self._laying, self._presenter = laying, presenter
        self.text = label("", "", wrap=False)
        self.bar = QProgressBar()
        self.bar.setRange(0, 1000)
        self.bar.setAccessibleName("time of this run")
        # A bar that comes and goes would push the table about: it keeps its room.
        policy = self.bar.sizePolicy()
        policy.setRetainSizeWhenHidden(True)
        self.bar.setSizePolicy(policy)
        self.curve = CostCurve()
        self.discard = button(
            "Discard", laying.discard, tip="Go back to the layouts before the last run"
        )
        self.compare = button(
            "Compare", compare, tip="The layouts before the last run beside those now (C)"
        )
        self.improve = button("Improve", laying.improve, tip="Search on for better layouts (I)")
        self.stop = button("Stop", laying.stop, tip="Stop here; what was found stays (Esc)")
        self.keep: QPushButton = button(
            "Keep", laying.keep, "main", "Keep these layouts in the project (K)"
        )
        layout = column(
            row(
                self.text,
                None,
                self.curve,
                self.compare,
                self.discard,
                self.improve,
                self.stop,
                self.keep,
            ),
            self.bar,
            space=4,
        )
        layout.setContentsMargins(16, 8, 12, 8)
        self.setLayout(layout)
        laying.changed.connect(self.refresh)

    def refresh(self) -> None:
        """Show the present state."""
        busy = self._laying.busy
        plan = self._presenter.session.plan
        self.stop.setEnabled(busy)
        self.improve.setEnabled(not busy and any(f.result for f in plan.foams))
        self.keep.setEnabled(bool(self._presenter.proposed))
        gained = self._laying.has_gained
        self.discard.setVisible(gained)
        self.compare.setVisible(gained)
        self.curve.setVisible(len(self._laying.history) > 1)
        task = self._laying.task
        planned = plan.foam(task.foam) if task is not None else None
        if planned is not None and planned.result is not None:
            look = self.curve.look
            self.curve.show_run(self._laying.history, planned.result.cost_bound, look)
        task = self._laying.task
        share = self._laying.engine.state.share if self._laying.preparing else 0.0
        if not share and busy and task is not None and task.seconds > 0:
            share = min(1.0, self._laying.done_seconds / task.seconds)
        self.bar.setValue(round(1000 * share))
        if self.bar.isHidden() is busy:
            self.bar.setVisible(busy)
        text = self._words(busy=busy)
        if text != self.text.text():
            self.text.setText(text)

    def _words(self, *, busy: bool) -> str:
        session = self._presenter.session
        ledger = session.plan.ledger
        cost = show_money(ledger.cost, session.stock.currency)
        if preparing := self._laying.preparing:
            return preparing
        if busy and self._laying.task is not None:
            name = show_thickness(self._laying.task.foam.thickness)
            if self._laying.task.only_asking:
                return f"Checking {name}: what if hidden parts rotated freely?"
            bound = show_money(ledger.bound, session.stock.currency)
            known = "that is proven least" if ledger.cost == ledger.bound else f"none under {bound}"
            return f"Laying {name}: {cost} so far, {known}"
        if busy:
            return "Getting the engine ready …"
        if not ledger.lines:
            return "Nothing to lay yet"
        if ledger.unplaced:
            return f"{show_misfits(ledger.unplaced)} on the shop's foam"
        proven = " · proven: none costs less" if ledger.cost == ledger.bound else ""
        return f"Foam for {cost}{proven}"
