"""Making a thickness that is not at hand: layers laminated, a thicker sheet split."""

from collections.abc import Sequence
from itertools import combinations_with_replacement

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.solids import above_zero
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.record import Struct

EXACT = 0.05  # mm: foam is no truer (from memory, no source)
# Of the wanted thickness that another may differ by, its allowances changed (from memory, no
# source: 5 mm is taken for 6, 4 mm is not).
NEAR = 0.15
MOST_LAYERS, MOST_SPLITS = 4, 4  # our choice: more joints or cuts nobody makes
MOST_KINDS = 40  # our choice: keeps the search short


class ThicknessWay(Struct, frozen=True):
    """One way to a thickness.

    Attributes:
        layers: what is glued face to face, mm each, thick first.
        split: into how many the one layer is split; 1 for not at all.
    """

    layers: tuple[float, ...]
    split: int = 1

    @property
    def thickness(self) -> float:
        """What comes of it, mm."""
        return sum(self.layers) / self.split

    @property
    def words(self) -> str:
        """It in words: "5 + 5", "10 split in 2"."""
        parts = " + ".join(f"{t:g}" for t in self.layers)
        return f"{parts} split in {self.split}" if self.split > 1 else parts


def ways_to(wanted: float, available: Sequence[float]) -> tuple[ThicknessWay, ...]:
    """Return every way to a thickness: as it is, laminated, split; fewest glue faces first.

    A single thickness that is near (15 %) is among them when nothing exact is at hand alone.

    Raises:
        InputError: a thickness makes no sense, or too many kinds.
    """
    above_zero("wanted", wanted)
    kinds = sorted({round(above_zero("available", t), 3) for t in available}, reverse=True)
    if not 1 <= len(kinds) <= MOST_KINDS:
        raise InputError("available", f"{len(kinds)} thicknesses", f"1 to {MOST_KINDS}")
    found = [
        ThicknessWay(layers)
        for n in range(1, MOST_LAYERS + 1)
        for layers in combinations_with_replacement(kinds, n)
        if abs(sum(layers) - wanted) <= EXACT
    ]
    for n in range(2, MOST_SPLITS + 1):
        found += [ThicknessWay((t,), n) for t in kinds if abs(t / n - wanted) <= EXACT]
    if not any(len(w.layers) == 1 and w.split == 1 for w in found):
        near = [t for t in kinds if abs(t - wanted) <= NEAR * wanted]
        found += [ThicknessWay((t,)) for t in sorted(near, key=lambda t: abs(t - wanted))[:2]]

    def trouble(way: ThicknessWay) -> tuple[bool, int]:
        """Exact before near, then few joins; a split is as much work as two."""
        return abs(way.thickness - wanted) > EXACT, len(way.layers) + 2 * (way.split - 1)

    return tuple(sorted(found, key=trouble))


def make_thickness(wanted: float, available: tuple[float, ...]) -> Reckoning:
    """Reckon all ways to a thickness.

    Raises:
        InputError: see `ways_to`.
    """
    found = ways_to(wanted, available)
    steps = tuple(
        Step(
            "other thickness, allowances changed"
            if abs(w.thickness - wanted) > EXACT
            else "split with a long blade, one rough face"
            if w.split > 1
            else "as it is"
            if len(w.layers) == 1
            else f"{len(w.layers) - 1} glue faces",
            w.words,
            w.thickness,
            "mm",
        )
        for w in found
    )
    return Reckoning(
        "make-thickness",
        {"wanted": wanted},
        {"ways": tuple(w.words for w in found)},
        steps,
        "sums and equal parts; laminating and splitting are common practice, no source",
        () if found else ("No way from these: buy another thickness.",),
    )
