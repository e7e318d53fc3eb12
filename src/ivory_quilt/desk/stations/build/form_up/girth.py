"""The presenter of girths: where a plane cuts the group, measured beside the window."""

from collections.abc import Callable
from functools import partial

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.formup.assembly import Array
from ivory_quilt.core.formup.choices import FormerKind
from ivory_quilt.core.formup.girths import Girth, GirthPlane, girth_of
from ivory_quilt.core.formup.outcome import FormedShape
from ivory_quilt.core.formup.skin import facing
from ivory_quilt.core.measure.wearer import MeasureKind, spot
from ivory_quilt.core.record import Struct
from ivory_quilt.desk.stations.build.form_up.former import FormUpPresenter
from ivory_quilt.desk.work import Background, at_once


class MeasuredGirth(Struct, frozen=True):
    """What a plane comes to on a shape: its height above the lowest place, mm, and the girth.

    Attributes:
        line: the stretches of the cut, `(n, 2, 3)`, in the places of the solid that is painted.
    """

    shape: FormedShape
    plane: GirthPlane
    height: float
    girth: Girth | None
    line: Array | None


class GirthPresenter:
    """One plane that is moved and leant; what it cuts of the shape in sight."""

    def __init__(self, form_up: FormUpPresenter) -> None:
        """Measure what `form_up` shows."""
        self.form_up = form_up
        self.changed: Callable[[], object] = lambda: None
        self.background: Background = at_once
        self.plane = GirthPlane()
        self.found: MeasuredGirth | None = None
        self.chosen: str | None = None
        self._busy = False

    def move(self, plane: GirthPlane) -> None:
        """Measure at another plane."""
        self.plane = plane
        self.ask()

    def compare(self, measure: str) -> None:
        """Choose which of the wearer's girths it is compared with; none: ''."""
        self.chosen = measure
        self.changed()

    @property
    def measures(self) -> tuple[tuple[str, str], ...]:
        """The girths that the wearer has, (id, title)."""
        wearer = self.form_up.wearer
        taken = wearer.measures if wearer is not None else ()
        girths = [m.spot for m in taken if spot(m.spot).kind is MeasureKind.GIRTH]
        return tuple((g, spot(g).title) for g in girths)

    @property
    def compared(self) -> str:
        """The girth to compare with: as chosen, else that of the part which it is pressed on."""
        choice, known = self.form_up.choice, [g for g, _ in self.measures]
        wanted = self.chosen
        if wanted is None and choice.former is FormerKind.WEARER:
            wanted = str(choice.part.value)
        return wanted if wanted in known else ""

    @property
    def wanted(self) -> float | None:
        """The wearer's girth, mm; None without any."""
        wearer = self.form_up.wearer
        found = wearer.measure(self.compared) if wearer is not None and self.compared else None
        return None if found is None else found.value

    @property
    def in_sight(self) -> MeasuredGirth | None:
        """What was measured of the shape in sight, if that is done."""
        found = self.found
        return found if found is not None and found.shape is self.form_up.shape else None

    def ask(self) -> None:
        """Measure, unless that is known; one at a time, the next of how it stands by then."""
        shape, plane, found = self.form_up.shape, self.plane, self.found
        if shape is None or self._busy:
            return
        if found is not None and found.shape is shape and found.plane == plane:
            return
        self._busy = True
        self.background(partial(_measured, shape, plane), self._have)

    def _have(self, found: MeasuredGirth | None, error: Exception | None) -> None:
        self._busy = False
        if found is None:
            raise error or AssertionError
        self.found = found
        self.changed()
        self.ask()


def _measured(shape: FormedShape, plane: GirthPlane) -> MeasuredGirth:
    """Return what a plane cuts; any thread."""
    height, point, normal = plane.through(shape)
    girth = girth_of(shape, point, normal)
    line = girth.cut @ facing(shape) if girth is not None else None
    return MeasuredGirth(shape, plane, height, girth, line)


def leaning(degrees: float) -> float:
    """Return how far a plane leans, checked.

    Raises:
        InputError: not -90 to 90 degrees.
    """
    if not -90 <= degrees <= 90:
        raise InputError("lean of the plane", f"{degrees:g}°", "−90 to 90°")
    return degrees
