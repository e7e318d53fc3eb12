"""Templates: what is printed once for each shape that is cut, and all that stands on it.

Layers and pieces of one outline share a template; one that lies the other way round is traced with
the template turned over. What a template says is worked out here, how it looks is the papers'.
"""

import hashlib
import re
from collections.abc import Iterable, Iterator, Sequence
from functools import cached_property

import numpy as np
import shapely

from ivory_quilt.core.editing.reshape import on_fold, scaled_piece
from ivory_quilt.core.editing.template import template_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.congruent import ways_onto
from ivory_quilt.core.geometry.outline import locate_on_line
from ivory_quilt.core.geometry.shape import Point, Pose
from ivory_quilt.core.pattern.edges import edge_line, edges_of
from ivory_quilt.core.pattern.piece import FaceUp, Hand, Piece, Turn
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.suits import FOR, TemplateCut, template_cuts_of
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.units import show_number, show_thickness

ALPHABET = "23456789ABCDEFGHJKLMNPQRSTUVWXYZ"  # none that reads as another
CODE_HEAD, SHELF = "IQ", "SHELF"
SLENDER = 4.0  # times as long as wide: a strip (our choice)
SQUARE = 0.05  # mm off a rectangle
NEAR = 3.0  # mm: what stands there is on this half of a template


class EdgeNote(Struct, frozen=True):
    """What is to be known of one edge.

    Attributes:
        line: `(n, 2)` mm along it, counter-clockwise.
        name: its letter.
        partners: what it is glued to: numbers and letters.
        angle: of the knife from a square cut, degrees; above 0 the outer face is the larger one.
        blade: width of two bevels that meet in the middle, mm; 0 for one cut.
    """

    line: tuple[Point, ...]
    name: str
    partners: tuple[str, ...] = ()
    angle: float = 0.0
    blade: float = 0.0


class TemplateUse(Struct, frozen=True):
    """One thing that is cut with a template: its number and name, how often, of what.

    `turned_over`: the template lies face down for it.
    """

    number: str
    piece: Piece
    turned_over: bool = False


class Template(Struct, frozen=True, dict=True):
    """One template.

    Attributes:
        uses: what is cut with it, first what it was drawn for.
        piece: what is printed.
        edges: of the outline, those that are glued or not square.
        partners: (match mark, numbers of what meets it).
        whom: whose it is, or empty.
        scale: factor on the piece as drawn.
    """

    uses: tuple[TemplateUse, ...]
    piece: Piece
    edges: tuple[EdgeNote, ...] = ()
    partners: tuple[tuple[Point, tuple[str, ...]], ...] = ()
    whom: str = ""
    scale: float = 1.0
    owner: str = ""
    """The wearer's id, for the code."""

    @property
    def number(self) -> str:
        """The number that stands on it."""
        return self.uses[0].number

    @cached_property
    def mark(self) -> str:
        """Five letters and digits that change with what is printed."""
        piece = self.piece
        digest = hashlib.sha256(piece.shape.content_key)
        for line in piece.lines:
            digest.update(f"{line.kind} {np.round(line.points, 3).tolist()}".encode())
        said = (piece.match_marks, piece.material, piece.thickness, piece.face, self.edges)
        digest.update(f"{said} {[(u.number, u.piece.count) for u in self.uses]}".encode())
        return letters(digest.digest(), 5)

    @property
    def code(self) -> str:
        """What its square code says: whose which template, and as it was printed."""
        owner = hashlib.sha256(f"{self.owner} {self.piece.id}".encode()).digest()
        return f"{CODE_HEAD} {letters(owner, 6)} {self.mark}"

    @property
    def profiles(self) -> tuple[tuple[str, float, float], ...]:
        """How edges are cut that are not square: (their letters, angle, blade), each once."""
        found: dict[tuple[float, float], list[str]] = {}
        for note in self.edges:
            if note.angle or note.blade:
                found.setdefault((note.angle, note.blade), []).append(note.name)
        return tuple((" ".join(names), angle, blade) for (angle, blade), names in found.items())

    @property
    def is_strip(self) -> bool:
        """Whether it is a plain straight strip, which numbers tell as well."""
        piece = self.piece
        shape = piece.shape
        long, wide = max(shape.width, shape.height), min(shape.width, shape.height)
        plain = not (piece.lines or piece.match_marks or piece.labels or self.edges)
        square = len(shape.outer) == 4 and not shape.holes
        off = shape.width * shape.height - shape.area
        return plain and square and long >= SLENDER * wide and off <= SQUARE * long


def letters(digest: bytes, many: int) -> str:
    """Return the first of a digest as letters and digits that nobody mistakes."""
    return "".join(ALPHABET[b % len(ALPHABET)] for b in digest[:many])


def version_of(templates: Iterable[Template]) -> str:
    """Return four letters and digits that change with any of a project's templates."""
    digest = hashlib.sha256("".join(t.code for t in templates).encode())
    return letters(digest.digest(), 4)


def templates_of(
    plan: Plan, wanted: frozenset[str] | None = None, wearer: str = ""
) -> tuple[Template, ...]:
    """Return the templates of a plan.

    Args:
        plan: all that is cut.
        wanted: ids of the pieces that are wanted; None: all.
        wearer: the id of the one wearer they are for; empty: all.
    """
    numbers = piece_numbers(plan)
    made: list[Template] = []
    for cut in template_cuts_of(plan.suits, wearer):
        if wanted is not None and cut.piece_id not in wanted:
            continue
        fresh = _template(plan, cut, numbers)
        for k, other in enumerate(made):
            if other.owner == fresh.owner and (shared := _shared(other, fresh)) is not None:
                made[k] = shared
                break
        else:
            made.append(fresh)
    return tuple(made)


def templates_by_part(plan: Plan) -> dict[str, tuple[str, Template]]:
    """Return the number and template that each part is traced with, by the part's id."""
    traced = {use.piece.id: (use.number, t) for t in templates_of(plan) for use in t.uses}
    owners: dict[object, str] = {}
    found = {}
    for suit in plan.suits:
        # A template serves both hands, and all suits of one size: it has the first one's name.
        whose = ""
        if suit.member is not None:
            whose = FOR + owners.setdefault(suit.member.size, suit.member.wearer)
        for part in suit.all_parts():
            plain = re.sub(r"/(left|right)$", "", part.id.partition(FOR)[0])
            found[part.id] = traced[plain + whose]
    return found


def piece_numbers(plan: Plan) -> dict[str, str]:
    """Return the number of each piece, by its id."""
    return {p.id: str(k) for k, p in enumerate(plan.project.pieces, 1)}


def _number(cut: TemplateCut, numbers: dict[str, str]) -> str:
    """Return a template's number: the piece's, and a letter for each more that it is made of."""
    number = numbers.get(cut.piece_id, "?")
    if not cut.place:
        return number
    return number + (chr(96 + cut.place) if cut.place <= 26 else f".{cut.place}")


def _template(plan: Plan, cut: TemplateCut, numbers: dict[str, str]) -> Template:
    project = plan.project
    printed = template_of(cut.piece, project.rule, half=project.halves)
    edges = tuple(_edge_notes(plan, cut, printed, numbers))
    partners = _partners(printed, edges)
    # What the cut piece says of its bevels stands along the edges here.
    told = tuple(f"{note.name}: " for note in edges if note.angle or note.blade)
    if told:
        labels = tuple(k for k in printed.labels if not k.text.startswith(told))
        printed = replace(printed, labels=labels)
    use = TemplateUse(_number(cut, numbers), cut.piece)
    whom = cut.whom
    if not whom and len(project.wearers) == 1:
        whom = project.wearers[0].name  # without a troupe the pieces are drawn for them
    return Template((use,), printed, edges, partners, whom, cut.scale, cut.owner)


def _edge_notes(
    plan: Plan, cut: TemplateCut, printed: Piece, numbers: dict[str, str]
) -> Iterator[EdgeNote]:
    """Yield what is to be known of a cut's edges; layers and covers are glued face to face."""
    piece = cut.cut.piece
    knives = {k.edge: k for k in cut.cut.knives}
    glued: dict[str, list[str]] = {}
    for seam in plan.project.seams if not cut.cut.suffix else ():
        for ref, other in ((seam.first, seam.second), (seam.second, seam.first)):
            if ref.piece == cut.piece_id:
                whose = "other hand" if seam.onto_other_hand else numbers.get(other.piece, "?")
                glued.setdefault(ref.edge, []).append(f"{whose} {other.edge}")
    for edge in edges_of(piece):
        knife = knives.get(edge.name)
        if knife is not None and abs(knife.angle) < 0.5 and not knife.blade:
            knife = None  # square
        if knife is None and edge.name not in glued:
            continue
        line = edge_line(piece, edge)
        middle = line[len(line) // 2]
        if len(line) < 2 or not _on_paper(printed, (float(middle[0]), float(middle[1]))):
            continue
        partners = tuple(dict.fromkeys(glued.get(edge.name, ())))
        angle, blade = (knife.angle, knife.blade) if knife is not None else (0.0, 0.0)
        yield EdgeNote(tuple(map(tuple, line.tolist())), edge.name, partners, angle, blade)


def _on_paper(printed: Piece, place: Point) -> bool:
    """Whether a place of the whole piece is on what is printed of it."""
    return bool(shapely.distance(printed.shape.polygon, shapely.Point(place)) <= NEAR)


def _partners(
    printed: Piece, edges: tuple[EdgeNote, ...]
) -> tuple[tuple[Point, tuple[str, ...]], ...]:
    """Return which marks meet what: marks lie on the edges that are glued."""
    found = []
    for note in edges:
        if not note.partners:
            continue
        line = np.array(note.line)
        for mark in printed.match_marks:
            if locate_on_line(line, mark)[1] <= NEAR:
                found.append((mark, note.partners))
    return tuple(found)


def _shared(known: Template, fresh: Template) -> Template | None:
    """Return a template that serves for both, or None where they differ."""
    a, b = known.piece, fresh.piece
    if known.edges or fresh.edges or a.labels or b.labels or on_fold(a) != on_fold(b):
        return None
    if Turn.DIRECTION in (a.turn, b.turn) and a.turn is not b.turn:
        return None
    if len(a.lines) != len(b.lines) or len(a.match_marks) != len(b.match_marks):
        return None
    pose = next((p for p in ways_onto(b.shape, a.shape) if _drawn_alike(a, b, p)), None)
    if pose is None:
        return None
    turned = pose.mirrored and Hand.PAIR not in (a.hand, b.hand)
    use = replace(fresh.uses[0], turned_over=turned)
    return replace(known, uses=(*known.uses, use))


def _drawn_alike(a: Piece, b: Piece, pose: Pose) -> bool:
    """Whether all lines and marks of `b` fall on those of `a`."""
    near = 0.2  # mm
    for line in b.lines:
        moved = pose.apply(line.points)
        if not any(
            k.kind is line.kind
            and k.crease == line.crease
            and len(k.points) == len(moved)
            and min(np.abs(k.points - m).max() for m in (moved, moved[::-1])) <= near
            for k in a.lines
        ):
            return False
    if not b.match_marks:
        return True
    moved = pose.apply(np.array(b.match_marks))
    gaps = np.linalg.norm(moved[:, None] - np.array(a.match_marks)[None], axis=2)
    return bool(gaps.min(axis=1).max() <= near)


def use_words(use: TemplateUse, material: str) -> str:
    """Return how often something is cut of what, which face up, in a line."""
    piece = use.piece
    if piece.hand is Hand.PAIR:
        other = "right" if piece.drawn_hand is Hand.LEFT else "left"
        cut = f"cut {piece.count} {piece.drawn_hand.value} as drawn, {piece.count} {other} flipped"
    else:
        hand = "" if piece.hand is Hand.NONE else f" {piece.hand.value}"
        cut = f"cut {piece.count}{hand}"
    face = {
        FaceUp.EITHER: "either face up",
        FaceUp.SKIN: "skin face up",
        FaceUp.TEXTURED: "textured face up",
    }[piece.face]
    over = ", template turned over" if use.turned_over else ""
    return f"{cut}{over} · {show_thickness(piece.thickness)} {material} · {face}"


def bevel_words(angle: float, blade: float) -> str:
    """Return how an edge is cut that is not square."""
    if blade:
        return f"blade, {show_number(blade, 1)} mm"
    return f"{abs(angle):.0f}° {'out' if angle > 0 else 'in'}"


def edge_words(note: EdgeNote) -> str:
    """Return what an edge says: its letter, how it is cut, what it is glued to."""
    words = [note.name]
    if note.blade or note.angle:
        words.append(bevel_words(note.angle, note.blade))
    if note.partners:
        words.append(f"to {', '.join(note.partners)}")
    return " · ".join(words)


def template_code(text: str) -> tuple[str, str] | None:
    """Return (whose which template, its mark) of a code that was read; None for another text."""
    words = text.strip().upper().split()
    if len(words) != 3 or words[0] != CODE_HEAD or words[1] == SHELF:
        return None
    return words[1], words[2]


def shelf_code(item_id: str) -> str:
    """Return the code of something on the shelf, by its label."""
    return f"{CODE_HEAD} {SHELF} {item_id}"


def shelf_label(text: str) -> str | None:
    """Return the label that a code of the shelf says, or None for another text."""
    words = text.strip().split(maxsplit=2)
    told = len(words) == 3 and [w.upper() for w in words[:2]] == [CODE_HEAD, SHELF]
    return words[2] if told else None


def trial_templates(
    plan: Plan, wanted: Sequence[str], factors: Sequence[float]
) -> tuple[Template, ...]:
    """Return a key piece or several in a few sizes, to be tried on before the set is printed.

    Each is the pattern itself, without what foam adds, and says its size.

    Raises:
        InputError: no such piece, or a factor that makes no sense.
    """
    numbers = piece_numbers(plan)
    made = []
    for ident in wanted:
        piece = plan.project.piece(ident)
        for factor in factors:
            percent = show_number(100 * factor, 1)
            sized = scaled_piece(piece, factor)
            trial = replace(sized, id=f"{ident} at {percent}", name=f"{piece.name} at {percent} %")
            made.append(Template((TemplateUse(numbers[ident], trial),), trial, scale=factor))
    return tuple(made)


def find_code(text: str, templates: Iterable[Template]) -> tuple[Template | None, bool]:
    """Return the template that a code was printed on, and whether it is as it was printed.

    Raises:
        InputError: the text is no template's code.
    """
    told = template_code(text)
    if told is None:
        raise InputError(
            "code", f"'{text.strip()[:40]}'", "a template's, such as 'IQ 7KQ3MX 2WPR8'"
        )
    for template in templates:
        _, which, _ = template.code.split()
        if which == told[0]:
            return template, template.mark == told[1]
    return None, False
