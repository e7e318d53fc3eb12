"""What is painted in which tone, in the order in which it is painted."""

from PySide6.QtWidgets import QLineEdit, QWidget

from ivory_quilt.core.document.benchwork import set_paint
from ivory_quilt.core.document.project import free_name
from ivory_quilt.core.pattern.paint import PaintArea, typed_coats
from ivory_quilt.core.plan.painting import covered
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.step import CAUTIONS, StepKind
from ivory_quilt.core.units import counted, parse_scalar, show_number
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, row
from ivory_quilt.desk.widgets.fields import Taking, yes_or_no
from ivory_quilt.desk.widgets.record_table import Column, RecordTable
from ivory_quilt.desk.widgets.tone_cells import tone_before_glue, tone_face, tone_region

ALL = "all pieces"
HELP = (
    "Regions are painted in this order after the primer; a piece that no region covers wholly gets "
    "the usual coats of paint first. Colour: as the board shows it, such as #2f5d3a. Region: "
    "whole, edge A 12 mm, edges 8 mm, line 2 (what it encloses), line 2 10 mm. Coats: 2, or 2 "
    "sprayed, 1 wash, 1 dry-brushed. Mix: 3 green, 1 "
    "black. On: pieces by name, with commas between; empty for all. "
    "Before gluing: what cannot be reached or masked later. An empty first cell takes a row out."
)


class PaintPanel(QWidget):
    """A table of regions by tone."""

    def __init__(self, session: Session) -> None:
        """Edit what is painted of `session`'s project."""
        super().__init__()
        self._session = session
        self.error = Complaint()
        self.total = label("", "note")
        self.table: RecordTable[PaintArea] = RecordTable(
            "paint",
            (
                Column("Tone", lambda a: a.tone, lambda a, t: replace(a, tone=t.strip())),
                Column("Where", lambda a: a.where, lambda a, t: replace(a, where=t.strip())),
                Column("On", self._pieces_words, self._pieces),
                Column("Colour", lambda a: a.colour, lambda a, t: replace(a, colour=t.strip())),
                Column("Region", lambda a: a.region.words, tone_region),
                Column("Face", lambda a: a.face.value, tone_face),
                Column("Share %", lambda a: show_number(100 * a.share, 1), _share),
                Column("Coats", lambda a: a.coat_words, typed_coats),
                Column("Before gluing", lambda a: yes_or_no(on=a.before_glue), tone_before_glue),
                Column("Mix", lambda a: a.mix, lambda a, t: replace(a, mix=t.strip())),
                Column("Left ml", lambda a: show_number(a.left, 0) if a.left else "", _left),
                Column("Covers", self._covers),
            ),
            lambda: session.project.paint,
            self._put,
            self.error.setText,
            remove=self._remove,
        )
        self.tone = _line("tone: deep green", "tone")
        self.where = _line("where: rims", "where on the pieces")
        self.on = _line("on: all pieces", "pieces that it is on, with commas between")
        add = button("Add tone", self.add)
        up = button("Earlier", self.earlier, tip="Paint the chosen region before the one above")
        self.setLayout(
            column(
                label("Paint", "title"),
                row(self.total, None),
                self.error,
                row(self.tone, self.where, self.on, add, up),
                self.table,
                label(HELP, "note", wrap=True),
                label(CAUTIONS[StepKind.PAINT], "note", "heat", wrap=True),
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the regions as they are now."""
        self.table.fill()
        count, paint = len(self._session.project.paint), self._session.project.bench.paint
        usual = f"every piece gets {counted(paint, 'coat')} of one tone"
        self.total.setText(f"{counted(count, 'region')}, in this order" if count else usual)

    def _set(self, word: str, areas: tuple[PaintArea, ...]) -> None:
        self._session.edit(word, lambda p: set_paint(p, areas))

    def _put(self, area: PaintArea) -> None:
        known = self._session.project.paint
        self._set("Change paint", tuple(area if a.id == area.id else a for a in known))

    def _remove(self, area: PaintArea) -> None:
        known = self._session.project.paint
        self._set("Remove paint", tuple(a for a in known if a.id != area.id))

    def add(self) -> None:
        """Add the region that was typed."""
        with Taking(self.error, self.tone, self.on):
            known = self._session.project.paint
            ident = free_name("tone", {a.id for a in known})
            made = PaintArea(ident, self.tone.text().strip(), self.where.text().strip())
            made = self._pieces(made, self.on.text())
            if made.where:
                made = replace(made, share=0.2)
            self._set("Add paint", (*known, made))
            for field in (self.tone, self.where, self.on):
                field.clear()

    def earlier(self) -> None:
        """Paint the chosen region before the one above it."""
        areas, k = list(self._session.project.paint), self.table.currentRow()
        if 0 < k < len(areas):
            areas[k - 1 : k + 1] = [areas[k], areas[k - 1]]
            self._set("Paint earlier", tuple(areas))
            self.table.setCurrentCell(k - 1, 0)

    def _pieces_words(self, area: PaintArea) -> str:
        names = {p.id: p.name for p in self._session.project.pieces}
        return ", ".join(names.get(i, i) for i in area.pieces) or ALL

    def _pieces(self, area: PaintArea, text: str) -> PaintArea:
        wish = [t for t in (t.strip() for t in text.split(",")) if t]
        if not wish or [t.lower() for t in wish] == [ALL]:
            return replace(area, pieces=())
        found = [self._session.project.piece_named(t, "on").id for t in wish]
        return replace(area, pieces=tuple(dict.fromkeys(found)))

    def _covers(self, area: PaintArea) -> str:
        project, suits = self._session.project, self._session.plan.suit_count
        made = [p.id for p in project.pieces if p.count]
        return f"{show_number(covered(project, area, made, suits), 2)} m²"


def _line(hint: str, name: str) -> QLineEdit:
    made = QLineEdit()
    made.setPlaceholderText(hint)
    made.setAccessibleName(name)
    return made


def _share(area: PaintArea, text: str) -> PaintArea:
    return replace(area, share=parse_scalar(text.replace("%", ""), where="share") / 100)


def _left(area: PaintArea, text: str) -> PaintArea:
    plain = text.strip().removesuffix("ml").strip()
    return replace(area, left=parse_scalar(plain, where="left") if plain else 0.0)
