"""What the Build station does, without a widget: one piece under work, and every edit of it."""

from collections.abc import Callable
from enum import StrEnum

from ivory_quilt.core.document.darts import DartsCut, as_gores, darts_in, dish_verdict, with_darts
from ivory_quilt.core.document.project import Project, change_piece
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.forming.book import FoamBook
from ivory_quilt.core.forming.dishing import DishVerdict
from ivory_quilt.core.forming.forms import in_other_words
from ivory_quilt.core.pattern.build import Build, Form, FormKind, Given, Layer
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Crease, Piece
from ivory_quilt.core.plan.making import MadePiece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import Cut, CutContext
from ivory_quilt.core.stacks.edge_section import (
    pulled_edge,
    pulled_groove,
)
from ivory_quilt.core.stacks.form_section import form_section, pulled_form
from ivory_quilt.core.stacks.section import Handle, HandleKind, Section
from ivory_quilt.core.stacks.stack_section import pulled_layer, stack_section
from ivory_quilt.core.units import show_thickness
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.build.edge_work import EdgeWork
from ivory_quilt.desk.stations.build.finish_work import FinishWork


class BuildMode(StrEnum):
    """The views of the station."""

    FORM = "form"
    EDGES = "edges"
    STACK = "stack"
    FINISH = "finish"
    FORM_UP = "form-up"
    SUIT = "suit"


MODES = (
    (BuildMode.FORM, "Form", "How it is shaped by heat"),
    (BuildMode.EDGES, "Edges", "How its edges and grooves are cut"),
    (BuildMode.STACK, "Stack", "What is glued onto it and around it"),
    (BuildMode.FINISH, "Finish", "What is done to its faces, and in which tones it is painted"),
    (BuildMode.FORM_UP, "Form-up", "The shape that it takes with all that seams join to it"),
    (BuildMode.SUIT, "Suit", "All groups where they are worn, on the wearer's figure"),
)

# What a form starts from when its kind is chosen: a body of the piece's own size.
STARTS: dict[FormKind, tuple[Given, float, float]] = {
    FormKind.ROLLED: (Given.RADIUS, 0.5, 0.0),
    FormKind.CONE: (Given.RADIUS, 0.4, 0.5),
    FormKind.DISHED: (Given.HEIGHT, 0.15, 0.0),
}


class BuildPresenter:
    """One piece in Build."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.mode = BuildMode.FORM
        self.piece_id = ""
        self.group: tuple[str, ...] = ()
        self.edges = EdgeWork(self)
        self.finish = FinishWork(self)
        self._pulled: Piece | None = None

    # The piece

    @property
    def piece(self) -> Piece | None:
        """The piece under work, or None."""
        return next((p for p in self.session.project.pieces if p.id == self.piece_id), None)

    def take_up(self, piece_id: str, group: tuple[str, ...] = ()) -> None:
        """Open a piece; what is decided about its form and stack goes for all of `group`."""
        self.group = group if len(group) > 1 and piece_id in group else ()
        if piece_id != self.piece_id:
            self.edges.forget()
            self.finish.forget()
        self.piece_id = piece_id

    def settle(self) -> None:
        """Open some piece, where the one under work is gone."""
        if self.piece is None:
            pieces = self.session.project.pieces
            shaped = [p for p in pieces if p.build.form.kind is not FormKind.FLAT]
            chosen = (shaped or list(pieces))[:1]
            self.take_up(chosen[0].id if chosen else "")

    @property
    def shown(self) -> Piece:
        """The piece as it is shown: while something is pulled, as it would be."""
        piece = self._pulled or self.piece
        assert piece is not None
        return piece

    @property
    def made(self) -> MadePiece | None:
        """What is cut for the piece."""
        return self.session.plan.made.get(self.piece_id)

    @property
    def context(self) -> CutContext:
        """What the piece's cuts depend on."""
        made = self.made
        return made.context if made is not None else CutContext()

    @property
    def cuts(self) -> tuple[Cut, ...]:
        """Everything that is cut for the piece."""
        made = self.made
        return made.cuts if made is not None else ()

    @property
    def problem(self) -> str:
        """Why it cannot be made as decided, or an empty string."""
        made = self.made
        return made.problem if made is not None else ""

    @property
    def book(self) -> FoamBook:
        """What the shop knows of the piece's foam."""
        piece = self.piece
        material = piece.material if piece is not None else ""
        return self.session.stock.material(material).book

    @property
    def weight(self) -> float:
        """Weight of all its parts, g."""
        return self.session.plan.piece_weight(self.piece_id) if self.made is not None else 0.0

    def foams(self, layer: Layer) -> list[tuple[Foam, str]]:
        """Return the foams of the shop in words, with a layer's own."""
        stock = self.session.stock
        known = {i.foam for i in stock.items} | {Foam(layer.thickness, layer.material)}
        main = self.piece.material if self.piece is not None else ""
        return [
            (
                f,
                show_thickness(f.thickness)
                if f.material == main
                else f"{show_thickness(f.thickness)} {stock.material_name(f.material)}",
            )
            for f in sorted(known, key=lambda f: (f.material != main, f))
        ]

    # Editing

    def edit(self, what: str, change: Callable[[Build], Build], *, merge: bool = False) -> None:
        """Change the build of the piece under work.

        Raises:
            InputError: a value that makes no sense.
        """
        piece = self.piece
        if piece is None:
            return
        ids = self.group or (piece.id,)
        more = f" and {len(ids) - 1} more" if len(ids) > 1 else ""

        def edited(project: Project) -> Project:
            here = {p.id for p in project.pieces}
            for ident in ids:
                if ident in here:
                    own = project.piece(ident)
                    project = change_piece(project, ident, build=change(own.build))
            return project

        self.session.edit(f"{what}: {piece.name}{more}", edited, merge=merge)

    def set_form(self, **changes: object) -> None:
        """Change the form.

        Raises:
            InputError: a value that makes no sense.
        """
        self.edit("Form", lambda b: replace(b, form=replace(b.form, **changes)))  # type: ignore[arg-type]

    def set_kind(self, kind: FormKind) -> None:
        """Choose how the piece is shaped; it starts from its own size."""
        piece = self.piece
        if piece is None or piece.build.form.kind is kind:
            return
        old = piece.build.form
        given, share, second = STARTS.get(kind, (Given.RADIUS, 0.0, 0.0))
        size = max(piece.shape.width, 20.0)
        axis = 90.0
        form = Form(
            kind, given, round(size * share), round(size * second), axis, old.face, old.beneath
        )
        self.edit("Form", lambda b: replace(b, form=form))

    def set_given(self, given: Given) -> None:
        """Give the form by another number, keeping its shape where that can be said."""
        piece = self.piece
        if piece is None:
            return
        form = piece.build.form
        value, second = in_other_words(form, given, piece.shape)
        self.set_form(given=given, value=value, second=second)

    def set_crease(self, index: int, crease: Crease) -> None:
        """Say what is done along one of the piece's lines.

        Raises:
            InputError: a value that makes no sense.
        """
        piece = self.piece
        if piece is None:
            return
        line = replace(piece.lines[index], crease=crease)
        lines = piece.with_line(index, line).lines
        what = f"{line.kind.value.capitalize()} line: {piece.name}"
        self.session.edit(what, lambda p: change_piece(p, piece.id, lines=lines))

    # Form

    def verdict(self) -> tuple[DishVerdict | None, DartsCut]:
        """Return whether a dished piece goes, and the darts that are cut into it."""
        piece, none = self.piece, DartsCut(0, 0.0)
        if piece is None:
            return None, none
        try:
            found = dish_verdict(piece, self.book.neutral, self.book.dish_limit)
        except InputError:
            return None, none
        return found, darts_in(self.session.project, piece.id)

    def cut_darts(self, verdict: DishVerdict) -> None:
        """Draw the darts that the bowl needs.

        Raises:
            InputError: no room for them.
        """
        piece_id = self.piece_id
        many = verdict.count
        self.session.edit(f"Cut {many} darts", lambda p: with_darts(p, piece_id, verdict))

    def make_gores(self, verdict: DishVerdict) -> None:
        """Put gores in place of the bowl."""
        piece_id, many = self.piece_id, verdict.count
        self.session.edit(f"Make {many} gores", lambda p: as_gores(p, piece_id, verdict))

    # Sections

    def section(self) -> Section | None:
        """Return the cross-section of the view in front; None where there is none."""
        piece = self.piece
        if piece is None:
            return None
        try:
            if self.mode is BuildMode.FORM:
                return form_section(self.shown, self.context)
            if self.mode is BuildMode.EDGES:
                return self.edges.section(pulled=self._pulled is not None)
            if self.mode is BuildMode.FINISH:
                return self.finish.section()
            return stack_section(self.shown, self.cuts)
        except InputError:
            return None

    def pull(self, handle: Handle, to: tuple[float, float]) -> None:
        """Show the piece as it would be with a handle of the section pulled to a place."""
        piece = self.piece
        if piece is None:
            return
        try:
            if handle.kind is HandleKind.FORM:
                self._pulled = pulled_form(piece, self.context, to)
            elif handle.kind is HandleKind.EDGE:
                profile = pulled_edge(piece, piece.build.profile(self.edges.chosen_edge), to)
                build = piece.build.with_profile(self.edges.chosen_edge, profile)
                self._pulled = replace(piece, build=build)
            elif handle.kind is HandleKind.INSET:
                self._pulled = pulled_layer(piece, handle.number, self.cuts, to)
            elif self.edges.groove is not None:
                self._pulled = pulled_groove(piece, self.edges.groove, handle.kind, to)
        except InputError:
            return

    def let_go(self) -> None:
        """Take over what was pulled, as one step.

        Raises:
            InputError: it makes no sense.
        """
        pulled, self._pulled = self._pulled, None
        piece = self.piece
        if pulled is None or piece is None or pulled == piece:
            return
        if self.mode is BuildMode.EDGES and self.edges.groove is None:
            self.edges.set_profile(pulled.build.profile(self.edges.chosen_edge))
            return
        what = {BuildMode.FORM: "Form", BuildMode.EDGES: "Groove", BuildMode.STACK: "Layers"}[
            self.mode
        ]
        self.session.edit(
            f"{what}: {piece.name}",
            lambda p: change_piece(p, piece.id, build=pulled.build, lines=pulled.lines),
        )
