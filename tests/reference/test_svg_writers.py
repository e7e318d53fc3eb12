"""Drawings written by a program that is not ours come in with their true areas.

Source: svgwrite 1.4, a general SVG writer; the expected areas are worked by hand.
"""

import math

import pytest
import svgwrite

from ivory_quilt.files.svg_read import read_svg


def written(drawing):
    return read_svg(drawing.tostring().encode(), file="written.svg")


def by_name(reading):
    return {p.name: p for p in reading.pieces}


def test_shapes_groups_and_copies_from_svgwrite():
    drawing = svgwrite.Drawing(size=("300mm", "200mm"), viewBox="0 0 300 200")
    group = drawing.add(drawing.g(id="cut", transform="translate(10,10)"))
    group.add(drawing.rect((0, 0), (50, 40), rx=5, ry=5, id="plate"))
    group.add(drawing.circle((100, 30), 20, id="disc"))
    group.add(drawing.ellipse((160, 30), (30, 10), id="lens"))
    group.add(drawing.polygon([(200, 0), (250, 0), (225, 40)], id="spike"))
    master = drawing.rect((0, 0), (10, 20), id="tab")
    drawing.defs.add(master)
    drawing.add(drawing.use(master, insert=(20, 120)))
    drawing.add(drawing.use(master, insert=(60, 120)))
    found = written(drawing)
    shapes = by_name(found)
    assert shapes["plate"].shape.area == pytest.approx(2000 - (4 - math.pi) * 25, rel=1e-3)
    assert shapes["disc"].shape.area == pytest.approx(math.pi * 400, rel=1e-3)
    assert shapes["lens"].shape.area == pytest.approx(math.pi * 300, rel=1e-3)
    assert shapes["spike"].shape.area == pytest.approx(1000, rel=1e-3)
    assert [round(p.shape.area) for p in found.pieces].count(200) == 2
    assert found.problems == ()


def test_paths_with_holes_from_svgwrite():
    drawing = svgwrite.Drawing(size=("10cm", "10cm"), viewBox="0 0 100 100")
    path = drawing.path(d="M10,10", id="frame")
    path.push("h", 80, "v", 80, "h", -80, "z", "M", 30, 30, "h", 40, "v", 40, "h", -40, "z")
    drawing.add(path)
    (piece,) = written(drawing).pieces
    assert piece.shape.area == pytest.approx(6400 - 1600)
    assert len(piece.shape.holes) == 1


def test_style_sheets_from_svgwrite():
    drawing = svgwrite.Drawing(size=("100mm", "100mm"), viewBox="0 0 100 100")
    drawing.defs.add(drawing.style(".notes { display: none } .cut { fill: none; stroke: red }"))
    drawing.add(drawing.rect((0, 0), (30, 30), class_="notes"))
    drawing.add(drawing.rect((40, 0), (30, 20), class_="cut", id="kept"))
    (piece,) = written(drawing).pieces
    assert (piece.name, piece.shape.area) == ("kept", pytest.approx(600))
