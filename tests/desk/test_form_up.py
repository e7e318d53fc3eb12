"""Form-up in Build: the group of a piece stands in space, strain and seams told, on a former."""

import numpy as np
import pytest
import trimesh
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest
from PySide6.QtWidgets import QLabel

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.measure.body import BodyPart
from ivory_quilt.core.measure.wearer import Measure, Wearer
from ivory_quilt.core.pattern.edges import edges_of
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.seams import EdgeRef, Seam
from ivory_quilt.core.record import replace
from ivory_quilt.desk.stations.build.presenter import BuildMode
from ivory_quilt.desk.widgets.label_list import LabelList
from tests.desk.conftest import let_run


def sleeve(name="sleeve", other=None):
    """Return a project: a rectangle closed to a tube, or two plates side by side."""
    piece = Piece("a", name, rectangle(300, 90), thickness=6.0)
    edges = [e.name for e in edges_of(piece)]
    if other is None:
        return Project(
            pieces=(piece,), seams=(Seam(EdgeRef("a", edges[1]), EdgeRef("a", edges[3])),)
        )
    second = Piece("b", "cuff", rectangle(other, 60), thickness=6.0)
    seam = Seam(EdgeRef("a", edges[2]), EdgeRef("b", edges[0]))
    return Project(pieces=(piece, second), seams=(seam,))


@pytest.fixture
def station(make_desk):
    desk = make_desk(sleeve(), fill=False)
    desk.window.go("build")
    made = desk.window.building
    made.desk = desk
    made.form_up.edge = 14.0
    made.open("a")
    made.go_to(BuildMode.FORM_UP)
    formed(made)
    return made


def formed(station, seconds=40):
    p = station.form_up
    assert let_run(lambda: not p.running, seconds), "still forming"
    let_run()
    return p.shape


def said(station):
    card = station.form_up_card
    labels = [x.text() for x in card.findChildren(QLabel) if x.isVisibleTo(station)]
    lists = [x for x in card.findChildren(LabelList) if x.isVisibleTo(station)]
    return labels + [line.text for one in lists for line in one.lines]


def test_a_seam_closes_a_flat_piece_to_a_tube_and_says_its_strain(station):
    shape = station.form_up.shape
    # Drawn on the body: the middle of 6 mm foam lies 3 mm further out.
    assert shape.size[1] == pytest.approx(300 / np.pi + 6, rel=0.01)
    assert station.upper.currentWidget() is station.form_up_pane
    assert not station.section.isVisible()
    assert let_run(lambda: station.form_up_pane.solid.shows, 10)
    assert station.form_up_card.strain.text() == "none to speak of"
    assert let_run(lambda: "90 and 90 mm, 180°" in said(station), 5), " | ".join(said(station)[6:])


def test_an_edit_of_the_piece_forms_it_anew_and_undo_brings_it_back(station):
    before = station.form_up.shape
    session = station.session
    session.edit("Wider", lambda p: sleeve("wide sleeve"))
    formed(station)
    session.start(sleeve(other=330))
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    shape = formed(station)
    assert shape is not before
    assert len(shape.panels) == 2
    assert let_run(lambda: any("It pulls" in t for t in said(station)), 5)
    assert station.form_up_card.strain.text().endswith("%")


def test_it_is_pressed_on_a_ball_a_cylinder_and_a_body_from_a_file(station, tmp_path):
    card, p = station.form_up_card.former, station.form_up
    index = [card.kind.itemData(k) for k in range(card.kind.count())].index(FormerKind.CYLINDER)
    card.kind.setCurrentIndex(index)
    card.kind.activated.emit(index)
    card.radius.type("60 mm")
    shape = formed(station)
    assert (p.choice.former, p.choice.radius) == (FormerKind.CYLINDER, 60.0)
    # A tube of 47.7 mm is stretched over 60 mm: it says by how much.
    assert shape.strain.p99 > 0.1
    card.radius.type("1 mm")
    assert "5 to 2000 mm" in card.error.text()
    assert p.choice.radius == 60.0
    trimesh.creation.icosphere(subdivisions=2, radius=30.0).export(tmp_path / "fist.stl")
    p.read_body(tmp_path / "fist.stl")
    assert formed(station) is not None
    assert p.choice.former is FormerKind.BODY
    assert card.body.text() == "fist.stl"


def test_it_is_pressed_on_a_part_of_the_wearers_body(station):
    card, p = station.form_up_card.former, station.form_up
    p.press_on(FormerKind.WEARER)
    assert let_run(lambda: any("no wearer" in t for t in said(station)), 5)
    forearm = (("wrist", 170.0), ("forearm", 265.0), ("elbow", 270.0), ("arm", 600.0))
    wearer = Wearer("w", "lamplighter", tuple(Measure(k, v) for k, v in forearm))
    station.session.edit("Wearer", lambda q: replace(q, wearers=(wearer,)))
    assert let_run(lambda: any("no 'head'" in t for t in said(station)), 5)
    p.wear("w", BodyPart.FOREARM)
    shape = formed(station)
    assert shape is not None
    assert p.problem == ""
    assert (card.wearer.currentText(), card.part.value) == ("lamplighter", BodyPart.FOREARM)
    # The tube of 300 mm lies around an arm of 170 to 270 mm: nothing of it is stretched.
    assert shape.strain.p99 < 0.06


def test_what_cannot_be_is_said_and_another_piece_still_goes(station):
    project = sleeve(other=300)
    turned = Seam(project.seams[0].first, project.seams[0].second, turned=True)
    twisted = Project(pieces=project.pieces, seams=(*project.seams, turned))
    station.session.start(twisted)
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    assert let_run(lambda: "twists" in station.form_up.problem, 30)
    assert station.form_up.shape is None
    assert let_run(lambda: station.form_up.problem in said(station), 5)
    assert not station.form_up_card.export.isEnabled()
    station.session.start(sleeve())
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    assert formed(station) is not None


def test_the_shape_is_written_and_a_flat_panel_is_clicked(station, tmp_path):
    station.form_up.export(tmp_path / "tube.obj")
    assert trimesh.load_mesh(tmp_path / "tube.obj").area == pytest.approx(
        (300 + 6 * np.pi) * 90, rel=0.01
    )
    station.session.start(sleeve(other=300))
    station.open("a")
    station.go_to(BuildMode.FORM_UP)
    formed(station)
    let_run(lambda: len(station.form_up_pane.flat_group._places) == 2, 5)
    place = station.form_up_pane.flat_group._places[1].center()
    spot = QPoint(round(place.x()), round(place.y()))
    QTest.mouseClick(station.form_up_pane.flat_group, Qt.MouseButton.LeftButton, pos=spot)
    assert station.presenter.piece_id == "b"


def test_going_back_to_a_form_shows_the_single_piece(station):
    station.go_to(BuildMode.FORM)
    assert station.upper.currentIndex() == 0
    assert station.section.isVisible()
    station.desk.act("build-form-up")
    assert station.presenter.mode is BuildMode.FORM_UP
