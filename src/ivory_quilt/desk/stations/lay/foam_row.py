"""One foam in the overview of the Lay station: where its layout stands, and why."""

from collections.abc import Callable

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.nesting.job import LayResult
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.units import show_misfits, show_money, show_parts, show_thickness
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.lay.explaining import Explained
from ivory_quilt.desk.widgets.basics import button, column, label, row, set_tone
from ivory_quilt.desk.widgets.edgebar import EdgeBar

WORDS = {
    Standing.KEPT: ("kept", "good"),
    Standing.PROPOSED: ("offered, not kept yet", "heat"),
    Standing.STALE: ("the kept layout no longer fits; laying anew", "heat"),
    Standing.MISSING: ("laying …", "soft"),
    Standing.CUT: ("all of it is cut", "good"),
    Standing.NO_STOCK: ("no such foam in the shop: add it at Buy", "cut"),
}


class FoamRow(QWidget):
    """One foam in the overview: where its layout stands."""

    def __init__(
        self, foam: Foam, session: Session, laying: Laying, show: Callable[[Foam], None]
    ) -> None:
        """Call `show(foam)` when the maker wants to see its sheets."""
        super().__init__()
        self.foam, self._session, self._laying = foam, session, laying
        self._shown: tuple[object, ...] = ()
        self._why = label("", "note", wrap=True)
        self._waste = label("", "note", "soft", wrap=True)
        self._answer = label("", "note", "heat", wrap=True)
        self._ask = button(
            "What if hidden parts rotated freely?",
            self._ask_free,
            "quiet",
            "Lay once more with free rotation for parts that nobody sees, and compare the cost",
        )
        self._state = label("", "note", wrap=True)
        self._use = label("", "note")
        self._pins = label("", "note", "heat")
        name = show_thickness(foam.thickness)
        head = label(f"{name} {session.stock.material_name(foam.material)}", "heading")
        look = button("Show", lambda: show(foam), "quiet", f"Show the {name} sheets")
        kind = session.stock.material(foam.material).kind
        bar = row(EdgeBar(foam.thickness, kind=kind), head, None, look)
        self.setLayout(
            column(
                bar,
                self._state,
                self._use,
                self._why,
                self._waste,
                self._pins,
                self._ask,
                self._answer,
                space=4,
            )
        )

    def _ask_free(self) -> None:
        planned = self._session.plan.foam(self.foam)
        if planned is not None:
            self._laying.ask_free_turns(planned)

    @property
    def state_words(self) -> str:
        """Where the layout stands, in words."""
        return self._state.text()

    def fill(self, foam: FoamPlan, explained: Explained | None) -> None:
        """Show the foam as it stands now; what was said of it stays until more is known."""
        busy = self._laying.busy
        self._ask.setEnabled(not busy)
        problem, preparing = self._laying.problem(foam), self._laying.preparing
        answer = self._laying.answer(foam)
        state = (
            foam.standing,
            foam.line,
            foam.lost_pins,
            foam.job,
            explained,
            answer,
            problem,
            bool(preparing),
            self.width(),
        )
        if state == self._shown:
            return
        self._shown = state
        text, tone = WORDS[foam.standing]
        if foam.result is None and problem:
            text, tone = f"could not be laid: {problem}", "cut"
        elif foam.standing is Standing.MISSING and preparing:
            text, tone = "waits for the layout engine", "soft"
        if foam.line.unplaced and foam.line.laid:
            text, tone = show_misfits(foam.line.unplaced), "cut"
        self._state.setText(text)
        set_tone(self._state, tone)
        use = show_parts(foam.line.parts)
        if foam.line.cut:
            use += f", {foam.line.cut} of them cut"
        if foam.line.foam_area:
            use += f", {100 * (1 - foam.line.waste_share):.0f} % of the foam used"
        self._use.setText(use)
        self._use.setVisible(foam.line.laid)
        self._pins.setText(f"{foam.lost_pins} pins no longer hold")
        self._pins.setVisible(foam.lost_pins > 0)
        if explained is not None or foam.result is None:
            self._why.setText("\n".join(explained.why) if explained is not None else "")
            self._waste.setText("\n".join(explained.waste) if explained is not None else "")
        self._why.setVisible(bool(self._why.text()))
        self._waste.setVisible(bool(self._waste.text()))
        hidden = any((p.hidden or p.mirror) and p.rotations is not None for p in foam.job.pieces)
        self._ask.setVisible(hidden and foam.result is not None and foam.line.cost > 0)
        self._answer.setText(self._saving(foam, answer) if answer is not None else "")
        self._answer.setVisible(answer is not None)
        # Wrapped words take their height from the width: the column around must learn of it.
        width = max(self.width(), 1)
        layout = self.layout()
        if layout is not None:
            layout.invalidate()
            self.setMinimumHeight(layout.totalHeightForWidth(width))

    def _saving(self, foam: FoamPlan, answer: LayResult) -> str:
        saved = foam.line.cost - answer.cost
        if saved <= 0 or answer.unplaced:
            return "Rotating hidden parts freely would save nothing that was found."
        sheets = len(foam.result.stock) - len(answer.stock) if foam.result is not None else 0
        fewer = f"{sheets} sheets, " if sheets > 1 else "a sheet, " if sheets == 1 else ""
        money = show_money(saved, self._session.stock.currency)
        return f"Free rotation of hidden parts would save {fewer}{money}."
