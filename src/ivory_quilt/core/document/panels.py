"""Panels on a base, an even channel between them."""

from shapely import box

from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
)
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, polygons_of
from ivory_quilt.core.pattern.build import Build, Placing
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct

SMALLEST_PANEL = 60.0  # mm²: no panel is smaller (our choice: nothing to hold or glue)


class PanelGrid(Struct, frozen=True):
    """How a base is covered with panels.

    Attributes:
        across: panels side by side.
        up: panels above each other.
        channel: between two panels, mm.
        rim: from the base's edge, mm.
        thickness: of the panels, mm.
        material: of the panels; empty for the base's.
    """

    across: int = 3
    up: int = 1
    channel: float = 4.0
    rim: float = 8.0
    thickness: float = 4.0
    material: str = ""

    def __post_init__(self) -> None:
        if not (1 <= self.across <= 20 and 1 <= self.up <= 20):
            raise InputError("panels", f"{self.across} × {self.up}", "1 to 20 each way")
        if not 0 <= self.channel <= 100 or not 0 <= self.rim <= 200:
            raise InputError("channel", f"{self.channel:g} mm", "0 to 100 mm")


def panels(base: Piece, grid: PanelGrid) -> tuple[Piece, ...]:
    """Return inlay panels on a base, an even channel between them.

    Raises:
        InputError: nothing is left of a panel.
    """
    inner = base.shape.polygon.buffer(-grid.rim, join_style="mitre")
    x0, y0, x1, y1 = base.shape.bounds
    wide, high = (x1 - x0) / grid.across, (y1 - y0) / grid.up
    half = grid.channel / 2
    made: list[Piece] = []
    for row in range(grid.up):
        for column in range(grid.across):
            left, foot = x0 + column * wide, y0 + row * high
            cell = box(
                left + half * (column > 0),
                foot + half * (row > 0),
                left + wide - half * (column < grid.across - 1),
                foot + high - half * (row < grid.up - 1),
            )
            for part in polygons_of(inner.intersection(cell)):
                if part.area >= SMALLEST_PANEL:
                    made.append(_panel(base, Shape.from_polygon(part), grid, len(made) + 1))
    if not made:
        raise InputError("panels", "nothing is left of them", "a narrower rim or channel")
    return tuple(made)


def _panel(base: Piece, shape: Shape, grid: PanelGrid, number: int) -> Piece:
    x0, y0, x1, y1 = base.shape.bounds
    u0, v0, u1, v1 = shape.bounds
    across = ((u0 + u1) / 2 - x0) / (x1 - x0)
    up = ((v0 + v1) / 2 - y0) / (y1 - y0)
    return Piece(
        f"{base.id}-panel-{number}",
        f"{base.name} panel {number}",
        shape,
        material=grid.material or base.material,
        thickness=grid.thickness,
        count=base.count,
        hand=base.hand,
        drawn_hand=base.drawn_hand,
        face=base.face,
        turn=base.turn,
        build=Build(placing=Placing(base.id, across, up)),
    )


def with_panels(project: Project, base_id: str, grid: PanelGrid) -> Project:
    """Add inlay panels to a base.

    Raises:
        InputError: see `panels`.
    """
    return add_pieces(project, panels(project.piece(base_id), grid))
