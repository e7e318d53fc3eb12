"""Derive everything from the document and the shop's stock: parts, jobs, layouts, the ledger.

Nothing here is saved. Each derived thing is kept by the identity of what it came from, so that an
edit of one piece recomputes one piece and one foam.
"""

import gc
from collections.abc import Iterable, Iterator, Mapping
from contextlib import contextmanager
from functools import cached_property

from ivory_quilt.core.document.cutting import SheetKey, spent_of
from ivory_quilt.core.document.project import KeptLayout, Project
from ivory_quilt.core.nesting.job import LayJob, LayResult, PieceSpec, Placement, StockUse
from ivory_quilt.core.pattern.part import Foam, Part
from ivory_quilt.core.plan.affected import affected
from ivory_quilt.core.plan.making import MadePiece, make_all
from ivory_quilt.core.plan.standing import Proposal, Standing, standing_of, with_pins
from ivory_quilt.core.plan.suits import Suit, suits_of
from ivory_quilt.core.record import Struct, field, replace
from ivory_quilt.core.schedule.bench_choices import SealOrder
from ivory_quilt.core.stacks.lengths import CutLength
from ivory_quilt.core.stock.foam_stock import ShopStock, StockItem
from ivory_quilt.core.stock.purchase import FoamLine, Ledger, foam_line, item_of, stock_specs
from ivory_quilt.core.stock.remains import Remains
from ivory_quilt.core.stock.spent_sheet import SpentSheet


class FoamPlan(Struct, frozen=True, dict=True):
    """One foam of the project: its parts, the job to lay them, and the layout as it stands."""

    foam: Foam
    parts: tuple[Part, ...]
    job: LayJob
    kept: KeptLayout | None
    standing: Standing
    result: LayResult | None
    line: FoamLine
    lost_pins: int = 0
    spent: tuple[SpentSheet, ...] = ()
    """Sheets of it that are cut: the job holds only what is still to be cut."""
    done: Mapping[str, int] = field(default_factory=dict)
    """How many of each part are cut, by its id."""

    def number(self, part: Part, copy: int) -> str:
        """Return which of how many a copy in the layout is: those that are cut came before."""
        return part.number(copy + self.done.get(part.id, 0))

    def part(self, part_id: str) -> Part:
        """Return a part by its id."""
        return self._by_id[part_id]

    @cached_property
    def remains(self) -> dict[SheetKey, Remains]:
        """What is left of sheets of its layout, as far as that was asked for."""
        return {}

    @cached_property
    def _by_id(self) -> dict[str, Part]:
        return {p.id: p for p in self.parts}


class Plan(Struct, frozen=True, dict=True):
    """Everything derived from one project and one stock.

    `stock` is what is cut from: where faces are closed by heat first, its sheets are smaller than
    those of the `shop`.
    """

    project: Project
    stock: ShopStock
    made: Mapping[str, MadePiece]
    foams: tuple[FoamPlan, ...]
    ledger: Ledger
    lengths: tuple[CutLength, ...] = ()
    proposals: Mapping[Foam, Proposal] = field(default_factory=dict)
    suits: tuple[Suit, ...] = ()
    shop: ShopStock | None = None

    @cached_property
    def parts(self) -> Mapping[str, tuple[Part, ...]]:
        """Each piece's parts for all wearers, by its id."""
        if len(self.suits) == 1:
            return self.suits[0].parts
        return {i: tuple(p for s in self.suits for p in s.parts[i]) for i in self.made}

    @property
    def suit_count(self) -> int:
        """How many suits are made; one as it is drawn where there is no troupe."""
        return max(1, sum(s.count for s in self.suits))

    @property
    def problems(self) -> Mapping[str, str]:
        """Why a piece cannot be made as decided, by its id; its parts are those of no form."""
        found = {i: m.problem for i, m in self.made.items() if m.problem}
        for suit in self.suits:
            for piece_id, made in suit.made.items():
                if made.problem and piece_id not in found:
                    found[piece_id] = f"{made.problem} ({suit.name})"
        return found

    @cached_property
    def weight(self) -> float:
        """Weight of all parts, g: volume × density."""
        return sum(self.piece_weight(i) for i in self.made)

    def piece_weight(self, piece_id: str) -> float:
        """Weight of all parts of one piece, g."""
        return sum(
            p.volume / 1000 * self.stock.material(p.foam.material).book.density * p.count
            for p in self.parts[piece_id]
        )

    def foams_of(self, piece_ids: Iterable[str]) -> frozenset[Foam]:
        """Return the foams that some pieces are cut from; unknown pieces are of none."""
        return frozenset(p.foam for i in piece_ids for p in self.parts.get(i, ()))

    def foam(self, foam: Foam) -> FoamPlan | None:
        """Return one foam's plan, or None."""
        return next((f for f in self.foams if f.foam == foam), None)

    @property
    def unlaid(self) -> tuple[FoamPlan, ...]:
        """Foams that wait for a layout."""
        return tuple(f for f in self.foams if f.standing in (Standing.MISSING, Standing.STALE))


class UsedSheet(Struct, frozen=True):
    """One physical sheet or length of roll that a layout takes; `number` counts within its foam."""

    foam: FoamPlan
    use: StockUse
    item: StockItem
    owned: bool
    number: int

    @property
    def key(self) -> SheetKey:
        """Sheet id and copy, as placements name it."""
        return (self.use.id, self.use.copy)

    @property
    def cut_step(self) -> str:
        """The id of the step at the bench that cuts it."""
        foam = self.foam.foam
        return f"cut:{foam.material}:{foam.thickness:g}:{self.number}"

    @property
    def placements(self) -> tuple[Placement, ...]:
        """What lies on it."""
        found = self.foam.result.placements if self.foam.result is not None else ()
        return tuple(p for p in found if (p.sheet, p.sheet_copy) == self.key)

    @property
    def parts(self) -> tuple[Part, ...]:
        """The part of each placement on it."""
        return tuple(self.foam.part(p.piece) for p in self.placements)


def used_sheets(foam: FoamPlan, stock: ShopStock) -> Iterator[UsedSheet]:
    """Yield the sheets that a foam's layout takes, of stock that is still known."""
    for number, use in enumerate(foam.result.stock if foam.result is not None else (), 1):
        item, owned = item_of(use.id, stock)
        if item is not None:
            yield UsedSheet(foam, use, item, owned, number)


def owned_use(plan: Plan) -> dict[str, int]:
    """Return how many of each item of the shelf the layouts take that the maker keeps."""
    used: dict[str, int] = {}
    for foam in plan.foams:
        if foam.standing is Standing.KEPT:
            for sheet in used_sheets(foam, plan.stock):
                if sheet.owned:
                    used[sheet.item.id] = used.get(sheet.item.id, 0) + 1
    return used


def derive(
    project: Project,
    stock: ShopStock,
    proposals: Mapping[Foam, Proposal] | None = None,
    previous: Plan | None = None,
) -> Plan:
    """Return the plan of `project` on `stock`, reusing what `previous` has of unchanged inputs.

    `proposals` are layouts that the engine offers and the maker has not kept; one that does not
    hold for the present parts and stock is ignored.
    """
    with _no_collections():
        return _derived(project, stock, proposals or {}, previous)


@contextmanager
def _no_collections() -> Iterator[None]:
    """Look for no garbage meanwhile: what is made stays, and looking takes two fifths of it."""
    was = gc.isenabled()
    gc.disable()
    try:
        yield
    finally:
        if was:
            gc.enable()


def _derived(
    project: Project,
    stock: ShopStock,
    proposals: Mapping[Foam, Proposal],
    previous: Plan | None,
) -> Plan:
    shop, first = stock, project.bench.seal is SealOrder.BEFORE_CUT
    if first:
        same = previous is not None and previous.shop is shop and previous.stock.sealed
        stock = previous.stock if previous is not None and same else shop.sealed_first()
    if previous is None:
        made = make_all(project, stock, {})
        suits = suits_of(project, stock, made, ())
    else:
        others = affected(previous.project, project) if previous.stock is stock else None
        made = make_all(project, stock, previous.made, others)
        suits = suits_of(project, stock, made, previous.suits, others)
    by_foam: dict[Foam, list[Part]] = {}
    for suit in suits:
        for part in suit.all_parts():
            by_foam.setdefault(part.foam, []).append(part)
    foams = tuple(
        _foam_plan(foam, tuple(by_foam[foam]), project, stock, proposals.get(foam), previous)
        for foam in sorted(by_foam)
    )
    return Plan(
        project,
        stock,
        made,
        foams,
        Ledger(tuple(f.line for f in foams)),
        tuple(_lengths(suits)),
        dict(proposals),
        suits,
        shop,
    )


def _lengths(suits: tuple[Suit, ...]) -> Iterator[CutLength]:
    for suit in suits:
        for made in suit.made.values():
            for length in made.lengths:
                if suit.member is None:
                    yield length
                else:
                    name = f"{length.name} · {suit.name}"
                    yield replace(length, name=name, count=length.count * suit.count)


def _foam_plan(
    foam: Foam,
    parts: tuple[Part, ...],
    project: Project,
    stock: ShopStock,
    proposal: Proposal | None,
    previous: Plan | None,
) -> FoamPlan:
    kept = project.layout(foam)
    spent = spent_of(project, foam) if project.spent else ()
    old = previous.foam(foam) if previous is not None else None
    near = old if previous is not None and previous.stock is stock else None
    same = previous is not None and previous.proposals.get(foam) is proposal
    if (
        near is not None
        and near.job.gap == project.gap
        and len(near.parts) == len(parts)
        and all(a is b for a, b in zip(near.parts, parts, strict=True))
        and near.kept is kept
        and (near.spent == spent or done_of(spent, parts) == near.done)
    ):
        if same and near.spent == spent:
            return near
        standing, result = near.standing, near.result
        if not same:
            standing, result = standing_of(near.job, kept, proposal, None)
        line = foam_line(foam, near.line.parts, near.job, result, stock, spent)
        return replace(near, standing=standing, result=result, line=line, spent=spent)
    items = stock.of(foam)
    sheets, rolls = stock_specs(items)
    alike = any(m.both_faces_alike for m in stock.materials if m.id == foam.material)
    done = done_of(spent, parts)
    known = _known_specs(near) if near is not None else {}
    pieces = tuple(
        known.get((id(p), done.get(p.id, 0))) or _spec(p, done.get(p.id, 0), faces_alike=alike)
        for p in parts
    )
    job = LayJob(pieces, tuple(sheets), tuple(rolls), project.gap)
    lost = 0
    if kept is not None and kept.pins:
        job, lost = with_pins(job, kept.pinned())
    if near is not None and same and near.kept is kept and near.spent == spent and near.job == job:
        return replace(near, parts=parts)  # what is drawn on them is another, no outline is
    before = Proposal(old.job, old.result) if old is not None and old.result else None
    standing, result = standing_of(job, kept, proposal, before)
    if done and not any(p.quantity for p in pieces):
        standing, result = Standing.CUT, None
    count = sum(p.cut_count for p in parts)
    line = foam_line(foam, count, job, result, stock, spent)
    return FoamPlan(foam, parts, job, kept, standing, result, line, lost, spent, done)


def _known_specs(planned: FoamPlan) -> dict[tuple[int, int], PieceSpec]:
    """Return what is laid of a foam's parts, by the part itself and how many of it were cut."""
    return {
        (id(part), planned.done.get(part.id, 0)): spec
        for part, spec in zip(planned.parts, planned.job.pieces, strict=True)
        if not spec.fixed
    }


def done_of(spent: tuple[SpentSheet, ...], parts: tuple[Part, ...]) -> dict[str, int]:
    """Return how many of each part are cut, by its id; one whose outline changed since is none."""
    done: dict[str, int] = {}
    by_id = {p.id: p for p in parts} if spent else {}
    for sheet in spent:
        for one in sheet.parts:
            part = by_id.get(one.part) if not one.spoiled else None
            if part is None or done.get(part.id, 0) >= part.cut_count:
                continue
            if one.is_still(part.shape):
                done[part.id] = done.get(part.id, 0) + 1
    return done


def _spec(part: Part, done: int, *, faces_alike: bool) -> PieceSpec:
    return PieceSpec(
        part.id,
        part.shape,
        part.cut_count - done,
        part.rotations,
        part.may_flip or faces_alike,
        group=part.together or None,
        hidden=part.may_flip,
        worth=part.wanted.worth,
    )
