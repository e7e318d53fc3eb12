"""A cut sheet as GeoJSON (RFC 7946): its outline and its parts as polygons with what they are.

Coordinates are mm on the sheet, x along and y up, by agreement of both sides (RFC 7946, 4): they
are no places on the earth, and the member `ivory-quilt` says so.
"""

from typing import Any

import msgspec

from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.files.papers.cut_sheets import CutSheet

DIGITS = 4  # of a millimetre


def cut_sheet_geojson(sheet: CutSheet) -> bytes:
    """Return a sheet with its parts in cutting order."""
    foam = sheet.foam.foam
    features = [
        _feature(sheet.shape, {"kind": "sheet", "name": sheet.title, "stock": sheet.item.id})
    ]
    for number, (part, placement) in enumerate(sheet.in_order, 1):
        pose = placement.pose
        said = {
            "kind": "part",
            "part": part.id,
            "name": part.label,
            "copy": placement.copy,
            "order": number,
            "rotation": pose.rotation,
            "mirrored": pose.mirrored,
            "translation": [pose.x, pose.y],
        }
        features.append(_feature(part.line_up(pose).placed(pose), said))
    x0, y0, x1, y1 = sheet.shape.bounds
    about = {
        "unit": "mm",
        "material": sheet.material,
        "thickness": foam.thickness,
        "owned": sheet.owned,
    }
    collection = {
        "type": "FeatureCollection",
        "bbox": [x0, y0, x1, y1],
        "features": features,
        "ivory-quilt": about,
    }
    return msgspec.json.format(msgspec.json.encode(collection), indent=1) + b"\n"


def _feature(shape: Shape, properties: dict[str, Any]) -> dict[str, Any]:
    # Outlines run counter-clockwise and holes clockwise already, as 3.1.6 asks.
    rings = [_closed(ring) for ring in shape.rings]
    geometry = {"type": "Polygon", "coordinates": rings}
    return {"type": "Feature", "properties": properties, "geometry": geometry}


def _closed(ring: Array) -> list[tuple[float, float]]:
    places = [(round(x, DIGITS), round(y, DIGITS)) for x, y in ring.tolist()]
    return [*places, places[0]]
