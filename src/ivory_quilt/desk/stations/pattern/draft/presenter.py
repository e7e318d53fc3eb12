"""What Draft does, without a widget: draw on one piece, cut it open, part its edges."""

from collections.abc import Callable
from enum import StrEnum

import numpy as np

from ivory_quilt.core.document.letting_in import let_in
from ivory_quilt.core.document.ornament_rows import with_field, with_plates, with_row
from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.seam_book import add_dart, part_piece, rename_edge
from ivory_quilt.core.editing.ornament_field import OrnamentField
from ivory_quilt.core.editing.ornament_row import OrnamentRow
from ivory_quilt.core.editing.plate_row import PlateRow
from ivory_quilt.core.editing.snap import Snap, snap
from ivory_quilt.core.editing.surgery import CutLine, taken_in
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length, locate_on_line
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.edges import edges_of, with_corner, without_corner
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_length, show_number, typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.draft.motif_presenter import MotifPresenter
from ivory_quilt.desk.stations.pattern.draft.outline_presenter import OutlinePresenter
from ivory_quilt.desk.stations.pattern.draft.picture_presenter import PicturePresenter
from ivory_quilt.desk.stations.pattern.draft.telling import told_of_seams
from ivory_quilt.desk.stations.pattern.draft.version_presenter import VersionPresenter
from ivory_quilt.desk.work import Background

LEAST_LINE = 2.0  # mm; a shorter line is a slip of the hand
CORNER_REACH = 3.0  # mm beyond the snap within which a corner is meant


class Tool(StrEnum):
    """The tool in the hand."""

    CHOOSE = "choose"
    LINE = "line"
    MATCH = "match"
    WORDS = "words"
    CORNER = "corner"
    OUTLINE = "outline"
    REDRAW = "redraw"
    PICTURE = "picture"


TOOLS = (
    (Tool.CHOOSE, "Select", "Click a line, a mark or text to select it"),
    (Tool.LINE, "Line", "Drag a line across the piece, then say what it is"),
    (Tool.MATCH, "Match mark", "Click where two edges must meet tick to tick"),
    (Tool.WORDS, "Text", "Click where the text typed below goes"),
    (Tool.CORNER, "Corner", "Click the outline to split an edge; click a corner to remove it"),
    (Tool.OUTLINE, "Outline", "Move, add and remove nodes; bend the sides between them"),
    (Tool.REDRAW, "Redraw", "Draw a stretch of the outline again by hand"),
    (Tool.PICTURE, "Picture", "Lay a picture beneath, to draw over it"),
)
LINES = (
    (LineKind.SCORE, "Score"),
    (LineKind.SLIT, "Slit"),
    (LineKind.FOLD, "Fold"),
    (LineKind.UNDERCUT, "Undercut"),
    (LineKind.MARK, "Mark"),
    (LineKind.CENTRE, "Centre line"),
    (LineKind.GRAIN, "Direction arrow"),
)


class ThingKind(StrEnum):
    """What may be chosen on a piece."""

    LINE = "line"
    MARK = "mark"
    LABEL = "label"


class Chosen(Struct, frozen=True):
    """A thing on the piece, and which of its kind."""

    kind: ThingKind
    index: int


class DraftPresenter:
    """One piece under the hands."""

    def __init__(self, session: Session, reader: Callable[[], Background]) -> None:
        """Work on `session`; pictures are loaded on what `reader` returns."""
        self.session = session
        self.piece_id = ""
        self.tool = Tool.LINE
        self.pending: tuple[Point, Point] | None = None
        self.chosen: Chosen | None = None
        self.words = ""
        self.outline = OutlinePresenter(session, lambda: self.piece)
        self.picture = PicturePresenter(lambda: self.piece, reader)
        self.neighbours = True
        """Whether a strip that is let in goes into the neighbours at its seams as well."""
        self.motif = MotifPresenter(session, lambda: self.piece, reader)
        self.versions = VersionPresenter(session, lambda: self.piece)

    @property
    def piece(self) -> Piece | None:
        """The piece that is drafted, None when it is gone."""
        return next((p for p in self.session.project.pieces if p.id == self.piece_id), None)

    @property
    def holds(self) -> bool:
        """Whether something is chosen that may be deleted."""
        return bool(self.chosen or self.outline.chosen)

    def take_up(self, piece_id: str) -> None:
        """Draft another piece."""
        if piece_id != self.piece_id:
            self.piece_id = piece_id
            self.pending = self.chosen = None
            self.outline.forget()
            self.versions.beside = ""

    def snap(self, hand: Point, reach: float, start: Point | None = None) -> Snap:
        """Return where a hand-drawn point falls."""
        piece = self.piece
        return snap(piece, hand, reach, start) if piece is not None else Snap(hand)

    # Drawing on the piece

    def draw(self, start: Point, stop: Point) -> None:
        """Hold a line that was drawn until the maker says what it is."""
        apart = np.hypot(stop[0] - start[0], stop[1] - start[1])
        self.pending = (start, stop) if apart >= LEAST_LINE else None

    def keep_line(self, kind: LineKind) -> None:
        """Put the drawn line into the piece."""
        if self.pending is None:
            return
        line = PieceLine(kind, np.array(self.pending))
        title = dict(LINES)[kind]
        self._change(f"{title}", lambda p: replace(p, lines=(*p.lines, line)))
        self.pending = None

    def add_mark(self, at: Point) -> None:
        """Put a match mark on the outline."""
        self._change("Match mark", lambda p: replace(p, match_marks=(*p.match_marks, at)))

    def add_words(self, at: Point) -> None:
        """Put the words typed onto the piece.

        Raises:
            InputError: none are typed.
        """
        text = self.words.strip()
        if not text:
            raise InputError("words", "there are none", "text typed on the card first")
        self._change("Text", lambda p: replace(p, labels=(*p.labels, Label(text, at))))

    def corner(self, at: Point, reach: float) -> None:
        """Take out the corner at a place, or make one.

        Raises:
            InputError: the last corner would go.
        """
        piece = self.piece
        if piece is None:
            return
        corners = np.array([e.start for e in edges_of(piece)])
        away = float(np.hypot(*(corners - np.asarray(at)).T).min())
        if away <= reach and len(corners) > 1:
            self._change("Remove corner", lambda p: without_corner(p, at))
        else:
            self._change("Corner", lambda p: with_corner(p, at))

    def rename_edge(self, old: str, new: str) -> None:
        """Give an edge another name, in the piece and its seams.

        Raises:
            InputError: the name is empty or taken.
        """
        if old == new.strip():
            return
        ident = self.piece_id
        self.session.edit(f"Edge {old}: {new.strip()}", lambda p: rename_edge(p, ident, old, new))

    def add_row(self, row: OrnamentRow) -> None:
        """Put a row of holes or ornaments onto the piece.

        Raises:
            InputError: it does not fit.
        """
        piece = self.piece
        if piece is None:
            return
        project, places = with_row(self.session.project, piece.id, row)
        many = len(places.middles)
        along = f"along {row.edge}" if row.edge else "all around"
        self.session.edit(f"Row of {many} {along}: {piece.name}", lambda _: project)
        each = f", {show_length(places.spacing, digits=1)} from one to the next" if many > 1 else ""
        self.session.tell(f"{many} {along}{each}.", "good")

    def add_field(self, field: OrnamentField) -> None:
        """Put holes or ornaments all over the piece.

        Raises:
            InputError: none fits, or they meet.
        """
        piece = self.piece
        if piece is None:
            return
        project, places = with_field(self.session.project, piece.id, field)
        many = len(places.middles)
        self.session.edit(f"{many} over {piece.name}", lambda _: project)
        each = show_length(places.spacing, digits=1)
        self.session.tell(f"{many} over {piece.name}, {each} from one to the next.", "good")

    def make_plates(self, row: PlateRow) -> None:
        """Make a row of overlapping plates of the piece.

        Raises:
            InputError: it does not come out.
        """
        piece = self.piece
        if piece is None:
            return
        ident = piece.id
        self._cut(f"{row.count} plates", lambda p: with_plates(p, ident, row))

    # Choosing

    def choose_at(self, at: Point, reach: float) -> None:
        """Choose what lies nearest to a place, or nothing."""
        piece = self.piece
        if piece is None:
            return
        found: list[tuple[float, Chosen]] = []
        for k, line in enumerate(piece.lines):
            found.append((locate_on_line(line.points, at)[1], Chosen(ThingKind.LINE, k)))
        for k, mark in enumerate(piece.match_marks):
            found.append(
                (float(np.hypot(mark[0] - at[0], mark[1] - at[1])), Chosen(ThingKind.MARK, k))
            )
        for k, label in enumerate(piece.labels):
            away = float(np.hypot(label.at[0] - at[0], label.at[1] - at[1]))
            found.append((away, Chosen(ThingKind.LABEL, k)))
        near = min(found, key=lambda f: f[0], default=None)
        self.chosen = near[1] if near is not None and near[0] <= reach else None

    def what_is_chosen(self) -> str:
        """Return the chosen thing in words, or an empty string."""
        piece, chosen = self.piece, self.chosen
        if piece is None or chosen is None:
            return ""
        if chosen.kind is ThingKind.LINE and chosen.index < len(piece.lines):
            line = piece.lines[chosen.index]
            length = show_number(line_length(line.points), 1)
            return f"{dict(LINES)[line.kind].lower()}, {length} mm"
        if chosen.kind is ThingKind.MARK and chosen.index < len(piece.match_marks):
            return "match mark"
        if chosen.kind is ThingKind.LABEL and chosen.index < len(piece.labels):
            return f"the text “{piece.labels[chosen.index].text}”"
        return ""

    def delete_chosen(self) -> None:
        """Take the chosen thing off the piece."""
        what, chosen = self.what_is_chosen(), self.chosen
        if not what or chosen is None:
            return
        field = {"line": "lines", "mark": "match_marks", "label": "labels"}[chosen.kind]

        def without(piece: Piece) -> Piece:
            things = list(getattr(piece, field))
            del things[chosen.index]
            return replace(piece, **{field: tuple(things)})  # type: ignore[arg-type]

        self._change(f"Delete {what}", without)
        self.chosen = None

    # Cutting it open

    def part(self) -> None:
        """Part the piece along the drawn line, with a seam.

        Raises:
            InputError: the line does not part it in two.
        """
        line, ident = self._line(), self.piece_id
        self._cut("Split", lambda p: part_piece(p, ident, line))

    def let_in(self, width: str) -> None:
        """Let a strip in along the drawn line.

        Raises:
            InputError: no width, or the line does not cross the piece.
        """
        line, ident = self._line(), self.piece_id
        mm = typed_length(width, where="strip")
        made = let_in(self.session.project, ident, line, mm, neighbours=self.neighbours)
        also = ", ".join(f"{name} by {show_number(w, 1)} mm" for name, w in made.neighbours)
        self._cut(
            f"Let in {show_number(mm, 1)} mm",
            lambda _: made.project,
            f"Wider as well: {also}." if also else "",
        )

    def dart(self, width: str) -> None:
        """Cut a dart whose mouth is at the drawn line's start and whose tip is at its end.

        Raises:
            InputError: no width, or no room for it.
        """
        line, ident = self._line(), self.piece_id
        mm = typed_length(width, where="dart")
        self._cut(
            f"Dart of {show_number(mm, 1)} mm", lambda p: add_dart(p, ident, line.a, line.b, mm)
        )

    def take_in(self, width: str) -> None:
        """Take a width out at the drawn line's start, folded away about its end.

        Raises:
            InputError: no width, or the line does not run from edge to edge.
        """
        line, ident = self._line(), self.piece_id
        mm = typed_length(width, where="take in")
        self._cut(
            f"Take in {show_number(mm, 1)} mm",
            lambda p: put_pieces(p, [taken_in(p.piece(ident), line.a, line.b, mm)]),
        )

    def _line(self) -> CutLine:
        if self.pending is None or self.piece is None:
            raise InputError("line", "none is drawn", "a line dragged across the piece")
        return CutLine(*self.pending)

    def _cut(self, label: str, edit: Callable[[Project], Project], also: str = "") -> None:
        piece = self.piece
        assert piece is not None
        before = self.session.project
        self.session.edit(f"{label}: {piece.name}", edit)
        self.pending = self.chosen = None
        told = told_of_seams(before, self.session.project)
        said = [w for w in (also, told) if w] or [f"{label} done."]
        self.session.tell(" ".join(said), "heat" if told and not also else "good")

    def _change(self, label: str, change: Callable[[Piece], Piece]) -> None:
        piece = self.piece
        if piece is not None:
            self.session.edit(
                f"{label}: {piece.name}", lambda p: put_pieces(p, [change(p.piece(piece.id))])
            )

    # The tracing rule

    def set_rule(self, rule: TraceRule | None) -> None:
        """Trace and trim this piece by a rule of its own, or by the project's."""
        self._change("Tracing", lambda p: replace(p, rule=rule))
