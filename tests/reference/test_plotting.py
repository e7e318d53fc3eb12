"""Plotter files against what a machine makes of them, and DXF against an independent reader.

HPGL's unit of 0.025 mm: Hewlett-Packard, 7475A Interfacing and Programming Manual. G-code's words:
Kramer, Proctor, Messina, The NIST RS274/NGC Interpreter, NIST IR 6556 (2000). The simulated plotter
drags its blade by the tractrix's closed form, which the writers do not use. DXF is read by ezdxf,
whose audit knows the format's rules; our own reader brings the same pieces back.
"""

import io
import json
import re
from decimal import Decimal

import ezdxf
import numpy as np
import pytest
import shapely.geometry
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
from ivory_quilt.core.cutting.plotted import farthest_off
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.nesting.job import LayJob, Placement, StockUse
from ivory_quilt.core.pattern.piece import LineKind, PieceLine
from ivory_quilt.core.plan.plan import FoamPlan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.core.stock.purchase import FoamLine
from ivory_quilt.devices.knife_plotter import SimulatedPlotter
from ivory_quilt.files.drawings import read_drawing
from ivory_quilt.files.papers.cut_sheets import CutSheet
from ivory_quilt.files.plotter_files import Language, plotter_file, plotter_sheet
from ivory_quilt.files.sheet_dxf import cut_sheet_dxf
from ivory_quilt.files.sheet_files import SheetFormat, sheet_files
from tests.core.cutting.test_strokes import LINE, part
from tests.effort import random_cases
from tests.strategies import poses, shapes

BAR = 0.1  # mm, asked of the plotter's outline


def cut_sheet(laid, size=(1000, 600)):
    foam = laid[0][0].foam
    item = sheet("s", "sheet", foam, size)
    placements = tuple(Placement(p.id, 0, "s", 0, pose) for p, pose in laid)
    pairs = tuple((p, k) for (p, _), k in zip(laid, placements, strict=True))
    plan = FoamPlan(
        foam=foam,
        parts=tuple(p for p, _ in laid),
        job=LayJob(()),
        kept=None,
        standing=Standing.NO_STOCK,
        result=None,
        line=FoamLine(foam, len(laid), 0, 0.0, 0.0, (), Decimal(0), Decimal(0), laid=True),
    )
    use = StockUse("s", 0, None, 0.5)
    return CutSheet(1, plan, item, True, use, item.shape, pairs, "EVA foam")


@random_cases(40, 600)
@given(
    st.lists(st.tuples(shapes(), poses), min_size=1, max_size=4),
    st.sampled_from([0.0, 0.25, 0.9, 2.5]),
    st.sampled_from(list(Language)),
)
def test_what_the_plotter_cuts_is_the_parts_outline(laid, offset, language):
    apart = [replace(pose, x=pose.x + 1000.0 * k) for k, (_, pose) in enumerate(laid)]
    named = [(part(f"p{k}", s), at) for k, ((s, _), at) in enumerate(zip(laid, apart, strict=True))]
    plotter = replace(USUAL_PLOTTER, offset=offset, overcut=0.5)
    ready = plotter_sheet(cut_sheet(named), plotter)
    done = SimulatedPlotter(plotter).run(plotter_file(ready, language, plotter))
    assert farthest_off(ready.runs, [d.places for d in done.lines]) <= BAR
    rings = sum(len(p.shape.rings) for p, _ in named)
    assert len(done.lines) == rings


def test_without_correction_the_bar_is_missed():
    """The bar means something: the same outline sent as it is comes out rounded."""
    laid = [(part("p", rectangle(80, 50)), pose_at(10, 10))]
    steered, swivel = replace(USUAL_PLOTTER, offset=0.0), replace(USUAL_PLOTTER, offset=0.9)
    ready = plotter_sheet(cut_sheet(laid), steered)
    done = SimulatedPlotter(swivel).run(plotter_file(ready, Language.HPGL, steered))
    assert farthest_off(ready.runs, [d.places for d in done.lines]) > 3 * BAR


def pose_at(x, y):
    return Pose(float(x), float(y))


def some_sheet():
    hole = ((40.0, 40.0), (60.0, 40.0), (60.0, 60.0))
    lines = [
        PieceLine(LineKind.SCORE, LINE),
        PieceLine(LineKind.UNDERCUT, LINE + np.array([0.0, 60.0])),
    ]
    plate = part("plate", Shape.make([(0, 0), (120, 0), (120, 90), (0, 90)], [hole]), lines)
    disc = part("disc", rectangle(30, 20))
    return cut_sheet([(plate, pose_at(20, 20)), (disc, pose_at(300, 40))])


def test_hpgl_is_whole_numbers_of_a_fortieth():
    text = plotter_file(
        plotter_sheet(some_sheet(), USUAL_PLOTTER), Language.HPGL, USUAL_PLOTTER
    ).decode()
    assert text.startswith("IN;")
    commands = [c for c in re.split(r"[;\n]+", text) if c]
    assert {c[:2] for c in commands} == {"IN", "PA", "SP", "VS", "PU", "PD"}
    for command in commands:
        assert re.fullmatch(r"[A-Z]{2}(-?\d+(,-?\d+)*)?", command), command
    # The disc's corner at (300, 40) mm lies at 12000, 1600 units; the axis passes within 0.9 mm.
    numbers = [int(n) for c in commands if c[:2] == "PD" for n in c[2:].split(",")]
    places = np.array(numbers).reshape(-1, 2)
    assert np.hypot(*(places - [12000, 1600]).T).min() <= 0.9 * 40 + 1


def test_g_code_has_units_depths_and_an_end():
    ready = plotter_sheet(some_sheet(), USUAL_PLOTTER)
    rows = plotter_file(ready, Language.G_CODE, USUAL_PLOTTER).decode().splitlines()
    assert rows.index("G21 G90 G94") < rows.index("T2") < rows.index("T1")
    assert rows[-1] == "M2"
    depths = {row.split()[1] for row in rows if row.startswith("G1 Z")}
    assert depths == {"Z-3", "Z-6"}  # half for the score, whole for the cut, of 6 mm
    for row in rows:
        assert re.fullmatch(r"\([^()]*\)|([GMTXYZF]-?\d+(\.\d+)? ?)+", row), row


def test_dxf_passes_an_independent_audit_and_has_a_layer_an_operation():
    data = cut_sheet_dxf(some_sheet())
    drawing = ezdxf.read(io.StringIO(data.decode()))
    audit = drawing.audit()
    assert (audit.errors, audit.fixes) == ([], [])
    assert drawing.dxfversion == "AC1024"
    assert drawing.units == ezdxf.units.MM
    lines = {}
    for entity in drawing.modelspace().query("LWPOLYLINE"):
        lines.setdefault(entity.dxf.layer, []).append(entity)
    many = {layer: len(found) for layer, found in lines.items()}
    assert many == {"stock sheet": 1, "cut": 3, "score": 1, "undercut": 1}
    assert all(e.closed for e in lines["cut"])
    words = [t.dxf.text for t in drawing.modelspace().query("TEXT")]
    assert sorted(words) == ["disc", "plate"]


@pytest.mark.parametrize("kind", [SheetFormat.DXF, SheetFormat.SVG])
def test_a_cut_sheet_comes_back_as_the_same_pieces(kind):
    (name, data), *_ = sheet_files([some_sheet()], kind, USUAL_PLOTTER).files.items()
    reading = read_drawing(data, name)
    disc, plate = sorted(reading.pieces, key=lambda p: p.shape.area)
    assert (disc.shape.area, plate.shape.area) == pytest.approx((600, 120 * 90 - 200), abs=0.01)
    assert disc.shape.bounds == pytest.approx((300, 40, 330, 60), abs=1e-3)
    assert sorted(k.kind for k in plate.lines) == [LineKind.SCORE, LineKind.UNDERCUT]
    assert reading.problems == ()


def test_what_a_plotter_cannot_cut_is_said_and_left_out():
    thin = replace(USUAL_PLOTTER, thickest=5.0)
    made = sheet_files([some_sheet()], SheetFormat.HPGL, thin)
    assert made.files == {}
    assert "6 mm foam is thicker than the 5 mm" in made.left_out[0]
    small = replace(USUAL_PLOTTER, length=900.0)
    assert (
        "beyond its reach of 900 × 1220 mm"
        in sheet_files([some_sheet()], SheetFormat.G_CODE, small).left_out[0]
    )
    made = sheet_files([some_sheet()], SheetFormat.HPGL, USUAL_PLOTTER)
    assert made.by_hand == "1 part still to bevel or groove by hand: plate."


def test_geojson_is_what_the_standard_asks_and_an_independent_library_reads():
    """RFC 7946: closed rings, outlines counter-clockwise and holes clockwise (3.1.6)."""
    (name, data), *_ = sheet_files([some_sheet()], SheetFormat.GEOJSON, USUAL_PLOTTER).files.items()
    assert name.endswith(".geojson")
    collection = json.loads(data)
    assert collection["type"] == "FeatureCollection"
    sheet_, disc, plate = collection["features"]
    for feature in (sheet_, disc, plate):
        assert feature["type"] == "Feature"
        for ring in feature["geometry"]["coordinates"]:
            assert ring[0] == ring[-1]
            assert len(ring) >= 4
        read = shapely.geometry.shape(feature["geometry"])
        assert read.is_valid
        assert read.exterior.is_ccw
        assert not any(hole.is_ccw for hole in read.interiors)
    assert [f["properties"]["kind"] for f in (sheet_, disc, plate)] == ["sheet", "part", "part"]
    assert [f["properties"]["order"] for f in (disc, plate)] == [1, 2]
    assert shapely.geometry.shape(plate["geometry"]).area == pytest.approx(120 * 90 - 200)
    assert collection["bbox"] == [0, 0, 1000, 600]
    assert collection["ivory-quilt"]["unit"] == "mm"
