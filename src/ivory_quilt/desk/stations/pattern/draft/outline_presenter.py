"""What is done to an outline by its nodes and curves, without a widget."""

import math
from collections import Counter
from collections.abc import Callable

from ivory_quilt.core.document.project import put_pieces
from ivory_quilt.core.editing.node_edits import (
    PathEdit,
    arched,
    bent_span,
    cornered,
    inserted_node,
    moved_handle,
    moved_nodes,
    removed_nodes,
    smoothed,
    straightened,
)
from ivory_quilt.core.editing.node_snap import snap_handle, snap_node
from ivory_quilt.core.editing.outline_edit import (
    OutlineEdit,
    edited_outline,
    edited_shape,
    lost_and_found,
    on_both_sides,
    refitted,
    without_holes,
)
from ivory_quilt.core.editing.redraw import redrawn
from ivory_quilt.core.editing.snap import Snap
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.curve_path import CurvePath, minus
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.geometry.validity import shape_problem
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.units import typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.draft.outline_choice import Grip, GripKind, OutlineChoice
from ivory_quilt.desk.stations.pattern.draft.telling import told_of_seams

ON_AXIS = 0.06  # mm
LEAST_RISE = 0.01  # mm: less is straight


class OutlinePresenter(OutlineChoice):
    """The outline of one piece under the hands."""

    def __init__(self, session: Session, piece: Callable[[], Piece | None]) -> None:
        """Edit what `piece` returns."""
        super().__init__(piece)
        self._session = session

    # Dragging

    def take(self, grip: Grip) -> None:
        """Take hold of something; nodes of one outline or hole are moved together."""
        if grip.kind is GripKind.NODE:
            self.chosen = frozenset(k for k in self.chosen if k[0] == grip.ring)
        self.grip, self.moving, self.problem = grip, None, ""

    def drag(self, hand: Point, reach: float, *, free: bool = False) -> Snap:
        """Move what is held to the hand; return where it falls, and why.

        With `free`, a handle leaves the other one where it is and nothing is pulled anywhere.
        """
        grip, piece = self.grip, self.piece
        if grip is None or piece is None:
            return Snap(hand)
        path = self.paths()[grip.ring]
        snap = Snap(hand) if free else self._snap(path, grip, hand, reach)
        if grip.kind is GripKind.NODE:
            which = [k for ring, k in self.known_nodes() if ring == grip.ring] or [grip.index]
            edit = moved_nodes(path, which, minus(snap.at, path.node(grip.index).at))
        elif grip.kind is GripKind.HANDLE:
            edit = moved_handle(path, grip.index, grip.side, snap.at, free=free)
        else:
            edit = bent_span(path, grip.index, grip.t, snap.at)
        self._hold(piece, grip.ring, edit, grip.at)
        return snap

    def _snap(self, path: CurvePath, grip: Grip, hand: Point, reach: float) -> Snap:
        if grip.kind is GripKind.HANDLE:
            return snap_handle(path, grip.index, hand, reach)
        if grip.kind is GripKind.SPAN:
            return Snap(hand)
        axis = self.axis()
        if self.alike and axis is not None and abs(axis.side(path.node(grip.index).at)) < ON_AXIS:
            return Snap(axis.onto(hand), "stays on the centre line")
        return snap_node(path, grip.index, hand, reach, axis)

    def _hold(self, piece: Piece, ring: int, edit: PathEdit, hand: Point) -> None:
        """Hold an edit, with what is wrong with it."""
        try:
            self.moving = self._change(piece, ring, edit, hand)
            self.problem = shape_problem(edited_shape(piece, self.moving))
        except InputError as error:
            self.moving = OutlineEdit(ring, edit, edit.after)
            self.problem = error.problem

    def _change(self, piece: Piece, ring: int, edit: PathEdit, hand: Point) -> OutlineEdit:
        axis = self.axis() if self.alike else None
        if axis is None:
            return OutlineEdit(ring, edit, edit.after)
        return on_both_sides(piece, ring, edit, axis, hand)

    def finish(self) -> None:
        """Keep what the hand has made.

        Raises:
            InputError: it makes no outline; everything is as it was.
        """
        grip, moving = self.grip, self.moving
        self.let_go()
        if grip is not None and moving is not None:
            word = {GripKind.NODE: "Move node", GripKind.HANDLE: "Move handle"}
            self._keep(word.get(grip.kind, "Bend side"), moving)

    def _keep(self, label: str, change: OutlineEdit, *, merge: bool = False) -> None:
        piece, session = self.piece, self._session
        assert piece is not None
        made = edited_outline(piece, change)
        # Nodes that come or go, and where the other side follows, make others count otherwise.
        chosen = {k for k in self.chosen if k[0] != change.ring}
        found = [change.node_now(k) for ring, k in self.known_nodes() if ring == change.ring]
        span = self.known_span()
        before = session.project
        session.edit(f"{label}: {piece.name}", lambda p: put_pieces(p, [made]), merge=merge)
        self.chosen = frozenset(chosen | {(change.ring, k) for k in found if k is not None})
        if span is not None and span[0] == change.ring:
            k = change.node_now(span[1])
            self.span = (change.ring, k) if k is not None else None
        told = [lost_and_found(piece, made), told_of_seams(before, session.project)]
        words = " ".join(t for t in told if t)
        session.tell(words or f"{label} done.", "heat" if words else "good")

    # With one press

    def _edit(
        self, label: str, ring: int, edit: PathEdit, hand: Point, *, merge: bool = False
    ) -> None:
        piece = self.piece
        if piece is not None:
            self._keep(label, self._change(piece, ring, edit, hand), merge=merge)

    def _of_nodes(self, label: str, work: Callable[[CurvePath, list[int]], PathEdit]) -> None:
        """Do something to the chosen nodes, ring by ring.

        Raises:
            InputError: none is chosen, or it makes no outline.
        """
        keys = self.known_nodes()
        if not keys:
            raise InputError("nodes", "none is selected", "a click on a node of the outline")
        for ring in sorted({r for r, _ in keys}):
            which = [k for r, k in keys if r == ring]
            path = self.paths()[ring]
            self._edit(label, ring, work(path, which), path.node(which[0]).at)

    def add_node(self, grip: Grip | None = None) -> None:
        """Put a node where the outline was clicked, or in the middle of the chosen span.

        Raises:
            InputError: neither is there, or there is a node already.
        """
        span = self.known_span()
        if grip is not None:
            ring, at = grip.ring, self.paths()[grip.ring].locate(grip.at)[0]
        elif span is not None:
            ring, at = span[0], span[1] + 0.5
        else:
            raise InputError("side", "none is selected", "a click on the outline between two nodes")
        edit, made = inserted_node(self.paths()[ring], at)
        place = edit.after.node(made).at
        self._edit("Add node", ring, edit, place)
        self.span = None
        near = min(enumerate(self.paths()[ring].nodes), key=lambda n: math.dist(n[1].at, place))[0]
        self.chosen = frozenset({(ring, near)})

    def remove(self) -> None:
        """Take the chosen nodes out; a hole all of whose nodes are chosen goes with them.

        Raises:
            InputError: none is chosen, or too few would stay.
        """
        keys, paths = self.known_nodes(), self.paths()
        many = Counter(ring for ring, _ in keys)
        holes = {ring for ring, n in many.items() if ring and n == len(paths[ring])}
        piece = self.piece
        if holes and piece is not None:
            made = without_holes(piece, holes)
            word = "hole" if len(holes) == 1 else f"{len(holes)} holes"
            label = f"Remove {word}: {piece.name}"
            self._session.edit(label, lambda p: put_pieces(p, [made]))
            self.chosen = frozenset()
            return
        self._of_nodes("Remove node", removed_nodes)
        self.chosen = frozenset()

    def smooth(self) -> None:
        """Let the outline run through the chosen nodes without a corner.

        Raises:
            InputError: none is chosen, or it makes no outline.
        """
        self._of_nodes("Smooth", smoothed)

    def corner(self) -> None:
        """Let the chosen nodes be corners.

        Raises:
            InputError: none is chosen.
        """
        self._of_nodes("Corner node", cornered)

    def straight(self) -> None:
        """Make the chosen span straight.

        Raises:
            InputError: none is chosen, or it makes no outline.
        """
        self._of_span("Straight side", straightened)

    def arch(self, rise: str) -> None:
        """Make the chosen span an arc with a rise as typed, below 0 into the piece.

        Raises:
            InputError: none is chosen, or it makes no outline.
        """
        mm = typed_length(rise, where="rise")
        if abs(mm) < LEAST_RISE:
            self.straight()
        else:
            self._of_span("Arc", lambda path, k: arched(path, k, mm))

    def _of_span(self, label: str, work: Callable[[CurvePath, int], PathEdit]) -> None:
        span = self.known_span()
        if span is None:
            raise InputError("side", "none is selected", "a click on the outline between two nodes")
        path = self.paths()[span[0]]
        edit = work(path, span[1])
        self._edit(label, span[0], edit, path.place(span[1] + 0.5))
        if len(edit.after) > len(path):  # an arc that takes several curves: its nodes
            self.span = None
            on_it = {n.at for n in edit.after.nodes} - {n.at for n in path.nodes}
            self.chosen = frozenset(
                (span[0], k) for k, n in enumerate(self.paths()[span[0]].nodes) if n.at in on_it
            )

    def move_by(self, dx: float, dy: float) -> None:
        """Move the chosen nodes by a step, mm; steps that follow each other are one edit.

        Raises:
            InputError: none is chosen, or it makes no outline.
        """
        keys = self.known_nodes()
        for ring in sorted({r for r, _ in keys}):
            path = self.paths()[ring]
            which = [k for r, k in keys if r == ring]
            edit = moved_nodes(path, which, (dx, dy))
            self._edit("Nudge node", ring, edit, path.node(which[0]).at, merge=True)

    def move_to(self, x: str, y: str) -> None:
        """Move the one chosen node to a place as typed.

        Raises:
            InputError: not one node is chosen, or no length.
        """
        keys, piece = self.known_nodes(), self.piece
        if len(keys) != 1 or piece is None:
            raise InputError("node", f"{len(keys)} are selected", "one node")
        ring, k = keys[0]
        at = self.paths()[ring].node(k).at
        to = (typed_length(x, where="across"), typed_length(y, where="up"))
        edit = moved_nodes(self.paths()[ring], [k], minus(to, at))
        self._edit("Move node", ring, edit, at)

    def redraw(self, stroke: Array, wobble: float, reach: float) -> None:
        """Draw the stretch beside a stroke as the stroke runs, of the ring that it begins at.

        Raises:
            InputError: it begins or ends elsewhere, or makes no outline.
        """
        piece, paths = self.piece, self.paths()
        if piece is None or len(stroke) < 2:
            return
        start = (float(stroke[0][0]), float(stroke[0][1]))
        ring = min(range(len(paths)), key=lambda r: paths[r].locate(start)[1])
        middle = stroke[len(stroke) // 2]
        edit = redrawn(paths[ring], stroke, wobble, reach)
        self._edit("Redraw", ring, edit, (float(middle[0]), float(middle[1])))
        self.chosen, self.span = frozenset(), None

    def simplify(self, within: str) -> None:
        """Draw all of the piece with as few nodes as stay within a distance as typed.

        Raises:
            InputError: no length, or the outline would cross itself.
        """
        piece = self.piece
        if piece is None:
            return
        made = refitted(piece, typed_length(within, where="within"))
        label = f"Fewer nodes: {piece.name}"
        self._session.edit(label, lambda p: put_pieces(p, [made]))
        self.chosen, self.span = frozenset(), None
        many = sum(len(c) for c in made.curves)
        self._session.tell(f"{many} nodes now.", "good")
