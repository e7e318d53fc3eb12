"""Our own JSON files: decoded into typed records, refused with the field's path, written readably.

`msgspec` knows records and enums, so that what stands in a file as it stands in the core needs
no record of its own; a hook takes points. What makes no sense in the trade is refused by the core.
"""

from collections.abc import Mapping
from functools import lru_cache
from typing import Any, TypeVar

import msgspec
import numpy as np

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, ring

T = TypeVar("T")
Pair = tuple[float, float]
Ring = list[Pair]


_TYPES = {
    "Expected": "expected",
    "str": "text",
    "float": "a number",
    "int": "a whole number",
    "array": "a list",
    "object": "an object",
}


def decode(data: bytes, kind: type[T], *, where: str, format_name: str, newest: int) -> T:
    """Decode a JSON file of ours.

    Raises:
        InputError: not JSON, another format, a newer version, or a field that is wrong; the
            message names the field's path.
    """
    try:
        head = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError) as error:
        raise InputError(where, f"it is not JSON ({error})", f"a {format_name} file") from None
    check_head(head, where, format_name, newest)
    try:
        return msgspec.convert(head, kind, strict=False, dec_hook=_points)
    except (msgspec.ValidationError, RecursionError) as error:
        problem, _, path = str(error).partition(" - at ")
        field = path.strip("`").removeprefix("$.").removeprefix("$") or "the file"
        if isinstance(why := error.__cause__, InputError):  # the core's own words say more
            raise InputError(f"{where}, {field}, {why.where}", why.problem, why.expected) from None
        raise InputError(f"{where}, {field}", _plain(problem), "") from None


def encode(body: object, *, indent: bool = True) -> bytes:
    """Return a file's bytes: JSON, indented; arrays of points are lists of pairs."""
    try:
        data = msgspec.json.encode(body, enc_hook=_pairs)
    except UnicodeEncodeError:  # a file name that is no text got among the names
        data = msgspec.json.encode(_as_text(msgspec.to_builtins(body, enc_hook=_pairs)))
    return msgspec.json.format(data, indent=1) + b"\n" if indent else data


def _as_text(thing: object) -> object:
    """Return plain data with every sign that is no text replaced."""
    if isinstance(thing, str):
        return thing.encode("utf-8", "replace").decode()
    if isinstance(thing, dict):
        return {_as_text(k): _as_text(v) for k, v in thing.items()}
    return [_as_text(t) for t in thing] if isinstance(thing, list | tuple) else thing


@lru_cache
def _fields_of(kind: type[msgspec.Struct]) -> tuple[msgspec.structs.FieldInfo, ...]:
    return msgspec.structs.fields(kind)


def sparse(record: msgspec.Struct) -> Mapping[str, object]:
    """Return a record as a mapping of those fields that are not as they are by default."""
    found = {}
    for one in _fields_of(type(record)):
        value = getattr(record, one.name)
        made_by = one.default_factory
        default = made_by() if callable(made_by) else one.default
        if value != default:
            found[one.name] = value
    return found


def _pairs(thing: object) -> list[Pair]:
    if isinstance(thing, np.ndarray):
        return [(float(x), float(y)) for x, y in thing]
    raise TypeError(f"no file holds a {type(thing).__name__}")


def _points(kind: object, found: object) -> Array:
    """Check a line's points as a ring's are checked; a line needs two."""
    if kind != Array:
        raise TypeError(f"no file holds a {kind}")
    points = msgspec.convert(found, Ring, strict=False)
    ring([*points, (1e6, 1e6), (1e6, -1e6)], where="line")
    if len(points) < 2:
        raise InputError("line", "it has fewer than two points", "two or more")
    array = np.array(points, dtype=np.float64)
    array.setflags(write=False)
    return array


def _plain(problem: str) -> str:
    for word, ours in _TYPES.items():
        problem = problem.replace(f"`{word}`", ours)
    return problem[:1].lower() + problem[1:]


def check_head(head: Any, where: str, format_name: str, newest: int) -> None:
    """Refuse another format, and versions newer than this Ivory Quilt knows."""
    if not isinstance(head, dict) or head.get("format") != format_name:
        found = head.get("format") if isinstance(head, dict) else None
        problem = f"its format is {found!r}" if found else "it names no format"
        raise InputError(where, problem, f"'{format_name}'")
    version = head.get("version")
    if not isinstance(version, int) or isinstance(version, bool) or version < 1:
        raise InputError(f"{where}, version", f"{version!r}", f"1 to {newest}")
    if version > newest:
        raise InputError(
            where,
            f"it was written by a newer Ivory Quilt (file version {version}, this one reads up to "
            f"{newest}); nothing was changed",
            "a newer Ivory Quilt to open it",
        )
