"""Joints as steps: brushed and joined in stages inside both windows, or in seconds."""

import math

from ivory_quilt.core.plan.gluing import GluedJoint, choice_of
from ivory_quilt.core.plan.step_list import StepList
from ivory_quilt.core.schedule.bench_choices import BenchChoices
from ivory_quilt.core.schedule.joint_choice import TACK, GlueKind
from ivory_quilt.core.schedule.schedule_job import Follow
from ivory_quilt.core.schedule.step import StepKind
from ivory_quilt.core.units import day_number

OPEN = 3  # minutes in which brushed faces can be joined, on a fresh can: common practice
LEAST_OPEN, AGEING = 1.0, 0.2  # minutes; share of the open time that a month takes off
BRUSH = 4.0  # minutes for a metre of seam, or a tenth of a square metre, both faces
BRUSHING = 3.0  # minutes that brushing a stage may take before its start dries
SOAKED = 10  # minutes until a porous face takes its second coat
QUICK = 2.5  # minutes for a metre with glue that holds in seconds, from memory
SPRAYED = 1.0  # minutes for a tenth of a square metre, from memory


def open_minutes(opened: str, today: str) -> float:
    """Return how long brushed faces can be joined: less, the longer the can has been open.

    Three minutes on a fresh can; a month takes a fifth of it off, and after four months a minute
    is left: try it on scrap first. Common practice, no published source.
    """
    if not opened or not today:
        return OPEN
    months = max(0, day_number(today) - day_number(opened)) / 30
    return max(LEAST_OPEN, OPEN * (1 - AGEING * months))


def glue_joint(made: StepList, joint: GluedJoint, choices: BenchChoices, open_time: float) -> None:
    """Add the steps of one joint."""
    glue = choice_of(joint, choices).glue
    kind = StepKind.WRAP if "+wrap" in joint.id else StepKind.JOIN
    before = [s for p in joint.pieces for s in made.last[p]]
    if glue in (GlueKind.HOT_MELT, GlueKind.CYANOACRYLATE):
        title = f"{joint.title}, with {glue.value}"
        minutes = joint.size * QUICK
        last = made.add(f"join:{joint.id}:0", kind, title, minutes, joint.pieces, after=before)
        before = [last]
    elif glue is GlueKind.SPRAY:
        title = f"{joint.title}, with {glue.value}"
        least, most = TACK[glue]
        minutes = joint.size * SPRAYED
        coat = made.add(
            f"coat:{joint.id}:0", StepKind.COAT, title, minutes, joint.pieces, after=before
        )
        join = made.add(f"join:{joint.id}:0", kind, title, minutes, joint.pieces)
        made.follows.append(Follow(join, coat, least, most))
        before = [join]
    else:
        before = _cemented(made, joint, kind, choices, open_time, before)
    for piece in joint.pieces:
        made.last[piece] = before


def _cemented(
    made: StepList,
    joint: GluedJoint,
    kind: StepKind,
    choices: BenchChoices,
    open_time: float,
    before: list[str],
) -> list[str]:
    """Brush and join in stages that fit the open time; porous faces are brushed twice."""
    stages = max(1, math.ceil(joint.size * BRUSH / (BRUSHING * open_time / OPEN)))
    brush = joint.size * BRUSH / stages
    least, pieces = choices.join.least, joint.pieces
    for k in range(stages):
        name = f"{joint.title}, stage {k + 1} of {stages}" if stages > 1 else joint.title
        end = f"{joint.id}:{k}"
        coat = made.add(f"coat:{end}", StepKind.COAT, name, brush, pieces, after=before)
        if joint.porous:
            again, words = f"coat2:{end}", f"{name}, again"
            made.add(again, StepKind.COAT, words, brush, pieces, after=[coat], least=SOAKED)
            coat = again
        join = made.add(f"join:{end}", kind, name, brush, pieces)
        made.follows.append(Follow(join, coat, least, least + int(open_time)))
        before = [join]
    return before
