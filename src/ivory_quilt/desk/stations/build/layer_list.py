"""The list of layers on the Stack card: foam, side, outline, order."""

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.pattern.build import (
    Build,
    Layer,
    LayerSide,
    LayerSize,
)
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import typed_length
from ivory_quilt.desk.stations.build.edits import Change, Edits, put_at
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    button,
    choices,
    clear,
    column,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, tick, with_field

SIZES = (
    (LayerSize.SAME, "same outline"),
    (LayerSize.INSET, "smaller by"),
    (LayerSize.STEPPED, "a step in by"),
    (LayerSize.OVERSIZE, "larger by"),
    (LayerSize.PIECE, "outline of"),
)
BY = (LayerSize.INSET, LayerSize.STEPPED, LayerSize.OVERSIZE)
SIDES = (
    (LayerSide.OUTER, "outer side"),
    (LayerSide.INNER, "inner side"),
    (LayerSide.BOTH, "both sides"),
)


class LayerList(QWidget):
    """Every layer of the piece, in the order in which it is glued on."""

    def __init__(self, presenter: BuildPresenter, edits: Edits) -> None:
        """Change layers through `edits`."""
        super().__init__()
        self._p, self._edits = presenter, edits
        self._shown: object = None
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        self.add = button("Add a layer", self._add, "main")
        self.setLayout(column(self._rows, row(self.add, None)))

    def fill(self, piece: Piece) -> None:
        """Show the layers of a piece."""
        state = (piece.id, piece.build.layers)
        if state == self._shown:
            return
        self._shown = state
        clear(self._rows)
        for k, layer in enumerate(piece.build.layers):
            self._layer_rows(k, layer)

    def _layer_rows(self, k: int, layer: Layer) -> None:
        p = self._p
        foams = p.foams(layer)
        own = Foam(layer.thickness, layer.material)
        thick = choices(foams, partial(self._foam, k), own)
        side = choices(SIDES, partial(self._layer, k, "side"), layer.side)
        gone = button("×", partial(self._drop, k), "quiet", "Remove layer")
        gone.setFixedWidth(34)
        first = button("↑", partial(self._sooner, k), "quiet", "Move up: glue it on earlier")
        first.setFixedWidth(34)
        first.setEnabled(k > 0)
        thick.setFixedWidth(96)
        side.setFixedWidth(116)
        thick.setAccessibleName(f"thickness of layer {k + 1}")
        side.setAccessibleName(f"side of layer {k + 1}")
        self._rows.addLayout(row(label(f"{k + 1}"), thick, side, gone, space=4))
        size = choices(SIZES, partial(self._layer, k, "size"), layer.size)
        size.setFixedWidth(128)
        size.setAccessibleName(f"outline of layer {k + 1}")
        line = row(size, space=4)
        line.setContentsMargins(16, 0, 0, 0)
        if layer.size in BY:
            by = EntryField(f"layer {k + 1} by", partial(self._layer_by, k), width=80)
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
        self._rows.addLayout(line)
        together = tick(
            "cut two at once",
            partial(self._layer, k, "together"),
            "Tacked onto the layer beneath, so that edges agree",
        )
        together.setChecked(layer.together)
        hidden = tick(
            "hidden",
            partial(self._layer, k, "hidden"),
            "Nobody sees its faces: it may be flipped on the sheet",
        )
        hidden.setChecked(layer.hidden)
        last = row(together, hidden, None, first, space=4)
        last.setContentsMargins(16, 0, 0, 4)
        self._rows.addLayout(last)

    # Doing

    def _add(self) -> None:
        piece = self._p.piece
        if piece is not None:
            made = Layer(piece.thickness, piece.material)
            self._edits.do("Add a layer", lambda b: replace(b, layers=(*b.layers, made)))

    def _layer(self, k: int, name: str, value: object) -> None:
        def change(b: Build) -> Build:
            own = b.layers[k]
            changed = with_field(own, name, value)
            if name == "size" and value in BY and not own.by:
                changed = replace(changed, by=5.0)
            return replace(b, layers=put_at(b.layers, k, changed))

        self._edits.do("Layer", change)

    def _foam(self, k: int, foam: Foam) -> None:
        def change(b: Build) -> Build:
            own = replace(b.layers[k], thickness=foam.thickness, material=foam.material)
            return replace(b, layers=put_at(b.layers, k, own))

        self._edits.do("Layer", change)

    def _sooner(self, k: int) -> None:
        def change(b: Build) -> Build:
            layers = list(b.layers)
            layers[k - 1 : k + 1] = layers[k], layers[k - 1]
            return replace(b, layers=tuple(layers))

        self._edits.do("Order of layers", change)

    def _layer_by(self, k: int, text: str) -> bool:
        def make() -> Change:
            by = typed_length(text, where="layer")
            return lambda b: replace(b, layers=put_at(b.layers, k, replace(b.layers[k], by=by)))

        return self._edits.read("Layer", make)

    def _drop(self, k: int) -> None:
        self._edits.do("Remove layer", lambda b: replace(b, layers=put_at(b.layers, k)))
