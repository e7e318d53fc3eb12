"""What a shop book is put together from: chapters with bookmarks, tables, drawings to scale.

Lines, grey and dashes only: it must read as well from a black and white printer. Text and tables
flow over pages by the PDF library's own page layout.
"""

from collections.abc import Callable, Sequence
from html import escape
from io import BytesIO
from typing import Any

from reportlab.lib.colors import Color
from reportlab.lib.styles import ParagraphStyle
from reportlab.platypus import (
    BaseDocTemplate,
    Flowable,
    Frame,
    KeepTogether,
    PageBreak,
    PageTemplate,
    Paragraph,
    Spacer,
    Table,
    TableStyle,
)

from ivory_quilt.core.errors import one_line
from ivory_quilt.files.papers.pen import BOLD, INK, MONO, PT, SANS, SOFT, Pen, register_fonts

MARGIN = 14.0  # mm
FOOT = 8.0  # mm for the page number below the margin
GREY, LIGHT = Color(0.45, 0.45, 0.45), Color(0.92, 0.92, 0.92)
BODY = ParagraphStyle("body", fontName=SANS, fontSize=9, leading=12, textColor=Color(*INK))
SMALL = ParagraphStyle("small", parent=BODY, fontSize=7.5, leading=9.5)
HEAD = ParagraphStyle("head", parent=SMALL, fontName=BOLD)
CHAPTER = ParagraphStyle("chapter", parent=BODY, fontName=BOLD, fontSize=16, leading=22)
SECTION = ParagraphStyle("section", parent=BODY, fontName=BOLD, fontSize=11, leading=15)
TITLE = ParagraphStyle("title", parent=BODY, fontName=BOLD, fontSize=26, leading=34)
LEVELS = {"chapter": 0, "section": 1}

Draw = Callable[[Pen, tuple[float, float]], None]
"""Draws on a page; gets how wide and high the place is, mm, its lower left corner at (0, 0)."""


def said(text: str, style: ParagraphStyle = BODY) -> Paragraph:
    """Return a text as it flows."""
    register_fonts()
    return Paragraph(escape(one_line(text)), style)


def space(mm: float = 4.0) -> Spacer:
    """Return some room."""
    return Spacer(1, mm * PT)


class Drawing(Flowable):  # type: ignore[misc]
    """A place of a page that is drawn on."""

    def __init__(self, height: float, draw: Draw, width: float | None = None) -> None:
        """Take `height` mm, and all the width there is, or `width` mm."""
        super().__init__()
        self._high, self._wide, self._draw = height, width, draw

    def wrap(self, width: float, _height: float) -> tuple[float, float]:
        """Return the room that is taken, points."""
        self.width = width if self._wide is None else self._wide * PT
        self.height = self._high * PT
        return self.width, self.height

    def draw(self) -> None:
        """Draw."""
        self._draw(Pen.on(self.canv), (self.width / PT, self.height / PT))


def table(
    heads: Sequence[str], rows: Sequence[Sequence[str]], widths: Sequence[float], *, mono: int = -1
) -> Table:
    """Return a table whose head is repeated on each page; `widths` are shares.

    From column `mono` on, 0 the first, cells are figures.
    """
    figures = ParagraphStyle("figures", parent=SMALL, fontName=MONO, alignment=2)
    body = [
        [said(cell, figures if 0 <= mono <= k else SMALL) for k, cell in enumerate(row)]
        for row in rows
    ]
    right = ParagraphStyle("right", parent=HEAD, alignment=2)
    head = [said(cell, right if 0 <= mono <= k else HEAD) for k, cell in enumerate(heads)]
    whole = (210.0 - 2 * MARGIN) * PT
    made = Table(
        [head, *body],
        colWidths=[whole * w / sum(widths) for w in widths],
        repeatRows=1,
        hAlign="LEFT",
    )
    made.setStyle(
        TableStyle(
            [
                ("BACKGROUND", (0, 0), (-1, 0), LIGHT),
                ("LINEBELOW", (0, 0), (-1, -1), 0.25, GREY),
                ("VALIGN", (0, 0), (-1, -1), "TOP"),
                ("TOPPADDING", (0, 0), (-1, -1), 2),
                ("BOTTOMPADDING", (0, 0), (-1, -1), 2),
                ("LEFTPADDING", (0, 0), (-1, -1), 3),
                ("RIGHTPADDING", (0, 0), (-1, -1), 3),
            ]
        )
    )
    return made


class _Book(BaseDocTemplate):  # type: ignore[misc]
    """Marks chapters and sections, so that a reader's side bar lists them."""

    marks = 0

    def afterFlowable(self, flowable: Any) -> None:
        """Bookmark what is a heading."""
        style = getattr(getattr(flowable, "style", None), "name", "")
        if style in LEVELS:
            self.marks += 1
            key = f"part-{self.marks}"
            self.canv.bookmarkPage(key)
            self.canv.addOutlineEntry(flowable.getPlainText(), key, LEVELS[style], closed=True)


def bind(story: Sequence[Any], title: str, page: tuple[float, float]) -> bytes:
    """Return a PDF of flowing parts on pages of so many mm, numbered at the foot."""
    register_fonts()
    out = BytesIO()
    book = _Book(
        out,
        pagesize=(page[0] * PT, page[1] * PT),
        title=title,
        creator="Ivory Quilt",
        invariant=1,
    )
    edge, foot = MARGIN * PT, (MARGIN + FOOT) * PT
    width, height = page[0] * PT - 2 * edge, page[1] * PT - edge - foot
    frame = Frame(edge, foot, width, height, 0, 0, 0, 0)

    def number(canvas: Any, made: Any) -> None:
        pen = Pen.on(canvas)
        with pen.furniture():
            pen.colour(SOFT)
            pen.text((MARGIN, MARGIN), title, 7)
            pen.text((page[0] - MARGIN, MARGIN), f"page {made.page}", 7, MONO, right=True)

    book.addPageTemplates([PageTemplate("page", [frame], onPage=number)])
    book.build(list(story))
    return out.getvalue()


def together(*parts: Any) -> KeepTogether:
    """Return parts that stand on one page."""
    return KeepTogether(list(parts))


def new_page() -> PageBreak:
    """Return the end of a page."""
    return PageBreak()
