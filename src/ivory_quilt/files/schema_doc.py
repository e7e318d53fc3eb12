"""Writes the JSON Schema of our files into docs/formats.md, from the very types that read them."""

import json
import sys
from pathlib import Path
from typing import Any

import msgspec
import numpy as np

from ivory_quilt.files.buy_file import BuyWire
from ivory_quilt.files.formup_file import FormupWire
from ivory_quilt.files.job_wire import JobWire
from ivory_quilt.files.lengths_file import LengthsWire
from ivory_quilt.files.project_wire import ProjectWire
from ivory_quilt.files.schedule_file import ScheduleWire
from ivory_quilt.files.wire import Ring

START, END = "<!-- schema {} -->", "<!-- end {} -->"
SCHEMAS = {
    "project": ProjectWire,
    "lay-job": JobWire,
    "lengths-job": LengthsWire,
    "schedule-job": ScheduleWire,
    "formup-job": FormupWire,
    "buy-job": BuyWire,
}


def schema(name: str) -> dict[str, Any]:
    """Return the JSON Schema of one of our files."""
    return msgspec.json.schema(SCHEMAS[name], schema_hook=_points_schema)


def _points_schema(kind: type) -> dict[str, Any]:
    if kind is not np.ndarray:
        raise TypeError(f"no file holds a {kind}")
    return msgspec.json.schema(Ring)


def with_schemas(text: str) -> str:
    """Return a document with the schemas between its markers renewed."""
    for name in SCHEMAS:
        start, end = START.format(name), END.format(name)
        before, _, rest = text.partition(start)
        _, _, after = rest.partition(end)
        body = json.dumps(schema(name), indent=1, ensure_ascii=False)
        text = f"{before}{start}\n```json\n{body}\n```\n{end}{after}"
    return text


def main(arguments: list[str]) -> int:
    """Renew the file named, docs/formats.md by default."""
    path = Path(arguments[0]) if arguments else Path("docs/formats.md")
    path.write_text(with_schemas(path.read_text()))
    return 0


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
