"""The same work without a window (docs/command-line.md).

Exit status: 0 done; 2 the input is wrong (one line says what, where and what was expected, and
nothing is written); 3 stopped before any usable result.
"""

import argparse
import gc
import io
import os
import sys
from collections.abc import Callable, Sequence
from contextlib import nullcontext, suppress
from pathlib import Path
from typing import Any

from ivory_quilt import __version__
from ivory_quilt.cli.buying import buy
from ivory_quilt.cli.cutting_lengths import lengths
from ivory_quilt.cli.engines import add_engine_options
from ivory_quilt.cli.forming import form_up
from ivory_quilt.cli.interrupts import ctrl_c_heard
from ivory_quilt.cli.laying import lay
from ivory_quilt.cli.planning import plan
from ivory_quilt.cli.plotting import plot, print_page
from ivory_quilt.cli.reading import read
from ivory_quilt.cli.reckoning import reckon_rule
from ivory_quilt.cli.scheduling import schedule_tasks
from ivory_quilt.cli.shared import DONE, NOTHING, WRONG
from ivory_quilt.core.errors import InputError, QuiltError, Stopped, one_line
from ivory_quilt.engine.kernel_cache import use_kernel_cache
from ivory_quilt.shop.places import places

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
        with nullcontext() if run in (_desk, _demo) else ctrl_c_heard():
            status = run(options)
            sys.stdout.flush()
    except InputError as error:
        return _refuse(error, WRONG)
    except QuiltError as error:
        return _refuse(error, NOTHING)
    except KeyboardInterrupt:  # the desk's, which leaves Ctrl-C to Python
        return _refuse(Stopped("stopped before the window stood"), NOTHING)
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
    reading = verb("read", read, "read patterns and say what they hold")
    reading.add_argument("files", nargs="+", type=Path)
    reading.add_argument("--out", type=Path, required=True, metavar="PIECES.json")
    reading.add_argument(
        "--known",
        metavar="LENGTH_IN_FILE=REAL_LENGTH",
        help="for a file without size units, e.g. 500=127mm",
    )
    reading.add_argument("--dpi", metavar="N", help="resolution of a scan")
    reading.add_argument(
        "--rectangle",
        metavar="WIDTHxHEIGHT",
        help="mm, of a whole sheet or mat seen in a picture: gives scale, removes perspective",
    )
    reading.add_argument(
        "--ink",
        default="middle",
        help="which side of a drawn line is the outline: inside, middle or outside",
    )
    reading.add_argument(
        "--join",
        action="store_true",
        help="join the pages of PDFs, or several scans, by their registration marks",
    )
    laying = verb("lay", lay, "lay pieces on sheets")
    laying.add_argument("job", type=Path, metavar="JOB.json")
    laying.add_argument("--seconds", default=None)
    laying.add_argument("--iterations", default=None)
    laying.add_argument("--target", metavar="COST", help="stop as soon as it costs no more")
    laying.add_argument("--seed", default="0")
    laying.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    laying.add_argument("--progress", action="store_true", help="one line a better layout")
    add_engine_options(laying)
    ordering = verb("buy", buy, "find the cheapest order that is proven to fit")
    ordering.add_argument("job", type=Path, metavar="JOB.json")
    ordering.add_argument("--seconds", default="10")
    ordering.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    cutting = verb("lengths", lengths, "cut shaped lengths from bars at the least cost, proven")
    cutting.add_argument("job", type=Path, metavar="JOB.json")
    cutting.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    timing = verb("schedule", schedule_tasks, "schedule tasks with waits, to the earliest end")
    timing.add_argument("job", type=Path, metavar="JOB.json")
    timing.add_argument("--seconds", default="10")
    timing.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    forming = verb("formup", form_up, "solve panels, seams, folds and bends into their shape")
    forming.add_argument("job", type=Path, metavar="JOB.json")
    forming.add_argument("--seconds", default="10", help="end with what there is by then")
    forming.add_argument("--out", type=Path, required=True, metavar="RESULT.json")
    forming.add_argument(
        "--body", type=Path, action="append", metavar="FILE", help="the shape as .obj, .stl or .glb"
    )
    planning = verb("plan", plan, "derive parts, layouts, purchase and ledger of a project")
    planning.add_argument("project", type=Path, metavar="PROJECT.ivq")
    planning.add_argument("--json", action="store_true")
    planning.add_argument("--out-dir", type=Path, help="write templates and cut sheets there")
    planning.add_argument(
        "--sheets",
        metavar="FORMATS",
        help="cut sheets there as well as: dxf, hpgl, g-code, geojson; several with commas",
    )
    planning.add_argument("--book", type=Path, help="write the shop book there, a PDF")
    planning.add_argument("--store", type=Path, help="a shop store other than the maker's own")
    planning.add_argument("--seconds", default=str(LAY_SECONDS), help="for each foam not laid yet")
    planning.add_argument("--seed", default="0")
    add_engine_options(planning)
    plotting = verb("plot", plot, "try HPGL or G-code on the simulated knife plotter")
    plotting.add_argument("file", type=Path, metavar="FILE")
    plotting.add_argument("--out", type=Path, required=True, metavar="CUT.svg")
    plotting.add_argument("--offset", default=None, help="mm from the blade's axis to its tip")
    plotting.add_argument("--heading", default="0", help="where the blade points first, degrees")
    printing = verb("print", print_page, "print a PDF's page on the simulated printer")
    printing.add_argument("file", type=Path, metavar="FILE.pdf")
    printing.add_argument("--page", default="1", metavar="N")
    printing.add_argument("--scale", default="100", metavar="PERCENT", help="the printer's error")
    printing.add_argument("--dpi", default="300", metavar="N")
    printing.add_argument("--out", type=Path, required=True, metavar="PAGE.png")
    reckon = verb("reckon", reckon_rule, "one calculator per rule; without a name, list them")
    reckon.add_argument("name", nargs="?")
    reckon.add_argument("values", nargs="*", metavar="key=value")
    reckon.add_argument("--json", action="store_true")
    verb("warm", _warm, "compile the layout engine's kernels, once")
    return parser


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
