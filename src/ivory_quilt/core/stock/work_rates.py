"""How long hands take, and how often a part is spoiled: from memory until the journal knows."""

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct, replace

FASTEST, SLOWEST = 0.05, 20.0


class Rates(Struct, frozen=True):
    """Minutes that hands take; from memory, common practice, no source.

    Attributes:
        trace: a part, to trace and mark it.
        cut: a metre of square, straight cut.
        bevel: a metre of bevelled cut more.
        form: a part that is rolled, coned, bent or shaped by eye.
        dish: a part that is dished.
        seam: a metre of seam, both edges brushed and joined.
        laminate: a square metre of glued faces.
        coat: a square metre of one coat.
        paces: what the journal has learned of a kind of step: its word, and how many times as
            long as these rates it takes.
        spoiled: share of parts that are spoiled in cutting, 0 to 1.
        curve: a metre of curved cut more.
    """

    trace: float = 1.0
    cut: float = 3.0
    bevel: float = 4.0
    form: float = 6.0
    dish: float = 12.0
    seam: float = 8.0
    laminate: float = 25.0
    coat: float = 20.0
    paces: tuple[tuple[str, float], ...] = ()
    spoiled: float = 0.0
    curve: float = 1.5

    def __post_init__(self) -> None:
        for kind, pace in self.paces:
            if not FASTEST <= pace <= SLOWEST:
                expected = f"{FASTEST:g} to {SLOWEST:g} times as long"
                raise InputError(f"rate of '{kind}'", f"{pace:g} times as long", expected)
        if not 0 <= self.spoiled < 1:
            raise InputError("spoiled parts", f"a share of {self.spoiled:g}", "0 up to 1")

    def pace(self, kind: str) -> float:
        """Return how many times as long as the plain rates a kind of step takes."""
        return dict(self.paces).get(kind, 1.0)

    @property
    def cut_again(self) -> float:
        """How often a part is cut on the whole until it is right."""
        return 1.0 / (1.0 - self.spoiled)

    def with_pace(self, kind: str, pace: float) -> "Rates":
        """Return the rates with what was learned of one kind of step."""
        others = {k: v for k, v in self.paces if k != kind}
        return replace(self, paces=tuple(sorted({**others, kind: pace}.items())))


USUAL_RATES = Rates()
