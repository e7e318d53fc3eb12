"""What the Cut station asks about papers: paper, halves, the pen, the printer."""

from datetime import date

import numpy as np
import pytest
from PySide6.QtCore import QPoint, Qt
from PySide6.QtTest import QTest

from ivory_quilt.core.document.project import Paper, Project, add_pieces, change_piece
from ivory_quilt.core.geometry.shape import rectangle
from ivory_quilt.core.pattern.part import Foam
from ivory_quilt.core.pattern.piece import CutSide, Piece
from ivory_quilt.core.plan.gauges import gauge_templates
from ivory_quilt.core.record import replace
from ivory_quilt.core.stock.foam_stock import sheet
from ivory_quilt.desk.stations.cut.writing import Output
from ivory_quilt.devices.printer import SimulatedPrinter
from ivory_quilt.devices.scanner import png
from ivory_quilt.files.papers.templates import templates_pdf
from ivory_quilt.files.papers.tiling import plan_pages
from ivory_quilt.files.sheet_files import SheetFormat
from tests.desk.conftest import let_run
from tests.papers import first_layout


@pytest.fixture
def cut(demo_desk):
    demo_desk.act("go-cut")
    demo_desk.cut.printers.today = lambda: date(2026, 3, 1)
    return demo_desk.cut


def choose(box, value):
    index = box.findData(value)
    box.setCurrentIndex(index)
    box.activated.emit(index)
    let_run()


def paged(cut):
    """Wait until the pages that are wanted are laid, and return them."""
    assert let_run(lambda: not cut.presenter.paging.waiting and cut.presenter.pages(), 60)
    return cut.presenter.pages()


def test_larger_paper_needs_fewer_pages(cut):
    before = len(paged(cut))
    figures = dict(cut.presenter.summary())
    assert figures["template pages"] == f"{before} A4"
    assert before <= 45
    assert int(figures["by area alone"].split()[0]) <= before
    choose(cut.paper, Paper.A1)
    assert dict(cut.presenter.summary())["template pages"] == "laying …"
    assert cut.session.project.paper is Paper.A1
    assert len(paged(cut)) < before / 4
    choose(cut.paper, Paper.ROLL_36)
    assert len(paged(cut)) == 1
    assert dict(cut.presenter.summary())["roll, 36 in"].endswith(" m")


def test_while_pages_are_laid_that_is_said_and_other_projects_pages_never_show(cut):
    cut.show_templates.click()
    assert cut.stack.currentWidget() is cut.laying
    assert cut.laying.text() == "Laying templates on pages …"
    paged(cut)
    assert cut.stack.currentWidget() is cut.preview
    strip = Piece("s", "strip", rectangle(300, 10))
    cut.session.start(Project("Other", (strip,)))
    assert cut.presenter.pages() == ()
    assert let_run(lambda: cut.presenter.paging.papers is not None, 30)
    assert cut.laying.text().startswith("All of it are straight strips")
    huge = Piece("h", "huge", rectangle(9000, 9000))
    cut.session.edit("huge", lambda p: add_pieces(p, [huge]))
    assert let_run(lambda: "larger paper, or the piece parted" in cut.laying.text(), 30)


def test_strips_are_printed_when_numbers_are_not_wished(cut):
    paged(cut)
    assert dict(cut.presenter.summary())["strips in numbers"] == "4"
    cut.strips.click()
    assert len(paged(cut)) <= 45
    assert "strips in numbers" not in dict(cut.presenter.summary())


def test_pages_follow_what_the_shop_learns_of_its_foam(cut):
    def shapes():
        return {t.number: t.piece.shape for t in cut.presenter.paging.papers.templates}

    paged(cut)
    before = shapes()
    session = cut.session
    foam = session.stock.material("eva")
    session.store.put_material(replace(foam, book=replace(foam.book, neutral=0.9)))
    session.reload_stock()
    paged(cut)
    changed = [number for number, shape in shapes().items() if before[number] != shape]
    assert changed  # those that are rolled or bent
    assert len(changed) < len(before)


def test_pages_that_are_no_longer_wanted_are_not_waited_for(cut):
    paged(cut)
    for paper in (Paper.A3, Paper.A2, Paper.A4):
        cut.presenter.choose_paper(paper)
    assert {p.size for p in paged(cut)} == {(210.0, 297.0)}


def test_halves_and_the_pen_are_the_projects(cut):
    choose(cut.halves, True)
    assert cut.session.project.halves
    cut.rule.pen.setText("1 mm")
    cut.rule.pen.editingFinished.emit()
    choose(cut.rule.side, CutSide.MIDDLE)
    assert cut.session.project.rule.growth == 0.5
    assert "0.5 mm smaller" in cut.rule.note.text()
    cut.rule.pen.setText("thick")
    cut.rule.pen.editingFinished.emit()
    assert "pen" in cut.rule.error.text()
    assert cut.session.project.rule.pen == 1


def test_a_printer_is_measured_once_and_remembered(cut):
    box = cut.printers
    box.measured.setText("99.2")
    box.remember()
    assert "no name" in box.error.text()
    box.which.setEditText("bench inkjet")
    QTest.keyClick(box.measured, Qt.Key.Key_Return)
    let_run()
    printer = cut.session.store.printer()
    assert (printer.name, printer.measured, printer.date) == ("bench inkjet", 99.2, "2026-03-01")
    assert box.figure.text() == "100.81 %"
    assert "so that bench inkjet prints true" in box.note.text()
    assert cut.presenter.correction == pytest.approx(100 / 99.2)
    box.which.setCurrentIndex(0)
    box.which.activated.emit(0)
    assert cut.presenter.correction == 1
    box.which.setEditText("bench inkjet")
    box.measured.setText("40")
    box.remember()
    assert "20 % off" in box.error.text()


def test_what_is_written_is_corrected(cut, tmp_path):
    import io

    import pdfplumber

    cut.printers.which.setEditText("p")
    cut.printers.measured.setText("98")
    cut.printers.remember()
    place = tmp_path / "t.pdf"
    cut.ask_file = lambda name, kinds: str(place)
    cut.ask(Output.TEMPLATES)
    assert let_run(place.exists, 60)
    let_run(seconds=0.3)
    with pdfplumber.open(io.BytesIO(place.read_bytes())) as document:
        lines = [k for k in document.pages[0].lines if k["top"] == k["bottom"]]
    lengths = [(k["x1"] - k["x0"]) * 25.4 / 72 for k in lines]
    assert any(abs(length - 100 / 0.98) < 0.05 for length in lengths), lengths


@pytest.mark.parametrize("what", [Output.ALL, Output.CUT_PDF, Output.SHEETS, Output.TEMPLATES])
def test_what_is_stopped_leaves_nothing_behind(cut, tmp_path, what):
    folder = tmp_path / "papers"
    folder.mkdir()
    cut.ask_folder = lambda: str(folder)
    cut.ask_file = lambda name, kinds: str(folder / name)
    cut.presenter.paging.forget()
    cut.ask(what)
    assert cut.stop.isVisible()
    cut.stop.click()
    assert let_run(lambda: not cut.stop.isVisible(), 60)
    assert list(folder.iterdir()) == []
    assert "nothing is written" in cut.window().message.text.text()


@pytest.mark.parametrize(
    ("box", "key"), [("lists", "book"), ("prints", "gauges"), ("prints", "masks")]
)
def test_book_gauges_and_masks_are_written_beside_the_window(cut, tmp_path, box, key):
    place = tmp_path / "papers.pdf"
    cut.ask_file = lambda name, kinds: str(place)
    getattr(getattr(cut, box), key).click()
    assert let_run(place.exists, 60)
    let_run(seconds=0.3)
    assert place.read_bytes().startswith(b"%PDF-")


def test_templates_of_the_chosen_pieces_only(demo_desk):
    cut = demo_desk.cut
    demo_desk.act("go-pattern")
    demo_desk.pattern.presenter.selected = ("shin-cuff", "knee-cup")
    demo_desk.act("go-cut")
    choose(cut.which, True)
    assert [p.id for p in cut.presenter.chosen] == ["shin-cuff", "knee-cup"]
    found = paged(cut)
    assert {s.face.template.piece.id for page in found for s in page.spots} == {
        "shin-cuff",
        "knee-cup",
    }
    demo_desk.act("go-pattern")
    demo_desk.pattern.presenter.selected = ("knee-cup",)
    demo_desk.act("go-cut")
    assert [p.id for p in cut.presenter.chosen] == ["knee-cup"]


def test_sheets_for_machines_and_a_trial_on_the_simulated_plotter(make_desk, tmp_path):
    foam = Foam(6.0, "eva")
    pieces = (Piece("plate", "plate", rectangle(180, 90), count=2),)
    desk = make_desk(Project("Plates", pieces), fill=False)
    desk.session.put_stock(sheet("s", "half sheet", foam, (400, 300), owned=1))
    desk.rested()
    desk.act("go-cut")
    cut, box = desk.cut, desk.cut.machines
    assert not box.machine.isVisible()
    choose(box.kind, SheetFormat.HPGL)
    assert box.machine.isVisible()
    assert box.fields["offset"].text() == "0.9 mm"
    box.fields["offset"].type("1.5mm")
    box.speed.type("20 mm/s")
    QTest.mouseClick(box.marks, Qt.MouseButton.LeftButton, pos=QPoint(8, box.marks.height() // 2))
    kept = desk.session.store.plotter()
    assert (kept.offset, kept.speed, kept.marks) == (1.5, 20, True)
    box.fields["thickest"].type("thick")
    assert "cuts foam up to" in box.error.text()
    QTest.mouseClick(box.try_out, Qt.MouseButton.LeftButton)
    assert let_run(lambda: "tried" in box.tried.text(), 30)
    # Two outlines of 540 mm at 20 mm/s: most of a minute.
    assert box.tried.text().startswith("1 sheet tried on the simulated plotter: 1 min of cutting")
    cut.ask_folder = lambda: str(tmp_path)
    QTest.mouseClick(box.save, Qt.MouseButton.LeftButton)
    assert let_run(lambda: "Exported" in desk.window.message.text.text(), 30)
    assert [p.suffix for p in tmp_path.iterdir() if p.is_file()] == [".plt"]
    box.fields["thickest"].type("5 mm")
    assert box.tried.text() == ""
    QTest.mouseClick(box.try_out, Qt.MouseButton.LeftButton)
    assert let_run(lambda: "thicker than the 5 mm" in box.tried.text(), 30)


def test_a_templates_code_tells_whose_it_is_and_whether_it_is_the_present_one(cut, tmp_path):
    paged(cut)
    templates = {t.number: t for t in cut.presenter.paging.papers.templates}
    leg = next(t for t in templates.values() if t.uses[0].piece.id == "shin-cuff")
    box = cut.codes
    box.field.setText(leg.code)
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    assert box.told.text() == f"{leg.number} shin cuff: as it is now."
    box.field.setText("IQ AAAAAA BBBBB")
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    assert let_run(lambda: box.told.text().startswith("Not of this project"), 30)
    card = gauge_templates(cut.session.plan, ["shin-cuff"])[0]
    box.look_up(card.code)
    assert let_run(lambda: box.told.text().endswith(f"{card.piece.name}: as it is now."), 30)
    box.field.setText("hello")
    QTest.keyClick(box.field, Qt.Key.Key_Return)
    assert "a template's, such as" in box.told.text()
    cut.session.edit("thicker", lambda p: change_piece(p, "shin-cuff", thickness=4.0))
    # A photo of a print from before the change.
    page = SimulatedPrinter(dpi=200).print_page(templates_pdf_of(leg))
    photo = tmp_path / "photo.png"
    photo.write_bytes(png(page))
    box.ask_picture = lambda: str(photo)
    box.picture.click()
    assert let_run(lambda: "before its last change" in box.told.text(), 30)
    assert "Print it anew" in cut.window().message.text.text()
    photo.write_bytes(png(np.full((200, 200), 255, dtype=np.uint8)))
    box.picture.click()
    assert let_run(lambda: "No code was found" in box.told.text(), 30)
    photo.write_bytes(b"no picture")
    box.picture.click()
    assert let_run(lambda: "no picture that can be read" in box.told.text(), 30)


def templates_pdf_of(template):
    return templates_pdf(plan_pages([template], Paper.A3, first_layout), "t", {})


def test_a_code_that_is_typed_into_the_palette_is_looked_up(demo_desk):
    code = "IQ AAAAAA BBBBB"
    demo_desk.act("palette")
    palette = demo_desk.window.panels.palette
    QTest.keyClicks(palette.field, code.lower())
    assert palette.list.topLevelItem(0).text(0) == code
    QTest.keyClick(palette.field, Qt.Key.Key_Return)
    assert let_run(lambda: demo_desk.window.station is demo_desk.cut)
    told = demo_desk.cut.codes.told
    assert let_run(lambda: told.text().startswith("Not of this project"), 30)
    demo_desk.act("look-up-code")
    assert demo_desk.window.focusWidget() is demo_desk.cut.codes.field


def test_a_key_piece_is_printed_in_a_few_sizes_to_try_on(cut, tmp_path):
    import io

    import pdfplumber

    place = tmp_path / "trial.pdf"
    cut.ask_file = lambda name, kinds: str(place)
    cut.presenter.chosen_at_pattern = tuple
    cut.prints.trial.click()
    assert let_run(lambda: "no piece is selected" in cut.window().message.text.text(), 30)
    piece = cut.session.project.piece("knee-cup")
    cut.presenter.chosen_at_pattern = lambda: (piece,)
    cut.sizes.setText("")
    QTest.keyClicks(cut.sizes, "90 much")
    cut.prints.trial.click()
    assert "sizes: 'much'" in cut.window().message.text.text()
    cut.sizes.clear()
    QTest.keyClicks(cut.sizes, "90, 110 %")
    cut.prints.trial.click()
    assert let_run(place.exists, 60)
    with pdfplumber.open(io.BytesIO(place.read_bytes())) as document:
        assert len(document.pages) == 2
        written = "".join(c["text"] for page in document.pages for c in page.chars)
        widths = sorted(
            sorted((c["width"] * 25.4 / 72, c["height"] * 25.4 / 72))[0]
            for page in document.pages
            for c in page.curves
            if c["width"] > 200
        )
    assert "knee cup at 90 %" in written
    assert "knee cup at 110 %" in written
    side = min(piece.shape.width, piece.shape.height)
    assert widths == pytest.approx([0.9 * side, 1.1 * side], rel=2e-3)


def test_stickers_are_written_from_the_first_free_label_on(cut, tmp_path):
    import io

    import pdfplumber

    place = tmp_path / "stickers.pdf"
    cut.ask_file = lambda name, kinds: str(place)
    cut.stickers.first.setValue(24)
    cut.stickers.save.click()
    assert let_run(lambda: "109 stickers" in cut.window().message.text.text(), 60)
    with pdfplumber.open(io.BytesIO(place.read_bytes())) as document:
        assert len(document.pages) == 1 + 5
    choose(cut.stickers.of_what, True)
    place.unlink()
    cut.stickers.save.click()
    assert let_run(place.exists, 60)
    cut.codes.look_up("IQ SHELF k3")
    assert cut.codes.told.text().endswith("on the shelf.")
    cut.codes.look_up("IQ SHELF nothing")
    assert cut.codes.told.text() == "nothing is not on the shelf any more."


def test_the_parts_list_is_a_spreadsheet_or_csv(cut, tmp_path):
    kinds = []
    place = tmp_path / "parts.csv"

    def ask(_name, offered):
        kinds.append(offered)
        return str(place)

    cut.ask_file = ask
    cut.lists.parts.click()
    assert let_run(place.exists, 30)
    assert kinds == ["ODS (*.ods);;CSV (*.csv)"]
    assert b"shin cuff" in place.read_bytes()
