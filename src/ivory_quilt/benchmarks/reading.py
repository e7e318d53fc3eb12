"""Reading a large drawing, deriving, and answering to one edit."""

import math
import time

import numpy as np

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import Paper, Project, add_pieces, change_piece
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.engine import Limit, lay
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.templates import Template, TemplateUse
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.shop import MATERIALS, demo_stock
from ivory_quilt.files.joined_read import read_joined
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import plan_pages
from ivory_quilt.files.project_file import decode_project, encode_project
from ivory_quilt.files.svg_read import read_svg

PIECES, VERTICES = 300, 200


def large_drawing() -> bytes:
    """Return a drawing of 300 pieces with 200 vertices each."""
    paths = []
    for k in range(PIECES):
        x, y = 150 * (k % 20), 150 * (k // 20)
        points = []
        for n in range(VERTICES):
            angle = 2 * math.pi * n / VERTICES
            r = 50 + 8 * math.sin(5 * angle + k)
            points.append(f"{x + 70 + r * math.cos(angle):.3f},{y + 70 + r * math.sin(angle):.3f}")
        paths.append(f'<path id="plate-{k}" d="M{" L".join(points)} Z"/>')
    return (
        '<svg xmlns="http://www.w3.org/2000/svg" width="3000mm" height="2250mm" '
        f'viewBox="0 0 3000 2250">{"".join(paths)}</svg>'
    ).encode()


def bench_pages() -> list[Figure]:
    """Measure joining a pattern over six pages, printed by the application itself."""
    angle = np.linspace(0, 2 * math.pi, 400, endpoint=False)
    outline = Shape.make(np.column_stack((170 * np.cos(angle), 265 * np.sin(angle))))
    piece = Piece("case", "wing case", outline)
    template = Template((TemplateUse("1", piece),), piece)
    papers = plan_pages(
        [template], Paper.A4, lambda job: lay(job, limit=Limit(steps=0), clock=time.monotonic)
    )
    pdf = templates_pdf(papers, "case", {})
    began = time.perf_counter()
    reading = read_joined([("six.pdf", pdf)])
    took = time.perf_counter() - began
    off = abs(reading.pieces[0].shape.area / outline.area - 1)
    pages = len(reading.joined.poses)
    return [
        Figure(f"{pages} pages: joined by their marks, outlines united", took, "s"),
        Figure(f"{pages} pages: marks miss each other by", reading.joined.residual, "mm", 0.2),
        Figure(f"{pages} pages: area off by", 100 * off, "%", 0.1),
    ]


def bench_reading() -> list[Figure]:
    """Measure reading, saving, loading, deriving, and one edit on 60,000 vertices."""
    data = large_drawing()
    began = time.perf_counter()
    reading = read_svg(data)
    read = time.perf_counter() - began
    project = add_pieces(Project("Large"), [p.to_piece() for p in reading.pieces])
    began = time.perf_counter()
    text = encode_project(project)
    saved = time.perf_counter() - began
    began = time.perf_counter()
    decode_project(text)
    loaded = time.perf_counter() - began
    stock = ShopStock(demo_stock(), MATERIALS)
    began = time.perf_counter()
    plan = derive(project, stock)
    derived = time.perf_counter() - began
    edited = change_piece(project, project.pieces[7].id, thickness=4.0)
    began = time.perf_counter()
    derive(edited, stock, previous=plan)
    answered = time.perf_counter() - began
    what = f"{PIECES} pieces, {PIECES * VERTICES} vertices"
    from ivory_quilt.core.editing.proposals import propose_seams
    from ivory_quilt.core.review.review import review

    began = time.perf_counter()
    review(project)
    reviewed = time.perf_counter() - began
    began = time.perf_counter()
    propose_seams(project.pieces)
    proposed = time.perf_counter() - began
    return [
        *bench_pages(),
        Figure(f"{what}: looked through before cutting (elsewhere)", reviewed, "s"),
        Figure(f"{what}: seams looked for", proposed, "s"),
        Figure(f"{what}: read from SVG", read, "s", 2.0),
        Figure(f"{what}: saved", saved, "s"),
        Figure(f"{what}: loaded", loaded, "s"),
        Figure(f"{what}: derived", derived, "s"),
        Figure(f"{what}: derived anew after one edit", 1000 * answered, "ms", 50),
    ]
