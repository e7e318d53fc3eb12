"""Run all measurements, or those named, and print them beside what is promised.

Those that take long (see `LONG`) run only when named; `--fuzz N [FIRST]` lays N random jobs, from
number FIRST on, and checks them.
"""

import sys

from ivory_quilt.benchmarks.build import bench_build
from ivory_quilt.benchmarks.buying import bench_buying
from ivory_quilt.benchmarks.cutting import bench_cutting
from ivory_quilt.benchmarks.desk import bench_desk
from ivory_quilt.benchmarks.drafting import bench_drafting
from ivory_quilt.benchmarks.engine import bench_engine
from ivory_quilt.benchmarks.formup import bench_formup
from ivory_quilt.benchmarks.formup_window import bench_formup_window
from ivory_quilt.benchmarks.hostile import bench_hostile
from ivory_quilt.benchmarks.layout import bench_layout
from ivory_quilt.benchmarks.nesting import bench_nesting, fuzz
from ivory_quilt.benchmarks.papers import bench_papers
from ivory_quilt.benchmarks.reading import bench_reading
from ivory_quilt.benchmarks.report import Figure, print_figures
from ivory_quilt.benchmarks.scheduling import bench_scheduling
from ivory_quilt.benchmarks.table import bench_table
from ivory_quilt.benchmarks.troupe import bench_cluster, bench_troupe

BENCHES = {
    "build": bench_build,
    "buying": bench_buying,
    "cutting": bench_cutting,
    "desk": bench_desk,
    "drafting": bench_drafting,
    "engine": bench_engine,
    "formup": bench_formup,
    "formup-window": bench_formup_window,
    "hostile": bench_hostile,
    "layout": bench_layout,
    "nesting": bench_nesting,
    "papers": bench_papers,
    "reading": bench_reading,
    "scheduling": bench_scheduling,
    "table": bench_table,
    "troupe": bench_troupe,
    "cluster": bench_cluster,
}


LONG = ("buying", "cluster", "cutting", "engine", "nesting", "scheduling", "troupe")


def main(names: list[str]) -> int:
    """Print the figures; exit 1 when a promise is missed, 2 for an unknown name."""
    if names[:1] == ["--fuzz"]:
        return int(fuzz(*(int(n) for n in names[1:3] or ["2000"])) > 0)
    unknown = [n for n in names if n not in BENCHES]
    if unknown:
        print(f"bench: no measurement '{unknown[0]}'; there are {', '.join(BENCHES)}")
        return 2
    figures: list[Figure] = []
    for name, bench in BENCHES.items():
        if name in names or (not names and name not in LONG):
            figures += bench()
    print_figures(figures)
    return int(any(not f.kept for f in figures))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
