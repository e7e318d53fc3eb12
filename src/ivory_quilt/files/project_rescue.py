"""What can still be read of a damaged project file: its pieces, seams and layouts one by one.

A file that was cut short, or has a bad stretch in it, still holds whole pieces. Each entry of each
list is looked for by itself; what cannot be read, or does not go with the rest, is left out and
counted.
"""

import json
import re
from collections.abc import Iterator
from itertools import pairwise
from typing import Any

import msgspec

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.record import Struct
from ivory_quilt.core.units import counted
from ivory_quilt.files.project_file import FORMAT, VERSION, decode_project

LISTS = ("pieces", "seams", "layouts", "wearers", "studies")
FIELDS = ("name", "gap", "paper", "ease", "rule", "halves")


class Rescued(Struct, frozen=True):
    """What was read of a damaged file, and how many entries were not."""

    project: Project
    left_out: int

    @property
    def words(self) -> str:
        """What is there, in a few words."""
        pieces = counted(len(self.project.pieces), "piece")
        return f"{pieces} can be read, {self.left_out} damaged entries cannot"


def rescue_project(data: bytes) -> Rescued | None:
    """Return what can be read of a damaged file of ours; None when that is nothing.

    A file of a newer version is not damaged: it is left alone.
    """
    text = data.decode("utf-8", "replace")
    if FORMAT not in text[:400]:
        return None
    try:
        head = msgspec.json.decode(data)
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        head = None
    if isinstance(head, dict):
        if isinstance(head.get("version"), int) and head["version"] > VERSION:
            return None
        found = {k: v for k in LISTS if isinstance(v := head.get(k), list)}
        fields = {k: head[k] for k in FIELDS if k in head}
        lost = 0
    else:
        found, lost = _entries(text)
        fields = _fields(text)
    body: dict[str, Any] = {"format": FORMAT, "version": VERSION, "name": "Rescued", "pieces": []}
    for key, value in fields.items():  # each by itself: one that is wrong spoils no other
        if _reads({**body, key: value}) is not None:
            body[key] = value
    for key in LISTS:
        kept: list[Any] = []
        ids: set[object] = set()
        for entry in found.get(key, []):
            ident = entry.get("id") if isinstance(entry, dict) and key == "pieces" else None
            if _reads({**body, key: [entry]}) is not None and (ident is None or ident not in ids):
                kept.append(entry)
                ids.add(ident)
            else:
                lost += 1
        if key != "pieces" and _reads({**body, key: kept}) is None:
            lost, kept = lost + len(kept), []
        body[key] = kept
    project = _reads(body)
    if project is None or not (project.pieces or project.wearers or project.studies):
        return None
    return Rescued(project, lost)


def _reads(body: dict[str, Any]) -> Project | None:
    try:
        return decode_project(json.dumps(body).encode())
    except (InputError, ValueError, RecursionError):
        return None


def _fields(text: str) -> dict[str, Any]:
    """Return the plain fields of a file that is no whole JSON."""
    found = {}
    for key in FIELDS:
        match = re.search(rf'^ "{key}": (.+?),?$', text, re.M)
        if match:
            try:
                found[key] = json.loads(match.group(1))
            except ValueError:
                continue
    return found


def _entries(text: str) -> tuple[dict[str, list[Any]], int]:
    """Return the entries of each list, and how many could not be read.

    Our files are indented: a list begins at the margin's first step, and each of its entries at
    the second.
    """
    found: dict[str, list[Any]] = {}
    lost = 0
    for key in LISTS:
        start = text.find(f'\n "{key}": [')
        if start < 0:
            continue
        stop = text.find("\n ]", start + 1)
        listed = []
        for entry in _chunks(text[start : stop if stop >= 0 else len(text)]):
            try:
                listed.append(json.loads(entry))
            except (ValueError, RecursionError):
                lost += 1
        found[key] = listed
    return found, lost


def _chunks(text: str) -> Iterator[str]:
    at = [m.start() for m in re.finditer(r"^  \{", text, re.M)]
    for start, stop in pairwise([*at, len(text)]):
        yield text[start:stop].strip().rstrip(",").rstrip()
