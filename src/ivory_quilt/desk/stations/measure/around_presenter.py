"""What the Girths place does: parts that go around a body together, without a widget."""

from ivory_quilt.core.document.girths import (
    around_sum,
    closed,
    drop_around,
    edge_choices,
    fresh_around_id,
    put_around,
    times_of,
)
from ivory_quilt.core.document.seam_book import SeamChange, seam_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit import KeyOf
from ivory_quilt.core.measure.parts_around import AroundPart, AroundSum, PartsAround
from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.reckoning import Reckoning
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import show_number, typed_length
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter

KEYS = ((KeyOf.WIDTH, "width"), (KeyOf.HEIGHT, "height"))
LENGTHS = ("laps", "gaps", "ease", "beneath")


class AroundPresenter:
    """Girths of the wearer in sight, and what goes around them."""

    def __init__(self, presenter: MeasurePresenter) -> None:
        """Work on the project of `presenter`, and the wearer in sight there."""
        self._measure, self.session = presenter, presenter.session
        self.chosen = ""

    @property
    def known(self) -> tuple[PartsAround, ...]:
        """The girths of the wearer in sight."""
        wearer = self._measure.wearer
        return tuple(
            a for a in self.session.project.girths if wearer is not None and a.wearer == wearer.id
        )

    @property
    def around(self) -> PartsAround | None:
        """The girth in sight."""
        known = {a.id: a for a in self.known}
        return known.get(self.chosen) or next(iter(known.values()), None)

    def open_spots(self) -> list[tuple[str, str]]:
        """Return the measured girths of the wearer: (words, spot's id)."""
        girths = [m for m in self._measure.measured if spot(m.spot).kind is MeasureKind.GIRTH]
        return [
            (f"{spot(m.spot).title.lower()}, {show_number(m.value, 0)} mm", m.spot) for m in girths
        ]

    def pieces(self) -> list[Piece]:
        """Return the parts' pieces that are there, in their order."""
        around = self.around
        known = {p.id: p for p in self.session.project.pieces}
        return [known[p.piece] for p in around.parts if p.piece in known] if around else []

    def ways_around(self, piece: Piece) -> list[tuple[tuple[KeyOf, str], str]]:
        """Return what of a piece may go around: ((dimension, edge), words)."""
        edges = [((key, name), f"edge {name}") for name, key in edge_choices(piece)]
        return [*(((key, ""), word) for key, word in KEYS), *edges]

    def others(self) -> list[tuple[str, str]]:
        """Return the pieces that may be added: (name, id)."""
        there = {p.id for p in self.pieces()}
        return [(p.name, p.id) for p in self.session.project.pieces if p.id not in there]

    def total(self) -> AroundSum | None:
        """Return what the parts come to; None where there is no girth, or it is not measured."""
        around = self.around
        return around_sum(self.session.project, around) if around is not None else None

    def reckon(self) -> Reckoning:
        """Explain the sum.

        Raises:
            InputError: there is none.
        """
        total = self.total()
        if total is None:
            raise InputError("girth", "there is none", "a measured girth")
        return total.reckon({p.id: p.name for p in self.session.project.pieces})

    # Editing

    def add(self, spot_id: str) -> None:
        """Begin a girth of the wearer in sight."""
        wearer = self._measure.wearer
        if wearer is None:
            return
        name = spot(spot_id).title.lower()
        made = PartsAround(fresh_around_id(self.session.project), name, wearer.id, spot_id)
        self._put(f"Girth: {name}", made)
        self.chosen = made.id

    def remove(self) -> None:
        """Take the girth in sight out; its pieces stay."""
        around = self.around
        if around is not None:
            self.session.edit(f"Remove girth {around.name}", lambda p: drop_around(p, around.id))

    def add_piece(self, piece_id: str) -> None:
        """Let a piece go around, after the others."""
        around = self.around
        if around is None:
            return
        piece = self.session.project.piece(piece_id)
        part = AroundPart(piece_id, times=times_of(piece, around.spot))
        self._put(f"{piece.name} goes around", replace(around, parts=(*around.parts, part)))

    def drop_piece(self, piece_id: str) -> None:
        """Let a piece go around no more."""
        around = self.around
        if around is not None:
            parts = tuple(p for p in around.parts if p.piece != piece_id)
            self._put("Girth: one part less", replace(around, parts=parts))

    def change_part(self, piece_id: str, **said: object) -> None:
        """Say another thing about one part.

        Raises:
            InputError: it makes no sense.
        """
        around = self.around
        if around is not None:
            parts = tuple(
                replace(p, **said) if p.piece == piece_id else p  # type: ignore[arg-type]
                for p in around.parts
            )
            self._put(f"Girth {around.name}", replace(around, parts=parts))

    def change(self, **said: object) -> None:
        """Say another thing about the girth.

        Raises:
            InputError: it makes no sense.
        """
        around = self.around
        if around is not None:
            self._put(f"Girth {around.name}", replace(around, **said))  # type: ignore[arg-type]

    def set_length(self, name: str, text: str) -> None:
        """Say a length of the girth as typed.

        Raises:
            InputError: no length, or one that makes no sense.
        """
        self.change(**{name: typed_length(text, where=name)})

    def _put(self, label: str, around: PartsAround) -> None:
        self.session.edit(label, lambda p: put_around(p, around))

    def spread(self) -> None:
        """Spread what is missing over the parts.

        Raises:
            InputError: no part takes it, or a way does not serve.
        """
        around, total = self.around, self.total()
        if around is None or total is None:
            return
        made, seams = closed(self.session.project, around)
        off = show_number(total.missing, 0)
        self.session.edit(f"Spread {off} mm around the {around.name}", lambda _: made)
        lost = [s for s in seams if s.after is None or s.after.verdict != s.before.verdict]
        words = f"The parts go around the {around.name} now."
        if lost:
            words += f" Seam {seam_name(made, lost[0].seam)}: {lost[0].sentence}."
        self.session.tell(words, "heat" if lost else "good")

    # Words

    def words(self) -> str:
        """Return what is missing, in a few words."""
        total = self.total()
        if total is None or not total.around.parts:
            return ""
        if total.closes:
            return "goes around"
        off = show_number(abs(total.missing), 0)
        return f"{off} mm {'short' if total.missing > 0 else 'too long'}"

    def effect(self) -> str:
        """Return what spreading would do, or why it cannot be done."""
        around, total = self.around, self.total()
        if around is None or total is None or not total.around.parts or total.closes:
            return ""
        try:
            shares = total.shares()
            _, seams = closed(self.session.project, around)
        except InputError as error:
            return str(error)
        names = {p.id: p.name for p in self.session.project.pieces}
        said = [
            f"{names[p.piece]} {'+' if s > 0 else '−'}{show_number(abs(s), 1)} mm"
            for p, s in zip(total.around.parts, shares, strict=True)
            if abs(s) > 0.05
        ]
        return f"{', '.join(said)}. {_seam_words(seams)}"


def _seam_words(seams: tuple[SeamChange, ...]) -> str:
    lost = sum(s.after is None or s.after.verdict != s.before.verdict for s in seams)
    if not seams:
        return "No seam changes its length."
    if not lost:
        return f"{len(seams)} seams change in length and fit as before."
    return f"{lost} of {len(seams)} changed seams fit otherwise."
