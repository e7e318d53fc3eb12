"""Tracing: sides of the ink, filled shapes, dirt, corners of the sheet, and what is refused."""

import cv2
import numpy as np
import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle, signed_area
from ivory_quilt.core.reading.tracing.picture import Ink
from ivory_quilt.core.reading.tracing.sheet import find_sheet, flat_frame, sheet_frame
from ivory_quilt.core.reading.tracing.trace import ink_level, trace
from ivory_quilt.devices.scanner import ScanConditions, scan

DPI = 200.0
MM = 25.4 / DPI
PAPER = (120.0, 90.0)
HOLE = rectangle(20, 15).outer + np.array([50, 35])
PLATE = Shape.make([(20, 20), (100, 20), (100, 70), (20, 70)], [HOLE])


def picture(shapes, pen=1.2, seed=1, **how):
    return scan(shapes, PAPER, ScanConditions(dpi=DPI, pen=pen, **how), seed)


def traced(grey, **rest):
    return trace(grey, flat_frame(grey.shape[0], MM), **rest)


def areas(found):
    return sorted(abs(signed_area(p.points)) for p in found.paths)


@pytest.mark.parametrize(
    ("ink", "outer", "hole"),
    [
        (Ink.MIDDLE, (80, 50), (20, 15)),
        # The pen is 1.2 mm wide; the foam lies inside the outline and outside the hole.
        (Ink.INSIDE, (78.8, 48.8), (21.2, 16.2)),
        (Ink.OUTSIDE, (81.2, 51.2), (18.8, 13.8)),
    ],
)
def test_the_side_of_the_ink_is_chosen(ink, outer, hole):
    small, large = areas(traced(picture([PLATE]), ink=ink))
    assert large == pytest.approx(outer[0] * outer[1], rel=0.004)
    assert small == pytest.approx(hole[0] * hole[1], rel=0.02)


def test_the_pen_is_measured():
    for pen in (0.5, 1.0, 2.0):
        assert traced(picture([PLATE], pen=pen)).pen == pytest.approx(pen, abs=0.15)


def test_a_filled_shape_is_its_edge():
    grey = np.full((700, 900), 230, np.uint8)
    cv2.rectangle(grey, (100, 100), (799, 599), 60, -1)
    cv2.circle(grey, (450, 350), 100, 230, -1)
    hole, whole = areas(traced(grey, ink=Ink.INSIDE))
    assert whole == pytest.approx(700 * 500 * MM * MM, rel=0.005)
    assert hole == pytest.approx(np.pi * 100**2 * MM * MM, rel=0.02)


def test_dirt_is_counted_and_strokes_are_named():
    grey = picture([PLATE])
    cv2.circle(grey, (40, 40), 4, 30, -1)
    cv2.line(grey, (600, 60), (880, 60), 30, 6)
    found = traced(grey)
    assert len(found.paths) == 2
    assert found.specks == 1
    assert len(found.strokes) == 1


def test_uneven_light_does_not_matter():
    even, dim = (traced(picture([PLATE], uneven=u)) for u in (0.0, 0.6))
    assert areas(dim) == pytest.approx(areas(even), rel=2e-3)


def test_the_threshold_can_be_set_by_hand():
    grey = picture([PLATE], pen=0.8)
    thin, thick = (traced(grey, level=k).pen for k in (0.35, 0.85))
    assert thin < thick


def test_clean_paper_is_refused():
    with pytest.raises(InputError, match="no ink"):
        traced(picture([]))


def test_the_level_lies_between_ink_and_paper():
    even = np.ones((200, 200))
    even[:, :3] = 0.2
    assert ink_level(even) == pytest.approx(0.6, abs=0.01)


# The sheet


def test_a_sheets_corners_are_found_to_a_fraction_of_a_pixel():
    corners = np.array([[120.3, 80.6], [700.2, 130.1], [660.7, 520.4], [90.9, 470.5]])
    fine = np.full((640 * 4, 800 * 4), 70, np.uint8)
    at = np.round(((corners + 0.5) * 4 - 0.5) * 64).astype(np.int32)
    cv2.fillPoly(fine, [at], 230, cv2.LINE_AA, 6)
    grey = cv2.resize(fine, (800, 640), interpolation=cv2.INTER_AREA)
    found = find_sheet(grey)
    for corner in corners:
        assert np.hypot(*(found - corner).T).min() < 0.5


def test_four_corners_make_the_frame():
    corners = np.array([[100.0, 50.0], [700.0, 80.0], [650.0, 480.0], [60.0, 430.0]])
    frame = sheet_frame(corners[[2, 3, 0, 1]], 297.0, 210.0)
    back = frame.to_mm(corners)
    assert back == pytest.approx(np.array([[0, 210], [297, 210], [297, 0], [0, 0]]), abs=1e-9)
    assert frame.mm_per_pixel == pytest.approx(0.5, rel=0.1)


@pytest.mark.parametrize("what", ["no sheet", "cut off", "round"])
def test_pictures_without_a_whole_sheet_are_refused(what):
    grey = np.full((600, 800), 70, np.uint8)
    if what == "cut off":
        grey[100:500, 300:] = 230
    elif what == "round":
        cv2.circle(grey, (400, 300), 220, 230, -1)
    with pytest.raises(InputError, match="no whole sheet"):
        find_sheet(grey)
