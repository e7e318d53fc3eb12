"""What Build takes on the demo: an edit of a thickness, a pull, and turning the formed piece."""

import statistics
import time
from collections.abc import Callable
from functools import partial

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.project import change_piece
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.core.rendering.scene import Scene, View, load_painter, picture
from ivory_quilt.core.stacks.form_section import form_section, pulled_form
from ivory_quilt.core.stacks.solid import Solid, solid_of
from ivory_quilt.core.stock.foam_stock import ShopStock
from ivory_quilt.demo.project import demo_project
from ivory_quilt.demo.shop import MATERIALS, demo_stock

FRAMES = 60
WIDE, HIGH = 480, 360  # px of the look at 1280 × 800, a little more


def bench_build() -> list[Figure]:
    """Measure on the demo suit; medians."""
    stock = ShopStock(demo_stock(), MATERIALS)
    project = demo_project()
    began = time.perf_counter()
    plan = derive(project, stock)
    whole = time.perf_counter() - began
    edits = []
    for piece in project.pieces:
        thinner = change_piece(project, piece.id, thickness=piece.thickness / 2)
        edits.append(_taken(lambda p=thinner: derive(p, stock, None, plan)))  # type: ignore[misc]
    largest = max(project.pieces, key=lambda p: p.shape.area)
    finest = project.piece("shin-cuff")
    context = plan.made["shin-cuff"].context
    at = form_section(finest, context).handles[0].at
    pull = _taken(lambda: pulled_form(finest, context, (at[0] + 9, at[1] - 7)))
    figures = [
        Figure("build: derive the whole demo", 1000 * whole, "ms"),
        Figure(
            "build: ledger after a thickness is changed, worst piece", 1000 * max(edits), "ms", 100
        ),
        Figure("build: one pull of a cross-section", 1000 * pull, "ms"),
    ]
    load_painter()
    for name, piece in (("largest piece", largest), ("shin cuff", finest)):
        frame = statistics.median(_frames(solid_of(piece, plan.made[piece.id].context)))
        what = f"build: one frame of the {name}, turning"
        figures.append(Figure(what, 1000 * frame, "ms", 1000 / 30))
    return figures


def _frames(solid: Solid) -> list[float]:
    """Return what each frame of one turn takes, s."""
    scene = Scene.of(solid)
    greys = tuple((200 - 20 * k,) * 3 for k in range(len(solid.thickness)))
    return [
        _taken(partial(picture, scene, View(Camera(6.0 * k, -20.0), WIDE, HIGH, greys, (0, 0, 0))))
        for k in range(FRAMES)
    ]


def _taken(work: Callable[[], object]) -> float:
    began = time.perf_counter()
    work()
    return time.perf_counter() - began
