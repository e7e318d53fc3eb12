"""What the Measure station says of the troupe: whose suits are made, how many, in which size."""

from ivory_quilt.core.document.troupe import drop_member, member_of, put_member, size_pieces
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_scalar, show_number, show_parts
from ivory_quilt.desk.stations.measure.presenter import MeasurePresenter


class TroupePresenter:
    """The suits of the wearer in sight, and all together."""

    def __init__(self, presenter: MeasurePresenter) -> None:
        """Work on the project of `presenter`, and the wearer in sight there."""
        self._measure, self._session = presenter, presenter.session

    @property
    def member(self) -> Member | None:
        """What the wearer in sight gets; None: no suit."""
        wearer = self._measure.wearer
        return None if wearer is None else member_of(self._session.project, wearer.id)

    @property
    def subject(self) -> str:
        """The id of the wearer in sight, or an empty string."""
        wearer = self._measure.wearer
        return "" if wearer is None else wearer.id

    @property
    def size_words(self) -> str:
        """The size of the wearer's suit, in percent of the pieces as drawn."""
        member = self.member
        return "" if member is None else f"{show_number(100 * member.scale, 1)} %"

    def words(self) -> str:
        """Return what all suits come to, in a sentence."""
        project = self._session.project
        if not project.troupe:
            return "One suit is made, as the pieces are drawn."
        suits = sum(m.count for m in project.troupe)
        parts = show_parts(self._session.plan.ledger.parts)
        sizes = len({m.size for m in project.troupe})
        return f"{counted(suits, 'suit')} in {counted(sizes, 'size')}: {parts} in all."

    def own_words(self) -> str:
        """Return which pieces have a size of their own, in a sentence, or nothing."""
        member = self.member
        if member is None or not member.own:
            return ""
        names = {p.id: p.name for p in self._session.project.pieces}
        said = [
            f"{names[piece]} {show_number(100 * factor, 1)} %"
            for piece, factor in member.own
            if piece in names
        ]
        more = f" and {len(said) - 3} more" if len(said) > 3 else ""
        return f"Of their own: {', '.join(said[:3])}{more}." if said else ""

    def set_count(self, count: int) -> None:
        """Make so many suits for the wearer in sight; 0: none."""
        wearer, member = self._measure.wearer, self.member
        if wearer is None or count == (member.count if member is not None else 0):
            return
        if count == 0:
            self._session.edit(f"No suit for {wearer.name}", lambda p: drop_member(p, wearer.id))
            return
        fresh = replace(member, count=count) if member is not None else Member(wearer.id, count)
        label = f"{counted(count, 'suit')} for {wearer.name}"
        self._session.edit(label, lambda p: put_member(p, fresh), merge=True)

    def set_size(self, text: str) -> None:
        """Give the wearer's whole suit a size as typed, in percent.

        Raises:
            InputError: it is no percentage that makes sense.
        """
        if self.member is not None:
            self._resize(replace(self.member, scale=_percent(text), own=()))

    def size_from_fit(self) -> None:
        """Take the size that the fit asks for: of all pieces, or of those sized together.

        Raises:
            InputError: there is no fit, or no suit for this wearer.
        """
        wearer, fit = self._measure.wearer, self._measure.fit()
        if wearer is None or fit is None:
            raise InputError("size", "there is no fit", "a measure and the piece that meets it")
        member = self.member or Member(wearer.id)
        ids = self._measure.together()
        if len(ids) == len(self._session.project.pieces):
            self._resize(replace(member, scale=fit.scale, own=()))
        else:
            self._resize(size_pieces(member, ids, fit.scale))

    def _resize(self, member: Member) -> None:
        wearer = self._session.project.wearer(member.wearer)
        label = f"Size for {wearer.name}: {show_number(100 * member.scale, 1)} %"
        self._session.edit(label, lambda p: put_member(p, member))


def _percent(text: str) -> float:
    return parse_scalar(text.strip().removesuffix("%").strip(), where="size") / 100
