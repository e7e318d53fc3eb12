"""What must be at hand, and still good, before an evening begins: a dead can stops a day."""

from collections.abc import Iterable

from ivory_quilt.core.pattern.thing import ThingStanding
from ivory_quilt.core.plan.gluing import choice_of, joints_of
from ivory_quilt.core.plan.plan import Plan, UsedSheet, used_sheets
from ivory_quilt.core.record import Struct
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.joint_choice import GlueKind
from ivory_quilt.core.schedule.step import BenchStep, StepKind
from ivory_quilt.core.stock.consumables import ConsumableKind

TOOLS = {
    StepKind.PATTERN: "paper, scissors",
    StepKind.MOCKUP: "card or cheap foam, tape",
    StepKind.CUT: "knife, straight edge, mat, tape, pen",
    StepKind.BEVEL: "knife, a fresh edge for each bevel",
    StepKind.ROUGHEN: "sandpaper, dust mask",
    StepKind.SHUT: "heat gun, gloves",
    StepKind.FORM: "heat gun, gloves, the form",
    StepKind.COAT: "brush, respirator, open window",
    StepKind.FILL: "spatula, water",
    StepKind.SAND: "sandpaper 120 to 320, dust mask, eye protection",
    StepKind.CARVE: "gouge or rotary tool, dust mask",
    StepKind.BURN: "soldering iron, respirator, extraction",
    StepKind.TEXTURE: "heat gun, stamp or crumpled foil",
    StepKind.CLAY: "modelling tools, water",
    StepKind.DRAW: "paint pen or liner",
    StepKind.SEW: "needle or sewing machine, thread, pins",
    StepKind.WIPE: "cloth, cleaner",
    StepKind.PRIME: "brush, respirator, booth",
    StepKind.PAINT: "brush or gun, masks, respirator, booth",
    StepKind.SEAL: "brush, respirator, booth",
    StepKind.STRAP: "needle or sewing machine, punch",
}
"""What each kind of step needs in the hand; common practice, no source."""
NOT_HERE = "to buy"
USED = {
    StepKind.CUT: ConsumableKind.BLADE,
    StepKind.COAT: ConsumableKind.CEMENT,
    StepKind.FILL: ConsumableKind.FILLER,
    StepKind.CLAY: ConsumableKind.CLAY,
    StepKind.PRIME: ConsumableKind.PRIMER,
    StepKind.PAINT: ConsumableKind.PAINT,
    StepKind.SEAL: ConsumableKind.SEALER,
}


class AtHand(Struct, frozen=True):
    """One thing that must be at hand; `problem` says why it may not be."""

    words: str
    problem: str = ""


def at_hand(
    plan: Plan, choices: BenchChoices, steps: Iterable[BenchStep], today: str
) -> tuple[AtHand, ...]:
    """Return what some steps need, what is missing or old first.

    Args:
        plan: with the shop's consumables and the project's things.
        choices: which glue each joint takes.
        steps: of one evening.
        today: ISO date.
    """
    steps = tuple(steps)
    kinds = list(dict.fromkeys(s.kind for s in steps))
    made = [AtHand(TOOLS[k]) for k in kinds if k in TOOLS]
    if StepKind.CUT in kinds:
        made += _foam(plan, steps)
    glues = _glues(plan, choices, steps)
    for kind in kinds:
        if kind in USED and not (kind is StepKind.COAT and GlueKind.CEMENT not in glues):
            made.append(_used(plan, USED[kind], today))
    made += [AtHand(g.value) for g in glues if g is not GlueKind.CEMENT]
    pieces = {p for s in steps if s.kind is StepKind.STRAP for p in s.pieces}
    for thing in plan.project.things:
        if thing.piece in pieces or (pieces and not thing.piece):
            here = thing.standing is ThingStanding.ON_HAND
            when = f", arrives {thing.arrives}" if thing.arrives else ""
            problem = "" if here else f"{thing.standing.value}{when}"
            made.append(AtHand(f"{thing.count} × {thing.name}", problem))
    return tuple(sorted(dict.fromkeys(made), key=lambda a: not a.problem))


def cutting_at_hand(plan: Plan, sheet: UsedSheet, today: str) -> tuple[AtHand, ...]:
    """Return what the cutting of one sheet needs, foam first; `today` is an ISO date."""
    bevels = any(part.bevels for part in sheet.parts)
    kinds = (StepKind.CUT, StepKind.BEVEL) if bevels else (StepKind.CUT,)
    return (
        AtHand(sheet.item.name, "" if sheet.owned else NOT_HERE),
        _used(plan, ConsumableKind.BLADE, today),
        *(AtHand(TOOLS[k]) for k in kinds),
    )


def _foam(plan: Plan, steps: tuple[BenchStep, ...]) -> list[AtHand]:
    """Return the sheets that tonight's cuts are made from; those to be bought are not here."""
    made = []
    wanted = {s.id for s in steps if s.kind is StepKind.CUT}
    for foam in plan.foams:
        for sheet in used_sheets(foam, plan.stock):
            if sheet.cut_step in wanted:
                problem = "" if sheet.owned else NOT_HERE
                made.append(AtHand(sheet.item.name, problem))
    return made


def _glues(plan: Plan, choices: BenchChoices, steps: tuple[BenchStep, ...]) -> set[GlueKind]:
    """Return the glues that tonight's joints take."""
    tonight = {
        s.id.split(":", 1)[1].rsplit(":", 1)[0]
        for s in steps
        if s.kind in (StepKind.COAT, StepKind.JOIN, StepKind.WRAP) and s.id.count(":") >= 2
    }
    return {choice_of(j, choices).glue for j in joints_of(plan, choices) if j.id in tonight}


def _used(plan: Plan, kind: ConsumableKind, today: str) -> AtHand:
    found = [c for c in plan.stock.consumables if c.kind is kind]
    good = [c for c in found if c.left > 0 and not c.old(today)]
    if good:
        return AtHand(f"{good[0].name}, {good[0].left:g} {good[0].unit} left")
    old = next((c for c in found if c.left > 0), None)
    if old is not None:
        return AtHand(old.name, f"open since {old.opened}: try it on scrap first")
    name = found[0].name if found else kind.value
    return AtHand(name, "none at hand, by the shop's list")
