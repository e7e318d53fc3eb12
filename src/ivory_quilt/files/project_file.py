"""Projects on disk: ``.ivq``, one readable JSON file (docs/formats.md)."""

from pathlib import Path
from typing import Any, cast

import msgspec

from ivory_quilt.core.document.project import KeptLayout, Paper, Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Pose, Shape, ring
from ivory_quilt.core.measure.study import Pictured, Study
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import (
    CutSide,
    Edge,
    FaceUp,
    Hand,
    Label,
    LineKind,
    Piece,
    PieceLine,
    Recipe,
    Source,
    TraceRule,
    Turn,
)
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.files.atomic import read_bytes, write_atomic
from ivory_quilt.files.build_wire import build_of, build_wire, crease_of, crease_wire
from ivory_quilt.files.wire import (
    EdgeRefWire,
    EdgeWire,
    LabelWire,
    LayoutWire,
    LineWire,
    MeasureWire,
    PicturedWire,
    PieceWire,
    PlacementWire,
    ProjectWire,
    RecipeWire,
    Ring,
    SeamWire,
    SourceWire,
    StudyWire,
    TraceRuleWire,
    WearerWire,
    decode,
)

FORMAT = "ivory-quilt/project"
VERSION = 1


def load_project(path: Path) -> Project:
    """Read a project file.

    Raises:
        InputError: unreadable, not a project, newer than this program, or wrong inside.
    """
    return decode_project(read_bytes(path), where=path.name)


def save_project(project: Project, path: Path) -> None:
    """Write a project file atomically; the file it replaces stays as ``NAME~``.

    Raises:
        InputError: the place cannot be written.
    """
    write_atomic(path, encode_project(project), backup=True)


def decode_project(data: bytes, *, where: str = "project") -> Project:
    """Make a project of its file's bytes.

    Raises:
        InputError: see `load_project`.
    """
    wire = decode(data, ProjectWire, where=where, format_name=FORMAT, newest=VERSION)
    try:
        return Project(
            name=wire.name,
            pieces=tuple(_piece(p) for p in wire.pieces),
            gap=wire.gap,
            paper=Paper(wire.paper),
            layouts=tuple(_layout(k) for k in wire.layouts),
            wearers=tuple(_wearer(w) for w in wire.wearers),
            seams=tuple(_seam(s) for s in wire.seams),
            ease=wire.ease,
            rule=_rule(wire.rule),
            halves=wire.halves,
            studies=tuple(_study(s) for s in wire.studies),
        )
    except InputError as error:
        raise InputError(f"{where}, {error.where}", error.problem, error.expected) from None


def encode_project(project: Project) -> bytes:
    """Return the project as the bytes of its file: JSON, indented, one value a line at most."""
    wire = ProjectWire(
        format="ivory-quilt/project",
        version=VERSION,
        name=project.name,
        pieces=[_piece_wire(p) for p in project.pieces],
        gap=project.gap,
        paper=project.paper.value,
        layouts=[_layout_wire(k) for k in project.layouts],
        wearers=[_wearer_wire(w) for w in project.wearers],
        seams=[_seam_wire(s) for s in project.seams],
        ease=project.ease,
        rule=_rule_wire(project.rule),
        halves=project.halves,
        studies=[_study_wire(s) for s in project.studies],
    )
    return msgspec.json.format(msgspec.json.encode(wire), indent=1) + b"\n"


def points_wire(points: Array) -> Ring:
    """Return points as a JSON list."""
    return [(float(x), float(y)) for x, y in points]


def placement_wire(p: Placement) -> PlacementWire:
    """Return a placement as it stands in files."""
    return PlacementWire(
        p.piece,
        p.copy,
        p.sheet,
        p.sheet_copy,
        p.pose.mirrored,
        p.pose.rotation,
        (p.pose.x, p.pose.y),
    )


def placement_of(w: PlacementWire) -> Placement:
    """Return the placement that a file holds."""
    pose = Pose(w.translation[0], w.translation[1], w.rotation, w.mirrored)
    return Placement(w.piece, w.copy, w.sheet, w.sheet_copy, pose)


def _piece(w: PieceWire) -> Piece:
    where = f"piece '{w.name}'"
    return Piece(
        id=w.id,
        name=w.name,
        shape=Shape.make(w.outline, w.holes, where=where),
        material=w.material,
        thickness=w.thickness,
        count=w.count,
        hand=Hand(w.hand),
        drawn_hand=Hand(w.drawn_hand),
        face=FaceUp(w.face),
        turn=Turn(w.turn),
        lines=tuple(
            PieceLine(LineKind(k.kind), _line(k.points, where), crease_of(k.crease))
            for k in w.lines
        ),
        match_marks=tuple(w.match_marks),
        source=Source(w.source.file, w.source.layer, w.source.page),
        recipe=_recipe(w.recipe),
        labels=tuple(Label(k.text, k.at) for k in w.labels),
        edges=tuple(Edge(e.name, e.start, e.stop) for e in w.edges),
        rule=None if w.rule is None else _rule(w.rule),
        build=build_of(w.build, where),
    )


def _rule(w: TraceRuleWire) -> TraceRule:
    return TraceRule(w.pen, CutSide(w.side), w.trim)


def _rule_wire(r: TraceRule) -> TraceRuleWire:
    return TraceRuleWire(r.pen, r.side.value, r.trim)


def _seam(w: SeamWire) -> Seam:
    first, second = (EdgeRef(r.piece, r.edge) for r in (w.first, w.second))
    return Seam(first, second, w.turned, w.dihedral, Joint(w.joint))


def _seam_wire(s: Seam) -> SeamWire:
    first, second = (EdgeRefWire(r.piece, r.edge) for r in (s.first, s.second))
    return SeamWire(first, second, s.turned, s.dihedral, s.joint.value)


def _study(w: StudyWire) -> Study:
    known = None if w.known is None else _pictured(w.known)
    lines = tuple(_pictured(k) for k in w.lines)
    return Study(w.picture, known, w.real, w.uncertainty, w.blur, lines)


def _study_wire(s: Study) -> StudyWire:
    known = None if s.known is None else _pictured_wire(s.known)
    lines = [_pictured_wire(k) for k in s.lines]
    return StudyWire(s.picture, known, s.real, s.uncertainty, s.blur, lines)


def _pictured(w: PicturedWire) -> Pictured:
    return Pictured(w.name, w.start, w.stop)


def _pictured_wire(p: Pictured) -> PicturedWire:
    return PicturedWire(p.name, p.start, p.stop)


def _recipe(w: RecipeWire | None) -> Recipe | None:
    return None if w is None else Recipe(w.maker, tuple(w.values.items()), w.group, w.index)


def _line(points: Ring, where: str) -> Array:
    """Check a line's points as a ring's are checked; a line needs two."""
    ring([*points, (1e6, 1e6), (1e6, -1e6)], where=f"{where}, line")
    if len(points) < 2:
        raise InputError(f"{where}, line", "it has fewer than two points", "two or more")
    import numpy as np

    array = np.array(points, dtype=np.float64)
    array.setflags(write=False)
    return array


def _piece_wire(p: Piece) -> PieceWire:
    return PieceWire(
        id=p.id,
        name=p.name,
        outline=points_wire(p.shape.outer),
        holes=[points_wire(h) for h in p.shape.holes],
        material=p.material,
        thickness=p.thickness,
        count=p.count,
        hand=p.hand.value,
        drawn_hand=_hand(p.drawn_hand),
        face=p.face.value,
        turn=p.turn.value,
        lines=_lines_wire(p.lines),
        match_marks=list(p.match_marks),
        source=SourceWire(p.source.file, p.source.layer, p.source.page),
        recipe=_recipe_wire(p.recipe),
        labels=[LabelWire(k.text, k.at) for k in p.labels],
        edges=[EdgeWire(e.name, e.start, e.stop) for e in p.edges],
        rule=None if p.rule is None else _rule_wire(p.rule),
        build=build_wire(p.build),
    )


def _lines_wire(lines: tuple[PieceLine, ...]) -> list[LineWire]:
    made = []
    for line in lines:
        kind = line.kind
        if kind is not LineKind.OTHER:  # worked out, never decided
            made.append(
                LineWire(cast(Any, kind.value), points_wire(line.points), crease_wire(line.crease))
            )
    return made


def _recipe_wire(r: Recipe | None) -> RecipeWire | None:
    return None if r is None else RecipeWire(r.maker, dict(r.values), r.group, r.index)


def _wearer(w: WearerWire) -> Wearer:
    measures = (Measure(m.spot, m.value, m.uncertainty, m.date, m.method) for m in w.measures)
    return Wearer(w.id, w.name, tuple(measures))


def _wearer_wire(w: Wearer) -> WearerWire:
    measures = [MeasureWire(m.spot, m.value, m.uncertainty, m.date, m.method) for m in w.measures]
    return WearerWire(w.id, w.name, measures)


def _hand(hand: Hand) -> Any:
    return hand.value


def _layout(w: LayoutWire) -> KeptLayout:
    return KeptLayout(
        Foam(w.thickness, w.material),
        tuple(placement_of(p) for p in w.placements),
        frozenset(w.pins),
    )


def _layout_wire(k: KeptLayout) -> LayoutWire:
    return LayoutWire(
        k.foam.material,
        k.foam.thickness,
        [placement_wire(p) for p in k.placements],
        sorted(k.pins),
    )
