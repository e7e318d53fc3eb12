"""Reading DXF patterns through the standard DXF library: outlines at true size, words as hints.

Lines and arcs that were drawn one by one are joined end to end; blocks are followed with their
transforms; the units header gives the scale.
"""

import io
import logging
from collections.abc import Iterator
from typing import Any

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import TOLERANCE
from ivory_quilt.core.reading.assembly import CLOSE_WITHIN, assemble
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.reading.joining import join_ends

# Its warnings about damaged files would stand beside our own one sentence.
logging.getLogger("ezdxf").setLevel(logging.CRITICAL)

MOST_ENTITIES = 100_000
MOST_POINTS = 3_000_000
DEEPEST = 40  # blocks within blocks
_WORDS = {"TEXT", "MTEXT", "ATTRIB", "ATTDEF"}
_OUTLINES = {
    "LINE",
    "ARC",
    "CIRCLE",
    "ELLIPSE",
    "SPLINE",
    "LWPOLYLINE",
    "POLYLINE",
    "HELIX",
    "SOLID",
    "TRACE",
    "3DFACE",
}


def read_dxf(
    data: bytes,
    *,
    file: str = "drawing.dxf",
    mm_per_unit: float | None = None,
    tolerance: float = TOLERANCE,
) -> Reading:
    """Read the pieces of a DXF drawing.

    Args:
        data: the file's bytes, text or binary DXF.
        file: its name, for messages and the pieces' source.
        mm_per_unit: true size of one drawing unit, for a file without a units header.
        tolerance: how far, in mm, a flattened curve may leave the true one.

    Returns:
        The reading; `needs_scale` is set (and one unit counted as 1 mm) when the header names no
        unit and no `mm_per_unit` was given.

    Raises:
        InputError: not DXF, or beyond the stated limits.
    """
    from ezdxf import recover, units
    from ezdxf.enums import InsertUnits
    from ezdxf.lldxf.const import DXFError

    if b"SECTION" not in data[:4096] and not data.startswith(b"AutoCAD Binary DXF"):
        raise InputError(file, "it does not begin like a DXF drawing", "a DXF drawing")
    try:
        document, _ = recover.read(io.BytesIO(data))
        unit = InsertUnits(int(document.header.get("$INSUNITS", 0)))
        scale = mm_per_unit or (
            units.conversion_factor(unit, InsertUnits.Millimeters) if unit else 1.0
        )
        walk = _DxfWalk(file, float(scale), tolerance)
        paths = list(walk.paths(document.modelspace()))
    except InputError:
        raise
    except (
        DXFError,
        ValueError,
        ArithmeticError,
        LookupError,
        TypeError,
        AttributeError,
        RecursionError,
        OSError,
    ) as error:
        what = " ".join(str(error).split())[:120] or type(error).__name__
        raise InputError(file, f"it is not a readable DXF drawing ({what})", "DXF") from None
    joined = join_ends(paths, CLOSE_WITHIN)
    reading = assemble(joined, file, texts=walk.texts)
    needs_scale = unit == 0 and mm_per_unit is None
    return Reading(reading.pieces, (*walk.problems, *reading.problems), needs_scale)


class _DxfWalk:
    """One walk over a drawing; yields every visible outline in mm."""

    def __init__(self, file: str, scale: float, tolerance: float) -> None:
        self.file, self.scale, self.tolerance = file, scale, tolerance
        self.texts: list[RawText] = []
        self.problems: list[ReadProblem] = []
        self.entities = 0
        self.points = 0
        self._left_out: set[str] = set()

    def paths(self, space: Any) -> Iterator[RawPath]:
        hidden = {
            layer.dxf.name for layer in space.doc.layers if layer.is_off() or layer.is_frozen()
        }
        yield from self._entities(space, hidden, "0", 0)

    def _entities(
        self, entities: Any, hidden: set[str], block_layer: str, depth: int
    ) -> Iterator[RawPath]:
        if depth > DEEPEST:
            raise self._too_large()
        for entity in entities:
            self.entities += 1
            if self.entities > MOST_ENTITIES:
                raise self._too_large()
            # What lies on layer 0 of a block takes the layer that the block is put on.
            layer = entity.dxf.get("layer", "0")
            layer = block_layer if layer == "0" else layer
            if layer in hidden or entity.dxf.get("invisible", 0) or entity.dxf.get("paperspace", 0):
                continue
            kind = entity.dxftype()
            if kind == "INSERT":
                for one in entity.multi_insert() if entity.mcount > 1 else (entity,):
                    inside = (*one.virtual_entities(), *one.attribs)
                    yield from self._entities(inside, hidden, layer, depth + 1)
            elif kind in _WORDS:
                self._word(entity)
            elif kind in _OUTLINES:
                yield from self._outline(entity, layer)
            elif kind == "HATCH":
                continue  # fills an outline that is drawn as well
            elif kind not in self._left_out:
                self._left_out.add(kind)
                text = f"a '{kind.lower()}' is no outline and was left out"
                self.problems.append(ReadProblem("entity-ignored", text, (0.0, 0.0)))

    def _outline(self, entity: Any, layer: str) -> Iterator[RawPath]:
        from ezdxf.path import make_path

        path = make_path(entity)
        if len(path) == 0:
            return
        for single in path.sub_paths() if path.has_sub_paths else (path,):
            distance = self.tolerance / self.scale
            points = np.array([(p.x, p.y) for p in single.flattening(distance, 4)]) * self.scale
            self.points += len(points)
            if self.points > MOST_POINTS:
                raise self._too_large()
            if len(points) < 2 or not np.isfinite(points).all() or np.abs(points).max() > 1e8:
                continue
            closed = bool(single.is_closed) and len(points) > 3
            yield RawPath(points[:-1] if closed else points, closed, "" if layer == "0" else layer)

    def _word(self, entity: Any) -> None:
        words = entity.plain_text() if hasattr(entity, "plain_text") else entity.dxf.text
        at = entity.dxf.insert
        for line in str(words).splitlines():
            if line.strip():
                self.texts.append(RawText(line, (at.x * self.scale, at.y * self.scale)))

    def _too_large(self) -> InputError:
        limit = f"{MOST_ENTITIES} entities, {DEEPEST} nested blocks, {MOST_POINTS} points"
        return InputError(self.file, "it is too large or nests too deep", f"at most {limit}")
