"""What is visible in an SVG drawing: attributes, ``style`` attributes and style sheets.

Style sheets are parsed and matched by the well-known packages tinycss2 and cssselect2.
"""

from collections.abc import Mapping
from typing import Any
from xml.etree.ElementTree import Element

import cssselect2
import tinycss2

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

FREE_SELECTORS = 50  # whatever they are to be matched with
MOST_MATCHES = 1_000_000  # selectors × elements
_PROPERTIES = (
    "display",
    "visibility",
    "opacity",
    "fill",
    "stroke",
    "stroke-width",
    "fill-opacity",
    "stroke-opacity",
)


class Style(Struct, frozen=True):
    """The inherited part of an element's style that decides whether it can be seen."""

    visibility: str = "visible"
    fill: str = "black"
    stroke: str = "none"
    stroke_width: str = "1"
    shown: bool = True

    @property
    def visible(self) -> bool:
        """Whether an outline with this style leaves any trace on the page."""
        if not self.shown or self.visibility in ("hidden", "collapse"):
            return False
        stroked = self.stroke != "none" and _number(self.stroke_width, 1.0) > 0
        return self.fill != "none" or stroked

    def below(self, own: Mapping[str, str]) -> "Style":
        """Return the style of a child with the properties `own`."""
        if not own:
            return self
        hidden = own.get("display", "").strip() == "none" or _number(own.get("opacity"), 1.0) == 0.0

        def value(key: str, old: str) -> str:
            new = own.get(key, "inherit").strip()
            return old if new == "inherit" else new

        fill, stroke = value("fill", self.fill), value("stroke", self.stroke)
        if _number(own.get("fill-opacity"), 1.0) == 0.0 or fill == "transparent":
            fill = "none"
        if _number(own.get("stroke-opacity"), 1.0) == 0.0 or stroke == "transparent":
            stroke = "none"
        return Style(
            value("visibility", self.visibility),
            fill,
            stroke,
            value("stroke-width", self.stroke_width),
            self.shown and not hidden,
        )


def _number(text: str | None, default: float) -> float:
    if text is None:
        return default
    text = text.strip()
    try:
        if text.endswith("%"):
            return float(text[:-1]) / 100
        return float(text.rstrip("abcdefghijklmnopqrstuvwxyz"))
    except ValueError:
        return default


class StyleSheets:
    """All properties that apply to each element, in the cascade's order."""

    def __init__(self, root: Element, file: str = "drawing") -> None:
        """Read the ``style`` elements below `root`.

        Raises:
            InputError: the sheets would take too long to apply.
        """
        self._file = file
        self._matched: dict[Element, list[tuple[Any, Any]]] = {}
        text = "\n".join("".join(e.itertext()) for e in root.iter() if _local(e.tag) == "style")
        if text.strip():
            self._match(root, text)

    def _match(self, root: Element, text: str) -> None:
        matcher = cssselect2.Matcher()
        count = 0
        elements = sum(1 for _ in root.iter())
        rules = tinycss2.parse_stylesheet(text, skip_comments=True, skip_whitespace=True)
        for rule in rules:
            if rule.type != "qualified-rule":
                continue
            try:
                selectors = cssselect2.compile_selector_list(rule.prelude)
            except cssselect2.SelectorError:
                continue
            count += len(selectors)
            if count > FREE_SELECTORS and count * elements > MOST_MATCHES:
                problem = f"its style sheet has {count} or more rules for {elements} elements"
                raise InputError(self._file, problem, "a plain style sheet")
            declarations = _declarations(rule.content)
            for selector in selectors:
                if selector.pseudo_element is None:
                    matcher.add_selector(selector, declarations)
        for wrapper in cssselect2.ElementWrapper.from_xml_root(root).iter_subtree():
            if found := matcher.match(wrapper):
                found.sort(key=lambda m: (m[0], m[1]))  # specificity, then order
                self._matched[wrapper.etree_element] = [(m[0], m[3]) for m in found]

    def of(self, element: Element) -> dict[str, str]:
        """Return the properties of one element: attribute, then sheets, then ``style``."""
        own = {k: element.attrib[k] for k in _PROPERTIES if k in element.attrib}
        for _, declarations in self._matched.get(element, ()):
            own.update(declarations)
        if "style" in element.attrib:
            own.update(_declarations(element.attrib["style"]))
        return own


def _declarations(content: Any) -> dict[str, str]:
    found = {}
    for d in tinycss2.parse_blocks_contents(content, skip_comments=True, skip_whitespace=True):
        if d.type == "declaration" and d.lower_name in _PROPERTIES:
            found[d.lower_name] = tinycss2.serialize(d.value).strip()
    return found


def _local(tag: object) -> str:
    return tag.rpartition("}")[2] if isinstance(tag, str) else ""
