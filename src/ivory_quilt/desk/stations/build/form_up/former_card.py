"""The part of Form-up's card that says what the group is pressed on."""

from pathlib import Path

from PySide6.QtCore import Qt
from PySide6.QtWidgets import QComboBox, QFileDialog, QSlider, QWidget

from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.units import typed_length
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    button,
    choices,
    column,
    fill_box,
    label,
    narrow,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, tick

BODIES = "Closed mesh (*.stl *.obj)"
WORDS = {
    FormerKind.NONE: "nothing: it stands freely",
    FormerKind.BALL: "ball",
    FormerKind.CYLINDER: "cylinder",
    FormerKind.WEARER: "the wearer's body",
    FormerKind.BODY: "body from a file",
}
PARTS = tuple((p, p.value) for p in BodyPart)
SPAN = 100  # of the slider: as many steps to half and to twice the radius


class FormerCard(QWidget):
    """What it is pressed on."""

    def __init__(self, presenter: FormUpPresenter) -> None:
        """Work `presenter`."""
        super().__init__()
        self._p = presenter
        self._middle = 90.0
        self.error = Complaint()
        self.kind = choices(tuple(WORDS.items()), self._press)
        self.kind.setAccessibleName("pressed on")
        self.radius = EntryField("radius of the former", self._radius)
        self.radius_line = FieldLine("Radius", self.radius)
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(-SPAN, SPAN)
        self.slider.setAccessibleName("drag the radius")
        self.slider.setToolTip("Drag: the shape follows; let go to keep the radius")
        self.slider.sliderMoved.connect(lambda at: presenter.drag_radius(self._at(at)))
        self.slider.sliderReleased.connect(self._let_go)
        self.wearer = QComboBox()
        narrow(self.wearer)
        self.wearer.setAccessibleName("whose body")
        self.wearer.activated.connect(self._wear)
        self.part = choices(PARTS, self._wear)
        self.part.setAccessibleName("part of the body")
        self.body = label("", "note")
        self.choose_body = button("Choose a body …", self.ask_body, tip="STL or OBJ, closed, in mm")
        self.firmly = tick(
            "Pressed down everywhere",
            lambda on: presenter.press_firmly(firmly=on),
            tip="Straps or a vacuum hold it down; by hand alone what stands off stands off",
        )
        self.setLayout(
            column(
                label("Pressed on", "heading"),
                self.kind,
                self.radius_line,
                self.slider,
                row(self.wearer, self.part),
                row(self.choose_body, self.body, None),
                self.firmly,
                self.error,
                space=8,
            )
        )

    def fill(self) -> None:
        """Show what is decided."""
        choice = self._p.choice
        self.kind.show_value(choice.former)
        round_ = choice.former in (FormerKind.BALL, FormerKind.CYLINDER)
        self.radius_line.setVisible(round_)
        self.slider.setVisible(round_)
        if not self.slider.isSliderDown():
            self._middle = choice.radius
            self.slider.setValue(0)
            self.radius.show_value(choice.radius)
        self.firmly.setVisible(choice.former is not FormerKind.NONE)
        self.firmly.setChecked(choice.firmly)
        from_file = choice.former is FormerKind.BODY
        self.choose_body.setVisible(from_file)
        self.body.setVisible(from_file)
        self.body.setText(self._p.body_name)
        for box in (self.wearer, self.part):
            box.setVisible(choice.former is FormerKind.WEARER)
        wearers = self._p.session.project.wearers
        fill_box(self.wearer, [(w.name, w.id) for w in wearers], choice.wearer)
        self.part.show_value(choice.part)

    def _at(self, step: int) -> float:
        """Return the radius of a step of the slider, mm: half of it to twice."""
        return min(max(self._middle * 2 ** (step / SPAN), 5.0), 2000.0)

    def _let_go(self) -> None:
        with Taking(self.error):
            self._p.set_radius(round(self._at(self.slider.value()), 1))

    def _wear(self, _: object) -> None:
        self._p.wear(str(self.wearer.currentData() or ""), self.part.value)

    def _press(self, kind: FormerKind) -> None:
        if kind is FormerKind.BODY and not self._p.choice.body:
            self.ask_body()
            self.fill()
            return
        with Taking(self.error):
            self._p.press_on(kind)

    def _radius(self, text: str) -> bool:
        with Taking(self.error) as taken:
            self._p.set_radius(typed_length(text, where="radius"))
        return bool(taken)

    def ask_body(self) -> None:
        """Ask which file the former is in."""
        chosen, _ = QFileDialog.getOpenFileName(self, "Body to press on", "", BODIES)
        if chosen:
            with Taking(self.error):
                self._p.read_body(Path(chosen))
