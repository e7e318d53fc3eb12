"""`plot`: what a plotter file cuts, on the simulated plotter."""

import argparse
from dataclasses import replace

from ivory_quilt.cli.shared import DONE
from ivory_quilt.core.cutting.knife_plotter import USUAL_PLOTTER
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
