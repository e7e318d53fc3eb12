"""The presenter of Form-up: what is asked of the engine, and what came of it."""

from collections.abc import Callable
from functools import partial
from pathlib import Path

from ivory_quilt.core.document.assembling import PieceAssembly, assembly_of, joined_to
from ivory_quilt.core.document.forming_up import group_form, set_group_form
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError, QuiltError
from ivory_quilt.core.formup.assembly import Cylinder, Former, MeshFormer, Sphere, edge_for
from ivory_quilt.core.formup.choices import FormerKind, GroupForm
from ivory_quilt.core.formup.outcome import FormedShape, seat_of
from ivory_quilt.core.measure.body import BodyPart, body_part
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.work import Background, at_once

FINEST = 8.0  # mm: fine enough to see where it pulls
TRIANGLES = 2500  # about: there in a second
NO_ANSWER = "The layout engine gave no answer; change something to ask again."
AHEAD = 2  # shapes of a drag that are asked for at once: the engine does not wait for the window


class _Asked(Struct, frozen=True):
    """What an answer must still fit."""

    project: Project
    piece: str
    edge: float
    former: Former | None
    firmly: bool


class FormUpPresenter:
    """One group at a time; how it is formed up is the project's, its shape is not."""

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Ask `engine` about the pieces of `session`."""
        self.session, self.engine = session, engine
        self.changed: Callable[[], object] = lambda: None
        self.background: Background = at_once
        self.edge: float | None = None
        self.shape: FormedShape | None = None
        self._pressed_on: Former | None = None  # what `shape` is pressed on
        self.group: PieceAssembly | None = None
        self.problem = ""
        self.running = False
        self._piece = ""
        self._known: tuple[Project, str, tuple[str, ...], GroupForm] | None = None
        self._bodies: dict[str, MeshFormer] = {}
        self._asked: _Asked | None = None
        self._worn: tuple[Wearer, BodyPart, MeshFormer] | None = None
        self._dragged: float | None = None
        self._followed: float | None = None
        """The radius that was asked for last while one is dragged."""
        self._waiting = 0  # shapes of it that are on their way

    # What the project says

    @property
    def ids(self) -> tuple[str, ...]:
        """The pieces of the group under work."""
        return self._group_now()[2]

    @property
    def choice(self) -> GroupForm:
        """How the group is formed up."""
        return self._group_now()[3]

    def _group_now(self) -> tuple[Project, str, tuple[str, ...], GroupForm]:
        """Return the project, the piece in front, its group, and how that is formed up."""
        project, piece, known = self.session.project, self._piece, self._known
        if known is None or known[0] is not project or known[1] != piece:
            there = any(p.id == piece for p in project.pieces)
            ids = joined_to(project, piece) if there else ()
            known = self._known = (project, piece, ids, group_form(project, ids))
        return known

    @property
    def fineness(self) -> float:
        """Length of the triangles' edges, mm: as it was chosen, else so that it takes a second."""
        if self.edge is not None:
            return self.edge
        pieces = [self.session.project.piece(i) for i in self.ids]
        area = sum(p.shape.area * (2 if p.hand is Hand.PAIR else 1) for p in pieces)
        return max(FINEST, round(edge_for(area, TRIANGLES), 1))

    @property
    def body_name(self) -> str:
        """The file that the body is from."""
        return Path(self.choice.body).name

    @property
    def former(self) -> Former | None:
        """What the pieces are pressed on.

        Raises:
            InputError: the wearer's body lacks a measure, or a file cannot be read.
        """
        return self.former_of(self.choice)

    def former_of(self, choice: GroupForm) -> Former | None:
        """Return what a group is pressed on that is formed up like this.

        Raises:
            InputError: see `former`.
        """
        if choice.former is FormerKind.WEARER:
            return self._wearers(choice)
        if choice.former is FormerKind.BODY:
            return self._read(choice.body)
        made: dict[FormerKind, Former | None] = {
            FormerKind.NONE: None,
            FormerKind.BALL: Sphere(choice.radius),
            FormerKind.CYLINDER: Cylinder(choice.radius),
        }
        return made[choice.former]

    def _wearers(self, choice: GroupForm) -> MeshFormer:
        """Return the chosen part of the chosen wearer's body, the same while nothing changed."""
        wearer = self.wearer_of(choice)
        if wearer is None:
            raise InputError("pressed on", "the project has no wearer", "one, in Measure")
        if self._worn is None or self._worn[:2] != (wearer, choice.part):
            made = MeshFormer(*body_part(wearer, choice.part))
            self._worn = (wearer, choice.part, made)
        return self._worn[2]

    @property
    def wearer(self) -> Wearer | None:
        """The wearer whose body the group goes on; None without any."""
        return self.wearer_of(self.choice)

    def wearer_of(self, choice: GroupForm) -> Wearer | None:
        """Return the wearer that a group is for; the first where none is said."""
        wearers = self.session.project.wearers
        first = wearers[0] if wearers else None
        return next((w for w in wearers if w.id == choice.wearer), first)

    def _read(self, file: str) -> MeshFormer | None:
        from ivory_quilt.files.body_file import read_body

        if not file:
            return None
        if file not in self._bodies:
            self._bodies[file] = read_body(Path(file))
        return self._bodies[file]

    # Deciding

    def choose(self, label: str, **changes: object) -> None:
        """Decide how the group is formed up.

        Raises:
            InputError: a number that makes no sense.
        """
        ids = self.ids
        made = replace(self.choice, **changes)  # type: ignore[arg-type]
        self.session.edit(label, lambda p: set_group_form(p, ids, made))
        self.changed()

    def wear(self, wearer: str, part: BodyPart) -> None:
        """Choose whose body it is pressed on, and which part of it."""
        self.choose("Pressed on", wearer=wearer, part=part)

    def press_on(self, kind: FormerKind) -> None:
        """Press on another former."""
        self.choose("Pressed on", former=kind)

    def press_firmly(self, *, firmly: bool) -> None:
        """Press it down everywhere, or only where it lies near by itself."""
        self.choose("Pressed down everywhere", firmly=firmly)

    def set_radius(self, radius: float) -> None:
        """Choose the former's radius, mm.

        Raises:
            InputError: not 5 to 2000 mm.
        """
        self._dragged = self._followed = None
        self.choose("Radius of the former", radius=radius)

    def set_modulus(self, modulus: float) -> None:
        """Say how stiff the foam is, MPa, as it was measured; 0: not known.

        Raises:
            InputError: no such foam.
        """
        self.choose("Modulus of the foam", modulus=modulus)

    def set_edge(self, edge: float) -> None:
        """Choose how fine the triangles are, mm.

        Raises:
            InputError: not 2 to 50 mm.
        """
        if not 2 <= edge <= 50:
            raise InputError("triangles", f"{edge:g} mm", "2 to 50 mm")
        self.edge = edge
        self.changed()

    def read_body(self, path: Path) -> None:
        """Take a former from an STL or OBJ file, mm.

        Raises:
            InputError: it cannot be read, or is open.
        """
        self._bodies.pop(str(path), None)
        self._read(str(path))
        self.choose("Pressed on", former=FormerKind.BODY, body=str(path))

    # Asking

    def take_up(self, piece_id: str) -> None:
        """Take up another piece's group, without asking for its shape."""
        self._piece = piece_id

    def ask(self, piece_id: str) -> None:
        """Form up the group of a piece, unless that is known or under way."""
        self.take_up(piece_id)
        try:
            choice = self.choice
            former = self.former_of(choice)
            firmly = choice.firmly and former is not None
            wanted = _Asked(self.session.project, piece_id, self.fineness, former, firmly)
        except InputError as error:
            self.forget()
            self.problem = str(error)
            return
        if wanted == self._asked:
            return
        there = {p.id for p in wanted.project.pieces}
        if self.group is not None and not there.issuperset(self.group.pieces):
            self.shape, self.group = None, None  # pieces of it are gone
        before = self.group if self._asked is not None else None
        self._asked = wanted
        self.problem, self.running = "", True
        # On a body it goes on from how it sits, as what helps did when it was compared.
        sits = self.shape if former is not None and former is self._pressed_on else None
        work = partial(_assembled, wanted, sits)
        self.background(work, partial(self._have_group, wanted, before))

    def _have_group(
        self,
        wanted: _Asked,
        before: PieceAssembly | None,
        group: PieceAssembly | None,
        error: Exception | None,
    ) -> None:
        if wanted is not self._asked:
            return
        if error is not None and not isinstance(error, QuiltError):
            raise error
        if group is None:
            self.shape, self.group, self.problem, self.running = None, None, str(error), False
            self.changed()
            return
        other = before is None or (before.pieces, before.seams) != (group.pieces, group.seams)
        self.group = group
        if other and self.shape is not None:
            self.shape = None  # of other pieces
            self.changed()
        finer = self.edge is None
        self.engine.ask_form(group.assembly, lambda answer: self._have(wanted, answer), finer=finer)

    def forget(self) -> None:
        """Another project is open."""
        self._asked, self.shape, self.group, self.problem = None, None, None, ""
        self.running = False

    def _have(self, wanted: _Asked, answer: FormedShape | str | None) -> None:
        if wanted is not self._asked:
            return
        self.running = False
        if answer is None:
            self.problem = NO_ANSWER
        elif isinstance(answer, str):
            self.shape, self.problem = None, answer
        else:
            self.shape, self._pressed_on = answer, wanted.former
        self.changed()

    def drag_radius(self, radius: float) -> None:
        """Follow a radius that is being dragged: coarse shapes, nothing decided yet."""
        self._dragged = radius
        self._follow()

    def _follow(self) -> None:
        """Ask for the shape with the radius that is dragged by now."""
        radius, group = self._dragged, self.group
        kinds: dict[FormerKind, type[Sphere | Cylinder]] = {
            FormerKind.BALL: Sphere,
            FormerKind.CYLINDER: Cylinder,
        }
        kind = kinds.get(self.choice.former)
        if radius is None or group is None or kind is None:
            return
        if radius == self._followed or self._waiting >= AHEAD:
            return
        self._followed, self._waiting = radius, self._waiting + 1
        job = replace(group.assembly, former=kind(radius))

        def have(answer: FormedShape | str | None) -> None:
            self._waiting -= 1
            if self._dragged is None:
                return
            self._follow()
            if isinstance(answer, FormedShape):
                self.shape = answer
                self.changed()

        self.engine.ask_form(job, have, quick=True)

    def export(self, path: Path) -> None:
        """Write the shape as OBJ, STL or binary glTF.

        Raises:
            InputError: another format, or the place cannot be written.
        """
        from ivory_quilt.files.body_file import write_formed

        if self.shape is not None:
            write_formed(self.shape, path)


def seat_on(before: FormedShape | None, group: PieceAssembly) -> tuple[tuple[float, ...], ...]:
    """Return how the first panel sat before, so that the next sits alike; () where unknown."""
    if before is None or before.panels[0].id != group.assembly.panels[0].id:
        return ()
    return seat_of(before.panels[0].flat, before.panels[0].places)


def _assembled(asked: _Asked, sits: FormedShape | None) -> PieceAssembly:
    """Return what is formed up, from how it sits by now; any thread.

    Raises:
        InputError: seams or forms that make no sense.
    """
    group = assembly_of(asked.project, asked.piece, asked.edge, asked.former)
    seat = seat_on(sits, group)
    return replace(group, assembly=replace(group.assembly, firmly=asked.firmly, seat=seat))
