"""What the maker decides about the bench: when, who, by which school. Data only."""

import re
from enum import StrEnum

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.pattern.paint import MOST_COATS
from ivory_quilt.core.pattern.thing import DAY
from ivory_quilt.core.record import Struct, replace
from ivory_quilt.core.schedule.joint_choice import JointChoice
from ivory_quilt.core.schedule.own_steps import DoneStep, OwnStep, StepChange

CLOCK = re.compile(r"([01]\d|2[0-3]):[0-5]\d")
WEEKDAYS = ("Monday", "Tuesday", "Wednesday", "Thursday", "Friday", "Saturday", "Sunday")
MOST_FORMS = 200


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


class SealOrder(StrEnum):
    """When foam's faces are closed by heat: it shrinks then, before or after it is cut."""

    BEFORE_CUT = "sheet, uncut"
    WITH_FORM = "piece, when formed"


class Evening(Struct, frozen=True):
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


class BenchChoices(Struct, frozen=True):
    """How the suit is made at the bench.

    Attributes:
        start: ISO date of the first evening; empty: as soon as can be.
        event: ISO date on which it is worn; empty for none.
        evenings: when the bench works, by weekday.
        people: how many work at once.
        forms: how many formers with clamps there are; a laminated curve keeps one for a night.
        join: which test the cement must pass.
        order: whether pieces are formed before or after they are glued.
        primer, paint, sealer: how many coats of each.
        filled: whether seams are filled and sanded, or hidden.
        seal: when faces are closed by heat, if at all.
        mock_up: whether each group is tried in cheap foam or card first.
        can_opened: ISO date on which the cement's can was opened; empty: fresh.
        indoors: whether the booth works in any weather; else only on `dry` days.
        dry: ISO dates that are dry enough for the booth.
        done: steps that are done, in the order in which they were.
        changes: what the maker has changed in single steps.
        own: what the maker has added.
        joints: how single joints are glued.
    """

    start: str = ""
    event: str = ""
    evenings: tuple[Evening, ...] = USUAL_EVENINGS
    people: int = 1
    forms: int = 4
    join: JoinSchool = JoinSchool.DRY
    order: FormOrder = FormOrder.FORM_FIRST
    primer: int = 2
    paint: int = 2
    sealer: int = 1
    filled: bool = True
    seal: SealOrder = SealOrder.WITH_FORM
    mock_up: bool = False
    can_opened: str = ""
    indoors: bool = True
    dry: tuple[str, ...] = ()
    done: tuple[DoneStep, ...] = ()
    changes: tuple[StepChange, ...] = ()
    own: tuple[OwnStep, ...] = ()
    joints: tuple[JointChoice, ...] = ()

    def __post_init__(self) -> None:
        days = [("first evening", self.start), ("event", self.event), ("can", self.can_opened)]
        for where, day in (*days, *(("dry day", d) for d in self.dry)):
            if day and not DAY.fullmatch(day):
                raise InputError(where, f"'{day}'", "a date such as 2027-03-01")
        if not 1 <= self.people <= 20:
            raise InputError("people", f"{self.people}", "1 to 20")
        if not 1 <= self.forms <= MOST_FORMS:
            raise InputError("forms", f"{self.forms}", f"1 to {MOST_FORMS}")
        for where in ("primer", "paint", "sealer"):
            coats = getattr(self, where)
            if not 0 <= coats <= MOST_COATS:
                raise InputError(where, f"{coats} coats", f"0 to {MOST_COATS}")

    @property
    def done_ids(self) -> frozenset[str]:
        """Ids of the steps that are done."""
        return frozenset(d.id for d in self.done)

    def with_joint(self, choice: JointChoice) -> "BenchChoices":
        """Return the choices with another one for a joint."""
        others = tuple(c for c in self.joints if c.joint != choice.joint)
        return replace(self, joints=(*others, choice))

    def with_filled(self, *, filled: bool) -> "BenchChoices":
        """Return the choices with all seams filled, or all hidden."""
        joints = tuple(replace(j, filled=filled) for j in self.joints)
        return replace(self, filled=filled, joints=joints)

    def change_of(self, step: str) -> StepChange:
        """Return what is changed in one step."""
        return next((c for c in self.changes if c.id == step), StepChange(step))

    def with_change(self, change: StepChange) -> "BenchChoices":
        """Return the choices with another change of one step; one that changes nothing goes."""
        others = tuple(c for c in self.changes if c.id != change.id)
        mine = () if change == StepChange(change.id) else (change,)
        return replace(self, changes=(*others, *mine))


USUAL_CHOICES = BenchChoices()


class StepSet(Struct, frozen=True):
    """Schools, coats and own steps that the maker keeps for next time.

    Attributes:
        usual: whether a new project begins with it.
    """

    name: str
    choices: BenchChoices
    usual: bool = False

    def __post_init__(self) -> None:
        if not self.name.strip():
            raise InputError("set of steps", "it has no name", "a name")


def step_set(name: str, choices: BenchChoices, *, usual: bool = False) -> StepSet:
    """Return what of one project's choices holds for the next: no days, no ticks, no pieces."""
    own = tuple(replace(o, pieces=()) for o in choices.own)
    plain = replace(
        choices, start="", event="", dry=(), done=(), changes=(), joints=(), can_opened="", own=own
    )
    return StepSet(name.strip(), plain, usual)


def with_step_set(choices: BenchChoices, kept: StepSet) -> BenchChoices:
    """Return a project's choices with the schools, coats and own steps of a set.

    Its days, ticks and changed steps stay; own steps of the same id are replaced.
    """
    own = {o.id: o for o in (*choices.own, *kept.choices.own)}
    return replace(
        kept.choices,
        start=choices.start,
        event=choices.event,
        dry=choices.dry,
        done=choices.done,
        changes=choices.changes,
        joints=choices.joints,
        can_opened=choices.can_opened,
        own=tuple(own.values()),
    )
