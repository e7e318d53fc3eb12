"""Picture files: resolution, orientation, what is refused; and the same without a window."""

import io
import json

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from PIL import Image
from shapely import LineString

from ivory_quilt.cli import main
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.reading.tracing.picture import PictureScale
from ivory_quilt.devices.scanner import ScanConditions, png, scan
from ivory_quilt.files import picture_read
from ivory_quilt.files.picture_read import load_picture, read_picture
from tests.effort import random_cases

HOOK = Shape.make([(15, 15), (75, 15), (75, 35), (35, 35), (35, 75), (15, 75)])
FLAT = scan([HOOK], (90.0, 90.0), ScanConditions(dpi=150.0), 4)


def saved(kind="PNG", grey=FLAT, **rest):
    out = io.BytesIO()
    Image.fromarray(grey).save(out, kind, **rest)
    return out.getvalue()


def area(reading):
    (piece,) = reading.pieces
    return piece.shape.area


@pytest.mark.parametrize(("kind", "file"), [("PNG", "a.png"), ("JPEG", "a.jpg"), ("TIFF", "a.tif")])
def test_the_files_own_resolution_gives_the_scale(kind, file):
    reading = read_picture(saved(kind, dpi=(150, 150)), file=file)
    assert not reading.needs_scale
    assert area(reading) == pytest.approx(HOOK.area, rel=0.005)
    assert reading.pieces[0].file == file


def test_no_hand_is_flipped():
    (piece,) = read_picture(saved(dpi=(150, 150))).pieces
    x0, y0, _, _ = piece.shape.bounds
    inner = piece.shape.outer - np.array([x0 + 20, y0 + 20])
    assert np.hypot(*inner.T).min() < 0.3


def test_a_picture_lying_on_its_side_is_set_upright():
    exif = Image.Exif()
    exif[0x0112] = 6  # to be turned a quarter clockwise for viewing
    turned = saved("JPEG", np.rot90(FLAT), exif=exif, dpi=(150, 150), quality=95)
    (piece,) = read_picture(turned).pieces
    (upright,) = read_picture(saved(dpi=(150, 150))).pieces
    assert piece.shape.polygon.symmetric_difference(upright.shape.polygon).area < 30


def test_a_picture_without_resolution_asks():
    reading = read_picture(png(FLAT))
    assert reading.needs_scale
    # 90 mm are 531 pixels; one known length settles it.
    known = read_picture(png(FLAT), scale=PictureScale(mm_per_pixel=25.4 / 150))
    assert area(known) == pytest.approx(HOOK.area, rel=0.005)
    assert area(reading) == pytest.approx(HOOK.area * (150 / 25.4) ** 2, rel=0.005)
    assert load_picture(saved(dpi=(1, 1)), "a.png").dpi is None
    assert load_picture(saved(dpi=(150, 300)), "a.png").dpi is None


def test_transparent_paper_is_paper():
    grey = np.array(FLAT)
    alpha = np.where(grey < 128, 255, 0).astype(np.uint8)
    rgba = np.dstack((grey, grey, grey, alpha))
    out = io.BytesIO()
    Image.fromarray(rgba).save(out, "PNG", dpi=(150, 150))
    assert area(read_picture(out.getvalue())) == pytest.approx(HOOK.area, rel=0.01)


def test_what_is_no_picture_or_too_large_is_refused(monkeypatch):
    with pytest.raises(InputError, match=r"^x\.png: it is no picture"):
        load_picture(b"GIF89a....", "x.png")
    with pytest.raises(InputError, match="cannot be read"):
        load_picture(saved()[:2000], "x.png")
    with pytest.raises(InputError, match="at least 32"):
        load_picture(saved(grey=FLAT[:20, :20].copy()), "x.png")
    monkeypatch.setattr(picture_read, "MOST_PIXELS", 1000)
    with pytest.raises(InputError, match="pixels"):
        load_picture(saved(), "x.png")


@random_cases(40, 400)
@given(st.integers(0, 4000), st.binary(min_size=1, max_size=30), st.sampled_from(["PNG", "JPEG"]))
def test_damaged_pictures_come_in_or_are_refused(at, noise, kind):
    data = bytearray(saved(kind, FLAT[100:300, 100:300].copy(), dpi=(150, 150)))
    at = at % len(data)
    data[at : at + len(noise)] = noise
    try:
        read_picture(bytes(data), file="damaged")
    except InputError as error:
        assert str(error).startswith("damaged")
        assert "\n" not in str(error)


# Without a window


def run(*arguments):
    return main([str(a) for a in arguments])


def test_a_scan_is_read_by_its_dpi(tmp_path, capsys):
    (tmp_path / "hook.png").write_bytes(png(FLAT))
    out = tmp_path / "pieces.json"
    assert run("read", tmp_path / "hook.png", "--dpi", 150, "--out", out) == 0
    (piece,) = json.loads(out.read_text())["pieces"]
    assert piece["area"] == pytest.approx(HOOK.area, rel=0.005)
    assert run("read", tmp_path / "hook.png", "--out", tmp_path / "no.json") == 2
    assert "--rectangle" in capsys.readouterr().err
    assert not (tmp_path / "no.json").exists()


def test_a_photo_is_read_by_its_sheet_and_the_inks_side(tmp_path):
    how = ScanConditions(dpi=110.0, pen=1.5, skew=3.0, perspective=0.05, uneven=0.3)
    (tmp_path / "photo.png").write_bytes(png(scan([HOOK], (110.0, 95.0), how, 2)))
    found = {}
    for ink in ("inside", "middle", "outside"):
        out = tmp_path / f"{ink}.json"
        assert (
            run("read", tmp_path / "photo.png", "--rectangle", "110x95", "--ink", ink, "--out", out)
            == 0
        )
        found[ink] = json.loads(out.read_text())["pieces"][0]["area"]
    assert found["middle"] == pytest.approx(HOOK.area, rel=0.01)
    assert found["inside"] < found["middle"] < found["outside"]


@pytest.mark.parametrize(
    ("option", "value"),
    [
        ("--dpi", "zero"),
        ("--dpi", "3"),
        ("--rectangle", "210"),
        ("--rectangle", "2x3"),
        ("--ink", "top"),
    ],
)
def test_options_that_make_no_sense_are_refused(tmp_path, capsys, option, value):
    (tmp_path / "hook.png").write_bytes(png(FLAT))
    assert run("read", tmp_path / "hook.png", option, value, "--out", tmp_path / "o.json") == 2
    assert option in capsys.readouterr().err


def test_a_line_inside_a_piece_is_offered_as_a_score_line():
    plate = Shape.make([(20, 20), (120, 20), (120, 90), (20, 90)])
    bow = np.column_stack((np.linspace(35, 105, 40), 55 + 12 * np.sin(np.linspace(0, 3.1, 40))))
    letter = np.array([[40.0, 80], [44, 84]])
    picture = scan([plate], (150.0, 110.0), ScanConditions(dpi=150.0), 2, [bow, letter])
    reading = read_picture(png(picture), scale=PictureScale(dpi=150))
    (piece,) = reading.pieces
    offered = [p for p in reading.problems if p.adds_line is not None]
    assert len(offered) == 1
    assert "score line" in offered[0].mend
    taken = reading.take(offered[0]).pieces[0]
    line = LineString(taken.lines[0].points)
    # Drawn line and traced line lie within a pen's width of each other, ends included.
    assert line.hausdorff_distance(LineString(bow)) < 0.6
    assert [p.code for p in reading.problems if p not in offered] == []  # a letter is a speck
    assert piece.shape.area == pytest.approx(plate.area, rel=0.01)
