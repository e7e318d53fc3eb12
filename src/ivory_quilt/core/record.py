"""What the house's records are made of: classes of named fields, nearly all of them frozen.

The window reads some 240 of them before it shows. The standard library writes and compiles six
methods for each, a fifth of the whole start; these compile nothing. They take a third less memory
and are made nine times, compared and hashed three times sooner, which a troupe's plan is full of.

`replace` returns a changed copy, checked as at first. A class with an `__eq__` of its own needs a
`__ne__` as well; one that works something out once (`cached_property`) says `dict=True`.
"""

from typing import TYPE_CHECKING

from msgspec import Struct, field
from msgspec.structs import asdict, astuple

if TYPE_CHECKING:
    # The same words with the fields' names and types checked.
    from dataclasses import replace
else:
    from msgspec.structs import replace

__all__ = ["Struct", "asdict", "astuple", "field", "replace"]
