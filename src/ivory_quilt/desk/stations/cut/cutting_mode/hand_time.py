"""How long hands take at a sheet, by the time between ticks."""

AWAY = 900.0  # s: nobody cuts at one part for so long
QUICKEST = 2.0  # s: nobody cuts one in less: ticks are made up for


class HandTime:
    """Minutes that were taken for parts, and that were planned for the same ones."""

    def __init__(self, now: float | None = None) -> None:
        """Begin at `now`, s; None: nothing is cut."""
        self._since = now
        self.taken = self.planned = 0.0

    def tick(self, now: float, planned: float) -> None:
        """Count the time since the tick before, unless hands were plainly elsewhere.

        `planned`: minutes for what is ticked; 0 where that is not known.
        """
        before, self._since = self._since, now
        if before is not None and planned > 0 and QUICKEST < now - before < AWAY:
            self.taken += (now - before) / 60
            self.planned += planned
