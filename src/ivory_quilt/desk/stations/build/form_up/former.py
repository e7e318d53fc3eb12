"""The presenter of Form-up: what is asked of the engine, and what came of it."""

from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum
from pathlib import Path

from ivory_quilt.core.document.assembling import PieceAssembly, assembly_of
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Cylinder, Former, MeshFormer, Sphere
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.measure.body import BodyPart, body_part
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.session import Session

EDGE = 8.0  # mm: fine enough to see where it pulls, and there in a second


class FormerKind(StrEnum):
    """What the pieces are pressed on."""

    NONE = "nothing: it stands freely"
    BALL = "ball"
    CYLINDER = "cylinder"
    WEARER = "the wearer's body"
    BODY = "body from a file"


@dataclass(frozen=True)
class _Asked:
    """What an answer must still fit."""

    project: Project
    piece: str
    edge: float
    former: Former | None


class FormUpPresenter:
    """One group at a time."""

    def __init__(self, session: Session, engine: LayoutEngine) -> None:
        """Ask `engine` about the pieces of `session`."""
        self.session, self._engine = session, engine
        self.changed: Callable[[], object] = lambda: None
        self.kind = FormerKind.NONE
        self.radius = 90.0
        self.edge = EDGE
        self.wearer = ""
        self.part = BodyPart.HEAD
        self.body_name = ""
        self.shape: FormedShape | None = None
        self.group: PieceAssembly | None = None
        self.problem = ""
        self.running = False
        self._body: Former | None = None
        self._asked: _Asked | None = None
        self._worn: tuple[Wearer, BodyPart, MeshFormer] | None = None

    @property
    def former(self) -> Former | None:
        """What the pieces are pressed on.

        Raises:
            InputError: the wearer's body lacks a measure.
        """
        if self.kind is FormerKind.WEARER:
            return self._wearers()
        made: dict[FormerKind, Former | None] = {
            FormerKind.NONE: None,
            FormerKind.BALL: Sphere(self.radius),
            FormerKind.CYLINDER: Cylinder(self.radius),
            FormerKind.BODY: self._body,
        }
        return made[self.kind]

    def _wearers(self) -> MeshFormer:
        """Return the chosen part of the chosen wearer's body, the same while nothing changed."""
        wearers = self.session.project.wearers
        if not wearers:
            raise InputError("pressed on", "the project has no wearer", "one, in Measure")
        wearer = next((w for w in wearers if w.id == self.wearer), wearers[0])
        if self._worn is None or self._worn[:2] != (wearer, self.part):
            self._worn = (wearer, self.part, MeshFormer(*body_part(wearer, self.part)))
        return self._worn[2]

    def wear(self, wearer: str, part: BodyPart) -> None:
        """Choose whose body, and which part of it."""
        self.wearer, self.part = wearer, part
        self.changed()

    def press_on(self, kind: FormerKind) -> None:
        """Press on another former."""
        self.kind = kind
        self.changed()

    def set_radius(self, radius: float) -> None:
        """Choose the former's radius, mm.

        Raises:
            InputError: not 5 to 2000 mm.
        """
        if not 5 <= radius <= 2000:
            raise InputError("radius", f"{radius:g} mm", "5 to 2000 mm")
        self.radius = radius
        self.changed()

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
        from ivory_quilt.files.body_file import read_body

        self._body = read_body(path)
        self.body_name, self.kind = path.name, FormerKind.BODY
        self.changed()

    def ask(self, piece_id: str) -> None:
        """Form up the group of a piece, unless that is known or under way."""
        try:
            wanted = _Asked(self.session.project, piece_id, self.edge, self.former)
        except InputError as error:
            self.forget()
            self.problem = str(error)
            return
        if wanted == self._asked:
            return
        same_group = self._asked is not None and self.group is not None
        self._asked = wanted
        try:
            group = assembly_of(wanted.project, piece_id, self.edge, wanted.former)
        except InputError as error:
            self.shape, self.group, self.problem, self.running = None, None, str(error), False
            return
        if not (same_group and self.group is not None and self.group.pieces == group.pieces):
            self.shape = None  # of other pieces
        self.group, self.problem, self.running = group, "", True
        self._engine.ask_form(group.assembly, lambda answer: self._have(wanted, answer))

    def forget(self) -> None:
        """Another project is open."""
        self._asked, self.shape, self.group, self.problem = None, None, None, ""
        self.running = False

    def _have(self, wanted: _Asked, answer: FormedShape | str | None) -> None:
        if wanted is not self._asked:
            return
        self.running = False
        if answer is None:
            self.problem = "The layout engine gave no answer; change something to ask again."
        elif isinstance(answer, str):
            self.shape, self.problem = None, answer
        else:
            self.shape = answer
        self.changed()

    def export(self, path: Path) -> None:
        """Write the shape as OBJ, STL or binary glTF.

        Raises:
            InputError: another format, or the place cannot be written.
        """
        from ivory_quilt.files.body_file import write_formed

        if self.shape is not None:
            write_formed(self.shape, path)
