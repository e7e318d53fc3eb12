"""The same work without a window (docs/command-line.md).

Exit status: 0 done; 2 the input is wrong (one line says what, where and what was expected, and
nothing is written); 3 stopped before any usable result.
"""

import argparse
import ctypes
import gc
import io
import json
import os
import signal
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from contextlib import contextmanager, suppress
from pathlib import Path
from typing import TYPE_CHECKING, Any

from ivory_quilt import __version__
from ivory_quilt.core.errors import InputError, QuiltError, Stopped, one_line, printable
from ivory_quilt.core.reckoning import Reckoning, Value
from ivory_quilt.core.units import (
    counted,
    parse_length,
    parse_money,
    parse_scalar,
    show_misfits,
    show_thickness,
)
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.places import places

if TYPE_CHECKING:
    from ivory_quilt.core.reading.found import Reading
    from ivory_quilt.core.reading.tracing.picture import Ink

DONE, WRONG, NOTHING = 0, 2, 3
LAY_SECONDS = 5.0  # how long `plan` lays each foam that has no layout yet


def main(argv: Sequence[str] | None = None) -> int:
    """Run one command; without one, open the desk."""
    for stream in (sys.stdout, sys.stderr):
        if isinstance(stream, io.TextIOWrapper):  # a terminal need not know every sign
            stream.reconfigure(errors="backslashreplace")
    use_kernel_cache()
    arguments = list(sys.argv[1:] if argv is None else argv)
    options = _parser().parse_args(arguments or ["desk"])
    run: Callable[[argparse.Namespace], int] = options.run
    try:
        status = run(options)
        sys.stdout.flush()
    except InputError as error:
        return _refuse(error, WRONG)
    except QuiltError as error:
        return _refuse(error, NOTHING)
    except KeyboardInterrupt:
        return _refuse(Stopped("stopped before there was anything to keep"), NOTHING)
    except BrokenPipeError:
        # The reader went away; say nothing more to it.
        _close_output()
        return DONE
    except OSError as error:
        _close_output()
        return _refuse(InputError("output", f"cannot be written ({error.strerror})"), WRONG)
    except MemoryError:
        return _refuse(Stopped("the work needs more memory than there is"), NOTHING)
    return status


def _refuse(error: QuiltError, status: int) -> int:
    with suppress(OSError):
        print(f"ivory-quilt: {one_line(str(error))}", file=sys.stderr)
    return status


def _close_output() -> None:
    os.dup2(os.open(os.devnull, os.O_WRONLY), 1)


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="ivory-quilt", description="Plans foam armour: pieces, layouts, foam to buy, papers."
    )
    parser.add_argument("--version", action="version", version=f"Ivory Quilt {__version__}")
    verbs = parser.add_subparsers(metavar="command", required=True)

    def verb(name: str, run: Callable[[argparse.Namespace], int], text: str) -> Any:
        sub = verbs.add_parser(name, help=text, description=text)
        sub.set_defaults(run=run)
        return sub

    desk = verb("desk", _desk, "open the window")
    desk.add_argument(
        "files", nargs="*", type=Path, help="a project, or patterns: SVG, DXF, PDF, PNG, JPEG, TIFF"
    )
    demo = verb("demo", _demo, "open the window with the demo suit, in a shop of its own")
    demo.add_argument(
        "--export", type=Path, metavar="DIR", help="only write the demo's files there"
    )
    read = verb("read", _read, "read patterns and say what they hold")
    read.add_argument("files", nargs="+", type=Path)
    read.add_argument("--out", type=Path, required=True, metavar="PIECES.json")
    read.add_argument(
        "--known",
        metavar="LENGTH_IN_FILE=REAL_LENGTH",
        help="for a file without size units, e.g. 500=127mm",
    )
    read.add_argument("--dpi", metavar="N", help="resolution of a scan")
    read.add_argument(
        "--rectangle",
        metavar="WIDTHxHEIGHT",
        help="mm, of a whole sheet or mat seen in a picture: gives scale, removes perspective",
    )
    read.add_argument(
        "--ink",
        default="middle",
        help="which side of a drawn line is the outline: inside, middle or outside",
    )
    read.add_argument(
        "--join",
        action="store_true",
        help="join the pages of PDFs, or several scans, by their registration marks",
    )
    lay = verb("lay", _lay, "lay pieces on sheets")
    lay.add_argument("job", type=Path, metavar="JOB.json")
    lay.add_argument("--seconds", default=None)
    lay.add_argument("--iterations", default=None)
    lay.add_argument("--target", metavar="COST", help="stop as soon as it costs no more")
    lay.add_argument("--seed", default="0")
    lay.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    lay.add_argument("--progress", action="store_true", help="one line a better layout")
    plan = verb("plan", _plan, "derive parts, layouts, purchase and ledger of a project")
    plan.add_argument("project", type=Path, metavar="PROJECT.ivq")
    plan.add_argument("--json", action="store_true")
    plan.add_argument("--out-dir", type=Path, help="write templates and cut sheets there")
    plan.add_argument("--store", type=Path, help="a shop store other than the maker's own")
    plan.add_argument("--seconds", default=str(LAY_SECONDS), help="for each foam not laid yet")
    plan.add_argument("--seed", default="0")
    reckon = verb("reckon", _reckon, "one calculator per rule; without a name, list them")
    reckon.add_argument("name", nargs="?")
    reckon.add_argument("values", nargs="*", metavar="key=value")
    reckon.add_argument("--json", action="store_true")
    verb("warm", _warm, "compile the layout engine's kernels, once")
    return parser


# Reading


def _read(options: argparse.Namespace) -> int:
    from ivory_quilt.core.reading.tracing.picture import parse_dpi, parse_sheet
    from ivory_quilt.files.apart import Apart
    from ivory_quilt.files.atomic import read_bytes, shown_name, write_atomic
    from ivory_quilt.files.drawings import FileKind, ReadOptions, kind_of, read_drawing, title
    from ivory_quilt.files.joined_read import read_joined
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


# Laying


def _lay(options: argparse.Namespace) -> int:
    from ivory_quilt.core.nesting.engine import Limit, StopSwitch, lay, warm_up
    from ivory_quilt.core.nesting.job import Progress
    from ivory_quilt.core.nesting.reasons import nothing_fits
    from ivory_quilt.files.atomic import write_atomic
    from ivory_quilt.files.lay_file import encode_fault, encode_result, load_job

    job = load_job(options.job)
    seed = _whole(options.seed, "--seed", 0)
    target = parse_money(options.target, where="--target") if options.target else None
    if options.iterations is not None:
        limit = Limit(steps=_whole(options.iterations, "--iterations", 0), target=target)
    else:
        seconds = parse_scalar(options.seconds or "10", where="--seconds")
        if seconds < 0:
            raise InputError("--seconds", options.seconds, "0 or more")
        limit = Limit(seconds=seconds, target=target)
    switch = StopSwitch()

    def report(progress: Progress) -> bool:
        if options.progress and progress.better is not None:
            t, cost, density = progress.better.history[-1]
            print(f"{t:8.2f} s  cost {cost:.2f}  density {density:.3f}", file=sys.stderr)
        return True

    with _our_output():
        warm_up()  # compiling must not eat the maker's seconds
        signal.signal(signal.SIGINT, lambda *_: switch.stop())
        result = lay(
            job, limit=limit, clock=time.monotonic, seed=seed, report=report, switch=switch
        )
    if job.pieces and not result.placements and result.stopped_by == "maker":
        raise Stopped("stopped before any layout was found")
    write_atomic(options.out, encode_result(result))
    if result.faults:
        report_at = options.out.with_suffix(".fault.json")
        write_atomic(report_at, encode_fault(job, seed, result.faults))
        print(f"a layout was refused by the exact check; see {report_at.name}", file=sys.stderr)
    if result.unplaced and not result.placements:
        print(f"nothing fits: {nothing_fits(job)}", file=sys.stderr)
    left = f", {show_misfits(len(result.unplaced), 'piece')}" if result.unplaced else ""
    print(
        f"cost {result.cost:.2f} (no layout under {result.cost_bound:.2f}), "
        f"density {result.density:.3f}{left}"
    )
    return DONE


@contextmanager
def _our_output() -> Iterator[None]:
    """Send what libraries write themselves among the messages: the output is read by programs.

    The integer program's library says a line of its own in rare cases, past Python's output.
    """
    sys.stdout.flush()
    ours = os.dup(1)
    os.dup2(2, 1)
    try:
        yield
    finally:
        ctypes.CDLL(None).fflush(None)
        os.dup2(ours, 1)
        os.close(ours)


def _whole(text: str, where: str, least: int) -> int:
    try:
        value = int(text)
    except ValueError:
        value = least - 1
    if value < least:
        raise InputError(where, f"'{text}'", f"a whole number, {least} or more")
    return value


# Planning


def _plan(options: argparse.Namespace) -> int:
    from ivory_quilt.core.nesting.engine import Limit, lay, warm_up
    from ivory_quilt.core.plan.plan import Proposal, derive
    from ivory_quilt.files.plan_report import plan_json, plan_text, write_papers
    from ivory_quilt.files.project_file import load_project
    from ivory_quilt.shop.store import new_stock, read_stock

    project = load_project(options.project)
    if options.store is not None:
        stock = read_stock(options.store)
    else:
        own = places().store
        stock = read_stock(own) if own.is_file() else new_stock()
    seconds = parse_scalar(options.seconds, where="--seconds")
    seed = _whole(options.seed, "--seed", 0)
    plan = derive(project, stock)
    proposals = {}
    with _our_output():
        if plan.unlaid:
            warm_up()
        for foam in plan.unlaid:
            if not options.json:
                name = f"{show_thickness(foam.foam.thickness)} {foam.foam.material}"
                print(f"laying {name} ...", file=sys.stderr)
            found = lay(foam.job, limit=Limit(seconds=seconds), clock=time.monotonic, seed=seed)
            proposals[foam.foam] = Proposal(foam.job, found)
    plan = derive(project, stock, proposals, plan)
    if options.out_dir is not None:
        for path in write_papers(plan, options.out_dir):
            print(path, file=sys.stderr)
    print(json.dumps(plan_json(plan), indent=1) if options.json else printable(plan_text(plan)))
    return DONE


# Reckoning


def _reckon(options: argparse.Namespace) -> int:
    from ivory_quilt.core.calculators import CALCULATORS, reckon

    if options.name is None:
        for rule in CALCULATORS.values():
            print(f"{rule.name}: {rule.title}")
            for i in rule.inputs:
                default = "" if i.default is None else f" (default {i.default:g})"
                print(f"    {i.name}=  {i.help}; {i.kind.value}{default}")
        return DONE
    values: dict[str, str] = {}
    for pair in options.values:
        key, equals, value = pair.partition("=")
        if not equals:
            raise InputError(f"reckon {options.name}", f"'{pair}'", "key=value")
        values[key] = value
    answer = reckon(options.name, values)
    print(
        json.dumps(_reckoning_json(answer), indent=1) if options.json else _reckoning_text(answer)
    )
    return DONE


def _reckoning_json(answer: Reckoning) -> dict[str, Any]:
    return {
        "name": answer.name,
        "inputs": dict(answer.inputs),
        "results": dict(answer.results),
        "steps": [
            {"text": s.text, "formula": s.formula, "value": s.value, "unit": s.unit}
            for s in answer.steps
        ],
        "source": answer.source,
    }


def _reckoning_text(answer: Reckoning) -> str:
    lines = [f"{s.text}: {s.formula} = {_shown(s.value)} {s.unit}".rstrip() for s in answer.steps]
    lines += [f"{k} = {_shown(v)}" for k, v in answer.results.items()]
    return "\n".join([*lines, *answer.notes, f"source: {answer.source}"])


def _shown(value: Value) -> str:
    if isinstance(value, tuple):
        return ", ".join(_shown(v) for v in value)
    return value if isinstance(value, str) else f"{value:.10g}"


# The desk


def desk_main() -> int:
    """Open the maker's own desk with files on it (the desktop entry's program)."""
    return main(["desk", "--", *sys.argv[1:]])


def _desk(options: argparse.Namespace) -> int:
    gc.disable()  # what is loaded now stays; the desk lets collections begin
    from ivory_quilt.desk.app import run_desk

    return run_desk(places(), list(options.files))


def _demo(options: argparse.Namespace) -> int:
    if options.export is not None:
        from ivory_quilt.demo.export import export_demo

        for path in export_demo(options.export):
            print(path)
        return DONE
    gc.disable()
    from ivory_quilt.desk.app import run_demo

    return run_demo()


def _warm(_: argparse.Namespace) -> int:
    from ivory_quilt.engine.warming import prepare

    prepare(lambda _share, _seconds: None)
    return DONE


if __name__ == "__main__":
    sys.exit(main())
