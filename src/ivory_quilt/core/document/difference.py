"""What differs between two states of a project, in a maker's words."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import counted, show_number

MOST_NAMED = 3  # pieces of one kind that are named
_WORDS = {
    "shape": "outline",
    "count": "quantity",
    "match_marks": "match marks",
    "drawn_hand": "drawn hand",
    "build": "form and layers",
    "rule": "tracing",
}


def differences(before: Project, after: Project) -> list[str]:
    """Return what `after` has that `before` has not, one thing a line; nothing when alike."""
    said = []
    if before.name != after.name:
        said.append(f"named {after.name}, was {before.name}")
    old, new = ({p.id: p for p in project.pieces} for project in (before, after))
    said += _pieces("added", [p.name for i, p in new.items() if i not in old])
    said += _pieces("removed", [p.name for i, p in old.items() if i not in new])
    changed = [(p, old[i]) for i, p in new.items() if i in old and p != old[i]]
    if len(changed) == 1:
        piece, was = changed[0]
        said.append(f"{piece.name}: {', '.join(_changed(was, piece))} changed")
    else:
        said += _pieces("changed", [p.name for p, _ in changed])
    if before.gap != after.gap:
        said.append(f"gap {show_number(after.gap, 2)} mm, was {show_number(before.gap, 2)} mm")
    for name, word in (
        ("layouts", "kept layouts"),
        ("seams", "seams"),
        ("wearers", "wearers and their measures"),
        ("studies", "pictures"),
    ):
        if getattr(before, name) != getattr(after, name):
            said.append(f"{word} changed")
    rest = ("paper", "ease", "rule", "halves")
    if any(getattr(before, name) != getattr(after, name) for name in rest):
        said.append("options of the papers changed")
    return said


def _pieces(what: str, names: Iterable[str]) -> list[str]:
    listed = list(names)
    if not listed:
        return []
    more = len(listed) - MOST_NAMED
    named = ", ".join(listed[:MOST_NAMED]) + (f" and {more} more" if more > 0 else "")
    return [f"{counted(len(listed), 'piece')} {what}: {named}"]


def _changed(before: Piece, after: Piece) -> list[str]:
    found = [n for n in Piece.__struct_fields__ if getattr(before, n) != getattr(after, n)]
    return [_WORDS.get(n, n) for n in found]
