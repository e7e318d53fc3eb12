"""A drawing on its way in: its scale, and mends to choose."""

from ivory_quilt.core.reading.found import Reading, ReadProblem
from ivory_quilt.core.record import Struct, field
from ivory_quilt.files.drawings import ReadOptions, read_drawing


class DrawingImport(Struct):
    """A file that was read and still wants the maker: a scale, or mends to choose.

    `brought_in` holds the project's ids of the pieces that came of it, by their ids in the file.
    """

    file: str
    data: bytes
    reading: Reading
    brought_in: dict[str, str] = field(default_factory=dict)

    def at_scale(self, mm_per_unit: float) -> Reading:
        """Return the file read again at its true scale; may run anywhere.

        Curves are flattened to the same tolerance as any other file's then.

        Raises:
            InputError: unreadable at that scale.
        """
        return read_drawing(self.data, self.file, ReadOptions(mm_per_unit))

    @property
    def open_problems(self) -> list[ReadProblem]:
        """Problems that nobody has mended yet."""
        return [p for p in self.reading.problems if not p.mended]

    @property
    def drawn_width(self) -> float:
        """Width of all outlines in the file's own units."""
        boxes = [p.shape.bounds for p in self.reading.pieces]
        if not boxes:
            return 0.0
        return max(b[2] for b in boxes) - min(b[0] for b in boxes)
