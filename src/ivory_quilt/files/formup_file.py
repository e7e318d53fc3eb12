"""Assemblies to form up and their results, for the command line (docs/formats.md)."""

from pathlib import Path
from typing import Literal

import msgspec

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import (
    Assembly,
    Cylinder,
    Fold,
    FormBend,
    Former,
    FormPanel,
    FormSeam,
    Meeting,
    SeamSide,
    Sphere,
)
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.pattern.build import Face
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.body_file import read_body
from ivory_quilt.files.wire import Pair, decode, encode

FORMUP_FORMAT = "ivory-quilt/formup-job"
FORMUP_RESULT = "ivory-quilt/formup-result"


class FormPanelWire(msgspec.Struct):
    """A flat panel; `face` is where its outline was taken, its outer face looks at the reader."""

    id: str
    outline: list[Pair]
    thickness: float
    face: Literal["outer", "middle", "inner"] = "middle"
    mirrored: bool = False


class SideWire(msgspec.Struct, rename={"start": "from", "stop": "to"}):
    """A stretch of a panel's outline: `way` 1 in its order, -1 against it."""

    panel: str
    start: int
    stop: int
    way: Literal[1, -1] = 1


class FormSeamWire(msgspec.Struct):
    """Two stretches that are joined; `angle` between the outer faces, through the foam."""

    a: SideWire
    b: SideWire
    meet: Literal["smooth", "free", "angle"] = "smooth"
    angle: float = 180.0


class FoldWire(msgspec.Struct):
    """A straight fold across a panel; `angle` as of a seam."""

    panel: str
    line: tuple[Pair, Pair]
    angle: float


class BendWire(msgspec.Struct):
    """A panel around a cylinder: direction of its axis, and radius inside."""

    panel: str
    axis: float
    radius: float


class FormerWire(msgspec.Struct):
    """What it is pressed on: one of a ball, a cylinder, a mesh beside the job."""

    sphere: float | None = None
    cylinder: float | None = None
    mesh: str | None = None


class FormupWire(msgspec.Struct):
    """An assembly to form up; `edge` is the wished length of triangles' edges."""

    format: Literal["ivory-quilt/formup-job"]
    version: int
    panels: list[FormPanelWire]
    seams: list[FormSeamWire] = []
    folds: list[FoldWire] = []
    bends: list[BendWire] = []
    former: FormerWire | None = None
    edge: float = 6.0


def load_formup(path: Path) -> Assembly:
    """Read an assembly, with the former that it names.

    Raises:
        InputError: naming the field, the panel, the seam and its edge, or the former.
    """
    return decode_formup(read_bytes(path), where=path.name, folder=path.parent)


def decode_formup(data: bytes, *, where: str = "job", folder: Path | None = None) -> Assembly:
    """Make an assembly of its file's bytes; formers are read from `folder`.

    Raises:
        InputError: see `load_formup`.
    """
    wire = decode(data, FormupWire, where=where, format_name=FORMUP_FORMAT, newest=1)

    def side(s: SideWire) -> SeamSide:
        return SeamSide(s.panel, s.start, s.stop, s.way)

    return Assembly(
        tuple(
            FormPanel(p.id, tuple(p.outline), p.thickness, Face(p.face), p.mirrored)
            for p in wire.panels
        ),
        tuple(FormSeam(side(s.a), side(s.b), Meeting(s.meet), s.angle) for s in wire.seams),
        tuple(Fold(f.panel, f.line, f.angle) for f in wire.folds),
        tuple(FormBend(b.panel, b.axis, b.radius) for b in wire.bends),
        _former(wire.former, folder),
        wire.edge,
    )


def _former(wire: FormerWire | None, folder: Path | None) -> Former | None:
    if wire is None:
        return None
    given = [n for n in ("sphere", "cylinder", "mesh") if getattr(wire, n) is not None]
    if len(given) != 1:
        problem = f"it gives {' and '.join(given) or 'nothing'}"
        raise InputError("former", problem, "a sphere, a cylinder or a mesh")
    if wire.sphere is not None:
        return Sphere(wire.sphere)
    if wire.cylinder is not None:
        return Cylinder(wire.cylinder)
    return read_body((folder or Path()) / str(wire.mesh))


def encode_formup(shape: FormedShape) -> bytes:
    """Return a formed assembly as the bytes of its file."""
    spread = shape.strain
    return encode(
        {
            "format": FORMUP_RESULT,
            "version": 1,
            "panels": [
                {
                    "id": p.id,
                    "flat": p.flat.tolist(),
                    "vertices": p.places.tolist(),
                    "triangles": p.triangles.tolist(),
                }
                for p in shape.panels
            ],
            "seams": shape.seams,
            "strain": {"p01": spread.p01, "p50": spread.p50, "p99": spread.p99},
            "problems": shape.problems,
        },
        indent=False,
    )
