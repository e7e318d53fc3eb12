"""The walk over a DXF drawing: every visible outline in mm, blocks followed with their transforms.

A block is read once for each layer and size that it is put at; its copies are the same points put
elsewhere, so that ten thousand of them take no longer than their points do.
"""

from collections.abc import Iterable, Iterator
from typing import Any

import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import flatten_bezier
from ivory_quilt.core.geometry.reach import FURTHEST, check_reach
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.found import ReadProblem
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport
from ivory_quilt.core.record import Struct, replace

MOST_ENTITIES = 100_000
MOST_POINTS = 3_000_000
DEEPEST = 40  # blocks within blocks
MOST_CORNERS = 100_000  # of one spline or polyline
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
_LENGTHS = ("radius", "width", "const_width")


class _Drawn(Struct, frozen=True):
    """What a space or block holds, in its own units."""

    paths: tuple[RawPath, ...]
    texts: tuple[RawText, ...]


class DxfWalk:
    """One walk over a drawing."""

    def __init__(self, file: str, scale: float, tolerance: float, report: ReadReport) -> None:
        """Read at `scale` mm a unit, curves within `tolerance` mm."""
        self.file, self.scale, self.tolerance, self.report = file, scale, tolerance, report
        self.texts: list[RawText] = []
        self.problems: list[ReadProblem] = []
        self.entities = 0
        self.points = 0
        self._hidden: set[str] = set()
        self._left_out: set[str] = set()
        self._blocks: dict[tuple[str, str, int], _Drawn] = {}

    def paths(self, space: Any) -> Iterator[RawPath]:
        """Yield every outline of a space in mm; its words are in `texts` afterwards.

        Raises:
            InputError: a coordinate that is no number or too far off, or beyond the stated limits.
        """
        layers = space.doc.layers
        self._hidden = {k.dxf.name for k in layers if k.is_off() or k.is_frozen()}
        drawn = self._entities(space, "0", 0, self.tolerance / self.scale)
        for text in drawn.texts:
            at = (text.at[0] * self.scale, text.at[1] * self.scale)
            check_reach(at, f"the text '{text.text[:30]}'")
            self.texts.append(replace(text, at=at))
        for path in drawn.paths:
            yield replace(path, points=path.points * self.scale)

    def _entities(
        self, entities: Iterable[Any], block_layer: str, depth: int, tolerance: float
    ) -> _Drawn:
        if depth > DEEPEST:
            raise self._too_large()
        paths: list[RawPath] = []
        texts: list[RawText] = []
        for entity in entities:
            self._count(1)
            # What lies on layer 0 of a block takes the layer that the block is put on.
            layer = entity.dxf.get("layer", "0")
            layer = block_layer if layer == "0" else layer
            if layer in self._hidden or entity.dxf.get("invisible", 0):
                continue
            if entity.dxf.get("paperspace", 0):
                continue
            kind = entity.dxftype()
            if kind == "INSERT":
                self._insert(entity, layer, depth, tolerance, (paths, texts))
            elif kind in _WORDS:
                texts += self._words(entity)
            elif kind in _OUTLINES:
                paths += self._outline(entity, layer, tolerance)
            elif kind != "HATCH" and kind not in self._left_out:
                # A hatch fills an outline that is drawn as well.
                self._left_out.add(kind)
                text = f"a '{kind.lower()}' is no outline and was left out"
                self.problems.append(ReadProblem("entity-ignored", text, (0.0, 0.0)))
        return _Drawn(tuple(paths), tuple(texts))

    def _count(self, more: int) -> None:
        self.entities += more
        if self.entities > MOST_ENTITIES:
            raise self._too_large()
        if self.entities % 256 == 0:
            self.report(ReadProgress(self.entities, 0, f"{self.entities} entities read"))

    def _insert(
        self,
        insert: Any,
        layer: str,
        depth: int,
        tolerance: float,
        into: tuple[list[RawPath], list[RawText]],
    ) -> None:
        """Put a block's outlines where each of its copies stands."""
        self._check(insert)
        block = insert.block()
        if block is None:
            return
        matrix = _matrix(insert.matrix44())
        # Read as finely as the largest copy needs, in steps of two, so that readings are shared.
        size = float(np.linalg.norm(matrix[:2], 2))
        step = int(np.ceil(np.log2(max(size, 1e-9))))
        key = (block.name, layer, step)
        drawn = self._blocks.get(key)
        if drawn is None:
            drawn = self._entities(block, layer, depth + 1, tolerance / 2.0**step)
            self._blocks[key] = drawn
        texts = [t for a in insert.attribs for t in self._words(a)]
        into[1].extend(texts)
        for offset in self._copies(insert):
            self._count(len(drawn.paths) + 1)
            for path in drawn.paths:
                self._add_points(len(path.points))
                points = path.points @ matrix[:2] + matrix[2] + offset
                into[0].append(replace(path, points=self._reached(points, layer)))
            for text in drawn.texts:
                x, y = (np.array(text.at) @ matrix[:2] + matrix[2] + offset).tolist()
                into[1].append(replace(text, at=(x, y)))

    def _copies(self, insert: Any) -> Array:
        """Return where the copies of a block in rows and columns stand, from the first, (n, 2)."""
        rows, columns = (max(int(insert.dxf.get(k, 1)), 1) for k in ("row_count", "column_count"))
        if rows * columns > MOST_ENTITIES:
            raise self._too_large()
        down, across = (float(insert.dxf.get(k, 0)) for k in ("row_spacing", "column_spacing"))
        turn = np.radians(float(insert.dxf.get("rotation", 0)))
        grid = np.array([(c * across, r * down) for r in range(rows) for c in range(columns)])
        cos, sin = np.cos(turn), np.sin(turn)
        return np.asarray(grid @ np.array([[cos, sin], [-sin, cos]]))

    def _outline(self, entity: Any, layer: str, tolerance: float) -> Iterator[RawPath]:
        from ezdxf.path import make_path

        self._check(entity)
        path = make_path(entity)
        if len(path) == 0:
            return
        for single in path.sub_paths() if path.has_sub_paths else (path,):
            points = self._flat(single, tolerance)
            self._add_points(len(points))
            if len(points) < 2:
                continue
            closed = bool(single.is_closed) and len(points) > 3
            points = self._reached(points[:-1] if closed else points, layer)
            yield RawPath(points, closed, "" if layer == "0" else layer)

    def _flat(self, path: Any, tolerance: float) -> Array:
        """Return a path's points; its curves within a tolerance, in drawing units."""
        at = path.start
        runs = [np.array([(at.x, at.y)])]
        for command in path.commands():
            inner = [getattr(command, k) for k in ("ctrl", "ctrl1", "ctrl2") if hasattr(command, k)]
            end = command.end
            if inner:
                control = np.array([(p.x, p.y) for p in (at, *inner, end)])
                runs.append(flatten_bezier(control, tolerance))
            else:
                runs.append(np.array([(end.x, end.y)]))
            at = end
        return np.vstack(runs)

    def _check(self, entity: Any) -> None:
        """Refuse an entity with a coordinate that is no number, or beyond 100 m."""
        kind = entity.dxftype().lower()
        given = entity.dxf.all_existing_dxf_attribs()
        lengths = [v for k, v in given.items() if k in _LENGTHS]
        places = [(*v,) for v in given.values() if hasattr(v, "xyz")]
        for name in ("control_points", "fit_points", "vertices"):
            found = getattr(entity, name, None)
            if found is not None and not callable(found):
                found = list(found)
                if len(found) > MOST_CORNERS:
                    raise self._too_large()
                where = [getattr(getattr(v, "dxf", None), "location", v) for v in found]
                places += [(*tuple(v)[:2],) for v in where]
        if kind == "lwpolyline":
            if len(entity) > MOST_CORNERS:
                raise self._too_large()
            places += list(entity.get_points("xy"))
        numbers = [float(c) for p in places for c in p]
        what = f"{self.file}, {kind} on layer '{given.get('layer', '0')}'"
        check_reach(np.array([*numbers, *lengths], dtype=np.float64) * self.scale, what)
        # Angles, scales and weights are no lengths, but numbers they must be.
        for name, value in given.items():
            if isinstance(value, float) and not abs(value) < 1e12:
                raise InputError(what, f"its {name} is {value:g}", "a number")

    def _reached(self, points: Array, layer: str) -> Array:
        if not np.abs(points).max(initial=0.0) * self.scale <= FURTHEST:
            check_reach(points * self.scale, f"{self.file}, outline on layer '{layer}'")
        return points

    def _add_points(self, more: int) -> None:
        self.points += more
        if self.points > MOST_POINTS:
            raise self._too_large()

    @staticmethod
    def _words(entity: Any) -> list[RawText]:
        words = entity.plain_text() if hasattr(entity, "plain_text") else entity.dxf.text
        at = entity.dxf.insert
        return [RawText(k, (at.x, at.y)) for k in str(words).splitlines() if k.strip()]

    def _too_large(self) -> InputError:
        limit = f"{MOST_ENTITIES} entities, {DEEPEST} nested blocks, {MOST_POINTS} points"
        return InputError(self.file, "it is too large or nests too deep", f"at most {limit}")


def _matrix(full: Any) -> Array:
    """Return the plane's part of a transform of rows, as (3, 2): x', y' and the shift."""
    rows = np.array(list(full), dtype=np.float64).reshape(4, 4)
    return rows[[0, 1, 3]][:, :2]
