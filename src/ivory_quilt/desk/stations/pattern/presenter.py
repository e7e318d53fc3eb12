"""What the Pattern station shows and does, without a widget."""

from collections.abc import Callable

from ivory_quilt.core.calculators.sizes import print_scale
from ivory_quilt.core.document.project import (
    Project,
    add_pieces,
    change_pieces,
    put_pieces,
    remove_pieces,
    scale_pieces,
)
from ivory_quilt.core.editing.reshape import fold_edge, mirrored_piece
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn, Wanted
from ivory_quilt.core.plan.suits import wearers_of
from ivory_quilt.core.record import replace
from ivory_quilt.core.review.finding import Finding
from ivory_quilt.core.units import show_area, show_number, typed_length
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.pattern.import_presenter import ImportPresenter, unfold_piece
from ivory_quilt.desk.stations.pattern.shape_presenter import ShapePresenter, follow_thickness

HANDS = ((Hand.NONE, "either"), (Hand.LEFT, "left"), (Hand.RIGHT, "right"), (Hand.PAIR, "a pair"))
FACES = (
    (FaceUp.SKIN, "skin face"),
    (FaceUp.TEXTURED, "textured face"),
    (FaceUp.EITHER, "either, it is hidden"),
)
TURNS = (
    (Turn.QUARTERS, "in quarter turns"),
    (Turn.FREE, "freely"),
    (Turn.DIRECTION, "keeps the sheet's direction"),
)

WANTS = (
    (Wanted.FIRST, "before the others"),
    (Wanted.USUAL, "like the others"),
    (Wanted.LAST, "after the others"),
)


def piece_note(piece: Piece) -> str:
    """Return what stands under a piece's name: "pair × 1", "left × 2", "× 6"."""
    word = {Hand.PAIR: "pair ", Hand.LEFT: "left ", Hand.RIGHT: "right ", Hand.NONE: ""}[piece.hand]
    return f"{word}× {piece.count}"


def facts(piece: Piece) -> list[tuple[str, str]]:
    """Return what can be measured on a piece."""
    shape = piece.shape
    size = f"{show_number(shape.width, 1)} × {show_number(shape.height, 1)} mm"
    found = [
        ("size", size),
        ("area", show_area(shape.area)),
        ("outline", f"{show_number(shape.outline_length, 1)} mm"),
    ]
    if shape.holes:
        found.append(("holes", str(len(shape.holes))))
    if piece.lines:
        found.append(("lines", str(len(piece.lines))))
    if piece.source.file:
        layer = f", layer {piece.source.layer}" if piece.source.layer else ""
        found.append(("from", f"{piece.source.file}{layer}"))
    return found


class PatternPresenter(ImportPresenter):
    """Edits of pieces, and files on their way in."""

    def __init__(self, session: Session) -> None:
        """Work on `session`."""
        super().__init__(session)
        self.findings: tuple[Finding, ...] = ()
        self.left_so: set[tuple[object, ...]] = set()
        self.wearer = ""
        """Whose pieces the board shows; empty: as they are drawn."""
        self.in_colour = False
        """Whether the board shows pieces in the tones that they are painted in."""
        self.shapes = ShapePresenter(session)

    def on_board(self) -> tuple[Piece, ...]:
        """Return what the board shows: the pieces as drawn, or one wearer's, as often as needed."""
        suit = next(
            (s for s in self.session.plan.suits if s.member and s.member.wearer == self.wearer),
            None,
        )
        if suit is None:
            self.wearer = ""
            return self.session.project.pieces
        return tuple(replace(m.piece, count=m.piece.count * suit.count) for m in suit.made.values())

    def wearers(self) -> list[tuple[str, str]]:
        """Return whose pieces can be shown: (wearer's id, words); nothing without a troupe."""
        known = wearers_of(self.session.plan.suits)
        return [("", "as drawn"), *known] if known else []

    @property
    def pieces(self) -> list[Piece]:
        """The selected pieces that are still there."""
        known = {p.id: p for p in self.session.project.pieces}
        return [known[i] for i in self.selected if i in known]

    def change(self, label: str, **changes: object) -> None:
        """Change the same fields of all selected pieces."""
        ids = [p.id for p in self.pieces]
        if not ids:
            return
        what = self.pieces[0].name if len(ids) == 1 else f"{len(ids)} pieces"

        def edit(project: Project) -> Project:
            project = change_pieces(project, ids, **changes)
            return follow_thickness(project, ids) if "thickness" in changes else project

        self.session.edit(f"{label}: {what}", edit)
        for key in ("material", "thickness"):
            if key in changes:
                self.defaults[key] = changes[key]

    def delete(self) -> None:
        """Take the selected pieces out."""
        ids = [p.id for p in self.pieces]
        if ids:
            what = self.pieces[0].name if len(ids) == 1 else f"{len(ids)} pieces"
            self.session.edit(f"Delete {what}", lambda p: remove_pieces(p, ids))

    def copy(self) -> None:
        """Add a copy of each selected piece."""
        chosen = self.pieces
        if chosen:
            copies = [replace(p, name=f"{p.name} copy", recipe=None) for p in chosen]
            self.session.edit("Duplicate pieces", lambda p: add_pieces(p, copies))

    def mirror(self) -> None:
        """Turn the selected pieces into their other hand."""
        self._reshape("Mirror", mirrored_piece)

    def can_unfold(self) -> bool:
        """Return whether every selected piece has a straight edge to unfold at."""
        chosen = self.pieces
        return bool(chosen) and all(fold_edge(p) is not None for p in chosen)

    def unfold(self) -> None:
        """Unfold the selected half patterns at their folds.

        Raises:
            InputError: one of them is no half pattern.
        """
        self._reshape("Unfold", unfold_piece)

    def _reshape(self, label: str, change: Callable[[Piece], Piece]) -> None:
        fresh = {p.id: change(p) for p in self.pieces}
        if fresh:
            what = self.pieces[0].name if len(fresh) == 1 else f"{len(fresh)} pieces"
            self.session.edit(f"{label} {what}", lambda p: put_pieces(p, fresh.values()))

    # Review

    def open_findings(self) -> tuple[Finding, ...]:
        """Return what is doubtful in the pieces and was not left so."""
        known = {p.id for p in self.session.project.pieces}
        return tuple(
            f for f in self.findings if f.key not in self.left_so and known.issuperset(f.pieces)
        )

    def mend_finding(self, finding: Finding) -> None:
        """Do the mend that a finding offers."""
        if finding.apply is not None:
            self.session.edit(f"Fix: {finding.mend}", finding.apply)

    def leave_finding(self, finding: Finding) -> None:
        """Hide a finding while this project is open."""
        self.left_so.add(finding.key)

    def scale_to(self, measured: str, real: str) -> None:
        """Scale all selected pieces so that a length of `measured` becomes `real`.

        Raises:
            InputError: not two lengths above zero.
        """
        factor = print_scale(
            nominal=typed_length(real, where="real length"),
            measured=typed_length(measured, where="present length"),
        ).figure("correction")
        ids = [p.id for p in self.pieces]
        label = f"Scale to {100 * factor:.1f} %"
        self.session.edit(label, lambda p: scale_pieces(p, ids, factor))
