"""How a piece of cloth is sewn, on the Edges card: allowance, the edge in hand, darts, stretch."""

from collections.abc import Callable
from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.document.finishing import set_sewing
from ivory_quilt.core.pattern.edges import edge_of, edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import sewn_length
from ivory_quilt.core.pattern.sewing import EdgeFinish, Sewing, SewnDart, SewnEdge
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import MaterialKind
from ivory_quilt.core.units import parse_scalar, show_length, show_number, typed_length
from ivory_quilt.desk.stations.build.edits import put_at
from ivory_quilt.desk.stations.build.presenter import BuildPresenter
from ivory_quilt.desk.widgets.basics import (
    Complaint,
    Stitch,
    button,
    choices,
    clear,
    column,
    label,
    row,
)
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, number_in, tick, with_field

FINISHES = tuple((f, f.value) for f in EdgeFinish)
Do = Callable[[Callable[[], object]], bool]


class SewingBox(QWidget):
    """Allowance, hems, darts and stretch of the piece under work."""

    def __init__(self, presenter: BuildPresenter, do: Do) -> None:
        """Work `presenter`; `do` runs an edit, or says why it is refused."""
        super().__init__()
        self._p, self._do = presenter, do
        self._shown: object = None
        self.on = tick("Cut with seam allowance", self._turn, "The outline is the stitching line")
        self.allowance = EntryField("seam allowance", partial(self._size, "allowance"))
        self.edge_words = label("", "heading")
        self.finish = choices(FINISHES, self._set_finish)
        self.finish.setAccessibleName("what becomes of the edge")
        self.finish.setFixedWidth(130)
        self.wide = EntryField("allowance of the edge", self._set_width)
        self.wide_line = FieldLine("Turned in", self.wide)
        self.length = label("", "note")
        self.darts = QVBoxLayout()
        self.darts.setSpacing(4)
        self.add_dart = button("Add a dart", self._add_dart, tip="A wedge that is sewn shut")
        self.along = EntryField("stretched along the grain", partial(self._share, "along"), "%", 70)
        self.across = EntryField("stretched across it", partial(self._share, "across"), "%", 70)
        self.gives = Complaint()
        self.body = QWidget()
        self.body.setLayout(
            column(
                FieldLine("Allowance", self.allowance),
                self.edge_words,
                FieldLine("It is", self.finish),
                self.wide_line,
                self.length,
                self.darts,
                row(self.add_dart, None),
                label("Stretched when worn", "heading"),
                FieldLine("Along the grain", self.along),
                FieldLine("Across it", self.across),
                self.gives,
                space=8,
            )
        )
        self.setLayout(column(Stitch(), label("Sewing", "heading"), self.on, self.body, space=8))

    # Showing

    def fill(self, piece: Piece) -> None:
        """Show how a piece is sewn; nothing of foam."""
        sewing = piece.build.sewing
        material = self._p.session.stock.material(piece.material)
        self.setVisible(sewing is not None or material.kind is MaterialKind.CLOTH)
        self.on.setChecked(sewing is not None)
        self.body.setVisible(sewing is not None)
        if sewing is None:
            return
        name = self._p.edges.chosen_edge
        edge = sewing.at(name)
        self.allowance.show_value(sewing.allowance)
        self.edge_words.setText(f"Edge {name}")
        self.finish.show_value(edge.finish)
        self.wide.show_value(edge.width)
        self.wide_line.setVisible(edge.finish in (EdgeFinish.SEAM, EdgeFinish.HEM))
        sews = sewn_length(piece, edge_of(piece, name))
        self.length.setText(f"Sews to {show_length(sews, digits=1)}")
        self._fill_darts(piece, sewing, name)
        self.along.show_value(sewing.along)
        self.across.show_value(sewing.across)
        book, said = material.book, []
        for word, value, most in (
            ("along", sewing.along, book.stretch_along),
            ("across", sewing.across, book.stretch_across),
        ):
            if value > most:
                said.append(
                    f"{material.name} gives {show_number(most, 0)} % {word} the grain, not "
                    f"{show_number(value, 0)} %."
                )
        self.gives.setText(" ".join(said))

    def _fill_darts(self, piece: Piece, sewing: Sewing, edge: str) -> None:
        state = (piece.id, sewing.darts, edge)
        if state == self._shown:
            return
        self._shown = state
        clear(self.darts)
        for k, dart in enumerate(sewing.darts):
            if dart.edge != edge:
                continue
            fields = []
            for name, value, unit in (
                ("at", 100 * dart.at, "%"),
                ("width", dart.width, "mm"),
                ("depth", dart.depth, "mm"),
            ):
                field = EntryField(
                    f"{name} of dart {k + 1}", partial(self._dart, k, name), unit, 66
                )
                field.show_value(value)
                field.setToolTip({"at": "Along the edge", "width": "Width", "depth": "Depth"}[name])
                fields.append(field)
            gone = button("×", partial(self._drop_dart, k), "quiet", "Remove")
            gone.setFixedWidth(34)
            self.darts.addLayout(row(*fields, gone, space=4))

    # Doing

    def _edit(self, what: str, change: Callable[[Sewing], Sewing | None]) -> bool:
        piece = self._p.piece
        if piece is None:
            return False
        ids = self._p.group or (piece.id,)
        return self._do(
            lambda: self._p.session.edit(
                f"{what}: {piece.name}", lambda p: set_sewing(p, ids, change)
            )
        )

    def _turn(self, on: bool) -> None:  # noqa: FBT001 - Qt says whether it is ticked
        self._edit("Sewing", lambda old: old if on else None)

    def _size(self, name: str, text: str) -> bool:
        return self._edit(
            "Sewing", lambda s: with_field(s, name, typed_length(text, where="seam allowance"))
        )

    def _share(self, name: str, text: str) -> bool:
        def change(sewing: Sewing) -> Sewing:
            return with_field(
                sewing, name, parse_scalar(number_in(text), where=f"stretched {name}")
            )

        return self._edit("Stretch", change)

    def _set_finish(self, finish: EdgeFinish) -> None:
        edge = self._p.edges.chosen_edge

        def change(sewing: Sewing) -> Sewing:
            plain = finish in (EdgeFinish.SEAM, EdgeFinish.FOLD, EdgeFinish.RAW)
            width = sewing.allowance if plain else SewnEdge(edge).width
            return sewing.with_edge(SewnEdge(edge, finish, width))

        self._edit(f"Edge {edge}", change)

    def _set_width(self, text: str) -> bool:
        edge = self._p.edges.chosen_edge

        def change(sewing: Sewing) -> Sewing:
            width = typed_length(text, where=f"edge {edge}, allowance")
            return sewing.with_edge(replace(sewing.at(edge), width=width))

        return self._edit(f"Edge {edge}", change)

    def _add_dart(self) -> None:
        edge, piece = self._p.edges.chosen_edge, self._p.piece
        if piece is not None and any(e.name == edge for e in edges_of(piece)):
            self._edit("Dart", lambda s: replace(s, darts=(*s.darts, SewnDart(edge))))

    def _dart(self, k: int, name: str, text: str) -> bool:
        def change(sewing: Sewing) -> Sewing:
            if name == "at":
                value = parse_scalar(number_in(text), where="dart") / 100
            else:
                value = typed_length(text, where="dart")
            return replace(
                sewing, darts=put_at(sewing.darts, k, with_field(sewing.darts[k], name, value))
            )

        return self._edit("Dart", change)

    def _drop_dart(self, k: int) -> None:
        self._edit("Remove dart", lambda s: replace(s, darts=put_at(s.darts, k)))
