"""What a command is, and what commands may ask of the desk."""

from collections.abc import Callable
from typing import Protocol

from ivory_quilt.core.record import Struct
from ivory_quilt.desk.documents import Documents
from ivory_quilt.desk.drawings import Drawings
from ivory_quilt.desk.errands import Errands
from ivory_quilt.desk.laying import Laying
from ivory_quilt.desk.panel_set import PanelSet
from ivory_quilt.desk.preferences import Preferences
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.station_set import StationSet
from ivory_quilt.desk.stations.base import Station


class Desk(Protocol):
    """What commands work on: the window, as far as they know it."""

    session: Session
    stations: StationSet
    documents: Documents
    errands: Errands
    drawings: Drawings
    laying: Laying
    panels: PanelSet
    preferences: Preferences

    @property
    def station(self) -> Station:
        """The station in front."""

    def go(self, ident: str) -> None:
        """Bring a station to the front."""

    def do_at(self, ident: str, action: str) -> None:
        """Go to a station and do one of its actions there."""

    def close(self) -> bool:
        """Close the window."""

    def can_keep(self) -> bool:
        """Whether an offered layout can be kept."""

    def fit(self) -> None:
        """Zoom to fit on the table in front."""

    def zoom(self, factor: float) -> None:
        """Zoom the table in front."""

    def fold_card(self) -> None:
        """Fold the side card away, or back."""


class Command(Struct, frozen=True):
    """One thing the maker can do.

    Attributes:
        id: stable name.
        title: as it stands in menus.
        keys: shortcut, "" for none (every command of ours has one).
        menu: which menu, "" for none.
        tip: one plain sentence.
        run: does it.
        enabled: whether it makes sense now.
    """

    id: str
    title: str
    keys: str
    menu: str
    tip: str
    run: Callable[[Desk], object]
    enabled: Callable[[Desk], bool] = lambda _: True


def in_front(name: str) -> dict[str, Callable[[Desk], object]]:
    """Return run and enabled for an action of the station in front."""
    return {"run": lambda w: w.station.act(name), "enabled": lambda w: w.station.can(name)}


def at(station: str, name: str) -> dict[str, Callable[[Desk], object]]:
    """Return run and enabled for an action of one station, wherever the maker stands."""
    return {
        "run": lambda w: w.stations[station].act(name),
        "enabled": lambda w: w.stations.can(station, name),
    }


def command(
    ident: str, title: str, keys: str, menu: str, tip: str, **how: Callable[[Desk], object]
) -> Command:
    """Return a command, its run and enabled by name."""
    return Command(ident, title, keys, menu, tip, **how)  # type: ignore[arg-type]
