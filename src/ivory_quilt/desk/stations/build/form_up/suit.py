"""The presenter of the whole suit: every group formed up, standing on the wearer's figure."""

from collections.abc import Callable
from functools import partial

from ivory_quilt.core.document.assembling import assembly_of
from ivory_quilt.core.document.forming_up import group_form
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import joined_groups
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Assembly, Former
from ivory_quilt.core.formup.choices import Worn
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.standing import worn_by_name
from ivory_quilt.core.formup.wearing import Garment
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.piece import Hand, Piece
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.desk.stations.build.form_up.former import NO_ANSWER, FormUpPresenter
from ivory_quilt.desk.work import Background, at_once
from ivory_quilt.engine.questions import DressedSuit

EDGE = 14.0  # mm: coarse enough for all groups in a few seconds
LIMBS = (BodyPart.UPPER_ARM, BodyPart.FOREARM, BodyPart.THIGH, BodyPart.SHIN)


class SuitGroup(Struct, frozen=True):
    """One group of the suit: its pieces, the first of them its name, and where it is worn."""

    pieces: tuple[Piece, ...]
    worn: Worn | None
    decided: bool

    @property
    def name(self) -> str:
        """What it is called."""
        return self.pieces[0].name

    @property
    def sides(self) -> tuple[int, ...]:
        """On which sides it stands: 1 right, -1 left, 0 in the middle."""
        hands = {p.hand for p in self.pieces}
        if Hand.PAIR in hands and hands <= {Hand.PAIR}:
            return (-1, 1)
        if hands == {Hand.LEFT}:
            return (-1,)
        if hands == {Hand.RIGHT}:
            return (1,)
        on_limb = self.worn is not None and self.worn.part in LIMBS
        if on_limb:
            return (-1, 1) if self.pieces[0].count > 1 else (1,)
        return (0,)

    @property
    def drawn(self) -> int:
        """The side that its shape is of."""
        first = self.pieces[0]
        hand = first.drawn_hand if first.hand is Hand.PAIR else first.hand
        return 1 if hand is Hand.RIGHT else -1


class SuitPresenter:
    """The whole suit, group after group."""

    def __init__(self, form_up: FormUpPresenter) -> None:
        """Ask as `form_up` does, for all groups."""
        self.form_up = form_up
        self.changed: Callable[[], object] = lambda: None
        self.background: Background = at_once
        self.wearer_id = ""
        self.scene = form_up.engine.new_scene()
        """The number of the figure with all groups on it, at the engine."""
        self.dressed: DressedSuit | None = None
        """What is known of that."""
        self.problem = ""
        self.refused: dict[str, str] = {}
        self.running = False
        self._shapes: dict[tuple[str, ...], tuple[Assembly, FormedShape]] = {}
        self._shown: object = None
        self._grouped: tuple[Project, tuple[SuitGroup, ...]] | None = None
        self._turn = 0

    @property
    def wearer(self) -> Wearer | None:
        """Whose figure it is."""
        wearers = self.form_up.session.project.wearers
        first = wearers[0] if wearers else None
        return next((w for w in wearers if w.id == self.wearer_id), first)

    def choose_wearer(self, ident: str) -> None:
        """Show another wearer's figure."""
        self.wearer_id = ident
        self.changed()

    def groups(self) -> tuple[SuitGroup, ...]:
        """Return all groups that are cut, the first piece of each as it stands in the project."""
        project = self.form_up.session.project
        if self._grouped is not None and self._grouped[0] is project:
            return self._grouped[1]
        sewn = {r.piece for s in project.seams for r in (s.first, s.second)}
        made = [g for g in joined_groups(project) if g[0].id in sewn]
        made += [(p,) for p in project.pieces if p.id not in sewn]
        found = tuple(self._group(project, g) for g in made if any(p.count for p in g))
        self._grouped = (project, found)
        return found

    def _group(self, project: Project, pieces: tuple[Piece, ...]) -> SuitGroup:
        decided = group_form(project, [p.id for p in pieces]).worn
        guesses = (worn_by_name(p.name, pair=p.hand is Hand.PAIR) for p in pieces)
        return SuitGroup(
            pieces, decided or next((g for g in guesses if g), None), decided is not None
        )

    def group_of(self, piece_id: str) -> SuitGroup | None:
        """Return the group of a piece."""
        return next((g for g in self.groups() if any(p.id == piece_id for p in g.pieces)), None)

    def wear(self, worn: Worn) -> None:
        """Decide where the group that is taken up is worn."""
        self.form_up.choose("Where it is worn", worn=worn)

    def forget(self) -> None:
        """Another project is open."""
        self._turn += 1
        self._shapes, self.dressed, self._shown, self.running = {}, None, None, False
        self.refused, self.problem = {}, ""

    # Forming

    def ask(self) -> None:
        """Form up what is not known, then put everything on the figure."""
        wearer, groups = self.wearer, self.groups()
        wanted = (self.form_up.session.project, wearer)
        if wanted == self._shown:
            return
        self._shown = wanted
        self._turn += 1
        self.problem, self.refused = "", {}
        if wearer is None:
            self.dressed, self.problem = None, "The figure needs a wearer, in Measure."
            return
        self.running = True
        turn, project = self._turn, self.form_up.session.project
        worn = [g for g in groups if g.worn is not None]
        formers = self._formers(project, worn)
        ids = [tuple(p.id for p in g.pieces) for g in worn]

        def have(jobs: list[Assembly | str] | None, error: Exception | None) -> None:
            if jobs is None:
                raise error or AssertionError
            if turn == self._turn:
                self._next(turn, worn, jobs, 0)

        self.background(partial(_assemblies, project, ids, formers), have)

    def _formers(self, project: Project, groups: list[SuitGroup]) -> list[Former | str | None]:
        """Return what each group is pressed on, or why that cannot be."""
        made: list[Former | str | None] = []
        for group in groups:
            try:
                made.append(
                    self.form_up.former_of(group_form(project, [p.id for p in group.pieces]))
                )
            except InputError as error:
                made.append(str(error))
        return made

    def _next(
        self, turn: int, groups: list[SuitGroup], jobs: list[Assembly | str], at: int
    ) -> None:
        """Form up the next group that is not known, or dress the figure after the last."""
        if turn != self._turn:
            return
        while at < len(groups):
            ids, job = tuple(p.id for p in groups[at].pieces), jobs[at]
            known = self._shapes.get(ids)
            if isinstance(job, str):
                self.refused[groups[at].name] = job
            elif known is None or known[0] != job:
                break
            at += 1
        else:
            self._dress(turn, groups)
            return

        def have(answer: FormedShape | str | None) -> None:
            if turn != self._turn:
                return
            if isinstance(answer, FormedShape):
                self._shapes[ids] = (job, answer)
            elif answer is None:  # another group was asked for meanwhile: once more
                self._next(turn, groups, jobs, at)
                return
            else:
                self.refused[groups[at].name] = answer
            self._next(turn, groups, jobs, at + 1)

        self.form_up.engine.ask_form(job, have)

    def _dress(self, turn: int, groups: list[SuitGroup]) -> None:
        wearer = self.wearer
        assert wearer is not None
        garments = tuple(
            Garment(g.name, self._shapes[ids][1], g.worn, g.sides, g.drawn)
            for g in groups
            if (ids := tuple(p.id for p in g.pieces)) in self._shapes and g.worn is not None
        )

        def have(answer: DressedSuit | str | None) -> None:
            if turn != self._turn:
                return
            self.running = False
            if isinstance(answer, DressedSuit):
                self.dressed, self.problem = answer, ""
            else:
                self.dressed, self.problem = None, answer or NO_ANSWER
            self.changed()

        self.form_up.engine.hold_suit(self.scene, wearer, garments, have)


def _assemblies(
    project: Project, groups: list[tuple[str, ...]], formers: list[Former | str | None]
) -> list[Assembly | str]:
    """Return what is formed up of each group, or why that cannot be; any thread."""
    made: list[Assembly | str] = []
    for ids, former in zip(groups, formers, strict=True):
        if isinstance(former, str):
            made.append(former)
            continue
        try:
            job = assembly_of(project, ids[0], EDGE, former).assembly
            firmly = former is not None and group_form(project, ids).firmly
            made.append(replace(job, firmly=firmly))
        except InputError as error:
            made.append(str(error))
    return made
