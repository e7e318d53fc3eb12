"""The look at the whole suit on the wearer's figure, seen from the front."""

from functools import partial

from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.desk.layout_engine import LayoutEngine
from ivory_quilt.desk.solid.view import SolidView
from ivory_quilt.desk.stations.build.form_up.suit import Dressed, SuitPresenter
from ivory_quilt.desk.stations.build.form_up.tones import suit_colours
from ivory_quilt.desk.theme.palette import Palette

FROM_FRONT = Camera(-24.0, -8.0, 1.12)


class SuitView(SolidView):
    """All groups where they are worn; a newer suit is seen as the last one was turned."""

    def __init__(self, engine: LayoutEngine) -> None:
        """Show nothing yet; `engine` paints."""
        super().__init__(engine)
        self.camera = FROM_FRONT
        self.setAccessibleName("the suit on the figure; arrow keys rotate it")
        self._dressed: Dressed | None = None

    def show_suit(self, suit: SuitPresenter, look: Palette) -> None:
        """Show what is known of a suit."""
        dressed = suit.dressed
        if dressed is None:
            self._dressed = None
            self.show_solid(None, look, suit.problem or "Forming the groups …")
        elif dressed is self._dressed:
            self.set_look(look)
        else:
            follows = self._dressed is not None
            self._dressed = dressed
            tones = partial(suit_colours, dressed.solid.thickness)
            scene = dressed.scene
            self.show_solid(dressed.solid, look, "", tones, follows=follows, scene=scene)
