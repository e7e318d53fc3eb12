"""Simpler parts: what one piece could do without, where that saves the most hands."""

from collections import defaultdict
from collections.abc import Iterator

from ivory_quilt.core.document.project import change_piece
from ivory_quilt.core.pattern.build import SQUARE, Build, ProfileKind
from ivory_quilt.core.plan.plan import Plan, derive
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.step import BenchSteps, StepKind

MOST_PIECES = 4
OWN_WORK = frozenset(
    {StepKind.BEVEL, StepKind.FORM, StepKind.COAT, StepKind.JOIN, StepKind.SET, StepKind.WRAP}
)


class SimplerPart(Struct, frozen=True):
    """One piece made with less: in words, how it would be built, and the plan of it.

    The plan keeps its sheets: what is saved in cutting is not counted.
    """

    words: str
    piece: str
    build: Build
    plan: Plan


def simpler_parts(plan: Plan, steps: BenchSteps) -> Iterator[SimplerPart]:
    """Yield simpler ways for the pieces that take the most minutes of their own."""
    minutes: dict[str, int] = defaultdict(int)
    for step in steps.steps:
        if step.kind in OWN_WORK and len(step.pieces) == 1:
            minutes[step.pieces[0]] += step.minutes
    known = {p.id: p for p in plan.project.pieces}
    ranked = sorted((i for i in minutes if i in known), key=lambda i: (-minutes[i], i))
    tried = 0
    for ident in ranked:
        ways = tuple(_ways(known[ident].build))
        if not ways:
            continue
        for words, build in ways:
            project = change_piece(plan.project, ident, build=build)
            made = derive(project, plan.shop or plan.stock, plan.proposals, plan)
            kept = replace(made, foams=plan.foams, ledger=plan.ledger)
            yield SimplerPart(f"{known[ident].name} {words}", ident, build, kept)
        tried += 1
        if tried == MOST_PIECES:
            return


def _ways(build: Build) -> Iterator[tuple[str, Build]]:
    """Yield what a piece can do without and still be the same on the body."""
    if build.layers:
        words = "with one layer less" if len(build.layers) > 1 else "without its layer"
        yield words, replace(build, layers=build.layers[:-1])
    if build.wrap is not None:
        yield "without its edge wrap", replace(build, wrap=None)
    shaped = [e for e in build.edges if e.profile.kind not in (ProfileKind.MEET, SQUARE.kind)]
    if shaped:
        left = tuple(e for e in build.edges if e not in shaped)
        yield "with square edges", replace(build, edges=left)
