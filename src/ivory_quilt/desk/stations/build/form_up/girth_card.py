"""The part of Form-up's card that measures girths, against the wearer's."""

import numpy as np
from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QSlider, QWidget

from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.formup.girths import Girth, girth_of
from ivory_quilt.core.formup.skin import upright
from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.core.units import show_length
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.widgets.basics import Stitch, column, label, narrow, row

STEPS = 100
NO_MEASURE = "no measure"


class GirthCard(QWidget):
    """How long the shape is around, at a height."""

    def __init__(self, presenter: FormUpPresenter) -> None:
        """Measure what `presenter` shows."""
        super().__init__()
        self._p = presenter
        self._shown: tuple[object, ...] = ()
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(1, STEPS - 1)
        self.slider.setValue(STEPS // 2)
        self.slider.setAccessibleName("height at which the girth is measured")
        self.slider.valueChanged.connect(lambda _: self.fill())
        self.height_note = label("", "note")
        self.figures = label("", "mono", wrap=True)
        self.note = label("", "note", wrap=True)
        self.measure = QComboBox()
        narrow(self.measure)
        self.measure.setAccessibleName("the wearer's girth to compare with")
        self.measure.activated.connect(lambda _: self.fill())
        self.setLayout(
            column(
                label("Girth", "heading"),
                row(self.slider, self.height_note),
                self.figures,
                row(label("Wearer's"), None, self.measure),
                self.note,
                Stitch(),
                space=6,
            )
        )

    def fill(self) -> None:
        """Measure at the height that is chosen."""
        shape = self._p.shape
        self.setVisible(shape is not None)
        if shape is None:
            return
        self._fill_measures()
        wanted = (shape, self.slider.value(), self._wanted())
        if wanted == self._shown:
            return
        self._shown = wanted
        up = upright(shape)
        high = np.concatenate([p.places @ up for p in shape.panels])
        low, top = float(high.min()), float(high.max())
        at = low + (top - low) * self.slider.value() / STEPS
        self.height_note.setText(f"at {show_length(at - low, digits=0)}")
        girth = girth_of(shape, at * up, up)
        if girth is None:
            self.figures.setText("–")
            self.note.setText("")
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
        wanted = self._wanted()
        if wanted is None:
            return words
        room = girth.inner + girth.gap - wanted
        opening = "" if girth.closes else " with its opening"
        if room >= 0:
            return f"{words} Inside{opening} it has {show_length(room, digits=0)} ease."
        return f"{words} Inside{opening} it is {show_length(-room, digits=0)} too tight."

    def _wanted(self) -> float | None:
        wearer, name = self._p.wearer, self.measure.currentData()
        found = wearer.measure(str(name)) if wearer is not None and name else None
        return None if found is None else found.value

    def _fill_measures(self) -> None:
        wearer = self._p.wearer
        known = [("", NO_MEASURE)]
        if wearer is not None:
            known += [
                (m.spot, spot(m.spot).title)
                for m in wearer.measures
                if spot(m.spot).kind is MeasureKind.GIRTH
            ]
        shown = [self.measure.itemData(k) for k in range(self.measure.count())]
        if shown == [k for k, _ in known]:
            return
        before = self.measure.currentData()
        if not before and self._p.choice.former is FormerKind.WEARER:
            before = str(self._p.choice.part.value)
        self.measure.clear()
        for ident, title in known:
            self.measure.addItem(title, ident)
        idents = [k for k, _ in known]
        self.measure.setCurrentIndex(idents.index(before) if before in idents else 0)
