"""The part of Form-up's card that offers what helps at the worst place."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QPushButton, QSlider, QVBoxLayout, QWidget

from ivory_quilt.core.document.mending import MendKind
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.schedule.step import CAUTIONS, StepKind
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.stations.build.form_up.mending import MendPresenter, Try
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    column,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in
from ivory_quilt.desk.widgets.layout_hold import laid_out_once

STEPS = 200  # of the slider
READY = 6  # rows that are made before they are needed


def told(shape: FormedShape) -> str:
    """Return what a shape strains, and how far it is off its former, in figures."""
    low, high = 100 * shape.strain.p01, 100 * shape.strain.p99
    text = f"{low:+.1f} to {high:+.1f} %".replace("-", "−")
    if shape.off is not None:
        text += f", off by {show_number(max(shape.off, 0.0), 1)} mm"
    return text


class _TryRow(QWidget):
    """One change that was tried: what it is, what comes of it, a button that shows it."""

    def __init__(self, presenter: MendPresenter) -> None:
        super().__init__()
        self._p = presenter
        self._one: Try | None = None
        self.what = label(wrap=True)
        self.figures = label("", "mono", wrap=True)
        self.verdict = label("", "note")
        self.button = QPushButton()
        self.button.setCheckable(True)
        self.button.clicked.connect(self._choose)
        self.setLayout(
            column(self.what, self.figures, row(self.verdict, None, self.button), space=6)
        )

    def _choose(self) -> None:
        if self._one is not None:
            self._p.choose(self._one)

    def show_try(self, one: Try) -> None:
        """Show what is known of one."""
        self._one = one
        chosen, better = one is self._p.chosen, self._p.helps(one)
        verdict = "better" if better else "no better"
        if one.shape is None:
            verdict = "cannot be formed" if one.problem else ""
        self.what.setText(one.mend.words)
        # Figures are one line: the card is not laid out anew for each answer.
        self.figures.setWordWrap(bool(one.problem))
        self.figures.setText(told(one.shape) if one.shape is not None else one.problem or "…")
        self.verdict.setText(verdict)
        set_tone(self.verdict, "good" if better else "soft")
        self.button.setChecked(chosen)
        self.button.setEnabled(one.shape is not None)
        self.button.setText("Shown" if chosen else "Show")
        self.button.setAccessibleName(f"show: {one.mend.words}")
        self.show()


class MendCard(QWidget):
    """What helps, the most helpful first."""

    def __init__(self, presenter: MendPresenter) -> None:
        """Work `presenter`."""
        super().__init__()
        self._p = presenter
        self.error = Complaint()
        self.look_for = button(
            "Find what helps", presenter.find, tip="Tries changes of the flat pieces, and compares"
        )
        self.stop = button("Stop", presenter.stop, "quiet")
        self.note = label("", "note", wrap=True)
        self.rows = QVBoxLayout()
        self.rows.setSpacing(6)
        self._rows: list[_TryRow] = []
        self._more = Later(self._make_row, 0, self)
        self._others = Later(self._fill_rows, 0, self)
        self.amount = EntryField("amount of the change", self._typed)
        self.amount_line = FieldLine("How much", self.amount)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, STEPS)
        self.slider.setAccessibleName("drag the amount of the change")
        self.slider.setToolTip("Drag: the shape follows")
        self.slider.sliderMoved.connect(lambda at: presenter.drag(self._at(at)))
        self.slider.sliderReleased.connect(lambda: presenter.let_go(self._at(self.slider.value())))
        self.caution = label(CAUTIONS[StepKind.FORM], "note", "heat", wrap=True)
        self.take = button("Take it over", self._take, "main", tip="Changes the flat pieces; undo")
        self.leave = button("Leave it", lambda: presenter.choose(None), "quiet")
        self.chosen = QWidget()
        self.chosen.setLayout(
            column(
                self.amount_line,
                self.slider,
                self.caution,
                row(self.take, self.leave, None),
                space=6,
            )
        )
        self.setLayout(
            column(
                label("What helps", "heading"),
                row(self.look_for, self.stop, None),
                self.note,
                self.chosen,
                self.error,
                self.rows,
                Stitch(),
                space=8,
            )
        )

    @property
    def buttons(self) -> dict[MendKind, QPushButton]:
        """The buttons that show what is listed."""
        listed = zip(self._rows, self._p.ordered, strict=False)
        return {one.mend.kind: made.button for made, one in listed}

    def _make_row(self) -> None:
        """Make one row more, styled before it is needed: a new one holds the window up."""
        made = _TryRow(self._p)
        made.hide()
        self._rows.append(made)
        self.rows.addWidget(made)
        for widget in (made, *made.findChildren(QWidget)):
            widget.ensurePolished()
        self.fill()

    def fill(self) -> None:
        """Show what is known."""
        with laid_out_once(self):
            self._fill()

    def _fill(self) -> None:
        p = self._p
        self.look_for.setEnabled(p.form_up.shape is not None and not p.running)
        self.stop.setVisible(p.running)
        self.note.setText(self._words())
        self.note.setVisible(bool(self.note.text()))
        self._fill_rows()
        known = p.ordered
        if p.form_up.shape is not None and len(self._rows) < max(READY, len(known)):
            self._more.soon()
        one = p.chosen
        self.chosen.setVisible(one is not None)
        if one is None:
            return
        mend = one.mend
        free = mend.high > mend.low and not p.running
        self.amount_line.setVisible(free)
        self.slider.setVisible(free)
        self.caution.setVisible(mend.kind is MendKind.HEAT)
        self.take.setEnabled(one.shape is not None and p.fits)
        if free and not self.slider.isSliderDown():
            self.slider.setValue(round(STEPS * (mend.amount - mend.low) / (mend.high - mend.low)))
        if free:
            self.amount.show_value(mend.amount, mend.unit)

    def _fill_rows(self) -> None:
        """Show what is listed; of rows that come to light, one in each turn."""
        known = self._p.ordered
        for spare in self._rows[len(known) :]:
            spare.hide()
        for one_row, shown in zip(self._rows, known, strict=False):
            came = one_row.isHidden()
            one_row.show_try(shown)
            if came:
                self._others.soon()
                return

    def _words(self) -> str:
        p = self._p
        if p.problem:
            return p.problem
        if p.running:
            known = sum(t.known for t in p.tries)
            return f"Trying {known + 1} of {len(p.tries)} …" if p.tries else "Looking …"
        if not p.looked:
            return ""
        if not p.fits:
            return "These are of the pieces as they were."
        if not p.tries:
            return "Nothing strains enough to be mended."
        return "" if any(p.helps(t) for t in p.tries) else "None of these is better than it stands."

    def _at(self, step: int) -> float:
        one = self._p.chosen
        if one is None:
            return 0.0
        return one.mend.low + (one.mend.high - one.mend.low) * step / STEPS

    def _typed(self, text: str) -> bool:
        one = self._p.chosen
        if one is None:
            return False
        with Taking(self.error) as taken:
            if one.mend.unit == "mm":
                amount = typed_length(text, where="amount")
            else:
                amount = parse_scalar(number_in(text), where="amount")
            self._p.let_go(amount)
        return bool(taken)

    def _take(self) -> None:
        with Taking(self.error):
            self._p.take()
