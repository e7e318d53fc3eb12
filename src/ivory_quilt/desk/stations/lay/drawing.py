"""Drawing the quilt on the table, foam by foam, a little at a time.

The engine offers a better layout several times a second. What only moved is moved; what must be
made anew is made in portions, so that the window never waits for it.
"""

from collections.abc import Callable, Iterator

from PySide6.QtCore import QObject, QRectF, Signal
from PySide6.QtWidgets import QGraphicsItem, QGraphicsScene

from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Hand
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.foam_layer import FoamLayer
from ivory_quilt.desk.canvas.paths import shape_rect
from ivory_quilt.desk.canvas.quilt import Quilt, SheetSpot, TraySpot
from ivory_quilt.desk.canvas.sheet_item import SheetItem
from ivory_quilt.desk.idle_tasks import IdleTasks
from ivory_quilt.desk.stations.lay.presenter import PartKey
from ivory_quilt.desk.theme.palette import Palette

TITLE_SPACE = 90.0  # mm above a sheet that are shown with it
PORTION = 0.003  # s of drawing in one go


def spot_rect(spot: SheetSpot, title: float = TITLE_SPACE) -> QRectF:
    """Return where a sheet lies in the scene, with room for its title above it."""
    box = shape_rect(spot.rest or spot.shape).translated(spot.origin[0], -spot.origin[1])
    return box.adjusted(0, -title, 0, 0)


class FoamDrawing:
    """What is drawn of one foam."""

    def __init__(self, sheets: list[SheetSpot], tray: list[TraySpot], look: Palette) -> None:
        """Remember what the drawing shows."""
        self.sheets, self.tray, self.look = sheets, tray, look
        self.items: list[QGraphicsItem] = []
        self.parts: dict[PartKey, FoamItem] = {}
        self.sheet_items: dict[tuple[str, int], SheetItem] = {}
        self.complete = False

    def shows(self, sheets: list[SheetSpot], tray: list[TraySpot], look: Palette) -> bool:
        """Return whether it shows just this."""
        return (self.sheets, self.tray, self.look) == (sheets, tray, look)

    def can_move_to(self, sheets: list[SheetSpot], tray: list[TraySpot], look: Palette) -> bool:
        """Return whether moving its items is enough to show this."""
        if not self.complete or tray or self.tray or self.look is not look:
            return False
        before = [(s.key, s.shape, s.foam.parts) for s in self.sheets]
        return before == [(s.key, s.shape, s.foam.parts) for s in sheets]


class QuiltDrawing(QObject):
    """All foams on one scene."""

    portion_done = Signal()

    def __init__(self, scene: QGraphicsScene, is_pinned: Callable[[PartKey], bool]) -> None:
        """Draw on `scene`."""
        super().__init__(scene)
        self._scene, self._is_pinned = scene, is_pinned
        self._foams: dict[Foam, FoamDrawing] = {}
        self._rooms: dict[tuple[str, int], list[tuple[QRectF, str]]] = {}
        self._layer = FoamLayer()
        scene.addItem(self._layer)
        self._turns = IdleTasks(PORTION, self)
        self._turns.turned.connect(self.portion_done)

    @property
    def parts(self) -> dict[PartKey, FoamItem]:
        """All parts drawn so far."""
        return {k: item for f in self._foams.values() for k, item in f.parts.items()}

    @property
    def sheets(self) -> dict[tuple[str, int], SheetItem]:
        """All sheets drawn so far."""
        return {k: item for f in self._foams.values() for k, item in f.sheet_items.items()}

    def show(self, quilt: Quilt, look: Palette) -> None:
        """Bring the scene to `quilt`, moving parts or making them anew, in portions."""
        for spot in quilt.sheets:
            self._layer.cover(spot_rect(spot))
        by_foam: dict[Foam, tuple[list[SheetSpot], list[TraySpot]]] = {}
        for spot in quilt.sheets:
            by_foam.setdefault(spot.foam.foam, ([], []))[0].append(spot)
        for left in quilt.tray:
            by_foam.setdefault(left.foam.foam, ([], []))[1].append(left)
        for foam in [f for f in self._foams if f not in by_foam]:
            self._wipe(foam)
        for foam, (sheets, tray) in by_foam.items():
            drawn = self._foams.get(foam)
            if drawn is not None and drawn.shows(sheets, tray, look):
                continue
            if drawn is not None and drawn.can_move_to(sheets, tray, look):
                drawn.sheets = sheets
                self._turns.add(foam, self._move(drawn))
            else:
                self._wipe(foam)
                fresh = self._foams[foam] = FoamDrawing(sheets, tray, look)
                self._turns.add(foam, self._build(fresh))

    def set_leftovers(self, rooms: dict[tuple[str, int], list[tuple[QRectF, str]]]) -> None:
        """Outline what is left of each sheet, with its size."""
        self._rooms = rooms
        for key, sheet in self.sheets.items():
            sheet.set_rooms(rooms.get(key, []))

    def forget(self) -> None:
        """Take everything off the scene."""
        for foam in list(self._foams):
            self._wipe(foam)

    def halt(self) -> None:
        """Draw no more: the desk closes."""
        self._turns.halt()

    def finish(self) -> None:
        """Draw all that is still waiting."""
        self._turns.finish()

    def before_next(self, what: Callable[[], None]) -> None:
        """Do something, soon to be asked to show more, in the place of the next portion."""
        self._turns.instead(what)

    def _wipe(self, foam: Foam) -> None:
        self._turns.drop(foam)
        if foam in self._foams:
            for item in self._foams.pop(foam).items:
                if isinstance(item, FoamItem):
                    self._layer.drop(item)
                self._scene.removeItem(item)

    def _move(self, drawn: FoamDrawing) -> Iterator[None]:
        """Move the foam's items to where they lie now, one by one."""
        sheets = drawn.sheets
        at = {s.key: s for s in sheets}
        for key, spot in at.items():
            sheet = drawn.sheet_items[key]
            sheet.setPos(spot.origin[0], -spot.origin[1])
            sheet.note = spot.note
            sheet.update()
        result = sheets[0].foam.result
        assert result is not None
        for placement in result.placements:
            part: PartKey = (sheets[0].foam.foam, (placement.piece, placement.copy))
            item, spot = drawn.parts[part], at[placement.sheet, placement.sheet_copy]
            if item.at != (spot.origin[0], -spot.origin[1]):
                item.setPos(spot.origin[0], -spot.origin[1])
            pinned = self._is_pinned(part)
            if item.pose != placement.pose or item.pinned is not pinned:
                item.pinned = pinned
                item.set_pose(placement.pose)
                yield

    def _build(self, drawn: FoamDrawing) -> Iterator[None]:
        """Make the foam's items one by one."""
        for spot in drawn.sheets:
            self._add(drawn, self._sheet(drawn, spot), spot.origin)
            yield
            assert spot.foam.result is not None
            for placement in spot.foam.result.placements:
                if (placement.sheet, placement.sheet_copy) == spot.key:
                    key: PartKey = (spot.foam.foam, (placement.piece, placement.copy))
                    part = spot.foam.part(placement.piece)
                    hand = "" if part.hand is Hand.NONE else part.hand.value
                    number = spot.foam.number(part, placement.copy)
                    face = "" if part.may_flip else "skin up"
                    which = " ".join(x for x in (hand, number, part.wearer) if x)
                    full = ", ".join(x for x in (which, face) if x)
                    note = "\n".join(dict.fromkeys(x for x in (full, which) if x))
                    item = FoamItem(
                        part.shape,
                        part.foam.thickness,
                        drawn.look,
                        part.name,
                        note,
                        part.lines,
                        placement.pose,
                    )
                    item.pinned = self._is_pinned(key)
                    item.set_run_out(*(s for s in (part.marked, part.far) if s is not None))
                    item.setData(0, key)
                    drawn.parts[key] = item
                    self._add(drawn, item, spot.origin)
                    yield
        for left in drawn.tray:
            part = left.part
            item = FoamItem(part.shape, part.foam.thickness, drawn.look, part.label, "does not fit")
            item.clash = True
            item.setFlag(FoamItem.GraphicsItemFlag.ItemIsSelectable, enabled=False)
            self._add(drawn, item, left.origin)
            yield
        drawn.complete = True

    def _sheet(self, drawn: FoamDrawing, spot: SheetSpot) -> SheetItem:
        sheet = SheetItem(
            spot.shape,
            spot.foam.foam.thickness,
            spot.item.margin,
            drawn.look,
            spot.title,
            spot.note,
            spot.rest,
        )
        if spot.owned:
            sheet.set_flaws(spot.item.defects)
        sheet.set_rooms(self._rooms.get(spot.key, []))
        drawn.sheet_items[spot.key] = sheet
        return sheet

    def _add(self, drawn: FoamDrawing, item: QGraphicsItem, origin: tuple[float, float]) -> None:
        item.setPos(origin[0], -origin[1])
        drawn.items.append(item)
        self._scene.addItem(item)
        if isinstance(item, FoamItem):
            self._layer.take(item)
