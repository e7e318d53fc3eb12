"""What the Measure station shows and does, without a widget."""

from datetime import date
from enum import StrEnum

from ivory_quilt.core.document.project import scale_pieces
from ivory_quilt.core.document.sizing import Sized, SizeMethod, sized
from ivory_quilt.core.document.wearers import add_wearer, put_wearer, remove_wearer
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.fit import Fit, KeyOf, key_length
from ivory_quilt.core.measure.wearer import Measure, Wearer, spot
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import counted, typed_length
from ivory_quilt.desk.session import Session


class Together(StrEnum):
    """Which pieces are scaled with the key piece."""

    ALL = "all"
    CHOSEN = "chosen"
    FILE = "file"
    ALONE = "alone"


TOGETHER = (
    (Together.ALL, "all pieces"),
    (Together.FILE, "pieces of the same file"),
    (Together.ALONE, "only this piece"),
    (Together.CHOSEN, "pieces selected on the board"),
)
WAYS = (
    (SizeMethod.SCALE, "scale it all alike"),
    (SizeMethod.STRETCH, "stretch it one way"),
    (SizeMethod.OFFSET, "offset it all around"),
    (SizeMethod.STRIP, "let in a strip"),
)
KEYS = ((KeyOf.WIDTH, "width"), (KeyOf.HEIGHT, "height"), (KeyOf.OUTLINE, "outline"))


class FitChoices(Struct, frozen=True):
    """What the maker says about a fit, as typed."""

    measure: str = ""
    piece: str = ""
    key: KeyOf = KeyOf.WIDTH
    around: int = 1
    ease: str = "10"
    beneath: str = "0"
    together: Together = Together.ALL
    way: SizeMethod = SizeMethod.SCALE
    step: str = "3"


class MeasurePresenter:
    """Wearers of the project, and the fit under work."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        self.session = session
        self.wearer_id = ""
        self.spot = ""
        self.choices = FitChoices()
        self._sized: tuple[tuple[object, ...], Sized] | None = None

    def forget(self) -> None:
        """Let go of what was chosen: another project is open."""
        self.wearer_id = self.spot = ""
        self.choices = FitChoices()

    # Wearers

    @property
    def wearers(self) -> tuple[Wearer, ...]:
        """All wearers of the project."""
        return self.session.project.wearers

    @property
    def wearer(self) -> Wearer | None:
        """The wearer in sight."""
        known = {w.id: w for w in self.wearers}
        return known.get(self.wearer_id) or (self.wearers[0] if self.wearers else None)

    def add(self, name: str) -> None:
        """Add a wearer and show them.

        Raises:
            InputError: the name is empty.
        """
        before = {w.id for w in self.wearers}
        self.session.edit(f"Add wearer {name.strip()}", lambda p: add_wearer(p, name))
        self.wearer_id = next(w.id for w in self.wearers if w.id not in before)

    def rename(self, name: str) -> None:
        """Rename the wearer in sight.

        Raises:
            InputError: the name is empty.
        """
        if (wearer := self.wearer) is not None and name.strip() != wearer.name:
            self._put(f"Name: {name.strip()}", replace(wearer, name=name.strip()))

    def remove(self) -> None:
        """Take the wearer in sight out of the project."""
        if (wearer := self.wearer) is not None:
            self.session.edit(f"Remove {wearer.name}", lambda p: remove_wearer(p, wearer.id))

    def _put(self, label: str, wearer: Wearer, *, merge: bool = False) -> None:
        self.session.edit(label, lambda p: put_wearer(p, wearer), merge=merge)

    # Measures

    def set_value(self, spot_id: str, text: str, today: date) -> None:
        """Take a measure as typed; an empty text takes it away.

        Raises:
            InputError: it is no length, or no body has it.
        """
        wearer = self.wearer
        if wearer is None:
            return
        title = spot(spot_id).title
        known = wearer.measure(spot_id)
        if not text.strip():
            if known is not None:
                self._put(f"{title}: none", wearer.without(spot_id))
            return
        value = typed_length(text, where=title)
        if known is not None and abs(known.value - value) < 1e-9:
            return
        fresh = Measure(spot_id, value, date=today.isoformat())
        if known is not None:
            fresh = replace(known, value=value, date=today.isoformat())
        self._put(f"{title}: {wearer.name}", wearer.with_measure(fresh))

    def set_detail(
        self, spot_id: str, *, uncertainty: str | None = None, method: str | None = None
    ) -> None:
        """Say how sure a measure is, or how it was taken.

        Raises:
            InputError: the uncertainty is no length.
        """
        wearer = self.wearer
        known = wearer.measure(spot_id) if wearer is not None else None
        if wearer is None or known is None:
            return
        title = spot(spot_id).title
        fresh = known
        if uncertainty is not None:
            fresh = replace(fresh, uncertainty=typed_length(uncertainty.strip("± "), where=title))
        if method is not None:
            fresh = replace(fresh, method=method.strip())
        if fresh != known:
            self._put(f"{title}: {wearer.name}", wearer.with_measure(fresh))

    # Fit

    def change(self, **said: object) -> None:
        """Take over what the maker says about the fit."""
        self.choices = replace(self.choices, **said)  # type: ignore[arg-type]

    @property
    def measured(self) -> tuple[Measure, ...]:
        """The measures of the wearer in sight."""
        return self.wearer.measures if self.wearer is not None else ()

    @property
    def key_piece(self) -> Piece | None:
        """The piece that must meet the body, once it is chosen."""
        known = {p.id: p for p in self.session.project.pieces}
        return known.get(self.choices.piece)

    @property
    def measure(self) -> Measure | None:
        """The measure that must be met, once it is chosen."""
        known = {m.spot: m for m in self.measured}
        return known.get(self.choices.measure)

    def fit(self) -> Fit | None:
        """Return the fit as it stands, or None when a piece or a measure is wanting.

        Raises:
            InputError: a value makes no sense.
        """
        piece, measure = self.key_piece, self.measure
        if piece is None or measure is None:
            return None
        said = self.choices
        made = Fit(
            measure,
            key_length(piece.shape, said.key),
            said.around,
            typed_length(said.ease, where="ease"),
            typed_length(said.beneath, where="beneath"),
            piece.thickness,
        )
        made.check()
        return made

    def together(self) -> tuple[str, ...]:
        """Return the ids of the pieces that are scaled together."""
        piece = self.key_piece
        if piece is None:
            return ()
        if self.choices.together is Together.ALONE:
            return (piece.id,)
        pieces = self.session.project.pieces
        if self.choices.together is Together.CHOSEN:
            chosen = {piece.id, *self.session.selected}
            return tuple(p.id for p in pieces if p.id in chosen)
        if self.choices.together is Together.FILE:
            return tuple(p.id for p in pieces if p.source.file == piece.source.file)
        return tuple(p.id for p in pieces)

    def sized(self) -> Sized | None:
        """Return the project sized as the choices say, or None when something is wanting.

        Raises:
            InputError: a value makes no sense, or the way does not serve.
        """
        found, piece = self.fit(), self.key_piece
        if found is None or piece is None:
            return None
        said = self.choices
        ids = self.together()
        state = (self.session.project, ids, piece.id, said.key, found, said.way)
        if self._sized is None or self._sized[0] != state:
            self._sized = (state, sized(*state))
        return self._sized[1]

    def apply(self) -> None:
        """Size the set in the way chosen.

        Raises:
            InputError: a value makes no sense, or the way does not serve.
        """
        made = self.sized()
        if made is None:
            raise InputError("fit", "there is no piece or no measure", "both")
        name = self.wearer.name if self.wearer is not None else ""
        self.session.edit(f"Fit to {name}: {made.words}", lambda _: made.project)
        lost = any(s.after is None or s.after.verdict != s.before.verdict for s in made.seams)
        seams = f" {made.seam_words()}" if made.seams else ""
        self.session.tell(f"{self._many()} {made.words}.{seams}", "heat" if lost else "good")

    def apply_scale(self, scale: float) -> None:
        """Scale the set by a factor chosen among sizes compared."""
        ids = self.together()
        label = f"Size: {100 * scale:.1f} %"
        self.session.edit(label, lambda p: scale_pieces(p, ids, scale))
        self.session.tell(f"{self._many()} scaled to {100 * scale:.1f} %.", "good")

    def _many(self) -> str:
        count = 1 if self.choices.way is SizeMethod.STRIP else len(self.together())
        return counted(count, "piece")
