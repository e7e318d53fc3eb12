"""Projects on disk: ``.ivq``, one readable JSON file (docs/formats.md)."""

from pathlib import Path
from typing import Any

from ivory_quilt.core.document.project import KeptLayout, Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.reach import check_reach
from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.nesting.job import Placement
from ivory_quilt.core.pattern.build import PLAIN, Build, EdgeProfile, Profile
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import LineKind, Piece, Recipe
from ivory_quilt.core.pattern.version import PieceVersion
from ivory_quilt.files.atomic import read_bytes, write_atomic
from ivory_quilt.files.project_wire import (
    BuildWire,
    LayoutWire,
    PieceWire,
    PlacementWire,
    ProjectWire,
    RecipeWire,
    VersionWire,
)
from ivory_quilt.files.spent_wire import spent_body, spent_of
from ivory_quilt.files.wire import decode, encode, sparse

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
            pieces=tuple(piece_of(p) for p in wire.pieces),
            gap=wire.gap,
            paper=wire.paper,
            layouts=tuple(_layout(k) for k in wire.layouts),
            wearers=wire.wearers,
            seams=wire.seams,
            ease=wire.ease,
            rule=wire.rule,
            halves=wire.halves,
            studies=wire.studies,
            troupe=wire.troupe,
            things=wire.things,
            spares=wire.spares,
            spent=tuple(spent_of(s) for s in wire.spent),
            bench=wire.bench,
            fixings=wire.fixings,
            checks=wire.checks,
            paint=wire.paint,
            forms=wire.forms,
            girths=wire.girths,
            versions=tuple(_version(v) for v in wire.versions),
        )
    except InputError as error:
        raise InputError(f"{where}, {error.where}", error.problem, error.expected) from None


def encode_project(project: Project, *, indent: bool = True) -> bytes:
    """Return the project as the bytes of its file: JSON, indented, one value a line at most."""
    return encode(
        {
            "format": FORMAT,
            "version": VERSION,
            "name": project.name,
            "pieces": [piece_body(p) for p in project.pieces],
            "gap": project.gap,
            "paper": project.paper,
            "layouts": [_layout_body(k) for k in project.layouts],
            "wearers": [_wearer_body(w) for w in project.wearers],
            "seams": project.seams,
            "ease": project.ease,
            "rule": project.rule,
            "halves": project.halves,
            "studies": project.studies,
            "troupe": project.troupe,
            "things": [sparse(t) for t in project.things],
            "spares": project.spares,
            "spent": [spent_body(s) for s in project.spent],
            "bench": sparse(project.bench),
            "fixings": [sparse(f) for f in project.fixings],
            "checks": [sparse(c) for c in project.checks],
            "paint": [sparse(a) for a in project.paint],
            "forms": [sparse(f) for f in project.forms],
            "girths": [sparse(a) for a in project.girths],
            "versions": [_version_body(v) for v in project.versions],
        },
        indent=indent,
    )


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


def piece_of(w: PieceWire) -> Piece:
    """Return the piece that a file holds.

    Raises:
        InputError: it is wrong inside.
    """
    where = f"piece '{w.name}'"
    if any(line.kind is LineKind.OTHER for line in w.lines):
        raise InputError(f"{where}, line", "its kind is worked out, never decided", "another kind")
    shape = Shape.make(w.outline, w.holes, where=where)
    check_reach(shape.outer, f"{where}, outline")
    check_reach([k.at for k in w.labels], f"{where}, label")
    check_reach(w.match_marks, f"{where}, match mark")
    check_reach([p for c in w.curves for n in c.nodes for p in n.points], f"{where}, curve")
    for line in w.lines:
        check_reach(line.points, f"{where}, line")
    return Piece(
        id=w.id,
        name=w.name,
        shape=shape,
        material=w.material,
        thickness=w.thickness,
        count=w.count,
        hand=w.hand,
        drawn_hand=w.drawn_hand,
        face=w.face,
        turn=w.turn,
        lines=w.lines,
        match_marks=w.match_marks,
        source=w.source,
        recipe=_recipe(w.recipe),
        labels=w.labels,
        edges=w.edges,
        rule=w.rule,
        build=_build(w.build, where),
        wanted=w.wanted,
        spares=w.spares,
        curves=w.curves,
    )


def _version(w: VersionWire) -> PieceVersion:
    return PieceVersion(w.id, w.name, tuple(piece_of(p) for p in w.pieces), w.when, w.note)


def _version_body(v: PieceVersion) -> dict[str, object]:
    return {
        "id": v.id,
        "name": v.name,
        "when": v.when,
        "note": v.note,
        "pieces": [piece_body(p) for p in v.pieces],
    }


def _recipe(w: RecipeWire | None) -> Recipe | None:
    return None if w is None else Recipe(w.maker, tuple(w.values.items()), w.group, w.index)


def _build(w: BuildWire | None, where: str) -> Build:
    if w is None:
        return PLAIN
    decided: dict[str, Any] = {name: getattr(w, name) for name in w.__struct_fields__}
    try:
        decided["edges"] = tuple(
            EdgeProfile(e.edge, Profile(e.kind, e.angle, e.width)) for e in w.edges
        )
        return Build(**decided)
    except InputError as error:
        raise InputError(f"{where}, {error.where}", error.problem, error.expected) from None


def piece_body(p: Piece) -> dict[str, object]:
    """Return a piece as it stands in files."""
    recipe = p.recipe
    return {
        "id": p.id,
        "name": p.name,
        "outline": p.shape.outer,
        "holes": p.shape.holes,
        "material": p.material,
        "thickness": p.thickness,
        "count": p.count,
        "hand": p.hand,
        "drawn_hand": p.drawn_hand,
        "face": p.face,
        "turn": p.turn,
        "lines": [k for k in p.lines if k.kind is not LineKind.OTHER],
        "match_marks": p.match_marks,
        "source": sparse(p.source),
        "recipe": recipe
        and {
            "maker": recipe.maker,
            "values": dict(recipe.values),
            "group": recipe.group,
            "index": recipe.index,
        },
        "labels": p.labels,
        "edges": p.edges,
        "rule": p.rule,
        "build": _build_body(p.build),
        "wanted": p.wanted,
        "spares": p.spares,
        "curves": p.curves,
    }


def _build_body(b: Build) -> dict[str, object] | None:
    if b == PLAIN:
        return None
    body = dict(sparse(b))
    if b.edges:
        body["edges"] = [
            {
                "edge": e.edge,
                "kind": e.profile.kind,
                "angle": e.profile.angle,
                "width": e.profile.width,
            }
            for e in b.edges
        ]
    return body


def _wearer_body(w: Wearer) -> dict[str, object]:
    return {"id": w.id, "name": w.name, "measures": [sparse(m) for m in w.measures]}


def _layout(w: LayoutWire) -> KeptLayout:
    return KeptLayout(
        Foam(w.thickness, w.material),
        tuple(placement_of(p) for p in w.placements),
        frozenset(w.pins),
    )


def _layout_body(k: KeptLayout) -> dict[str, object]:
    return {
        "material": k.foam.material,
        "thickness": k.foam.thickness,
        "placements": [placement_wire(p) for p in k.placements],
        "pins": sorted(k.pins),
    }
