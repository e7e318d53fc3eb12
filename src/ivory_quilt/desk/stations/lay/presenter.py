"""What the Lay station shows and does, without a widget."""

from collections.abc import Callable
from typing import NamedTuple

from shapely import Polygon

from ivory_quilt.core.document.project import CopyKey, keep_layout, move_part, set_pins
from ivory_quilt.core.geometry.centred import about_centre
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.check import LayoutRule, Violation, angle_allowed, violations_of
from ivory_quilt.core.nesting.job import PieceSpec, Placement
from ivory_quilt.core.pattern.part import Foam, Part
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import StockKind
from ivory_quilt.core.units import show_number
from ivory_quilt.desk.canvas.quilt import SheetSpot
from ivory_quilt.desk.session import Session

FREE_STEP = 15.0  # degrees a key turns a freely turning part
PartKey = tuple[Foam, CopyKey]


class Laid(NamedTuple):
    """A part as it lies: its foam's plan, and its placement with the number that this has there."""

    plan: FoamPlan
    number: int
    placement: Placement

    @property
    def spec(self) -> PieceSpec:
        """The job's rules for it."""
        return next(p for p in self.plan.job.pieces if p.id == self.placement.piece)

    @property
    def part(self) -> Part:
        """What it is."""
        return self.plan.part(self.placement.piece)

    @property
    def may_turn(self) -> bool:
        """Whether it may lie at more than one angle."""
        rotations = self.spec.rotations
        return rotations is None or len(rotations) > 1


class LayPresenter:
    """Hands on the layout: move, turn, flip, pin."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.selected: tuple[PartKey, ...] = ()

    # Looking up

    def foam(self, foam: Foam) -> FoamPlan | None:
        """Return a foam's plan."""
        return self.session.plan.foam(foam)

    def find(self, key: PartKey) -> Laid | None:
        """Return how a part lies, or None when it is not laid."""
        planned = self.foam(key[0])
        if planned is None or planned.result is None:
            return None
        for i, p in enumerate(planned.result.placements):
            if (p.piece, p.copy) == key[1]:
                return Laid(planned, i, p)
        return None

    def is_pinned(self, key: PartKey) -> bool:
        """Return whether a part is pinned."""
        kept = self.session.project.layout(key[0])
        return kept is not None and key[1] in kept.pins

    def check(self, planned: FoamPlan, index: int, moved: Placement) -> list[Violation]:
        """Return what a placement in hand would break."""
        assert planned.result is not None
        placements = list(planned.result.placements)
        placements[index] = moved
        # A pin holds against the engine, not against the hand that set it.
        pieces = tuple(
            replace(p, fixed=tuple(f for f in p.fixed if f.copy != moved.copy))
            if p.id == moved.piece and p.fixed
            else p
            for p in planned.job.pieces
        )
        return violations_of(replace(planned.job, pieces=pieces), tuple(placements), index)

    def why(self, planned: FoamPlan, found: list[Violation], index: int) -> str:
        """Return in plain words what is in the way."""
        assert planned.result is not None
        first = found[0]
        others = [i for i in first.who if i != index]
        if first.rule is LayoutRule.GAP and others:
            other = planned.part(planned.result.placements[others[0]].piece)
            return f"too near {other.label}: {show_number(planned.job.gap, 2)} mm must stay free"
        if first.rule is LayoutRule.MARGIN:
            return "too near the edge of the foam"
        if first.rule is LayoutRule.OUTSIDE:
            return "over the edge of the foam"
        if first.rule is LayoutRule.ROTATION:
            return "it may not be rotated to that angle"
        return first.message

    # Doing

    def mark_flaw(
        self, spot: SheetSpot, corner: tuple[float, float], size: tuple[float, float]
    ) -> None:
        """Mark a flaw on an owned sheet: parts that show keep off it. In the sheet's own mm."""
        item = spot.item
        if not spot.owned or item.owned != 1 or item.kind is StockKind.ROLL:
            text = "A flaw belongs to one sheet: mark it on an owned sheet of which there is one."
            self.session.tell(text, "heat")
            return
        flaw = rectangle(*size).placed(Pose(*corner))
        inside = flaw.polygon.intersection(item.shape.polygon)
        if not isinstance(inside, Polygon) or inside.area < 1.0:
            return
        marked = replace(item, defects=(*item.defects, Shape.from_polygon(inside)))
        self.session.try_shop(lambda: self.session.put_stock(marked))

    def clear_flaws(self, spot: SheetSpot) -> None:
        """Forget the flaws of a sheet."""
        if spot.item.defects:
            clean = replace(spot.item, defects=())
            self.session.try_shop(lambda: self.session.put_stock(clean))

    def move(self, key: PartKey, moved: Placement, label: str = "Move") -> bool:
        """Place a part anew and pin it; refuse and say why when it clashes."""
        found = self.find(key)
        if found is None:
            return False
        planned, index, _ = found
        broken = self.check(planned, index, moved)
        part = found.part
        if broken:
            text = f"{part.label} stays where it was: {self.why(planned, broken, index)}."
            self.session.tell(text, "cut")
            return False
        kept = self.session.kept_or_shown(planned.foam)
        if kept is None:
            return False
        kept = set_pins(move_part(kept, moved), [key[1]], pinned=True)
        if planned.result is not None and planned.result.unplaced:
            self.session.tell("Some parts do not fit yet; lay them first.", "heat")
            return False
        self.session.edit(f"{label} {part.label}", lambda p: keep_layout(p, kept))
        return True

    def turned(self, key: PartKey, pose: Pose, way: int) -> Pose | None:
        """Return a part's pose turned one step about its centre, None when it may not turn."""
        found = self.find(key)
        if found is None:
            return None
        spec = found.spec
        if spec.rotations is None:
            angle = (pose.rotation + way * FREE_STEP) % 360.0
        else:
            allowed = sorted(spec.rotations)
            if len(allowed) < 2:
                return None
            at = min(range(len(allowed)), key=lambda k: abs(allowed[k] - pose.rotation))
            angle = allowed[(at + way) % len(allowed)]
        return about_centre(spec.shape, pose, angle, mirrored=pose.mirrored)

    def may_turn(self, key: PartKey) -> bool:
        """Return whether a part may lie at more than one angle."""
        found = self.find(key)
        return found is not None and found.may_turn

    def turned_to(self, key: PartKey, pose: Pose, angle: float) -> Pose | None:
        """Return a part's pose turned to the allowed angle nearest to `angle`."""
        found = self.find(key)
        if found is None:
            return None
        spec = found.spec
        if spec.rotations is not None:
            angle = min(spec.rotations, key=lambda r: abs((r - angle + 180.0) % 360.0 - 180.0))
        return about_centre(spec.shape, pose, angle % 360.0, mirrored=pose.mirrored)

    def flipped(self, key: PartKey, pose: Pose) -> Pose | None:
        """Return a part's pose flipped in place, None when its face must show."""
        found = self.find(key)
        if found is None or not found.spec.mirror:
            return None
        spec = found.spec
        angle = pose.rotation if angle_allowed(spec.rotations, pose.rotation) else 0.0
        return about_centre(spec.shape, pose, angle, mirrored=not pose.mirrored)

    def turn_selected(self, way: int) -> None:
        """Turn the selected parts one step where they lie."""
        self._repose("Rotate", lambda key, pose: self.turned(key, pose, way))

    def flip_selected(self) -> None:
        """Flip the selected parts where they lie."""
        self._repose("Flip", self.flipped)

    def turn_to(self, key: PartKey, angle: float) -> None:
        """Turn one part to a typed angle."""
        found = self.find(key)
        if found is None:
            return
        placement = found.placement
        pose = about_centre(
            found.spec.shape, placement.pose, angle % 360.0, mirrored=placement.pose.mirrored
        )
        self.move(key, replace(placement, pose=pose), "Rotate")

    def _repose(self, label: str, change: Callable[[PartKey, Pose], Pose | None]) -> None:
        for key in self.selected:
            found = self.find(key)
            if found is None:
                continue
            placement = found.placement
            pose = change(key, placement.pose)
            if pose is None:
                why = "its face must show" if label == "Flip" else "it keeps the sheet's direction"
                self.session.tell(f"{found.part.label} stays as it is: {why}.", "heat")
                continue
            self.move(key, replace(placement, pose=pose), label)

    def toggle_pins(self) -> None:
        """Pin the selected parts, or unpin them when all are pinned."""
        pin = not all(self.is_pinned(k) for k in self.selected)
        by_foam: dict[Foam, list[CopyKey]] = {}
        for foam, key in self.selected:
            by_foam.setdefault(foam, []).append(key)
        project = self.session.project
        for foam, keys in by_foam.items():
            kept = self.session.kept_or_shown(foam)
            planned = self.foam(foam)
            if kept is None or planned is None or planned.line.unplaced:
                continue
            project = keep_layout(project, set_pins(kept, keys, pinned=pin))
        self.session.edit("Pin parts" if pin else "Unpin parts", lambda _: project)

    @property
    def proposed(self) -> list[FoamPlan]:
        """Foams whose layout is offered and complete, but not kept."""
        return [
            f
            for f in self.session.plan.foams
            if f.standing is Standing.PROPOSED and not f.line.unplaced
        ]
