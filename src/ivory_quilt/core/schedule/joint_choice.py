"""How one joint is glued and finished: what the maker decides. Data only."""

from enum import StrEnum

from ivory_quilt.core.record import Struct


class GlueKind(StrEnum):
    """What is glued with."""

    CEMENT = "contact cement"
    HOT_MELT = "hot-melt glue"
    CYANOACRYLATE = "cyanoacrylate"
    SPRAY = "spray adhesive"


TACK = {GlueKind.SPRAY: (1, 5)}
"""Minutes from the last spray until it can be joined, and until it cannot any more: common
practice, no source."""


class JointChoice(Struct, frozen=True):
    """One joint's glue, and whether it is filled and sanded or hidden."""

    joint: str
    glue: GlueKind = GlueKind.CEMENT
    filled: bool = True
