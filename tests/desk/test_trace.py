"""Scans and photos at the Pattern station: how large, which side of the ink, what was found."""

import pytest
from PySide6.QtCore import Qt
from PySide6.QtGui import QColor
from PySide6.QtTest import QTest

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape, rectangle
from ivory_quilt.core.reading.tracing.picture import Ink, LoadedPicture
from ivory_quilt.demo.practice import drawn_on, practice_names, practice_picture, take
from ivory_quilt.desk.imports.picture import (
    PictureImport,
    ScaleBy,
    TraceChoices,
    first_choices,
)
from ivory_quilt.desk.stations.pattern.trace_panel import OWN
from ivory_quilt.devices.scanner import ScanConditions, png, scan
from ivory_quilt.files.picture_read import load_picture
from tests.desk.conftest import let_run

PLATE = Shape.make([(20, 20), (70, 20), (70, 50), (20, 50)])
FLAT = png(scan([PLATE], (90.0, 70.0), ScanConditions(dpi=150.0, pen=1.0), 3))


def wait_for(desk):
    assert let_run(lambda: bool(desk.pattern.traces.cards), 30)
    card = desk.pattern.traces.cards[0]
    assert let_run(lambda: not card.found.busy and not card._timer.isActive(), 60)
    return card


def choose(box, value):
    index = box.findData(value)
    box.setCurrentIndex(index)
    box.activated.emit(index)


def type_in(field, text):
    field.clear()
    QTest.keyClicks(field, text)


@pytest.fixture
def flat(empty_desk, tmp_path):
    path = tmp_path / "plate.png"
    path.write_bytes(FLAT)
    empty_desk.window.drawings.read_files([path])
    return empty_desk


@pytest.mark.parametrize("name", practice_names())
def test_the_practice_pictures_trace_to_their_true_outlines(empty_desk, tmp_path, name):
    path = tmp_path / name
    path.write_bytes(practice_picture(name))
    empty_desk.window.drawings.read_files([path])
    card = wait_for(empty_desk)
    assert card.error.text() == ""
    QTest.mouseClick(card.take, Qt.MouseButton.LeftButton)
    let_run()
    true = sorted(s.area for s in drawn_on(name).values())
    found = sorted(p.shape.area for p in empty_desk.session.project.pieces)
    assert found == pytest.approx(true, rel=0.01)
    assert not empty_desk.pattern.traces.cards
    assert empty_desk.session.history == [f"Import {name}"]


def test_the_shipped_pictures_are_the_simulated_phones():
    for name in practice_names():
        shipped = load_picture(practice_picture(name), name).grey.astype(int)
        made = take(name).astype(int)
        assert shipped.shape == made.shape
        assert abs(shipped - made).mean() < 6  # JPEG is not exact


def test_a_scan_of_unstated_size_is_settled_by_its_resolution(flat):
    card = wait_for(flat)
    assert "no whole sheet" in card.error.text()
    assert not card.take.isEnabled()
    choose(card.scale_by, ScaleBy.DPI)
    type_in(card.dpi, "150")
    card = wait_for(flat)
    assert card.found.pieces[0].shape.area == pytest.approx(1500, rel=0.01)
    assert card.take.text() == "Import 1 piece"
    assert "50" in card.summary.text()


def test_one_known_length_settles_it_too(flat):
    card = wait_for(flat)
    choose(card.scale_by, ScaleBy.KNOWN)
    assert let_run(lambda: "length" in card.error.text(), 10)
    type_in(card.pixels, f"{50 * 150 / 25.4:.2f}")
    type_in(card.real, "5 cm")
    card = wait_for(flat)
    assert card.found.pieces[0].shape.width == pytest.approx(50, abs=0.2)


def test_the_inks_side_and_the_threshold_change_what_is_found(flat):
    card = wait_for(flat)
    choose(card.scale_by, ScaleBy.DPI)
    type_in(card.dpi, "150")
    middle = wait_for(flat).found.pieces[0].shape.area
    choose(card.ink, Ink.INSIDE)
    inside = wait_for(flat).found.pieces[0].shape.area
    assert inside == pytest.approx(49 * 29, rel=0.015)
    assert inside < middle
    card.level.setValue(85)
    thick = wait_for(flat).found.pieces[0].shape.area
    assert card.level_note.text() == "85 %"
    assert thick < inside  # more is ink, so its inner side lies further in


def test_only_the_fields_that_count_are_shown(flat):
    card = wait_for(flat)
    assert card.sheet.isVisibleTo(card)
    assert not card.own_sheet.isVisibleTo(card)
    choose(card.sheet, OWN)
    assert card.own_sheet.isVisibleTo(card)
    choose(card.scale_by, ScaleBy.KNOWN)
    assert card.known_row.isVisibleTo(card)
    assert not card.sheet.isVisibleTo(card)


def test_a_picture_can_be_left(flat):
    card = wait_for(flat)
    flat.pattern._leave(card.found)
    assert not flat.pattern.traces.cards
    assert not flat.session.project.pieces


def test_outlines_are_drawn_over_the_picture(flat):
    card = wait_for(flat)
    choose(card.scale_by, ScaleBy.DPI)
    type_in(card.dpi, "150")
    wait_for(flat)
    image = card.preview.grab().toImage()
    cut = QColor(flat.pattern.look.cut)
    seen = sum(
        abs(image.pixelColor(x, y).red() - cut.red()) < 12
        and abs(image.pixelColor(x, y).green() - cut.green()) < 12
        for x in range(0, image.width(), 1)
        for y in range(0, image.height(), 2)
    )
    assert seen > 40


def test_a_broken_picture_is_refused_by_name(empty_desk, tmp_path):
    said = []
    empty_desk.session.told.connect(lambda text, tone: said.append((text, tone)))
    (tmp_path / "bad.png").write_bytes(b"no picture")
    empty_desk.window.drawings.read_files([tmp_path / "bad.png"])
    assert let_run(lambda: bool(said), 10)
    assert said[0][0].startswith("bad.png")
    assert not empty_desk.pattern.traces.cards


# Without a window


def test_a_stated_resolution_is_proposed():
    grey = load_picture(FLAT, "a.png").grey
    assert first_choices(LoadedPicture(grey, 300.0)).scale_by is ScaleBy.DPI
    assert first_choices(LoadedPicture(grey, None)).scale_by is ScaleBy.SHEET


@pytest.mark.parametrize(
    ("said", "words"),
    [
        (TraceChoices(ScaleBy.DPI, dpi="5"), "resolution"),
        (TraceChoices(ScaleBy.KNOWN, pixels="0", real="5"), "known length"),
        (TraceChoices(ScaleBy.SHEET, sheet=OWN, own_sheet="450"), "size of the sheet"),
        (TraceChoices(ScaleBy.SHEET, sheet=OWN, own_sheet="1 x 2"), "size of the sheet"),
    ],
)
def test_choices_that_make_no_sense_are_named(said, words):
    with pytest.raises(InputError, match=words):
        said.scale()


def test_sizes_of_sheets():
    assert TraceChoices(sheet="Letter").rectangle() == (215.9, 279.4)
    assert TraceChoices(sheet=OWN, own_sheet="18in × 12in").rectangle() == pytest.approx(
        (457.2, 304.8)
    )
    assert rectangle(*TraceChoices(sheet="A3").rectangle()).area == pytest.approx(124740)


def test_what_was_found_is_said_in_a_line():
    found = PictureImport(
        "a.png", load_picture(FLAT, "a.png"), TraceChoices(ScaleBy.DPI, dpi="150")
    )
    assert found.summary() == ""
    found.reading = found.trace()
    assert found.summary().startswith("1 outline, the widest 50")
    found.busy = True
    assert found.summary() == "tracing …"


def test_a_line_over_the_preview_gives_the_scale(empty_desk, tmp_path):
    from tests.core.reading.test_ruler import ruler

    picture, pixel = ruler(5.0)
    path = tmp_path / "ruler.png"
    path.write_bytes(png(picture))
    empty_desk.window.drawings.read_files([path])
    card = wait_for(empty_desk)
    choose(card.scale_by, ScaleBy.KNOWN)
    assert "Drag a line" in card.known_note.text()
    move = card.preview._room()
    from PySide6.QtCore import QPointF

    ends = [move.map(QPointF(*pixel(x, 32.5))).toPoint() for x in (18.5, 141.5)]
    QTest.mousePress(card.preview, Qt.MouseButton.LeftButton, pos=ends[0])
    QTest.mouseMove(card.preview, ends[1])
    QTest.mouseRelease(card.preview, Qt.MouseButton.LeftButton, pos=ends[1])
    assert float(card.pixels.text()) == pytest.approx(123 * 150 / 25.4, rel=0.02)
    choose(card.ticks, 5.0)
    assert card.known_note.text().startswith("25 ticks, each 5 mm")
    assert card.real.text() == "120 mm"
    scale = card.found.choices.scale().mm_per_pixel
    assert scale == pytest.approx(25.4 / 150, rel=1e-3)
