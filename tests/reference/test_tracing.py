"""Twenty pieces drawn on paper, pictured by the simulated scanner, and traced back.

The pieces are the demo's, the pictures the scanner's (by seed); areas and distances are measured
by a general geometry library. The limits are those that the project promises.
"""

import numpy as np
import pytest
from shapely import LinearRing

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.reading.tracing.picture import PictureScale
from ivory_quilt.demo.suit import demo_project
from ivory_quilt.devices.scanner import FLAT_300, PHONE, ScanConditions, png, scan
from ivory_quilt.files.picture_read import read_picture

A3 = (420.0, 297.0)


def sheets(paper, count):
    """The demo's smaller pieces set in rows on as many sheets as they need, 12 mm apart."""
    pieces = [p.shape for p in demo_project().pieces if max(p.shape.width, p.shape.height) < 262]
    pieces = sorted(pieces, key=lambda s: -s.height)[:count]
    made, x, y, row = [[]], 14.0, 14.0, 0.0
    for shape in pieces:
        if x + shape.width > paper[0] - 14:
            x, y, row = 14.0, y + row + 12.0, 0.0
        if y + shape.height > paper[1] - 14:
            made.append([])
            x, y, row = 14.0, 14.0, 0.0
        x0, y0, _, _ = shape.bounds
        move = np.array([x - x0, y - y0])
        made[-1].append(Shape.make(shape.outer + move, [h + move for h in shape.holes]))
        x += shape.width + 12.0
        row = max(row, shape.height)
    assert sum(map(len, made)) == count
    return [sheet for sheet in made if sheet]


def apart(a, b):
    """Hausdorff distance of two outlines, by points every half millimetre."""
    one, other = LinearRing(a), LinearRing(b)
    return max(
        one.segmentize(0.5).hausdorff_distance(other), other.segmentize(0.5).hausdorff_distance(one)
    )


def check(paper, count, how, scale, most_area, most_apart):
    for k, drawn in enumerate(sheets(paper, count)):
        reading = read_picture(png(scan(drawn, paper, how, seed=k + 1)), scale=scale)
        found = [p.shape for p in reading.pieces]
        assert len(found) == len(drawn)
        for shape in drawn:
            back = max(found, key=lambda f: f.polygon.intersection(shape.polygon).area)
            assert back.area == pytest.approx(shape.area, rel=most_area)
            assert apart(back.outer, shape.outer) < most_apart
            assert len(back.holes) == len(shape.holes)
            for hole in shape.holes:
                assert min(apart(hole, h) for h in back.holes) < most_apart


def test_photos_at_150_dpi_with_perspective_uneven_light_and_noise():
    check(A3, 20, PHONE, PictureScale(rectangle=A3), most_area=0.01, most_apart=0.6)


def test_flat_scans_at_300_dpi():
    check(A3, 8, FLAT_300, PictureScale(dpi=300.0), most_area=0.01, most_apart=0.25)


@pytest.mark.parametrize("seed", range(3))
def test_a_sheets_long_side_is_its_long_side_however_it_lies(seed):
    plate = Shape.make([(60, 40), (150, 40), (150, 100), (90, 140), (60, 120)])
    how = ScanConditions(dpi=110.0, skew=(-8.0, 5.0, 12.0)[seed], perspective=0.05, blur=0.8)
    picture = png(scan([plate], (210.0, 297.0), how, seed))
    for rectangle in ((210.0, 297.0), (297.0, 210.0)):
        (piece,) = read_picture(picture, scale=PictureScale(rectangle=rectangle)).pieces
        assert apart(piece.shape.outer, plate.outer) < 0.6


def test_a_deep_narrow_notch_comes_back():
    # The two lines of the notch run together well before its tip.
    notch = Shape.make([(20, 20), (80, 20), (80, 90), (51.2, 90), (50, 50), (48.8, 90), (20, 90)])
    (piece,) = read_picture(
        png(scan([notch], (100.0, 110.0), FLAT_300, 3)), scale=PictureScale(dpi=300.0)
    ).pieces
    assert apart(piece.shape.outer, notch.outer) < 1.0
    assert piece.shape.area == pytest.approx(notch.area, rel=0.005)
