"""Assemblies on their way to an engine's process, and shapes on their way back."""

import msgspec
import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.bends import Bends
from ivory_quilt.core.forming.cone import Cone
from ivory_quilt.core.forming.dome import Dome
from ivory_quilt.core.forming.roll import Roll
from ivory_quilt.core.forming.shaping import Place
from ivory_quilt.core.formup.assembly import (
    Assembly,
    Cylinder,
    Fold,
    FormBend,
    FormPanel,
    FormSeam,
    MeshFormer,
    Shaped,
    Sphere,
)
from ivory_quilt.core.formup.outcome import FormedPanel, FormedShape, SeamOutcome, StrainSpread


class ShapedMessage(msgspec.Struct, array_like=True):
    """A panel's own shape: one of four."""

    panel: str
    place: Place
    roll: Roll | None = None
    cone: Cone | None = None
    dome: Dome | None = None
    bends: Bends | None = None


class AssemblyMessage(msgspec.Struct, array_like=True):
    """An assembly; a mesh's arrays are bytes of doubles and 64-bit whole numbers."""

    panels: tuple[FormPanel, ...]
    seams: tuple[FormSeam, ...]
    folds: tuple[Fold, ...]
    bends: tuple[FormBend, ...]
    edge: float
    shaped: tuple[ShapedMessage, ...]
    sphere: float | None = None
    cylinder: float | None = None
    body: tuple[bytes, bytes] | None = None
    firmly: bool = False
    seat: tuple[tuple[float, ...], ...] = ()


class PanelMessage(msgspec.Struct, array_like=True):
    """A formed panel: arrays as bytes."""

    id: str
    thickness: float
    flat: bytes
    places: bytes
    triangles: bytes
    strains: bytes
    masked: bytes
    boundary: int
    laid: bytes
    rim: bytes


class ShapeMessage(msgspec.Struct, array_like=True):
    """A formed assembly."""

    panels: tuple[PanelMessage, ...]
    seams: tuple[SeamOutcome, ...]
    strain: StrainSpread
    settled: bool
    problems: tuple[str, ...]
    off: float | None
    outer: StrainSpread | None
    inner: StrainSpread | None


def assembly_message(job: Assembly) -> AssemblyMessage:
    """Return an assembly as it goes through the pipe."""
    shaped = []
    for one in job.shaped:
        kinds: dict[type, str] = {Roll: "roll", Cone: "cone", Dome: "dome", Bends: "bends"}
        kind = kinds.get(type(one.shaping))
        if kind is None:
            where = f"shape of panel '{one.panel}'"
            raise InputError(where, type(one.shaping).__name__, "a roll, a cone, a bowl or bends")
        shaped.append(ShapedMessage(one.panel, one.place, **{kind: one.shaping}))  # type: ignore[arg-type]
    made = AssemblyMessage(job.panels, job.seams, job.folds, job.bends, job.edge, tuple(shaped))
    made.firmly, made.seat = job.firmly, job.seat
    if isinstance(job.former, Sphere):
        made.sphere = job.former.radius
    elif isinstance(job.former, Cylinder):
        made.cylinder = job.former.radius
    elif job.former is not None:
        body = job.former
        triangles = body.triangles.astype(np.int64)
        made.body = (body.vertices.astype(np.float64).tobytes(), triangles.tobytes())
    return made


def assembly_from(message: AssemblyMessage) -> Assembly:
    """Return the assembly that came through the pipe."""
    former: Sphere | Cylinder | MeshFormer | None = None
    if message.sphere is not None:
        former = Sphere(message.sphere)
    elif message.cylinder is not None:
        former = Cylinder(message.cylinder)
    elif message.body is not None:
        vertices, triangles = message.body
        former = MeshFormer(
            np.frombuffer(vertices, dtype=np.float64).reshape(-1, 3),
            np.frombuffer(triangles, dtype=np.int64).reshape(-1, 3),
        )
    shaped = []
    for one in message.shaped:
        shaping = one.roll or one.cone or one.dome or one.bends
        assert shaping is not None
        shaped.append(Shaped(one.panel, shaping, one.place))
    return Assembly(
        message.panels,
        message.seams,
        message.folds,
        message.bends,
        former,
        message.edge,
        tuple(shaped),
        message.firmly,
        message.seat,
    )


def shape_message(shape: FormedShape) -> ShapeMessage:
    """Return a formed assembly as it goes through the pipe."""
    panels = tuple(
        PanelMessage(
            p.id,
            p.thickness,
            p.flat.astype(np.float64).tobytes(),
            p.places.astype(np.float64).tobytes(),
            p.triangles.astype(np.int64).tobytes(),
            p.strains.astype(np.float64).tobytes(),
            p.masked.astype(np.bool_).tobytes(),
            p.boundary,
            p.laid.astype(np.float64).tobytes(),
            p.rim.astype(np.float64).tobytes(),
        )
        for p in shape.panels
    )
    return ShapeMessage(
        panels,
        shape.seams,
        shape.strain,
        shape.settled,
        shape.problems,
        shape.off,
        shape.outer,
        shape.inner,
    )


def shape_from(message: ShapeMessage) -> FormedShape:
    """Return the formed assembly that came through the pipe."""
    panels = tuple(
        FormedPanel(
            p.id,
            p.thickness,
            np.frombuffer(p.flat, dtype=np.float64).reshape(-1, 2),
            np.frombuffer(p.places, dtype=np.float64).reshape(-1, 3),
            np.frombuffer(p.triangles, dtype=np.int64).reshape(-1, 3),
            np.frombuffer(p.strains, dtype=np.float64).reshape(-1, 2),
            np.frombuffer(p.masked, dtype=np.bool_),
            p.boundary,
            np.frombuffer(p.laid, dtype=np.float64).reshape(-1, 2),
            np.frombuffer(p.rim, dtype=np.float64),
        )
        for p in message.panels
    )
    return FormedShape(
        panels,
        message.seams,
        message.strain,
        message.settled,
        message.problems,
        message.off,
        message.outer,
        message.inner,
    )
