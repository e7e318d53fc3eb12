"""An outline edited by hand in a real window: nodes, handles, sides, strokes, a picture beneath."""

import math
from pathlib import Path

import numpy as np
import pytest
from PIL import Image
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.editing.symmetry import axis_of, off_centre
from ivory_quilt.core.pattern.edges import edge_of
from ivory_quilt.core.reading.tracing.follow import Follows
from ivory_quilt.desk.canvas.paths import scene_point
from ivory_quilt.desk.stations.pattern.draft.presenter import Tool
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from ivory_quilt.files.project_file import encode_project
from tests.desk.conftest import let_run

LEFT = Qt.MouseButton.LeftButton
NONE = Qt.KeyboardModifier.NoModifier
SHIFT = Qt.KeyboardModifier.ShiftModifier


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.pattern.presenter.selected = ("hand-plate",)
    demo_desk.pattern.refresh()
    demo_desk.pattern.picked.emit()
    demo_desk.act("draft")
    assert demo_desk.pattern.mode is PatternMode.DRAFT
    demo_desk.pattern.draft.card.hold(Tool.OUTLINE)
    let_run()
    return demo_desk


def outline(desk):
    return desk.pattern.draft.presenter.outline


def piece(desk):
    return desk.session.project.piece(desk.pattern.draft.presenter.piece_id)


def card(desk):
    return desk.pattern.draft.card


def pixel(desk, at):
    table = desk.pattern.draft.table
    return table.mapFromScene(scene_point(at))


def click(desk, at, keys=NONE):
    QTest.mouseClick(desk.pattern.draft.table.viewport(), LEFT, keys, pixel(desk, at))
    let_run()


def drag(desk, start, by, keys=NONE):
    """Drag by a step in pixels."""
    view = desk.pattern.draft.table.viewport()
    at = pixel(desk, start)
    QTest.mousePress(view, LEFT, keys, at)
    for share in (0.3, 0.7, 1.0):
        QTest.mouseMove(view, at + QPoint(round(share * by[0]), round(share * by[1])))
    QTest.mouseRelease(view, LEFT, keys, at + QPoint(*by))
    let_run()


def node(desk, k=0, ring=0):
    return outline(desk).paths()[ring].node(k)


def corner(desk):
    """The corner furthest to the right."""
    path = outline(desk).paths()[0]
    return max(range(len(path)), key=lambda k: path.node(k).at[0])


def test_a_dragged_node_moves_the_outline_and_undo_brings_back_every_byte(desk):
    before = encode_project(desk.session.project)
    k = corner(desk)
    was = node(desk, k).at
    wide = piece(desk).shape.width
    drag(desk, was, (60, -25))
    assert piece(desk).shape.width > wide + 5
    assert outline(desk).chosen
    assert {n.at for n in outline(desk).paths()[0].nodes}.isdisjoint({was})
    desk.act("undo")
    assert encode_project(desk.session.project) == before
    desk.act("redo")
    assert piece(desk).shape.width > wide + 5


def test_a_hand_that_hardly_moves_only_selects(desk):
    project = desk.session.project
    drag(desk, node(desk, corner(desk)).at, (1, 1))
    assert desk.session.project is project
    assert outline(desk).known_nodes() == [(0, corner(desk))]
    assert card(desk).outline.facts.text() == "Corner node"


def test_handles_and_sides_are_dragged(desk):
    path = outline(desk).paths()[0]
    k = next(k for k, n in enumerate(path.nodes) if n.smooth)
    click(desk, node(desk, k).at)
    long = math.dist(node(desk, k).before, node(desk, k).at)
    drag(desk, node(desk, k).after, (30, 18))
    now = outline(desk).paths()[0].node(k)
    assert math.dist(now.before, now.at) == pytest.approx(long)
    area = piece(desk).shape.area
    side = outline(desk).paths()[0].place(k + 0.5)
    drag(desk, side, (-14, 30))
    assert piece(desk).shape.area != pytest.approx(area, rel=1e-3)
    assert "Side, curve" in card(desk).outline.facts.text()


def test_what_crosses_itself_is_shown_and_refused(desk):
    before = desk.session.project
    k = corner(desk)
    view = desk.pattern.draft.table.viewport()
    at = pixel(desk, node(desk, k).at)
    QTest.mousePress(view, LEFT, NONE, at)
    far = QPoint(round(-1.3 * piece(desk).shape.width * desk.pattern.draft.table.scale_now), 60)
    QTest.mouseMove(view, at + far / 2)
    QTest.mouseMove(view, at + far)
    assert "crosses" in outline(desk).problem
    QTest.mouseRelease(view, LEFT, NONE, at + far)
    let_run()
    assert "crosses itself" in card(desk).error.text()
    assert desk.session.project is before


def test_escape_lets_go_of_a_drag(desk):
    before = desk.session.project
    table = desk.pattern.draft.table
    at = pixel(desk, node(desk, corner(desk)).at)
    QTest.mousePress(table.viewport(), LEFT, NONE, at)
    QTest.mouseMove(table.viewport(), at + QPoint(30, 10))
    QTest.mouseMove(table.viewport(), at + QPoint(50, 10))
    assert outline(desk).moving is not None
    QTest.keyClick(table, Qt.Key.Key_Escape)
    QTest.mouseRelease(table.viewport(), LEFT, NONE, at + QPoint(50, 10))
    let_run()
    assert desk.session.project is before


def test_nodes_are_added_taken_out_nudged_and_typed(desk):
    many = len(outline(desk).paths()[0])
    place = outline(desk).paths()[0].place(corner(desk) + 0.5)
    view = desk.pattern.draft.table.viewport()
    QTest.mouseDClick(view, LEFT, NONE, pixel(desk, place))
    let_run()
    assert len(outline(desk).paths()[0]) == many + 1
    (key,) = outline(desk).known_nodes()
    at = node(desk, key[1]).at
    QTest.keyClick(desk.pattern.draft.table, Qt.Key.Key_Right)
    QTest.keyClick(desk.pattern.draft.table, Qt.Key.Key_Up, SHIFT)
    assert node(desk, key[1]).at == pytest.approx((at[0] + 1, at[1] + 10))
    desk.act("undo")  # nudges that follow each other are one edit
    assert node(desk, key[1]).at == pytest.approx(at)
    card(desk).outline.across.type("72 mm")
    assert node(desk, key[1]).at == pytest.approx((72, at[1]), abs=0.01)
    card(desk).outline.across.type("wide")
    assert "across" in card(desk).outline.error.text()
    desk.act("delete")
    assert len(outline(desk).paths()[0]) == many
    assert desk.session.project.piece("hand-plate")


def test_a_side_gets_a_typed_rise_and_is_made_straight(desk):
    path = outline(desk).paths()[0]
    k = max(range(len(path)), key=lambda k: math.dist(path.node(k).at, path.node(k + 1).at))
    click(desk, path.place(k + 0.5))
    card(desk).outline.rise.type("40 mm")  # more than a quarter of a circle
    assert len(outline(desk).known_nodes()) >= 1
    assert outline(desk).rise() is None
    desk.act("undo")
    click(desk, path.place(k + 0.5))
    card(desk).outline.rise.type("6 mm")
    assert outline(desk).rise() == pytest.approx(6, abs=0.01)
    card(desk).outline.rise.type("0")
    assert outline(desk).facts().startswith("Side, straight")
    card(desk).outline.rise.type("nothing")
    assert "rise" in card(desk).outline.error.text()


def test_smooth_and_sharp_by_button_and_several_at_once(desk):
    from PySide6.QtWidgets import QPushButton

    buttons = {b.text(): b for b in card(desk).outline.findChildren(QPushButton)}
    assert not buttons["Smooth"].isEnabled()
    desk.act("select-all")
    assert len(outline(desk).known_nodes()) == len(outline(desk).paths()[0])
    QTest.mouseClick(buttons["Smooth"], LEFT)
    let_run()
    assert all(n.smooth for n in outline(desk).paths()[0].nodes)
    QTest.mouseClick(buttons["Sharp"], LEFT)
    let_run()
    assert not any(n.smooth for n in outline(desk).paths()[0].nodes)


def test_a_box_dragged_over_nothing_selects_nodes(desk):
    x0, y0, x1, y1 = piece(desk).shape.bounds
    view = desk.pattern.draft.table.viewport()
    a, b = pixel(desk, (x0 - 5, y1 + 5)), pixel(desk, ((x0 + x1) / 2, y0 - 5))
    QTest.mousePress(view, LEFT, NONE, a)
    QTest.mouseMove(view, (a + b) / 2)
    QTest.mouseMove(view, b)
    QTest.mouseRelease(view, LEFT, NONE, b)
    let_run()
    chosen = outline(desk).known_nodes()
    assert 2 <= len(chosen) < len(outline(desk).paths()[0])
    assert all(node(desk, k).at[0] <= (x0 + x1) / 2 for _, k in chosen)
    click(desk, (x1 + 20, y1 + 20))
    assert outline(desk).known_nodes() == []


def test_both_sides_alike(desk):
    card(desk).outline.alike.setChecked(True)
    axis = axis_of(piece(desk))
    drag(desk, node(desk, corner(desk)).at, (40, 12), Qt.KeyboardModifier.AltModifier)
    shape = piece(desk).shape
    assert shape.width > 90
    assert off_centre(shape, axis) < 1e-6


def test_seams_that_an_outline_changes_are_told(desk):
    project = desk.session.project
    ref = project.seams[0].first
    start = edge_of(project.piece(ref.piece), ref.edge).start
    desk.pattern.presenter.selected = (ref.piece,)
    desk.pattern.open_draft()
    card(desk).hold(Tool.OUTLINE)
    let_run()
    heard = []
    desk.session.told.connect(lambda text, _tone: heard.append(text))
    drag(desk, start, (40, -20))
    assert "Seam" in heard[-1]


def stroke(desk, points):
    view = desk.pattern.draft.table.viewport()
    places = [pixel(desk, p) for p in points]
    QTest.mousePress(view, LEFT, NONE, places[0])
    for place in places[1:]:
        QTest.mouseMove(view, place)
    QTest.mouseRelease(view, LEFT, NONE, places[-1])
    let_run()


def test_a_stretch_is_redrawn_by_hand(desk):
    card(desk).hold(Tool.REDRAW)
    let_run()
    path = outline(desk).paths()[0]
    k = corner(desk)
    a, b = path.place(k + 0.2), path.place(k + 0.8)
    area = piece(desk).shape.area
    out = [
        (
            a[0] + s * (b[0] - a[0]) + 6 * math.sin(math.pi * s),
            a[1] + s * (b[1] - a[1]) + 6 * math.sin(math.pi * s),
        )
        for s in np.linspace(0, 1, 30).tolist()
    ]
    stroke(desk, out)
    assert card(desk).error.text() == ""
    assert piece(desk).shape.area > area + 50
    stroke(desk, [(-400, -400), (-300, -300)])
    assert "both ends at the outline" in card(desk).error.text()


def test_a_picture_beneath_is_sized_moved_and_followed(desk, tmp_path):
    y, x = np.mgrid[0:600, 0:800].astype(float)
    grey = np.where(np.hypot(x - 400, y - 300) < 200, 70, 220).astype(np.uint8)
    name = tmp_path / "glove.png"
    Image.fromarray(grey).save(name)
    card(desk).hold(Tool.PICTURE)
    box, picture = card(desk).picture, desk.pattern.draft.presenter.picture
    box.ask_file = lambda: str(name)
    box._open()
    let_run(lambda: picture.underlay is not None, 10)
    box.wide.type("200 mm")
    assert picture.underlay.scale == pytest.approx(0.25)
    # A line of Shift over the disc's width, which is really 80 mm.
    middle = picture.underlay.middle
    drag(desk, (middle[0] - 30, middle[1]), (20, 0))
    moved = picture.underlay.middle
    assert moved[0] > middle[0] + 1
    picture.known = ((moved[0] - 50, moved[1]), (moved[0] + 50, moved[1]))
    card(desk).fill()
    box.known.type("80 mm")
    assert picture.underlay.scale == pytest.approx(0.2)
    box.turn.type("15°")
    assert picture.underlay.turn == 15
    box.turn.type("much")
    assert "turn" in box.error.text()
    # The piece becomes the disc, drawn with an unsteady hand.
    card(desk).hold(Tool.REDRAW)
    picture.follows = Follows.EDGE
    under = picture.underlay
    t = np.linspace(0, 2 * math.pi, 90)
    r = 200 + 5 * np.sin(7 * t)
    pixels = np.column_stack((400 + r * np.cos(t), 300 + r * np.sin(t)))
    start = np.array(under.millimetres(pixels)[0])
    picture.lay(under.moved(tuple(np.array(outline(desk).paths()[0].place(0.3)) - start)))
    stroke(desk, [tuple(p) for p in picture.underlay.millimetres(pixels).tolist()])
    assert card(desk).error.text() == ""
    assert piece(desk).shape.area == pytest.approx(math.pi * 40**2, rel=0.02)
    box._close()
    assert picture.underlay is None


def test_a_picture_that_is_none_is_said(desk, tmp_path):
    name = Path(tmp_path / "none.png")
    name.write_bytes(b"no picture")
    card(desk).hold(Tool.PICTURE)
    card(desk).picture.ask_file = lambda: str(name)
    card(desk).picture._open()
    let_run(lambda: card(desk).picture.error.text() != "", 10)
    assert "no picture" in card(desk).picture.error.text()


def test_fewer_nodes(desk):
    many = len(outline(desk).paths()[0])
    box = card(desk).outline
    box.within.setText("30 mm")
    box._simplify()
    assert "0.01 to 20 mm" in box.error.text()
    box.within.setText("3 mm")
    box._simplify()
    assert len(outline(desk).paths()[0]) <= many


def test_a_hole_all_of_whose_nodes_are_selected_goes(desk):
    desk.pattern.presenter.selected = ("shin-cuff",)
    desk.pattern.open_draft()
    card(desk).hold(Tool.OUTLINE)
    let_run()
    holes = len(piece(desk).shape.holes)
    path = outline(desk).paths()[1]
    outline(desk).chosen = frozenset((1, k) for k in range(len(path)))
    desk.act("delete")
    assert len(piece(desk).shape.holes) == holes - 1
    # Nodes of the outline and of holes are not dragged together: the others are let go.
    desk.act("select-all")
    drag(desk, node(desk, 0).at, (12, 8))
    assert {ring for ring, _ in outline(desk).known_nodes()} == {0}
    desk.act("undo")
    desk.act("undo")
    assert len(piece(desk).shape.holes) == holes
