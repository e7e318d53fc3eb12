"""The card of Form-up: how much it strains, where seams pull, what it is pressed on."""

from pathlib import Path

from PySide6.QtWidgets import QComboBox, QFileDialog, QVBoxLayout, QWidget

from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.units import show_number, typed_length
from ivory_quilt.desk.stations.build.form_up.former import FormerKind, FormUpPresenter
from ivory_quilt.desk.stations.build.form_up.tones import BandKey
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking

FORMATS = "Mesh (*.obj *.stl *.glb)"
BODIES = "Closed mesh (*.stl *.obj)"
KINDS = tuple((k, k.value) for k in FormerKind)
PARTS = tuple((p, p.value) for p in BodyPart)
NOTHING = 0.0005  # strain: less is not shown
MUCH = 0.05  # of strain: more than foam takes without heat, from memory
GAPING = 0.5  # mm: less is filled by cement
UNKNOWN = (
    "It does not know friction, creep, cement, or where foam meets itself. Tips are left out "
    "within three thicknesses."
)


class FormUpCard(QWidget):
    """What came of forming up, and what to press on."""

    def __init__(self, presenter: FormUpPresenter) -> None:
        """Work `presenter`."""
        super().__init__()
        self._p = presenter
        self.error = Complaint()
        self.strain = label("", "figure")
        self.strain_note = label("", "note", wrap=True)
        self.across = label("", "mono")
        self.key = BandKey()
        self.problems = QVBoxLayout()
        self.problems.setSpacing(4)
        self.seams = QVBoxLayout()
        self.seams.setSpacing(6)
        self.kind = choices(KINDS, self._press)
        self.kind.setAccessibleName("pressed on")
        self.radius = EntryField("radius of the former", self._radius)
        self.radius_line = FieldLine("Radius", self.radius)
        self.wearer = QComboBox()
        self.wearer.setAccessibleName("whose body")
        self.wearer.activated.connect(self._wear)
        self.part = choices(PARTS, self._wear)
        self.part.setAccessibleName("part of the body")
        self.body = label("", "note")
        self.choose_body = button("Choose a body …", self.ask_body, tip="STL or OBJ, closed, in mm")
        self.edge = EntryField("triangles", self._edge)
        self.export = button("Export shape …", self.ask_export, tip="As OBJ, STL or glTF")
        self.setLayout(
            column(
                label("Strain of the middle", "heading"),
                self.strain,
                self.strain_note,
                self.key,
                self.across,
                self.problems,
                Stitch(),
                label("Seams", "heading"),
                self.seams,
                Stitch(),
                label("Pressed on", "heading"),
                self.kind,
                self.radius_line,
                row(self.wearer, self.part),
                row(self.choose_body, self.body, None),
                FieldLine("Triangles", self.edge),
                self.error,
                self.export,
                label(UNKNOWN, "note", wrap=True),
                space=8,
            )
        )

    def fill(self) -> None:
        """Show what is known."""
        p = self._p
        self.kind.show_value(p.kind)
        self.radius_line.setVisible(p.kind in (FormerKind.BALL, FormerKind.CYLINDER))
        self._fill_wearers()
        self.choose_body.setVisible(p.kind is FormerKind.BODY)
        self.body.setVisible(p.kind is FormerKind.BODY)
        self.body.setText(p.body_name)
        self.radius.show_value(p.radius)
        self.edge.show_value(p.edge)
        self.export.setEnabled(p.shape is not None)
        clear(self.problems)
        clear(self.seams)
        shape = p.shape
        if shape is None:
            self.strain.setText("–")
            text = p.problem or ("forming …" if p.running else "")
            self.strain_note.setText(text)
            set_tone(self.strain_note, "cut" if p.problem else "soft")
            self.across.setText("")
            self.key.setVisible(False)
            return
        low, high = shape.strain.p01, shape.strain.p99
        worst = max(abs(low), abs(high))
        text = f"{100 * low:+.1f} to {100 * high:+.1f} %".replace("-", "−")
        self.strain.setText(text if worst >= NOTHING else "none to speak of")
        set_tone(self.strain, "cut" if worst > MUCH else "")
        waits = " Forming anew …" if p.running else ""
        self.strain_note.setText(f"of 98 % of the area; below 0 it is crushed.{waits}")
        set_tone(self.strain_note, "soft")
        self.key.setVisible(True)
        sizes = " × ".join(show_number(v, 0) for v in shape.size)
        self.across.setText(f"{sizes} mm")
        notes = [*(p.group.notes if p.group is not None else ()), *self._named(shape.problems)]
        for text in notes:
            self.problems.addWidget(label(text, "note", "heat", wrap=True))
        self._fill_seams()

    def _fill_wearers(self) -> None:
        p = self._p
        for box in (self.wearer, self.part):
            box.setVisible(p.kind is FormerKind.WEARER)
        known = [(w.name, w.id) for w in p.session.project.wearers]
        shown = [
            (self.wearer.itemText(k), self.wearer.itemData(k)) for k in range(self.wearer.count())
        ]
        if shown != known:
            self.wearer.clear()
            for name, ident in known:
                self.wearer.addItem(name, ident)
        ids = [i for _, i in known]
        self.wearer.setCurrentIndex(ids.index(p.wearer) if p.wearer in ids else 0)
        self.part.show_value(p.part)

    def _wear(self, _: object) -> None:
        self._p.wear(str(self.wearer.currentData() or ""), self.part.value)

    def _named(self, problems: tuple[str, ...]) -> list[str]:
        """Return the problems but for those that the list of seams says."""
        return [t for t in problems if not t.startswith("Seam ")]

    def _fill_seams(self) -> None:
        p = self._p
        shape, group = p.shape, p.group
        if shape is None or group is None:
            return
        if not shape.seams:
            self.seams.addWidget(label("None: join edges in Pattern, Seams.", "note", wrap=True))
        names = {x.id: x.name for x in p.session.project.pieces}
        project = p.session.project
        for number, outcome in zip(group.seams, shape.seams, strict=True):
            if number >= len(project.seams):
                continue
            seam = project.seams[number]
            first = f"{names.get(seam.first.piece, '')} {seam.first.edge}"
            second = f"{names.get(seam.second.piece, '')} {seam.second.edge}"
            pulls = abs(outcome.pull) > MUCH
            a, b = show_number(outcome.length_a, 1), show_number(outcome.length_b, 1)
            figures = f"{a} and {b} mm, {outcome.angle:.0f}°"
            self.seams.addWidget(label(f"{first} to {second}", wrap=True))
            self.seams.addWidget(label(figures, "mono"))
            if outcome.wedge > GAPING:
                wide = show_number(outcome.wedge, 1)
                text = f"Its edges are cut for another angle: {wide} mm stay open, or bend."
                self.seams.addWidget(label(text, "note", wrap=True))
            if pulls:
                word = "stretched" if outcome.pull > 0 else "crushed"
                text = f"It pulls: {100 * abs(outcome.pull):.0f} % {word}."
                self.seams.addWidget(label(text, "note", "cut", wrap=True))

    # Doing

    def _press(self, kind: FormerKind) -> None:
        self._p.press_on(kind)

    def _radius(self, text: str) -> bool:
        with Taking(self.error) as taken:
            self._p.set_radius(typed_length(text, where="radius"))
        return bool(taken)

    def _edge(self, text: str) -> bool:
        with Taking(self.error) as taken:
            self._p.set_edge(typed_length(text, where="triangles"))
        return bool(taken)

    def ask_body(self) -> None:
        """Ask which file the former is in."""
        chosen, _ = QFileDialog.getOpenFileName(self, "Body to press on", "", BODIES)
        if chosen:
            with Taking(self.error):
                self._p.read_body(Path(chosen))

    def ask_export(self) -> None:
        """Ask where to, and write the shape."""
        chosen, _ = QFileDialog.getSaveFileName(self, "Export shape", "shape.obj", FORMATS)
        if chosen:
            with Taking(self.error) as taken:
                self._p.export(Path(chosen))
            if taken:
                self._p.session.tell(f"{Path(chosen).name} is written", "good")
