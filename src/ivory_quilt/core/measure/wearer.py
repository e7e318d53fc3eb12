"""Who will wear it: named girths and lengths with their date, method and uncertainty.

Where each is taken is common practice, no source.
"""

from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct, replace


class MeasureKind(StrEnum):
    """Whether a measure goes around the body or along it."""

    GIRTH = "girth"
    LENGTH = "length"


class MeasureSpot(Struct, frozen=True):
    """A measure that has a name in the trade.

    Attributes:
        how: one sentence: where the tape lies.
        usual: (low, high) mm; outside it the maker is asked to look again.
    """

    id: str
    title: str
    kind: MeasureKind
    how: str
    usual: tuple[float, float]


def _girth(ident: str, title: str, how: str, low: float, high: float) -> MeasureSpot:
    return MeasureSpot(ident, title, MeasureKind.GIRTH, how, (low, high))


def _length(ident: str, title: str, how: str, low: float, high: float) -> MeasureSpot:
    return MeasureSpot(ident, title, MeasureKind.LENGTH, how, (low, high))


SPOTS: tuple[MeasureSpot, ...] = (
    _length("height", "Height", "Barefoot, from the floor to the crown.", 900, 2300),
    _girth("head", "Head", "Around the brow and the widest place behind.", 450, 680),
    _length("head-height", "Head height", "From the chin to the crown.", 160, 300),
    _girth("neck", "Neck", "Around its foot, where a collar lies.", 250, 560),
    _length("shoulders", "Shoulder width", "Across the back, from point to point.", 280, 600),
    _girth("chest", "Chest", "Around the fullest place, arms down.", 550, 1600),
    _girth("waist", "Waist", "Around the narrowest place, breathing out.", 450, 1600),
    _girth("hip", "Hips", "Around the fullest place.", 600, 1700),
    _length("torso", "Torso", "Down the back, from the neck to the waist.", 280, 600),
    _girth("upper-arm", "Upper arm", "Around the fullest place, bent.", 180, 600),
    _girth("elbow", "Elbow", "Around the elbow, bent.", 180, 500),
    _girth("forearm", "Forearm", "Around the fullest place, fist closed.", 160, 480),
    _girth("wrist", "Wrist", "Around the bone.", 110, 280),
    _length(
        "forearm-hand", "Forearm and hand", "Elbow to fingertip; one can take it alone.", 280, 600
    ),
    _length("arm", "Arm", "From the shoulder's point to the wrist, slightly bent.", 380, 800),
    _girth("thigh", "Thigh", "Around the fullest place.", 350, 1000),
    _girth("knee", "Knee", "Around the middle, bent.", 250, 700),
    _girth("calf", "Calf", "Around the fullest place.", 220, 650),
    _girth("ankle", "Ankle", "Around the bone, with the boot if it is worn.", 160, 450),
    _length("knee-height", "Knee height", "From the floor to the middle of the knee.", 300, 700),
    _length("leg", "Inside leg", "From the crotch to the floor.", 500, 1100),
    _length("shoe", "Shoe length", "The sole, from heel to toe.", 180, 400),
)


class Measure(Struct, frozen=True):
    """One measure of one wearer.

    Attributes:
        spot: id of a `MeasureSpot`.
        value: mm.
        uncertainty: mm, either way.
        date: ISO date, or empty.
        method: how it was taken, in the maker's words.
    """

    spot: str
    value: float
    uncertainty: float = 5.0
    date: str = ""
    method: str = ""

    def __post_init__(self) -> None:
        title = spot(self.spot).title
        if not 10 <= self.value <= 3000:
            raise InputError(title, f"{self.value:g} mm", "10 to 3000 mm")
        if not 0 <= self.uncertainty <= 200:
            raise InputError(f"{title}, uncertainty", f"{self.uncertainty:g} mm", "0 to 200 mm")

    @property
    def unusual(self) -> str:
        """A sentence when the value is far from what bodies have, else empty."""
        low, high = spot(self.spot).usual
        if low <= self.value <= high:
            return ""
        return f"Most are between {low:g} and {high:g} mm: measure again?"


class Wearer(Struct, frozen=True):
    """One person of a troupe."""

    id: str
    name: str
    measures: tuple[Measure, ...] = ()

    def __post_init__(self) -> None:
        if not self.id or not self.name.strip():
            raise InputError("wearer", "there is no name", "a name")

    def measure(self, spot_id: str) -> Measure | None:
        """Return a measure of this wearer, or None."""
        return next((m for m in self.measures if m.spot == spot_id), None)

    def with_measure(self, measure: Measure) -> "Wearer":
        """Return the wearer with a measure put in, in the order of the sheet."""
        others = [m for m in self.measures if m.spot != measure.spot]
        order = [s.id for s in SPOTS]
        return replace(
            self, measures=tuple(sorted([*others, measure], key=lambda m: order.index(m.spot)))
        )

    def without(self, spot_id: str) -> "Wearer":
        """Return the wearer without one measure."""
        return replace(self, measures=tuple(m for m in self.measures if m.spot != spot_id))


def spot(ident: str) -> MeasureSpot:
    """Return a named place by its id.

    Raises:
        InputError: there is none.
    """
    for found in SPOTS:
        if found.id == ident:
            return found
    raise InputError("measure", f"no place '{ident}'", ", ".join(s.id for s in SPOTS))
