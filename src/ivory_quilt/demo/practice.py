"""Two phone pictures of paper patterns to practise tracing on, made by the simulated scanner.

They ship as files in ``data/practice``; ``python -m ivory_quilt.demo.practice`` makes them anew.
"""

import io
from importlib import resources
from pathlib import Path

import numpy as np

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project
from ivory_quilt.devices.scanner import PHONE, Picture, scan

A4 = (210.0, 297.0)
HOW = replace(PHONE, dpi=120.0, pen=0.9)
# Piece ids with the lower left corner of each on the sheet, mm.
SHEETS: dict[str, tuple[tuple[str, float, float], ...]] = {
    "knee-cup-photo.jpg": (("knee-cup", 20.0, 115.0), ("eye-bezel", 60.0, 18.0)),
    "scutellum-photo.jpg": (
        ("scutellum", 15.0, 110.0),
        ("belt-lozenge", 140.0, 160.0),
        ("elbow-cup", 75.0, 12.0),
    ),
}


def practice_names() -> tuple[str, ...]:
    """Return the names of the practice pictures."""
    return tuple(SHEETS)


def practice_picture(name: str) -> bytes:
    """Return a shipped practice picture, as the bytes of a JPEG file."""
    return (resources.files("ivory_quilt.data") / "practice" / name).read_bytes()


def drawn_on(name: str) -> dict[str, Shape]:
    """Return the true outlines on one picture's sheet, by piece id."""
    pieces = {p.id: p.shape for p in demo_project().pieces}
    placed = {}
    for ident, x, y in SHEETS[name]:
        x0, y0, _, _ = pieces[ident].bounds
        move = np.array([x - x0, y - y0])
        shape = pieces[ident]
        placed[ident] = Shape.make(shape.outer + move, [h + move for h in shape.holes])
    return placed


def take(name: str) -> Picture:
    """Return the picture that the simulated phone takes of one sheet."""
    seed = 11 + list(SHEETS).index(name)
    return scan(list(drawn_on(name).values()), A4, HOW, seed)


def main() -> None:
    """Write the pictures to where they ship from."""
    from PIL import Image

    folder = Path(__file__).parents[1] / "data" / "practice"
    folder.mkdir(exist_ok=True)
    for name in SHEETS:
        out = io.BytesIO()
        Image.fromarray(take(name)).save(out, "JPEG", quality=72)
        (folder / name).write_bytes(out.getvalue())


if __name__ == "__main__":
    main()
