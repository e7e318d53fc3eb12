"""An entry of the journal: what happened at the bench or on the body. Data only."""

import math
import re
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct

MOMENT = re.compile(r"\d{4}-\d\d-\d\dT\d\d:\d\d(:\d\d(\.\d{1,6})?)?")
LONGEST_TEXT = 4000
MOST_PHOTOS = 40


class EntryKind(StrEnum):
    """What an entry is about."""

    TIME = "time taken"
    CUT = "parts cut"
    SPOILED = "parts spoiled"
    FOAM = "foam used"
    CEMENT = "cement used"
    THICKNESS = "thickness measured"
    NEUTRAL = "ring closed"
    DISH = "dish tried"
    TONE = "tone mixed"
    FIT = "fit"
    WORN = "worn"
    TROUBLE = "slipped, pressed or broke"
    PACKED = "how it packed"
    NEXT = "next time"
    NOTE = "note"
    REFERENCE = "reference picture"


UNITS = {
    EntryKind.TIME: "min",
    EntryKind.CUT: "parts",
    EntryKind.SPOILED: "parts",
    EntryKind.FOAM: "m²",
    EntryKind.CEMENT: "mL",
    EntryKind.THICKNESS: "mm",
    EntryKind.NEUTRAL: "of the thickness",
    EntryKind.DISH: "% strain",
    EntryKind.WORN: "h",
}
"""What an entry's value is in; others have none."""


class JournalEntry(Struct, frozen=True):
    """One entry.

    Attributes:
        project: id of the project; `project_name` as it was called then.
        moment: ISO, by the clock on the wall.
        piece: id of the piece that it is about; empty for the suit.
        about: the kind of step, the material, the tone: what `value` is of.
        value: how much, in the unit of its kind.
        planned: how much the plan had said, by rates that nothing was learned of; 0: nothing.
        went_well: of what was tried, whether it held.
        photos: names of files in the folder of photos beside the project.
    """

    id: str
    project: str
    moment: str
    kind: EntryKind
    words: str = ""
    project_name: str = ""
    piece: str = ""
    step: str = ""
    about: str = ""
    value: float = 0.0
    planned: float = 0.0
    went_well: bool = True
    photos: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        where = f"entry '{self.kind.value}'"
        if not MOMENT.fullmatch(self.moment):
            raise InputError(where, f"at '{self.moment}'", "a moment such as 2027-03-01T19:30:00")
        for name, value in (("value", self.value), ("planned", self.planned)):
            if not (math.isfinite(value) and 0 <= value <= 1e7):
                raise InputError(f"{where}, {name}", f"{value:g}", "0 or more")
        if len(self.words) > LONGEST_TEXT:
            expected = f"at most {LONGEST_TEXT}"
            raise InputError(where, f"{len(self.words)} letters", expected)
        if len(self.photos) > MOST_PHOTOS:
            raise InputError(where, f"{len(self.photos)} photos", f"at most {MOST_PHOTOS}")

    @property
    def unit(self) -> str:
        """What its value is in; empty for none."""
        return UNITS.get(self.kind, "")

    def holds(self, words: str) -> bool:
        """Return whether every word stands somewhere in the entry, capitals or not."""
        text = " ".join(
            (
                self.words,
                self.kind.value,
                self.about,
                self.piece,
                self.project_name,
                self.moment[:10],
            )
        ).casefold()
        return all(w in text for w in words.casefold().split())
