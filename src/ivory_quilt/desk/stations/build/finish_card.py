"""The card of the Finish view: what is added, the work in hand, the foam left beneath it."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace, typed_grits
from ivory_quilt.core.plan.surfacing import work_figure
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, show_number, typed_length
from ivory_quilt.desk.stations.build.edits import Edits
from ivory_quilt.desk.stations.build.finish_pane import COLOUR, SURFACE
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    column,
    filled_later,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, regard, said, show_text
from ivory_quilt.desk.widgets.slip import SlipFigure

FACES = ((WorkFace.OUTER, "outer, seen"), (WorkFace.INNER, "inner, body"))
KNIFE = ((LineKind.SCORE, "score"), (LineKind.SLIT, "cut through"), (LineKind.MARK, "only a mark"))
KINDS: tuple[tuple[SurfaceKind | LineKind, str], ...] = (
    *((k, k.value) for k in SurfaceKind),
    *KNIFE,
)
TONES_HELP = (
    "Type a tone into the empty row. Region: whole, edge A 12 mm, edges 8 mm, line 2 (what it "
    "encloses), line 2 10 mm. Coats: 2, or 2 sprayed, 1 wash. First: painted before its piece is "
    "glued on. Masks are printed in Cut, with the templates."
)


class FinishCard(QWidget):
    """What is done to the faces of the piece under work."""

    def __init__(
        self, presenter: BuildPresenter, changed: Callable[[], None], open_draft: Callable[[], None]
    ) -> None:
        """Work `presenter`; call `changed` when the views must be drawn anew."""
        super().__init__()
        self._p, self._finish = presenter, presenter.finish
        edits = Edits(presenter, changed)
        self.error, self._do = edits.error, edits.attempt
        self._regions: tuple[FaceRegion, ...] = ()
        self.total = label("", "figure")
        self.kind = choices(KINDS, lambda _: self._fill_places())
        self.kind.setAccessibleName("work to add")
        self.kind.setFixedWidth(180)
        self.place = filled_later("where to add it", lambda _: None)
        self.place.setFixedWidth(180)
        self.add = button("Add", self._add, "main")
        self.draw = button(
            "Draw a line …", open_draft, tip="Lines on the piece, in Pattern's Draft"
        )
        self.title = label("", "heading", wrap=True)
        self.face = choices(FACES, self._set_face)
        self.face.setFixedWidth(150)
        self.face.setAccessibleName("face that is worked")
        self.deep = EntryField("depth", partial(self._size, "depth"))
        self.wide = EntryField("width", self._set_width)
        self.thick = EntryField("thickness", partial(self._size, "thickness"))
        self.margin = EntryField("margin", partial(self._size, "margin"))
        self.grits = self._line("grits", self._set_grits)
        self.material = self._line("material", self._set_material)
        self.note = self._line("what it shows", self._set_note)
        self.lines = {
            "face": FieldLine("Face", self.face),
            "depth": FieldLine("Depth", self.deep),
            "wide": FieldLine("Width", self.wide),
            "grits": FieldLine("Grits", self.grits),
            "material": FieldLine("Material", self.material),
            "thick": FieldLine("Its thickness", self.thick),
            "margin": FieldLine("Cut larger by", self.margin),
            "note": FieldLine("Pattern", self.note),
        }
        self.amount = SlipFigure("mono")
        self.left = SlipFigure("mono")
        self.left_line = FieldLine("Foam left", self.left)
        self.thin = Complaint()
        self.caution = label("", "note", "heat", wrap=True)
        self.remove = button("Remove", self._remove, "quiet")
        self.hand = QWidget()
        self.hand.setLayout(
            column(
                Stitch(),
                self.title,
                *self.lines.values(),
                FieldLine("On all copies", self.amount),
                self.left_line,
                self.thin,
                self.caution,
                row(self.remove, None),
                space=8,
            )
        )
        self.surface = QWidget()
        self.surface.setLayout(
            column(
                label("Add", "heading"),
                said("Work", self.kind),
                said("Where", self.place),
                row(self.add, self.draw, None),
                self.hand,
                space=8,
            )
        )
        self.give = button(
            "Give its tones to the selected pieces",
            self._give,
            tip="The pieces that are selected on the board in Pattern",
        )
        self.tones_said = label("", "note", wrap=True)
        self.colour = QWidget()
        self.colour.setLayout(
            column(
                label("Tones", "heading"),
                self.tones_said,
                label(TONES_HELP, "note", wrap=True),
                row(self.give, None),
                space=8,
            )
        )
        self.setLayout(column(self.total, self.error, self.surface, self.colour, space=8))

    def _line(self, name: str, take: Callable[[str], object]) -> QLineEdit:
        made = QLineEdit()
        made.setAccessibleName(name)
        made.setFixedWidth(150)

        def typed() -> None:
            if made.isModified():
                made.setModified(False)
                take(made.text())

        made.editingFinished.connect(typed)
        return made

    # Showing

    def fill(self, piece: Piece, which: str) -> None:
        """Show the work in hand, or how tones are given."""
        finish, work = self._finish, self._finish.work
        regard(self, f"{piece.id} {finish.chosen} {work.kind if work else ''}")
        minutes = sum(finish.reckoned(w).figure("minutes") for w in finish.works)
        total = f"{counted(len(finish.works), 'work')}, {show_number(minutes, 0)} min"
        if which == COLOUR:
            total = counted(len(finish.tones()), "tone")
        self.total.setText(total)
        self.surface.setVisible(which == SURFACE)
        self.colour.setVisible(which == COLOUR)
        self._fill_places()
        self.hand.setVisible(work is not None)
        if work is not None:
            self._fill_work(piece, work)
        tones = finish.tones()
        names = ", then ".join(dict.fromkeys(a.tone for a in tones))
        lost = [a for a in tones if not finish.covered(a)]
        said = [f"{names}." if names else "The usual coats of one tone."]
        said += [f"{a.tone}: there is no {a.region.words} that it could be on." for a in lost]
        self.tones_said.setText(" ".join(said))
        chosen = [i for i in self._p.session.selected if i != piece.id]
        own = any(a.pieces for a in tones)
        self.give.setEnabled(bool(chosen) and own)

    def _fill_places(self) -> None:
        places = self._finish.places()
        if self._follows_line:
            places = tuple(p for p in places if p[0].on is RegionKind.LINE and p[0].width)
        regions = tuple(r for r, _ in places)
        if regions == self._regions:
            return
        self._regions = regions
        here = self.place.currentText()
        self.place.clear()
        self.place.addItems([words for _, words in places])
        self.place.setCurrentIndex(max(0, self.place.findText(here)))

    @property
    def _follows_line(self) -> bool:
        """Whether what is to be added goes along a line."""
        kind = self.kind.value
        return isinstance(kind, LineKind) or kind.along_line

    def _fill_work(self, piece: Piece, work: SurfaceWork) -> None:
        kind = work.kind
        self.title.setText(f"{kind.value.capitalize()}, {work.region.words}")
        self.face.show_value(work.face)
        self.deep.show_value(work.depth)
        self.wide.show_value(work.region.width)
        self.thick.show_value(work.thickness)
        self.margin.show_value(work.margin)
        show_text(self.grits, ", ".join(map(str, work.grits)))
        show_text(self.material, work.material)
        show_text(self.note, work.note)
        clay = kind is SurfaceKind.CLAY
        self.lines["depth"].words.setText("Laid on" if clay else "Depth")
        carved = kind is SurfaceKind.CARVE
        self.lines["material"].words.setText("Inlay" if carved else "Material")
        shown = {
            "depth": clay or kind.takes_off,
            "wide": bool(work.region.width),
            "grits": kind is SurfaceKind.SAND,
            "material": kind.laid_on or carved,
            "thick": kind.laid_on or bool(carved and work.material),
            "margin": kind.laid_on,
            "note": kind in (SurfaceKind.TEXTURE, SurfaceKind.CLAY, SurfaceKind.DRAW),
        }
        for name, line in self.lines.items():
            line.setVisible(shown.get(name, True))
        reckoned = self._finish.reckoned(work)
        each = work_figure(piece, work)
        minutes = show_number(reckoned.figure("minutes"), 0)
        parts = piece.cut_count * self._p.session.plan.suit_count
        self.amount.show_figure(f"{parts} × {each}, {minutes} min", lambda: reckoned)
        wall = self._finish.wall()
        self.left_line.setVisible(wall is not None)
        self.thin.setText("")
        if wall is not None:
            found = wall
            self.left.show_figure(
                f"{show_number(max(wall.left, 0.0), 1)} mm", lambda: found.reckoning
            )
            text = wall.problem
            self.thin.setText(f"{text[:1].upper()}{text[1:]}." if text else "")
        self.caution.setText(" ".join(reckoned.notes))
        self.caution.setVisible(bool(reckoned.notes))

    # Doing

    def _add(self) -> None:
        if not self._regions:
            self.error.setText("It goes along a line, and this piece has none: draw one first.")
            return
        kind, region = self.kind.value, self._regions[self.place.currentIndex()]
        if isinstance(kind, LineKind):
            self._do(lambda: self._finish.cut_line(region, kind))
        else:
            self._do(lambda: self._finish.add(kind, region))

    def _put(self, change: Callable[[SurfaceWork], SurfaceWork]) -> bool:
        work, number = self._finish.work, self._finish.chosen
        if work is None or number is None:
            return False
        return self._do(lambda: self._finish.put(number, change(work)))

    def _set_face(self, face: WorkFace) -> None:
        self._put(lambda w: replace(w, face=face))

    def _size(self, name: str, text: str) -> bool:
        def change(work: SurfaceWork) -> SurfaceWork:
            value = typed_length(text, where=name)
            if name == "depth":
                return replace(work, depth=value)
            return (
                replace(work, margin=value) if name == "margin" else replace(work, thickness=value)
            )

        return self._put(change)

    def _set_width(self, text: str) -> bool:
        return self._put(
            lambda w: replace(w, region=replace(w.region, width=typed_length(text, where="width")))
        )

    def _set_grits(self, text: str) -> bool:
        return self._put(lambda w: replace(w, grits=typed_grits(text)))

    def _set_material(self, text: str) -> bool:
        return self._put(lambda w: replace(w, material=text.strip()))

    def _set_note(self, text: str) -> bool:
        return self._put(lambda w: replace(w, note=text.strip()))

    def _remove(self) -> None:
        number = self._finish.chosen
        if number is not None:
            self._do(lambda: self._finish.remove(number))

    def _give(self) -> None:
        self._do(lambda: self._finish.give(self._p.session.selected))
