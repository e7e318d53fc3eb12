"""Which of several layouts of one job is the best."""

from collections.abc import Sequence

from ivory_quilt.core.nesting.job import LayJob, LayResult
from ivory_quilt.core.nesting.leftovers import leftovers


def best_of(job: LayJob, results: Sequence[LayResult]) -> LayResult:
    """Return the layout that leaves least out, then costs least, then leaves the largest piece.

    Of equals it is the first, so that the same results give the same best wherever they were found.
    """

    def rank(result: LayResult) -> tuple[float, object]:
        return sum(job.values[piece] for piece, _ in result.unplaced), result.cost

    least = min(rank(r) for r in results)
    equal = [r for r in results if rank(r) == least]
    if len(equal) == 1:
        return equal[0]
    return max(equal, key=lambda r: max((k.area for k in leftovers(job, r.placements)), default=0))
