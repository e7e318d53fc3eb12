"""The picture beneath the piece that is drafted, without a widget."""

import math
from collections.abc import Callable
from functools import partial
from pathlib import Path

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.geometry.shape import Array, Point
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.reading.tracing.follow import Follows, followed
from ivory_quilt.core.reading.tracing.picture import LoadedPicture
from ivory_quilt.core.units import parse_scalar, typed_length
from ivory_quilt.desk.stations.pattern.draft.underlay import Underlay, laid
from ivory_quilt.desk.work import Background
from ivory_quilt.files.atomic import read_bytes, shown_name

WOBBLE = 1.0  # mm that a hand may be off what it means, from memory, no source


def load(path: Path) -> LoadedPicture:
    """Return a picture's pixels in grey; may run anywhere.

    Raises:
        InputError: it is no picture that can be read.
    """
    from ivory_quilt.files.picture_read import load_picture  # it loads the picture library

    return load_picture(read_bytes(path), shown_name(path.name))


class PicturePresenter:
    """Pictures that lie beneath pieces while this project is open, one a piece."""

    def __init__(self, piece: Callable[[], Piece | None], reader: Callable[[], Background]) -> None:
        """Serve what `piece` returns; pictures are loaded on what `reader` returns."""
        self._piece, self._reader = piece, reader
        self._known: dict[str, Underlay] = {}
        self.wobble = WOBBLE
        """How far curves may be off a stroke, mm."""
        self.follows = Follows.HAND
        self.known: tuple[Point, Point] | None = None
        """A line over something whose length is known."""

    def forget(self) -> None:
        """Let go of all pictures: another project is open."""
        self._known.clear()
        self.known = None

    @property
    def underlay(self) -> Underlay | None:
        """The picture beneath the piece, if there is one."""
        piece = self._piece()
        return self._known.get(piece.id) if piece is not None else None

    def lay(self, underlay: Underlay) -> None:
        """Lay a picture beneath the piece."""
        piece = self._piece()
        if piece is not None:
            self._known[piece.id] = underlay

    def close(self) -> None:
        """Take the picture away."""
        piece = self._piece()
        if piece is not None:
            self._known.pop(piece.id, None)
        self.known = None

    def open(self, path: Path, then: Callable[[str], None]) -> None:
        """Load a picture and lay it about the piece's middle; tell `then` what was wrong."""
        piece = self._piece()
        if piece is None:
            return
        name, ident = shown_name(path.name), piece.id
        x0, y0, x1, y1 = piece.shape.bounds

        def have(found: LoadedPicture | None, error: Exception | None) -> None:
            if error is not None and not isinstance(error, InputError):
                raise error
            if found is not None:
                dpi = found.dpi / found.shrunk if found.dpi else None
                middle = ((x0 + x1) / 2, (y0 + y1) / 2)
                self._known[ident] = laid(found.grey, name, dpi, middle)
            then(str(error) if error is not None else "")

        self._reader()(partial(load, path), have)

    # Its place

    def set_width(self, text: str) -> None:
        """Make it as wide as typed.

        Raises:
            InputError: no length, or none that makes sense.
        """
        under, wide = self.underlay, typed_length(text, where="width")
        if under is not None:
            self.lay(under.scaled(max(wide, 0.0) / under.size[0], under.middle))

    def set_turn(self, text: str) -> None:
        """Turn it to so many degrees.

        Raises:
            InputError: no number.
        """
        under = self.underlay
        degrees = parse_scalar(text.replace("°", ""), where="turn")
        if under is not None:
            self.lay(under.turned(degrees))

    @property
    def known_length(self) -> float:
        """How long the line over something known is on the table, mm."""
        return math.dist(*self.known) if self.known is not None else 0.0

    def say_known(self, text: str) -> None:
        """Make the picture as large as gives the line over it the length typed.

        Raises:
            InputError: no line, or no length.
        """
        under, real = self.underlay, typed_length(text, where="known length")
        if under is None or self.known is None:
            return
        start, stop = self.known
        self.lay(under.with_known(start, stop, real))
        share = real / max(self.known_length, 1e-9)
        end = tuple(a + share * (b - a) for a, b in zip(start, stop, strict=True))
        self.known = start, (end[0], end[1])

    # Strokes

    def smooth_by(self, text: str) -> None:
        """Smooth strokes by a distance as typed.

        Raises:
            InputError: not 0.05 to 50 mm.
        """
        mm = typed_length(text, where="smooths by")
        if not 0.05 <= mm <= 50:
            raise InputError("smooths by", f"{mm:g} mm", "0.05 to 50 mm")
        self.wobble = mm

    def pulled(self, stroke: Array, reach: float) -> Array:
        """Return a stroke pulled to what the picture shows, up to `reach` mm to each side.

        Raises:
            InputError: it is too long to be followed.
        """
        under = self.underlay
        if under is None or self.follows is Follows.HAND:
            return stroke
        pixels = under.pixels(stroke)
        return under.millimetres(followed(under.grey, pixels, reach / under.scale, self.follows))
