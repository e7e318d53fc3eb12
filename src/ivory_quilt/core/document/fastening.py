"""Fixings in the document: what each takes reaches the list of things, and so the order."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import line_length
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.fixing import (
    THING,
    Fixing,
    FixingKind,
    FixingNeed,
    fixing_need,
)
from ivory_quilt.core.pattern.thing import Thing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import ClothStrip


def need_of(project: Project, fixing: Fixing) -> FixingNeed:
    """Return what a fixing takes, from its edge and its wearer's girth.

    Raises:
        InputError: its piece, edge or measure is gone, or nothing says how long it is.
    """
    piece = project.piece(fixing.piece)
    edge = line_length(edge_line(piece, edge_of(piece, fixing.edge))) if fixing.edge else 0.0
    girth = 0.0
    if fixing.spot:
        girth = _girth(project, fixing)
    need = fixing_need(fixing, edge, girth)
    return replace(need, count=need.count * piece.cut_count)


def cloth_strip(project: Project, fixing: Fixing, thickness: float) -> ClothStrip | None:
    """Return the strip of cloth that a fixing is cut from, None where it is not, or not known."""
    if not fixing.cloth:
        return None
    try:
        need = need_of(project, fixing)
    except InputError:
        return None
    length, width = need.reckoning.figure("length"), need.reckoning.figure("cut_width")
    words = fixing.kind.value
    return ClothStrip(fixing.id, words, length, width, thickness, fixing.cloth, need.count)


def _girth(project: Project, fixing: Fixing) -> float:
    """Return the largest girth among those who wear it: a tape can be cut shorter."""
    ids = [m.wearer for m in project.troupe] or [w.id for w in project.wearers]
    found = [project.wearer(i).measure(fixing.spot) for i in ids]
    values = [m.value for m in found if m is not None]
    if not values:
        where = f"{fixing.kind.value} on '{fixing.piece}'"
        raise InputError(where, f"no wearer's '{fixing.spot}'", "that measure, in Measure")
    return max(values)


def set_fixings(project: Project, fixings: Iterable[Fixing]) -> Project:
    """Decide the fixings; what they take is kept in the list of things, with its price and day.

    Raises:
        InputError: a fixing that makes no sense; nothing is changed.
    """
    made = tuple(fixings)
    ids = [f.id for f in made]
    if len(set(ids)) != len(ids):
        raise InputError("fixings", "an id is used twice", "different ids")
    before = {t.id: t for t in project.things}
    wanted = {}
    for fixing in made:
        if fixing.kind is FixingKind.BACKING or fixing.cloth:
            need_of(project, fixing)  # from scrap, or laid with the pieces: nothing to buy
            continue
        need = need_of(project, fixing)
        old = before.get(fixing.thing) or Thing(fixing.thing, need.words)
        wanted[fixing.thing] = replace(old, name=need.words, count=need.count, piece=fixing.piece)
    kept = [wanted.pop(t.id, None) if t.id.startswith(THING) else t for t in project.things]
    things = (*(t for t in kept if t is not None), *wanted.values())
    return replace(project, fixings=made, things=things)


def refreshed_fixings(project: Project) -> Project:
    """Return the project with its fixings' things by its present edges and wearers.

    A fixing that cannot be reckoned any more keeps what it asked for.
    """
    if not project.fixings:
        return project
    try:
        return set_fixings(project, project.fixings)
    except InputError:
        return project
