"""Line ornaments brought from a drawing onto the piece that is drafted, without a widget."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from ivory_quilt.core.document.finishing import set_works
from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.editing.motif import Motif, MotifRun, motif_of, with_motif, with_motif_run
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork
from ivory_quilt.core.units import counted
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import Background
from ivory_quilt.files.atomic import read_bytes, shown_name


def load(path: Path) -> Motif:
    """Return the strokes of a drawing; may run anywhere.

    Raises:
        InputError: it is no drawing that can be read, or it has no strokes.
    """
    from ivory_quilt.files.svg_read import svg_strokes  # it loads the drawing library

    name = shown_name(path.name)
    if path.suffix.lower() != ".svg":
        raise InputError(name, "it is no SVG drawing", "an .svg file")
    return motif_of(svg_strokes(read_bytes(path), name), name)


class MotifPresenter:
    """The motif that was opened, and putting it onto the piece."""

    def __init__(
        self,
        session: Session,
        piece: Callable[[], Piece | None],
        reader: Callable[[], Background],
    ) -> None:
        """Edit `session`'s project; drawings are read on what `reader` returns."""
        self._session, self._piece, self._reader = session, piece, reader
        self.motif: Motif | None = None
        self.name = ""

    def open(self, path: Path, then: Callable[[str], None]) -> None:
        """Read a drawing; tell `then` what was wrong."""

        def have(found: Motif | None, error: Exception | None) -> None:
            if error is not None and not isinstance(error, InputError):
                raise error
            if found is not None:
                self.motif, self.name = found, shown_name(path.name)
            then(str(error) if error is not None else "")

        self._reader()(partial(load, path), have)

    def add_once(self, width: float, turn: float, groove: tuple[float, float]) -> None:
        """Put the motif onto the middle of the piece.

        `groove` is how wide and how deep it is carved, mm; no depth: only drawn.

        Raises:
            InputError: a size that is none.
        """
        piece, motif = self._ready()
        at = piece.shape.label_point
        self._put(with_motif(piece, motif, at, width, turn), groove)

    def add_run(self, run: MotifRun, groove: tuple[float, float]) -> None:
        """Put a run of the motif along an edge or a line; `groove` as with one alone.

        Raises:
            InputError: there is no room for it.
        """
        piece, motif = self._ready()
        self._put(with_motif_run(piece, motif, run), groove)

    def _ready(self) -> tuple[Piece, Motif]:
        piece = self._piece()
        if piece is None or self.motif is None:
            raise InputError("motif", "no drawing is open", "an SVG file with lines")
        return piece, self.motif

    def _put(self, made: Piece, groove: tuple[float, float]) -> None:
        wide, deep = groove
        name = made.lines[-1].name
        many = sum(k.name == name for k in made.lines)

        def edited(project: Project) -> Project:
            project = put_pieces(project, [made])
            if not deep:
                return project
            region = FaceRegion(RegionKind.LINE, name, wide)
            work = SurfaceWork(SurfaceKind.CARVE, region, depth=deep)
            return set_works(project, [made.id], lambda works: (*works, work))

        self._session.edit(f"Line ornament: {made.name}", edited)
        carved = f", carved {wide:g} × {deep:g} mm" if deep else ""
        self._session.tell(f"{counted(many, 'stroke')} as line {name}{carved}.", "good")
