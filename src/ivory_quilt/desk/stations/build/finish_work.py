"""Finish in Build, without a widget: the works on the piece's faces, the one in hand, its tones."""

from collections.abc import Callable
from typing import TYPE_CHECKING, NamedTuple

from shapely import Point
from shapely.geometry.base import BaseGeometry

from ivory_quilt.core.document.benchwork import set_paint
from ivory_quilt.core.document.finishing import (
    Works,
    give_tones,
    places_of,
    set_line_kind,
    set_works,
)
from ivory_quilt.core.document.project import Project, free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import locate_on_line
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import LineKind, Piece
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.region_shapes import lines_named, region_on, share_on
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.plan.surfacing import reckon_work
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import stack_thickness
from ivory_quilt.core.stacks.section import Section
from ivory_quilt.core.stacks.walls import Wall, walls_of
from ivory_quilt.core.stacks.work_section import work_section

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.build.presenter import BuildPresenter

Areas = tuple[PaintArea, ...]
WIDTH = 10.0  # mm of a strip that is first offered
LINE_WIDTH = 2.0  # mm of a line
FIRST_DEPTH = {
    SurfaceKind.BURN: 1.0,
    SurfaceKind.CARVE: 2.0,
    SurfaceKind.TEXTURE: 0.5,
    SurfaceKind.HOLLOW: 2.0,
    SurfaceKind.CLAY: 4.0,
}
"""mm that a work starts with; our choice."""
GRITS = (120, 220, 320)
NEAR = 12.0  # mm from a line at which a click means it


class FinishShown(NamedTuple):
    """What the flat piece shows: its tones with their colours, its works, the one in hand."""

    tones: tuple[tuple[BaseGeometry, str], ...]
    works: tuple[BaseGeometry, ...]
    hand: BaseGeometry | None


class FinishWork:
    """The works and tones of the piece under work."""

    def __init__(self, presenter: "BuildPresenter") -> None:
        """Work on what `presenter` has in hand."""
        self._p = presenter
        self.chosen: int | None = None

    def forget(self) -> None:
        """Let go of the work in hand: another piece is opened."""
        self.chosen = None

    @property
    def piece(self) -> Piece | None:
        """The piece under work, as it is shown."""
        return self._p.shown if self._p.piece is not None else None

    @property
    def works(self) -> Works:
        """What is done to the piece's faces."""
        return self._p.shown.build.works if self._p.piece is not None else ()

    @property
    def work(self) -> SurfaceWork | None:
        """The work in hand, or None."""
        works = self.works
        if self.chosen is None and works:
            self.chosen = 0
        return works[self.chosen] if self.chosen is not None and self.chosen < len(works) else None

    def places(self) -> tuple[tuple[FaceRegion, str], ...]:
        """Return where on the piece something may be done."""
        piece = self._p.piece
        return places_of(piece, WIDTH) if piece is not None else ()

    def walls(self) -> tuple[Wall, ...]:
        """Return the foam that is left, the thinnest first."""
        piece = self._p.piece
        return walls_of(piece) if piece is not None else ()

    def wall(self) -> Wall | None:
        """Return the least foam left at the work in hand; None where none is taken off."""
        return next((w for w in self.walls() if any(d.work == self.chosen for d in w.dents)), None)

    def reckoned(self, work: SurfaceWork) -> Reckoning:
        """Return what a work comes to on all copies of the piece."""
        return reckon_work(self._p.shown, work, self._p.session.plan.suit_count)

    def section(self) -> Section | None:
        """Return the section through the work in hand."""
        if self.work is None or self.chosen is None:
            return None
        return work_section(self._p.shown, self.chosen)

    # Editing

    def _change(self, what: str, change: Callable[[Works], Works]) -> None:
        piece = self._p.piece
        if piece is None:
            return
        ids = self._p.group or (piece.id,)
        name = f"{piece.name} and {len(ids) - 1} more" if len(ids) > 1 else piece.name
        self._p.session.edit(f"{what}: {name}", lambda p: set_works(p, ids, change))

    def add(self, kind: SurfaceKind, region: FaceRegion) -> None:
        """Add a work, with the sizes that it starts with.

        Raises:
            InputError: it cannot be done there.
        """
        piece = self._p.piece
        if piece is None:
            return
        if kind.along_line and region.on is RegionKind.LINE:
            region = replace(region, width=LINE_WIDTH)
        depth = min(FIRST_DEPTH.get(kind, 0.0), 0.5 * stack_thickness(piece))
        if kind is SurfaceKind.CLAY:
            depth = FIRST_DEPTH[kind]
        grits = GRITS if kind is SurfaceKind.SAND else ()
        material = kind.value if kind.laid_on else ""
        made = SurfaceWork(kind, region, depth=depth, grits=grits, material=material)
        self._change(f"Add {kind.value}", lambda works: (*works, made))
        self.chosen = len(self.works) - 1

    def put(self, number: int, work: SurfaceWork) -> None:
        """Put a work in the place of one.

        Raises:
            InputError: it cannot be done there.
        """
        self._change(
            f"{work.kind.value.capitalize()}", lambda w: (*w[:number], work, *w[number + 1 :])
        )

    def remove(self, number: int) -> None:
        """Take a work out."""
        self._change("Remove work", lambda works: (*works[:number], *works[number + 1 :]))
        self.chosen = None

    def cut_line(self, region: FaceRegion, kind: LineKind) -> None:
        """Let a knife follow a line: a score, a slit, or nothing but a mark.

        Raises:
            InputError: the place is no line.
        """
        piece = self._p.piece
        if piece is None:
            return
        if region.on is not RegionKind.LINE:
            raise InputError(kind.value, region.words, "a line")
        what = f"{kind.value.capitalize()}: {piece.name}"
        self._p.session.edit(what, lambda p: set_line_kind(p, piece.id, region.of, kind))

    def click(self, point: tuple[float, float]) -> None:
        """Take the work at a place in hand: a line near it first, else the last area over it."""
        piece = self._p.piece
        if piece is None:
            return
        best: tuple[float, int] | None = None
        for number, work in enumerate(self.works):
            if work.kind.along_line:
                lines = lines_named(piece, work.region.of)
                away = min((locate_on_line(k.points, point)[1] for k in lines), default=NEAR)
                if away < NEAR and (best is None or away < best[0]):
                    best = (away, number)
        if best is not None:
            self.chosen = best[1]
            return
        spot = Point(point)
        for number in range(len(self.works) - 1, -1, -1):
            if region_on(piece, self.works[number].region).covers(spot):
                self.chosen = number
                return

    # Tones

    def tones(self) -> tuple[PaintArea, ...]:
        """Return the tones on the piece, in the order in which they are painted."""
        return tuple(a for a in self._p.session.project.paint if a.covers(self._p.piece_id))

    def painted(self) -> Areas:
        """Return the tones on the piece that can be shown: whose colour and place are known."""
        return tuple(a for a in self.tones() if a.shows)

    def shown(self, *, with_works: bool) -> FinishShown:
        """Return what the flat piece shows: its tones, and its works where they are in hand."""
        piece, works = self._p.shown, self.works if with_works else ()
        cut = self._p.cuts[0] if self._p.cuts else None
        at = replace(cut.piece, shape=cut.outer) if cut is not None else piece
        hand = self.work if with_works else None
        others = tuple(
            region_on(at, w.region)
            for w in works
            if w is not hand and w.face is WorkFace.OUTER and w.region.on is not RegionKind.WHOLE
        )
        return FinishShown(
            tuple((region_on(at, a.region), a.colour) for a in self.painted()),
            others,
            region_on(at, hand.region) if hand is not None else None,
        )

    def covered(self, area: PaintArea) -> float:
        """Return what a tone covers of one piece, mm²."""
        piece: Piece = self._p.shown
        return share_on(piece, area) * piece.shape.area

    def _set_paint(self, what: str, change: Callable[[Areas], Areas]) -> None:
        name = self._p.shown.name

        def edited(project: Project) -> Project:
            return set_paint(project, change(project.paint))

        self._p.session.edit(f"{what}: {name}", edited)

    def fresh_tone(self, tone: str) -> PaintArea:
        """Return one more tone for the piece; of a known name it has its colour and mix.

        Raises:
            InputError: the tone has no name.
        """
        known = self._p.session.project.paint
        ids = self._p.group or (self._p.piece_id,)
        alike = next((a for a in known if a.tone == tone), None)
        colour = alike.colour if alike is not None else ""
        mix = alike.mix if alike is not None else ""
        ident = free_name("tone", {a.id for a in known})
        return PaintArea(ident, tone, pieces=ids, colour=colour, mix=mix)

    def put_tone(self, area: PaintArea) -> None:
        """Change a tone wherever it is painted, or add one.

        Raises:
            InputError: it makes no sense.
        """

        def put(areas: Areas) -> Areas:
            if all(a.id != area.id for a in areas):
                return (*areas, area)
            return tuple(area if a.id == area.id else a for a in areas)

        self._set_paint("Tone", put)

    def remove_tone(self, area: PaintArea) -> None:
        """Take a tone off this piece; it stays on others."""
        here = self._p.piece_id
        every = tuple(p.id for p in self._p.session.project.pieces)

        def less(areas: Areas) -> Areas:
            left = tuple(p for p in (area.pieces or every) if p != here)
            return tuple(
                replace(a, pieces=left) if a.id == area.id else a
                for a in areas
                if a.id != area.id or left
            )

        self._set_paint("Remove tone", less)

    def give(self, others: tuple[str, ...]) -> int:
        """Give the piece's tones to other pieces as well; return to how many."""
        mine = self._p.piece_id
        more = tuple(i for i in others if i != mine)
        if more:
            what = f"Give the tones of {self._p.shown.name}"
            self._p.session.edit(what, lambda p: give_tones(p, mine, more))
        return len(more)
