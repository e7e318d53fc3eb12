"""Other ways to the same suit, side by side: each with its order, and what is lost by it."""

from collections.abc import Callable, Iterator

from ivory_quilt.core.document.project import Project, change_pieces, scale_pieces
from ivory_quilt.core.document.seam_book import part_piece
from ivory_quilt.core.document.thickness import in_way
from ivory_quilt.core.editing.surgery import CutLine
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.pattern.build import Cover, CoverKind
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import FaceUp, Piece, Turn
from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.stacks.thickness import ThicknessWay, ways_to
from ivory_quilt.core.stock.foam_stock import MaterialKind, ShopStock, StockItem
from ivory_quilt.core.units import counted, show_thickness

SMALLER = 0.96
COVERS = (
    (
        MaterialKind.PLASTIC,
        CoverKind.SANDWICH,
        "Hard and stiff: it keeps its shape and cannot be bent afterwards; heavier.",
    ),
    (
        MaterialKind.CLOTH,
        CoverKind.CLOTH,
        "Soft to the eye; two coats of cement on each side, and no paint on it.",
    ),
)
SIZES = (0.9, 0.95, 1.05, 1.1)
"""Sizes whose cost is drawn beside that of the present one."""


class WhatIf(Struct, frozen=True):
    """One other way.

    Attributes:
        title: in a few words.
        loss: what is lost in looks or strength, or what it takes.
        change: the edit of the project that it is; None where only the purchase differs.
        shop: what may be bought then; None for all.
        size: factor on the present size, of those ways that are drawn as a curve; 0 for others.
    """

    title: str
    loss: str
    change: Callable[[Project], Project] | None = None
    shop: Callable[[ShopStock], ShopStock] | None = None
    size: float = 0.0

    def project(self, project: Project) -> Project:
        """Return the project as it would be.

        Raises:
            InputError: it cannot be so.
        """
        return self.change(project) if self.change is not None else project

    def stock(self, stock: ShopStock) -> ShopStock:
        """Return the shop as it may be bought from."""
        return self.shop(stock) if self.shop is not None else stock


def what_ifs(plan: Plan) -> tuple[WhatIf, ...]:
    """Return the other ways that make sense for a plan, the usual ones first."""
    if not plan.foams:
        return ()
    proposers: tuple[Callable[[Plan], Iterator[WhatIf]], ...] = (
        _thinner,
        _laminated,
        _other_material,
        _covered,
        _smaller,
        _suppliers,
        _larger,
        _parted,
        _turned,
        _twice,
        _sizes,
    )
    return tuple(way for propose in proposers for way in propose(plan))


def _foams(plan: Plan) -> list[FoamPlan]:
    """Return the foams that cost most first, those the shelf has last."""
    return sorted(plan.foams, key=lambda f: (-f.line.cost, -f.line.part_area, f.foam))


def _pieces_of(plan: Plan, foam: Foam) -> list[Piece]:
    return [
        p
        for p in plan.project.pieces
        if p.count and (p.thickness, p.material) == (foam.thickness, foam.material)
    ]


def _sold(plan: Plan, material: str) -> list[float]:
    return sorted({i.foam.thickness for i in plan.stock.items if i.foam.material == material})


def _thinner(plan: Plan) -> Iterator[WhatIf]:
    """The dearest foam that comes in a thinner one, in that."""
    for foam in _foams(plan):
        pieces = _pieces_of(plan, foam.foam)
        thinner = [t for t in _sold(plan, foam.foam.material) if t < foam.foam.thickness]
        if not pieces or not thinner or thinner[-1] < 0.5 * foam.foam.thickness:
            continue
        other, ids = thinner[-1], [p.id for p in pieces]
        yield WhatIf(
            f"{show_thickness(other)} instead of {show_thickness(foam.foam.thickness)}",
            f"{counted(len(pieces), 'piece')} softer and lighter; their edges look thinner.",
            lambda p, ids=ids, t=other: change_pieces(p, ids, thickness=t),  # type: ignore[misc]
        )
        return


def _laminated(plan: Plan) -> Iterator[WhatIf]:
    """The dearest foam that two thinner ones make."""
    for foam in _foams(plan):
        pieces = _pieces_of(plan, foam.foam)
        kinds = [t for t in _sold(plan, foam.foam.material) if t < foam.foam.thickness]
        if not pieces or not kinds:
            continue
        ways = [w for w in ways_to(foam.foam.thickness, kinds) if len(w.layers) == 2]
        if not ways:
            continue
        way, ids = ways[0], [p.id for p in pieces]

        def laminate(project: Project, ids: list[str] = ids, way: ThicknessWay = way) -> Project:
            for ident in ids:
                project = in_way(project, ident, way)
            return project

        yield WhatIf(
            f"{way.words} mm laminated for {show_thickness(foam.foam.thickness)}",
            "Holds a curve better; a joint shows at every edge unless it is wrapped.",
            laminate,
        )
        return


def _other_material(plan: Plan) -> Iterator[WhatIf]:
    """The dearest foam of another material that the shop has in about that thickness."""
    for foam in _foams(plan):
        pieces = _pieces_of(plan, foam.foam)
        near = [
            i.foam
            for i in plan.stock.items
            if i.foam.material != foam.foam.material
            and abs(i.foam.thickness - foam.foam.thickness) <= 0.35 * foam.foam.thickness
            and plan.stock.material(i.foam.material).kind
            is plan.stock.material(foam.foam.material).kind
        ]
        if not pieces or not near:
            continue
        other = min(near, key=lambda f: (abs(f.thickness - foam.foam.thickness), f))
        ids = [p.id for p in pieces]
        material = plan.stock.material(other.material)
        before, after = plan.stock.material(foam.foam.material).book.density, material.book.density
        word = "heavier" if after > before else "lighter"
        faces = "" if material.both_faces_alike else " One face is textured: roughen it for glue."
        yield WhatIf(
            f"{show_thickness(other.thickness)} {material.name} for "
            f"{show_thickness(foam.foam.thickness)}",
            f"{counted(len(pieces), 'piece')}, a {word} foam.{faces}",
            lambda p, ids=ids, o=other: change_pieces(  # type: ignore[misc]
                p, ids, thickness=o.thickness, material=o.material
            ),
        )
        return


def _covered(plan: Plan) -> Iterator[WhatIf]:
    """The largest piece without a cover, with one of thermoplastic or cloth that the shop has."""
    for kind, cover, loss in COVERS:
        sheets = [
            i.foam for i in plan.stock.items if plan.stock.material(i.foam.material).kind is kind
        ]
        bare = [p for p in plan.project.pieces if p.count and p.build.cover is None]
        if not sheets or not bare:
            continue
        piece, foam = max(bare, key=lambda p: p.shape.area), min(sheets)
        name = plan.stock.material_name(foam.material)
        chosen = Cover(cover, foam.thickness, foam.material)

        def dress(
            project: Project,
            ident: str = piece.id,
            cover: Cover = chosen,
        ) -> Project:
            build = project.piece(ident).build
            return change_pieces(project, [ident], build=replace(build, cover=cover))

        yield WhatIf(f"{name} over {piece.name}", loss, dress)


def _smaller(plan: Plan) -> Iterator[WhatIf]:
    ids = [p.id for p in plan.project.pieces]
    yield WhatIf(
        f"scale {100 * SMALLER:.0f} %",
        "Every girth is 4 % tighter: try a key piece on first.",
        lambda p: scale_pieces(p, ids, SMALLER),
    )


def _sizes(plan: Plan) -> Iterator[WhatIf]:
    ids = [p.id for p in plan.project.pieces]
    for size in SIZES:
        word = "smaller" if size < 1 else "larger"
        yield WhatIf(
            f"size {100 * size:.0f} %",
            f"Everything {abs(100 * size - 100):.0f} % {word}; foam stays as thick.",
            lambda p, size=size: scale_pieces(p, ids, size),  # type: ignore[misc]
            size=size,
        )


def _suppliers(plan: Plan) -> Iterator[WhatIf]:
    """One parcel instead of several."""
    if len(plan.stock.suppliers) < 2:
        return
    for supplier in plan.stock.suppliers[:3]:

        def only(stock: ShopStock, wanted: str = supplier.id) -> ShopStock:
            bars = tuple(
                b for b in stock.bars if b.supplier in ("", wanted) or b.owned or b.price is None
            )
            return replace(stock, items=tuple(_from(i, wanted) for i in stock.items), bars=bars)

        name = supplier.name or supplier.id
        yield WhatIf(f"{name} only", f"One parcel, there in {supplier.days} days.", shop=only)


def _from(item: StockItem, supplier: str) -> StockItem:
    """Return an item that can be bought from one supplier alone, else only used."""
    if not item.supplier or item.supplier == supplier:
        return item
    return replace(item, price=None, offered=False)


def _larger(plan: Plan) -> Iterator[WhatIf]:
    """The largest sheet of each foam alone: fewer seams between sheets, a larger rest."""

    def largest(stock: ShopStock) -> ShopStock:
        most: dict[Foam, float] = {}
        for item in stock.items:
            if item.sold:
                most[item.foam] = max(most.get(item.foam, 0.0), item.shape.area)
        return replace(
            stock,
            items=tuple(
                replace(i, price=None, offered=False)
                if i.sold and i.shape.area < most[i.foam] - 1
                else i
                for i in stock.items
            ),
        )

    if any(len([i for i in plan.stock.of(f.foam) if i.sold]) > 1 for f in plan.foams):
        yield WhatIf(
            "the largest sheets only",
            "Larger offcuts for the next suit; more to store.",
            shop=largest,
        )


def _parted(plan: Plan) -> Iterator[WhatIf]:
    """The longest piece in two, glued together again."""
    pieces = [p for p in plan.project.pieces if p.count]
    for piece in sorted(pieces, key=lambda p: -max(p.shape.width, p.shape.height))[:3]:
        line = _across(piece.shape)
        try:
            part_piece(plan.project, piece.id, line)
        except InputError:
            continue
        yield WhatIf(
            f"a seam across {piece.name}",
            "One more seam to glue, fill or hide; weaker where it bends.",
            lambda p, i=piece.id, k=line: part_piece(p, i, k),  # type: ignore[misc]
        )
        return


def _across(shape: Shape) -> CutLine:
    x0, y0, x1, y1 = shape.bounds
    middle_x, middle_y = (x0 + x1) / 2, (y0 + y1) / 2
    if shape.width >= shape.height:
        return CutLine((middle_x, y0 - 1), (middle_x, y1 + 1))
    return CutLine((x0 - 1, middle_y), (x1 + 1, middle_y))


def _turned(plan: Plan) -> Iterator[WhatIf]:
    """Hidden pieces at any angle."""
    ids = [
        p.id
        for p in plan.project.pieces
        if p.count and p.face is FaceUp.EITHER and p.turn is not Turn.FREE
    ]
    if ids:
        yield WhatIf(
            "hidden pieces at any angle",
            f"{counted(len(ids), 'piece')} nobody sees; on a textured face the pattern runs askew.",
            lambda p: change_pieces(p, ids, turn=Turn.FREE),
        )


def _twice(_plan: Plan) -> Iterator[WhatIf]:
    def double(project: Project) -> Project:
        return replace(project, pieces=tuple(replace(p, count=2 * p.count) for p in project.pieces))

    yield WhatIf("two suits", "The same size twice: a spare, or a second wearer.", double)
