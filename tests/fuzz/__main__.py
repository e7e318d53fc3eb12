"""`./quilt fuzz [KIND ...] [--count N] [--first SEED]`: mutated files of all kinds, or some."""

import argparse
import sys

from tests.fuzz.run import faults
from tests.fuzz.subjects import SUBJECTS


def main() -> int:
    parser = argparse.ArgumentParser(prog="quilt fuzz")
    parser.add_argument("kinds", nargs="*", choices=[*SUBJECTS, []])
    parser.add_argument("--count", type=int, default=10_000)
    parser.add_argument("--first", type=int, default=0)
    options = parser.parse_args()
    wrong = 0
    for kind in options.kinds or SUBJECTS:
        found, figures = faults(kind, options.count, options.first)
        wrong += len(found)
        print(
            f"{kind}: {options.count} files, {figures['refused']} refused, longest "
            f"{figures['longest']:.2f} s, at most {figures['peak']:.0f} MB, {len(found)} faults",
            flush=True,
        )
        for text in found[:20]:
            print(f"  {text[-1500:]}", flush=True)
    return int(wrong > 0)


sys.exit(main())
