"""When things are here, and what would end the work sooner."""

from datetime import date, datetime

from ivory_quilt.core.pattern.thing import ThingStanding
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.gluing import choice_of, joints_of, proposal_of
from ivory_quilt.core.plan.plan import Plan, used_sheets
from ivory_quilt.core.plan.simpler import SimplerPart, simpler_parts
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.bench_choices import BenchChoices, FormOrder, JoinSchool
from ivory_quilt.core.schedule.bench_schedule import DAY, bench_job
from ivory_quilt.core.schedule.joint_choice import JointChoice
from ivory_quilt.core.schedule.solve import schedule_at_once
from ivory_quilt.core.schedule.step import BenchSteps
from ivory_quilt.core.units import counted


class Help(Struct, frozen=True):
    """Something that would end the work sooner: in words, and by how many minutes."""

    words: str
    choices: BenchChoices | None
    """What the maker would decide; None where it is not the maker's to decide here."""
    gained: int
    simpler: SimplerPart | None = None
    """A piece that is made with less."""


def arrivals(plan: Plan, midnight: datetime, now: int) -> dict[str, int]:
    """Return before when things are not here: "foam" to buy, and by piece what it waits for."""
    days = {s.id: s.days for s in plan.stock.suppliers}
    wait = max(
        (
            days.get(sheet.item.supplier, 0)
            for foam in plan.foams
            for sheet in used_sheets(foam, plan.stock)
            if not sheet.owned
        ),
        default=0,
    )
    found = {"foam": (now // DAY + wait) * DAY} if wait else {}
    for thing in plan.project.things:
        if thing.standing is ThingStanding.ON_HAND or not thing.arrives:
            continue
        here = datetime.combine(date.fromisoformat(thing.arrives), datetime.min.time())
        minutes = int((here - midnight).total_seconds() // 60)
        pieces = [thing.piece] if thing.piece else [p.id for p in plan.project.pieces[:1]]
        for piece in pieces:
            found[piece] = max(minutes, found.get(piece, 0))
    return found


def quicker_suppliers(plan: Plan, wait: int) -> list[tuple[str, int]]:
    """Return who sells all foams that are bought and brings them in less than `wait` days."""
    bought = {
        sheet.foam.foam
        for foam in plan.foams
        for sheet in used_sheets(foam, plan.stock)
        if not sheet.owned
    }
    found = []
    for supplier in plan.stock.suppliers:
        sold = {
            i.foam
            for i in plan.stock.items
            if i.supplier == supplier.id and (i.price is not None or i.offered)
        }
        if bought and bought <= sold and supplier.days < wait:
            found.append((supplier.name or supplier.id, supplier.days))
    return sorted(found, key=lambda f: f[1])


def ways_to_help(plan: Plan, choices: BenchChoices, base: date, now: int, end: int) -> list[Help]:
    """Return what would end the work sooner, the most first; each as far as one look tells."""
    ways = decisions(plan, choices)
    midnight = datetime.combine(base, datetime.min.time())
    ready = arrivals(plan, midnight, now)
    found = []

    def ends(other: BenchChoices, ready: dict[str, int], plan: Plan = plan) -> int:
        steps: BenchSteps = bench_steps(plan, other, ready)
        # Ticks without their moment: what is drying now dries in every way alike.
        done = dict.fromkeys(other.done_ids, -1)
        result = schedule_at_once(bench_job(steps, other, base.weekday(), now, done))
        return result.makespan if result is not None else end

    for words, other in ways:
        found.append(Help(words, other, end - ends(other, ready)))
    for part in simpler_parts(plan, bench_steps(plan, choices, ready)):
        gained = end - ends(choices, ready, part.plan)
        found.append(Help(part.words, None, gained, part))
    for name, days in quicker_suppliers(plan, (ready.get("foam", 0) - now) // DAY):
        sooner = {**ready, "foam": (now // DAY + days) * DAY}
        words = f"all foam from {name}, here in {counted(days, 'day')}"
        found.append(Help(words, None, end - ends(choices, sooner)))
    if "foam" in ready:
        sooner = {k: v for k, v in ready.items() if k != "foam"}
        found.append(Help("foam that is here at once", None, end - ends(choices, sooner)))
    late = [t for t in plan.project.things if t.arrives and t.standing is not ThingStanding.ON_HAND]
    if late:
        last = max(late, key=lambda t: t.arrives)
        others = replace(
            plan.project, things=tuple(t for t in plan.project.things if t is not last)
        )
        sooner = arrivals(replace(plan, project=others), midnight, now)
        words = f"{last.name} before {last.arrives}"
        found.append(Help(words, None, end - ends(choices, sooner)))
    return sorted((h for h in found if h.gained > 0), key=lambda h: -h.gained)


def decisions(plan: Plan, choices: BenchChoices) -> list[tuple[str, BenchChoices]]:
    """Return what the maker can decide otherwise at the bench, in words."""
    ways = [("one more pair of hands", replace(choices, people=choices.people + 1))]
    ways.append(("one more former with clamps", replace(choices, forms=choices.forms + 1)))
    if choices.paint > 1:
        ways.append(("one coat of paint less", replace(choices, paint=choices.paint - 1)))
    if choices.primer > 1:
        ways.append(("one coat of primer less", replace(choices, primer=choices.primer - 1)))
    if choices.sealer:
        ways.append(("no sealer", replace(choices, sealer=0)))
    if choices.filled:
        ways.append(("seams hidden, not filled", choices.with_filled(filled=False)))
    if choices.join is JoinSchool.DRY:
        ways.append(("joined while still tacky", replace(choices, join=JoinSchool.TACKY)))
    if choices.order is FormOrder.FORM_FIRST:
        ways.append(("glued flat, then formed", replace(choices, order=FormOrder.GLUE_FIRST)))
    quicker = choices
    for joint in joints_of(plan, choices):
        offer = proposal_of(joint)
        filled = offer.filled and choice_of(joint, choices).filled
        quicker = quicker.with_joint(JointChoice(joint.id, offer.glue, filled))
    ways.append(("each joint with the glue that is proposed", quicker))
    return ways
