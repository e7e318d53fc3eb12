"""Where a piece is glued on the Stack card, and panels that cover it."""

from functools import partial

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.document.panels import PanelGrid, with_panels
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.build import (
    Layer,
    Placing,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_scalar, typed_length
from ivory_quilt.desk.stations.build.edits import Change, Edits
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    button,
    column,
    counter,
    fill_box,
    filled_later,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, number_in, regard, with_field


class PlacingBox(QWidget):
    """What the piece is glued onto, and inlay panels on it."""

    def __init__(self, presenter: BuildPresenter, edits: Edits) -> None:
        """Change placings through `edits`."""
        super().__init__()
        self._p, self._edits = presenter, edits
        self.base = filled_later("glued onto", self._place)
        self.across = EntryField("how far across the base", partial(self._at, "across"), "%", 70)
        self.up = EntryField("how far up the base", partial(self._at, "up"), "%", 70)
        self.turn = EntryField("turned by", partial(self._at, "turn"), "°", 70)
        self.stands = filled_later("how it is glued on", self._stand)
        self.place_lines = [
            FieldLine("How", self.stands),
            FieldLine("Across, up", self.across, self.up),
            FieldLine("Turned", self.turn),
        ]
        self.columns, self.rows = counter(1, 20, "panels across"), counter(1, 20, "panels up")
        self.columns.setValue(3)
        self.channel = EntryField("channel between panels", lambda _: None)
        self.channel.setText("4 mm")
        self.panel_foam = filled_later("foam of the panels", lambda _: None)
        self.panel_foam.setFixedWidth(150)
        self.panels = button(
            "Cover it with panels", self._panels, tip="Inlay panels with an even channel"
        )
        self.setLayout(
            column(
                label("Glued onto", "heading"),
                self.base,
                *self.place_lines,
                FieldLine("Panels", self.columns, label("×"), self.rows),
                FieldLine("Channel", self.channel),
                FieldLine("Of", self.panel_foam),
                row(self.panels, None),
            )
        )

    def fill(self, piece: Piece) -> None:
        """Show where a piece is glued."""
        regard(self, piece.id)
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
            ways = [("lies flat", "")]
            ways += [(f"on edge {e.name}", e.name) for e in edges_of(piece)]
            if placing.stands not in [name for _, name in ways]:
                ways.append((f"on edge {placing.stands}: gone", placing.stands))
            fill_box(self.stands, ways, placing.stands)
            self.across.show_value(100 * placing.across)
            self.up.show_value(100 * placing.up)
            self.turn.show_value(placing.turn)

    def _place(self, index: int) -> None:
        base = self.base.itemData(index)
        self._edits.do("Glued onto", lambda b: replace(b, placing=Placing(base) if base else None))

    def _stand(self, index: int) -> None:
        edge = self.stands.itemData(index)
        self._edits.do(
            "Glued onto",
            lambda b: replace(b, placing=replace(b.placing, stands=edge) if b.placing else None),
        )

    def _at(self, name: str, text: str) -> bool:
        def make() -> Change:
            value = parse_scalar(number_in(text), where=name)
            share = value if name == "turn" else value / 100
            return lambda b: replace(
                b, placing=with_field(b.placing, name, share) if b.placing else None
            )

        return self._edits.read("Glued onto", make)

    def _panels(self) -> None:
        piece = self._p.piece
        if piece is None:
            return
        try:
            channel = typed_length(self.channel.text(), where="channel")
            foam = self.panel_foam.currentData()
            grid = PanelGrid(
                self.columns.value(),
                self.rows.value(),
                channel,
                thickness=foam.thickness,
                material=foam.material,
            )
            self._p.session.edit(
                f"Panels on {piece.name}", lambda p: with_panels(p, piece.id, grid)
            )
        except InputError as error:
            self._edits.error.setText(str(error))
            return
        self._edits.error.setText("")
        many = self.columns.value() * self.rows.value()
        self._p.session.tell(f"{many} panels were added, each a piece of its own.", "good")
