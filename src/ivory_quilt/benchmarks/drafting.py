"""Draft's outline under the hand: how long a frame of a drag takes, and what a kept edit costs."""

import os
import statistics
import subprocess
import sys
import tempfile
import time
from pathlib import Path
from typing import Any

import numpy as np

from ivory_quilt.benchmarks.report import Figure

PIECES, VERTICES = 300, 200
FRAMES = 60
LARGE = 20_000  # vertices of one outline


def bench_drafting() -> list[Figure]:
    """Return the figures, measured in a process of its own."""
    run = subprocess.run(
        [sys.executable, "-m", "ivory_quilt.benchmarks.drafting"],
        env={**os.environ, "QT_QPA_PLATFORM": "offscreen"},
        capture_output=True,
        text=True,
        check=True,
    )
    worst, median, large, edit = (float(x) for x in run.stdout.split()[-4:])
    return [
        Figure(
            "drag a node, 300 pieces with 60,000 vertices, worst frame of 60", worst, "ms", 16.0
        ),
        Figure("the same, median", median, "ms", 16.0),
        Figure("the same on one outline of 20,000 vertices, median", large, "ms", 16.0),
        Figure("keep the edit, in the window", edit, "ms"),
    ]


def wavy(vertices: int, size: float, seed: int) -> np.ndarray:
    """Return a ring that waves about a circle, in small steps."""
    rng = np.random.default_rng(seed)
    t = np.linspace(0, 2 * np.pi, vertices + 1)[:-1]
    r = size * (1 + 0.08 * np.sin(5 * t + rng.uniform(0, 6)) + 0.04 * np.sin(9 * t))
    return np.column_stack((r * np.cos(t), r * np.sin(t)))


def main() -> int:
    """Print worst and median frame, median frame of a large outline, and a kept edit, ms."""
    from PySide6.QtCore import QPoint, Qt
    from PySide6.QtTest import QTest

    from ivory_quilt.core.document.project import Project, add_pieces
    from ivory_quilt.core.geometry.shape import Shape
    from ivory_quilt.core.pattern.piece import Piece
    from ivory_quilt.desk.canvas.paths import scene_point
    from ivory_quilt.desk.shots import demo_window, settle
    from ivory_quilt.desk.stations.pattern.draft.presenter import Tool

    left, none = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    window: Any = demo_window(Path(tempfile.mkdtemp()))
    settle(window)
    window.go("pattern")
    made = [Piece(f"w{k}", f"w{k}", Shape.make(wavy(VERTICES, 60, k))) for k in range(PIECES)]
    made.append(Piece("large", "large", Shape.make(wavy(LARGE, 300, 1))))
    window.session.edit("Many", lambda _: add_pieces(Project(), made))
    settle(window)
    station = window.stations["pattern"]

    def drag(piece: str) -> tuple[list[float], float]:
        station.presenter.selected = (piece,)
        station.draft.presenter.take_up(piece)
        station.open_draft()
        station.draft.card.hold(Tool.OUTLINE)
        settle(window)
        table = station.draft.table
        node = station.draft.presenter.outline.paths()[0].node(3).at
        at = table.mapFromScene(scene_point(node))
        view = table.viewport()
        QTest.mousePress(view, left, none, at)
        frames = []
        for k in range(FRAMES):
            start = time.perf_counter()
            QTest.mouseMove(view, at + QPoint(4 + k // 3, 3 + k % 7))
            view.repaint()
            frames.append(1e3 * (time.perf_counter() - start))
        start = time.perf_counter()
        QTest.mouseRelease(view, left, none, at + QPoint(24, 6))
        return frames, 1e3 * (time.perf_counter() - start)

    frames, edit = drag("w7")
    large, _ = drag("large")
    worst, median = max(frames[2:]), statistics.median(frames)
    print(worst, median, statistics.median(large), edit)
    os._exit(0)


if __name__ == "__main__":
    sys.exit(main())
