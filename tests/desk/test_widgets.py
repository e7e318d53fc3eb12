"""The small things: edge bars, slips, rail, fields, labels, settings, the quilt's arrangement."""

from decimal import Decimal

import numpy as np
import pytest
from hypothesis import assume, given
from hypothesis import strategies as st
from PySide6.QtCore import QByteArray, QPointF, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel, QVBoxLayout, QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.centred import about_centre
from ivory_quilt.core.geometry.shape import Pose, Shape, rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import LineKind, Piece, PieceLine
from ivory_quilt.core.plan.plan import derive
from ivory_quilt.core.plan.standing import Proposal
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind, sheet
from ivory_quilt.core.stock.purchase import FoamLine, Ledger
from ivory_quilt.core.units import EURO, LengthUnit
from ivory_quilt.desk.canvas.foam_items import FoamItem
from ivory_quilt.desk.canvas.paths import label_place, placed_path, pose_transform, shape_path
from ivory_quilt.desk.canvas.quilt import quilt
from ivory_quilt.desk.canvas.screen_words import broken_words
from ivory_quilt.desk.settings import MOST_RECENT, Settings
from ivory_quilt.desk.theme.icons import icon, icon_file, pixmap
from ivory_quilt.desk.theme.palette import DARK, LIGHT, TONES, tone
from ivory_quilt.desk.theme.style import apply_theme, style_sheet
from ivory_quilt.desk.widgets.basics import Complaint, clear, column, counter, label, row, set_tone
from ivory_quilt.desk.widgets.curve import CostCurve
from ivory_quilt.desk.widgets.edgebar import EdgeBar, bar_height, pixels_per_mm
from ivory_quilt.desk.widgets.ledger import foam_amount, reckon_total_cost, reckon_total_scrap
from ivory_quilt.desk.widgets.rail import Rail
from ivory_quilt.desk.widgets.slip import Slip, SlipFigure
from tests.desk.conftest import let_run
from tests.effort import random_cases
from tests.strategies import poses, shapes

EVA6 = Foam(6.0, "eva")


@pytest.fixture(autouse=True)
def themed(qapp):
    apply_theme(qapp, dark=False)


# Edge bars and tones


def test_edge_bars_are_true_to_scale(qapp):
    assert 2.0 < pixels_per_mm() < 12.0
    assert bar_height(10) == pytest.approx(5 * bar_height(2), rel=0.01)
    bar = EdgeBar(4.0)
    tall = EdgeBar(8.0)
    assert tall.height() - 2 == pytest.approx(2 * (bar.height() - 2), abs=1)
    bar.set_thickness(8.0)
    assert bar.height() == tall.height()
    assert "8 mm" in bar.accessibleName()


def test_edge_bars_differ_without_colour(qapp):
    pictures = []
    for thickness in (4.0, 6.0, 10.0):
        bar = EdgeBar(thickness)
        image = bar.grab().toImage().convertToFormat(bar.grab().toImage().Format.Format_Grayscale8)
        pictures.append((image.height(), image.pixelColor(12, image.height() // 2).lightness()))
    assert len(set(pictures)) == 3


def test_tones_run_from_warm_to_cool_and_light_to_dark():
    hues = [tone(t).lightnessF() for t, _ in TONES]
    assert hues[0] > hues[-1]
    assert tone(1.0) == tone(2.0)
    assert tone(40.0) == tone(12.0)
    between = tone(7.0)
    low, high = tone(6.0), tone(8.0)
    assert min(low.red(), high.red()) <= between.red() <= max(low.red(), high.red())


# Slips


def reckoning():
    steps = (Step("one", "1 × 2", 2.0, "mm"), Step("sum", "Σ", "9.99", "€"))
    return Reckoning("r", {}, {"x": 2.0}, steps, "a handbook", ("A note.",))


def test_a_figure_opens_its_slip_by_mouse_and_key(qapp, qtbot):
    figure = SlipFigure()
    qtbot.addWidget(figure)
    figure.show_figure("2 mm", reckoning)
    figure.show()
    QTest.mouseClick(figure, Qt.MouseButton.LeftButton)
    (slip,) = figure.findChildren(Slip)
    words = [w.text() for w in slip.findChildren(QLabel)]
    for wanted in ("one", "1 × 2", "2 mm", "9.99 €", "A note.", "Source: a handbook"):
        assert wanted in words
    slip.close()
    let_run()
    QTest.keyClick(figure, Qt.Key.Key_Return)
    assert any(s.isVisible() for s in figure.findChildren(Slip))
    for open_slip in figure.findChildren(Slip):
        open_slip.close()


def test_a_figure_without_a_reckoning_opens_nothing(qapp, qtbot):
    figure = SlipFigure()
    qtbot.addWidget(figure)
    figure.show_figure("–", None)
    assert figure.open_slip() is None
    assert figure.toolTip() == ""
    figure.grab()


def test_total_reckonings_add_up():
    line = FoamLine(EVA6, 3, 0, 4e5, 1e6, (), Decimal("7.50"), Decimal("5.00"), laid=True)
    other = FoamLine(Foam(4.0, "eva"), 1, 0, 1e5, 5e5, (), Decimal("2.50"), Decimal(0), laid=True)
    ledger = Ledger((line, other))
    cost = reckon_total_cost(ledger, EURO)
    assert [s.value for s in cost.steps] == ["7.50", "2.50", "10.00", "5.00"]
    waste = reckon_total_scrap(ledger)
    # By hand: 1.5 − 0.5 of 1.5 m², nothing kept.
    assert waste.steps[-1].value == pytest.approx(100 * (1 - 0.5 / 1.5))
    assert foam_amount(line) == "nothing"


# The rail


def test_the_rail_shows_the_station_and_what_wants_the_maker(qapp, qtbot):
    rail = Rail([("pattern", "Pattern", "Ctrl+1"), ("lay", "Lay", "Ctrl+2")])
    qtbot.addWidget(rail)
    rail.show_state(LIGHT, "lay", {"pattern": "a file waits"})
    assert rail.keys["lay"].current
    assert "a file waits" in rail.keys["pattern"].toolTip()
    assert rail.keys["pattern"].accessibleDescription() == "a file waits"
    chosen = []
    rail.chosen.connect(chosen.append)
    QTest.mouseClick(rail.keys["pattern"], Qt.MouseButton.LeftButton)
    QTest.keyClick(rail.keys["lay"], Qt.Key.Key_Return)
    assert chosen == ["pattern", "lay"]
    # Large enough for a gloved hand.
    assert rail.keys["lay"].sizeHint().height() >= 44
    rail.grab()


# Helpers


def test_complaints_take_no_room_until_there_is_one(qapp, qtbot):
    holder = QWidget()
    qtbot.addWidget(holder)
    complaint = Complaint()
    holder.setLayout(column(complaint, label("x")))
    holder.show()
    assert not complaint.isVisible()
    complaint.setText("thickness: 'thick' is not a length")
    assert complaint.isVisible()
    complaint.setText("")
    assert not complaint.isVisible()


def test_layouts_can_be_cleared_with_all_that_is_in_them(qapp, qtbot):
    holder = QWidget()
    qtbot.addWidget(holder)
    layout = QVBoxLayout(holder)
    layout.addWidget(label("a"))
    layout.addLayout(row(label("b"), None, label("c")))
    clear(layout)
    assert layout.count() == 0


def test_counters_keep_their_range_and_name(qapp, qtbot):
    field = counter(0, 5, "how many")
    qtbot.addWidget(field)
    field.setValue(99)
    assert field.value() == 5
    assert field.accessibleName() == "how many"


def test_tones_of_labels_restyle_them(qapp, qtbot):
    text = label("x", "note")
    qtbot.addWidget(text)
    set_tone(text, "cut")
    assert text.property("tone") == "cut"
    assert LIGHT.cut in style_sheet(LIGHT)
    assert DARK.cut in style_sheet(DARK)


def test_icons_are_drawn_in_the_colour_asked_for(qapp):
    for name in ("pattern", "lay", "buy", "cut", "undo", "pin", "theme"):
        image = pixmap(name, "#ff0000", 24, 2.0).toImage()
        inked = [
            image.pixelColor(x, y)
            for x in range(image.width())
            for y in range(image.height())
            if image.pixelColor(x, y).alpha() > 200
        ]
        assert len(inked) > 20, name
        assert all(c.red() > 200 and c.green() < 60 for c in inked)
        assert not icon(name, "#00ff00").isNull()
    assert icon_file("check", "#123456").endswith(".svg")


# Settings


def test_settings_remember(tmp_path):
    first = Settings(tmp_path / "c" / "settings.ini")
    assert (first.dark, first.unit, first.recent) == (False, LengthUnit.MM, [])
    first.dark, first.unit = True, LengthUnit.INCH
    first.set_flag("card-folded", on=True)
    first.keep_window(QByteArray(b"geometry"), "buy")
    paths = []
    for k in range(MOST_RECENT + 3):
        path = tmp_path / f"p{k}.ivq"
        path.write_text("x")
        first.add_recent(path)
        paths.append(path)
    first.add_recent(paths[5])
    first.sync()
    again = Settings(tmp_path / "c" / "settings.ini")
    assert again.dark
    assert again.unit is LengthUnit.INCH
    assert again.flag("card-folded")
    assert not again.flag("never-set")
    assert again.window()[1] == "buy"
    assert len(again.recent) == MOST_RECENT
    assert again.recent[0] == paths[5]
    paths[5].unlink()
    assert paths[5] not in again.recent


def test_damaged_settings_fall_back_to_defaults(tmp_path):
    path = tmp_path / "settings.ini"
    path.write_text("[General]\nunit=furlong\ntheme=purple\ngeometry=nonsense\n")
    found = Settings(path)
    assert (found.unit, found.dark) == (LengthUnit.MM, False)
    found.window()


# Paths


@random_cases(40, 400)
@given(shapes(), poses)
def test_moving_a_path_is_the_same_as_moving_the_shape(shape, pose):
    moved = placed_path(shape, pose).boundingRect()
    x0, y0, x1, y1 = shape.placed(pose).bounds
    assert moved.left() == pytest.approx(x0, abs=0.2)
    assert moved.right() == pytest.approx(x1, abs=0.2)
    assert moved.top() == pytest.approx(-y1, abs=0.2)
    assert moved.bottom() == pytest.approx(-y0, abs=0.2)
    point = pose_transform(pose).map(QPointF(3.0, -4.0))
    x, y = pose.apply(np.array([[3.0, 4.0]]))[0]
    assert (point.x(), point.y()) == pytest.approx((x, -y), abs=1e-6)


@random_cases(40, 400)
@given(shapes(), poses)
def test_labels_stand_on_the_placed_foam(shape, pose):
    at, room = label_place(shape, pose)
    from shapely import Point

    assume(room > 0)
    assert shape.placed(pose).polygon.buffer(1e-3).covers(Point(at.x(), -at.y()))


def test_paths_for_the_eye_stay_within_a_twentieth_of_a_millimetre():
    from ivory_quilt.core.geometry.curves import circle

    disc = Shape.make(circle((0, 0), 100))
    path = shape_path(disc)
    assert path.elementCount() < len(disc.outer)
    for k in range(path.elementCount()):
        element = path.elementAt(k)
        assert np.hypot(element.x, element.y) == pytest.approx(100, abs=0.06)


def test_words_break_into_two_lines_or_are_left_out(qapp):
    assert broken_words("knee", 200.0) == ("knee",)
    assert broken_words("wing case under-plate", 90.0) == ("wing case", "under-plate")
    assert broken_words("unbreakable", 10.0) == ()


def test_a_foam_item_shows_what_it_is_told(qapp):
    line = PieceLine(LineKind.SCORE, np.array([[10.0, 10.0], [90.0, 10.0]]))
    item = FoamItem(rectangle(100, 60), 6.0, LIGHT, "plate", "left", (line,), Pose(5, 5, 90))
    box = item.boundingRect()
    assert (box.width(), box.height()) == pytest.approx((64, 104))
    assert "plate" in item.toolTip()
    item.set_pose(Pose(0, 0))
    assert item.boundingRect().width() == pytest.approx(104)
    assert item.shape().contains(QPointF(50, -30))


# The quilt


def laid_plan(count):
    from ivory_quilt.core.nesting.engine import Limit, lay

    project = Project("Q", (Piece("a", "a", rectangle(300, 200), count=count),))
    stock = ShopStock(
        (
            sheet("half", "6 mm half sheet", EVA6, (1000, 500), owned=1, price=Decimal(9)),
            sheet(
                "roll", "roll", EVA6, (5000, 400), kind=StockKind.ROLL, owned=0, price=Decimal(9)
            ),
        )
    )
    plan = derive(project, stock)
    job = plan.foams[0].job
    result = lay(job, limit=Limit(steps=0), clock=lambda: 0.0)
    return derive(project, stock, {EVA6: Proposal(job, result)}, plan)


@pytest.mark.parametrize("aspect", [0.6, 1.5, 3.0])
@pytest.mark.parametrize("count", [1, 9, 30])
def test_sheets_of_the_quilt_never_overlap(count, aspect):
    plan = laid_plan(count)
    found = quilt(plan, aspect)
    assert len(found.sheets) == len(plan.foams[0].result.stock)
    placed = [(s.rest or s.shape).placed(Pose(*s.origin)) for s in found.sheets]
    for i, one in enumerate(placed):
        for other in placed[i + 1 :]:
            assert one.polygon.distance(other.polygon) > 10
    assert all("6 mm" in s.title for s in found.sheets)
    assert all("used" in s.note for s in found.sheets)


@random_cases(40, 400)
@given(shapes(), poses, st.floats(0, 359), st.booleans())
def test_turning_about_the_centre_keeps_it_in_place(shape, pose, rotation, mirrored):
    turned = about_centre(shape, pose, rotation, mirrored=mirrored)
    centre = np.array([shape.centroid])
    assert turned.apply(centre)[0] == pytest.approx(pose.apply(centre)[0], abs=1e-6)
    assert (turned.rotation, turned.mirrored) == (rotation, mirrored)


def test_the_curve_shows_cost_or_where_that_stays_the_waste(qtbot):
    curve = CostCurve()
    qtbot.addWidget(curve)
    curve.show_run(((0.1, Decimal(9), 0.5), (0.6, Decimal(7), 0.6)), Decimal(5), LIGHT)
    assert curve.values == [9.0, 7.0]
    assert not curve.grab().toImage().allGray()  # steps in ink, the bound in its own colour
    curve.show_run(((0.1, Decimal(9), 0.5), (0.6, Decimal(9), 0.75)), Decimal(9), LIGHT)
    assert curve.values == pytest.approx([0.5, 0.25])
