"""Edges in Build, without a widget: the one in hand, its profile, its seam, the grooves."""

from typing import TYPE_CHECKING

from ivory_quilt.core.document.project import Project, put_pieces
from ivory_quilt.core.document.seam_book import keep_edges, let_meet, put_seam, seam_name
from ivory_quilt.core.edges.groove_check import Groove, grooves_of
from ivory_quilt.core.edges.mating import Mate, mate_of
from ivory_quilt.core.edges.profiles import Knife, from_table, with_kind
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.outline import locate_on_line
from ivory_quilt.core.pattern.build import Profile, ProfileKind
from ivory_quilt.core.pattern.edges import edge_at, edges_of
from ivory_quilt.core.pattern.piece import LineKind
from ivory_quilt.core.pattern.seams import EdgeRef, Joint, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.edge_section import (
    edge_section,
    groove_section,
)
from ivory_quilt.core.stacks.section import Section
from ivory_quilt.core.units import parse_scalar, typed_length

ANGLED = (ProfileKind.IN, ProfileKind.OUT)  # the maker says the angle of these

if TYPE_CHECKING:
    from ivory_quilt.desk.stations.build.presenter import BuildPresenter


class EdgeWork:
    """Edges and grooves of the piece under work."""

    def __init__(self, presenter: "BuildPresenter") -> None:
        """Work on what `presenter` has in hand."""
        self._p = presenter
        self.edge = ""
        self.line: int | None = None

    def forget(self) -> None:
        """Let go of edge and groove: another piece is opened."""
        self.edge, self.line = "", None

    @property
    def chosen_edge(self) -> str:
        """The edge under work: the one that was clicked, or the first."""
        piece = self._p.piece
        names = [e.name for e in edges_of(piece)] if piece is not None else []
        if self.edge not in names:
            bevelled = [e.edge for e in piece.build.edges if e.edge in names] if piece else []
            self.edge = (bevelled or names or [""])[0]
        return self.edge

    def knife(self, edge: str) -> Knife:
        """Return how the knife is held along an edge."""
        known = self._p.context.knives or ()
        return next((k for k in known if k.edge == edge), Knife(edge))

    def click(self, point: tuple[float, float]) -> None:
        """Take the edge or the groove nearest to a place in hand."""
        piece = self._p.piece
        if piece is None:
            return
        edge, away = edge_at(piece, point)
        cut = [
            (locate_on_line(line.points, point)[1], k)
            for k, line in enumerate(piece.lines)
            if line.kind in (LineKind.UNDERCUT, LineKind.SCORE)
        ]
        nearest, index = min(cut, default=(away + 1, -1))
        if nearest < away:
            self.line = index
        else:
            self.edge, self.line = edge.name, None

    @property
    def groove(self) -> int | None:
        """The line whose groove is in hand, or None: an edge is."""
        piece = self._p.piece
        if piece is None or self.line is None or self.line >= len(piece.lines):
            return None
        return self.line if piece.lines[self.line].crease is not None else None

    def set_profile(self, profile: Profile, *, merge: bool = False) -> None:
        """Choose the profile of the edge in hand.

        Raises:
            InputError: a value that makes no sense.
        """
        piece, edge = self._p.piece, self.chosen_edge
        if piece is None:
            return

        def edited(project: Project) -> Project:
            project = keep_edges(project, [piece.id])
            own = project.piece(piece.id)
            return put_pieces(project, [replace(own, build=own.build.with_profile(edge, profile))])

        self._p.session.edit(f"Edge {edge}: {piece.name}", edited, merge=merge)

    @property
    def profile(self) -> Profile:
        """The profile of the edge in hand."""
        piece = self._p.piece
        return piece.build.profile(self.chosen_edge) if piece is not None else Profile()

    @property
    def shown_bevel(self) -> float:
        """The bevel from square that the edge in hand has, chosen or worked out, degrees."""
        chosen = self.profile.kind in ANGLED
        return self.profile.angle if chosen else abs(self.knife(self.chosen_edge).angle)

    def set_kind(self, kind: ProfileKind) -> None:
        """Cut the edge in hand another way."""
        piece = self._p.piece
        if piece is not None:
            self.set_profile(with_kind(self.profile, kind, piece.thickness))

    def set_bevel(self, text: str) -> None:
        """Take a bevel from square, as typed.

        Raises:
            InputError: no angle, or one that no blade cuts.
        """
        self.set_profile(replace(self.profile, angle=parse_scalar(text, where="bevel")))

    def set_blade(self, text: str) -> None:
        """Take the blade's angle from the table, as typed.

        Raises:
            InputError: see `set_bevel`.
        """
        angle = from_table(parse_scalar(text, where="blade"))
        self.set_profile(replace(self.profile, angle=angle))

    def set_width(self, text: str) -> None:
        """Take a width, as typed.

        Raises:
            InputError: no length, or one that makes no sense.
        """
        self.set_profile(replace(self.profile, width=typed_length(text, where="width")))

    def set_dihedral(self, text: str) -> None:
        """Take the angle of the seam in hand, as typed.

        Raises:
            InputError: no angle, or one that no seam has.
        """
        if (seam := self.seam()) is not None:
            self.set_seam(seam, dihedral=parse_scalar(text, where="angle of the seam"))

    def make_ridge(self) -> None:
        """Let the seam in hand stand up in a right angle, both edges bevelled alike."""
        if (seam := self.seam()) is not None:
            self.set_seam(seam, dihedral=90.0, joint=Joint.MITRE)
        if (again := self.seam()) is not None:
            self.meet_both(again)

    def seam(self) -> Seam | None:
        """Return the seam of the edge in hand, or None."""
        ref = EdgeRef(self._p.piece_id, self.chosen_edge)
        return next((s for s in self._p.session.project.seams if s.touches(ref)), None)

    def seam_words(self, seam: Seam) -> str:
        """Return a seam in words."""
        return seam_name(self._p.session.project, seam)

    def mate(self, seam: Seam) -> Mate | None:
        """Return how a seam's edges mate; None when one is gone or cannot be cut."""
        pieces = {p.id: p for p in self._p.session.project.pieces}
        try:
            return mate_of(seam, pieces, self._p.session.project.seams)
        except InputError:
            return None

    def set_seam(
        self, seam: Seam, *, dihedral: float | None = None, joint: Joint | None = None
    ) -> None:
        """Change the angle of a seam, or how its edges meet.

        Raises:
            InputError: an angle that no seam has.
        """
        new = replace(
            seam,
            dihedral=seam.dihedral if dihedral is None else dihedral,
            joint=joint or seam.joint,
        )
        name = self.seam_words(seam)
        self._p.session.edit(f"Angle of {name}", lambda p: put_seam(p, seam, new))

    def meet_both(self, seam: Seam) -> None:
        """Let both edges of a seam meet."""
        self._p.session.edit(f"Bevels meet: {self.seam_words(seam)}", lambda p: let_meet(p, seam))

    def grooves(self) -> tuple[Groove, ...]:
        """Return the grooves and scores of the piece."""
        piece = self._p.piece
        return grooves_of(piece) if piece is not None else ()

    def section(self, *, pulled: bool) -> Section:
        """Return the section through what is in hand: a groove, or an edge and its neighbour."""
        if self.groove is not None:
            return groove_section(self._p.shown, self.groove)
        edge, shown = self.chosen_edge, self._p.shown
        knife = self.knife(edge)
        if pulled:
            profile = shown.build.profile(edge)
            sign = -1 if profile.kind is ProfileKind.IN else 1
            bevelled = profile.kind in (ProfileKind.IN, ProfileKind.OUT)
            blade = profile.width if profile.kind is ProfileKind.BLADE else 0.0
            rounded = profile.width if profile.kind is ProfileKind.ROUND else 0.0
            knife = Knife(edge, sign * profile.angle if bevelled else 0.0, blade, rounded)
        seam = self.seam()
        if seam is None:
            return edge_section(shown, knife)
        ref = EdgeRef(self._p.piece_id, edge)
        other = seam.second if seam.first == ref else seam.first
        pieces = {p.id: p for p in self._p.session.project.pieces}
        mate = pieces.get(other.piece)
        if mate is None:
            return edge_section(shown, knife)
        made = self._p.session.plan.made.get(mate.id)
        knives = (made.context.knives or ()) if made is not None else ()
        theirs = next((k for k in knives if k.edge == other.edge), Knife(other.edge))
        return edge_section(shown, knife, (mate, theirs, seam.dihedral))
