"""The board: all pieces at one scale, in blocks, one a foam."""

from collections.abc import Iterable

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct

SPACE = 26.0  # mm between pieces on the board
HEAD_SHARE = 0.056  # of the board's width: room for a heading, which keeps its screen size


class BoardGroup(Struct, frozen=True):
    """Pieces of one foam on the board.

    `at` is the group's upper left corner, `head` the height of its heading, mm.
    """

    foam: Foam
    at: tuple[float, float]
    width: float
    head: float
    parts: int


class BoardSpot(Struct, frozen=True):
    """Where a piece's own (0, 0) lies on the board, mm, y upwards."""

    piece: Piece
    at: tuple[float, float]


class Board(Struct, frozen=True):
    """All pieces at one scale, grouped by foam."""

    groups: tuple[BoardGroup, ...]
    spots: tuple[BoardSpot, ...]
    width: float
    height: float


def arrange(pieces: Iterable[Piece], aspect: float = 1.45) -> Board:
    """Lay all pieces out in blocks, one a foam, in about the window's proportions."""
    groups: dict[Foam, list[Piece]] = {}
    for piece in pieces:
        groups.setdefault(Foam(piece.thickness, piece.material), []).append(piece)
    widest = max((p.shape.width for g in groups.values() for p in g), default=100.0)
    boards = [
        _arrange(groups, (widest + SPACE) * 1.2**k, columns)
        for k in range(14)
        for columns in (1, 2, 3)
    ]
    # The arrangement that can be shown largest.
    return min(boards, key=lambda board: max(board.width, board.height * aspect))


def _arrange(groups: dict[Foam, list[Piece]], limit: float, columns: int) -> Board:
    """Set the groups in columns of width `limit`, each where there is most room left."""
    head = limit * columns * HEAD_SHARE
    space = 3 * SPACE
    spots: list[BoardSpot] = []
    heads: list[BoardGroup] = []
    foot = [0.0] * columns
    for foam in sorted(groups):
        inside, _, height = block(groups[foam], limit, head)
        k = foot.index(min(foot))
        x, y = k * (limit + space), -foot[k]
        parts = sum(p.cut_count for p in groups[foam])
        heads.append(BoardGroup(foam, (x, y), limit, head, parts))
        spots += [BoardSpot(s.piece, (s.at[0] + x, s.at[1] + y)) for s in inside]
        foot[k] += height + head * 0.5
    return Board(tuple(heads), tuple(spots), columns * (limit + space) - space, max(foot))


def block(pieces: list[Piece], limit: float, head: float) -> tuple[list[BoardSpot], float, float]:
    """Set pieces in rows below a heading; return (spots, width, height)."""
    spots: list[BoardSpot] = []
    x, y, row, widest = 0.0, -head, 0.0, 0.0
    for piece in sorted(pieces, key=lambda p: (-p.shape.height, p.name, p.id)):
        x0, _, _, y1 = piece.shape.bounds
        if x > 0 and x + piece.shape.width > limit:
            x, y, row = 0.0, y - row - SPACE, 0.0
        spots.append(BoardSpot(piece, (x - x0, y - y1)))
        x += piece.shape.width + SPACE
        row = max(row, piece.shape.height)
        widest = max(widest, x - SPACE)
    return spots, widest, row - y
