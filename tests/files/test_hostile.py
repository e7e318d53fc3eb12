"""Drawings that once never ended or took all memory, as wholes and in small; figures: bench."""

import pytest

from ivory_quilt.benchmarks import hostile
from ivory_quilt.core.errors import InputError
from ivory_quilt.files.apart import Apart
from ivory_quilt.files.drawings import ReadOptions, read_drawing
from tests.effort import LONG

LARGE = {
    "90,000 rectangles",
    "20,000 splines",
    "a million points",
    "119 million pixels",
    "a page that inflates to 1.7 GB",
    "5,000 nested rings",
    "3,000 overlapping circles",
    "10,000 MINSERT copies",
}
REFUSED = {
    "a style sheet that multiplies": "style sheet",
    "an arc of 1e12": "arc on layer '0': a coordinate lies 1e+09 m from the origin",
    "a circle about no number": "circle on layer '0': a coordinate is not a number",
    "a line without end": "line on layer '0': a coordinate is not a number",
    "1,000 curves at 1e9": "a curve on page 1: a coordinate lies",
    "20,000 splines": "too large",
}


@pytest.fixture(scope="module")
def apart():
    with Apart() as made:
        yield made


@pytest.mark.long
@pytest.mark.parametrize("what", [w for w in hostile.CASES if LONG or w not in LARGE])
def test_it_ends_in_time_within_its_memory(apart, what):
    name, make = hostile.CASES[what]
    try:
        apart.run(read_drawing, make(), name, ReadOptions(), what=name)
    except InputError as error:
        assert what in REFUSED, str(error)
        assert REFUSED[what] in str(error)
        assert str(error).startswith(name)
    else:
        assert what not in REFUSED


def test_rectangles_and_rings_in_small_are_all_there():
    assert len(read_drawing(hostile.rectangles(900), "r.svg").pieces) == 900
    reading = read_drawing(hostile.nested(400), "n.svg")
    assert len(reading.pieces) == 200  # every second ring is the hole of the one around it
    assert all(len(p.shape.holes) == 1 for p in reading.pieces)
    assert len(read_drawing(hostile.copies(12), "c.dxf").pieces) == 144


def test_what_is_left_out_in_the_hundreds_is_counted():
    reading = read_drawing(hostile.open_lines(1500), "l.svg")
    codes = [p.code for p in reading.problems]
    assert len(codes) == 201
    assert "1300 more of the kind 'open outline'" in reading.problems[-1].message


def test_copies_of_a_block_lie_where_the_library_puts_them():
    """Against the DXF library's own way of placing every copy for itself."""
    import io

    import ezdxf
    import numpy as np

    document = ezdxf.new("R2000")
    document.header["$INSUNITS"] = 4
    inner = document.blocks.new("TAB", base_point=(1, 2))
    inner.add_lwpolyline([(0, 0), (30, 0), (20, 12)], close=True)
    outer = document.blocks.new("PAIR")
    outer.add_blockref("TAB", (5, 5), dxfattribs={"rotation": 25, "xscale": -1.5})
    space = document.modelspace()
    grid = {"row_count": 2, "column_count": 3, "row_spacing": 50, "column_spacing": 70}
    space.add_blockref("PAIR", (7, 9), dxfattribs={"rotation": 40, **grid})
    expected = []
    for insert in space:
        for one in insert.multi_insert() if insert.mcount > 1 else (insert,):
            for tab in one.virtual_entities():
                for line in tab.virtual_entities():
                    points = [p.vtx2 if hasattr(p, "vtx2") else p for p in line.vertices_in_wcs()]
                    expected.append(np.mean([(p[0], p[1]) for p in points], axis=0))
    out = io.StringIO()
    document.write(out)
    pieces = read_drawing(out.getvalue().encode(), "grid.dxf").pieces
    found = [p.shape.outer.mean(axis=0) for p in pieces]
    assert len(found) == 6
    assert np.sort(np.round(found, 6), axis=0) == pytest.approx(
        np.sort(np.round(expected, 6), axis=0), abs=1e-5
    )


def test_a_block_within_one_that_is_stretched_is_sheared():
    """Which no single insert can say: both transforms one after the other, by hand."""
    import io

    import ezdxf
    import numpy as np

    document = ezdxf.new("R2000")
    document.header["$INSUNITS"] = 4
    corners = np.array([(0.0, 0.0), (30, 0), (20, 12)])
    document.blocks.new("TAB").add_lwpolyline(corners.tolist(), close=True)
    document.blocks.new("PAIR").add_blockref("TAB", (5, 5), dxfattribs={"rotation": 30})
    stretched = {"yscale": 2, "xscale": 0.5}
    document.modelspace().add_blockref("PAIR", (400, 9), dxfattribs=stretched)
    out = io.StringIO()
    document.write(out)
    (piece,) = read_drawing(out.getvalue().encode(), "sheared.dxf").pieces
    cos, sin = np.cos(np.pi / 6), np.sin(np.pi / 6)
    inside = corners @ np.array([[cos, sin], [-sin, cos]]) + [5, 5]
    expected = inside * [0.5, 2] + [400, 9]
    assert np.sort(piece.shape.outer, axis=0) == pytest.approx(np.sort(expected, axis=0))


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ('<rect x="nan" width="9" height="9"/>', "its x='nan' is not a number"),
        ('<circle id="rim" cx="1e999" r="9"/>', "<circle> 'rim'"),
        ('<polygon points="0,0 9,NaN 9,9"/>', "its points hold 'NaN"),
        ('<rect width="9" height="9" x="9e9"/>', "beyond|from the origin"),
        ('<path d="M0,0 L1e999,0 L0,9Z"/>', "not a number"),
    ],
)
def test_a_coordinate_that_is_no_number_is_refused_by_name(text, said):
    with pytest.raises(InputError, match=said):
        read_drawing(hostile.svg(text), "odd.svg")


def test_a_transform_that_is_no_number_is_told():
    body = '<rect id="rim" transform="rotate(abc)" width="90" height="90"/>'
    reading = read_drawing(hostile.svg(body), "odd.svg")
    assert [p.code for p in reading.problems] == ["bad-transform"]
    assert "'rotate(abc)' of 'rim'" in reading.problems[0].message


def test_entities_that_are_short_text_are_read_and_others_refused():
    head = '<!DOCTYPE svg [<!ENTITY ns "http://www.w3.org/2000/svg"><!ENTITY n "collar">{}]>'
    body = (
        '<svg xmlns="&ns;" width="100mm" height="100mm" viewBox="0 0 100 100">'
        '<rect id="&n;" width="50" height="50"/></svg>'
    )
    reading = read_drawing((head.format("") + body).encode(), "e.svg")
    assert [p.name for p in reading.pieces] == ["collar"]
    for harm in (
        '<!ENTITY a "&n;&n;">',
        '<!ENTITY x SYSTEM "file:///etc/hostname">',
        f'<!ENTITY a "{"x" * 300}">',
        '<!ENTITY % p "x">',
    ):
        with pytest.raises(InputError, match="refused for safety"):
            read_drawing((head.format(harm) + body).encode(), "e.svg")


def test_a_large_scan_is_looked_at_more_coarsely_and_keeps_its_size():
    from ivory_quilt.files import picture_read

    data = hostile.picture(1500)
    whole = read_drawing(data, "scan.png")
    enough = picture_read.ENOUGH_PIXELS
    try:
        picture_read.ENOUGH_PIXELS = 600_000
        coarse = read_drawing(data, "scan.png")
    finally:
        picture_read.ENOUGH_PIXELS = enough
    assert len(coarse.pieces) == len(whole.pieces) == 20
    for a, b in zip(coarse.pieces, whole.pieces, strict=True):
        assert (a.shape.width, a.shape.height) == pytest.approx(
            (b.shape.width, b.shape.height), abs=0.12
        )
