"""Edits of the troupe: whose suits the project makes, and in which sizes."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.record import replace


def member_of(project: Project, wearer_id: str) -> Member | None:
    """Return what a wearer gets, or None: no suit."""
    return next((m for m in project.troupe if m.wearer == wearer_id), None)


def put_member(project: Project, member: Member) -> Project:
    """Make suits for a wearer, or change them.

    Raises:
        InputError: there is no such wearer.
    """
    project.wearer(member.wearer)
    if member_of(project, member.wearer) is None:
        return replace(project, troupe=(*project.troupe, member))
    troupe = tuple(member if m.wearer == member.wearer else m for m in project.troupe)
    return replace(project, troupe=troupe)


def drop_member(project: Project, wearer_id: str) -> Project:
    """Make no suit for a wearer."""
    return replace(project, troupe=tuple(m for m in project.troupe if m.wearer != wearer_id))


def size_pieces(member: Member, piece_ids: Iterable[str], scale: float) -> Member:
    """Return a member some of whose pieces have a size of their own."""
    own = dict(member.own) | dict.fromkeys(piece_ids, scale)
    kept = {piece: factor for piece, factor in own.items() if abs(factor - member.scale) > 1e-9}
    return replace(member, own=tuple(sorted(kept.items())))
