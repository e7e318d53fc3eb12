"""The card of the Stack view: layers, what goes around them, and where the piece is glued."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.edges.grooves import trench
from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    Wrap,
)
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.stacks.cut import stack_thickness
from ivory_quilt.core.units import show_number, show_thickness, typed_length
from ivory_quilt.desk.stations.build.changes import ChangeList
from ivory_quilt.desk.stations.build.edits import Change, Edits
from ivory_quilt.desk.stations.build.layer_list import LayerList
from ivory_quilt.desk.stations.build.placing_box import PlacingBox
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.stations.build.trim_list import TrimList
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    choices,
    column,
    label,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, regard, tick, with_field
from ivory_quilt.desk.widgets.slip import SlipFigure

COVERS = (
    (None, "none"),
    (CoverKind.SANDWICH, "thermoplastic sandwich"),
    (CoverKind.CLOTH, "cloth wrapped over"),
    (CoverKind.SEWN, "sewn case"),
)
WRAPS = ((False, "cut short and stretched"), (True, "cut wide, trimmed flush"))
SPARE = 6.0  # mm in all, three on either side: from memory, common practice
CAUTION = (
    "Cement fumes: a respirator with the right cartridge, open windows, no flame. The can's label "
    "comes first."
)


class StackCard(QWidget):
    """What is glued onto and around the piece under work."""

    def __init__(self, presenter: BuildPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the views must be drawn anew."""
        super().__init__()
        self._p = presenter
        self._edits = Edits(presenter, changed)
        self.error = self._edits.error
        self.total = label("", "figure")
        self.weight = label("", "note")
        self.layers = LayerList(presenter, self._edits)
        self.on_form = tick(
            "glued on the form",
            lambda on: self._on_form(on=on),
            "Bend the layers first; the outer ones are cut longer",
        )
        self.problem = Complaint()
        self.wrap = tick("Wrap its edge with a strip", lambda on: self._wrap(on=on))
        self.wrap_thickness = EntryField(
            "thickness of the strip", partial(self._strip, "thickness")
        )
        self.school = choices(WRAPS, self._school)
        self.school.setFixedWidth(196)
        self.school.setAccessibleName("how the strip is fitted")
        self.spare = EntryField("strip wider and longer by", partial(self._strip, "spare"))
        self.stretch = EntryField("strip cut short by", partial(self._strip, "stretch"))
        self.overhang = EntryField("strip stands past the end", partial(self._strip, "overhang"))
        self.wrap_lines = [
            FieldLine("Strip", self.wrap_thickness),
            FieldLine("It is", self.school),
            FieldLine("Past the stack", self.overhang),
        ]
        self.stretch_line = FieldLine("Cut short by", self.stretch)
        self.spare_line = FieldLine("Wider, longer by", self.spare)
        self.cover = choices(COVERS, self._cover)
        self.cover.setFixedWidth(196)
        self.cover.setAccessibleName("cover")
        self.margin = EntryField("margin of the cover", self._margin)
        self.margin_line = FieldLine("Margin or turn", self.margin)
        self.ease = EntryField("ease of the case", self._ease)
        self.ease_line = FieldLine("Ease", self.ease)
        self.rod = EntryField("rod along the middle", self._rod)
        self.trench = SlipFigure("mono")
        self.trench_line = FieldLine("Trench in each of two", self.trench)
        self.trims = TrimList(presenter, self._edits)
        self.placing = PlacingBox(presenter, self._edits)
        self.changes = ChangeList()
        self.setLayout(
            column(
                self.total,
                self.weight,
                self.problem,
                self.layers,
                self.on_form,
                self.error,
                Stitch(),
                label("Around it", "heading"),
                self.wrap,
                *self.wrap_lines,
                self.stretch_line,
                self.spare_line,
                FieldLine("Cover", self.cover),
                self.margin_line,
                self.ease_line,
                FieldLine("Rod in the middle", self.rod),
                self.trench_line,
                self.trims,
                Stitch(),
                self.placing,
                Stitch(),
                label("From pattern to cut", "heading"),
                self.changes,
                label(CAUTION, "note", "heat", wrap=True),
                space=8,
            )
        )

    # Showing

    def fill(self, piece: Piece) -> None:
        """Show the stack of a piece."""
        build, p = piece.build, self._p
        regard(self, piece.id)
        self.total.setText(f"{show_thickness(stack_thickness(piece))} thick")
        self.weight.setText(f"{show_number(p.weight, 0)} g in all")
        self.problem.setText(p.problem)
        self.on_form.setChecked(build.on_form)
        self.on_form.setVisible(bool(build.layers) and build.form.heated)
        self.layers.fill(piece)
        self.trims.fill(piece)
        self.wrap.setChecked(build.wrap is not None)
        for line in self.wrap_lines:
            line.setVisible(build.wrap is not None)
        wide = build.wrap is not None and build.wrap.spare > 0
        self.stretch_line.setVisible(build.wrap is not None and not wide)
        self.spare_line.setVisible(wide)
        if build.wrap is not None:
            self.school.show_value(wide)
            self.spare.show_value(build.wrap.spare)
            self.wrap_thickness.show_value(build.wrap.thickness)
            self.stretch.show_value(build.wrap.stretch)
            self.overhang.show_value(build.wrap.overhang)
        kinds = [k for k, _ in COVERS]
        self.cover.setCurrentIndex(kinds.index(build.cover.kind if build.cover else None))
        self.margin_line.setVisible(build.cover is not None)
        if build.cover is not None:
            self.margin.show_value(build.cover.margin)
            self.ease.show_value(build.cover.ease)
        sewn = build.cover is not None and build.cover.kind is CoverKind.SEWN
        self.margin_line.words.setText("Seam allowance" if sewn else "Margin or turn")
        self.ease_line.setVisible(sewn)
        self.rod.show_value(build.rod)
        self.trench_line.setVisible(build.rod > 0)
        if build.rod > 0:
            reckoned = trench(build.rod, 2)
            deep = show_number(reckoned.figure("depth"), 1)
            self.trench.show_figure(f"{deep} mm deep", lambda: reckoned)
        self.placing.fill(piece)
        told = p.cuts if build.placing is not None else p.cuts[1:]
        self.changes.show_cuts(tuple((c.what or "the piece", c.changes) for c in told))

    def _on_form(self, *, on: bool) -> None:
        self._edits.do(
            "Layers on the form" if on else "Layers glued flat", lambda b: replace(b, on_form=on)
        )

    def _wrap(self, *, on: bool) -> None:
        self._edits.do("Edge wrap", lambda b: replace(b, wrap=Wrap() if on else None))

    def _school(self, wide: bool) -> None:  # noqa: FBT001 - the choice's value
        spare = SPARE if wide else 0.0
        self._edits.do(
            "Edge wrap", lambda b: replace(b, wrap=replace(b.wrap or Wrap(), spare=spare))
        )

    def _strip(self, name: str, text: str) -> bool:
        def make() -> Change:
            value = typed_length(text, where=name)
            return lambda b: replace(b, wrap=with_field(b.wrap or Wrap(), name, value))

        return self._edits.read("Edge wrap", make)

    def _cover(self, kind: CoverKind | None) -> None:
        def change(b: Build) -> Build:
            if kind is None:
                return replace(b, cover=None)
            material = "thermoplastic" if kind is CoverKind.SANDWICH else "cloth"
            return replace(b, cover=Cover(kind, 1.0, material))

        self._edits.do("Cover", change)

    def _margin(self, text: str) -> bool:
        def make() -> Change:
            value = typed_length(text, where="margin")
            return lambda b: replace(b, cover=replace(b.cover or Cover(), margin=value))

        return self._edits.read("Cover", make)

    def _ease(self, text: str) -> bool:
        def make() -> Change:
            value = typed_length(text, where="ease")
            return lambda b: replace(b, cover=replace(b.cover or Cover(), ease=value))

        return self._edits.read("Cover", make)

    def _rod(self, text: str) -> bool:
        def make() -> Change:
            value = typed_length(text, where="rod")
            return lambda b: replace(b, rod=value)

        return self._edits.read("Rod", make)
