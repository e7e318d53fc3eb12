"""What libraries raise at damaged files becomes a sentence."""

import struct
import zlib

import pytest

from ivory_quilt.core.errors import InputError
from ivory_quilt.files import dxf_read
from ivory_quilt.files.damaged import DAMAGE, library_words
from tests.files.test_fuzz import WHOLE


def test_a_drawing_with_a_nameless_layout_is_refused():
    """Seen in mutated drawings: the library's audit asserts that every layout has a name."""
    named = b"AcDbLayout\n  1\nLayout1"
    drawing = WHOLE[".dxf"]
    assert named in drawing
    with pytest.raises(InputError, match=r"^bay\.dxf: it is not a readable DXF drawing"):
        dxf_read.read_dxf(drawing.replace(named, b"AcDbLayout\n999\nLayout1"), file="bay.dxf")


@pytest.mark.parametrize(
    "error",
    [AssertionError("<class 'type'>"), struct.error("unpack"), zlib.error("-3"), RecursionError()],
)
def test_whatever_a_library_raises_is_refused_by_name(monkeypatch, error):
    def fail(_):
        raise error

    monkeypatch.setattr("ezdxf.recover.read", fail)
    with pytest.raises(InputError, match=r"^bay\.dxf: it is not a readable DXF drawing \("):
        dxf_read.read_dxf(b"0\nSECTION\n", file="bay.dxf")


def test_a_librarys_words_are_one_short_line():
    assert (
        library_words(ValueError("no\n  such\tcolour " + "x" * 200))
        == ("no such colour " + "x" * 200)[:120]
    )
    assert library_words(KeyError()) == library_words(AssertionError("<class 'type'>"))
    assert issubclass(NotImplementedError, DAMAGE)
    assert not issubclass(MemoryError, DAMAGE)
