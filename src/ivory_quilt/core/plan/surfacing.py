"""What the works on a piece's faces take: minutes, clay, steps before gluing and after the fit.

Minutes and drying times are from memory, common practice, no source; clay dries 8 h where it is
small and 24 h where it is large.
"""

from collections.abc import Iterable

from shapely import LineString

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region_shapes import lines_named, region_on
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork
from ivory_quilt.core.plan.step_list import StepList
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.step import CAUTIONS, StepKind
from ivory_quilt.core.units import counted, show_number

A_START = 2.0  # minutes to begin with one kind of work on a piece
CLAY_SMALL, CLAY_LARGE = 8 * 60, 24 * 60
LARGE_AREA, LARGE_THICK = 5000.0, 6.0  # mm², mm: what of clay is large
FILLER_DRY = 60

STEP_OF = {
    SurfaceKind.BURN: StepKind.BURN,
    SurfaceKind.CARVE: StepKind.CARVE,
    SurfaceKind.HOLLOW: StepKind.CARVE,
    SurfaceKind.TEXTURE: StepKind.TEXTURE,
    SurfaceKind.ROUGHEN: StepKind.ROUGHEN,
    SurfaceKind.CLAY: StepKind.CLAY,
    SurfaceKind.FILL: StepKind.FILL,
    SurfaceKind.SAND: StepKind.SAND,
    SurfaceKind.FOIL: StepKind.COAT,
    SurfaceKind.CLOTH: StepKind.COAT,
    SurfaceKind.DRAW: StepKind.DRAW,
}
A_METRE = {SurfaceKind.BURN: 8.0, SurfaceKind.CARVE: 12.0, SurfaceKind.DRAW: 4.0}
A_SQUARE_METRE = {
    SurfaceKind.TEXTURE: 300.0,
    SurfaceKind.ROUGHEN: 20.0,
    SurfaceKind.HOLLOW: 600.0,
    SurfaceKind.SAND: 60.0,
    SurfaceKind.CLAY: 900.0,
    SurfaceKind.FILL: 240.0,
    SurfaceKind.FOIL: 80.0,
    SurfaceKind.CLOTH: 80.0,
}
FLAT_WORKS = (
    SurfaceKind.HOLLOW,
    SurfaceKind.CARVE,
    SurfaceKind.BURN,
    SurfaceKind.TEXTURE,
    SurfaceKind.ROUGHEN,
)
"""What is done while a piece lies flat, in this order."""
JOINED_WORKS = (SurfaceKind.FILL, SurfaceKind.SAND)
"""What is done once all is joined and the clay is dry; foil and cloth are glued as layers are."""


class WorkAmount(Struct, frozen=True):
    """What one work comes to on one cut piece.

    Attributes:
        metres: of line; 0 for an area.
        area: mm².
        volume: of clay, mm³.
        minutes: of hands, by plain rates.
    """

    metres: float
    area: float
    volume: float
    minutes: float


def work_amount(piece: Piece, work: SurfaceWork) -> WorkAmount:
    """Return what a work comes to on one cut piece."""
    area = float(region_on(piece, work.region).area)
    passes = max(1, len(work.grits)) if work.kind is SurfaceKind.SAND else 1
    if not work.kind.along_line:
        volume = area * work.depth if work.kind is SurfaceKind.CLAY else 0.0
        return WorkAmount(0.0, area, volume, passes * A_SQUARE_METRE[work.kind] * area / 1e6)
    foam = piece.shape.polygon
    lines = [LineString(k.points) for k in lines_named(piece, work.region.of)]
    metres = sum(line.intersection(foam).length for line in lines) / 1000
    return WorkAmount(metres, area, 0.0, metres * A_METRE[work.kind])


def reckon_work(piece: Piece, work: SurfaceWork, suits: int = 1) -> Reckoning:
    """Return what a work comes to on all copies of a piece; figures "area", "volume", "minutes".

    Area in mm², volume in mm³.
    """
    one, many = work_amount(piece, work), piece.cut_count * suits
    steps = []
    if work.kind.along_line:
        rate = A_METRE[work.kind]
        steps.append(Step("line within the piece", "its length", one.metres * 1000, "mm"))
        said = f"{one.metres:.3f} m × {rate:g} min × {many}"
    else:
        rate = A_SQUARE_METRE[work.kind]
        steps.append(Step("place", work.region.words, one.area, "mm²"))
        passes = f" × {counted(len(work.grits), 'grit')}" if work.kind is SurfaceKind.SAND else ""
        said = f"{one.area / 1e6:.5f} m² × {rate:g} min{passes} × {many}"
    if one.volume:
        volume = f"{one.area:.0f} mm² × {work.depth:g} mm × {many} ÷ 1000"
        steps.append(Step("clay", volume, one.volume * many / 1000, "mL"))
    steps.append(Step("hands", said, one.minutes * many, "min"))
    caution = CAUTIONS.get(STEP_OF[work.kind], "")
    return Reckoning(
        f"surface, {work.kind.value}",
        {"depth": work.depth, "parts": float(many)},
        {
            "area": one.area * many,
            "volume": one.volume * many,
            "minutes": one.minutes * many,
        },
        tuple(steps),
        "rates from memory, common practice, no source",
        (caution,) if caution else (),
    )


def total_of(project: Project, kind: SurfaceKind, suits: int) -> tuple[float, float]:
    """Return (area, volume) of one kind of work on all pieces, mm² and mm³."""
    area = volume = 0.0
    for piece in project.pieces:
        for work in piece.build.works:
            if work.kind is kind:
                one, many = work_amount(piece, work), piece.cut_count * suits
                area += one.area * many
                volume += one.volume * many
    return area, volume


def _dries(piece: Piece, work: SurfaceWork) -> int:
    """Return how long a work dries before what follows, minutes."""
    if work.kind is SurfaceKind.CLAY:
        large = work_amount(piece, work).area > LARGE_AREA or work.depth > LARGE_THICK
        return CLAY_LARGE if large else CLAY_SMALL
    return FILLER_DRY if work.kind is SurfaceKind.FILL else 0


def add_works(
    made: StepList,
    pieces: Iterable[Piece],
    kinds: Iterable[SurfaceKind],
    suits: int,
    before: list[str],
    name: str,
    wait: int = 0,
) -> tuple[list[str], int]:
    """Add the works of some kinds on pieces that are worked together, kind by kind.

    Args:
        made: gets the steps.
        pieces: that are worked.
        kinds: in the order in which they are done.
        suits: how many are made.
        before: steps that come before.
        name: of the pieces, in words.
        wait: minutes that the steps before dry.

    Returns:
        (the last steps, how long they dry): as they came, where there is nothing to do.
    """
    here = tuple(pieces)
    for kind in kinds:
        found = [(p, w) for p in here for w in p.build.works if w.kind is kind]
        if not found:
            continue
        ids = tuple(dict.fromkeys(p.id for p, _ in found))
        minutes = sum(A_START + work_amount(p, w).minutes * p.cut_count * suits for p, w in found)
        grits = sorted({g for _, w in found for g in w.grits})
        for nth, grit in enumerate(grits or (0,)):
            ident = f"{kind.name.lower()}{nth + 1 if grit else ''}:{ids[0]}"
            said = [name] if grit else [name, *dict.fromkeys(w.note for _, w in found if w.note)]
            title = f"{', '.join(said)}{f', {grit} grit' if grit else ''}"
            if kind is SurfaceKind.HOLLOW:
                title = f"{name}, hollow"
            share = minutes / max(1, len(grits))
            step = made.add(ident, STEP_OF[kind], title, share, ids, after=before, least=wait)
            before, wait = [step], 0
        wait = max(_dries(p, w) for p, w in found)
    return before, wait


def work_figure(piece: Piece, work: SurfaceWork) -> str:
    """Return what a work comes to on one piece, in a few words."""
    one = work_amount(piece, work)
    if work.kind.along_line:
        return f"{show_number(one.metres * 1000, 0)} mm"
    if one.volume:
        return f"{show_number(one.volume / 1000, 1)} mL"
    return f"{show_number(one.area / 100, 1)} cm²"
