"""The page table in a real window: pages joined by marks, by hand, brought in or traced."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.desk.stations.pattern.modes import PatternMode
from ivory_quilt.desk.stations.pattern.pages.table import _scene
from tests.desk.conftest import let_run
from tests.files.test_pages import CELLS, pattern, scanned, six_page_pdf

LEFT = Qt.MouseButton.LeftButton


@pytest.fixture(scope="module")
def pdf(tmp_path_factory):
    path = tmp_path_factory.mktemp("pages") / "six.pdf"
    path.write_bytes(six_page_pdf(clipped=True))
    return path


def waiting(desk):
    assert let_run(lambda: desk.pattern.presenter.pages is not None, 30)
    let_run()
    return desk.pattern.presenter.pages


def test_a_pdf_with_marks_comes_to_the_page_table_and_in_as_a_whole(empty_desk, pdf):
    desk = empty_desk
    desk.window.drawings.read_files([pdf])
    found = waiting(desk)
    assert desk.pattern.mode is PatternMode.PAGES
    assert found.summary().startswith("All 6 pages are joined")
    assert desk.pattern.pages.card.joins.count() == 7
    QTest.mouseClick(desk.pattern.pages.card.take, LEFT)
    assert let_run(lambda: desk.pattern.presenter.pages is None, 20)
    pieces = desk.session.project.pieces
    assert sorted(round(p.shape.area) for p in pieces) == sorted(round(s.area) for s in pattern())
    assert desk.pattern.mode is PatternMode.BOARD
    desk.act("undo")
    assert desk.session.project.pieces == ()


def test_pages_can_be_read_singly_or_left(empty_desk, pdf):
    desk = empty_desk
    desk.window.drawings.read_files([pdf])
    waiting(desk)
    QTest.mouseClick(desk.pattern.pages.card.singly, LEFT)
    let_run(lambda: desk.pattern.presenter.pages is None, 20)
    assert len(desk.session.project.pieces) > 2  # outlines end where pages end
    desk.window.drawings.read_files([pdf])
    waiting(desk)
    desk.pattern.pages.leave()
    assert desk.pattern.presenter.pages is None


def test_two_points_on_each_page_join_pages_by_hand(empty_desk, tmp_path):
    import io

    from reportlab.pdfgen.canvas import Canvas

    mm = 72 / 25.4
    out = io.BytesIO()
    canvas = Canvas(out, pagesize=(200 * mm, 200 * mm))
    # A bar from 100 to 300 mm over two pages without marks, cut off at the pages' edges.
    for page in range(2):
        left, right = (100, 200) if page == 0 else (0, 100)
        canvas.line(left * mm, 60 * mm, right * mm, 60 * mm)
        canvas.line(left * mm, 140 * mm, right * mm, 140 * mm)
        end = left if page == 0 else right
        canvas.line(end * mm, 60 * mm, end * mm, 140 * mm)
        canvas.showPage()
    canvas.save()
    path = tmp_path / "two.pdf"
    path.write_bytes(out.getvalue())
    desk = empty_desk
    desk.window.drawings.join_files([path])
    found = waiting(desk)
    assert found.placed.joined == 0
    card, table = desk.pattern.pages.card, desk.pattern.pages.table
    assert not card.take.isEnabled()
    for page, at in ((0, (200, 60)), (0, (200, 140)), (1, (0, 60)), (1, (0, 140))):
        pose = found.shown_at()[page]
        x = at[0] - 0.2 if page == 0 else at[0] + 0.2
        spot = table.mapFromScene(_scene(pose, (x, at[1])))
        QTest.mouseClick(table.viewport(), LEFT, pos=spot)
        let_run()
    assert found.placed.joined == 2
    assert found.placed.residual < 2.0  # a hand's click on a screen
    QTest.mouseClick(card.take, LEFT)
    assert let_run(lambda: bool(desk.session.project.pieces), 20)
    (piece,) = desk.session.project.pieces
    assert piece.shape.area == pytest.approx(200 * 80, rel=0.02)


def test_points_that_make_no_join_are_refused_in_words(empty_desk, pdf):
    desk = empty_desk
    desk.window.drawings.read_files([pdf])
    found = waiting(desk)
    for page, at in ((0, (20, 20)), (0, (20, 200)), (1, (20, 20))):
        found.click(page, at)
    assert "second point" in found.next_step()
    pose = found.shown_at()[1]
    table = desk.pattern.pages.table
    desk.pattern.refresh()
    place = table.mapFromScene(_scene(pose, (25, 90)))
    QTest.mouseClick(table.viewport(), LEFT, pos=place)
    let_run()
    assert "the same two places on both pages" in desk.pattern.pages.card.error.text()
    assert found.clicks == []
    found.click(0, (20, 20))
    found.click(1, (30, 30))  # another page: begun anew there
    assert found.clicks == [(1, (30, 30))]


def test_scans_are_joined_and_then_traced(empty_desk, tmp_path):
    desk = empty_desk
    paths = []
    for k, (column, row) in enumerate(CELLS):
        path = tmp_path / f"s{k}.png"
        path.write_bytes(scanned(column, row, 75, 0.4 * (k % 3) - 0.4, k))
        paths.append(path)
    desk.window.drawings.join_files(paths)
    waiting(desk)
    card = desk.pattern.pages.card
    card.dpi.setText("many")
    card.dpi.editingFinished.emit()
    assert "resolution" in card.error.text()
    card.dpi.setText("75")
    card.dpi.editingFinished.emit()
    assert let_run(lambda: desk.pattern.presenter.pages.pages[0].width > 200, 30)
    assert desk.pattern.presenter.pages.placed.joined == 6
    let_run()
    QTest.mouseClick(card.take, LEFT)
    assert let_run(lambda: bool(desk.pattern.traces.cards), 40)
    trace = desk.pattern.traces.cards[0]
    assert let_run(lambda: not trace.found.busy and not trace._timer.isActive(), 60)
    assert len(trace.found.pieces) == 2
    QTest.mouseClick(trace.take, LEFT)
    let_run()
    areas = sorted(p.shape.area for p in desk.session.project.pieces)
    assert areas == pytest.approx(sorted(s.area for s in pattern()), rel=0.01)


def test_mixed_files_are_refused(empty_desk, pdf, tmp_path):
    picture = tmp_path / "a.png"
    picture.write_bytes(scanned(0, 0, 60, 0, 1))
    told = []
    empty_desk.session.told.connect(lambda text, tone: told.append((text, tone)))
    empty_desk.window.drawings.join_files([pdf, picture])
    assert let_run(lambda: bool(told), 20)
    assert "not joined" in told[0][0]
    assert told[0][1] == "cut"


def test_a_pattern_is_written_and_comes_in_again(demo_desk, tmp_path):
    path = tmp_path / "out.dxf"
    many = len(demo_desk.session.project.pieces)
    told = []
    demo_desk.session.told.connect(lambda text, tone: told.append((text, tone)))
    demo_desk.window.drawings.export(path)
    assert let_run(lambda: bool(told), 30)
    assert told[0] == (f"Exported: out.dxf, {many} pieces", "good")
    demo_desk.window.drawings.read_files([path])
    assert let_run(lambda: len(demo_desk.session.project.pieces) == 2 * many, 30)
    fresh = demo_desk.session.project.pieces[many:]
    assert all(isinstance(p, Piece) for p in fresh)
    demo_desk.window.drawings.export(tmp_path / "out.txt")
    assert let_run(lambda: told[-1][1] == "cut", 10)
