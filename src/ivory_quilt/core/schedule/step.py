"""A step at the bench: what is done, for how long, with what, and what to beware of."""

from enum import StrEnum

from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.schedule_job import Follow


class StepKind(StrEnum):
    """Kinds of steps, in the order in which a piece meets them."""

    PATTERN = "templates"
    MOCKUP = "mock-up"
    CUT = "cut"
    BEVEL = "bevel"
    CARVE = "carve"
    BURN = "burn lines"
    TEXTURE = "texture"
    ROUGHEN = "roughen"
    SHUT = "seal faces by heat"
    FORM = "form"
    COAT = "coat"
    JOIN = "join"
    SET = "take off the form"
    WRAP = "wrap"
    SEW = "sew"
    FIT = "trial fit"
    CLAY = "clay"
    FILL = "fill"
    SAND = "sand"
    WIPE = "wipe marks"
    PRIME = "prime"
    PAINT = "paint"
    DRAW = "draw lines"
    SEAL = "seal"
    STRAP = "straps and fixings"
    PACK = "pack"
    OTHER = "other"


LABEL = "The product's label, its safety data sheet and local rules decide."
KNIFE = "Cut away from yourself, with a fresh blade, on a mat."
HEAT = "Hot foam burns skin: gloves. Ventilate well, and never let foam smoke."
SOLVENT = "Respirator with the right cartridge and real ventilation; no flame, no sparks."
FUME = (
    "Burning foam gives off harmful fumes: outdoors or under extraction, respirator with the right "
    "cartridge. The iron burns skin; never leave it on."
)
NEEDLE = "Keep fingers from under the needle; unplug the machine to thread it."
DUST = "Dust mask and eye protection."
CAUTIONS = {
    StepKind.CUT: KNIFE,
    StepKind.BEVEL: KNIFE,
    StepKind.CARVE: f"{KNIFE} {DUST}",
    StepKind.BURN: f"{FUME} {LABEL}",
    StepKind.TEXTURE: HEAT,
    StepKind.ROUGHEN: DUST,
    StepKind.SHUT: HEAT,
    StepKind.FORM: HEAT,
    StepKind.COAT: f"{SOLVENT} {LABEL}",
    StepKind.SAND: DUST,
    StepKind.SEW: NEEDLE,
    StepKind.PRIME: f"{SOLVENT} {LABEL}",
    StepKind.PAINT: f"{SOLVENT} {LABEL}",
    StepKind.SEAL: f"{SOLVENT} {LABEL}",
}
"""What to beware of: never dismissed for good."""


class BenchStep(Struct, frozen=True):
    """One step.

    Attributes:
        id: stays the same as long as what it is done to does.
        title: what is done to what.
        minutes: of hands.
        booth: whether it needs the booth.
        pieces: ids of the pieces that it is done to.
        ready: minutes from the start before which what it needs is not here.
        hands: how many people it takes, of those who are there.
    """

    id: str
    kind: StepKind
    title: str
    minutes: int
    pieces: tuple[str, ...] = ()
    booth: bool = False
    ready: int = 0
    hands: int = 1

    @property
    def caution(self) -> str:
        """What to beware of; empty for nothing special."""
        return CAUTIONS.get(self.kind, "")


class BenchSteps(Struct, frozen=True):
    """All steps, and which follows which."""

    steps: tuple[BenchStep, ...]
    follows: tuple[Follow, ...]
