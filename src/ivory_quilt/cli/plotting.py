"""`plot` and `print`: what files come to on the simulated plotter and printer."""

import argparse

from ivory_quilt.cli.shared import DONE, whole
from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_length, parse_scalar


def plot(options: argparse.Namespace) -> int:
    """Cut a file on the simulated plotter, and draw where the blade's tip went."""
    from ivory_quilt.devices.knife_plotter import SimulatedPlotter
    from ivory_quilt.files.atomic import read_bytes, shown_name, write_atomic
    from ivory_quilt.files.plotted_svg import plotted_svg

    machine = USUAL_PLOTTER
    if options.offset is not None:
        machine = replace(machine, offset=parse_length(options.offset, where="--offset"))
    heading = parse_scalar(options.heading, where="--heading")
    name = shown_name(options.file)
    done = SimulatedPlotter(machine, heading).run(read_bytes(options.file), name)
    write_atomic(options.out, plotted_svg([(d.tool, d.places) for d in done.lines]))
    words = [f"{counted(len(done.lines), 'cut')}, {done.seconds / 60:.1f} min"]
    if done.changes:
        words.append(f"{counted(done.changes, 'change')} of tool")
    if done.beyond:
        words.append(f"{done.beyond:.1f} mm beyond the machine's reach")
    print(", ".join(words))
    return DONE


def print_page(options: argparse.Namespace) -> int:
    """Print a page on the simulated printer, as a picture at its true resolution."""
    from ivory_quilt.devices.printer import SimulatedPrinter
    from ivory_quilt.devices.scanner import png
    from ivory_quilt.files.atomic import read_bytes, write_atomic

    factor = parse_scalar(options.scale, where="--scale") / 100
    dpi = parse_scalar(options.dpi, where="--dpi")
    printer = SimulatedPrinter(dpi=dpi, along=factor, across=factor)
    page = whole(options.page, "--page", 1)
    printed = printer.print_page(read_bytes(options.file), page - 1)
    write_atomic(options.out, png(printed))
    print(f"page {page}: {printed.shape[1]} × {printed.shape[0]} pixels")
    return DONE
