"""What the maker decides about the bench: when, who, by which school. Data only."""

import re
from dataclasses import dataclass
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.thing import DAY

CLOCK = re.compile(r"([01]\d|2[0-3]):[0-5]\d")
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MOST_COATS = 8


class JoinSchool(StrEnum):
    """When cemented faces are joined; the product's label decides."""

    DRY = "dry to the touch"
    TACKY = "still tacky"
    WET = "wet"

    @property
    def least(self) -> int:
        """Minutes from the last brush stroke to the join: common practice, no source."""
        return {JoinSchool.DRY: 12, JoinSchool.TACKY: 6, JoinSchool.WET: 0}[self]


class FormOrder(StrEnum):
    """Two schools: form each piece, then glue; or glue flat, then heat the whole."""

    FORM_FIRST = "form, then glue"
    GLUE_FIRST = "glue, then form"


@dataclass(frozen=True)
class Evening:
    """A weekday's working hours: `weekday` 0 is Monday; "18:30" to "22:00"."""

    weekday: int
    start: str
    stop: str

    def __post_init__(self) -> None:
        if not 0 <= self.weekday <= 6:
            raise InputError("weekday", f"{self.weekday}", "0 (Monday) to 6 (Sunday)")
        for text in (self.start, self.stop):
            if not CLOCK.fullmatch(text):
                raise InputError(WEEKDAYS[self.weekday], f"'{text}'", "a time such as 18:30")
        if self.minutes[0] >= self.minutes[1]:
            problem = f"{self.start} to {self.stop}"
            raise InputError(WEEKDAYS[self.weekday], problem, "an end after the begin")

    @property
    def minutes(self) -> tuple[int, int]:
        """From when to when, minutes of the day."""

        def of(text: str) -> int:
            return 60 * int(text[:2]) + int(text[3:])

        return of(self.start), of(self.stop)


USUAL_EVENINGS = (
    *(Evening(day, "18:30", "22:00") for day in range(5)),
    Evening(5, "10:00", "18:00"),
)


@dataclass(frozen=True)
class BenchChoices:
    """How the suit is made at the bench.

    Attributes:
        start: ISO date of the first evening; empty: as soon as can be.
        event: ISO date on which it is worn; empty for none.
        evenings: when the bench works, by weekday.
        people: how many work at once.
        join: which test the cement must pass.
        order: whether pieces are formed before or after they are glued.
        primer, paint, sealer: how many coats of each.
        filled: whether seams are filled and sanded, or hidden.
        done: ids of steps that are done.
    """

    start: str = ""
    event: str = ""
    evenings: tuple[Evening, ...] = USUAL_EVENINGS
    people: int = 1
    join: JoinSchool = JoinSchool.DRY
    order: FormOrder = FormOrder.FORM_FIRST
    primer: int = 2
    paint: int = 2
    sealer: int = 1
    filled: bool = True
    done: tuple[str, ...] = ()

    def __post_init__(self) -> None:
        for where, day in (("first evening", self.start), ("event", self.event)):
            if day and not DAY.fullmatch(day):
                raise InputError(where, f"'{day}'", "a date such as 2027-03-01")
        if not 1 <= self.people <= 20:
            raise InputError("people", f"{self.people}", "1 to 20")
        for where in ("primer", "paint", "sealer"):
            coats = getattr(self, where)
            if not 0 <= coats <= MOST_COATS:
                raise InputError(where, f"{coats} coats", f"0 to {MOST_COATS}")


USUAL_CHOICES = BenchChoices()
