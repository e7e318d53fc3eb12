"""The section along a stack: how thick it is where; and pulling a layer's end."""

import numpy as np

from ivory_quilt.core.forming.shaping import AxisFrame, Plain
from ivory_quilt.core.geometry.shape import Point, Shape
from ivory_quilt.core.pattern.build import LayerSize
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import Cut, CutContext, outward
from ivory_quilt.core.stacks.form_section import across
from ivory_quilt.core.stacks.layer_places import layer_places
from ivory_quilt.core.stacks.section import Band, Handle, HandleKind, Section


def stack_section(piece: Piece, cuts: tuple[Cut, ...]) -> Section:
    """Return the stack along the piece's longer side: how thick it is where."""
    frame = across(piece, Plain())
    bands, handles, measures = [], [], []
    for k, cut in enumerate(c for c in cuts if c.place is not None):
        place = cut.place
        assert place is not None
        low, high = (_reach(s, frame) for s in (cut.inner, cut.outer))
        corners = [
            (low[0], place.lift),
            (low[1], place.lift),
            (high[1], place.lift + place.thickness),
            (high[0], place.lift + place.thickness),
        ]
        bands.append(Band(np.array(corners), place.thickness, cut.what or "the piece"))
        if k:
            side = place.lift + place.thickness / 2
            handles.append(Handle(HandleKind.INSET, (high[1], side), "pull to make it shorter", k))
    base = [c.place for c in cuts if c.place is not None]
    if base:
        bottom = min(p.lift for p in base)
        top = max(p.lift + p.thickness for p in base)
        right = max(float(b.outline[:, 0].max()) for b in bands)
        measures.append(((right + 4, (top + bottom) / 2), f"{top - bottom:g} mm in all"))
    return Section(tuple(bands), tuple(handles), None, tuple(measures))


def _reach(shape: Shape, frame: AxisFrame) -> tuple[float, float]:
    along = frame.into(shape.outer)[:, 0]
    return float(along.min()), float(along.max())


def pulled_layer(piece: Piece, number: int, cuts: tuple[Cut, ...], to: Point) -> Piece:
    """Return the piece with one layer's end pulled to a place: its inset changes.

    `number` counts the layers as they are cut, from 1.
    """
    frame = across(piece, Plain())
    _, end = _reach(cuts[0].outer, frame)
    index = layer_places(piece, CutContext())[number][0]
    assert index is not None  # number 0 is the piece itself
    layer = piece.build.layers[index]
    by = round(end - to[0])
    size = LayerSize.INSET if by > 0 else LayerSize.OVERSIZE if by < 0 else LayerSize.SAME
    if layer.size is LayerSize.STEPPED:
        # It is told from the layer beneath: that far further in.
        by = round(layer.by + outward(piece, index) + by)
        size = LayerSize.STEPPED if by > 0 else LayerSize.SAME
    changed = replace(layer, size=size, by=float(min(abs(by), 400)))
    layers = tuple(changed if k == index else one for k, one in enumerate(piece.build.layers))
    return replace(piece, build=replace(piece.build, layers=layers))
