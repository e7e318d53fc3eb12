"""Derived steps with the maker's own changes, additions and repeats put in."""

from collections.abc import Iterable
from itertools import pairwise

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import replace
from ivory_quilt.core.schedule.own_steps import OwnStep, StepChange
from ivory_quilt.core.schedule.schedule_job import Follow
from ivory_quilt.core.schedule.step import BenchStep, BenchSteps


def with_changes(
    steps: BenchSteps, changes: Iterable[StepChange], own: Iterable[OwnStep]
) -> BenchSteps:
    """Return steps with changes and additions; those to steps that are gone rest.

    Raises:
        InputError: a step would wait for itself.
    """
    for change in changes:
        steps = _changed(steps, change)
    own = tuple(own)
    known = {s.id for s in steps.steps} | {o.id for o in own}
    for one in own:
        steps = _added(steps, one, known)
    # What comes after a step that is gone waits for nothing.
    ids = {s.id for s in steps.steps}
    follows = tuple(f for f in dict.fromkeys(steps.follows) if f.task in ids and f.after in ids)
    made = BenchSteps(steps.steps, follows)
    round_about = waits_for_itself(made)
    if round_about:
        title = next(s.title for s in made.steps if s.id == round_about)
        raise InputError(f"step '{title}'", "it would wait for itself", "another order")
    return made


def _changed(steps: BenchSteps, change: StepChange) -> BenchSteps:
    step = next((s for s in steps.steps if s.id == change.id), None)
    if step is None:
        return steps
    if change.skip:
        return _without(steps, step.id)
    follows = list(steps.follows)
    if change.minutes is not None:
        step = replace(step, minutes=change.minutes)
    step = replace(step, hands=change.hands)
    again = [
        replace(step, id=f"{step.id}#{k}", title=f"{step.title}, again ({k} of {change.times})")
        for k in range(2, change.times + 1)
    ]
    if again:
        last = again[-1].id
        follows = [replace(f, after=last) if f.after == step.id else f for f in follows]
        chain = [step, *again]
        follows += [Follow(b.id, a.id, change.wait) for a, b in pairwise(chain)]
    follows += [Follow(step.id, before) for before in change.after]
    made: list[BenchStep] = []
    for one in steps.steps:
        made += [step, *again] if one.id == step.id else [one]
    return BenchSteps(tuple(made), tuple(follows))


def _without(steps: BenchSteps, gone: str) -> BenchSteps:
    """Take a step out: what followed it follows what came before, after the same wait."""
    into = [f for f in steps.follows if f.task == gone]
    out = [f for f in steps.follows if f.after == gone]
    others = [f for f in steps.follows if gone not in (f.task, f.after)]
    joined = [Follow(o.task, i.after, i.least) for i in into for o in out]
    return BenchSteps(tuple(s for s in steps.steps if s.id != gone), (*others, *joined))


def _added(steps: BenchSteps, own: OwnStep, known: set[str]) -> BenchSteps:
    made = BenchStep(
        own.id, own.kind, own.title, own.minutes, own.pieces, own.booth, hands=own.hands
    )
    before = [Follow(own.id, i) for i in own.after if i in known]
    after = [Follow(i, own.id, own.wait) for i in own.before if i in known]
    # The suit is packed last, whatever else there is.
    if not after and any(s.id == PACKED for s in steps.steps):
        after = [Follow(PACKED, own.id, own.wait)]
    return BenchSteps((*steps.steps, made), (*steps.follows, *before, *after))


PACKED = "pack"


def waits_for_itself(steps: BenchSteps) -> str:
    """Return the id of a step that comes, by whatever way, before itself; empty for none."""
    waits: dict[str, int] = {s.id: 0 for s in steps.steps}
    later: dict[str, list[str]] = {s.id: [] for s in steps.steps}
    for f in steps.follows:
        if f.task in waits and f.after in waits:
            waits[f.task] += 1
            later[f.after].append(f.task)
    free = [i for i, n in waits.items() if n == 0]
    while free:
        for task in later[free.pop()]:
            waits[task] -= 1
            if waits[task] == 0:
                free.append(task)
    return next((i for i, n in waits.items() if n > 0), "")


def in_sittings(steps: BenchSteps, longest: int) -> BenchSteps:
    """Part steps that take longer than one sitting: no evening would have room for them."""
    parted: dict[str, list[BenchStep]] = {}
    for step in steps.steps:
        if step.minutes > longest:
            count = -(-step.minutes // longest)
            each, more = divmod(step.minutes, count)
            parted[step.id] = [
                replace(
                    step,
                    id=step.id if k == 0 else f"{step.id}~{k + 1}",
                    title=f"{step.title}, part {k + 1} of {count}",
                    minutes=each + (k < more),
                )
                for k in range(count)
            ]
    if not parted:
        return steps
    made = [part for s in steps.steps for part in parted.get(s.id, [s])]
    follows = [
        replace(f, after=parted[f.after][-1].id) if f.after in parted else f for f in steps.follows
    ]
    for parts in parted.values():
        follows += [Follow(b.id, a.id) for a, b in pairwise(parts)]
    return BenchSteps(tuple(made), tuple(follows))
