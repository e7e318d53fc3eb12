"""The card of the Form view: how the piece is shaped, what that does, and whether it goes."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.coupons import overbend
from ivory_quilt.core.forming.dishing import Remedy
from ivory_quilt.core.forming.forms import shaping_of
from ivory_quilt.core.pattern.build import Face, FormKind, Given
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_scalar, show_number, typed_length
from ivory_quilt.desk.stations.build.changes import ChangeList
from ivory_quilt.desk.stations.build.edits import Edits
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    filled_later,
    label,
    row,
    set_tone,
)
from ivory_quilt.desk.widgets.fields import (
    EntryField,
    FieldLine,
    number_in,
    regard,
    said,
    tick,
)
from ivory_quilt.desk.widgets.slip import SlipFigure

KINDS = (
    (FormKind.FLAT, "Flat"),
    (FormKind.ROLLED, "Rolled"),
    (FormKind.CONE, "Cone"),
    (FormKind.BENT, "Bent along lines"),
    (FormKind.DISHED, "Dished"),
    (FormKind.FREE, "By hand"),
)
GIVEN: dict[FormKind, tuple[tuple[Given, str], ...]] = {
    FormKind.ROLLED: (
        (Given.RADIUS, "body radius"),
        (Given.ANGLE, "angle around"),
        (Given.GIRTH, "closed around a girth"),
    ),
    FormKind.CONE: ((Given.RADIUS, "body radii"), (Given.GIRTH, "body girths")),
    FormKind.DISHED: ((Given.HEIGHT, "height over its rim"), (Given.RADIUS, "body radius")),
}
AXES = ((90.0, "upright"), (0.0, "level"))
FACES = (
    (Face.INNER, "inner face, body"),
    (Face.MIDDLE, "its middle"),
    (Face.OUTER, "outer face, look"),
)
WIDE = 172  # px of a box with words in it
CAUTION = (
    "Hot foam and the gun burn: gloves, and keep the gun moving. Air the room; what the foam's "
    "label and safety sheet say comes first."
)


class FormCard(QWidget):
    """How the piece under work is shaped."""

    def __init__(
        self, presenter: BuildPresenter, changed: Callable[[], None], open_draft: Callable[[], None]
    ) -> None:
        """Work `presenter`; call `changed` when the views must be drawn anew."""
        super().__init__()
        self._p, self._changed = presenter, changed
        edits = Edits(presenter, changed)
        self.error, self._do = edits.error, edits.attempt
        self.kind = choices(KINDS, lambda k: self._do(partial(presenter.set_kind, k)))
        self.kind.setFixedWidth(WIDE)
        self.kind.setAccessibleName("how it is shaped")
        self.given = filled_later("what it is given by", self._give)
        self.given.setFixedWidth(WIDE)
        self._lines_shown: object = None
        self.value = EntryField("its number", partial(self._typed, "value"))
        self.second = EntryField("its number at the other end", partial(self._typed, "second"))
        self.axis = choices(AXES, lambda a: self._set(axis=a))
        self.axis.setFixedWidth(96)
        self.axis.setAccessibleName("the axis lies")
        self.axis_angle = EntryField("angle of the axis", self._axis, "°", 70)
        self.face = choices(FACES, lambda f: self._set(face=f))
        self.face.setFixedWidth(WIDE)
        self.face.setAccessibleName("the pattern was taken on")
        self.beneath = EntryField("worn beneath", partial(self._typed, "beneath"))
        self.sealed = tick(
            "Heat-sealed all over, so it shrinks",
            lambda on: self._seal(on=on),
            "For a flat piece whose surface is closed with heat",
        )
        self.lines = QVBoxLayout()
        self.lines.setSpacing(4)
        self.value_line = FieldLine("", self.value)
        self.second_line = FieldLine("", self.second)
        self.axis_line = FieldLine("Its axis lies", self.axis, self.axis_angle)
        self.given_line = FieldLine("Given by", self.given)
        self.face_line = FieldLine("Pattern taken on", self.face)
        self.beneath_line = FieldLine("Worn beneath", self.beneath)
        self.draw = button("Draw a fold line …", open_draft, tip="In Draft of Pattern")
        self.draw_line = QWidget()
        self.draw_line.setLayout(row(self.draw, None))
        self.problem = Complaint()
        self.note = label("", "note", wrap=True)
        self.changes = ChangeList()
        self.verdict = label("", wrap=True)
        self.strain = SlipFigure("figure")
        self.mend = button("", self._mend, "main")
        self.verdict_box = QWidget()
        self.verdict_box.setLayout(column(self.strain, self.verdict, row(self.mend, None)))
        self.caution = label(CAUTION, "note", "heat", wrap=True)
        self.setLayout(
            column(
                said("Shaped", self.kind),
                self.sealed,
                self.given_line,
                self.value_line,
                self.second_line,
                self.axis_line,
                self.lines,
                self.draw_line,
                self.face_line,
                self.beneath_line,
                self.error,
                self.problem,
                self.note,
                self.verdict_box,
                Stitch(),
                label("From pattern to cut", "heading"),
                self.changes,
                self.caution,
                space=8,
            )
        )

    # Showing

    def fill(self, piece: Piece) -> None:
        """Show the form of a piece."""
        form, p = piece.build.form, self._p
        regard(self, f"{piece.id} {form.kind} {form.given}")
        self.kind.setCurrentIndex([k for k, _ in KINDS].index(form.kind))
        given = GIVEN.get(form.kind, ())
        self.given.clear()
        for value, words in given:
            self.given.addItem(words, value)
        if given:
            known = [g for g, _ in given]
            self.given.setCurrentIndex(known.index(form.given) if form.given in known else 0)
        angle = form.given is Given.ANGLE
        self.value.show_value(form.value, "°" if angle else "mm")
        self.second.show_value(form.second)
        cone = form.kind is FormKind.CONE
        self.value_line.words.setText("At its low end" if cone else _value_words(form.given))
        self.second_line.words.setText("At its high end")
        self.given_line.setVisible(len(given) > 1)
        self.value_line.setVisible(bool(given))
        self.second_line.setVisible(cone)
        self.axis_line.setVisible(cone or form.kind is FormKind.ROLLED)
        self.axis.setCurrentIndex(0 if abs(form.axis % 180 - 90) < 45 else 1)
        self.axis_angle.show_value(form.axis)
        shaped = form.heated
        self.face_line.setVisible(shaped)
        self.face.setCurrentIndex([f for f, _ in FACES].index(form.face))
        self.beneath_line.setVisible(shaped and form.face is Face.INNER)
        self.beneath.show_value(form.beneath)
        self.sealed.setVisible(form.kind is FormKind.FLAT)
        self.sealed.setChecked(piece.build.sealed)
        self._fill_lines(piece, bent=form.kind is FormKind.BENT)
        self.problem.setText(p.problem)
        self.note.setText(self._note(piece))
        self.note.setVisible(bool(self.note.text()))
        self._fill_verdict()
        self.changes.show_changes(p.cuts[0].changes if p.cuts else ())
        hot = shaped or form.kind is FormKind.FREE or piece.build.sealed
        self.caution.setVisible(hot)

    def _note(self, piece: Piece) -> str:
        form, book = piece.build.form, self._p.book
        base = self._p.context.base
        if base is not None:
            return f"It lies on '{base.name}' and follows its form, whatever is said here."
        if form.kind is FormKind.FREE:
            return "Shaped by eye: no allowance is applied. Cut it larger and trim it."
        words = []
        foam = self._p.session.stock.material(piece.material).name
        if form.kind in (FormKind.ROLLED, FormKind.CONE, FormKind.DISHED):
            least = book.tightest * piece.thickness
            inner = _inner_radius(piece)
            if inner is not None and inner < least:
                words.append(
                    f"Tighter than {foam} bends ({least:g} mm inside): score its back, use "
                    "thinner foam, or layer it."
                )
        if book.springback and form.kind in (FormKind.ROLLED, FormKind.BENT):
            turned = [k.crease.angle for k in piece.lines if k.crease and k.kind is LineKind.FOLD]
            angle = abs(turned[0]) if form.kind is FormKind.BENT and turned else 90.0
            over = show_number(overbend(angle, book.springback), 0)
            words.append(f"It springs back: hold {over}° until it is cold, for {angle:g}°.")
        return " ".join(words)

    def _fill_lines(self, piece: Piece, *, bent: bool) -> None:
        folds = [(k, x) for k, x in enumerate(piece.lines) if x.kind is LineKind.FOLD]
        state = (piece.id, bent, piece.thickness, [(k, x.crease) for k, x in folds])
        if state == self._lines_shown:
            return  # a number that is being typed stays
        self._lines_shown = state
        clear(self.lines)
        self.draw_line.setVisible(bent)
        if not bent:
            return
        if not folds:
            text = "No fold line on it yet: draw one, then say by how much it bends."
            self.lines.addWidget(label(text, wrap=True))
        for number, (index, line) in enumerate(folds, 1):
            crease = line.crease or Crease(0.0, piece.thickness)
            angle = EntryField(
                f"angle of fold {number}", partial(self._crease, index, "angle"), "°", 70
            )
            radius = EntryField(f"radius of fold {number}", partial(self._crease, index, "radius"))
            angle.show_value(crease.angle)
            radius.show_value(crease.radius)
            self.lines.addLayout(row(label(f"Fold {number}"), angle, label("inside"), radius, None))

    def _fill_verdict(self) -> None:
        verdict, darts = self._p.verdict()
        self.verdict_box.setVisible(verdict is not None)
        if verdict is None:
            return
        self.strain.show_figure(f"{100 * verdict.strain:.1f} % strain", lambda: verdict.reckoning)
        text, tone = verdict.sentence, "good"
        if verdict.remedy is Remedy.DARTS and darts.count:
            many = counted(darts.count, "dart")
            wide = f"{show_number(darts.width, 0)} mm"
            text = f"{many} of {wide} in all {'are' if darts.count > 1 else 'is'} cut. {text}"
        if verdict.remedy is not Remedy.HEAT:
            done = verdict.remedy is Remedy.DARTS and darts.answer(verdict)
            tone = "good" if done else "heat"
        self.verdict.setText(text)
        set_tone(self.verdict, tone)
        cut = verdict.remedy is Remedy.DARTS and not darts.count
        words = f"Cut {verdict.count} darts" if cut else f"Make {verdict.count} gores"
        self.mend.setText(words)
        self.mend.setVisible(cut or verdict.remedy is Remedy.GORES)

    # Doing

    def _set(self, **changes: object) -> None:
        self._do(lambda: self._p.set_form(**changes))

    def _seal(self, *, on: bool) -> None:
        self._do(lambda: self._p.edit("Heat-sealed", lambda b: replace(b, sealed=on)))

    def _give(self, index: int) -> None:
        piece = self._p.piece
        if piece is not None:
            given = GIVEN[piece.build.form.kind][index][0]
            self._do(lambda: self._p.set_given(given))

    def _typed(self, name: str, text: str) -> bool:
        piece = self._p.piece
        angle = name == "value" and piece is not None and piece.build.form.given is Given.ANGLE

        def work() -> None:
            value = (
                parse_scalar(number_in(text), where="angle")
                if angle
                else typed_length(text, where=name)
            )
            self._p.set_form(**{name: value})

        return self._do(work)

    def _axis(self, text: str) -> bool:
        def work() -> None:
            self._p.set_form(axis=parse_scalar(number_in(text), where="axis") % 180)

        return self._do(work)

    def _crease(self, index: int, name: str, text: str) -> bool:
        piece = self._p.piece
        if piece is None:
            return True
        old = piece.lines[index].crease or Crease(0.0, piece.thickness)

        def work() -> None:
            if name == "angle":
                crease = Crease(parse_scalar(number_in(text), where="angle"), old.radius)
            else:
                crease = Crease(old.angle, typed_length(text, where="bend radius"))
            self._p.set_crease(index, crease)

        return self._do(work)

    def _mend(self) -> None:
        verdict, _ = self._p.verdict()
        if verdict is None:
            return
        if verdict.remedy is Remedy.GORES:
            self._do(lambda: self._p.make_gores(verdict))
        else:
            self._do(lambda: self._p.cut_darts(verdict))


def _value_words(given: Given) -> str:
    return {
        Given.RADIUS: "Radius",
        Given.ANGLE: "Angle",
        Given.GIRTH: "Girth",
        Given.HEIGHT: "Height",
    }[given]


def _inner_radius(piece: Piece) -> float | None:
    try:
        return getattr(shaping_of(piece), "inner", None)
    except InputError:
        return None
