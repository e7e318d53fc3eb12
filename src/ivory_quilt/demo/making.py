"""How the demo suit is formed, edged and stacked; invented, as everything in the demo."""

import numpy as np

from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    EdgeProfile,
    Form,
    FormKind,
    Given,
    Layer,
    LayerSide,
    LayerSize,
    Placing,
    Profile,
    ProfileKind,
    Trim,
    TrimKind,
    Wrap,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Crease, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace
from ivory_quilt.core.record import replace

BODY, FOREARM_LOW, FOREARM_HIGH = 140.0, 245.0, 335.0  # mm: a radius, two girths over the lacing
SHIN_LOW, SHIN_HIGH = 272.0, 388.0


def _rolled(radius: float, beneath: float = 3.0) -> Form:
    return Form(FormKind.ROLLED, Given.RADIUS, radius, beneath=beneath)


def _edged(*edges: tuple[str, Profile]) -> tuple[EdgeProfile, ...]:
    return tuple(EdgeProfile(e, p) for e, p in edges)


MEET = Profile(ProfileKind.MEET)
CAP = Form(FormKind.DISHED, Given.RADIUS, 95.0, beneath=3.0)
PAD = Profile(ProfileKind.IN, 40.0)

SEEN_EDGE = FaceRegion(RegionKind.EDGE, "A", 22.0)
WING_WORKS = (
    SurfaceWork(SurfaceKind.TEXTURE, SEEN_EDGE, depth=0.6, note="bark"),
    SurfaceWork(SurfaceKind.HOLLOW, FaceRegion(RegionKind.EDGE, "B", 30.0), WorkFace.INNER, 2.5),
    SurfaceWork(SurfaceKind.CLAY, FaceRegion(RegionKind.EDGE, "A", 9.0), depth=3.0, note="a bead"),
    SurfaceWork(SurfaceKind.SAND, grits=(120, 240)),
    *(
        SurfaceWork(SurfaceKind.DRAW, FaceRegion(RegionKind.LINE, str(k), 1.5), note="veins")
        for k in (1, 2, 3)
    ),
)
BUILDS: dict[str, Build] = {
    "wing-case": Build(edges=_edged(("B", MEET)), works=WING_WORKS),
    **{f"belly-band-{k}": Build(form=_rolled(BODY)) for k in range(1, 6)},
    "belt-backing": Build(form=_rolled(BODY)),
    **{f"shoulder-cap-{k}": Build(form=CAP) for k in ("crown", "front", "back")},
    "shoulder-lame": Build(form=_rolled(70.0), layers=(Layer(2.0, size=LayerSize.INSET, by=8.0),)),
    "forearm-cuff": Build(
        form=Form(FormKind.CONE, Given.GIRTH, FOREARM_LOW, FOREARM_HIGH, beneath=2.0)
    ),
    "shin-cuff": Build(form=Form(FormKind.CONE, Given.GIRTH, SHIN_LOW, SHIN_HIGH, beneath=2.0)),
    "forearm-lame": Build(placing=Placing("forearm-cuff", 0.5, 0.55)),
    "elbow-cup": Build(form=Form(FormKind.DISHED, Given.HEIGHT, 24.0)),
    "knee-cup": Build(form=Form(FormKind.DISHED, Given.HEIGHT, 40.0)),
    "thigh-plate": Build(form=_rolled(96.0)),
    "mandible-root": Build(edges=_edged(("A", PAD))),
    "lantern-boss": Build(edges=_edged(*((e, PAD) for e in "ABCD"))),
    "collar-front": Build(cover=Cover(CoverKind.CLOTH, 1.0, "cloth", 14.0)),
    "collar-back": Build(trims=(Trim("A", TrimKind.HALF, 10.0),)),
    "crest-base": Build(wrap=Wrap(2.0, "eva", 2.5, 3.0)),
    "hand-plate": Build(cover=Cover(CoverKind.SANDWICH, 1.0, "thermoplastic", 8.0)),
    "horn-spine": Build(
        layers=tuple(
            Layer(t, size=LayerSize.STEPPED, by=by, side=LayerSide.BOTH, together=True)
            for t, by in ((6.0, 4.0), (4.0, 4.0), (4.0, 3.0), (2.0, 3.0))
        ),
    ),
    "pole-blade": Build(
        layers=(Layer(6.0, together=True),),
        edges=_edged(*((e, Profile(ProfileKind.BLADE, width=20.0)) for e in "BC")),
        rod=8.0,
        wrap=None,
    ),
}

CREASES: dict[str, tuple[LineKind, tuple[tuple[float, float], ...], Crease]] = {
    "dorsal-ridge": (LineKind.UNDERCUT, ((23.0, 1.0), (29.3, 215.0)), Crease(70.0, skin=2.5)),
    "shin-ridge": (LineKind.UNDERCUT, ((17.0, 1.0), (23.8, 148.0)), Crease(60.0, skin=2.0)),
}


def with_making(piece: Piece) -> Piece:
    """Return a piece of the suit with what was decided about its making."""
    build = BUILDS.get(piece.id)
    if build is not None:
        edges = edges_of(piece) if build.edges or build.trims else piece.edges
        piece = replace(piece, build=build, edges=edges)
    if piece.id in CREASES:
        kind, points, crease = CREASES[piece.id]
        line = PieceLine(kind, np.array(points), crease)
        piece = replace(piece, lines=(*piece.lines, line))
    return piece
