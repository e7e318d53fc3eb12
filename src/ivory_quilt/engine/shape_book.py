"""Jobs as they go through the pipe: a shape is sent once and then named by its content's key.

So a job of thousands of parts is some hundred kilobytes, and asking for it again a few.
"""

from ivory_quilt.core.geometry.shape import Shape
from ivory_quilt.core.nesting.job import LayJob, PieceSpec, SheetSpec
from ivory_quilt.engine.messages import JobMessage, PieceMessage, Rings, SheetMessage


class ShapeBook:
    """The shapes that one end of the pipe knows by their keys."""

    def __init__(self) -> None:
        """Know none."""
        self._known: dict[bytes, Shape] = {}
        self.size = 0
        """Bytes of points that it holds."""

    def clear(self) -> None:
        """Forget all."""
        self._known.clear()
        self.size = 0

    def wire(self, job: LayJob) -> tuple[JobMessage, list[tuple[bytes, Rings]]]:
        """Return a job with keys for shapes, and the shapes that the other end does not know."""
        new: list[tuple[bytes, Rings]] = []

        def key(shape: Shape) -> bytes:
            found = shape.content_key
            if found not in self._known:
                self._known[found] = shape
                new.append((found, shape.ring_bytes))
                self.size += sum(len(ring) for ring in new[-1][1])
            return found

        pieces = [
            PieceMessage(
                p.id,
                key(p.shape),
                p.quantity,
                p.rotations,
                p.mirror,
                p.fixed,
                p.group,
                p.hidden,
                p.worth,
            )
            for p in job.pieces
        ]
        sheets = [
            SheetMessage(
                s.id, key(s.shape), s.quantity, s.cost, s.margin, tuple(map(key, s.defects))
            )
            for s in job.sheets
        ]
        return JobMessage(pieces, sheets, job.rolls, job.gap), new

    def learn(self, shapes: list[tuple[bytes, Rings]]) -> None:
        """Know what was sent."""
        for key, rings in shapes:
            self._known[key] = Shape.from_ring_bytes(*rings)

    def job(self, wire: JobMessage) -> LayJob:
        """Return a job with its shapes.

        Raises:
            KeyError: a shape that was never sent.
        """
        known = self._known
        return LayJob(
            tuple(
                PieceSpec(
                    p.id,
                    known[p.shape],
                    p.quantity,
                    p.rotations,
                    p.mirror,
                    p.fixed,
                    p.group,
                    p.hidden,
                    p.worth,
                )
                for p in wire.pieces
            ),
            tuple(
                SheetSpec(
                    s.id,
                    known[s.shape],
                    s.quantity,
                    s.cost,
                    s.margin,
                    tuple(known[d] for d in s.defects),
                )
                for s in wire.sheets
            ),
            wire.rolls,
            wire.gap,
        )
