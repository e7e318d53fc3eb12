"""From pieces that seams connect to an assembly that can be formed up."""

from collections import deque
from collections.abc import Iterator
from itertools import pairwise

import numpy as np

from ivory_quilt.core.document.other_hand import mirror_edge
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.edges.profiles import knives_of
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
from ivory_quilt.core.pattern.linking import leaders
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, seam_fit, walks_alike
from ivory_quilt.core.record import Struct
from ivory_quilt.core.stacks.cut import stack_thickness

NEUTRAL = 0.5  # of the thickness: the plate's middle surface keeps its lengths
SAME = 1e-6  # mm: corners that are nearer are one
APART = 1e-3  # of an edge's length: match marks that are nearer are one
OTHER = " (other hand)"


class PieceAssembly(Struct, frozen=True):
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
    links = ((s.first.piece, s.second.piece) for s in project.seams)
    leader = leaders((p.id for p in project.pieces), links)
    return tuple(i for i, first in leader.items() if first == leader[piece_id])


def assembly_of(
    project: Project, piece_id: str, edge: float = 8.0, former: Former | None = None
) -> PieceAssembly:
    """Return the assembly of a piece with all that seams connect to it.

    Where an edge meets the same edge of the other hand, or a pair is joined to a piece that is
    none, both hands are there: the other one at the free edge that is as long.

    Raises:
        InputError: a seam's edge is gone, seams twist the pieces, or one cannot be formed.
    """
    ids = joined_to(project, piece_id)
    pieces = {i: project.piece(i) for i in ids}
    seams = [(n, s) for n, s in enumerate(project.seams) if s.first.piece in pieces]
    flipped = _sides(pieces, [s for _, s in seams])
    pairs = {i for i, p in pieces.items() if p.hand is Hand.PAIR}
    across = any(s.onto_other_hand and s.first.piece in pairs for _, s in seams)
    both = pairs if across or len(pairs) < len(pieces) else set()
    outlines = {i: _outline(p) for i, p in pieces.items()}
    panels, shaped, owners = [], [], []
    for ident, other in (*((i, False) for i in ids), *((i, True) for i in ids if i in both)):
        piece, name = pieces[ident], ident + (OTHER if other else "")
        panels.append(
            FormPanel(
                name,
                outlines[ident][0],
                stack_thickness(piece),
                piece.build.form.face,
                flipped[ident] != other,
            )
        )
        owners.append(ident)
        shaping = shaping_of(piece)
        if not isinstance(shaping, Plain):
            shaped.append(Shaped(name, shaping, own_place(piece, NEUTRAL)))
    joints = _Joints(pieces, outlines, both, [s for _, s in seams])
    made, numbers = [], []
    for number, seam in seams:
        for one in joints.of(seam):
            made.append(one)
            numbers.append(number)
    panels, shaped, owners = _held(panels, shaped, owners, made)
    there = {p.id for p in panels}
    kept = [k for k, x in enumerate(made) if {x.a.panel, x.b.panel} <= there]
    made, numbers = [made[k] for k in kept], [numbers[k] for k in kept]
    assembly = Assembly(tuple(panels), tuple(made), former=former, edge=edge, shaped=tuple(shaped))
    return PieceAssembly(assembly, tuple(owners), tuple(numbers), tuple(joints.notes))


def _held(
    panels: list[FormPanel], shaped: list[Shaped], owners: list[str], seams: list[FormSeam]
) -> tuple[list[FormPanel], list[Shaped], list[str]]:
    """Leave out panels that no seam holds to the first: other hands that found no edge."""
    leader = leaders((p.id for p in panels), ((x.a.panel, x.b.panel) for x in seams))
    reached = {name for name, first in leader.items() if first == leader[panels[0].id]}
    kept = [k for k, p in enumerate(panels) if p.id in reached]
    shapes = [s for s in shaped if s.panel in reached]
    return [panels[k] for k in kept], shapes, [owners[k] for k in kept]


class _Joints:
    """Makes the joints of seams, of both hands where there are two."""

    def __init__(
        self,
        pieces: dict[str, Piece],
        outlines: dict[str, "Outlined"],
        both: set[str],
        seams: list[Seam],
    ) -> None:
        self.pieces, self.outlines, self.both = pieces, outlines, both
        self.taken = {(r.piece, r.edge) for s in seams for r in (s.first, s.second)}
        self.notes: list[str] = []
        self.bevels: dict[tuple[str, str], float] = {}
        for ident, piece in pieces.items():
            try:
                found = knives_of(piece, seams, pieces)
            except InputError as error:  # no blade cuts it: it is told, and stands as if square
                self.notes.append(str(error))
                continue
            self.bevels |= {(ident, k.edge): k.angle for k in found}

    def of(self, seam: Seam) -> Iterator[FormSeam]:
        """Yield the joints that one seam makes."""
        first, second = seam.first, seam.second
        if seam.onto_other_hand:
            if first.piece in self.both:
                yield self._joint(seam, first, second, alike=True, hands=(False, True))
            else:
                name = self.pieces[first.piece].name
                self.notes.append(f"{name} is no pair: it cannot meet its other hand.")
            return
        alike = walks_alike(seam)
        yield self._joint(seam, first, second, alike=alike, hands=(False, False))
        doubled = (first.piece in self.both, second.piece in self.both)
        if all(doubled):
            yield self._joint(seam, first, second, alike=alike, hands=(True, True))
        elif any(doubled):
            lone = second if doubled[0] else first
            mirror = self._mirror_edge(lone)
            if mirror is None:
                pair = self.pieces[first.piece if doubled[0] else second.piece].name
                name = self.pieces[lone.piece].name
                self.notes.append(
                    f"The other hand of {pair} finds no edge of that length on {name}."
                )
            elif doubled[0]:
                yield self._joint(seam, first, mirror, alike=not alike, hands=(True, False))
            else:
                yield self._joint(seam, mirror, second, alike=not alike, hands=(False, True))

    def _mirror_edge(self, ref: EdgeRef) -> EdgeRef | None:
        """Return the free edge that the other hand meets in the place of one."""
        middle = [p for i, p in self.pieces.items() if i not in self.both]
        found = mirror_edge(self.pieces[ref.piece], ref.edge, middle, self.taken)
        if found is not None:
            self.taken.add((found.piece, found.edge))
        return found

    def _joint(
        self, seam: Seam, first: EdgeRef, second: EdgeRef, *, alike: bool, hands: tuple[bool, bool]
    ) -> FormSeam:
        one = self._side(first, other=hands[0], against=False)
        two = self._side(second, other=hands[1], against=not alike)
        flat = abs(seam.dihedral - 180.0) < 0.01
        meet = Meeting.SMOOTH if flat else Meeting.ANGLE
        cut = tuple(self.bevels.get((r.piece, r.edge), 0.0) for r in (first, second))
        marks = (
            self._marks(seam, first, second) if (first, second) == (seam.first, seam.second) else ()
        )
        return FormSeam(one, two, meet, seam.dihedral, (cut[0], cut[1]), marks)

    def _marks(
        self, seam: Seam, first: EdgeRef, second: EdgeRef
    ) -> tuple[tuple[float, float], ...]:
        """Return the match marks that meet, as shares of both sides; none where they cross."""
        fit = seam_fit(self.pieces[first.piece], self.pieces[second.piece], seam)
        met = [
            (k.at / fit.first, k.meets / fit.second) for k in fit.landings if k.meets is not None
        ]
        ends = [(0.0, 0.0), *sorted(met), (1.0, 1.0)]
        follows = all(b[0] - a[0] > APART and b[1] - a[1] > APART for a, b in pairwise(ends))
        return tuple(ends[1:-1]) if follows else ()

    def _side(self, ref: EdgeRef, *, other: bool, against: bool) -> SeamSide:
        edge = edge_of(self.pieces[ref.piece], ref.edge)
        corners = self.outlines[ref.piece][1]
        start, stop = corners[edge.start], corners[edge.stop]
        name = ref.piece + (OTHER if other else "")
        return SeamSide(name, stop, start, -1) if against else SeamSide(name, start, stop, 1)


def _sides(pieces: dict[str, Piece], seams: list[Seam]) -> dict[str, bool]:
    """Return which pieces lie with their outer face down, so that every seam's sides meet.

    Raises:
        InputError: there is no such way: the seams twist.
    """
    first = next(iter(pieces))
    flipped = {first: False}
    waiting = deque([first])
    while waiting:
        here = waiting.popleft()
        for seam in seams:
            ends = [seam.first.piece, seam.second.piece]
            if here not in ends or seam.onto_other_hand:
                continue
            other = ends[1] if ends[0] == here else ends[0]
            wanted = flipped[here] != walks_alike(seam)
            if other not in flipped:
                flipped[other] = wanted
                waiting.append(other)
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
