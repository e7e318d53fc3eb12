"""A piece made of other foam: laminated, split, or of another thickness."""

from ivory_quilt.core.document.project import (
    Project,
    change_piece,
)
from ivory_quilt.core.pattern.build import Layer, LayerSize
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.thickness import ThicknessWay


def in_way(project: Project, piece_id: str, way: ThicknessWay) -> Project:
    """Make a piece's thickness of other foam: laminated, split, or simply of another thickness.

    Raises:
        InputError: no such piece.
    """
    piece = project.piece(piece_id)
    build = replace(piece.build, split=way.split)
    if way.split > 1 or len(way.layers) == 1:
        return change_piece(project, piece_id, thickness=way.thickness, build=build)
    # The layers that make the thickness lie under those that were there.
    more = tuple(Layer(t, piece.material, LayerSize.SAME) for t in way.layers[1:])
    build = replace(build, layers=(*more, *build.layers))
    return change_piece(project, piece_id, thickness=way.layers[0], build=build)
