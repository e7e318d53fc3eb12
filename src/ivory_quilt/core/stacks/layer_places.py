"""Where each layer of a piece lies on its form."""

from ivory_quilt.core.forming.shaping import Place
from ivory_quilt.core.pattern.build import LayerSide
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import CutContext


def layer_places(piece: Piece, context: CutContext) -> list[tuple[int | None, LayerSide, Place]]:
    """Return (which layer, side, place) of the piece itself, then of every layer, inner side last.

    A layer is told by its number among the build's layers, from 0: two may be alike. None is the
    piece itself.

    Layers glued flat and bent as one bend about the neutral line of the whole stack.
    """
    build = piece.build
    k = context.book(piece.material).neutral
    lift = piece.thickness
    places: list[tuple[int | None, LayerSide, Place]] = [
        (None, LayerSide.OUTER, Place(0.0, piece.thickness, k * piece.thickness))
    ]
    for index, layer in enumerate(build.layers):
        if layer.side is not LayerSide.INNER:
            height = lift + context.book(layer.material).neutral * layer.thickness
            places.append((index, LayerSide.OUTER, Place(lift, layer.thickness, height)))
            lift += layer.thickness
    low = 0.0
    for index, layer in enumerate(build.layers):
        if layer.side is not LayerSide.OUTER:
            low -= layer.thickness
            height = low + context.book(layer.material).neutral * layer.thickness
            places.append((index, LayerSide.INNER, Place(low, layer.thickness, height)))
    if not build.on_form and len(places) > 1:
        middle = low + k * (lift - low)
        places = [(a, s, replace(p, height=middle)) for a, s, p in places]
    return places
