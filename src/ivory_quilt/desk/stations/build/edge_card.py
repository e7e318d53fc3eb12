"""The card of the Edges view: profiles, bevels that meet, grooves."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.edges.groove_check import Groove, first_crease
from ivory_quilt.core.edges.grooves import blade
from ivory_quilt.core.edges.profiles import from_table
from ivory_quilt.core.forming.shaping import signed
from ivory_quilt.core.pattern.build import Face, ProfileKind
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece
from ivory_quilt.core.pattern.seams import Joint, Seam
from ivory_quilt.core.stacks.cut import knife_run
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
from ivory_quilt.desk.stations.build.edge_work import ANGLED
from ivory_quilt.desk.stations.build.edits import Edits
from ivory_quilt.desk.stations.build.form_card import FACES
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.stations.build.sewing_box import SewingBox
from ivory_quilt.desk.widgets.basics import (
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
    with_field,
)
from ivory_quilt.desk.widgets.slip import SlipFigure

PROFILES = (
    (ProfileKind.SQUARE, "Square"),
    (ProfileKind.IN, "Bevel in"),
    (ProfileKind.OUT, "Bevel out"),
    (ProfileKind.MEET, "To meet the neighbour"),
    (ProfileKind.BLADE, "Blade, both faces"),
    (ProfileKind.ROUND, "Rounded over"),
    (ProfileKind.LAP, "Lap"),
)
JOINTS = ((Joint.MITRE, "bevel to bevel"), (Joint.BUTT, "against the other's face"))
WIDE = (ProfileKind.BLADE, ProfileKind.ROUND, ProfileKind.LAP)
CAUTION = "Fresh blade, cut away from yourself, the other hand out of its path."
MOST_EDGES = 24


class EdgeCard(QWidget):
    """How the edges of the piece under work are cut."""

    def __init__(
        self, presenter: BuildPresenter, changed: Callable[[], None], open_draft: Callable[[], None]
    ) -> None:
        """Work `presenter`; call `changed` when the views must be drawn anew."""
        super().__init__()
        self._p, self._changed = presenter, changed
        edits = Edits(presenter, changed)
        self.error, self._do = edits.error, edits.attempt
        self._shown_grooves: object = None
        self.edge = filled_later("edge", self._choose)
        self.face = choices(FACES, self._set_face)
        self.face.setFixedWidth(172)
        self.face.setAccessibleName("the face that carries the pattern line")
        self.kind = choices(PROFILES, self._set_kind)
        self.kind.setFixedWidth(200)
        self.kind.setAccessibleName("profile")
        self.angle = EntryField("bevel from a square cut", self._set_angle, "°", 70)
        self.table = EntryField("blade from the table", self._set_table, "°", 70)
        self.wide = EntryField("width", self._set_width)
        self.angle_line = FieldLine("From a square cut", self.angle)
        self.table_line = FieldLine("Blade from the table", self.table)
        self.width_line = FieldLine("Width", self.wide)
        self.why = label("", wrap=True)
        self.far = SlipFigure("mono")
        self.far_line = FieldLine("Outer face beyond inner", self.far)
        self.blade = SlipFigure("mono")
        self.blade_line = FieldLine("Bevel to the face", self.blade)
        self.seam_name = label("", "heading", wrap=True)
        self.dihedral = EntryField("angle between the outer faces", self._set_dihedral, "°", 70)
        self.joint = choices(JOINTS, self._set_joint)
        self.joint.setFixedWidth(200)
        self.joint.setAccessibleName("how they meet")
        self.mate = label("", wrap=True)
        self.mate_slip = SlipFigure("mono")
        self.meet = button("Let both edges meet", self._meet, "main")
        self.ridge = button(
            "Ridge of two 45° cuts", self._ridge, tip="The two plates stand at a right angle"
        )
        self.seam_box = QWidget()
        self.seam_box.setLayout(
            column(
                Stitch(),
                self.seam_name,
                said("Outer faces at", self.dihedral),
                said("Meet", self.joint),
                self.mate_slip,
                self.mate,
                row(self.meet, None),
                row(self.ridge, None),
            )
        )
        self.sewing = SewingBox(presenter, self._do)
        self.grooves = QVBoxLayout()
        self.grooves.setSpacing(6)
        draw = button("Draw a line …", open_draft, tip="Undercuts and scores, in Pattern's Draft")
        self.caution = label(CAUTION, "note", "heat", wrap=True)
        self.setLayout(
            column(
                said("Pattern line on", self.face),
                said("Edge", self.edge),
                said("Cut", self.kind),
                self.angle_line,
                self.table_line,
                self.width_line,
                self.why,
                self.far_line,
                self.blade_line,
                self.error,
                self.seam_box,
                self.sewing,
                Stitch(),
                label("Undercuts and scores", "heading"),
                self.grooves,
                row(draw, None),
                self.caution,
                space=8,
            )
        )

    # Showing

    def fill(self, piece: Piece) -> None:
        """Show the edge in hand and the grooves."""
        p = self._p
        chosen = p.edges.chosen_edge
        regard(self, f"{piece.id} {chosen} {piece.build.profile(chosen).kind}")
        names = [e.name for e in edges_of(piece)]
        if [self.edge.itemText(k) for k in range(self.edge.count())] != names:
            self.edge.clear()
            self.edge.addItems(names)
        if chosen in names:
            self.edge.setCurrentIndex(names.index(chosen))
        profile, knife = piece.build.profile(chosen), p.edges.knife(chosen)
        self.face.setCurrentIndex([f for f, _ in FACES].index(piece.build.form.face))
        kind = profile.kind
        self.kind.setCurrentIndex([k for k, _ in PROFILES].index(kind))
        self.angle.show_value(p.edges.shown_bevel)
        self.table.show_value(from_table(p.edges.shown_bevel))
        self.wide.show_value(profile.width or knife.round)
        for line in (self.angle_line, self.table_line):
            line.setVisible(kind in ANGLED or bool(knife.angle))
        for field in (self.angle, self.table):
            field.setReadOnly(kind not in ANGLED)
        self.width_line.setVisible(kind in WIDE)
        self.why.setText(knife.why[:1].upper() + knife.why[1:] if kind is ProfileKind.MEET else "")
        self.why.setVisible(bool(self.why.text()))
        self.far_line.setVisible(bool(knife.angle))
        if knife.angle:
            reckoned = knife.reckon(piece.thickness)
            off = signed(reckoned.figure("offset"))
            self.far.show_figure(off, lambda: reckoned)
        self.blade_line.setVisible(bool(knife.blade))
        if knife.blade:
            cut = blade(knife_run(piece).whole, knife.blade)
            self.blade.show_figure(f"{cut.figure('angle'):.1f}°", lambda: cut)
        if p.problem:
            self.error.setText(p.problem)
        self.sewing.fill(piece)
        self._fill_seam(p.edges.seam())
        self._fill_grooves(piece)

    def _fill_seam(self, seam: Seam | None) -> None:
        self.seam_box.setVisible(seam is not None)
        if seam is None:
            return
        name = self._p.edges.seam_words(seam)
        self.seam_name.setText(f"Seam: {name}")
        self.dihedral.show_value(seam.dihedral)
        self.joint.setCurrentIndex([j for j, _ in JOINTS].index(seam.joint))
        mate = self._p.edges.mate(seam)
        self.mate_slip.setVisible(mate is not None)
        if mate is None:
            self.mate.setText("A bevel that no blade can cut: butt it, or change the angle.")
            set_tone(self.mate, "cut")
            return
        self.mate_slip.show_figure(f"{mate.first:.1f}° and {mate.second:.1f}°", mate.reckon)
        text = mate.sentence
        self.mate.setText(text[:1].upper() + text[1:] + ".")
        set_tone(self.mate, "good" if mate.good else "cut")
        self.meet.setVisible(not mate.good)

    def _fill_grooves(self, piece: Piece) -> None:
        state = (piece.id, piece.lines, piece.thickness)
        if state == self._shown_grooves:
            return
        self._shown_grooves = state
        clear(self.grooves)
        grooves = {g.line: g for g in self._p.edges.grooves()}
        kinds = (LineKind.UNDERCUT, LineKind.SCORE)
        lines = [(k, x) for k, x in enumerate(piece.lines) if x.kind in kinds]
        if not lines:
            self.grooves.addWidget(label("None on this piece.", "note"))
        for number, (index, line) in enumerate(lines, 1):
            self._groove_rows(number, index, line.kind, line.crease, grooves.get(index))

    def _groove_rows(
        self,
        number: int,
        index: int,
        kind: LineKind,
        crease: Crease | None,
        groove: Groove | None,
    ) -> None:
        head = f"{number}  {kind.value}"
        if crease is None:
            say = button("Set how it is cut", partial(self._put, index, first_crease(kind)))
            self.grooves.addLayout(row(label(head), None, say))
            return
        slip = SlipFigure("mono")
        if groove is not None:
            wide = f"{show_number(groove.width, 1)} wide, " if groove.width else ""
            slip.show_figure(f"{wide}{show_number(groove.depth, 1)} deep", lambda: groove.reckoning)
        self.grooves.addLayout(row(label(head), None, slip))
        if kind is LineKind.UNDERCUT:
            angle = EntryField(
                f"fold angle of groove {number}", partial(self._crease, index, "angle"), "°", 64
            )
            skin = EntryField(
                f"skin of groove {number}", partial(self._crease, index, "skin"), "mm", 72
            )
            angle.show_value(crease.angle)
            skin.show_value(crease.skin)
            self.grooves.addLayout(row(label("folds"), angle, label("skin"), skin, None))
            front = tick("from the front", self._flag_setter(index, "front"))
            closes = tick(
                "closed",
                self._flag_setter(index, "folds"),
                "Open: a recess to paint",
            )
            front.setChecked(crease.front)
            closes.setChecked(crease.folds)
            self.grooves.addLayout(row(front, closes, None))
        for problem in groove.problems if groove is not None else ():
            text = problem[:1].upper() + problem[1:] + "."
            self.grooves.addWidget(label(text, "note", "cut", wrap=True))

    # Doing

    def _choose(self, index: int) -> None:
        self._p.edges.edge = self.edge.itemText(index)
        self._changed()

    def _set_face(self, face: Face) -> None:
        self._do(lambda: self._p.set_form(face=face))

    def _set_kind(self, kind: ProfileKind) -> None:
        self._do(lambda: self._p.edges.set_kind(kind))

    def _set_angle(self, text: str) -> bool:
        return self._do(lambda: self._p.edges.set_bevel(number_in(text)))

    def _set_table(self, text: str) -> bool:
        return self._do(lambda: self._p.edges.set_blade(number_in(text)))

    def _set_width(self, text: str) -> bool:
        return self._do(lambda: self._p.edges.set_width(text))

    def _set_dihedral(self, text: str) -> bool:
        return self._do(lambda: self._p.edges.set_dihedral(number_in(text)))

    def _set_joint(self, joint: Joint) -> None:
        if (seam := self._p.edges.seam()) is not None:
            self._do(lambda: self._p.edges.set_seam(seam, joint=joint))

    def _meet(self) -> None:
        if (seam := self._p.edges.seam()) is not None:
            self._do(lambda: self._p.edges.meet_both(seam))

    def _ridge(self) -> None:
        self._do(self._p.edges.make_ridge)

    def _put(self, index: int, crease: Crease) -> None:
        self._do(lambda: self._p.set_crease(index, crease))

    def _crease(self, index: int, name: str, text: str) -> bool:
        piece = self._p.piece
        if piece is None or (old := piece.lines[index].crease) is None:
            return True

        def work() -> None:
            value = (
                parse_scalar(number_in(text), where="fold")
                if name == "angle"
                else typed_length(text, where=name)
            )
            self._p.set_crease(index, with_field(old, name, value))

        return self._do(work)

    def _flag_setter(self, index: int, name: str) -> Callable[[bool], None]:
        return lambda on: self._flag(index, name, on=on)

    def _flag(self, index: int, name: str, *, on: bool) -> None:
        piece = self._p.piece
        if piece is not None and (old := piece.lines[index].crease) is not None:
            self._put(index, with_field(old, name, on))
