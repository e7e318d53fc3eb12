"""The look at the whole suit on the wearer's figure, seen from the front."""

from functools import partial

from ivory_quilt.core.rendering.camera import Camera
from ivory_quilt.desk.solid.view import SolidView
from ivory_quilt.desk.stations.build.form_up.suit import SuitPresenter
from ivory_quilt.desk.stations.build.form_up.tones import suit_colours
from ivory_quilt.desk.theme.palette import Palette
from ivory_quilt.engine.questions import DressedSuit

FROM_FRONT = Camera(-24.0, -8.0, 1.12)


class SuitView(SolidView):
    """All groups where they are worn; a newer suit is seen as the last one was turned."""

    def __init__(self, suit: SuitPresenter) -> None:
        """Show nothing yet of `suit`; its engine paints."""
        super().__init__(suit.form_up.engine, suit.scene)
        self.camera = FROM_FRONT
        self.setAccessibleName("the suit on the figure; arrow keys rotate it")
        self._suit = suit
        self._dressed: DressedSuit | None = None

    def fill(self, look: Palette) -> None:
        """Show what is known of the suit."""
        suit = self._suit
        if suit.dressed is None:
            self._dressed = None
            self.show_nothing(look, suit.problem or "Forming the groups …")
        elif suit.dressed is self._dressed:
            self.set_look(look)
        else:
            follows = self._dressed is not None
            self._dressed = suit.dressed
            framing = suit.dressed.framing
            tones = partial(suit_colours, framing.thickness)
            self.show_kept(framing, look, tones, follows=follows)
