"""A piece glued onto a base: where it lies there, and the mark that shows where cement goes."""

import numpy as np
from shapely import LineString, Polygon

from ivory_quilt.core.geometry.shape import Array, Pose, Shape
from ivory_quilt.core.pattern.piece import Label, LineKind, Piece, PieceLine
from ivory_quilt.core.record import replace

TICK = 5.0  # mm that a match mark reaches to either side of the mark


def pose_on(piece: Piece, base: Piece) -> Pose:
    """Return the pose that puts a piece where it lies on its base's pattern."""
    placing = piece.build.placing
    assert placing is not None
    x0, y0, x1, y1 = base.shape.bounds
    u0, v0, u1, v1 = piece.shape.bounds
    at = np.array([x0 + placing.across * (x1 - x0), y0 + placing.up * (y1 - y0)])
    turned = Pose(0.0, 0.0, placing.turn)
    middle = turned.apply(np.array([[(u0 + u1) / 2, (v0 + v1) / 2]]))[0]
    x, y = (at - middle).tolist()
    return Pose(x, y, placing.turn)


def on_base(piece: Piece, base: Piece) -> Piece:
    """Return a piece where it lies on its base's pattern."""
    return piece.moved_by(pose_on(piece, base).apply, sound=True)


def set_back(there: Piece, piece: Piece, base: Piece) -> Piece:
    """Return a piece that was changed on its base where it was before, turned back."""
    pose = pose_on(piece, base)
    back = Pose(0.0, 0.0, -pose.rotation)

    def move(points: Array) -> Array:
        return back.apply(points - [pose.x, pose.y])

    moved = there.moved_by(move, sound=True)
    return replace(moved, build=piece.build)


def drawn_on(base: Piece, placed: tuple[Piece, ...]) -> Piece:
    """Return a base with the outlines of what is glued onto it, as marks, and match marks."""
    lines, labels = list(base.lines), list(base.labels)
    for piece in placed:
        there = piece.shape.placed(pose_on(piece, base))
        ring = np.concatenate((there.outer, there.outer[:1]))
        lines.append(PieceLine(LineKind.MARK, ring))
        for tick in _ticks(there):
            lines.append(PieceLine(LineKind.MARK, tick))
        short = piece.name.removeprefix(base.name).strip() or piece.name
        text = f"cement here: {short}" if len(placed) == 1 else short
        labels.append(Label(text, there.label_point))
    if len(lines) == len(base.lines):
        return base
    return replace(base, lines=tuple(lines), labels=tuple(labels))


def marked_to_place(piece: Piece, base: Piece) -> Piece:
    """Return a piece with match marks where the base has its ticks."""
    pose = pose_on(piece, base)
    there = piece.shape.placed(pose)
    marks = [pose.unapply(tuple(t.mean(axis=0).tolist())) for t in _ticks(there)]
    return replace(piece, match_marks=(*piece.match_marks, *marks))


def _ticks(there: Shape) -> list[Array]:
    """Return a tick across the outline at either end of the line through its box's middle."""
    x0, y0, x1, y1 = there.bounds
    x, y = (x0 + x1) / 2, (y0 + y1) / 2
    level = there.width >= there.height
    ends = [(x0 - 1, y), (x1 + 1, y)] if level else [(x, y0 - 1), (x, y1 + 1)]
    met = LineString(ends).intersection(Polygon(there.outer))
    if met.is_empty:
        return []
    crossed = np.vstack([np.asarray(g.coords) for g in getattr(met, "geoms", [met])])[:, :2]
    along = crossed[:, 0 if level else 1]
    way = np.array([TICK, 0.0]) if level else np.array([0.0, TICK])
    return [
        np.array([at - way, at + way]) for at in (crossed[along.argmin()], crossed[along.argmax()])
    ]
