"""The card of the Stack view: layers, what goes around them, and where the piece is glued."""

from collections.abc import Callable
from dataclasses import replace
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.edges.grooves import trench
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import (
    Build,
    Cover,
    CoverKind,
    Layer,
    LayerSize,
    Placing,
    Side,
    Trim,
    TrimKind,
    Wrap,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.reworking import PanelGrid, with_panels
from ivory_quilt.core.stacks.cut import stack_thickness
from ivory_quilt.core.stacks.dressing import cut_lengths
from ivory_quilt.core.units import parse_length, parse_scalar, show_number, show_thickness
from ivory_quilt.desk.stations.build.changes import ChangeList
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    filled_later,
    counter,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import Field, Line, number_in, tick, with_field
from ivory_quilt.desk.widgets.slip import SlipFigure

SIZES = (
    (LayerSize.SAME, "same outline"),
    (LayerSize.INSET, "smaller by"),
    (LayerSize.STEPPED, "a step in by"),
    (LayerSize.OVERSIZE, "larger by"),
    (LayerSize.PIECE, "outline of"),
)
BY = (LayerSize.INSET, LayerSize.STEPPED, LayerSize.OVERSIZE)
SIDES = ((Side.OUTER, "outer side"), (Side.INNER, "inner side"), (Side.BOTH, "both sides"))
TRIMS = tuple((k, k.value) for k in TrimKind)
COVERS = ((None, "none"), (CoverKind.SANDWICH, "thermoplastic sandwich"),
          (CoverKind.CLOTH, "cloth wrapped over"))  # fmt: skip
CAUTION = (
    "Cement fumes: a respirator with the right cartridge, open windows, no flame. The can's label "
    "comes first."
)


class StackCard(QWidget):
    """What is glued onto and around the piece under work."""

    def __init__(self, presenter: BuildPresenter, changed: Callable[[], None]) -> None:
        """Work `presenter`; call `changed` when the views must be drawn anew."""
        super().__init__()
        self._p, self._changed = presenter, changed
        self._shown: object = None
        self.total = label("", "figure")
        self.weight = label("", "note")
        self.layers = QVBoxLayout()
        self.layers.setSpacing(4)
        self.add = button("Add a layer", self._add, "main")
        self.on_form = tick("glued on the form", self._on_form,
                            "Bend the layers first; the outer ones are cut longer")  # fmt: skip
        self.error = Complaint()
        self.problem = Complaint()
        self.wrap = tick("Wrap its edge with a strip", self._wrap)
        self.wrap_thickness = Field("thickness of the strip", partial(self._strip, "thickness"))
        self.stretch = Field("strip cut short by", partial(self._strip, "stretch"))
        self.overhang = Field("strip stands past the end", partial(self._strip, "overhang"))
        self.wrap_lines = [
            Line("Strip", self.wrap_thickness), Line("Cut short by", self.stretch),
            Line("Past the stack", self.overhang),
        ]  # fmt: skip
        self.cover = choices(COVERS, self._cover)
        self.cover.setFixedWidth(196)
        self.cover.setAccessibleName("cover")
        self.margin = Field("margin of the cover", self._margin)
        self.margin_line = Line("Margin or turn", self.margin)
        self.rod = Field("rod along the middle", self._rod)
        self.trench = SlipFigure("mono")
        self.trench_line = Line("Trench in each of two", self.trench)
        self.trims = QVBoxLayout()
        self.trims.setSpacing(4)
        self.add_trim = button("Add a shaped length", self._add_trim)
        self.base = filled_later("glued onto", self._place)
        self.across = Field("how far across the base", partial(self._at, "across"), "%", 70)
        self.up = Field("how far up the base", partial(self._at, "up"), "%", 70)
        self.turn = Field("turned by", partial(self._at, "turn"), "°", 70)
        self.place_lines = [
            Line("Across, up", self.across, self.up), Line("Turned", self.turn),
        ]  # fmt: skip
        self.columns, self.rows = counter(1, 20, "panels across"), counter(1, 20, "panels up")
        self.columns.setValue(3)
        self.channel = Field("channel between panels", lambda _: None)
        self.channel.setText("4 mm")
        self.panel_foam = filled_later("foam of the panels", lambda _: None)
        self.panel_foam.setFixedWidth(150)
        self.panels = button("Cover it with panels", self._panels,
                             tip="Inlay panels with an even channel, each a piece of its own")  # fmt: skip
        self.changes = ChangeList()
        self.setLayout(
            column(
                self.total, self.weight, self.problem,
                self.layers, row(self.add, None), self.on_form, self.error,
                Stitch(), label("Around it", "heading"), self.wrap, *self.wrap_lines,
                Line("Cover", self.cover), self.margin_line, Line("Rod in the middle", self.rod), self.trench_line,
                self.trims, row(self.add_trim, None),
                Stitch(), label("Glued onto", "heading"), self.base, *self.place_lines,
                Line("Panels", self.columns, label("×"), self.rows), Line("Channel", self.channel), Line("Of", self.panel_foam),
                row(self.panels, None),
                Stitch(), label("From pattern to cut", "heading"), self.changes,
                label(CAUTION, "note", "heat", wrap=True), space=8,
            )
        )  # fmt: skip

    # Showing

    def fill(self, piece: Piece) -> None:
        """Show the stack of a piece."""
        build, p = piece.build, self._p
        self.total.setText(f"{show_thickness(stack_thickness(piece))} thick")
        self.weight.setText(f"{show_number(p.weight, 0)} g in all")
        self.problem.setText(p.problem)
        self.on_form.setChecked(build.on_form)
        self.on_form.setVisible(bool(build.layers) and build.form.heated)
        self._fill_lists(piece)
        self.wrap.setChecked(build.wrap is not None)
        for line in self.wrap_lines:
            line.setVisible(build.wrap is not None)
        if build.wrap is not None:
            self.wrap_thickness.show_value(build.wrap.thickness)
            self.stretch.show_value(build.wrap.stretch)
            self.overhang.show_value(build.wrap.overhang)
        kinds = [k for k, _ in COVERS]
        self.cover.setCurrentIndex(kinds.index(build.cover.kind if build.cover else None))
        self.margin_line.setVisible(build.cover is not None)
        if build.cover is not None:
            self.margin.show_value(build.cover.margin)
        self.rod.show_value(build.rod)
        self.trench_line.setVisible(build.rod > 0)
        if build.rod > 0:
            reckoned = trench(build.rod, 2)
            deep = show_number(reckoned.figure("depth"), 1)
            self.trench.show_figure(f"{deep} mm deep", lambda: reckoned)
        self._fill_base(piece)
        told = p.cuts if build.placing is not None else p.cuts[1:]
        self.changes.show_cuts(tuple((c.what or "the piece", c.changes) for c in told))

    def _fill_base(self, piece: Piece) -> None:
        foams = self._p.foams(Layer(piece.thickness, piece.material))
        if [self.panel_foam.itemData(k) for k in range(self.panel_foam.count())] != [
            f for f, _ in foams
        ]:
            self.panel_foam.clear()
            for foam, words in foams:
                self.panel_foam.addItem(words, foam)
            own = Foam(piece.thickness, piece.material)
            self.panel_foam.setCurrentIndex([f for f, _ in foams].index(own))
        others = [("", "nothing")]
        others += [(q.id, q.name) for q in self._p.session.project.pieces if q.id != piece.id]
        if [self.base.itemData(k) for k in range(self.base.count())] != [i for i, _ in others]:
            self.base.clear()
            for ident, name in others:
                self.base.addItem(name, ident)
        placing = piece.build.placing
        ids = [i for i, _ in others]
        self.base.setCurrentIndex(ids.index(placing.base) if placing and placing.base in ids else 0)
        for line in self.place_lines:
            line.setVisible(placing is not None)
        if placing is not None:
            self.across.show_value(100 * placing.across)
            self.up.show_value(100 * placing.up)
            self.turn.show_value(placing.turn)

    def _fill_lists(self, piece: Piece) -> None:
        build = piece.build
        state = (piece.id, build.layers, build.trims, piece.edges)
        if state == self._shown:
            return
        self._shown = state
        clear(self.layers)
        for k, layer in enumerate(build.layers):
            self._layer_rows(k, layer)
        clear(self.trims)
        lengths = {c.trim: c for c in cut_lengths(piece)}
        names = [e.name for e in edges_of(piece)]
        for k, trim in enumerate(build.trims):
            kind = choices(TRIMS, partial(self._trim, k, "kind"), trim.kind)
            edge = choices([(n, n) for n in names], partial(self._trim, k, "edge"),
                           trim.edge if trim.edge in names else None)  # fmt: skip
            edge.setFixedWidth(58)
            kind.setFixedWidth(112)
            kind.setAccessibleName(f"kind of shaped length {k + 1}")
            edge.setAccessibleName(f"edge of shaped length {k + 1}")
            size = Field(f"size of shaped length {k + 1}", partial(self._trim_size, k), width=66)
            size.show_value(trim.size)
            gone = button("×", partial(self._drop_trim, k), "quiet", "Take it away")
            gone.setFixedWidth(34)
            self.trims.addLayout(row(edge, kind, size, gone, space=4))
            halved = tick("halved", partial(self._trim, k, "halved"), "One length serves twice")
            slot = tick("trenched", partial(self._trim, k, "trenched"), "Slotted over the edge")
            halved.setChecked(trim.halved)
            slot.setChecked(trim.trenched)
            cut = lengths.get(trim)
            note = f"{cut.count} × {show_number(cut.length, 0)} mm" if cut else "edge is gone"
            self.trims.addLayout(row(halved, slot, None, label(note, "note")))

    def _layer_rows(self, k: int, layer: Layer) -> None:
        p = self._p
        foams = p.foams(layer)
        own = Foam(layer.thickness, layer.material)
        thick = choices(foams, partial(self._foam, k), own)
        side = choices(SIDES, partial(self._layer, k, "side"), layer.side)
        gone = button("×", partial(self._drop, k), "quiet", "Take the layer away")
        gone.setFixedWidth(34)
        first = button("↑", partial(self._sooner, k), "quiet", "Glue it on sooner")
        first.setFixedWidth(34)
        first.setEnabled(k > 0)
        thick.setFixedWidth(96)
        side.setFixedWidth(116)
        thick.setAccessibleName(f"thickness of layer {k + 1}")
        side.setAccessibleName(f"side of layer {k + 1}")
        self.layers.addLayout(row(label(f"{k + 1}"), thick, side, gone, space=4))
        size = choices(SIZES, partial(self._layer, k, "size"), layer.size)
        size.setFixedWidth(128)
        size.setAccessibleName(f"outline of layer {k + 1}")
        line = row(size, space=4)
        line.setContentsMargins(16, 0, 0, 0)
        if layer.size in BY:
            by = Field(f"layer {k + 1} by", partial(self._layer_by, k), width=80)
            by.show_value(layer.by)
            line.addWidget(by)
            line.addStretch(1)
        elif layer.size is LayerSize.PIECE:
            others = [("", "choose …"), *((q.id, q.name) for q in p.session.project.pieces)]
            known = layer.other if layer.other in [i for i, _ in others] else ""
            of = choices(others, partial(self._layer, k, "other"), known)
            of.setFixedWidth(124)
            of.setAccessibleName(f"piece that layer {k + 1} is like")
            line.addWidget(of)
        self.layers.addLayout(line)
        together = tick("cut two at once", partial(self._layer, k, "together"),
                        "Tacked onto the layer beneath, so that edges agree")  # fmt: skip
        together.setChecked(layer.together)
        hidden = tick("hidden", partial(self._layer, k, "hidden"),
                      "Nobody sees its faces: it may be flipped on the sheet")  # fmt: skip
        hidden.setChecked(layer.hidden)
        last = row(together, hidden, None, first, space=4)
        last.setContentsMargins(16, 0, 0, 4)
        self.layers.addLayout(last)

    # Doing

    def _do(self, what: str, change: Callable[[Build], Build]) -> None:
        self.error.setText("")
        try:
            self._p.edit(what, change)
        except InputError as error:
            self.error.setText(str(error))
        self._changed()

    def _read(self, what: str, make: Callable[[], Callable[[Build], Build]]) -> None:
        """Do an edit whose number must be read first."""
        try:
            change = make()
        except InputError as error:
            self.error.setText(str(error))
            self._changed()
            return
        self._do(what, change)

    def _add(self) -> None:
        piece = self._p.piece
        if piece is not None:
            made = Layer(piece.thickness, piece.material)
            self._do("Add a layer", lambda b: replace(b, layers=(*b.layers, made)))

    def _layer(self, k: int, name: str, value: object) -> None:
        def change(b: Build) -> Build:
            own = b.layers[k]
            changed = with_field(own, name, value)
            if name == "size" and value in BY and not own.by:
                changed = replace(changed, by=5.0)
            return replace(b, layers=(*b.layers[:k], changed, *b.layers[k + 1 :]))

        self._do("Layer", change)

    def _foam(self, k: int, foam: Foam) -> None:
        def change(b: Build) -> Build:
            own = replace(b.layers[k], thickness=foam.thickness, material=foam.material)
            return replace(b, layers=(*b.layers[:k], own, *b.layers[k + 1 :]))

        self._do("Layer", change)

    def _sooner(self, k: int) -> None:
        def change(b: Build) -> Build:
            layers = list(b.layers)
            layers[k - 1 : k + 1] = layers[k], layers[k - 1]
            return replace(b, layers=tuple(layers))

        self._do("Order of layers", change)

    def _layer_by(self, k: int, text: str) -> None:
        def make() -> Callable[[Build], Build]:
            by = parse_length(text, where="layer")
            return lambda b: replace(b, layers=(
                *b.layers[:k], replace(b.layers[k], by=by), *b.layers[k + 1 :]
            ))  # fmt: skip

        self._read("Layer", make)

    def _drop(self, k: int) -> None:
        self._do("Take a layer away",
                 lambda b: replace(b, layers=(*b.layers[:k], *b.layers[k + 1 :])))  # fmt: skip

    def _on_form(self, on: bool) -> None:
        self._do("Layers on the form" if on else "Layers glued flat",
                 lambda b: replace(b, on_form=on))  # fmt: skip

    def _wrap(self, on: bool) -> None:
        self._do("Edge wrap", lambda b: replace(b, wrap=Wrap() if on else None))

    def _strip(self, name: str, text: str) -> None:
        def make() -> Callable[[Build], Build]:
            value = parse_length(text, where=name)
            return lambda b: replace(b, wrap=with_field(b.wrap or Wrap(), name, value))

        self._read("Edge wrap", make)

    def _cover(self, kind: CoverKind | None) -> None:
        def change(b: Build) -> Build:
            if kind is None:
                return replace(b, cover=None)
            material = "cloth" if kind is CoverKind.CLOTH else "thermoplastic"
            return replace(b, cover=Cover(kind, 1.0, material))

        self._do("Cover", change)

    def _margin(self, text: str) -> None:
        def make() -> Callable[[Build], Build]:
            value = parse_length(text, where="margin")
            return lambda b: replace(b, cover=replace(b.cover or Cover(), margin=value))

        self._read("Cover", make)

    def _rod(self, text: str) -> None:
        def make() -> Callable[[Build], Build]:
            value = parse_length(text, where="rod")
            return lambda b: replace(b, rod=value)

        self._read("Rod", make)

    def _add_trim(self) -> None:
        piece = self._p.piece
        if piece is not None:
            made = Trim(self._p.chosen_edge)
            self._do("Shaped length", lambda b: replace(b, trims=(*b.trims, made)))

    def _trim(self, k: int, name: str, value: object) -> None:
        self._do("Shaped length", lambda b: replace(b, trims=(
            *b.trims[:k], with_field(b.trims[k], name, value), *b.trims[k + 1 :]
        )))  # fmt: skip

    def _trim_size(self, k: int, text: str) -> None:
        try:
            value = parse_length(text, where="shaped length")
        except InputError as error:
            self.error.setText(str(error))
            return
        self._trim(k, "size", value)

    def _drop_trim(self, k: int) -> None:
        self._do("Take a shaped length away",
                 lambda b: replace(b, trims=(*b.trims[:k], *b.trims[k + 1 :])))  # fmt: skip

    def _place(self, index: int) -> None:
        base = self.base.itemData(index)
        self._do("Glued onto", lambda b: replace(b, placing=Placing(base) if base else None))

    def _at(self, name: str, text: str) -> None:
        def make() -> Callable[[Build], Build]:
            value = parse_scalar(number_in(text), where=name)
            share = value if name == "turn" else value / 100
            return lambda b: replace(
                b, placing=with_field(b.placing, name, share) if b.placing else None
            )

        self._read("Glued onto", make)

    def _panels(self) -> None:
        piece = self._p.piece
        if piece is None:
            return
        try:
            channel = parse_length(self.channel.text(), where="channel")
            foam = self.panel_foam.currentData()
            grid = PanelGrid(
                self.columns.value(), self.rows.value(), channel,
                thickness=foam.thickness, material=foam.material,
            )  # fmt: skip
            self._p.session.edit(
                f"Panels on {piece.name}", lambda p: with_panels(p, piece.id, grid)
            )
        except InputError as error:
            self.error.setText(str(error))
            return
        self.error.setText("")
        many = self.columns.value() * self.rows.value()
        self._p.session.tell(f"{many} panels were added, each a piece of its own.", "good")
        self._changed()
