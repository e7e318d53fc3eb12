"""Reading SVG patterns: closed outlines become pieces at true size.

Hostile XML is refused by defusedxml; `use` loops and floods are stopped by stated limits.
"""

import math
import re
from collections.abc import Iterator
from contextlib import contextmanager
from xml.etree.ElementTree import Element, ParseError

import defusedxml.ElementTree
import numpy as np
from defusedxml import DefusedXmlException

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curves import TOLERANCE
from ivory_quilt.core.geometry.shape import Array
from ivory_quilt.core.reading.assembly import assemble
from ivory_quilt.core.reading.drawn import RawPath, RawText
from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.reading.progress import ReadProgress, ReadReport, tell_nobody
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.files.damaged import DAMAGE, library_words
from ivory_quilt.files.svg_geometry import (
    MM_PER_PX,
    Affine,
    basic_shape,
    flatten_path,
    numbers,
    parse_transform,
    split_length,
    straight_shape,
    user_length,
    view_transform,
)
from ivory_quilt.files.svg_style import Style, StyleSheets

MOST_ELEMENTS = 100_000  # drawn elements
MOST_COPIES = 10_000  # `use` elements followed: copies of copies grow without bound
MOST_POINTS = 3_000_000
MOST_TEXTS = 5_000
MOST_ENTITIES = 100
DEEPEST = 60  # nested groups and `use`

_ENTITY = re.compile(rb"""<!ENTITY\s+(\w+)\s+["']([^"'<>]*)["']\s*>""")
_SVG = "{http://www.w3.org/2000/svg}"
_HREFS = ("href", "{http://www.w3.org/1999/xlink}href")
# How common vector editors name layers and shapes.
_LABELS = (
    "{http://www.inkscape.org/namespaces/inkscape}label",
    "{http://www.serif.com/}id",
    "data-name",
)
_SHAPES = {"rect", "circle", "ellipse", "line", "polyline", "polygon"}
_GROUPS = {"g", "a", "switch"}


class _Place(Struct, frozen=True):
    """Where the walk is: transform to mm, style, layer, viewport size in user units."""

    transform: Affine
    style: Style
    layer: str
    width: float
    height: float
    depth: int = 0


class _SvgPage(Struct, frozen=True):
    place: _Place
    needs_scale: bool
    note: ReadProblem | None


def read_svg(
    data: bytes,
    *,
    file: str = "drawing.svg",
    mm_per_unit: float | None = None,
    tolerance: float = TOLERANCE,
    report: ReadReport = tell_nobody,
) -> Reading:
    """Read the pieces of an SVG drawing.

    Args:
        data: the file's bytes.
        file: its name, for messages and the pieces' source.
        mm_per_unit: true size of one of the file's user units, for a file without size units.
        tolerance: how far, in mm, a flattened curve may leave the true one.
        report: is told how far it is.

    Returns:
        The reading; `needs_scale` is set (and one user unit counted as 1 mm) when the file has no
        size units and no `mm_per_unit` was given.

    Raises:
        InputError: not SVG, hostile, or beyond the stated limits.
    """
    root = _parse(data, file)
    page = _page(root, mm_per_unit, file)
    walk = _SvgWalk(root, tolerance, file, report)
    with _told_of(file):
        paths = walk.all_paths(page)
        reading = assemble(paths, file, texts=walk.texts, report=report)
    notes = (page.note,) if page.note else ()
    return Reading(reading.pieces, (*notes, *walk.problems, *reading.problems), page.needs_scale)


def svg_strokes(data: bytes, file: str) -> tuple[Array, ...]:
    """Read all strokes of an SVG drawing, mm, those that close with their first point repeated.

    Raises:
        InputError: not SVG, hostile, or beyond the stated limits.
    """
    root = _parse(data, file)
    with _told_of(file):
        walk = _SvgWalk(root, TOLERANCE, file, tell_nobody)
        paths = walk.all_paths(_page(root, None, file))
    return tuple(np.vstack((p.points, p.points[:1])) if p.closed else p.points for p in paths)


@contextmanager
def _told_of(file: str) -> Iterator[None]:
    """Let every refusal begin with the file's name."""
    try:
        yield
    except InputError as error:
        where = error.where if error.where.startswith(file) else f"{file}, {error.where}"
        raise InputError(where, error.problem, error.expected) from None


def _parse(data: bytes, file: str) -> Element:
    try:
        # Entities that are short text do no harm; those that grow or reach outside are refused.
        harmless = b"<!ENTITY" in data and _harmless_entities(data)
        root: Element = defusedxml.ElementTree.fromstring(data, forbid_entities=not harmless)
    except DefusedXmlException:
        raise InputError(
            file,
            "it declares XML entities or external references, which is refused for safety",
            "a plain SVG drawing",
        ) from None
    except (ParseError, ValueError, LookupError) as error:
        raise InputError(file, f"it is not readable XML ({error})", "an SVG drawing") from None
    if root.tag not in (f"{_SVG}svg", "svg"):
        raise InputError(file, f"its root is <{_local(root)}>", "an SVG drawing")
    return root


def _harmless_entities(data: bytes) -> bool:
    """Return whether all entities that a file declares are short plain text of its own."""
    declared = _ENTITY.findall(data)
    plain = all(b"&" not in text and len(text) <= 200 for _, text in declared)
    return plain and len(declared) == data.count(b"<!ENTITY") <= MOST_ENTITIES


def _page(root: Element, mm_per_unit: float | None, file: str) -> _SvgPage:
    """Return the root viewport with its transform to mm, y upwards from the page's foot."""
    width, height = split_length(root.get("width")), split_length(root.get("height"))
    box = numbers(root.get("viewBox"))
    box = box if len(box) == 4 and box[2] > 0 and box[3] > 0 else []
    sized = [s for s in (width, height) if s and s[1] not in ("", "%", "em", "ex")]
    note = None
    if mm_per_unit is not None or not sized:
        # One pixel of the page is one user unit.
        w = box[2] if box else (width[0] if width and width[1] == "" else 100.0)
        h = box[3] if box else (height[0] if height and height[1] == "" else 100.0)
        per_px = mm_per_unit or 1.0
    else:
        w, h = user_length(root.get("width"), math.nan), user_length(root.get("height"), math.nan)
        if not width or width[1] == "%":
            w = h * box[2] / box[3] if box else h
        if not height or height[1] == "%":
            h = w * box[3] / box[2] if box else w
        per_px = MM_PER_PX
        if all(unit == "px" for _, unit in sized):
            text = "the size is given in pixels; 96 pixels were taken as one inch"
            note = ReadProblem("pixel-size", text, (0.0, 0.0), "check one known length")
    if not (0 < w < 1e7 and 0 < h < 1e7):
        raise InputError(f"{file}, width and height", f"{w:g} × {h:g}", "a usable page size")
    fit = view_transform(box, w, h, root.get("preserveAspectRatio"))
    to_mm = Affine(per_px, 0, 0, -per_px, 0, h * per_px)
    style = Style()
    place = _Place(to_mm @ fit, style, "", box[2] if box else w, box[3] if box else h)
    return _SvgPage(place, not sized and mm_per_unit is None, note)


class _SvgWalk:
    """One walk over a drawing; yields every visible path in mm."""

    def __init__(self, root: Element, tolerance: float, file: str, report: ReadReport) -> None:
        self.root = root
        self.sheets = StyleSheets(root, file)
        self.report = report
        self.by_id = {e.get("id"): e for e in root.iter() if e.get("id")}
        self.tolerance = tolerance
        self.file = file
        self.problems: list[ReadProblem] = []
        self.texts: list[RawText] = []
        self.elements = 0
        self.copies = 0
        self.points = 0

    def all_paths(self, page: _SvgPage) -> list[RawPath]:
        """Return every path of the drawing."""
        # Endless numbers in damaged files stay endless here: such outlines are refused by name.
        with np.errstate(invalid="ignore", over="ignore"):
            return list(self.children(self.root, page.place))

    def children(self, element: Element, place: _Place) -> Iterator[RawPath]:
        """Yield the paths below an element, whose own style and transform `place` has not."""
        place = self._styled(element, place)
        for child in element:
            yield from self.element(child, place)

    def element(self, element: Element, place: _Place) -> Iterator[RawPath]:
        """Yield the paths of one element, its children's too."""
        kind = _local(element)
        self.elements += 1
        if self.elements > MOST_ELEMENTS or place.depth > DEEPEST:
            raise self._too_large()
        if self.elements % 256 == 0:
            self.report(ReadProgress(self.elements, 0, f"{self.elements} elements read"))
        if kind in _GROUPS:
            yield from self.children(element, self._inside_group(element, place))
        elif kind == "svg":
            yield from self.children(element, self._viewport(element, place, element.attrib))
        elif kind == "use":
            yield from self._use(element, place)
        elif kind == "path":
            yield from self._path(element, element.get("d", ""), place)
        elif kind in _SHAPES:
            straight = straight_shape(kind, element.attrib, place.width, place.height)
            if straight is not None:
                yield from self._path(element, straight, place)
            else:
                data = basic_shape(kind, element.attrib, place.width, place.height)
                yield from self._path(element, data or "", place)
        elif kind == "text" and self._styled(element, place).style.visible:
            self._text(element, place)
        elif kind == "image" and self._styled(element, place).style.visible:
            text = "a picture was left out: only outlines become pieces"
            at = self._at(self._moved(element, place))
            self.problems.append(ReadProblem("picture-ignored", text, at))

    def _too_large(self) -> InputError:
        limit = f"{MOST_ELEMENTS} elements, {MOST_COPIES} copies, {DEEPEST} levels"
        return InputError(self.file, "it is too large or nests too deep", f"at most {limit}")

    def _styled(self, element: Element, place: _Place) -> _Place:
        return replace(place, style=place.style.below(self.sheets.of(element)))

    def _moved(self, element: Element, place: _Place) -> _Place:
        own, odd = parse_transform(element.get("transform"))
        if odd:
            name = element.get("id") or _local(element)
            text = f"the transform '{odd[:60]}' of '{name}' cannot be read and was left out"
            self.problems.append(ReadProblem("bad-transform", text, self._at(place)))
        return replace(place, transform=place.transform @ own, depth=place.depth + 1)

    def _inside_group(self, element: Element, place: _Place) -> _Place:
        label = _label(element)
        place = self._moved(element, place)
        return replace(place, layer=label or place.layer)

    def _viewport(
        self, element: Element, place: _Place, size: dict[str, str], *, at_origin: bool = False
    ) -> _Place:
        """Enter a nested ``svg`` or ``symbol`` drawn at `size`."""
        w = user_length(size.get("width"), place.width, place.width)
        h = user_length(size.get("height"), place.height, place.height)
        x = 0.0 if at_origin else user_length(size.get("x"), 0.0, place.width)
        y = 0.0 if at_origin else user_length(size.get("y"), 0.0, place.height)
        box = numbers(element.get("viewBox"))
        fit = view_transform(box, w, h, element.get("preserveAspectRatio"))
        place = self._moved(element, place)
        sized = len(box) == 4 and box[2] > 0
        return replace(
            place,
            transform=place.transform @ Affine(e=x, f=y) @ fit,
            width=box[2] if sized else w,
            height=box[3] if sized else h,
        )

    def _use(self, element: Element, place: _Place) -> Iterator[RawPath]:
        href = next((element.get(k, "") for k in _HREFS if element.get(k)), "")
        self.copies += 1
        if self.copies > MOST_COPIES:
            raise self._too_large()
        target = self.by_id.get(href.removeprefix("#")) if href.startswith("#") else None
        if target is None:
            text = f"a copy refers to '{href}', which is not in the file"
            self.problems.append(ReadProblem("missing-copy", text, (0.0, 0.0)))
            return
        inside = self._styled(element, self._moved(element, place))
        x = user_length(element.get("x"), 0.0, place.width)
        y = user_length(element.get("y"), 0.0, place.height)
        inside = replace(
            inside,
            transform=inside.transform @ Affine(e=x, f=y),
        )
        if _local(target) == "symbol":
            view = self._viewport(target, inside, element.attrib, at_origin=True)
            yield from self.children(target, view)
        else:
            yield from self.element(target, inside)

    def _path(
        self, element: Element, drawn: str | tuple[Array, bool], place: _Place
    ) -> Iterator[RawPath]:
        """Yield what an element draws: path data, or corners and whether they close."""
        own = self._moved(element, place) if "transform" in element.attrib else place
        if not place.style.below(self.sheets.of(element)).visible or not len(drawn):
            return
        label = _label(element)
        name = label or element.get("id") or ""
        try:
            for points, closed in self._outlines(drawn, own.transform):
                self.points += len(points)
                if self.points > MOST_POINTS:
                    raise InputError(
                        self.file, "its curves are too many", f"at most {MOST_POINTS} points"
                    )
                yield RawPath(points, closed, own.layer, name)
        except InputError:
            raise
        except DAMAGE as error:
            text = f"path '{name}' cannot be read ({library_words(error)}) and was left out"
            self.problems.append(ReadProblem("bad-path", text, self._at(own)))

    def _outlines(
        self, drawn: str | tuple[Array, bool], place: Affine
    ) -> Iterator[tuple[Array, bool]]:
        if isinstance(drawn, str):
            return flatten_path(drawn, place, self.tolerance)
        corners, closed = drawn
        return iter([(place.apply(corners), closed)] if len(corners) else [])

    def _text(self, element: Element, place: _Place) -> None:
        """Keep words with the place where they begin; a line of its own begins anew."""
        transform = self._moved(element, place).transform
        lines = [element] + [e for e in element.iter() if _local(e) == "tspan" and e.get("y")]
        for k, line in enumerate(lines):
            words = "".join(line.itertext()) if len(lines) == 1 or k else line.text or ""
            x = user_length((line.get("x") or element.get("x") or "").split(" ")[0], 0.0)
            y = user_length((line.get("y") or element.get("y") or "").split(" ")[0], 0.0)
            if words.strip() and len(self.texts) < MOST_TEXTS:
                at = transform.apply(np.array([[x, y]]))[0]
                self.texts.append(RawText(words, (float(at[0]), float(at[1]))))

    @staticmethod
    def _at(place: _Place) -> tuple[float, float]:
        return (place.transform.e, place.transform.f)


def _label(element: Element) -> str:
    for key in _LABELS:
        if text := element.get(key):
            return text
    for child in element:
        if _local(child) == "title" and child.text:
            return child.text.strip()
    if _local(element) in _GROUPS:
        return element.get("id", "")
    return ""


def _local(element: Element) -> str:
    tag = element.tag
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""
