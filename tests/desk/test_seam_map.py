"""The seam map in a real window: pairing by clicks, offers, verdicts, match marks."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.project import scale_pieces
from ivory_quilt.core.pattern.edges import edge_line, edge_of
from ivory_quilt.core.pattern.seams import EdgeRef, SeamVerdict
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from ivory_quilt.desk.stations.pattern.seams.presenter import verdict_words
from tests.desk.conftest import let_run

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture
def desk(demo_desk):
    demo_desk.act("go-pattern")
    demo_desk.act("seams")
    assert demo_desk.pattern.mode is PatternMode.SEAMS
    return demo_desk


def place(desk):
    return desk.pattern.seams


def click_edge(desk, piece_id, name):
    seams = place(desk)
    seams.map.fit()
    piece = desk.session.project.piece(piece_id)
    line = edge_line(piece, edge_of(piece, name))
    x, y = line[len(line) // 2] if len(line) > 2 else line.mean(axis=0)
    at = seams.map.mapFromScene(seams.map._scene(EdgeRef(piece_id, name), (float(x), float(y))))
    QTest.mouseClick(seams.map.viewport(), LEFT, pos=at)
    let_run()


def test_the_demos_seams_are_counted(desk):
    assert place(desk).card.summary.text() == "7 seams: 5 sit, 2 to be eased."


def test_two_clicks_make_a_seam_to_look_at_and_a_button_joins_it(desk):
    card = place(desk).card
    click_edge(desk, "forearm-cuff", "B")
    assert "click the edge it meets" in card.summary.text()
    click_edge(desk, "forearm-cuff", "D")
    assert len(desk.session.project.seams) == 7  # only looked at
    assert card.name.text() == "forearm cuff B to forearm cuff D"
    assert card.verdict.text().startswith("Sits")
    QTest.mouseClick(card.join, LEFT)
    let_run()
    assert len(desk.session.project.seams) == 8
    QTest.mouseClick(card.evenly, LEFT)
    let_run()
    marks = desk.session.project.piece("forearm-cuff").match_marks
    assert len(marks) == 6
    assert place(desk).presenter.fit(place(desk).presenter.chosen).marks_meet
    QTest.mouseClick(card.open, LEFT)
    let_run()
    assert len(desk.session.project.seams) == 7
    assert "Remove forearm cuff" in desk.session.undo_label


def test_a_click_beside_everything_lets_go(desk):
    click_edge(desk, "forearm-cuff", "B")
    place(desk).presenter.click(None)
    assert place(desk).presenter.first is None


def test_a_click_on_a_seam_takes_it_in_hand(desk):
    click_edge(desk, "shoulder-cap-crown", "C")
    chosen = place(desk).presenter.chosen
    assert chosen.touches(EdgeRef("shoulder-cap-crown", "C"))
    slip = place(desk).card.figure.open_slip()
    assert slip is not None
    slip.close()
    locally = place(desk).card.locally
    QTest.mouseClick(locally, LEFT)
    let_run()
    sections = place(desk).presenter.fit(chosen).sections()
    assert sections[0][0] == pytest.approx(sections[0][1], abs=0.1)
    assert abs(sections[1][0] - sections[1][1]) > 1


def test_offers_are_accepted_or_left(desk):
    card, presenter = place(desk).card, place(desk).presenter
    QTest.mouseClick(card.look, LEFT)
    assert let_run(lambda: bool(presenter.proposals), 20)
    offers = presenter.proposals
    assert len(offers) >= 2
    presenter.leave(offers[0])
    presenter.look()
    assert offers[0].seam not in [p.seam for p in presenter.proposals]
    presenter.accept_all()
    assert len(desk.session.project.seams) == 7 + len(offers) - 1
    assert desk.session.undo_label.startswith("Join")
    desk.act("undo")
    assert len(desk.session.project.seams) == 7


def test_a_seam_that_no_longer_fits_is_told_and_led_to(desk):
    desk.session.edit("x", lambda p: scale_pieces(p, ["shoulder-cap-back"], 1.2))
    let_run()
    assert "2 do not fit" in place(desk).card.summary.text()
    desk.act("board")
    assert let_run(
        lambda: any(f.code == "seam-mismatch" for f in desk.pattern.presenter.findings), 20
    )
    finding = next(f for f in desk.pattern.presenter.findings if f.code == "seam-mismatch")
    desk.pattern._go_to(finding)
    let_run()
    assert desk.pattern.mode is PatternMode.SEAMS
    assert place(desk).presenter.chosen == finding.seam
    assert place(desk).card.verdict.text().startswith("Does not fit")


def test_verdicts_never_speak_by_colour_alone(desk):
    for entry in place(desk).presenter.book:
        words, tone = verdict_words(entry.fit)
        assert words.split(":")[0] in [v.value for v in SeamVerdict]
        assert tone in ("good", "heat", "cut")
    assert verdict_words(None) == ("an edge is gone", "cut")


def test_turning_a_seam_walks_it_the_other_way(desk):
    presenter = place(desk).presenter
    presenter.chosen = desk.session.project.seams[0]
    before = presenter.fit(presenter.chosen)
    presenter.turn()
    assert presenter.chosen.turned
    after = presenter.fit(presenter.chosen)
    # What landed a way from one end of the second edge lands as far from its other end.
    whole = before.second
    assert [m.at for m in after.landings] == pytest.approx([m.at for m in before.landings])
    assert [m.lands for m in after.landings] == [m.lands for m in before.landings]
    assert sorted(m.meets for m in after.landings) == pytest.approx(
        sorted(whole - m.meets for m in before.landings)
    )


def test_how_much_can_be_eased_is_the_makers_to_say(desk):
    card = place(desk).card
    assert card.ease.text() == "2"
    card.ease.setText("0.5")
    card.ease.editingFinished.emit()
    let_run()
    assert desk.session.project.ease == 0.5
    assert card.summary.text() == "7 seams: 5 sit, 2 do not fit."
    card.ease.setText("90")
    card.ease.editingFinished.emit()
    assert desk.session.project.ease == 0.5
    assert "0 to 20 %" in card.error.text()
    assert card.error.isVisibleTo(desk.window)
    desk.act("undo")
    assert desk.session.project.ease == 2


def test_the_pointer_is_told_what_it_is_on(desk):
    seams = place(desk)
    seams.map.hovered.emit("shin cuff, edge B: 310.9 mm")
    assert seams.map.toolTip() == "shin cuff, edge B: 310.9 mm"
