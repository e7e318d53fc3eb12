"""Pieces made from numbers, and made anew when the numbers change."""

from collections.abc import Mapping

from ivory_quilt.core.editing.resize import carried
from ivory_quilt.core.pattern.piece import Piece, Recipe
from ivory_quilt.core.record import replace
from ivory_quilt.core.shapes.book import maker
from ivory_quilt.core.shapes.maker import ShapeMaker, ShapePiece


def thickness_field(shape: ShapeMaker) -> str:
    """Return the name of the number that is the foam's thickness, or an empty string."""
    return next((f.name for f in shape.fields if f.is_thickness), "")


def pieces_from(
    maker_id: str, values: Mapping[str, str], group: str, *, material: str, thickness: float
) -> tuple[Piece, ...]:
    """Return the pieces of a shape, linked to its numbers.

    `thickness` serves where neither the shape's numbers nor the shape itself say one.

    Raises:
        InputError: a number is unknown or makes no sense.
    """
    shape = maker(maker_id)
    typed = _complete(shape, values)
    made = shape.made(typed)
    foam = _foam_thickness(shape, typed, thickness)
    return tuple(
        Piece(
            f"{group}-{k + 1}",
            one.name,
            one.shape,
            material=material,
            thickness=one.thickness if one.thickness is not None else foam,
            count=one.count,
            hand=one.hand,
            lines=one.lines,
            recipe=Recipe(maker_id, tuple(typed.items()), group, k),
        )
        for k, one in enumerate(made.pieces)
    )


def remade(old: tuple[Piece, ...], values: Mapping[str, str]) -> tuple[Piece, ...]:
    """Return the pieces of one shape with other numbers.

    What the maker decided about a piece stays; a count that nobody changed follows the numbers.
    Pieces that the shape now has more are like the first; those it has no longer are left out.

    Raises:
        InputError: a number is unknown or makes no sense.
    """
    first = old[0]
    assert first.recipe is not None
    shape, group = maker(first.recipe.maker), first.recipe.group
    before = shape.made(dict(first.recipe.values)).pieces
    fresh = pieces_from(shape.id, values, group, material=first.material, thickness=first.thickness)
    known = {p.recipe.index: p for p in old if p.recipe is not None}
    return tuple(_onto(known.get(k), new, before, k) for k, new in enumerate(fresh))


def _onto(old: Piece | None, new: Piece, before: tuple[ShapePiece, ...], index: int) -> Piece:
    if old is None:
        return new
    was = before[index] if index < len(before) else None
    same_count = was is not None and old.count == was.count
    shape = maker(new.recipe.maker) if new.recipe else None
    own = was is not None and was.thickness is not None
    follows = own or (shape is not None and thickness_field(shape))
    kept = carried(old, new.shape)
    drawn = was.lines if was is not None else ()
    own_lines = tuple(k for k, d in zip(kept.lines, old.lines, strict=True) if d not in drawn)
    return replace(
        kept,
        shape=new.shape,
        lines=(*new.lines, *own_lines),
        count=new.count if same_count else old.count,
        thickness=new.thickness if follows else old.thickness,
        recipe=new.recipe,
    )


def _complete(shape: ShapeMaker, values: Mapping[str, str]) -> dict[str, str]:
    """Return all numbers of a shape as text, those given first replaced; unknown ones stay in."""
    return {f.name: f.default for f in shape.fields} | dict(values)


def _foam_thickness(shape: ShapeMaker, typed: Mapping[str, str], otherwise: float) -> float:
    for field in shape.fields:
        if field.is_thickness:
            value = field.parse(typed[field.name])
            return float(value) if isinstance(value, float) and value > 0 else otherwise
    return otherwise
