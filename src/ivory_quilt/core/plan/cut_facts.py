"""What the hands must know of a part while they cut it, in words."""

from collections import Counter

from ivory_quilt.core.cutting.blade_runs import blade_runs, setting_of, settings_of
from ivory_quilt.core.geometry.discs import punches
from ivory_quilt.core.geometry.shape import Array, Shape
from ivory_quilt.core.pattern.part import Part
from ivory_quilt.core.pattern.piece import Hand, LineKind, PieceLine
from ivory_quilt.core.plan.cutting import part_of
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import Template, bevel_words
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stock.spent_sheet import CutPart, CutState, SpentSheet
from ivory_quilt.core.units import counted, show_length

NAMES = {
    LineKind.SCORE: "score",
    LineKind.SLIT: "slit",
    LineKind.FOLD: "fold",
    LineKind.UNDERCUT: "undercut",
    LineKind.MARK: "mark",
    LineKind.CENTRE: "centre",
    LineKind.GRAIN: "direction",
    LineKind.OTHER: "other face",
}


class CutFacts(Struct, frozen=True):
    """One part on a sheet under the knife.

    Attributes:
        name: of the piece.
        hand: "left" or "right", or empty.
        whom: whose it is, or empty.
        count: "2 of 3", "spare", or empty for the only one.
        template: number of its template, and how that lies; empty where there is none.
        cuts: what is not a plain square cut: bevels, scores, undercuts, holes.
        notes: what else the bench must know.
    """

    name: str
    hand: str = ""
    whom: str = ""
    count: str = ""
    template: str = ""
    cuts: tuple[str, ...] = ()
    notes: tuple[str, ...] = ()


def cut_facts(
    plan: Plan, sheet: SpentSheet, number: int, templates: dict[str, tuple[str, Template]]
) -> CutFacts:
    """Return what is to be known of one part of a sheet.

    Args:
        plan: as it stands; a part that it has not any more is told by its name alone.
        sheet: under the knife.
        number: of the part on it.
        templates: number and template by the part's id, as `templates_by_part` has them.
    """
    one = sheet.parts[number]
    part = part_of(plan, sheet, one)
    if part is None:
        return CutFacts(one.label, notes=("The plan has changed since: it is not in it as it is.",))
    hand = "" if part.hand is Hand.NONE else part.hand.value
    template = ""
    if one.part in templates:
        over = part.mirrored is not one.pose.mirrored
        template = f"Template {templates[one.part][0]}{', turned over' if over else ''}"
    count = part.number(copies_before(plan, sheet, number))
    cuts = tuple(_cuts(part, one))
    return CutFacts(part.name, hand, part.wearer, count, template, cuts, part.notes)


def copies_before(plan: Plan, sheet: SpentSheet, number: int) -> int:
    """Return how many of a part are on cut sheets, or on this one, before it; no spoiled ones."""
    many = 0
    for other in plan.project.spent:
        here = sheet.parts[:number] if other.id == sheet.id else other.parts
        ident = sheet.parts[number].part
        many += sum(p.part == ident and p.state is not CutState.SPOILED for p in here)
        if other.id == sheet.id:
            break
    return many


def set_blade(sheet: SpentSheet, number: int) -> str:
    """Return how the blade is set for a part's present pass, where that is not as before."""
    angles = [sheet.parts[k].settings[n] for k, n in sheet.passes]
    one = sheet.parts[number]
    at = sheet.passes.index((number, one.passes))
    before = angles[at - 1] if at else 0
    return "" if angles[at] == before else f"Set the blade {blade_word(angles[at])}"


def blade_word(setting: int) -> str:
    """Return how a blade is set, in words."""
    return f"at {setting}°" if setting else "square"


def later_passes(part: Part) -> str:
    """Return which edges of a part are cut once the blade is set for them; nothing: all at once."""
    settings = settings_of(part.bevels, part.marked or part.shape)
    said = []
    for setting in settings[1:]:
        edges = [b.name for b in part.bevels if setting_of(b) == setting]
        said.append(f"{_edges_word(edges)} with the blade {blade_word(setting)}")
    return f"{', '.join(said)}, later" if said else ""


def pass_lines(part: Part | None, one: CutPart) -> tuple[Array, ...]:
    """Return where a part is cut in its present pass, on the sheet, mm; nothing: all around.

    `part`: what it is in the plan; None where the plan has changed since.
    """
    if part is None or len(one.settings) < 2 or not one.waiting:
        return ()
    setting = one.settings[one.passes]
    runs = blade_runs(part.line_up(one.pose), part.bevels_up(one.pose))
    return tuple(one.pose.apply(r.places) for r in runs if r.setting == setting)


def _cuts(part: Part, one: CutPart) -> list[str]:
    said = []
    if one.pose.mirrored:
        said.append("Lies with the other face up")
    setting = one.settings[one.passes] if one.waiting and len(one.settings) > 1 else None
    angles: dict[float, list[str]] = {}
    for bevel in part.bevels_up(one.pose):
        if setting is None or setting_of(bevel) == setting:
            angles.setdefault(bevel.angle, []).append(bevel.name)
    if setting == 0:
        others = [b.name for b in part.bevels if setting_of(b)]
        said.append(f"Square now: all but {_edges_word(others)}")
    for angle, edges in angles.items():
        if setting != 0:
            named = _edges_word(edges)
            said.append(f"{named[0].upper()}{named[1:]}: bevel {bevel_words(angle, 0.0)}")
    if one.passes:
        return said  # what follows was cut with the first pass
    done_here = (LineKind.SCORE, LineKind.SLIT, LineKind.UNDERCUT)
    for words, many in Counter(line_words(k) for k in part.lines if k.kind in done_here).items():
        said.append(f"{many} × {words}")
    by_knife = len(part.shape.holes) - len(punches(part.shape)[1])
    if by_knife:
        said.append(f"{counted(by_knife, 'hole')} first")
    return [*said, *punch_words(part.shape)]


def _edges_word(names: list[str]) -> str:
    return f"{'edge' if len(names) == 1 else 'edges'} {', '.join(names)}"


def punch_words(shape: Shape) -> list[str]:
    """Return which punches cut an outline or its holes, in words; nothing for what is not round."""
    around, holes = punches(shape)
    said = [f"a disc: punch {show_length(around, digits=1)}"] if around is not None else []
    for size, many in sorted(Counter(round(d, 1) for d in holes).items()):
        said.append(f"{counted(many, 'round hole')}: punch {show_length(size, digits=1)}")
    return said


def line_words(line: PieceLine) -> str:
    """Return what a line is, with its angle and from which face it is cut or folded."""
    crease, name = line.crease, NAMES[line.kind]
    if crease is None or line.kind not in (LineKind.UNDERCUT, LineKind.FOLD):
        return name
    if line.kind is LineKind.UNDERCUT:
        face = "front" if crease.front else "back"
        return f"{name} {abs(crease.angle):g}° from the {face}, {crease.skin:g} mm left"
    way = "back" if crease.angle >= 0 else "forwards"
    return f"{name} {abs(crease.angle):g}° {way}"
