"""The look at one formed piece, worked out beside the window, in its tones where wanted."""

from functools import partial

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.paint import PaintArea
from ivory_quilt.core.pattern.piece import Piece
from ivory_quilt.core.pattern.region import FaceRegion
from ivory_quilt.core.stacks.cut import CutContext
from ivory_quilt.core.stacks.solid import Solid, solid_of
from ivory_quilt.desk.solid.view import SolidView, painted_colours
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.desk.work import Background

Wanted = tuple[Piece, CutContext, tuple[PaintArea, ...]]


class FormedPiece(SolidView):
    """One piece with its layers in its form."""

    _wanted: Wanted | None = None

    def show_piece(
        self,
        piece: Piece,
        context: CutContext,
        tones: tuple[PaintArea, ...],
        look: Palette,
        background: Background,
    ) -> None:
        """Show a piece, in `tones` where there are some; `background` works it out."""
        wanted = (piece, context, tones)
        if wanted == self._wanted:
            self.set_look(look)
            return
        self.look = look
        self._wanted = wanted
        regions = tuple(a.region for a in tones)
        background(partial(_solid, piece, context, regions), partial(self._have_solid, wanted))

    def _have_solid(
        self, wanted: Wanted, found: tuple[Solid | None, str] | None, error: Exception | None
    ) -> None:
        if error is not None:
            raise error
        if found is None or wanted is not self._wanted:
            return
        solid, problem = found
        if solid is None:
            self.show_nothing(self.look, problem)
            return
        tones = tuple(a.colour for a in wanted[2])
        self.show_solid(solid, self.look, partial(painted_colours, solid, tones) if tones else None)


def _solid(
    piece: Piece, context: CutContext, regions: tuple[FaceRegion, ...]
) -> tuple[Solid | None, str]:
    """Return a piece's solid with regions marked on it, or why there is none; any thread."""
    try:
        return solid_of(piece, context, regions), ""
    except InputError as error:
        return None, str(error)
