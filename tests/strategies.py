"""All random inputs of the property tests, in one place."""

import math
from decimal import Decimal

import numpy as np
from hypothesis import strategies as st

from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, RollSpec, SheetSpec
from ivory_quilt.core.pattern.build import (
    PLAIN,
    Build,
    Cover,
    CoverKind,
    EdgeProfile,
    Face,
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
from ivory_quilt.core.pattern.edges import edges_by_angle
from ivory_quilt.core.pattern.piece import (
    Crease,
    CutSide,
    FaceUp,
    Hand,
    Label,
    LineKind,
    Piece,
    PieceLine,
    Recipe,
    TraceRule,
    Turn,
)
from ivory_quilt.core.pattern.region import FaceRegion, RegionKind
from ivory_quilt.core.pattern.surface import SurfaceKind, SurfaceWork, WorkFace

DRAWN = [k for k in LineKind if k is not LineKind.OTHER]  # what a maker may draw

angles = st.floats(0, 360, allow_nan=False)
poses = st.builds(
    Pose,
    st.floats(-500, 500, allow_nan=False),
    st.floats(-500, 500, allow_nan=False),
    angles,
    st.booleans(),
)


@st.composite
def shapes(draw, size=100.0, holes=True):
    """A star-shaped simple polygon about the origin, sometimes with a hole."""
    n = draw(st.integers(3, 11))
    radii = [draw(st.floats(0.35, 1.0)) * size / 2 for _ in range(n)]
    points = [
        (r * math.cos(2 * math.pi * k / n), r * math.sin(2 * math.pi * k / n))
        for k, r in enumerate(radii)
    ]
    inner = []
    if holes and n > 4 and draw(st.booleans()):
        r = 0.3 * min(radii) * math.cos(math.pi / n)
        if r > 1:
            inner = [[(r, 0), (0, r), (-r, 0), (0, -r)]]
    return Shape.make(points, inner)


@st.composite
def jobs(draw):
    """A small layout job: sheets of some kinds (one with a bay and a hole), a roll, pieces."""
    gap = draw(st.sampled_from([0.0, 1.0, 3.0]))
    pieces = []
    for k in range(draw(st.integers(1, 5))):
        turn = draw(st.sampled_from([None, (0.0,), (0.0, 90.0, 180.0, 270.0), (0.0, 180.0)]))
        pieces.append(
            PieceSpec(
                f"p{k}",
                draw(shapes(size=draw(st.sampled_from([40.0, 70.0, 120.0])))),
                draw(st.integers(0, 3)),
                turn,
                draw(st.booleans()),
            )
        )
    margin = draw(st.sampled_from([0.0, 2.0, 8.0]))
    bay = Shape.make(
        [(0, 0), (260, 10), (250, 190), (140, 150), (20, 200)],
        [[(60, 60), (90, 60), (90, 90), (60, 90)]],
    )
    many = draw(st.sampled_from([1, 2, None]))
    stock = {
        "plain": SheetSpec("plain", rectangle(300, 200), many, Decimal(5), margin),
        "bay": SheetSpec("bay", bay, 1, Decimal(0), margin),
    }
    sheets = [stock[name] for name in draw(st.sets(st.sampled_from(["plain", "bay"]), min_size=1))]
    rolls = []
    if draw(st.booleans()):
        rolls = [RollSpec("roll", 150.0, 900.0, Decimal("0.02"), margin)]
    return LayJob(tuple(pieces), tuple(sorted(sheets, key=lambda s: s.id)), tuple(rolls), gap)


recipes = st.none() | st.builds(
    Recipe,
    st.sampled_from(["band", "a shape of later"]),
    st.lists(st.tuples(st.sampled_from("abc"), st.text(max_size=5)), unique_by=lambda v: v[0]).map(
        tuple
    ),
    st.text("gh", min_size=1, max_size=3),
    st.integers(0, 5),
)


places = st.tuples(st.floats(-15, 15, width=32), st.floats(-15, 15, width=32))
rules = st.builds(TraceRule, st.floats(0, 2), st.sampled_from(list(CutSide)), st.floats(0, 8))


@st.composite
def lines(draw):
    """A line of any kind inside a piece."""
    points = np.array(draw(st.lists(places, min_size=2, max_size=4)))
    crease = st.builds(Crease, st.floats(-90, 90), st.floats(0, 30), st.floats(0, 2), st.booleans())
    return PieceLine(draw(st.sampled_from(DRAWN)), points, draw(st.none() | crease))


forms = st.one_of(
    st.just(Form()),
    st.builds(
        Form,
        st.just(FormKind.ROLLED),
        st.just(Given.ANGLE),
        st.floats(5, 350),
        axis=st.floats(0, 179),
        face=st.sampled_from(list(Face)),
        beneath=st.floats(0, 20),
    ),
    st.builds(
        Form, st.just(FormKind.CONE), st.just(Given.GIRTH), st.floats(50, 400), st.floats(50, 400)
    ),
    st.builds(Form, st.just(FormKind.DISHED), st.just(Given.HEIGHT), st.floats(1, 60)),
)
profiles = st.builds(Profile, st.sampled_from(list(ProfileKind)), st.floats(0, 70), st.floats(1, 9))
layers = st.builds(
    Layer,
    st.sampled_from([2.0, 6.0]),
    st.sampled_from(["eva", "tile"]),
    st.sampled_from(list(LayerSize)),
    st.floats(0, 9),
    st.sampled_from(["", "q"]),
    st.sampled_from(list(LayerSide)),
    st.booleans(),
    st.booleans(),
)
regions = st.one_of(
    st.just(FaceRegion()),
    st.builds(
        FaceRegion, st.just(RegionKind.EDGE), st.sampled_from(["", "A", "B"]), st.floats(1, 30)
    ),
    st.builds(FaceRegion, st.just(RegionKind.LINE), st.sampled_from("12"), st.floats(1, 9)),
)


@st.composite
def works(draw):
    """Something that is done to a face."""
    kind = draw(st.sampled_from(list(SurfaceKind)))
    along = st.builds(FaceRegion, st.just(RegionKind.LINE), st.sampled_from("12"), st.floats(1, 9))
    return SurfaceWork(
        kind,
        draw(along if kind.along_line else regions),
        draw(st.sampled_from(list(WorkFace))),
        draw(st.floats(0.5, 4)),
        (120, 220) if kind is SurfaceKind.SAND else (),
        draw(st.sampled_from(["eva", "cloth"])) if kind.laid_on else "",
        margin=draw(st.floats(0, 9)),
    )


builds = st.builds(
    Build,
    form=forms,
    edges=st.lists(st.builds(EdgeProfile, st.sampled_from("ABC"), profiles), max_size=2).map(tuple),
    layers=st.lists(layers, max_size=2).map(tuple),
    on_form=st.booleans(),
    split=st.integers(1, 3),
    rod=st.floats(0, 9),
    wrap=st.none() | st.builds(Wrap, st.floats(1, 3)),
    cover=st.none() | st.builds(Cover, st.sampled_from(list(CoverKind))),
    trims=st.lists(
        st.builds(Trim, st.sampled_from("ABC"), st.sampled_from(list(TrimKind))), max_size=2
    ).map(tuple),
    placing=st.none() | st.builds(Placing, st.just("q"), st.floats(0, 1), st.floats(0, 1)),
    sealed=st.booleans(),
    works=st.lists(works(), max_size=3).map(tuple),
)


@st.composite
def pieces(draw, ident="p"):
    """A piece with any decisions a maker could make."""
    shape = draw(shapes())
    return Piece(
        ident,
        draw(st.text("abc äöü-", min_size=1, max_size=12).filter(lambda t: t.strip())),
        shape,
        draw(st.sampled_from(["eva", "tile"])),
        draw(st.sampled_from([2.0, 4.0, 6.0, 12.7])),
        draw(st.integers(0, 5)),
        draw(st.sampled_from(list(Hand))),
        draw(st.sampled_from([Hand.LEFT, Hand.RIGHT])),
        draw(st.sampled_from(list(FaceUp))),
        draw(st.sampled_from(list(Turn))),
        tuple(draw(st.lists(lines(), max_size=2))),
        tuple(draw(st.lists(places, max_size=2))),
        recipe=draw(recipes),
        labels=tuple(
            draw(st.lists(st.builds(Label, st.text("ab 2", max_size=4), places), max_size=2))
        ),
        edges=draw(st.sampled_from([(), edges_by_angle(shape)])),
        rule=draw(st.none() | rules),
        build=draw(st.just(PLAIN) | builds),
    )
