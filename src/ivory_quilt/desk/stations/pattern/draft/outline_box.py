"""What can be done to the nodes and sides of an outline, on Draft's card."""

from collections.abc import Callable

from PySide6.QtWidgets import QCheckBox, QGridLayout, QLineEdit, QWidget

from ivory_quilt.desk.stations.pattern.draft.outline_presenter import OutlinePresenter
from ivory_quilt.desk.widgets.basics import Complaint, button, column, label, row
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, Taking


class OutlineBox(QWidget):
    """Buttons and fields for what is selected on the outline."""

    def __init__(self, presenter: OutlinePresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the table must be drawn anew."""
        super().__init__()
        self._presenter, self._changed = presenter, changed
        self.error = Complaint()
        self.facts = label("", "heading", wrap=True)
        p = presenter
        grid = QGridLayout()
        grid.setSpacing(6)
        self.buttons = [
            button("Smooth", lambda: self.do(p.smooth), tip="No corner at the selected nodes"),
            button("Sharp", lambda: self.do(p.corner), tip="A corner at the selected nodes"),
            button("Add node", lambda: self.do(p.add_node), tip="In the middle of the side"),
            button("Remove node", lambda: self.do(p.remove), tip="Join the sides (Delete)"),
            button("Straight side", lambda: self.do(p.straight), tip="Between its two nodes"),
        ]
        for k, made in enumerate(self.buttons):
            grid.addWidget(made, k // 2, k % 2)
        self.across = self._field("across")
        self.up = self._field("up")
        self.place = FieldLine("Across, up", self.across, self.up)
        self.rise = EntryField("rise of the side", self._arch, width=92)
        self.rise_line = FieldLine("Rise of the arc", self.rise)
        self.alike = QCheckBox("Both sides alike")
        self.alike.setToolTip("The other side of the centre line follows as a mirror image.")
        self.alike.toggled.connect(self._set_alike)
        self.within = QLineEdit("0.5 mm")
        self.within.setAccessibleName("fewer nodes within")
        self.within.setFixedWidth(84)
        fewer = button(
            "Fewer nodes", self._simplify, tip="Draw the outline with as few nodes as keep to it"
        )
        self.setLayout(
            column(
                self.facts,
                grid,
                self.place,
                self.rise_line,
                self.alike,
                self.error,
                row(fewer, label("within"), self.within, None),
            )
        )

    def _field(self, name: str) -> EntryField:
        return EntryField(name, lambda _: self._move(), width=92)

    def fill(self) -> None:
        """Show what is selected."""
        p = self._presenter
        self.facts.setText(p.facts() or "Nothing selected")
        place, rise = p.place(), p.rise()
        nodes = bool(p.known_nodes())
        for made, on in zip(
            self.buttons, (nodes, nodes, rise is not None, nodes, rise is not None), strict=True
        ):
            made.setEnabled(on)
        self.place.setVisible(place is not None)
        if place is not None:
            self.across.show_value(place[0])
            self.up.show_value(place[1])
        self.rise_line.setVisible(rise is not None)
        if rise is not None:
            self.rise.show_value(rise)
        axis = p.axis()
        self.alike.setEnabled(axis is not None)
        self.alike.setText(
            "Both sides alike"
            if axis is not None
            else "Both sides alike (draw a centre line first)"
        )
        self.alike.setChecked(p.alike and axis is not None)

    def do(self, work: Callable[[], object]) -> None:
        """Do something, or say why not."""
        with Taking(self.error):
            work()
        self._changed()

    def _move(self) -> bool:
        with Taking(self.error, self.across, self.up) as taken:
            self._presenter.move_to(self.across.text(), self.up.text())
        self._changed()
        return bool(taken)

    def _arch(self, text: str) -> bool:
        with Taking(self.error, self.rise) as taken:
            self._presenter.arch(text)
        self._changed()
        return bool(taken)

    def _set_alike(self, on: bool) -> None:  # noqa: FBT001 - Qt's signal
        self._presenter.alike = on

    def _simplify(self) -> None:
        with Taking(self.error, self.within) as taken:
            self._presenter.simplify(self.within.text())
        if taken:
            self._changed()
