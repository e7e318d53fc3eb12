"""Ways to make a pattern meet a measure, pictures with something known in them, templates."""

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.calculators.sizes import proportion
from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.seam_book import join_edges
from ivory_quilt.core.document.sizing import SizeMethod, size_choices, sized
from ivory_quilt.core.editing.reshape import on_fold, unfolded
from ivory_quilt.core.editing.template import centre_of, template_of
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.measure.fit import Fit, KeyOf, key_length
from ivory_quilt.core.measure.study import Pictured, Study
from ivory_quilt.core.measure.wearer import Measure
from ivory_quilt.core.pattern.piece import CutSide, LineKind, Piece, PieceLine, TraceRule
from ivory_quilt.core.pattern.seams import EdgeRef, Seam, SeamVerdict
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.printer import Printer

SOLE = Piece("sole", "sole", rectangle(100, 280))
SIDE = Piece("side", "side", rectangle(280, 90))


def project():
    whole = Project(pieces=(SOLE, SIDE))
    # The side is glued along the sole's long edge.
    return join_edges(whole, Seam(EdgeRef("sole", "B"), EdgeRef("side", "C")))


def fit(now, wanted):
    return Fit(Measure("shoe", wanted), now)


@pytest.mark.parametrize("way", list(SizeMethod))
@pytest.mark.parametrize("key", [KeyOf.WIDTH, KeyOf.HEIGHT])
def test_every_way_meets_the_measure(way, key):
    now = key_length(SOLE.shape, key)
    made = sized(project(), ["sole", "side"], "sole", key, fit(now, now * 1.06), way)
    after = made.project.piece("sole").shape
    assert key_length(after, key) == pytest.approx(now * 1.06, abs=0.02)
    other = KeyOf.WIDTH if key is KeyOf.HEIGHT else KeyOf.HEIGHT
    # A scale grows both ways alike; an offset adds the same millimetres; others leave it.
    added = {
        SizeMethod.SCALE: 0.06 * key_length(SOLE.shape, other),
        SizeMethod.OFFSET: 0.06 * now,
        SizeMethod.STRETCH: 0.0,
        SizeMethod.STRIP: 0.0,
    }
    assert key_length(after, other) - key_length(SOLE.shape, other) == pytest.approx(
        added[way], abs=0.05
    )


def test_each_way_says_what_becomes_of_seams():
    longer = fit(280, 300)
    both = ["sole", "side"]
    scaled = sized(project(), both, "sole", KeyOf.HEIGHT, longer, SizeMethod.SCALE)
    assert scaled.seam_words() == "The seam changed in length still fits as before."
    # Stretched upwards the sole's edge grows, the side's edge lies level and does not.
    up = sized(project(), both, "sole", KeyOf.HEIGHT, longer, SizeMethod.STRETCH)
    assert [s.after.verdict for s in up.seams] == [SeamVerdict.NO]
    assert "1 of 1 changed seams fit otherwise: sits now, then does not fit" in up.seam_words()
    strip = sized(project(), both, "sole", KeyOf.HEIGHT, longer, SizeMethod.STRIP)
    assert strip.project.piece("side") == project().piece("side")
    assert strip.words == "a strip of 20 mm let into sole"
    alone = sized(project(), ["side"], "side", KeyOf.HEIGHT, fit(90, 99), SizeMethod.STRETCH)
    assert alone.seam_words() == "No seam changes its length."


def test_ways_that_do_not_serve_are_refused():
    with pytest.raises(InputError, match="no direction"):
        sized(project(), ["sole"], "sole", KeyOf.OUTLINE, fit(760, 800), SizeMethod.STRETCH)
    with pytest.raises(InputError, match="large enough"):
        sized(project(), ["sole"], "sole", KeyOf.WIDTH, fit(100, 90), SizeMethod.STRIP)
    around = sized(project(), ["sole"], "sole", KeyOf.OUTLINE, fit(760, 800), SizeMethod.OFFSET)
    # A rectangle's outline grows by 8 times the offset.
    assert around.amount == pytest.approx(5, abs=0.01)


def test_three_sizes_lie_about_the_fit():
    assert size_choices(fit(280, 294), 0.03) == pytest.approx((1.0185, 1.05, 1.0815))


# Pictures


def test_a_picture_gives_real_sizes_with_their_uncertainty():
    """Common practice, no source: 330 mm real, 55 px pictured, plate 100 px → 600 mm."""
    known = Pictured("forearm", (0, 0), (33, 44))
    study = Study("p.png", known, 330, 0, 0, (Pictured("plate", (10, 10), (10, 110)),))
    size = study.size(study.lines[0])
    assert size.length == pytest.approx(600)
    assert size.length == proportion(330, 55, 100).results["length"]
    assert size.uncertainty == 0
    # Independent errors add as squares: JCGM 100:2008, 5.1.2, for a product of powers.
    blurred = replace(study, uncertainty=3.3, blur=1.0)
    wanted = 600 * math.sqrt(0.01**2 + 2 / 55**2 + 2 / 100**2)
    assert blurred.size(study.lines[0]).uncertainty == pytest.approx(wanted)
    reckoning = blurred.reckon(study.lines[0])
    assert reckoning.steps[-1].value == pytest.approx(wanted)


@given(st.floats(20, 900), st.floats(5, 900), st.floats(0, 20), st.floats(0, 5), st.integers(0, 99))
def test_the_uncertainty_is_what_random_line_ends_give(known, piece, give, blur, seed):
    """Monte Carlo with ends of lines off by `blur` along the line, against the formula."""
    blur = min(blur, known / 50, piece / 50)  # the formula is of first order
    study = Study("p", Pictured("k", (0, 0), (known, 0)), 400, give, blur)
    line = Pictured("x", (0, 0), (0, piece))
    random = np.random.default_rng(seed)
    n = 20_000
    ends = random.normal(0, blur, (4, n)) if blur else np.zeros((4, n))
    real = random.normal(400, give, n) if give else 400
    sizes = real * (piece + ends[0] + ends[1]) / (known + ends[2] + ends[3])
    assert sizes.std() == pytest.approx(study.size(line).uncertainty, rel=0.08, abs=0.01)


def test_a_study_without_scale_has_no_sizes():
    line = Pictured("x", (0, 0), (0, 50))
    with pytest.raises(InputError, match="nothing known"):
        Study("p").size(line)
    ready = Study("p", Pictured("k", (0, 0), (9, 0)), 100)
    with pytest.raises(InputError, match="too short"):
        ready.size(Pictured("dot", (5, 5), (5, 6)))
    named = ready.with_line(line).with_line(line)
    assert [k.name for k in named.lines] == ["x", "x 2"]


# Templates


def half_moon():
    angle = np.linspace(-math.pi / 2, math.pi / 2, 60)
    return Piece("m", "moon", Shape.make(np.column_stack((60 * np.cos(angle), 90 * np.sin(angle)))))


def test_a_symmetrical_piece_is_printed_as_its_half():
    from ivory_quilt.core.editing.reshape import fold_edge

    half = half_moon()
    whole = unfolded(half, fold_edge(half))
    assert centre_of(whole) is not None
    printed = template_of(whole, TraceRule(), half=True)
    assert printed.shape.area == pytest.approx(whole.shape.area / 2, rel=1e-3)
    assert on_fold(printed)
    assert not on_fold(whole)
    assert template_of(whole, TraceRule()).shape == whole.shape
    # Printed, traced, flipped and traced again, it is the whole piece.
    again = unfolded(printed, fold_edge(printed))
    assert again.shape.area == pytest.approx(whole.shape.area, rel=1e-3)
    assert (again.shape.width, again.shape.height) == pytest.approx(
        (whole.shape.width, whole.shape.height), abs=0.1
    )


def test_a_crooked_centre_line_prints_the_whole():
    centre = PieceLine(LineKind.CENTRE, np.array([[40.0, 0], [40, 40]]))
    lopsided = Piece("p", "p", rectangle(120, 40), lines=(centre,))
    assert centre_of(lopsided) is None
    assert template_of(lopsided, TraceRule(), half=True).shape == lopsided.shape
    middle = PieceLine(LineKind.CENTRE, centre.points + np.array([20.0, 0]))
    straight = replace(lopsided, lines=(middle,))
    assert template_of(straight, TraceRule(), half=True).shape.width == pytest.approx(60)


def test_the_template_makes_up_for_the_pen_and_for_trimming():
    """Traced with a pen of 1 mm and cut along the middle of its line, the cut comes true."""
    plate = Piece("p", "p", rectangle(120, 40))
    middle = template_of(plate, TraceRule(1.0, CutSide.MIDDLE))
    assert (middle.shape.width, middle.shape.height) == pytest.approx((119, 39))
    trimmed = template_of(plate, TraceRule(1.0, CutSide.OUTSIDE, 5.0))
    assert trimmed.shape.width == pytest.approx(120 + 2 * (5 - 1))
    own = replace(plate, rule=TraceRule())
    assert template_of(own, TraceRule(1.0, CutSide.MIDDLE)).shape == plate.shape


def test_a_printers_check_bar_corrects_it():
    """Common practice, no source: the inverse of printed ÷ nominal."""
    assert Printer("p", 100, 99.2).correction == pytest.approx(100 / 99.2)
    for wrong in ({"measured": 70}, {"measured": 0}, {"name": " "}):
        with pytest.raises(InputError):
            Printer(**{"name": "p", "nominal": 100, "measured": 100, **wrong})
