"""Layout jobs and results on disk, for the command line (docs/formats.md)."""

from pathlib import Path
from typing import Any

import msgspec

from ivory_quilt.core.geometry.shape import Pose, Shape
from ivory_quilt.core.nesting.job import (
    LayJob,
    LayResult,
    PieceSpec,
    Placement,
    RollSpec,
    SheetSpec,
)
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.job_wire import FixedWire, JobPieceWire, JobWire, SheetWire
from ivory_quilt.files.project_file import placement_wire
from ivory_quilt.files.wire import decode, encode

JOB_FORMAT = "ivory-quilt/lay-job"
RESULT_FORMAT = "ivory-quilt/lay-result"


def load_job(path: Path) -> LayJob:
    """Read a layout job.

    Raises:
        InputError: naming the field, the piece or the sheet that is wrong.
    """
    return decode_job(read_bytes(path), where=path.name)


def decode_job(data: bytes, *, where: str = "job") -> LayJob:
    """Make a job of its file's bytes.

    Raises:
        InputError: see `load_job`.
    """
    wire = decode(data, JobWire, where=where, format_name=JOB_FORMAT, newest=1)
    sheets = tuple(sheet_of(s) for s in wire.sheets)
    rolls = tuple(
        RollSpec(r.id, r.width, r.max_length, r.cost_per_mm, r.margin) for r in wire.rolls
    )
    return LayJob(tuple(piece_of(p) for p in wire.pieces), sheets, rolls, wire.gap)


def sheet_of(wire: SheetWire) -> SheetSpec:
    """Return a kind of sheet as it stands in a job.

    Raises:
        InputError: its outline is none.
    """
    return SheetSpec(
        wire.id,
        Shape.make(wire.outline, wire.holes, where=f"sheet '{wire.id}', outline"),
        wire.quantity,
        wire.cost,
        wire.margin,
        tuple(Shape.make(d, where=f"sheet '{wire.id}', defects") for d in wire.defects),
    )


def piece_of(w: JobPieceWire) -> PieceSpec:
    """Return a piece as it stands in a job.

    Raises:
        InputError: its outline is none.
    """
    fixed = [w.fixed] if isinstance(w.fixed, FixedWire) else w.fixed or []
    rotations = None if w.rotations == "free" else tuple(float(r) for r in w.rotations)
    return PieceSpec(
        w.id,
        Shape.make(w.outline, w.holes, where=f"piece '{w.id}', outline"),
        w.quantity,
        rotations,
        w.mirror,
        tuple(
            Placement(
                w.id,
                f.copy,
                f.sheet,
                f.sheet_copy,
                Pose(f.translation[0], f.translation[1], f.rotation, f.mirrored),
            )
            for f in fixed
        ),
        w.group,
        w.hidden,
        w.worth,
    )


def encode_job(job: LayJob) -> bytes:
    """Return a job as the bytes of its file."""
    pieces: list[dict[str, Any]] = []
    for p in job.pieces:
        fixed = [msgspec.to_builtins(placement_wire(f)) for f in p.fixed]
        for f in fixed:
            del f["piece"]
        pieces.append(
            {
                "id": p.id,
                "outline": p.shape.outer,
                "holes": p.shape.holes,
                "quantity": p.quantity,
                "rotations": "free" if p.rotations is None else list(p.rotations),
                "mirror": p.mirror,
                "fixed": None if not fixed else fixed[0] if len(fixed) == 1 else fixed,
                "group": p.group,
                "hidden": p.hidden,
                "worth": p.worth,
            }
        )
    body = {
        "format": JOB_FORMAT,
        "version": 1,
        "gap": job.gap,
        "sheets": [
            {
                "id": s.id,
                "outline": s.shape.outer,
                "holes": s.shape.holes,
                "quantity": s.quantity,
                "cost": str(s.cost),
                "margin": s.margin,
                "defects": [d.outer for d in s.defects],
            }
            for s in job.sheets
        ],
        "rolls": [
            {
                "id": r.id,
                "width": r.width,
                "max_length": r.max_length,
                "cost_per_mm": str(r.cost_per_mm),
                "margin": r.margin,
            }
            for r in job.rolls
        ],
        "pieces": pieces,
    }
    return encode(body)


def encode_result(result: LayResult) -> bytes:
    """Return a result as the bytes of its file."""
    return encode(result_body(result))


def result_body(result: LayResult) -> dict[str, object]:
    """Return a result as it stands in files."""
    return {
        "format": RESULT_FORMAT,
        "version": 1,
        "seed": result.seed,
        "seconds": round(result.seconds, 3),
        "stopped_by": result.stopped_by,
        "iterations": result.steps,
        "cost": f"{result.cost:.2f}",
        "cost_bound": f"{result.cost_bound:.2f}",
        "density": result.density,
        "placements": [placement_wire(p) for p in result.placements],
        "unplaced": [{"piece": piece, "copy": copy} for piece, copy in result.unplaced],
        "stock": [
            {"id": u.id, "copy": u.copy, "used_length": u.used_length, "density": u.density}
            for u in result.stock
        ],
        "history": [[t, f"{c:.2f}", d] for t, c, d in result.history],
    }


def encode_fault(job: LayJob, seed: int, faults: tuple[str, ...]) -> bytes:
    """Return what a developer needs to see a refused layout again, as the bytes of a file."""
    body = {
        "format": "ivory-quilt/lay-fault",
        "version": 1,
        "seed": seed,
        "faults": list(faults),
        "job": msgspec.Raw(encode_job(job)),
    }
    return encode(body)
