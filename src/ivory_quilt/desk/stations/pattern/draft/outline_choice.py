"""An outline's nodes and sides: which lie under the hand, which are chosen, what they are."""

import math
from collections.abc import Callable
from enum import StrEnum

from ivory_quilt.core.editing.node_edits import HandleSide, rise_of, span_length
from ivory_quilt.core.editing.outline_edit import OutlineEdit, curves_of
from ivory_quilt.core.editing.symmetry import Axis, axis_of
from ivory_quilt.core.geometry.curve_path import CurvePath
from ivory_quilt.core.geometry.shape import Point
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import show_number

OPEN = 4.0  # times the reach that an outline is across before its nodes are shown
MOST_HANDLES = 12  # more nodes than that show no handles: they would hide the outline

NodeKey = tuple[int, int]
"""Which ring, and which of its nodes or spans."""


class GripKind(StrEnum):
    """What a hand may take hold of."""

    NODE = "node"
    HANDLE = "handle"
    SPAN = "span"


class Grip(Struct, frozen=True):
    """What a hand has taken hold of.

    `index` is the node or span; `side` says which handle, `t` where on the span.
    """

    kind: GripKind
    ring: int
    index: int
    at: Point
    side: HandleSide = HandleSide.AFTER
    t: float = 0.5


def is_open(path: CurvePath, reach: float) -> bool:
    """Return whether a path is large enough on the screen that its nodes stand apart."""
    places = [n.at for n in path.nodes]
    low, high = map(min, zip(*places, strict=True)), map(max, zip(*places, strict=True))
    return max(b - a for a, b in zip(low, high, strict=True)) >= OPEN * reach


class OutlineChoice:
    """An outline's nodes and sides, and which of them are chosen."""

    def __init__(self, piece: Callable[[], Piece | None]) -> None:
        """Look at what `piece` returns."""
        self._piece = piece
        self.chosen: frozenset[NodeKey] = frozenset()
        self.span: NodeKey | None = None
        self.alike = False
        """Whether the other side of the centre line follows."""
        self.grip: Grip | None = None
        self.moving: OutlineEdit | None = None
        """What the hand has made so far; kept when it lets go."""
        self.problem = ""
        self._known: tuple[Piece, tuple[CurvePath, ...]] | None = None

    def forget(self) -> None:
        """Let go of everything: another piece is drafted."""
        self.chosen, self.span = frozenset(), None
        self.alike = False
        self.let_go()

    # What is there

    @property
    def piece(self) -> Piece | None:
        """The piece that is drafted."""
        return self._piece()

    def paths(self) -> tuple[CurvePath, ...]:
        """Return its outline and holes as curves."""
        piece = self.piece
        if piece is None:
            return ()
        if self._known is None or self._known[0] is not piece:
            self._known = piece, curves_of(piece)
        return self._known[1]

    def shown(self) -> tuple[CurvePath, ...]:
        """Return the curves as the hand has them now."""
        paths = list(self.paths())
        moving = self.moving
        if moving is not None and moving.ring < len(paths):
            paths[moving.ring] = moving.whole
            if moving.twin is not None:
                paths[moving.twin[0]] = moving.twin[1]
        return tuple(paths)

    def shown_node(self, key: NodeKey) -> int | None:
        """Return which node of the curves shown a node of the piece is; None where it is gone."""
        moving = self.moving
        if moving is None or moving.ring != key[0]:
            return key[1]
        return moving.node_now(key[1])

    def axis(self) -> Axis | None:
        """Return the piece's centre line, if its halves are alike or one is drawn."""
        piece = self.piece
        return axis_of(piece) if piece is not None else None

    def known_nodes(self) -> list[NodeKey]:
        """Return the chosen nodes that are there."""
        paths = self.paths()
        return sorted(k for k in self.chosen if k[0] < len(paths) and k[1] < len(paths[k[0]]))

    def known_span(self) -> NodeKey | None:
        """Return the chosen span, if it is there."""
        paths, span = self.paths(), self.span
        there = span is not None and span[0] < len(paths) and span[1] < len(paths[span[0]])
        return span if there else None

    def hit(self, hand: Point, reach: float) -> Grip | None:
        """Return what lies under the hand: handles of chosen nodes first, nodes, then spans."""
        paths = self.paths()
        grips: list[Grip] = []
        for ring, k in self.handles():
            node = paths[ring].node(k)
            for side in HandleSide:
                at = getattr(node, side.value)
                if at != node.at:
                    grips.append(Grip(GripKind.HANDLE, ring, k, at, side))
        nodes = [
            Grip(GripKind.NODE, ring, k, node.at)
            for ring, path in enumerate(paths)
            if is_open(path, reach)
            for k, node in enumerate(path.nodes)
        ]
        for some in (grips, nodes):
            near = min(some, key=lambda g: math.dist(g.at, hand), default=None)
            if near is not None and math.dist(near.at, hand) <= reach:
                return near
        return self._span_at(hand, reach)

    def _span_at(self, hand: Point, reach: float) -> Grip | None:
        found = [(path.locate(hand), ring) for ring, path in enumerate(self.paths())]
        if not found:
            return None
        (at, away), ring = min(found, key=lambda f: f[0][1])
        if away > reach:
            return None
        path = self.paths()[ring]
        k, t = path.parameter(at)
        return Grip(GripKind.SPAN, ring, k, path.place(at), t=t)

    def handles(self) -> list[NodeKey]:
        """Return the nodes whose handles are shown: the chosen ones and the ends of the span."""
        keys = set(self.known_nodes())
        span = self.known_span()
        if span is not None:
            many = len(self.paths()[span[0]])
            keys |= {span, (span[0], (span[1] + 1) % many)}
        return sorted(keys) if len(keys) <= MOST_HANDLES else []

    # Choosing

    def choose(self, grip: Grip | None, *, more: bool = False) -> None:
        """Choose what a hand took hold of; with `more` beside what is chosen."""
        if grip is None:
            self.chosen, self.span = (self.chosen, None) if more else (frozenset(), None)
        elif grip.kind is GripKind.NODE:
            key = (grip.ring, grip.index)
            self.span = None
            if more:
                self.chosen = self.chosen ^ {key}
            elif key not in self.chosen:
                self.chosen = frozenset({key})
        elif grip.kind is GripKind.SPAN:
            self.chosen, self.span = frozenset(), (grip.ring, grip.index)

    def choose_within(self, box: tuple[float, float, float, float]) -> None:
        """Choose the nodes within a box (x0, y0, x1, y1)."""
        x0, y0, x1, y1 = box
        self.span = None
        self.chosen = frozenset(
            (ring, k)
            for ring, path in enumerate(self.paths())
            for k, n in enumerate(path.nodes)
            if x0 <= n.at[0] <= x1 and y0 <= n.at[1] <= y1
        )

    def choose_all(self) -> None:
        """Choose every node."""
        self.choose_within((-math.inf, -math.inf, math.inf, math.inf))

    # Words

    def facts(self) -> str:
        """Return what is chosen in words; empty where nothing is."""
        keys, span = self.known_nodes(), self.known_span()
        if span is not None:
            path = self.paths()[span[0]]
            kind = "straight" if path.is_straight(span[1]) else "curve"
            return f"Side, {kind}, {show_number(span_length(path, span[1]), 1)} mm"
        if len(keys) == 1:
            node = self.paths()[keys[0][0]].node(keys[0][1])
            return "Smooth node" if node.smooth else "Corner node"
        return f"{len(keys)} nodes" if keys else ""

    def place(self) -> Point | None:
        """Return where the one chosen node is."""
        keys = self.known_nodes()
        return self.paths()[keys[0][0]].node(keys[0][1]).at if len(keys) == 1 else None

    def rise(self) -> float | None:
        """Return how far the chosen span rises over its chord, mm."""
        span = self.known_span()
        return rise_of(self.paths()[span[0]], span[1]) if span is not None else None

    def let_go(self) -> None:
        """Let go of what is held; nothing is changed."""
        self.grip, self.moving, self.problem = None, None, ""
