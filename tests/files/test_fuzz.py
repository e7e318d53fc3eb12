"""Damaged files never hang, never crash, and are refused in one plain sentence."""

import io
from pathlib import Path
from random import Random

import ezdxf
import pytest
from hypothesis import given
from hypothesis import strategies as st

from ivory_quilt.core.errors import InputError
from ivory_quilt.files import drawings
from ivory_quilt.files.drawings import read_drawing
from ivory_quilt.files.joined_read import read_joined
from ivory_quilt.files.kinds import VECTORS, FileKind, kind_of
from tests.effort import random_cases
from tests.files.test_pages import six_page_pdf

DATA = Path(__file__).parents[1] / "data"
SIX_PAGES = six_page_pdf(clipped=True)


def _dxf():
    document = ezdxf.new()
    document.header["$INSUNITS"] = 4
    block = document.blocks.new("TAB")
    block.add_lwpolyline([(0, 0, 0), (30, 0, 0.5), (30, 20, 0)], format="xyb", close=True)
    space = document.modelspace()
    space.add_blockref("TAB", (5, 5), dxfattribs={"rotation": 30})
    space.add_open_spline([(0, 0), (20, 20), (40, 20), (60, 0)])
    space.add_mtext("cut 2\\P6mm", dxfattribs={"insert": (10, 10)})
    out = io.StringIO()
    document.write(out)
    return out.getvalue().encode()


WHOLE = {
    ".svg": (DATA / "cairo.svg").read_bytes(),
    ".pdf": (DATA / "cairo.pdf").read_bytes(),
    ".dxf": _dxf(),
}


@st.composite
def damaged(draw, kind):
    """A file with bytes changed, cut out, doubled, or its end missing."""
    data = bytearray(WHOLE[kind])
    for _ in range(draw(st.integers(1, 6))):
        at = draw(st.integers(0, max(0, len(data) - 1)))
        size = draw(st.integers(1, 40))
        what = draw(st.sampled_from(["byte", "digits", "cut", "double", "end"]))
        if what == "byte":
            data[at : at + 1] = bytes([draw(st.integers(0, 255))])
        elif what == "digits":
            data[at : at + size] = draw(st.sampled_from([b"99999999999", b"-1", b"1e400", b"nan"]))
        elif what == "cut":
            del data[at : at + size]
        elif what == "double":
            data[at:at] = data[at : at + size] * draw(st.integers(1, 50))
        else:
            del data[at:]
    return bytes(data)


@pytest.mark.long
@pytest.mark.timeout(120)  # none of these few kilobytes may take a reader long
@pytest.mark.parametrize("kind", VECTORS)
def test_damaged_files_come_in_or_are_refused(kind):
    @random_cases(60, 600)
    @given(damaged(kind))
    def check(data):
        try:
            reading = read_drawing(data, f"damaged{kind}")
        except InputError as error:
            message = str(error)
            assert message.startswith(f"damaged{kind}")
            assert "\n" not in message
            assert len(message) < 600
        else:
            assert all(p.shape.polygon.is_valid for p in reading.pieces)

    check()


@pytest.mark.parametrize("kind", VECTORS)
@given(st.binary(max_size=400))
@random_cases(40, 400)
def test_noise_is_refused_by_name(kind, data):
    with pytest.raises(InputError, match=f"noise{kind}"):
        read_drawing(data, f"noise{kind}")


def test_other_endings_and_huge_files_are_refused(monkeypatch):
    with pytest.raises(InputError, match=r"'\.txt' files are not read"):
        read_drawing(b"", "a.txt")
    monkeypatch.setattr(drawings, "LARGEST", 100)
    with pytest.raises(InputError, match="at most"):
        read_drawing(b"x" * 101, "a.svg")
    assert kind_of("A.SVG") is FileKind.SVG
    assert kind_of("b.dxf") is FileKind.DXF
    assert kind_of("c.txt") is None


def test_a_block_that_holds_itself_does_not_hang():
    data = WHOLE[".dxf"].decode()
    # Name the block that the drawing inserts as its own content.
    document = ezdxf.read(io.StringIO(data))
    document.blocks.get("TAB").add_blockref("TAB", (1, 1))
    out = io.StringIO()
    document.write(out)
    with pytest.raises(InputError, match="nests too deep"):
        read_drawing(out.getvalue().encode(), "self.dxf")


def test_a_block_repeated_a_billion_times_stops_at_the_limit():
    document = ezdxf.new()
    document.header["$INSUNITS"] = 4
    document.blocks.new("DOT").add_point((0, 0))
    document.modelspace().add_blockref(
        "DOT",
        (0, 0),
        dxfattribs={
            "row_count": 30000,
            "column_count": 30000,
            "row_spacing": 1,
            "column_spacing": 1,
        },
    )
    out = io.StringIO()
    document.write(out)
    with pytest.raises(InputError, match="too large"):
        read_drawing(out.getvalue().encode(), "many.dxf")


def test_a_locked_pdf_is_said_to_be_locked():
    from reportlab.lib.pdfencrypt import StandardEncryption
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out, encrypt=StandardEncryption("secret", ownerPassword="other"))
    canvas.rect(10, 10, 50, 50)
    canvas.save()
    with pytest.raises(InputError, match="locked with a password"):
        read_drawing(out.getvalue(), "locked.pdf")


def test_a_pdf_without_outlines_says_that_it_may_be_a_scan():
    from reportlab.pdfgen.canvas import Canvas

    out = io.BytesIO()
    canvas = Canvas(out)
    canvas.drawString(100, 100, "only words")
    canvas.save()
    reading = read_drawing(out.getvalue(), "words.pdf")
    assert not reading.pieces
    assert [p.code for p in reading.problems] == ["no-outlines"]


@random_cases(40, 400)
@given(st.integers(0, 2**31), st.integers(1, 30))
def test_damaged_pages_are_joined_or_refused_in_one_sentence(seed, many):
    """Bytes changed anywhere in a PDF of six pages: a reading or one plain error, nothing else."""
    data = bytearray(SIX_PAGES)
    random = Random(seed)
    for _ in range(many):
        data[random.randrange(len(data))] = random.randrange(256)
    try:
        reading = read_joined([("six.pdf", bytes(data))])
    except InputError as error:
        assert "\n" not in str(error)
    else:
        assert all(p.shape.area > 0 for p in reading.pieces)
