"""Form-up: seconds to a shape of 3,000 triangles, on a former, while dragged; to a whole suit."""

import math
import statistics
import time

from ivory_quilt.benchmarks.report import Figure
from ivory_quilt.core.document.assembling import assembly_of, joined_to
from ivory_quilt.core.formup.assembly import Assembly, FormPanel, FormSeam, SeamSide, Sphere
from ivory_quilt.core.formup.dragging import Dragged
from ivory_quilt.core.formup.form import form
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project
from ivory_quilt.engine.kernel_cache import use_kernel_cache


def cap(edge: float, thickness: float = 5.0) -> Assembly:
    """Return five gores of a cap, joined from rim to top."""
    count, radius, points = 5, 110.0, 30
    turns = [math.pi / 2 * k / points for k in range(points + 1)]
    right = [(math.pi * radius / count * math.cos(t), radius * t) for t in turns]
    left = [(-x, y) for x, y in right[:-1]][::-1]
    panels = tuple(FormPanel(f"p{k}", (*right, *left), thickness) for k in range(count))
    seams = tuple(
        FormSeam(
            SeamSide(f"p{k}", 0, points, 1), SeamSide(f"p{(k + 1) % count}", 2 * points, points, -1)
        )
        for k in range(count)
    )
    return Assembly(panels, seams, edge=edge)


def bench_formup() -> list[Figure]:
    """Measure with warm kernels."""
    use_kernel_cache()
    form(cap(20.0))
    job = cap(7.5)
    times, triangles = [], 0
    for _ in range(5):
        began = time.perf_counter()
        formed = form(job)
        times.append(time.perf_counter() - began)
        triangles = len(formed.shell.triangles)
    middle = statistics.median(times)
    began = time.perf_counter()
    form(replace(job, former=Sphere(106.0)))
    pressed = time.perf_counter() - began
    frames = dragged_frames()
    project = demo_project()
    groups = {joined_to(project, p.id) for p in project.pieces}
    began = time.perf_counter()
    for ids in groups:
        form(assembly_of(project, ids[0], edge=12.0).assembly)
    suit = time.perf_counter() - began
    return [
        Figure(f"formup: a cap, {triangles:,} triangles, median", middle, "s", 0.6),
        Figure("formup: the same pressed on a ball", pressed, "s", 2.0),
        Figure("formup: a frame while the foam is dragged", frames[0], "ms", 50.0),
        Figure("formup: a frame while a former is dragged", frames[1], "ms", 50.0),
        Figure("formup: a frame while an outline is dragged", frames[2], "ms", 50.0),
        Figure(f"formup: the demo suit, {len(groups)} groups", suit, "s", 6.0),
    ]


def dragged_frames() -> list[float]:
    """Return the median milliseconds of a frame: foam, former and outline under the hand."""
    job = cap(7.5)
    sweeps = (
        [cap(7.5, 5.0 + 0.15 * k) for k in range(16)],
        [replace(job, former=Sphere(104.0 + 0.4 * k)) for k in range(16)],
        [_wider(job, 1 + 0.004 * k) for k in range(16)],
    )
    found = []
    for jobs in sweeps:
        dragged = Dragged()
        dragged.form(jobs[0])
        times = []
        for one in jobs[1:]:
            began = time.perf_counter()
            _ = dragged.form(one).shape
            times.append(1000 * (time.perf_counter() - began))
        found.append(statistics.median(times))
    return found


def _wider(job: Assembly, share: float) -> Assembly:
    panels = tuple(
        replace(p, outline=tuple((x * share, y) for x, y in p.outline)) for p in job.panels
    )
    return replace(job, panels=panels)
