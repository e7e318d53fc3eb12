"""A whole troupe in the demo's suit, for measuring: forty lantern bearers of all sizes."""

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.measure.troupe import Member
from ivory_quilt.core.measure.wearer import Wearer
from ivory_quilt.core.record import replace
from ivory_quilt.demo.project import demo_project

SMALLEST, LARGEST = 0.9, 1.1


def troupe_project(count: int = 40) -> Project:
    """Return the demo suit for `count` wearers in sizes from 90 to 110 %."""
    step = (LARGEST - SMALLEST) / max(1, count - 1)
    wearers = tuple(Wearer(f"bearer-{k}", f"Lantern bearer {k}") for k in range(1, count + 1))
    members = tuple(
        Member(w.id, scale=round(SMALLEST + step * k, 6)) for k, w in enumerate(wearers)
    )
    return replace(
        demo_project(),
        name="Lantern bearers' troupe",
        wearers=wearers,
        troupe=members,
        layouts=(),
    )
