"""Which revision of the store this program writes, and what is said of others."""

from ivory_quilt.core.errors import InputError

HEAD = "9"
"""The revision that `tables` are."""
APPLICATION = 0x49515348
"""Stands in the head of an SQLite file that is a store of ours: "IQSH"."""
OURS = {"material", "stock", "setting"}
"""Tables that every store of ours has had from the first version on."""


def newer(where: str, version: str) -> InputError:
    """Return the refusal of a store of a newer Ivory Quilt."""
    problem = f"it is of a newer Ivory Quilt (store version {version})"
    return InputError(where, problem, f"version {HEAD} or older")


def foreign(where: str) -> InputError:
    """Return the refusal of another program's database."""
    return InputError(where, "it is another program's database", "a shop store")
