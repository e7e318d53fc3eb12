"""The card of Form-up: how much it strains, where seams pull, what it is pressed on."""

from collections.abc import Callable, Iterator
from functools import partial
from pathlib import Path

from PySide6.QtWidgets import QFileDialog, QWidget

from ivory_quilt.core.formup.outcome import FormedShape, SeamOutcome
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.stations.build.form_up.former_card import FormerCard
from ivory_quilt.desk.stations.build.form_up.girth import GirthPresenter
from ivory_quilt.desk.stations.build.form_up.girth_card import GirthCard
from ivory_quilt.desk.stations.build.form_up.mend_card import MendCard
from ivory_quilt.desk.stations.build.form_up.mending import MendPresenter
from ivory_quilt.desk.stations.build.form_up.tones import BandKey
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    column,
    label,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking, number_in
from ivory_quilt.desk.widgets.label_list import LabelList, Line
from ivory_quilt.desk.widgets.layout_hold import laid_out_once

FORMATS = "Mesh (*.obj *.stl *.glb)"
NOTHING = 0.0005  # strain: less is not shown
MUCH = 0.05  # of strain: more than foam takes without heat, from memory
GAPING = 0.5  # mm: less is filled by cement
UNKNOWN = (
    "It does not know friction, creep, cement, or where foam meets itself. Tips are left out "
    "within three thicknesses."
)


class FormUpCard(QWidget):
    """What came of forming up, and what to press on."""

    def __init__(
        self, presenter: FormUpPresenter, mending: MendPresenter, girth: GirthPresenter
    ) -> None:
        """Work the presenters."""
        super().__init__()
        self._p = presenter
        self.look: Palette = LIGHT
        self.error = Complaint()
        self.strain = label("", "figure")
        self.strain_note = label("", "note", wrap=True)
        self.faces = label("", "note", wrap=True)
        self.across = label("", "mono", wrap=True)
        self.key = BandKey()
        self.problems = LabelList()
        self.seams = LabelList(space=6)
        self.former = FormerCard(presenter)
        self.mends = MendCard(mending)
        self.girth = GirthCard(girth)
        # In turns of their own, so that hands come in between.
        self._mends_soon = Later(partial(self._laid_out, self.mends.fill), 0, self)
        self._girth_soon = Later(partial(self._laid_out, self.girth.fill), 0, self)
        self.edge = EntryField("triangles", self._edge)
        self.modulus = EntryField("modulus of the foam, if it was measured", self._modulus, "MPa")
        self.modulus.setToolTip(
            "Young's modulus; with it forces along seams are told. 0: not known"
        )
        self.export = button("Export shape …", self.ask_export, tip="As OBJ, STL or glTF")
        self.setLayout(
            column(
                label("Strain of the middle", "heading"),
                self.strain,
                self.strain_note,
                self.key,
                self.faces,
                self.across,
                self.problems,
                Stitch(),
                self.former,
                Stitch(),
                self.mends,
                label("Seams", "heading"),
                self.seams,
                Stitch(),
                self.girth,
                FieldLine("Triangles", self.edge),
                FieldLine("Modulus, measured", self.modulus),
                self.error,
                self.export,
                label(UNKNOWN, "note", wrap=True),
                space=8,
            )
        )

    def fill(self) -> None:
        """Show what is known."""
        self._laid_out(self._fill)
        self._mends_soon.soon()
        self._girth_soon.soon()

    def _laid_out(self, fill: Callable[[], None]) -> None:
        with laid_out_once(self):
            fill()

    def _fill(self) -> None:
        p = self._p
        self.key.look = self.problems.look = self.seams.look = self.look
        self.former.fill()
        self.edge.show_value(p.fineness)
        self.modulus.show_value(p.choice.modulus)
        self.export.setEnabled(p.shape is not None)
        shape = p.shape
        self.problems.show_lines(() if shape is None else self._noted(shape))
        self.seams.show_lines(() if shape is None else tuple(self._seam_lines(shape)))
        if shape is None:
            self.strain.setText("–")
            text = p.problem or ("forming …" if p.running else "")
            self.strain_note.setText(text)
            set_tone(self.strain_note, "cut" if p.problem else "soft")
            self.across.setText("")
            self.faces.setText("")
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
        self._fill_faces(shape)
        sizes = " × ".join(show_number(v, 0) for v in shape.size)
        off = (
            "" if shape.off is None else f", stands off by {show_number(max(shape.off, 0.0), 1)} mm"
        )
        self.across.setText(f"{sizes} mm{off}")

    def _fill_faces(self, shape: FormedShape) -> None:
        """Say what the faces strain, and what the foam gives by the shop's book."""
        group, session = self._p.group, self._p.session
        if shape.outer is None or shape.inner is None or group is None:
            self.faces.setText("")
            return
        worst = 100 * max(abs(v) for s in (shape.outer, shape.inner) for v in (s.p01, s.p99))
        piece = session.project.piece(group.pieces[0])
        limit = session.stock.material(piece.material).book.dish_limit
        if worst < 100 * NOTHING:
            self.faces.setText("")
            return
        outer, inner = (
            f"{100 * s.p01:+.0f} to {100 * s.p99:+.0f} %".replace("-", "−")
            for s in (shape.outer, shape.inner)
        )
        text = (
            f"Outer face {outer}, inner face {inner}; heat makes it give {limit:g} % by the book."
        )
        self.faces.setText(text)
        set_tone(self.faces, "cut" if worst > limit else "soft")

    def _noted(self, shape: FormedShape) -> list[Line]:
        """Return what is doubtful of the group and the shape, but what the list of seams says."""
        group = self._p.group
        said = [t for t in shape.problems if not t.startswith("Seam ")]
        notes = [*(group.notes if group is not None else ()), *said]
        return [Line(text, "note", "heat") for text in notes]

    def _seam_lines(self, shape: FormedShape) -> Iterator[Line]:
        group, project = self._p.group, self._p.session.project
        if group is None:
            return
        if not shape.seams:
            yield Line("None: join edges in Pattern, Seams.", "note")
        names = {x.id: x.name for x in project.pieces}
        for number, outcome in zip(group.seams, shape.seams, strict=True):
            if number >= len(project.seams):
                continue
            seam = project.seams[number]
            first = f"{names.get(seam.first.piece, '')} {seam.first.edge}"
            second = f"{names.get(seam.second.piece, '')} {seam.second.edge}"
            a, b = show_number(outcome.length_a, 1), show_number(outcome.length_b, 1)
            yield Line(f"{first} to {second}")
            yield Line(f"{a} and {b} mm, {outcome.angle:.0f}°", "mono")
            if outcome.wedge > GAPING:
                wide = show_number(outcome.wedge, 1)
                text = f"Its edges are cut for another angle: {wide} mm stay open, or bend."
                yield Line(text, "note")
            if abs(outcome.pull) > MUCH:
                word = "stretched" if outcome.pull > 0 else "crushed"
                much = f"{100 * abs(outcome.pull):.0f} % {word}{self._force(number, outcome)}"
                yield Line(f"It pulls: {much}.", "note", "cut")

    def _force(self, number: int, outcome: SeamOutcome) -> str:
        """Return the force along a seam in words, where the foam's modulus is known."""
        group, modulus = self._p.group, self._p.choice.modulus
        if not modulus or group is None:
            return ""
        project = self._p.session.project
        seam = project.seams[number]
        thick = min(project.piece(r.piece).thickness for r in (seam.first, seam.second))
        return f", some {abs(outcome.tension(thick, modulus)):.1f} N/cm"

    # Doing

    def _edge(self, text: str) -> bool:
        with Taking(self.error) as taken:
            self._p.set_edge(typed_length(text, where="triangles"))
        return bool(taken)

    def _modulus(self, text: str) -> bool:
        with Taking(self.error) as taken:
            self._p.set_modulus(parse_scalar(number_in(text.replace("MPa", "")), where="modulus"))
        return bool(taken)

    def ask_export(self) -> None:
        """Ask where to, and write the shape."""
        chosen, _ = QFileDialog.getSaveFileName(self, "Export shape", "shape.obj", FORMATS)
        if chosen:
            with Taking(self.error) as taken:
                self._p.export(Path(chosen))
            if taken:
                self._p.session.tell(f"{Path(chosen).name} is written", "good")
