"""The list of shaped lengths on the Stack card, each along an edge."""

from functools import partial

from PySide6.QtWidgets import QVBoxLayout, QWidget

from ivory_quilt.core.pattern.build import (
    Trim,
    TrimKind,
)
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import parse_scalar, show_number, typed_length
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
from ivory_quilt.desk.widgets.fields import EntryField, FieldLine, number_in, tick, with_field

TRIMS = tuple((k, k.value) for k in TrimKind)


class TrimList(QWidget):
    """Shaped lengths along the piece's edges."""

    def __init__(self, presenter: BuildPresenter, edits: Edits) -> None:
        """Change shaped lengths through `edits`."""
        super().__init__()
        self._p, self._edits = presenter, edits
        self._shown: object = None
        self._rows = QVBoxLayout()
        self._rows.setSpacing(4)
        self.add = button("Add a shaped length", self._add_trim)
        self.setLayout(column(self._rows, row(self.add, None)))

    def fill(self, piece: Piece) -> None:
        """Show the shaped lengths of a piece."""
        made = self._p.session.plan.made.get(piece.id)
        lengths = {c.trim: c for c in made.lengths} if made is not None else {}
        state = (piece.id, piece.build.trims, piece.edges, [c.length for c in lengths.values()])
        if state == self._shown:
            return
        self._shown = state
        clear(self._rows)
        names = [e.name for e in edges_of(piece)]
        for k, trim in enumerate(piece.build.trims):
            kind = choices(TRIMS, partial(self._trim, k, "kind"), trim.kind)
            edge = choices(
                [(n, n) for n in names],
                partial(self._trim, k, "edge"),
                trim.edge if trim.edge in names else None,
            )
            edge.setFixedWidth(58)
            kind.setFixedWidth(112)
            kind.setAccessibleName(f"kind of shaped length {k + 1}")
            edge.setAccessibleName(f"edge of shaped length {k + 1}")
            size = EntryField(
                f"size of shaped length {k + 1}", partial(self._trim_size, k), width=66
            )
            size.show_value(trim.size)
            gone = button("×", partial(self._drop_trim, k), "quiet", "Remove")
            gone.setFixedWidth(34)
            self._rows.addLayout(row(edge, kind, size, gone, space=4))
            halved = tick("halved", partial(self._trim, k, "halved"), "One length serves twice")
            slot = tick("trenched", partial(self._trim, k, "trenched"), "Slotted over the edge")
            inner = tick("inside", partial(self._trim, k, "inside"), "On the inner face")
            halved.setChecked(trim.halved)
            slot.setChecked(trim.trenched)
            inner.setChecked(trim.inside)
            cut = lengths.get(trim)
            note = f"{cut.count} × {show_number(cut.length, 0)} mm" if cut else "edge is gone"
            self._rows.addLayout(row(halved, slot, inner, None, space=6))
            part = EntryField(
                f"share of shaped length {k + 1} that is halved", partial(self._share, k), "%", 66
            )
            part.show_value(100 * trim.sliced)
            along = FieldLine("Halved along", part)
            along.setVisible(trim.halved)
            self._rows.addWidget(along)
            self._rows.addWidget(label(note, "note"))

    def _add_trim(self) -> None:
        piece = self._p.piece
        if piece is not None:
            made = Trim(self._p.edges.chosen_edge)
            self._edits.do("Shaped length", lambda b: replace(b, trims=(*b.trims, made)))

    def _trim(self, k: int, name: str, value: object) -> None:
        self._edits.do(
            "Shaped length",
            lambda b: replace(b, trims=put_at(b.trims, k, with_field(b.trims[k], name, value))),
        )

    def _trim_size(self, k: int, text: str) -> bool:
        def make() -> Change:
            size = typed_length(text, where="shaped length")
            return lambda b: replace(b, trims=put_at(b.trims, k, replace(b.trims[k], size=size)))

        return self._edits.read("Shaped length", make)

    def _share(self, k: int, text: str) -> bool:
        def make() -> Change:
            part = parse_scalar(number_in(text), where="halved along") / 100
            return lambda b: replace(b, trims=put_at(b.trims, k, replace(b.trims[k], sliced=part)))

        return self._edits.read("Shaped length", make)

    def _drop_trim(self, k: int) -> None:
        self._edits.do("Remove shaped length", lambda b: replace(b, trims=put_at(b.trims, k)))
