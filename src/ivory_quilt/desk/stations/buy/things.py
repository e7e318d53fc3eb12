"""Other goods: what is not foam, from where, and whether it is here in time."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from decimal import Decimal

from PySide6.QtCore import QSignalBlocker
from PySide6.QtWidgets import QWidget

from ivory_quilt.core.document.project import Project, drop_thing, fresh_thing_id, put_thing
from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.core.units import counted, parse_money, show_money
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.stations.buy.typed_table import TypedTable
from ivory_quilt.desk.widgets.basics import Complaint, column, label, set_tone

FOR_ALL = "whole suit"


@dataclass(frozen=True)
class ThingColumn:
    """One column: how it is shown, and what a typed text makes of a thing."""

    head: str
    show: Callable[[Thing, Project], str]
    take: Callable[[Thing, str, Project], Thing]


def _piece_in(thing: Thing, text: str, project: Project) -> Thing:
    wish = text.strip().lower()
    if wish in ("", FOR_ALL):
        return replace(thing, piece="")
    for piece in project.pieces:
        if wish in (piece.name.lower(), piece.id.lower()):
            return replace(thing, piece=piece.id)
    names = [p.name for p in project.pieces]
    raise InputError("for piece", f"'{text}'{nearest(text, names)}", "a piece's name")


def _piece_name(thing: Thing, project: Project) -> str:
    found = next((p.name for p in project.pieces if p.id == thing.piece), thing.piece)
    return found or FOR_ALL


def _standing_in(thing: Thing, text: str, _project: Project) -> Thing:
    known = {s.value: s for s in ThingStanding}
    wish = text.strip().lower()
    if wish not in known:
        raise InputError("standing", f"'{text}'{nearest(wish, known)}", ", ".join(known))
    return replace(thing, standing=known[wish])


def _count_in(thing: Thing, text: str, _project: Project) -> Thing:
    if not text.strip().isdigit():
        raise InputError("how many", f"'{text}'", "a whole number")
    return replace(thing, count=int(text))


def _price_in(thing: Thing, text: str, _project: Project) -> Thing:
    return replace(thing, price=parse_money(text, where="price") if text.strip() else None)


COLUMNS = (
    ThingColumn("What", lambda t, _: t.name, lambda t, x, _: replace(t, name=x.strip())),
    ThingColumn("How many", lambda t, _: str(t.count), _count_in),
    ThingColumn("For piece", _piece_name, _piece_in),
    ThingColumn("Price each", lambda t, _: "" if t.price is None else f"{t.price:.2f}", _price_in),
    ThingColumn("From", lambda t, _: t.source, lambda t, x, _: replace(t, source=x.strip())),
    ThingColumn("Standing", lambda t, _: t.standing.value, _standing_in),
    ThingColumn("Arrives", lambda t, _: t.arrives, lambda t, x, _: replace(t, arrives=x.strip())),
    ThingColumn("Needed by", lambda t, _: t.needed, lambda t, x, _: replace(t, needed=x.strip())),
)
HELP = (
    "Closures, buckles, lenses, lights, shoes, leather: type into the empty row to add one, "
    "empty its name to take it out. Standing is to buy, ordered or on hand; days are written "
    "2027-03-01. Rods and shaped lengths that Build decides are in the order by themselves."
)


class ThingsPanel(QWidget):
    """A table of things, with what they cost still and which come too late."""

    def __init__(self, session: Session) -> None:
        """Edit the things of `session`'s project."""
        super().__init__()
        self._session = session
        self._shown: tuple[Thing, ...] | None = None
        self.sum = label("", "figure")
        self.late = label("", "note")
        self.error = Complaint()
        self.table = TypedTable([c.head for c in COLUMNS], "other goods")
        self.table.cellChanged.connect(self._typed)
        self.setLayout(
            column(
                label("Other goods", "title"),
                self.sum,
                self.late,
                self.error,
                self.table,
                label(HELP, "note", wrap=True),
                space=8,
                edge=16,
            )
        )

    def fill(self) -> None:
        """Show the project's things, and an empty row."""
        project = self._session.project
        with QSignalBlocker(self.table):
            self.table.setRowCount(len(project.things) + 1)
            for r, thing in enumerate(project.things):
                for c, one in enumerate(COLUMNS):
                    self.table.put(r, c, one.show(thing, project), typed=True)
            for c in range(len(COLUMNS)):
                self.table.put(len(project.things), c, "", typed=c == 0)
            self.table.resizeColumnsToContents()
        total = sum((t.cost for t in project.things), Decimal(0))
        self.sum.setText(f"{show_money(total, self._session.stock.currency)} still to spend")
        late = [t.name for t in project.things if t.late]
        open_ones = [t for t in project.things if t.standing is not ThingStanding.ON_HAND]
        text = f"{counted(len(open_ones), 'thing')} not here yet"
        if late:
            text = f"too late: {', '.join(late)}"
        self.late.setText(text if project.things else "nothing yet")
        set_tone(self.late, "cut" if late else "soft")

    def _typed(self, r: int, c: int) -> None:
        project = self._session.project
        text = self.table.text(r, c)
        try:
            if r >= len(project.things):
                if text.strip():
                    thing = Thing(fresh_thing_id(project), text.strip())
                    self._session.edit("Add goods", lambda p: put_thing(p, thing))
            elif c == 0 and not text.strip():
                ident = project.things[r].id
                self._session.edit("Remove goods", lambda p: drop_thing(p, ident))
            else:
                changed = COLUMNS[c].take(project.things[r], text, project)
                self._session.edit("Change goods", lambda p: put_thing(p, changed))
        except InputError as error:
            self.error.setText(str(error))
        else:
            self.error.setText("")
        self.fill()
