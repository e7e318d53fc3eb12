"""From pieces that seams connect to an assembly that can be formed up."""

from collections import deque
from dataclasses import dataclass

import numpy as np

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.forms import own_place, shaping_of
from ivory_quilt.core.forming.shaping import Plain
from ivory_quilt.core.formup.assembly import (
    Assembly,
    Former,
    FormPanel,
    FormSeam,
    Meeting,
    SeamSide,
    Shaped,
)
from ivory_quilt.core.geometry.outline import Outline
from ivory_quilt.core.pattern.edges import edge_of, edges_of
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import Seam, walks_alike
from ivory_quilt.core.stacks.cut import stack_thickness

NEUTRAL = 0.5  # of the thickness: the plate's middle surface keeps its lengths
SAME = 1e-6  # mm: corners that are nearer are one
OTHER = " (other hand)"


@dataclass(frozen=True)
class PieceAssembly:
    """Pieces put together.

    Attributes:
        pieces: id of each panel's piece.
        seams: of each seam of the assembly, its number in the project.
        notes: what could not take part, one sentence each.
    """

    assembly: Assembly
    pieces: tuple[str, ...]
    seams: tuple[int, ...]
    notes: tuple[str, ...]


def joined_to(project: Project, piece_id: str) -> tuple[str, ...]:
    """Return the pieces that seams connect with one, itself among them, in the project's order."""
    reached, todo = {piece_id}, [piece_id]
    while todo:
        here = todo.pop()
        for seam in project.seams:
            ends = (seam.first.piece, seam.second.piece)
            if here in ends:
                for other in ends:
                    if other not in reached:
                        reached.add(other)
                        todo.append(other)
    return tuple(p.id for p in project.pieces if p.id in reached)


def assembly_of(
    project: Project, piece_id: str, edge: float = 8.0, former: Former | None = None
) -> PieceAssembly:
    """Return the assembly of a piece with all that seams connect to it.

    Where an edge meets the same edge of the other hand, both hands are there.

    Raises:
        InputError: a seam's edge is gone, seams twist the pieces, or one cannot be formed.
    """
    ids = joined_to(project, piece_id)
    pieces = {i: project.piece(i) for i in ids}
    seams = [(n, s) for n, s in enumerate(project.seams) if s.first.piece in pieces]
    flipped = _sides(pieces, [s for _, s in seams])
    across = any(s.onto_other_hand for _, s in seams)
    notes: list[str] = []
    if across and any(p.hand is not Hand.PAIR for p in pieces.values()):
        across = False
        notes.append("Only pairs are joined to their other hand; here one piece is none.")
    outlines = {i: _outline(p) for i, p in pieces.items()}
    panels, shaped, owners = [], [], []
    for hand in (False, True) if across else (False,):
        for ident, piece in pieces.items():
            name = ident + (OTHER if hand else "")
            points, _ = outlines[ident]
            mirrored = flipped[ident] != hand
            panels.append(
                FormPanel(name, points, stack_thickness(piece), piece.build.form.face, mirrored)
            )
            owners.append(ident)
            shaping = shaping_of(piece)
            if not isinstance(shaping, Plain):
                shaped.append(Shaped(name, shaping, own_place(piece, NEUTRAL)))
    made, numbers = [], []
    for number, seam in seams:
        for hand in (False, True) if across else (False,):
            if seam.onto_other_hand and (hand or not across):
                continue
            made.append(_seam(seam, pieces, outlines, hand=hand))
            numbers.append(number)
    assembly = Assembly(tuple(panels), tuple(made), former=former, edge=edge, shaped=tuple(shaped))
    return PieceAssembly(assembly, tuple(owners), tuple(numbers), tuple(notes))


def _sides(pieces: dict[str, Piece], seams: list[Seam]) -> dict[str, bool]:
    """Return which pieces lie with their outer face down, so that every seam's sides meet.

    Raises:
        InputError: there is no such way: the seams twist.
    """
    first = next(iter(pieces))
    flipped = {first: False}
    todo = deque([first])
    while todo:
        here = todo.popleft()
        for seam in seams:
            ends = [seam.first.piece, seam.second.piece]
            if here not in ends or seam.onto_other_hand:
                continue
            other = ends[1] if ends[0] == here else ends[0]
            wanted = flipped[here] != walks_alike(seam)
            if other not in flipped:
                flipped[other] = wanted
                todo.append(other)
            elif flipped[other] != wanted:
                one, two = seam.first, seam.second
                where = f"seam {pieces[one.piece].name} {one.edge}"
                problem = f"it twists against {pieces[two.piece].name} {two.edge}"
                raise InputError(where, problem, "the seam turned the other way")
    return {i: flipped.get(i, False) for i in pieces}


Outlined = tuple[tuple[tuple[float, float], ...], dict[tuple[float, float], int]]


def _outline(piece: Piece) -> Outlined:
    """Return a piece's outline with a corner wherever an edge begins, and which corner that is."""
    outline = Outline(piece.shape.outer)
    ends = [outline.locate(e.start)[0] % outline.length for e in edges_of(piece)]
    steps: list[float] = []
    for step in sorted([*np.mod(outline.vertices_at, outline.length).tolist(), *ends]):
        if not steps or step - steps[-1] > SAME:
            steps.append(step)
    if len(steps) > 1 and steps[-1] > outline.length - SAME:
        steps.pop()
    points = outline.places(np.array(steps))
    corners = {}
    for edge, step in zip(edges_of(piece), ends, strict=True):
        away = np.abs(np.array(steps) - step)
        corners[edge.start] = int(np.argmin(np.minimum(away, outline.length - away)))
    return tuple((float(x), float(y)) for x, y in points), corners


def _seam(
    seam: Seam, pieces: dict[str, Piece], outlines: dict[str, Outlined], *, hand: bool
) -> FormSeam:
    sides: list[SeamSide] = []
    for ref, against in ((seam.first, False), (seam.second, not walks_alike(seam))):
        edge = edge_of(pieces[ref.piece], ref.edge)
        corners = outlines[ref.piece][1]
        start, stop = corners[edge.start], corners[edge.stop]
        other = hand or (seam.onto_other_hand and bool(sides))
        name = ref.piece + (OTHER if other else "")
        sides.append(SeamSide(name, stop, start, -1) if against else SeamSide(name, start, stop, 1))
    flat = abs(seam.dihedral - 180.0) < 0.01
    meet = Meeting.SMOOTH if flat else Meeting.ANGLE
    return FormSeam(sides[0], sides[1], meet, seam.dihedral)
