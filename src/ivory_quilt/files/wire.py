"""The JSON shapes of our own files, as typed records; docs/formats.md publishes their schema.

`msgspec` decodes and refuses with the field's path; numbers, enums and lengths that make no sense
in the trade are refused by the core when it takes them over.
"""

from decimal import Decimal
from typing import Any, Literal, TypeVar

import msgspec

from ivory_quilt.core.errors import InputError

T = TypeVar("T")
Pair = tuple[float, float]
Ring = list[Pair]


class SourceWire(msgspec.Struct, omit_defaults=True):
    """Where a piece came from."""

    file: str = ""
    layer: str = ""
    page: int = 1


class CreaseWire(msgspec.Struct):
    """What is done along a line, mm and degrees."""

    angle: float = 90.0
    radius: float = 0.0
    skin: float = 1.0
    front: bool = False
    folds: bool = True


class LineWire(msgspec.Struct):
    """An open line inside a piece."""

    kind: Literal["score", "fold", "undercut", "mark", "centre", "grain"]
    points: Ring
    crease: CreaseWire | None = None


class LabelWire(msgspec.Struct):
    """Words on a piece."""

    text: str
    at: Pair


class EdgeWire(msgspec.Struct):
    """A named stretch of the outline, counter-clockwise."""

    name: str
    start: Pair
    stop: Pair


class TraceRuleWire(msgspec.Struct):
    """How a template gets onto the foam, mm."""

    pen: float = 0.0
    side: Literal["inside", "middle", "outside"] = "inside"
    trim: float = 0.0


class RecipeWire(msgspec.Struct):
    """The numbers that a piece was made from, as typed."""

    maker: str
    values: dict[str, str]
    group: str
    index: int = 0


class FormWire(msgspec.Struct):
    """How a piece is shaped, mm and degrees."""

    kind: Literal["flat", "rolled", "cone", "bent", "dished", "free"] = "flat"
    given: Literal["radius", "angle", "girth", "height"] = "radius"
    value: float = 0.0
    second: float = 0.0
    axis: float = 90.0
    face: Literal["inner", "middle", "outer"] = "inner"
    beneath: float = 0.0


class ProfileWire(msgspec.Struct):
    """How a named edge is cut."""

    edge: str
    kind: Literal["square", "in", "out", "blade", "round", "lap", "meet"]
    angle: float = 45.0
    width: float = 0.0


class LayerWire(msgspec.Struct):
    """A layer glued onto a piece."""

    thickness: float
    material: str = "eva"
    size: Literal["same", "inset", "stepped", "oversize", "piece"] = "same"
    by: float = 0.0
    other: str = ""
    side: Literal["outer", "inner", "both"] = "outer"
    together: bool = False
    hidden: bool = False


class WrapWire(msgspec.Struct):
    """A strip around the edge."""

    thickness: float = 2.0
    material: str = "eva"
    stretch: float = 2.5
    overhang: float = 0.0


class CoverWire(msgspec.Struct):
    """A cover over both faces."""

    kind: Literal["sandwich", "cloth"] = "sandwich"
    thickness: float = 1.0
    material: str = "thermoplastic"
    margin: float = 10.0


class TrimWire(msgspec.Struct):
    """A shaped length along an edge."""

    edge: str
    kind: Literal["round dowel", "square dowel", "half-round", "bevel strip"] = "half-round"
    size: float = 10.0
    halved: bool = False
    trenched: bool = False


class PlacingWire(msgspec.Struct):
    """Where a piece is glued onto a base, as shares of the base's box."""

    base: str
    across: float = 0.5
    up: float = 0.5
    turn: float = 0.0


class BuildWire(msgspec.Struct, omit_defaults=True):
    """How a piece is formed, edged and stacked."""

    form: FormWire = msgspec.field(default_factory=FormWire)
    edges: list[ProfileWire] = []
    layers: list[LayerWire] = []
    on_form: bool = True
    split: int = 1
    rod: float = 0.0
    wrap: WrapWire | None = None
    cover: CoverWire | None = None
    trims: list[TrimWire] = []
    placing: PlacingWire | None = None
    sealed: bool = False


class PieceWire(msgspec.Struct):
    """A piece of a project."""

    id: str
    name: str
    outline: Ring
    holes: list[Ring] = []
    material: str = "eva"
    thickness: float = 6.0
    count: int = 1
    hand: Literal["none", "left", "right", "pair"] = "none"
    drawn_hand: Literal["left", "right"] = "left"
    face: Literal["either", "skin", "textured"] = "skin"
    turn: Literal["free", "quarters", "direction"] = "quarters"
    lines: list[LineWire] = []
    match_marks: list[Pair] = []
    source: SourceWire = msgspec.field(default_factory=SourceWire)
    recipe: RecipeWire | None = None
    labels: list[LabelWire] = []
    edges: list[EdgeWire] = []
    rule: TraceRuleWire | None = None
    build: BuildWire | None = None


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


class MeasureWire(msgspec.Struct, omit_defaults=True):
    """One measure of one wearer, mm."""

    spot: str
    value: float
    uncertainty: float = 5.0
    date: str = ""
    method: str = ""


class WearerWire(msgspec.Struct):
    """One person of a troupe."""

    id: str
    name: str
    measures: list[MeasureWire] = []


class EdgeRefWire(msgspec.Struct):
    """An edge of a piece."""

    piece: str
    edge: str


class SeamWire(msgspec.Struct):
    """Two edges that are glued together."""

    first: EdgeRefWire
    second: EdgeRefWire
    turned: bool = False
    dihedral: float = 180.0
    joint: Literal["mitre", "butt"] = "mitre"


class PicturedWire(msgspec.Struct):
    """A line laid over a picture: pixels from its upper left corner, y downwards."""

    name: str
    start: Pair
    stop: Pair


class StudyWire(msgspec.Struct):
    """A reference picture with lines over it; the picture itself stays a file of its own."""

    picture: str
    known: PicturedWire | None = None
    real: float = 0.0
    uncertainty: float = 0.0
    blur: float = 2.0
    lines: list[PicturedWire] = []


class ProjectWire(msgspec.Struct):
    """A whole project file."""

    format: Literal["ivory-quilt/project"]
    version: int
    name: str
    pieces: list[PieceWire]
    gap: float = 2.0
    paper: Literal["A4", "Letter", "A3", "A2", "A1", "A0", "Tabloid"] = "A4"
    layouts: list[LayoutWire] = []
    wearers: list[WearerWire] = []
    seams: list[SeamWire] = []
    ease: float = 2.0
    rule: TraceRuleWire = msgspec.field(default_factory=TraceRuleWire)
    halves: bool = False
    studies: list[StudyWire] = []


class SheetWire(msgspec.Struct):
    """A kind of sheet in a layout job."""

    id: str
    outline: Ring
    holes: list[Ring] = []
    quantity: int | None = 1
    cost: Decimal = Decimal(0)
    margin: float = 0.0
    defects: list[Ring] = []


class RollWire(msgspec.Struct):
    """A roll in a layout job."""

    id: str
    width: float
    max_length: float
    cost_per_mm: Decimal = Decimal(0)
    margin: float = 0.0


class FixedWire(msgspec.Struct):
    """A placement that must stay; the piece is the one it stands in."""

    sheet: str
    translation: Pair
    copy: int = 0
    sheet_copy: int = 0
    mirrored: bool = False
    rotation: float = 0.0


class JobPieceWire(msgspec.Struct):
    """A piece in a layout job."""

    id: str
    outline: Ring
    holes: list[Ring] = []
    quantity: int = 1
    rotations: list[float] | Literal["free"] = msgspec.field(default_factory=lambda: [0.0])
    mirror: bool = False
    fixed: FixedWire | list[FixedWire] | None = None
    group: str | None = None
    hidden: bool = False


class JobWire(msgspec.Struct):
    """A layout job."""

    format: Literal["ivory-quilt/lay-job"]
    version: int
    pieces: list[JobPieceWire]
    sheets: list[SheetWire] = []
    rolls: list[RollWire] = []
    gap: float = 0.0


_TYPES = {
    "Expected": "expected",
    "str": "text",
    "float": "a number",
    "int": "a whole number",
    "array": "a list",
    "object": "an object",
}


def decode(data: bytes, kind: type[T], *, where: str, format_name: str, newest: int) -> T:
    """Decode a JSON file of ours.

    Raises:
        InputError: not JSON, another format, a newer version, or a field that is wrong; the
            message names the field's path.
    """
    try:
        head = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise InputError(where, f"it is not JSON ({error})", f"a {format_name} file") from None
    check_head(head, where, format_name, newest)
    try:
        return msgspec.convert(head, kind, strict=False)
    except (msgspec.ValidationError, RecursionError) as error:
        problem, _, path = str(error).partition(" - at ")
        field = path.strip("`").removeprefix("$.").removeprefix("$") or "the file"
        raise InputError(f"{where}, {field}", _plain(problem), "") from None


def _plain(problem: str) -> str:
    for word, ours in _TYPES.items():
        problem = problem.replace(f"`{word}`", ours)
    return problem[:1].lower() + problem[1:]


def check_head(head: Any, where: str, format_name: str, newest: int) -> None:
    """Refuse another format, and versions newer than this Ivory Quilt knows."""
    if not isinstance(head, dict) or head.get("format") != format_name:
        found = head.get("format") if isinstance(head, dict) else None
        problem = f"its format is {found!r}" if found else "it names no format"
        raise InputError(where, problem, f"'{format_name}'")
    version = head.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError(f"{where}, version", f"{version!r}", f"1 to {newest}")
    if version > newest:
        raise InputError(
            where,
            f"it was written by a newer Ivory Quilt (file version {version}, this one reads up to "
            f"{newest}); nothing was changed",
            "a newer Ivory Quilt to open it",
        )
