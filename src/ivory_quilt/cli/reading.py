"""`read`: patterns without opening a project."""

import argparse
import sys
from typing import TYPE_CHECKING

from ivory_quilt.cli.shared import DONE
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.units import counted, parse_length, parse_scalar

if TYPE_CHECKING:
    from ivory_quilt.core.reading.found import Reading
    from ivory_quilt.core.reading.tracing.picture import Ink


def read(options: argparse.Namespace) -> int:
    """Read the files, and write what they hold."""
    from ivory_quilt.core.reading.tracing.picture import parse_dpi, parse_sheet
    from ivory_quilt.files.apart import Apart
    from ivory_quilt.files.atomic import read_bytes, shown_name, write_atomic
    from ivory_quilt.files.drawings import ReadOptions, read_drawing
    from ivory_quilt.files.joined_read import read_joined
    from ivory_quilt.files.kinds import FileKind, kind_of, title
    from ivory_quilt.files.pieces_file import encode_reading

    said = ReadOptions(
        _known(options.known) if options.known else None,
        parse_dpi(options.dpi, where="--dpi") if options.dpi else None,
        parse_sheet(options.rectangle, where="--rectangle") if options.rectangle else None,
        _ink(options.ink),
    )
    readings: list[Reading] = []
    files = [(shown_name(p.name), read_bytes(p)) for p in options.files]
    with Apart() as apart:
        if options.join:
            names = title([name for name, _ in files])
            joined = apart.run(read_joined, files, said, what=names)
            readings.append(joined)
            laid = joined.joined
            worst = f"{laid.residual:.3f} mm"
            print(f"{laid.joined} pages joined, marks within {worst}", file=sys.stderr)
        for name, data in () if options.join else files:
            reading = apart.run(read_drawing, data, name, said, what=name)
            if reading.needs_scale:
                way = "--known LENGTH_IN_FILE=REAL_LENGTH"
                if kind_of(name) is FileKind.PICTURE:
                    way = f"--dpi N, --rectangle WIDTHxHEIGHT or {way} (pixels)"
                raise InputError(name, "it has no size units", way)
            readings.append(reading)
    write_atomic(options.out, encode_reading(readings))
    pieces = sum(len(r.pieces) for r in readings)
    problems = sum(len(r.problems) for r in readings)
    print(f"{counted(pieces, 'piece')}, {counted(problems, 'problem')}")
    return DONE


def _known(text: str) -> float:
    drawn, equals, real = text.partition("=")
    if not equals:
        raise InputError("--known", f"'{text}'", "LENGTH_IN_FILE=REAL_LENGTH, e.g. 500=127mm")
    length = parse_scalar(drawn, where="--known, length in file")
    true = parse_length(real, where="--known, real length")
    if length <= 0 or true <= 0:
        raise InputError("--known", f"'{text}'", "two lengths above 0")
    return true / length


def _ink(text: str) -> "Ink":
    from ivory_quilt.core.reading.tracing.picture import Ink

    if text not in set(Ink):
        raise InputError("--ink", f"'{text}'", ", ".join(Ink))
    return Ink(text)
