"""What a word written on a pattern says about a piece: "cut 2", "6mm", "L", "fold".

The words are those makers write on templates (common practice, no source).
"""

import re

from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.core.record import Struct, replace

_MM = 25.4
_COUNT = re.compile(
    r"\b(?:cut|make|qty|quantity|need)\s*:?\s*(\d{1,3})(?:\s*x\b)?|(?<![\d.,/])(\d{1,3})\s*[x×](?!\s*\d)"
    r"|(?<![\w.])(?<!\d\s)[x×]\s*(\d{1,3})\b|\b(\d{1,3})\s*(?:off|pcs|pieces)\b"
    # "4x 5mm": as many of that thickness, where it can be one; "4 x 5 mm" is a size.
    r"|(?<![\d.,/])(\d{1,2})[x×](?=\s+(?:1\d|20|\d)(?:[.,]\d+)?\s*mm\b)",
    re.I,
)
_PAIR = re.compile(
    r"\b(pairs?|mirror(?:ed|s|\s+image)?|flipped|(?:\d+|one)\s+(?:of\s+)?each(?:\s+(?:hand|side))?"
    r"|l\s*[/+&]\s*r|left\s*(?:and|&|\+|/)\s*right"
    r"|(?:(?:cut|make|need)\s+)?(?:1|one)\s+(?:left|l)\s*[,+&/]?\s*(?:and\s+)?(?:1|one)\s+(?:right|r))\b",
    re.I,
)
_EACH = re.compile(
    r"\b(?:(?:cut|make|need)\s+)?(\d{1,3}|one)\s+(?:of\s+)?each(?:\s+(?:hand|side))?\b", re.I
)
_LEFT = re.compile(r"\b(left|lh)\b|(?<![\w'])L(?![\w'])", re.I)
_RIGHT = re.compile(r"\b(right|rh)\b|(?<![\w'])R(?![\w'])", re.I)
_FOLD = re.compile(r"\b(on (?:the )?fold|fold)\b", re.I)
_THICK = re.compile(r"(?<![\d.,/])(\d{1,2}(?:[.,]\d+)?)\s*mm\b", re.I)
_INCH = re.compile(r"(?<![\d.,/])(\d+)\s*/\s*(\d+)\s*(?:in\b|inch\b|\")", re.I)
_THINNEST, _THICKEST = 0.5, 60.0


class Hints(Struct, frozen=True):
    """What a piece's writing says; None where it says nothing."""

    quantity: int | None = None
    thickness: float | None = None
    hand: Hand | None = None
    on_fold: bool = False
    name: str = ""

    def __bool__(self) -> bool:
        """Return whether anything is said."""
        return self != Hints()

    @property
    def sure(self) -> bool:
        """Whether it says what no mere name does: how many, how thick, or that it is a pair."""
        return self.quantity is not None or self.thickness is not None or self.hand is Hand.PAIR

    def with_more(self, other: "Hints") -> "Hints":
        """Return both, the first to say a thing being right."""
        return replace(
            self,
            quantity=self.quantity if self.quantity is not None else other.quantity,
            thickness=self.thickness if self.thickness is not None else other.thickness,
            hand=self.hand if self.hand is not None else other.hand,
            on_fold=self.on_fold or other.on_fold,
            name=self.name or other.name,
        )

    def words(self) -> str:
        """Return the hints as a maker would say them: "2 ×, 6 mm, left"."""
        said = []
        if self.quantity is not None:
            said.append(f"{self.quantity} ×")
        if self.thickness is not None:
            said.append(f"{self.thickness:g} mm")
        if self.hand is not None:
            said.append("a pair" if self.hand is Hand.PAIR else self.hand.value)
        if self.on_fold:
            said.append("on the fold")
        return ", ".join(said)


NO_HINTS = Hints()


def read_hints(text: str) -> Hints:
    """Return what a piece of writing says; words that say nothing else are a name."""
    text = " ".join(text.split())[:200]
    found = Hints(_quantity(text), _thickness(text), _hand(text), bool(_FOLD.search(text)))
    rest = text
    for pattern in (_EACH, _PAIR, _THICK, _INCH, _COUNT, _FOLD, _LEFT, _RIGHT):
        rest = pattern.sub(" ", rest)
    rest = " ".join(re.sub(r"[,;:()\[\]·|–—-]+", " ", rest).split())
    letters = sum(c.isalpha() for c in rest)
    return replace(found, name=rest) if letters >= 3 and letters > len(rest) / 2 else found


def _quantity(text: str) -> int | None:
    if each := _EACH.search(text):  # of each hand: twice as many parts
        return 2 * (1 if each.group(1).lower() == "one" else min(int(each.group(1)), 250))
    match = _COUNT.search(text)
    if match is None:
        return None
    count = int(next(g for g in match.groups() if g))
    return count if 1 <= count <= 500 else None


def _thickness(text: str) -> float | None:
    if match := _INCH.search(text):
        below = float(match.group(2))
        value = _MM * float(match.group(1)) / below if below else 0.0
    elif match := _THICK.search(text):
        value = float(match.group(1).replace(",", "."))
    else:
        return None
    return value if _THINNEST <= value <= _THICKEST else None


def _hand(text: str) -> Hand | None:
    if _PAIR.search(text):
        return Hand.PAIR
    left, right = _LEFT.search(text), _RIGHT.search(text)
    if left and right:
        return Hand.PAIR
    return Hand.LEFT if left else Hand.RIGHT if right else None
