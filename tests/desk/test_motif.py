"""Line ornament in Draft: opened, set along an edge, carved."""

import pytest

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.surface import SurfaceKind
from ivory_quilt.desk.work import at_once

WAVE = (
    '<svg xmlns="http://www.w3.org/2000/svg" width="40mm" height="10mm" viewBox="0 0 40 10">'
    '<path d="M0 5 C10 -5 10 -5 20 5 S30 15 40 5" fill="none" stroke="black"/>'
    '<circle cx="20" cy="5" r="2" fill="none" stroke="black"/></svg>'
)


@pytest.fixture
def draft(make_desk):
    desk = make_desk(fill=False)
    station = desk.window.stations["pattern"]
    station.reader = at_once
    desk.window.session.start(Project(pieces=(Piece("p", "plate", rectangle(300, 100)),)))
    desk.window.go("pattern")
    station.presenter.selected = ("p",)
    station.open_draft()
    return station.draft


def piece(draft):
    return draft.presenter.piece


def test_a_drawing_is_run_along_an_edge_and_carved(draft, tmp_path):
    box = draft.card.motif
    assert not box.body.isVisibleTo(box)
    file = tmp_path / "wave.svg"
    file.write_text(WAVE)
    box.ask_file = lambda: str(file)
    box.open_button.click()
    assert "2 strokes" in box.name.text()
    box.where.setCurrentIndex(box.where.findText("along edge A"))
    box._show()
    assert box.run_lines[0].isVisibleTo(box)
    box.count.setValue(5)
    box.inset.setText("25 mm")
    box.deep.setText("1.5 mm")
    box.add()
    assert box.error.text() == ""
    assert len(piece(draft).lines) == 10
    (work,) = piece(draft).build.works
    assert (work.kind, work.depth, work.region.words) == (SurfaceKind.CARVE, 1.5, "line 1 2 mm")
    box.where.setCurrentIndex(box.where.findText("in the middle"))
    box.deep.setText("0")
    box.wide.setText("900")
    box.add()
    assert len(piece(draft).lines) > 10
    assert len(piece(draft).build.works) == 1
    draft.presenter.session.undo()
    draft.presenter.session.undo()
    assert piece(draft).lines == ()


def test_what_is_no_drawing_is_said(draft, tmp_path):
    box = draft.card.motif
    for name, text, said in (
        ("a.svg", "nothing", "a.svg"),
        ("b.dxf", WAVE, "SVG"),
        ("c.svg", '<svg xmlns="http://www.w3.org/2000/svg"/>', "no strokes"),
    ):
        file = tmp_path / name
        file.write_text(text)
        box.ask_file = lambda file=file: str(file)
        box.open_button.click()
        assert said in box.error.text()
    box.add()
    assert "no drawing is open" in box.error.text()
