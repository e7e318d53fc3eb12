"""Break the core's rules one at a time and count what no test notices.

`./quilt mutate` breaks every constant that a maker feels, and 60 places of code in each room.
`--code N` draws N a room (0: all of them), `--seed N` others, `--rooms forming,edges` only some,
`--no-constants` leaves the constants.
"""

import argparse
import os
import sys
import tomllib
from collections import Counter
from pathlib import Path

from tests.mutation.covering import measure
from tests.mutation.mutants import CONSTANTS, CORE, ROOMS, Mutant, constants, modules, sample
from tests.mutation.running import Verdict, load_libraries, run_all

EXPLAINED = Path(__file__).with_name("explained.toml")
AIM = 0.80


def main() -> int:
    """Run, print what survives, and fail below the aim or for a constant that nobody explains."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--code", type=int, default=60)
    parser.add_argument("--seed", type=int, default=1)
    parser.add_argument("--rooms", default=",".join(ROOMS))
    parser.add_argument("--no-constants", action="store_true")
    options = parser.parse_args()
    os.environ["IVORY_QUILT_FEW"] = "1"
    load_libraries()
    seen = _seen()
    rooms = tuple(options.rooms.split(","))
    mutants = sample(rooms, options.code, options.seed)
    if not options.no_constants:
        chosen = CONSTANTS if rooms == ROOMS else rooms
        mutants += [m for path in modules(chosen) for m in constants(path)]
    jobs = [(m, seen.tests_of(m.module, m.line, constant=m.constant)) for m in mutants]
    explained = tomllib.loads(EXPLAINED.read_text())["explained"]
    survivors = []
    counts: Counter[tuple[str, str]] = Counter()
    for number, (mutant, verdict) in enumerate(run_all(jobs, os.cpu_count() or 1), 1):
        room = "constants" if mutant.constant else mutant.module.split(".")[2]
        counts[room, "all"] += 1
        counts[room, "killed"] += verdict is Verdict.KILLED
        if verdict is not Verdict.KILLED:
            counts[room, "explained"] += mutant.key in explained
            survivors.append((mutant, verdict))
        if number % 50 == 0:
            print(f"{number} of {len(jobs)}, {len(survivors)} not noticed", flush=True)
    return _report(counts, survivors, explained)


def _seen():
    """Measure in a process of its own: this one must import nothing that is broken later."""
    import msgspec

    from tests.mutation.covering import Seen

    read, write = os.pipe()
    if os.fork() == 0:
        os.close(read)
        with os.fdopen(write, "wb") as out:
            out.write(msgspec.json.encode(measure(CORE)))
        os._exit(0)
    os.close(write)
    with os.fdopen(read, "rb") as back:
        data = back.read()
    os.wait()
    return msgspec.json.decode(data, type=Seen)


def _report(
    counts: Counter[tuple[str, str]], survivors: list[tuple[Mutant, Verdict]], explained: dict
) -> int:
    rows = sorted(survivors, key=lambda s: (s[0].module, s[0].line))
    open_ones = [(m, v) for m, v in rows if m.key not in explained]
    for mutant, verdict in open_ones:
        print(f"{verdict.value}: {mutant.module}:{mutant.line}  {mutant.what}")
    low = False
    for room in sorted({room for room, _ in counts}):
        whole, killed = counts[room, "all"], counts[room, "killed"]
        share = killed / whole
        low = low or (room != "constants" and share < AIM)
        print(
            f"{room:<10} {killed:4} of {whole:4} killed, {100 * share:5.1f} %, "
            f"{counts[room, 'explained']} explained"
        )
    constants_open = [m for m, _ in open_ones if m.constant]
    return 1 if low or constants_open else 0


if __name__ == "__main__":
    sys.exit(main())
