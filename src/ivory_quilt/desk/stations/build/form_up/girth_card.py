"""The part of Form-up's card that measures girths at any plane, against the wearer's."""

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QSlider, QWidget

from ivory_quilt.core.formup.girths import Girth
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_scalar, show_length
from ivory_quilt.desk.stations.build.form_up.girth import GirthPresenter, leaning
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    column,
    fill_box,
    filled_later,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in

STEPS = 100
NO_MEASURE = "no measure"


class GirthCard(QWidget):
    """How long the shape is around, at a plane."""

    def __init__(self, presenter: GirthPresenter) -> None:
        """Work `presenter`."""
        super().__init__()
        self._p = presenter
        self.error = Complaint()
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(1, STEPS - 1)
        self.slider.setValue(STEPS // 2)
        self.slider.setAccessibleName("height at which the girth is measured")
        self.slider.setToolTip("Drag: the line on the shape follows")
        self.slider.valueChanged.connect(
            lambda at: presenter.move(replace(presenter.plane, share=at / STEPS))
        )
        self.height_note = label("", "note")
        self.forward = EntryField("lean of the plane to the front", self._lean)
        self.sideways = EntryField("lean of the plane to the right", self._lean)
        self.figures = label("", "mono", wrap=True)
        self.note = label("", "note", wrap=True)
        self.measure = filled_later("the wearer's girth to compare with", self._compare)
        self.setLayout(
            column(
                label("Girth", "heading"),
                row(self.slider, self.height_note),
                FieldLine("Leans to the front", self.forward),
                FieldLine("Leans to the right", self.sideways),
                self.error,
                self.figures,
                row(label("Wearer's"), None, self.measure),
                self.note,
                Stitch(),
                space=6,
            )
        )

    def fill(self) -> None:
        """Show what is measured."""
        p = self._p
        self.setVisible(p.form_up.shape is not None)
        if p.form_up.shape is None:
            return
        p.ask()
        known = [(title, ident) for ident, title in p.measures]
        fill_box(self.measure, [(NO_MEASURE, ""), *known], p.compared)
        self.forward.show_value(p.plane.forward, "°")
        self.sideways.show_value(p.plane.sideways, "°")
        found = p.in_sight
        if found is None:  # there in a moment
            return
        self.height_note.setText(f"at {show_length(found.height, digits=0)}")
        girth = found.girth
        if girth is None:
            self.figures.setText("–")
            self.note.setText("The plane meets nothing.")
            return
        inner, middle, outer = (
            show_length(v, digits=0) for v in (girth.inner, girth.middle, girth.outer)
        )
        self.figures.setText(f"inner {inner}, middle {middle}, outer {outer}")
        self.note.setText(self._compared(girth))

    def _compared(self, girth: Girth) -> str:
        if girth.parts > 1:
            return f"It is cut in {girth.parts} lines here; the figures are their sum."
        words = (
            "It closes." if girth.closes else f"It is open by {show_length(girth.gap, digits=0)}."
        )
        wanted = self._p.wanted
        if wanted is None:
            return words
        room = girth.inner + girth.gap - wanted
        opening = "" if girth.closes else " with its opening"
        if room >= 0:
            return f"{words} Inside{opening} it has {show_length(room, digits=0)} ease."
        return f"{words} Inside{opening} it is {show_length(-room, digits=0)} too tight."

    def _compare(self, _: int) -> None:
        self._p.compare(str(self.measure.currentData() or ""))

    def _lean(self, _: str) -> bool:
        with Taking(self.error) as taken:
            forward, sideways = (
                leaning(parse_scalar(number_in(field.text()), where="lean of the plane"))
                for field in (self.forward, self.sideways)
            )
            self._p.move(replace(self._p.plane, forward=forward, sideways=sideways))
        return bool(taken)
