"""The JSON shape of a project, where it is not the document's own (schema: docs/formats.md)."""

from typing import Literal

import msgspec

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.formup.choices import GroupForm
from ivory_quilt.core.geometry.curve_path import CurvePath
from ivory_quilt.core.measure.fit_check import FitCheck
from ivory_quilt.core.measure.parts_around import PartsAround
from ivory_quilt.core.measure.study import Study
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.build import (
    Cover,
    Form,
    Layer,
    Placing,
    ProfileKind,
    Trim,
    Wrap,
)
from ivory_quilt.core.pattern.fixing import Fixing
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import (
    Edge,
    FaceUp,
    Hand,
    Label,
    PieceLine,
    Source,
    TraceRule,
    Turn,
    Wanted,
)
from ivory_quilt.core.pattern.seams import Seam
from ivory_quilt.core.pattern.sewing import Sewing
from ivory_quilt.core.pattern.spares import NO_SPARES, SpareRule
from ivory_quilt.core.pattern.surface import SurfaceWork
from ivory_quilt.core.pattern.thing import Thing
from ivory_quilt.core.schedule.bench_choices import USUAL_CHOICES, BenchChoices
from ivory_quilt.files.spent_wire import SpentSheetWire
from ivory_quilt.files.wire import Pair, Ring


class RecipeWire(msgspec.Struct):
    """The numbers that a piece was made from, as typed."""

    maker: str
    values: dict[str, str]
    group: str
    index: int = 0


class ProfileWire(msgspec.Struct):
    """How a named edge is cut."""

    edge: str
    kind: ProfileKind
    angle: float = 45.0
    width: float = 0.0


class BuildWire(msgspec.Struct):
    """How a piece is formed, edged and stacked."""

    form: Form = msgspec.field(default_factory=Form)
    edges: tuple[ProfileWire, ...] = ()
    layers: tuple[Layer, ...] = ()
    on_form: bool = True
    split: int = 1
    rod: float = 0.0
    wrap: Wrap | None = None
    cover: Cover | None = None
    trims: tuple[Trim, ...] = ()
    placing: Placing | None = None
    sealed: bool = False
    works: tuple[SurfaceWork, ...] = ()
    sewing: Sewing | None = None


class PieceWire(msgspec.Struct):
    """A piece of a project."""

    id: str
    name: str
    outline: Ring
    holes: list[Ring] = []
    material: str = "eva"
    thickness: float = 6.0
    count: int = 1
    hand: Hand = Hand.NONE
    drawn_hand: Hand = Hand.LEFT
    face: FaceUp = FaceUp.SKIN
    turn: Turn = Turn.QUARTERS
    lines: tuple[PieceLine, ...] = ()
    match_marks: tuple[Pair, ...] = ()
    source: Source = msgspec.field(default_factory=Source)
    recipe: RecipeWire | None = None
    labels: tuple[Label, ...] = ()
    edges: tuple[Edge, ...] = ()
    rule: TraceRule | None = None
    build: BuildWire | None = None
    wanted: Wanted = Wanted.USUAL
    spares: int | None = None
    curves: tuple[CurvePath, ...] = ()


class VersionWire(msgspec.Struct):
    """Pieces as they once were."""

    id: str
    name: str
    pieces: list[PieceWire]
    when: str = ""
    note: str = ""


class PlacementWire(msgspec.Struct):
    """One copy on one sheet: mirror, rotate, translate, in this order."""

    piece: str
    copy: int
    sheet: str
    sheet_copy: int
    mirrored: bool
    rotation: float
    translation: Pair


class LayoutWire(msgspec.Struct):
    """A layout that the maker keeps."""

    material: str
    thickness: float
    placements: list[PlacementWire]
    pins: list[tuple[str, int]] = []


class ProjectWire(msgspec.Struct):
    """A whole project file."""

    format: Literal["ivory-quilt/project"]
    version: int
    name: str
    pieces: list[PieceWire]
    gap: float = 2.0
    paper: Paper = Paper.A4
    layouts: list[LayoutWire] = []
    wearers: tuple[Wearer, ...] = ()
    seams: tuple[Seam, ...] = ()
    ease: float = 2.0
    rule: TraceRule = msgspec.field(default_factory=TraceRule)
    halves: bool = False
    studies: tuple[Study, ...] = ()
    troupe: tuple[Member, ...] = ()
    things: tuple[Thing, ...] = ()
    spares: SpareRule = NO_SPARES
    spent: list[SpentSheetWire] = []
    bench: BenchChoices = USUAL_CHOICES
    fixings: tuple[Fixing, ...] = ()
    checks: tuple[FitCheck, ...] = ()
    paint: tuple[PaintArea, ...] = ()
    forms: tuple[GroupForm, ...] = ()
    girths: tuple[PartsAround, ...] = ()
    versions: list[VersionWire] = []
