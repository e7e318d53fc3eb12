"""The card of the parts in hand: where they lie, and all that hands can do with them."""

from PySide6.QtWidgets import QComboBox, QLineEdit, QWidget

from ivory_quilt.core.units import parse_scalar, show_number, show_parts
from ivory_quilt.desk.stations.lay.manual_layout import ManualLayout
from ivory_quilt.desk.stations.lay.presenter import Laid, LayPresenter
from ivory_quilt.desk.widgets.basics import Complaint, Stitch, button, column, label, row
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.fields import Taking, regard, show_text


class PartCard(QWidget):
    """What can be done with the parts in hand."""

    def __init__(self, presenter: LayPresenter, work: ManualLayout) -> None:
        """Work on `presenter`'s selection."""
        super().__init__()
        self._presenter, self._work = presenter, work
        self.title = label("", "title", wrap=True)
        self.bar = EdgeBar()
        self.state = label("", "note", wrap=True)
        self.where = label("", "mono", wrap=True)
        self.angle = QLineEdit()
        self.angle.setAccessibleName("angle in degrees")
        self.angle.setFixedWidth(90)
        self.angle.returnPressed.connect(self._turn_to)
        self.error = Complaint()
        self.back = button("⟵ rotate", lambda: presenter.turn_selected(-1), tip="Shift+R")
        self.turn = button("rotate ⟶", lambda: presenter.turn_selected(1), tip="R")
        self.flip = button("Flip", presenter.flip_selected, tip="X")
        self.pin = button("Pin", presenter.toggle_pins, tip="P: the part stays when the rest moves")
        self.rules = label("", "note", wrap=True)
        self.back.setText("Rotate back")
        self.turn.setText("Rotate")
        self.pushes = [
            button(sign, lambda d=way: work.push(d), tip=f"Push {way} until it touches (Alt+{key})")  # type: ignore[misc]
            for sign, way, key in (
                ("←", "left", "Left"),
                ("↑", "up", "Up"),
                ("↓", "down", "Down"),
                ("→", "right", "Right"),
            )
        ]
        for one, way in zip(self.pushes, ("left", "up", "down", "right"), strict=True):
            one.setAccessibleName(f"push {way}")
            one.setFixedWidth(46)
        self.settle = button("Drop here", work.settle, tip="Settle into the nearest gap (D)")
        self.swap = button("Swap", work.swap, tip="Two selected parts change places (S)")
        self.lock = button("Lock sheet", work.lock_sheet, tip="Pin all on this sheet (L)")
        self.sheets = QComboBox()
        self.sheets.setAccessibleName("another sheet")
        policy = QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon
        self.sheets.setSizeAdjustPolicy(policy)
        self.sheets.setMinimumContentsLength(16)
        self.send = button("Send", self._send, tip="Send the part to that sheet")
        hint = (
            "A carried part slides along its neighbours; with Alt it moves freely. "
            "R rotates it, X flips it, D drops it into the nearest gap, Esc puts it back."
        )
        self.setLayout(
            column(
                self.title,
                row(self.bar, self.state, None),
                self.where,
                row(label("angle"), self.angle, label("°"), None),
                self.error,
                row(self.turn, self.back, None),
                row(self.flip, self.pin, self.lock, None),
                row(label("push"), *self.pushes, None),
                row(self.settle, self.swap, None),
                row(self.sheets, self.send),
                self.rules,
                Stitch(),
                label(hint, "note", wrap=True),
                space=12,
                edge=16,
            )
        )

    def _send(self) -> None:
        sheet = self.sheets.currentData()
        if sheet is not None:
            self._work.send(tuple(sheet))

    def _turn_to(self) -> None:
        with Taking(self.error, self.angle):
            angle = parse_scalar(self.angle.text(), where="angle")
            if self._presenter.selected:
                self._presenter.turn_to(self._presenter.selected[0], angle)

    def fill(self) -> None:
        """Show the selected parts."""
        found = [(k, self._presenter.find(k)) for k in self._presenter.selected]
        laid = [(k, f) for k, f in found if f is not None]
        self.setVisible(bool(laid))
        if not laid:
            return
        pinned = all(self._presenter.is_pinned(k) for k, _ in laid)
        self.pin.setText("Unpin" if pinned else "Pin")
        regard(self, str([k for k, _ in laid]))
        planned = laid[0][1].plan
        self.bar.set_thickness(planned.foam.thickness)
        one = laid[0] if len(laid) == 1 else None
        for widget in (self.where, self.rules):
            widget.setVisible(one is not None)
        self.angle.setEnabled(one is not None)
        self.settle.setEnabled(one is not None)
        self.swap.setEnabled(self._work.pair)
        sheet = self._work.sheet_of_chosen()
        self.lock.setEnabled(sheet is not None)
        locked = sheet is not None and self._work.is_locked(planned, sheet)
        self.lock.setText("Unlock sheet" if locked else "Lock sheet")
        targets = self._work.targets()
        self.send.setEnabled(bool(targets))
        self.sheets.setEnabled(bool(targets))
        if [self.sheets.itemText(k) for k in range(self.sheets.count())] != [n for n, _ in targets]:
            self.sheets.clear()
            for name, key in targets:
                self.sheets.addItem(name, key)
        if one is None:
            self.title.setText(show_parts(len(laid)))
            self.state.setText("pinned" if pinned else "")
            self.angle.clear()
            return
        self._fill_one(one[1], pinned=pinned)

    def _fill_one(self, laid: Laid, *, pinned: bool) -> None:
        placement, part, spec = laid.placement, laid.part, laid.spec
        self.title.setText(part.label)
        of = laid.plan.number(part, placement.copy)
        self.state.setText(" · ".join(x for x in (of, "pinned" if pinned else "") if x))
        x0, y0, _, _ = part.shape.placed(placement.pose).bounds
        flipped = ", flipped" if placement.pose.mirrored else ""
        self.where.setText(
            f"{show_number(x0, 1)} mm from the left\n{show_number(y0, 1)} mm from below{flipped}"
        )
        show_text(self.angle, show_number(placement.pose.rotation, 2))
        self.flip.setEnabled(spec.mirror)
        self.turn.setEnabled(laid.may_turn)
        self.back.setEnabled(laid.may_turn)
        may = "rotates freely"
        if spec.rotations is not None:
            may = "rotates to " + ", ".join(f"{r:g}°" for r in spec.rotations)
        face = "may be flipped" if spec.mirror else "this face must show"
        self.rules.setText(f"{may}; {face}.")
