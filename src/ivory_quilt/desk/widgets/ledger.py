"""The ledger along the foot: foam by thickness, scrap, cost, and what the last edit changed."""

from decimal import Decimal

from PySide6.QtCore import QSize, Qt, Signal
from PySide6.QtGui import QKeyEvent, QMouseEvent, QPainter, QPaintEvent, QPen
from PySide6.QtWidgets import QFrame, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from ivory_quilt.core.plan.plan import FoamPlan, Plan
from ivory_quilt.core.plan.standing import Standing
from ivory_quilt.core.reckoning import Reckoning, Step
from ivory_quilt.core.stock.foam_stock import ShopStock, StockKind
from ivory_quilt.core.stock.purchase import FoamLine, Ledger, LedgerChange
from ivory_quilt.core.units import (
    Currency,
    show_misfits,
    show_money,
    show_parts,
    show_thickness,
    show_weight,
)
from ivory_quilt.desk.event_turns import Later
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Stitch, clear, column, label, row, set_tone
from ivory_quilt.desk.widgets.edgebar import EdgeBar
from ivory_quilt.desk.widgets.slip import SlipFigure


class FoamEntry(QWidget):
    """One foam in the ledger; a click opens the station that decides it."""

    chosen = Signal(object)

    def __init__(self, foam: FoamPlan, plan: Plan, change: str) -> None:
        """Show one foam: edge bar, sheets to buy and from the shelf, what changed."""
        super().__init__()
        self.foam = foam.foam
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        self.setFocusPolicy(Qt.FocusPolicy.TabFocus)
        self._under, self._news = label("", "note"), label("", "note")
        kind = plan.stock.material(foam.foam.material).kind
        title = plan.stock.foam_name(foam.foam, [f.foam for f in plan.foams])
        name = label(title, "heading")
        words = column(None, name, self._under, self._news, None, space=1)
        layout = row(EdgeBar(foam.foam.thickness, 26, kind), words, space=8)
        layout.setContentsMargins(10, 0, 10, 0)
        self.setLayout(layout)
        self.fill(foam, plan, change)

    @property
    def text(self) -> str:
        """What is taken, as shown."""
        return self._under.text()

    def fill(self, foam: FoamPlan, plan: Plan, change: str) -> None:
        """Show the foam as it stands now."""
        line = foam.line
        name = show_thickness(foam.foam.thickness)
        amount, tone = self._amount(foam)
        self._under.setText(amount)
        set_tone(self._under, tone)
        self._news.setText(change)
        set_tone(self._news, _tone(change))
        scrap = f", {100 * line.scrap_share:.0f} % scrap" if line.laid else ""
        material = plan.stock.material_name(foam.foam.material)
        self.setToolTip(f"{name} {material}: {show_parts(line.parts)}{scrap}")
        self.setAccessibleName(f"{name} {material}: {amount}. {change}")

    @staticmethod
    def _amount(foam: FoamPlan) -> tuple[str, str]:
        line = foam.line
        if foam.standing is Standing.NO_STOCK:
            return "no foam in the shop", "cut"
        if foam.standing is Standing.CUT and line.under_knife:
            return "being cut", ""
        if foam.standing is Standing.CUT:
            return "all cut", "good"
        if not line.laid:
            return "laying …", "soft"
        if line.unplaced:
            return show_misfits(line.unplaced), "cut"
        return foam_amount(line), ""

    def mousePressEvent(self, _event: QMouseEvent) -> None:
        """Open the station."""
        self.chosen.emit(self.foam)

    def keyPressEvent(self, event: QKeyEvent) -> None:
        """Open the station on Return or Space."""
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self.chosen.emit(self.foam)
        else:
            super().keyPressEvent(event)

    def paintEvent(self, _event: QPaintEvent) -> None:
        """Show the focus."""
        if self.hasFocus():
            painter = QPainter(self)
            painter.setPen(QPen(self.palette().highlight().color(), 2))
            painter.drawRoundedRect(self.rect().adjusted(1, 1, -1, -1), 6, 6)


def foam_amount(line: FoamLine) -> str:
    """Return what is taken of one foam: "buy 1, shelf 2"."""
    words = []
    rolls = [x for x in line.bought if x.item.kind is StockKind.ROLL]
    sheets = sum(round(x.amount) for x in line.bought if x.item.kind is not StockKind.ROLL)
    if sheets:
        words.append(f"buy {sheets}")
    words += [f"buy {x.amount_text}" for x in rolls]
    if shelf := line.sheets(owned=True):
        words.append(f"shelf {shelf}")
    return ", ".join(words) or "nothing"


def _tone(change: str) -> str:
    if change.startswith("+"):
        return "heat"
    return "good" if change.startswith("−") else ""


NO_STOCK = ShopStock()
AFTER_TABLE = 20  # ms: figures follow a better layout in a turn of their own


class LedgerBar(QWidget):
    """The whole ledger; always in sight."""

    chosen = Signal(object)
    """A foam was clicked (Foam), or the cost (None)."""

    def __init__(self, session: Session) -> None:
        """Follow `session`."""
        super().__init__()
        self.setObjectName("Ledger")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(88)
        self._session = session
        self._state: tuple[object, ...] = ()
        self._entries: list[FoamEntry] = []
        self._foams = QHBoxLayout()
        self._foams.setContentsMargins(0, 0, 0, 0)
        self._foams.setSpacing(0)
        inside = QWidget()
        inside.setLayout(self._foams)
        area = QScrollArea()
        area.setWidget(inside)
        area.setWidgetResizable(True)
        area.setFrameShape(QFrame.Shape.NoFrame)
        area.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.parts = label("", "figure")
        self.scrap = SlipFigure()
        self.cost = SlipFigure()
        self.hours = label("", "figure")
        self.hours_note = label("", "note")
        self.cost_note = label("", "note")
        self.scrap_note = label("", "note")
        self.parts_note = label("", "note")
        self.parts_note.setText("cut parts")
        layout = QHBoxLayout()
        layout.setContentsMargins(16, 6, 16, 6)
        layout.setSpacing(16)
        layout.addWidget(area, 1)
        for figure, note in (
            (self.parts, self.parts_note),
            (self.scrap, self.scrap_note),
            (self.cost, self.cost_note),
            (self.hours, self.hours_note),
        ):
            layout.addWidget(Stitch(upright=True))
            layout.addLayout(_figure(figure, note))
        self.setLayout(layout)
        session.changed.connect(self.refresh)
        session.proposed.connect(Later(self.refresh, AFTER_TABLE, self).soon)
        self.refresh()

    def sizeHint(self) -> QSize:
        """As high as three lines of text."""
        return QSize(800, 88)

    def show_bench(self, hours: str, note: str, tone: str = "") -> None:
        """Show the hours at the bench, and the day on which all is done."""
        self.hours.setText(hours)
        self.hours_note.setText(note)
        set_tone(self.hours_note, tone)

    def show_anew(self) -> None:
        """Show everything again, in other units or another decimal mark."""
        self._state = ()
        for entry in self._entries:
            entry.deleteLater()
        self._entries = []
        self.refresh()

    def refresh(self) -> None:
        """Show the present plan."""
        plan, change = self._session.plan, self._session.last_change
        currency = self._session.stock.currency
        state = (plan.ledger, tuple(f.standing for f in plan.foams), change, currency)
        if state == self._state:
            return
        self._state = state
        words = dict(change.foams) if change is not None else {}
        self._figures(plan, change)
        self.parts_note.setText(f"parts, {show_weight(plan.weight)}")
        if plan.foams and [e.foam for e in self._entries] == [f.foam for f in plan.foams]:
            for entry, foam in zip(self._entries, plan.foams, strict=True):
                entry.fill(foam, plan, words.get(foam.foam, ""))
            return
        clear(self._foams)
        self._entries = []
        for k, foam in enumerate(plan.foams):
            if k:
                self._foams.addWidget(Stitch(upright=True))
            entry = FoamEntry(foam, plan, words.get(foam.foam, ""))
            entry.chosen.connect(self.chosen)
            self._foams.addWidget(entry)
            self._entries.append(entry)
        if not plan.foams:
            text = "Foam, scrap and cost stand here as soon as there are pieces."
            self._foams.addWidget(label(text, "note"))
        self._foams.addStretch(1)

    def _figures(self, plan: Plan, change: LedgerChange | None) -> None:
        ledger = plan.ledger
        stock = self._session.stock
        sign = stock.currency
        waiting = bool(plan.unlaid)
        self.parts.setText(str(ledger.parts))
        self.scrap.show_figure(
            f"{100 * ledger.scrap_share:.0f} %" if ledger.foam_area else "–",
            (lambda: reckon_total_scrap(ledger, stock)) if ledger.foam_area else None,
        )
        self.cost.show_figure(
            show_money(ledger.cost, sign), lambda: reckon_total_cost(ledger, sign)
        )
        self.scrap_note.setText("scrap")
        set_tone(self.scrap_note, "")
        note, tone = "foam to buy", ""
        if ledger.unplaced and not waiting:
            note, tone = f"{show_parts(ledger.unplaced)} not laid", "cut"
        elif waiting:
            note, tone = "laying …", "soft"
        elif ledger.unpriced:
            note, tone = "prices missing", "heat"
        elif ledger.parts and ledger.cost == ledger.bound:
            note, tone = "proven best", "good"
        if change is not None and not change.empty:
            if change.cost:
                more = change.cost > 0
                note = f"{'+' if more else '−'}{show_money(abs(change.cost), sign)}"
                tone = "heat" if more else "good"
            if abs(change.scrap_points) >= 0.5:
                up = change.scrap_points > 0
                points = f"{'+' if up else '−'}{abs(change.scrap_points):.0f} points scrap"
                self.scrap_note.setText(points)
                set_tone(self.scrap_note, "heat" if up else "good")
        self.cost_note.setText(note)
        set_tone(self.cost_note, tone)


def _figure(figure: QWidget, note: QWidget) -> QVBoxLayout:
    return column(None, figure, note, None, space=2)


def reckon_total_scrap(ledger: Ledger, stock: ShopStock = NO_STOCK) -> Reckoning:
    """Explain the scrap of all foam: by area, and what it weighs and cost."""
    steps = [
        Step(
            show_thickness(line.foam.thickness),
            f"{line.foam_area / 1e6:.4f} − {line.part_area / 1e6:.4f} − {line.kept / 1e6:.4f}",
            line.scrap_area / 1e6,
            "m²",
        )
        for line in ledger.lines
        if line.laid
    ]
    taken, gone = ledger.foam_area / 1e6, ledger.scrap_area / 1e6
    share = 100 * ledger.scrap_share
    grams = sum(
        line.scrap_area
        * line.foam.thickness
        / 1000
        * stock.material(line.foam.material).book.density
        for line in ledger.lines
    )
    steps.append(Step("it weighs", "Σ area × thickness × density", grams, "g"))
    cost = sum((line.scrap_cost for line in ledger.lines), Decimal(0))
    steps.append(Step("it cost", "Σ cost × share", f"{cost:.2f}", stock.currency.sign))
    steps.append(Step("in all", f"100 × {gone:.4f} ÷ {taken:.4f}" if taken else "", share, "%"))
    note = (
        "Foam taken − parts − offcuts worth keeping. An offcut is kept when straight cuts across "
        "the sheet free at least 80 mm × 250 mm or so; what lies between parts is scrap."
    )
    source = "area balance: foam taken = parts + offcuts kept + scrap"
    return Reckoning("scrap", {}, {}, tuple(steps), source, (note,))


def reckon_total_cost(ledger: Ledger, currency: Currency) -> Reckoning:
    """Explain the cost of all foam, and the bound."""
    sign = currency.sign
    steps = [
        Step(
            show_thickness(line.foam.thickness),
            foam_amount(line),
            f"{line.cost:.2f}",
            currency.sign,
        )
        for line in ledger.lines
        if line.laid
    ]
    steps.append(Step("in all", "Σ", f"{ledger.cost:.2f}", sign))
    bound = "no layout on this stock can cost less (areas with gaps; dearest single part)"
    steps.append(Step("proven lower bound", bound, f"{ledger.bound:.2f}", sign))
    return Reckoning("cost", {}, {}, tuple(steps), "the shop's catalogue")
