"""What the works on a piece's outer face leave drawn on it: where they are, and what is done."""

import numpy as np

from ivory_quilt.core.geometry.shape import polygons_of
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece, PieceLine
from ivory_quilt.core.pattern.region import RegionKind
from ivory_quilt.core.pattern.region_shapes import lines_named, region_on
from ivory_quilt.core.pattern.surface import WorkFace
from ivory_quilt.core.record import replace


def with_works_drawn(piece: Piece) -> Piece:
    """Return the piece with its works on it: their outlines as marks, each with its words.

    What covers all of a face, or is on the inner one, has no place to be drawn.
    """
    lines, labels = [], []
    foam = piece.shape.polygon
    for work in piece.build.works:
        if work.face is WorkFace.INNER or work.region.on is RegionKind.WHOLE:
            continue
        if work.kind.along_line:
            for line in lines_named(piece, work.region.of):
                x, y = line.points[len(line.points) // 2]
                wide = f"{work.words} {work.region.width:g} mm wide"
                labels.append(Label(wide, (float(x), float(y))))
            continue
        place = region_on(piece, work.region)
        for polygon in polygons_of(place):
            spot = polygon.representative_point()
            labels.append(Label(work.words, (spot.x, spot.y)))
            if not (work.region.on is RegionKind.LINE and not work.region.width):
                # A strip's own edge; the rest of its outline is the piece's.
                inner = polygon.boundary.difference(foam.boundary.buffer(0.01, quad_segs=1))
                for run in getattr(inner, "geoms", [inner]):
                    if run.length > 1.0:
                        lines.append(PieceLine(LineKind.MARK, np.asarray(run.coords)[:, :2]))
    if not lines and not labels:
        return piece
    return replace(piece, lines=(*piece.lines, *lines), labels=(*piece.labels, *labels))
