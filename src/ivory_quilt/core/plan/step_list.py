"""Steps as they are derived: each added after others, with what the journal knows of its pace."""

import math
from collections import defaultdict
from collections.abc import Iterable

from ivory_quilt.core.schedule.schedule_job import Follow
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps, StepKind
from ivory_quilt.core.stock.work_rates import Rates

PACED_AS = {
    StepKind.COAT: StepKind.JOIN,
    StepKind.WRAP: StepKind.JOIN,
    StepKind.PRIME: StepKind.PAINT,
    StepKind.SEAL: StepKind.PAINT,
}
"""What is so alike that the journal learns it as one."""
BOOTHED = (StepKind.PRIME, StepKind.PAINT, StepKind.SEAL)


def paced_as(kind: StepKind) -> StepKind:
    """Return the kind of step as which the journal learns this one."""
    return PACED_AS.get(kind, kind)


class StepList:
    """Steps, what follows what, and which came last for each piece."""

    def __init__(self, rates: Rates) -> None:
        """Take as long as `rates` say."""
        self.rates = rates
        self.steps: list[BenchStep] = []
        self.follows: list[Follow] = []
        self.last: dict[str, list[str]] = defaultdict(list)
        """Of each piece: the steps that come before whatever is done to it next."""

    def add(
        self,
        ident: str,
        kind: StepKind,
        title: str,
        minutes: float,
        pieces: Iterable[str],
        *,
        after: Iterable[str] = (),
        least: int = 0,
        ready: int = 0,
    ) -> str:
        """Add a step after others; nothing takes less than a minute."""
        whole = max(1, math.ceil(minutes * self.rates.pace(paced_as(kind).value)))
        booth = kind in BOOTHED
        self.steps.append(BenchStep(ident, kind, title, whole, tuple(pieces), booth, ready))
        self.follows += [Follow(ident, before, least) for before in dict.fromkeys(after)]
        return ident

    def made(self) -> BenchSteps:
        """Return all steps."""
        return BenchSteps(tuple(self.steps), tuple(self.follows))
