"""Versions of pieces in a project: kept, taken back, dropped; mock-ups cut first in cheap foam."""

from collections.abc import Iterable

from ivory_quilt.core.document.project import Project, add_pieces, free_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import PLAIN
from ivory_quilt.core.pattern.piece import Piece, Wanted
from ivory_quilt.core.pattern.version import MOST_VERSIONS, PieceVersion
from ivory_quilt.core.record import replace

MOCK_UP = "mock-up"


def keep_version(
    project: Project, piece_ids: Iterable[str], name: str, when: str = "", note: str = ""
) -> Project:
    """Keep pieces as they are under a name.

    Raises:
        InputError: no such piece, no name, a name that one of them has already, or too many.
    """
    wanted = list(dict.fromkeys(piece_ids))
    pieces = tuple(project.piece(i) for i in wanted)
    name = name.strip()
    for version in versions_of(project, wanted):
        if version.name == name:
            raise InputError("version", f"there is a '{name}' already", "another name")
    if len(project.versions) >= MOST_VERSIONS:
        raise InputError("version", f"there are {MOST_VERSIONS} already", "one less")
    ident = free_name("version", {v.id for v in project.versions})
    made = PieceVersion(ident, name, pieces, when, note.strip())
    return replace(project, versions=(*project.versions, made))


def next_name(project: Project, piece_ids: Iterable[str]) -> str:
    """Return a name for the next version of pieces: round 1, round 2."""
    taken = {v.name for v in versions_of(project, piece_ids)}
    k = 1
    while f"round {k}" in taken:
        k += 1
    return f"round {k}"


def versions_of(project: Project, piece_ids: Iterable[str]) -> tuple[PieceVersion, ...]:
    """Return the versions that hold one of the pieces, the oldest first."""
    wanted = set(piece_ids)
    return tuple(v for v in project.versions if any(p.id in wanted for p in v.pieces))


def version_of(project: Project, version_id: str) -> PieceVersion:
    """Return a version by its id.

    Raises:
        InputError: there is none.
    """
    for version in project.versions:
        if version.id == version_id:
            return version
    raise InputError(f"version '{version_id}'", "it is not in the project", "a version's id")


def take_back(project: Project, version_id: str, piece_ids: Iterable[str] | None = None) -> Project:
    """Return a project whose pieces are as they were in a version.

    Pieces that are gone come back; what was decided about them then comes back with them, their
    count in the plan stays as it is now.

    Args:
        project: the project.
        version_id: the version.
        piece_ids: which of its pieces; None for all of them.

    Raises:
        InputError: no such version, or it holds none of the pieces.
    """
    version = version_of(project, version_id)
    wanted = None if piece_ids is None else set(piece_ids)
    back = {p.id: p for p in version.pieces if wanted is None or p.id in wanted}
    if not back:
        raise InputError(f"version '{version.name}'", "it holds none of these pieces", "another")
    pieces = tuple(_as_it_was(p, back.get(p.id)) for p in project.pieces)
    known = {p.id for p in project.pieces}
    made = replace(project, pieces=pieces)
    return add_pieces(made, [p for i, p in back.items() if i not in known])


def _as_it_was(now: Piece, was: Piece | None) -> Piece:
    if was is None:
        return now
    return replace(was, name=now.name, count=now.count, spares=now.spares, wanted=now.wanted)


def drop_version(project: Project, version_id: str) -> Project:
    """Take a version out; unknown ids are ignored."""
    return replace(project, versions=tuple(v for v in project.versions if v.id != version_id))


def note_version(project: Project, version_id: str, note: str) -> Project:
    """Say what was found with a version.

    Raises:
        InputError: there is none.
    """
    version_of(project, version_id)
    return replace(
        project,
        versions=tuple(
            replace(v, note=note.strip()) if v.id == version_id else v for v in project.versions
        ),
    )


def add_mock_ups(
    project: Project, piece_ids: Iterable[str], material: str, thickness: float
) -> Project:
    """Add pieces once more, plain and in a cheap foam or card, to be cut and tried first.

    Raises:
        InputError: no such piece, or a thickness that makes no sense.
    """
    made = []
    for piece_id in dict.fromkeys(piece_ids):
        piece = project.piece(piece_id)
        made.append(
            replace(
                piece,
                id=f"{piece.id}-{MOCK_UP}",
                name=f"{piece.name} {MOCK_UP}",
                material=material,
                thickness=thickness,
                build=PLAIN,
                recipe=None,
                wanted=Wanted.FIRST,
                spares=0,
            )
        )
    return add_pieces(project, made)
