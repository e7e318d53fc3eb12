"""Reading DXF patterns through the standard DXF library: outlines at true size, words as hints.

Lines and arcs that were drawn one by one are joined end to end; blocks are followed with their
transforms; the units header gives the scale.
"""

import io
import logging

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import TOLERANCE
from ivory_quilt.core.reading.assembly import CLOSE_WITHIN, assemble
from ivory_quilt.core.reading.found import Reading
from ivory_quilt.core.reading.joining import join_ends
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.files.damaged import DAMAGE, library_words
from ivory_quilt.files.dxf_walk import DxfWalk

# Its warnings about damaged files would stand beside our own one sentence.
logging.getLogger("ezdxf").setLevel(logging.CRITICAL)


def read_dxf(
    data: bytes,
    *,
    file: str = "drawing.dxf",
    mm_per_unit: float | None = None,
    tolerance: float = TOLERANCE,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Read the pieces of a DXF drawing.

    Args:
        data: the file's bytes, text or binary DXF.
        file: its name, for messages and the pieces' source.
        mm_per_unit: true size of one drawing unit, for a file without a units header.
        tolerance: how far, in mm, a flattened curve may leave the true one.
        report: is told how far it is.

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
    report(ReadProgress(0, 0, "reading the drawing"))
    try:
        document, _ = recover.read(io.BytesIO(data))
        unit = InsertUnits(int(document.header.get("$INSUNITS", 0)))
        scale = mm_per_unit or (
            units.conversion_factor(unit, InsertUnits.Millimeters) if unit else 1.0
        )
        walk = DxfWalk(file, float(scale), tolerance, report)
        paths = list(walk.paths(document.modelspace()))
    except InputError:
        raise
    except (DXFError, *DAMAGE) as error:
        raise InputError(
            file, f"it is not a readable DXF drawing ({library_words(error)})", "DXF"
        ) from None
    joined = join_ends(paths, CLOSE_WITHIN)
    reading = assemble(joined, file, texts=walk.texts, report=report)
    needs_scale = unit == 0 and mm_per_unit is None
    return Reading(reading.pieces, (*walk.problems, *reading.problems), needs_scale)
