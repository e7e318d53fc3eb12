"""A shape under work: its numbers, what they make, and how it comes into the project."""

from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
    fresh_group,
    remake_shape,
    shape_pieces,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.piece import Hand, Recipe
from ivory_quilt.core.reckoning import Value
from ivory_quilt.core.shapes.book import MAKERS, maker
from ivory_quilt.core.shapes.maker import ShapeInput, ShapeMaker, ShapeResult
from ivory_quilt.core.shapes.recipe import pieces_from, thickness_field
from ivory_quilt.core.units import counted, parse_length, show_area, show_number
from ivory_quilt.desk.session import Session


class ShapePresenter:
    """New shapes, and shapes of the project whose numbers change."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.choosing = False
        self.shape: ShapeMaker | None = None
        self.values: dict[str, str] = {}
        self.group = ""
        self.made: ShapeResult | None = None
        self.error = ""

    @property
    def open(self) -> bool:
        """Whether a shape is being chosen or worked on."""
        return self.choosing or self.shape is not None

    @property
    def is_new(self) -> bool:
        """Whether the shape is not in the project yet."""
        return not self.group

    # Beginning and ending

    def choose(self) -> None:
        """Begin with the choice of a shape."""
        self.close()
        self.choosing = True

    def start(self, ident: str, defaults: dict[str, object]) -> None:
        """Begin a new shape with sensible numbers, in the foam last used."""
        self.close()
        self.shape = maker(ident)
        self.values = {f.name: f.default for f in self.shape.fields}
        thickness = defaults.get("thickness")
        if (name := thickness_field(self.shape)) and isinstance(thickness, float):
            self.values[name] = show_number(thickness, 2)
        self._make()

    def take_up(self, recipe: Recipe) -> None:
        """Work on a shape that is in the project."""
        self.close()
        if recipe.maker not in MAKERS:
            self.session.tell(f"This version knows no shape '{recipe.maker}'.", "cut")
            return
        self.shape, self.group = maker(recipe.maker), recipe.group
        self.values = {f.name: f.default for f in self.shape.fields} | dict(recipe.values)
        self._make()

    def close(self) -> None:
        """Put the work away; a shape in the project stays as it is."""
        self.choosing = False
        self.shape, self.group, self.values = None, "", {}
        self.made, self.error = None, ""

    # Numbers

    def set(self, field: ShapeInput, text: str) -> None:
        """Change one number; a shape of the project changes with it."""
        if self.shape is None or self.values.get(field.name) == text:
            return
        self.values[field.name] = text
        self._make()
        if self.made is not None and self.group:
            self._follow(field)

    def _make(self) -> None:
        assert self.shape is not None
        try:
            self.made, self.error = self.shape.made(self.values), ""
        except InputError as error:
            self.made, self.error = None, str(error)

    def _follow(self, field: ShapeInput) -> None:
        assert self.shape is not None
        label = f"{self.shape.title}: {field.title}"
        try:
            self.session.edit(label, lambda p: remake_shape(p, self.group, self.values), merge=True)
        except InputError as error:
            self.error = str(error)

    def reread(self) -> None:
        """Take the numbers from the project again: undo may have changed them."""
        if not self.group:
            return
        pieces = shape_pieces(self.session.project, self.group)
        if not pieces or pieces[0].recipe is None:
            self.close()
        elif not self.error and dict(pieces[0].recipe.values) != self.values:
            self.values = dict(pieces[0].recipe.values)
            self._make()

    def add(self, defaults: dict[str, object]) -> tuple[str, ...]:
        """Bring the new shape's pieces into the project; return their ids."""
        if self.shape is None or self.made is None:
            return ()
        group = fresh_group(self.session.project, self.shape.id)
        pieces = pieces_from(
            self.shape.id,
            self.values,
            group,
            material=str(defaults["material"]),
            thickness=float(str(defaults["thickness"])),
        )
        before = {p.id for p in self.session.project.pieces}
        self.session.edit(f"Make {self.shape.title.lower()}", lambda p: add_pieces(p, pieces))
        added = tuple(p.id for p in self.session.project.pieces if p.id not in before)
        self.session.tell(f"{self.shape.title}: {counted(len(added), 'piece')} made.", "good")
        self.close()
        return added


def follow_thickness(project: Project, piece_ids: list[str]) -> Project:
    """Make those shapes anew that count the foam of pieces whose thickness was changed.

    Raises:
        InputError: a shape cannot be made of that foam.
    """
    chosen = [project.piece(i) for i in piece_ids]
    for piece in {p.recipe.group: p for p in chosen if p.recipe is not None}.values():
        assert piece.recipe is not None
        shape = MAKERS.get(piece.recipe.maker)
        name = thickness_field(shape) if shape is not None else ""
        values = dict(piece.recipe.values)
        if name and parse_length(values.get(name, "0")) != piece.thickness:
            values[name] = show_number(piece.thickness, 2)
            project = remake_shape(project, piece.recipe.group, values)
    return project


def sizes(made: ShapeResult) -> str:
    """Return the pieces and their sizes in one line each."""
    rows = []
    for piece in made.pieces:
        size = f"{show_number(piece.shape.width, 1)} × {show_number(piece.shape.height, 1)} mm"
        many = "pair · " if piece.hand is Hand.PAIR else ""
        times = f"{piece.count} × " if piece.count > 1 else ""
        rows.append(f"{times}{piece.name}: {many}{size}")
    return "\n".join(rows)


def shown_result(name: str, value: Value) -> str:
    """Return a reckoning's result with its unit; lengths are in mm."""
    if isinstance(value, tuple):
        return ", ".join(shown_result(name, v) for v in value)
    if isinstance(value, str):
        return value
    if name.endswith("strain"):
        return f"{show_number(100 * value, 1)} %"
    if name in ("angle", "dihedral", "bevel"):
        return f"{show_number(value, 2)}°"
    if name == "layers":
        return show_number(value, 0)
    if name == "area":
        return show_area(value)
    return f"{show_number(value, 2)} mm"
