"""The views of Form-up: flat pieces at the left, the group standing at the right.

Beside it stands what a change would make of it, while one is looked at.
"""

from collections.abc import Callable
from functools import partial

from PySide6.QtCore import Qt, Signal
from PySide6.QtWidgets import QSplitter, QWidget

from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.rendering.scene import Framing
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.solid.view import SolidView
from ivory_quilt.desk.stations.build.form_up.flat_group import FlatGroup
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.stations.build.form_up.girth import GirthPresenter, MeasuredGirth
from ivory_quilt.desk.stations.build.form_up.mending import MendPresenter
from ivory_quilt.desk.stations.build.form_up.tones import band_colours
from ivory_quilt.desk.theme.palette import LIGHT, Palette
from ivory_quilt.desk.widgets.basics import column, label
from ivory_quilt.desk.work import Background


class _Standing(QWidget):
    """A shape in space, with a line of words above."""

    def __init__(self, engine: LayoutEngine) -> None:
        super().__init__()
        self.solid = SolidView(engine)
        self.words = label("", "note")
        self.words.setContentsMargins(12, 6, 12, 0)
        layout = column(self.words, self.solid, space=0)
        layout.setStretch(1, 1)
        self.setLayout(layout)
        self._engine = engine
        self._wanted: FormedShape | None = None
        self._painted: FormedShape | None = None
        self._girth: MeasuredGirth | None = None

    def show_shape(
        self,
        shape: FormedShape | None,
        look: Palette,
        words: str,
        text: str,
        seen_as: FormedShape | None = None,
    ) -> None:
        """Show a shape, turned as another is, with `words` above; or `text` where there is none."""
        self.words.setText(words)
        self.words.setVisible(bool(words))
        if shape is None:
            self._wanted = None
            self.solid.show_nothing(look, text)
        elif shape is not self._wanted:
            follows = self._wanted is not None
            self._wanted = shape
            have = partial(self._have, shape, look, follows)
            self._engine.hold_form(self.solid.scene, shape, seen_as, have)
        else:
            self.solid.set_look(look)

    def _have(
        self,
        wanted: FormedShape,
        look: Palette,
        follows: bool,  # noqa: FBT001
        framing: Framing | None,
    ) -> None:
        if wanted is self._wanted and framing is not None:
            self.solid.show_kept(framing, look, band_colours, follows=follows)
            self._painted = wanted
            self._show_girth()

    def show_girth(self, found: MeasuredGirth | None) -> None:
        """Show where a girth is measured, on the shape that it is of."""
        self._girth = found
        self._show_girth()

    def _show_girth(self) -> None:
        found = self._girth
        fits = found is not None and found.shape is self._painted
        self.solid.show_lines(found.line if found is not None and fits else None)


class FormUpPane(QSplitter):
    """Flat and standing, side by side."""

    picked = Signal(str)

    def __init__(
        self,
        form_up: FormUpPresenter,
        mending: MendPresenter,
        girth: GirthPresenter,
        engine: LayoutEngine,
        background: Callable[[], Background],
    ) -> None:
        """Show what the presenters know; paint on `background`'s thread."""
        super().__init__(Qt.Orientation.Horizontal)
        self._p, self._mending, self._girth = form_up, mending, girth
        self.flat_group = FlatGroup(engine, background)
        self.flat_group.picked.connect(self.picked)
        self.now = _Standing(engine)
        self.then = _Standing(engine)
        self.then.hide()
        for part in (self.flat_group, self.now, self.then):
            self.addWidget(part)
        self.setSizes([460, 500, 400])
        self.setChildrenCollapsible(False)

    @property
    def solid(self) -> SolidView:
        """The look at the group as it stands."""
        return self.now.solid

    def fill(self, piece_id: str, look: Palette = LIGHT) -> None:
        """Show the group of a piece."""
        p, one = self._p, self._mending.chosen
        self.then.setVisible(one is not None)
        shape, group, project = p.shape, p.group, p.session.project
        if one is not None and one.shape is not None and one.group is not None:
            shape, group, project = one.shape, one.group, one.mend.project
        owners = group.pieces if group is not None else ()
        names = {x.id: x.name for x in project.pieces}
        shown = tuple(
            (i, names.get(i, i) + (", other hand" if i in owners[:k] else ""))
            for k, i in enumerate(owners)
        )
        self.flat_group.show_shape(shape, shown, piece_id, look)
        text = p.problem or ("Forming …" if p.running else "")
        self.now.show_shape(p.shape, look, "As it is" if one is not None else "", text)
        self.now.show_girth(self._girth.in_sight)
        if one is not None:
            # On one former both are seen from the same side.
            beside = p.shape if p.choice.former is not FormerKind.NONE else None
            text = one.problem or "Forming …"
            self.then.show_shape(one.shape, look, one.mend.words, text, beside)
