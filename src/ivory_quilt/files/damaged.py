"""What a reading library raises at a damaged file besides its own errors, and how it is said."""

import struct
import zlib

DAMAGE = (
    ValueError,
    ArithmeticError,
    LookupError,
    TypeError,
    AttributeError,
    AssertionError,
    RuntimeError,  # too deep a recursion among them, and what a library knows not to do
    OSError,
    EOFError,
    SyntaxError,  # a picture's word for a damaged chunk
    struct.error,
    zlib.error,
)
LONGEST = 120  # characters of a library's own words that a sentence takes up


def library_words(error: BaseException) -> str:
    """Return a library's words on what is wrong, in one short line."""
    words = " ".join(str(error).split())[:LONGEST]
    if isinstance(error, AssertionError) or not words:  # an assertion's words are the library's own
        return "what it says does not fit together"
    return words
