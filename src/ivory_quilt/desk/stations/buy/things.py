"""Other goods: what is not foam, from where, and whether it is here in time."""

from collections.abc import Callable
from decimal import Decimal

from PySide6.QtWidgets import QWidget

from ivory_quilt.core.document.project import Project
from ivory_quilt.core.document.things import drop_thing, fresh_thing_id, put_thing
from ivory_quilt.core.errors import InputError, nearest
from ivory_quilt.core.pattern.thing import Thing, ThingStanding
from ivory_quilt.core.record import replace
from ivory_quilt.core.units import counted, parse_money, show_money
from ivory_quilt.desk.session import Session
from ivory_quilt.desk.widgets.basics import Complaint, column, label, set_tone
from ivory_quilt.desk.widgets.record_table import Column, RecordTable

FOR_ALL = "whole suit"


def _piece_in(thing: Thing, text: str, project: Project) -> Thing:
    if text.strip().lower() in ("", FOR_ALL):
        return replace(thing, piece="")
    return replace(thing, piece=project.piece_named(text, "for piece").id)


def _piece_name(thing: Thing, project: Project) -> str:
    found = next((p.name for p in project.pieces if p.id == thing.piece), thing.piece)
    return found or FOR_ALL


def _standing_in(thing: Thing, text: str) -> Thing:
    known = {s.value: s for s in ThingStanding}
    wish = text.strip().lower()
    if wish not in known:
        raise InputError("standing", f"'{text}'{nearest(wish, known)}", ", ".join(known))
    return replace(thing, standing=known[wish])


def _count_in(thing: Thing, text: str) -> Thing:
    if not text.strip().isdigit():
        raise InputError("how many", f"'{text}'", "a whole number")
    return replace(thing, count=int(text))


def _price_in(thing: Thing, text: str) -> Thing:
    return replace(thing, price=parse_money(text, where="price") if text.strip() else None)


def _word(name: str) -> Callable[[Thing, str], Thing]:
    """Return what puts a typed word into a field."""

    def take(thing: Thing, text: str) -> Thing:
        return replace(thing, **{name: text.strip()})  # type: ignore[arg-type]

    return take


def _columns(project: Callable[[], Project]) -> tuple[Column[Thing], ...]:
    return (
        Column("What", lambda t: t.name, _word("name")),
        Column("How many", lambda t: str(t.count), _count_in),
        Column(
            "For piece",
            lambda t: _piece_name(t, project()),
            lambda t, text: _piece_in(t, text, project()),
        ),
        Column("Price each", lambda t: "" if t.price is None else f"{t.price:.2f}", _price_in),
        Column("From", lambda t: t.source, _word("source")),
        Column("Standing", lambda t: t.standing.value, _standing_in),
        Column("Arrives", lambda t: t.arrives, _word("arrives")),
        Column("Needed by", lambda t: t.needed, _word("needed")),
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
        self.sum = label("", "figure")
        self.late = label("", "note")
        self.error = Complaint()
        edit = session.edit
        self.table: RecordTable[Thing] = RecordTable(
            "other goods",
            _columns(lambda: session.project),
            lambda: session.project.things,
            lambda thing: edit("Change goods", lambda p: put_thing(p, thing)),
            self.error.setText,
            remove=lambda thing: edit("Remove goods", lambda p: drop_thing(p, thing.id)),
            fresh=lambda name: Thing(fresh_thing_id(session.project), name),
        )
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
        self.table.fill()
        total = sum((t.cost for t in project.things), Decimal(0))
        self.sum.setText(f"{show_money(total, self._session.stock.currency)} still to spend")
        late = [t.name for t in project.things if t.late]
        open_ones = [t for t in project.things if t.standing is not ThingStanding.ON_HAND]
        text = f"{counted(len(open_ones), 'thing')} not here yet"
        if late:
            text = f"too late: {', '.join(late)}"
        self.late.setText(text if project.things else "nothing yet")
        set_tone(self.late, "cut" if late else "soft")
