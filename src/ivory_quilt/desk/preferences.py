"""What this maker likes: units, decimals, currency, paper, theme, text size, where the shop is."""

from PySide6.QtCore import QObject, Signal

from ivory_quilt.core.document.project import Paper
from ivory_quilt.core.errors import InputError
from ivory_quilt.core.stock.keeping import KeepRule
from ivory_quilt.core.units import (
    Currency,
    LengthUnit,
    parse_area,
    show_figures,
    typed_length,
)
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.settings import Settings
from ivory_quilt.desk.work import Background
from ivory_quilt.shop.store import ShopStore, is_server, open_address


class Preferences(QObject):
    """The preferences, kept in the settings but for the currency, which is the shop's."""

    changed = Signal()
    """Something is shown in another way: look at everything anew."""
    store_changed = Signal()
    """Another store was called, or answered, or did not."""

    def __init__(
        self, settings: Settings, session: Session, background: Background, parent: QObject
    ) -> None:
        """Keep in `settings`; another store opens on `background`."""
        super().__init__(parent)
        self._settings, self._session, self._background = settings, session, background
        self.calling = False
        self.store_problem = ""
        self._show()

    def _show(self) -> None:
        show_figures(comma=self._settings.comma, unit=self._settings.unit)

    def _tell(self) -> None:
        self._show()
        self.changed.emit()

    @property
    def unit(self) -> LengthUnit:
        """The unit lengths are shown in."""
        return self._settings.unit

    def set_unit(self, unit: LengthUnit) -> None:
        """Show lengths in a unit."""
        self._settings.unit = unit
        self._tell()

    def next_unit(self) -> None:
        """Show lengths in the next unit."""
        units = list(LengthUnit)
        self.set_unit(units[(units.index(self.unit) + 1) % len(units)])

    @property
    def comma(self) -> bool:
        """Whether decimals are shown with a comma."""
        return self._settings.comma

    def set_comma(self, *, on: bool) -> None:
        """Show decimals with a comma, or with a point."""
        self._settings.comma = on
        self._tell()

    @property
    def dark(self) -> bool:
        """Whether the dark theme is on."""
        return self._settings.dark

    def set_dark(self, *, on: bool) -> None:
        """Change to the dark theme, or the light one."""
        self._settings.dark = on
        self._tell()

    @property
    def text_size(self) -> int:
        """Text size, percent."""
        return self._settings.text_size

    def set_text_size(self, percent: int) -> None:
        """Show all text larger, or as usual."""
        self._settings.text_size = percent
        self._tell()

    @property
    def paper(self) -> Paper:
        """The paper that new projects begin with."""
        return self._settings.paper

    def set_paper(self, paper: Paper) -> None:
        """Let new projects begin with a paper."""
        self._settings.paper = paper
        self.changed.emit()

    @property
    def currency(self) -> Currency:
        """The currency of the shop's prices."""
        return self._session.stock.currency

    def set_currency(self, sign: str, *, first: bool) -> None:
        """Set the currency of the shop's prices.

        Raises:
            InputError: no sign, or the shop cannot be written.
        """
        currency = Currency(sign.strip(), first)
        if currency != self.currency:
            self._session.store.set_currency(currency)
            self._session.reload_stock()

    @property
    def keep(self) -> KeepRule:
        """Which offcuts the shop keeps."""
        return self._session.stock.keep

    def set_keep(self, side: str, area: str, *, joined: bool) -> None:
        """Keep offcuts from a side (a length) and an area (cm² unless it says another unit) on.

        An L stays in one piece where `joined`.

        Raises:
            InputError: no length or area, or the shop cannot be written.
        """
        bare = area.strip().replace(",", ".").replace(".", "", 1).isdigit()
        rule = KeepRule(
            typed_length(side, where="smallest side kept"),
            parse_area(f"{area.strip()} cm2" if bare else area, where="smallest area kept"),
            joined,
        )
        if rule != self.keep:
            self._session.store.set_keep_rule(rule)
            self._session.reload_stock()

    @property
    def store_address(self) -> str:
        """The server that keeps the shop; empty for a file of the maker's own."""
        return self._settings.store_address

    def set_store(self, address: str) -> None:
        """Work in the shop of a server from now on, or from the next start in the maker's own.

        Raises:
            InputError: no server's address.
        """
        address = address.strip()
        if address and not is_server(address):
            raise InputError("shop", f"'{address}'", "postgresql://USER@HOST/DATABASE")
        self.store_problem = ""
        if not address:
            self._settings.store_address = ""
            self.store_changed.emit()
            return
        self.calling = True
        self.store_changed.emit()
        self._background(lambda: open_address(address), lambda s, e: self._opened(address, s, e))

    def _opened(self, address: str, store: ShopStore | None, error: Exception | None) -> None:
        self.calling = False
        if store is None:
            self.store_problem = str(error)
        else:
            self._settings.store_address = address
            self._session.use_store(store)
        self.store_changed.emit()
        if error is not None and not isinstance(error, InputError):
            raise error
