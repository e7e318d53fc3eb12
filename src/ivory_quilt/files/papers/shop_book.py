"""The shop book: one PDF with all that a bench without a screen must know of a project."""

from collections.abc import Iterator
from functools import partial
from typing import Any

import numpy as np

from ivory_quilt.core.document.seam_book import seam_book, seam_name
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.measure.wearer import spot
from ivory_quilt.core.pattern.build import FormKind
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.benching import bench_steps
from ivory_quilt.core.plan.cut_facts import punch_words
from ivory_quilt.core.plan.cutting import planned_rests
from ivory_quilt.core.plan.effort import bench_minutes
from ivory_quilt.core.plan.making import MadePiece
from ivory_quilt.core.plan.plan import Plan
from ivory_quilt.core.plan.templates import (
    Template,
    edge_words,
    templates_of,
)
from ivory_quilt.core.schedule.step import CAUTIONS
from ivory_quilt.core.units import (
    counted,
    show_area,
    show_length,
    show_parts,
    show_thickness,
    show_weight,
)
from ivory_quilt.files.papers.book_parts import (
    CHAPTER,
    FOOT,
    MARGIN,
    SECTION,
    SMALL,
    TITLE,
    Drawing,
    bind,
    new_page,
    said,
    space,
    table,
    together,
)
from ivory_quilt.files.papers.build_card_drawing import draw_card, section_of
from ivory_quilt.files.papers.cut_sheet_pages import draw_cut_sheet
from ivory_quilt.files.papers.cut_sheets import cut_sheets
from ivory_quilt.files.papers.pen import INK, Pen

PAGE = (210.0, 297.0)  # A4, ISO 216
GALLERY = 110.0  # mm that the picture of all pieces is high
CARD = 44.0  # mm that a piece's drawing is high


def shop_book_pdf(plan: Plan, day: str) -> bytes:
    """Return the book of a plan; `day` is the one that it is made on, in words."""
    story = [
        *_overview(plan, day),
        *_wearers(plan),
        *_parts(plan),
        *_cards(plan),
        *_order(plan),
        *_sheets(plan),
        *_seams(plan),
        *_steps(plan),
        *_cautions(),
    ]
    return bind(story, f"{plan.project.name}, shop book", PAGE)


# Overview


def _overview(plan: Plan, day: str) -> Iterator[Any]:
    project, ledger = plan.project, plan.ledger
    yield said(project.name, TITLE)
    yield said(f"Shop book, {day}")
    yield space()
    yield said("Overview", CHAPTER)
    minutes = bench_minutes(plan).figure("minutes")
    facts = (
        ("pieces", f"{len(project.pieces)}"),
        ("parts to cut", f"{ledger.parts}"),
        ("suits", f"{plan.suit_count}"),
        ("weight", show_weight(plan.weight)),
        ("foam to buy", plan.stock.money(ledger.cost)),
        ("foam that is scrap", f"{100 * ledger.scrap_share:.0f} %"),
        ("hands on", f"{minutes / 60:.1f} h"),
    )
    yield table(("what", "how much"), facts, (3, 2), mono=1)
    yield space()
    yield Drawing(GALLERY, partial(_gallery, [p for p in project.pieces if p.count]))
    yield said(f"All {counted(len(project.pieces), 'piece')}, at one scale.", SMALL)


def _gallery(pieces: list[Piece], pen: Pen, room: tuple[float, float]) -> None:
    """Draw all pieces in rows at one scale, as large as they fit, each with its number."""
    if not pieces:
        return
    scale = 1.0
    while (rows := _rows(pieces, room[0] / scale)) and sum(h for h, _ in rows) * scale > room[1]:
        scale *= 0.95
    numbers = {p.id: k for k, p in enumerate(pieces, 1)}
    top = room[1]
    for height, row in rows:
        for piece, left in row:
            x0, y0, _, y1 = piece.shape.bounds
            low = top - (height + (y1 - y0)) / 2 * scale
            corner = np.array([left * scale, low])
            pen.colour(INK, 0.25)
            for ring in piece.shape.rings:
                pen.polyline((ring - (x0, y0)) * scale + corner, closed=True)
            at = (np.array(piece.shape.label_point) - (x0, y0)) * scale + corner
            pen.text((float(at[0]), float(at[1]) - 0.8), str(numbers[piece.id]), 6, centred=True)
        top -= height * scale


def _rows(pieces: list[Piece], width: float) -> list[tuple[float, list[tuple[Piece, float]]]]:
    """Return pieces in rows no wider than `width` mm: (height, [(piece, where it begins)])."""
    gap = width / 60
    rows: list[tuple[float, list[tuple[Piece, float]]]] = []
    row: list[tuple[Piece, float]] = []
    at = high = 0.0
    for piece in pieces:
        if row and at + piece.shape.width > width:
            rows.append((high + gap, row))
            row, at, high = [], 0.0, 0.0
        row.append((piece, at))
        at += piece.shape.width + gap
        high = max(high, piece.shape.height)
    return [*rows, (high + gap, row)]


# Tables


def _wearers(plan: Plan) -> Iterator[Any]:
    wearers = plan.project.wearers
    if not wearers:
        return
    yield new_page()
    yield said("Wearers", CHAPTER)
    for wearer in wearers:
        member = next((m for m in plan.project.troupe if m.wearer == wearer.id), None)
        yield said(wearer.name, SECTION)
        if member is not None:
            yield said(f"{counted(member.count, 'suit')}, at {100 * member.scale:g} %")
        rows = [
            (
                spot(m.spot).title,
                spot(m.spot).how,
                f"{show_length(m.value)} ± {show_length(m.uncertainty)}",
            )
            for m in wearer.measures
        ]
        if rows:
            yield table(("measure", "where the tape lies", "size"), rows, (3, 6, 3), mono=2)
        yield space()


def _parts(plan: Plan) -> Iterator[Any]:
    yield new_page()
    yield said("Parts", CHAPTER)
    for foam in plan.foams:
        name = plan.stock.material_name(foam.foam.material)
        yield said(f"{show_thickness(foam.foam.thickness)} {name}", SECTION)
        rows = []
        for part in foam.parts:
            spares = f" + {part.spares}" if part.spares else ""
            size = f"{part.shape.width:.0f} × {part.shape.height:.0f}"
            bevels = ", ".join(f"{e.name} {e.angle:g}°" for e in part.bevels)
            known = (*part.notes, *punch_words(part.shape), f"bevels {bevels}" if bevels else "")
            said_too = "; ".join(words for words in known if words)
            area = show_area(part.shape.area)
            rows.append((part.label, said_too, f"{part.count}{spares}", size, area))
        heads = ("part", "to know", "count", "mm", "area")
        yield table(heads, rows, (5, 6, 1.4, 2.2, 2), mono=2)
        yield space()


def _order(plan: Plan) -> Iterator[Any]:
    yield new_page()
    yield said("Order", CHAPTER)
    bought = [line for foam in plan.ledger.lines for line in foam.bought]
    taken = [line for foam in plan.ledger.lines for line in foam.from_shelf]
    for title, lines in (("To buy", bought), ("From the shelf", taken)):
        if not lines:
            continue
        yield said(title, SECTION)
        rows = [
            (
                line.item.name,
                plan.stock.supplier_name(line.item.supplier) if line.item.supplier else "",
                line.item.size_text,
                line.amount_text,
                plan.stock.money(line.cost),
            )
            for line in lines
        ]
        yield table(("what", "from", "size", "how much", "cost"), rows, (4, 3, 3, 2, 2), mono=2)
        yield space()
    if plan.lengths:
        yield said("Shaped lengths", SECTION)
        cuts = [(c.name, f"{c.count} ×", show_length(c.length)) for c in plan.lengths]
        yield table(("what", "how many", "length"), cuts, (6, 2, 3), mono=1)
    if plan.project.things:
        yield said("Other things", SECTION)
        things = [
            (t.name, t.standing.value, t.arrives, f"{t.count} ×") for t in plan.project.things
        ]
        yield table(("what", "is", "arrives", "how many"), things, (5, 3, 3, 2), mono=3)


def _seams(plan: Plan) -> Iterator[Any]:
    entries = seam_book(plan.project)
    if not entries:
        return
    yield new_page()
    yield said("Seams", CHAPTER)
    rows = []
    for number, entry in enumerate(entries, 1):
        fit = entry.fit
        told = ("", "", "an edge is gone")
        if fit is not None:
            lengths = (show_length(fit.first, digits=1), show_length(fit.second, digits=1))
            told = (*lengths, fit.verdict.value)
        rows.append((str(number), seam_name(plan.project, entry.seam), told[2], *told[:2]))
    heads = ("no.", "seam", "fits", "first edge", "second edge")
    yield table(heads, rows, (0.8, 6, 2, 2, 2), mono=3)


def _steps(plan: Plan) -> Iterator[Any]:
    if plan.unlaid or not plan.foams:
        return
    try:
        steps = bench_steps(plan, plan.project.bench).steps
    except InputError:  # what waits for itself is told at the Bench
        return
    yield new_page()
    yield said("Steps", CHAPTER)
    for kind in dict.fromkeys(s.kind for s in steps):
        mine = [s for s in steps if s.kind is kind]
        total = sum(s.minutes for s in mine)
        yield said(f"{kind.value.capitalize()}: {total / 60:.1f} h", SECTION)
        if kind in CAUTIONS:
            yield said(CAUTIONS[kind], SMALL)
        rows = [("", s.title, f"{s.minutes} min") for s in mine]
        yield table(("done", "what", "hands"), rows, (0.8, 9, 1.6), mono=2)
        yield space()


def _cautions() -> Iterator[Any]:
    yield new_page()
    yield said("Cautions", CHAPTER)
    for text in dict.fromkeys(CAUTIONS.values()):
        yield said(text)
        yield space(2)


# Build cards


def _cards(plan: Plan) -> Iterator[Any]:
    yield new_page()
    yield said("Build cards", CHAPTER)
    drawn = {use.piece.id: (use.number, t) for t in templates_of(plan) for use in t.uses}
    for piece in plan.project.pieces:
        made = plan.made.get(piece.id)
        if made is None or not piece.count:
            continue
        yield together(*_card(plan, piece, made, drawn.get(piece.id)))


def _card(
    plan: Plan, piece: Piece, made: MadePiece, template: tuple[str, Template] | None
) -> Iterator[Any]:
    number = f"{template[0]} " if template is not None else ""
    yield said(f"{number}{piece.name}", SECTION)
    parts = plan.parts[piece.id]
    many = show_parts(sum(p.cut_count for p in parts))
    foams = ", ".join(dict.fromkeys(show_thickness(p.foam.thickness) for p in parts))
    form = piece.build.form.kind
    shaped = "" if form is FormKind.FLAT else f", {form.value}"
    yield said(f"{many} of {foams}{shaped}")
    for note in dict.fromkeys(n for p in parts for n in p.notes):
        yield said(note, SMALL)
    if made.problem:
        yield said(f"Not yet as decided: {made.problem}", SMALL)
    edges = template[1].edges if template is not None else ()
    for edge in edges:
        yield said(f"Edge {edge_words(edge)}", SMALL)
    yield space(2)
    yield Drawing(CARD, partial(draw_card, piece, template[1] if template else None, made))
    section = section_of(piece, made)
    if section is not None:
        names = list(
            dict.fromkeys(f"{show_thickness(b.thickness)} {b.name}" for b in section.bands)
        )
        told = "; ".join([*names, *(words for _, words in section.measures)])
        yield said(f"Cross-section: {told}", SMALL)
    yield space(6)


# Cut sheets


def _sheets(plan: Plan) -> Iterator[Any]:
    sheets = cut_sheets(plan)
    if not sheets:
        return
    rests = planned_rests(plan)
    high = PAGE[1] - 2 * MARGIN - FOOT
    for k, sheet in enumerate(sheets):
        yield new_page()
        if not k:
            yield said("Cut sheets", CHAPTER)
        yield said(sheet.title, SECTION)
        rest = rests.get(sheet.key)

        def draw(pen: Pen, room: tuple[float, float], sheet: Any = sheet, rest: Any = rest) -> None:
            draw_cut_sheet(pen, room, sheet, "", rest)

        yield Drawing(high - 16.0 - (not k) * 8.0, draw)
