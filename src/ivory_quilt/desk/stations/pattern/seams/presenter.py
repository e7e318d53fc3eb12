"""What the seam map does, without a widget: pair edges, accept offers, set match marks."""

from collections.abc import Callable

from ivory_quilt.core.document.project import Project, put_pieces, set_ease
from ivory_quilt.core.document.seam_book import (
    SeamEntry,
    fit_of,
    join_edges,
    keep_edges,
    open_seam,
    put_seam,
    seam_book,
    seam_name,
    unite_pieces,
)
from ivory_quilt.core.edges.mating import Mate
from ivory_quilt.core.editing.proposals import SeamProposal, propose_seams
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import (
    EdgeRef,
    Seam,
    SeamFit,
    SeamVerdict,
    marks_evenly,
    marks_locally,
)
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import counted, parse_scalar, show_number
from ivory_quilt.desk.session import Session

SIGNS = {SeamVerdict.SITS: "", SeamVerdict.EASE: "~", SeamVerdict.NO: "!"}
TONES = {SeamVerdict.SITS: "good", SeamVerdict.EASE: "heat", SeamVerdict.NO: "cut"}

EASE_PLACES = (
    ((0.08, 0.3), "near its start"),
    ((1 / 3, 2 / 3), "in the middle"),
    ((0.7, 0.92), "near its end"),
)


class Count(Struct, frozen=True):
    """How many seams there are of each verdict."""

    sits: int = 0
    ease: int = 0
    no: int = 0
    lost: int = 0


class SeamPresenter:
    """Seams of the project, and the one under work."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.first: EdgeRef | None = None
        self.pending: Seam | None = None
        self.chosen: Seam | None = None
        self.proposals: tuple[SeamProposal, ...] = ()
        self.left: set[Seam] = set()

    def forget(self) -> None:
        """Let go of everything: another project is open."""
        self.first = self.pending = self.chosen = None
        self.proposals = ()
        self.left.clear()

    @property
    def book(self) -> tuple[SeamEntry, ...]:
        """All seams with their fits."""
        return seam_book(self.session.project)

    def count(self) -> Count:
        """Return how many seams sit, can be eased, or do not fit."""
        verdicts = [e.fit.verdict if e.fit else None for e in self.book]
        return Count(
            verdicts.count(SeamVerdict.SITS),
            verdicts.count(SeamVerdict.EASE),
            verdicts.count(SeamVerdict.NO),
            verdicts.count(None),
        )

    def summary(self) -> str:
        """Return the count in words."""
        c = self.count()
        if not self.book:
            return "No seams yet. Click an edge, then the edge it is glued to."
        said = [f"{c.sits} sit" if c.sits != 1 else "1 sits"]
        said += [f"{c.ease} to be eased"] * bool(c.ease)
        said += [f"{c.no} {'does' if c.no == 1 else 'do'} not fit"] * bool(c.no)
        said += [f"{c.lost} lost an edge"] * bool(c.lost)
        many = len(self.book)
        return f"{counted(many, 'seam')}: {', '.join(said)}."

    def name(self, seam: Seam) -> str:
        """Return a seam in words."""
        return seam_name(self.session.project, seam)

    def fit(self, seam: Seam) -> SeamFit | None:
        """Return how a seam fits, None when an edge is gone."""
        return fit_of(self.session.project, seam)

    def mate(self, seam: Seam) -> Mate | None:
        """Return how a seam's cut faces come together; None where that cannot be said."""
        known = next((e for e in self.book if e.seam == seam), None)
        return known.mate if known is not None else None

    def show(self, seam: Seam) -> None:
        """Take a seam in hand."""
        self.first = self.pending = None
        self.chosen = seam

    # Pairing by hand

    def click(self, ref: EdgeRef | None) -> None:
        """Take an edge in hand; the second one makes a seam to look at."""
        if ref is None:
            self.first = self.pending = self.chosen = None
            return
        known = next((s for s in self.session.project.seams if s.touches(ref)), None)
        if known is not None and self.first is None:
            self.chosen, self.pending = known, None
            return
        self.chosen = None
        if self.first is None or known is not None:
            self.first, self.pending = ref, None
            return
        self.pending = Seam(self.first, ref)
        self.first = None

    def join(self) -> None:
        """Make the seam that was looked at."""
        if self.pending is not None:
            self.add(self.pending)

    def add(self, seam: Seam) -> None:
        """Add a seam.

        Raises:
            InputError: an edge is in a seam already.
        """
        self.session.edit(f"Join {self.name(seam)}", lambda p: join_edges(p, seam))
        self.pending, self.chosen = None, seam
        self.proposals = tuple(
            p
            for p in self.proposals
            if not (p.seam.touches(seam.first) or p.seam.touches(seam.second))
        )

    def turn(self) -> None:
        """Let the second edge of the seam in hand run the other way."""
        if self.pending is not None:
            self.pending = replace(self.pending, turned=not self.pending.turned)
        elif (seam := self.chosen) is not None:
            turned = replace(seam, turned=not seam.turned)
            self.session.edit(f"Reverse {self.name(seam)}", lambda p: put_seam(p, seam, turned))
            self.chosen = turned

    def open(self) -> None:
        """Take the chosen seam out."""
        if (seam := self.chosen) is not None:
            self.session.edit(f"Remove {self.name(seam)}", lambda p: open_seam(p, seam))
            self.chosen = None

    def unite(self) -> None:
        """Make the two pieces of the seam in hand one.

        Raises:
            InputError: the edges do not lie on each other.
        """
        seam = self.pending or self.chosen
        if seam is not None:
            self.session.edit(f"Merge {self.name(seam)}", lambda p: unite_pieces(p, seam))
            self.pending = self.chosen = None

    def can_unite(self) -> bool:
        """Return whether the seam in hand is one of two pieces side by side."""
        seam = self.pending or self.chosen
        return seam is not None and seam.first.piece != seam.second.piece and not seam.turned

    # Offers

    def look(self) -> None:
        """Find seams that the pieces suggest."""
        project = self.session.project
        self.proposals = self.found(project)

    def found(self, project: Project) -> tuple[SeamProposal, ...]:
        """Return the offers for a project; may run on any thread."""
        offers = propose_seams(project.pieces, project.seams, project.ease / 100)
        return tuple(p for p in offers if p.seam not in self.left)

    def accept_all(self) -> None:
        """Join everything that is offered, as one step."""
        offers = self.proposals

        def edit(project: Project) -> Project:
            for offer in offers:
                project = join_edges(project, offer.seam)
            return project

        many = len(offers)
        self.session.edit(f"Join {many} offered seam{'s' if many != 1 else ''}", edit)
        self.proposals = ()

    def leave(self, proposal: SeamProposal) -> None:
        """Do not offer a seam again."""
        self.left.add(proposal.seam)
        self.proposals = tuple(p for p in self.proposals if p is not proposal)

    def set_ease(self, text: str) -> None:
        """Say how much of a seam this project's foam can be eased, in percent.

        Raises:
            InputError: not 0 to 20 %.
        """
        percent = parse_scalar(text.strip("% "), where="ease")
        if percent != self.session.project.ease:
            self.session.edit(f"Ease up to {percent:g} %", lambda p: set_ease(p, percent))

    # Match marks

    def mark_evenly(self, count: int) -> None:
        """Give the chosen seam match marks that spread its ease.

        Raises:
            InputError: not 1 to 40 marks.
        """
        self._mark(f"{count} even marks", lambda p, s: marks_evenly(*_both(p, s), s, count))

    def mark_locally(self, begin: float = 1 / 3, end: float = 2 / 3) -> None:
        """Give the chosen seam two marks with all its ease between them.

        Raises:
            InputError: not 0 < begin < end < 1.
        """
        self._mark("distributed ease", lambda p, s: marks_locally(*_both(p, s), s, begin, end))

    def _mark(self, what: str, make: Callable[[Project, Seam], tuple[Piece, Piece]]) -> None:
        seam = self.chosen
        if seam is None:
            return

        def edit(project: Project) -> Project:
            project = keep_edges(project, (seam.first.piece, seam.second.piece))
            return put_pieces(project, make(project, seam))

        self.session.edit(f"{what.capitalize()}: {self.name(seam)}", edit)


def _both(project: Project, seam: Seam) -> tuple[Piece, Piece]:
    return project.piece(seam.first.piece), project.piece(seam.second.piece)


def verdict_words(fit: SeamFit | None, mate: Mate | None = None) -> tuple[str, str]:
    """Return a verdict in words and its tone."""
    if fit is None:
        return "an edge is gone", "cut"
    off, percent = show_number(abs(fit.difference), 1), show_number(abs(fit.percent), 1)
    words = f"{fit.verdict.value}: {off} mm, {percent} %"
    marked = bool(fit.landings or fit.lonely)
    tone = TONES[fit.verdict]
    if marked and not fit.marks_meet and fit.verdict is not SeamVerdict.NO:
        words, tone = f"{words}; marks miss", "heat"
    if mate is not None and not mate.good:
        return f"{words}; {mate.sentence}", "cut"
    return words, tone
