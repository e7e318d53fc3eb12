"""The bench's evenings as an iCalendar file (RFC 5545), in times of the place where it is read."""

from collections.abc import Sequence
from datetime import datetime, timedelta
from hashlib import sha256
from pathlib import Path

from ivory_quilt.core.schedule.bench_schedule import BenchSchedule, PlacedStep
from ivory_quilt.core.units import counted
from ivory_quilt.files.atomic import write_atomic

REST = 90  # minutes without hands that part one sitting from the next
AHEAD = timedelta(minutes=30)  # how long before it a calendar reminds of a sitting


def sittings(placed: Sequence[PlacedStep]) -> list[list[PlacedStep]]:
    """Return the steps of a schedule parted where hands rest for long, or at night."""
    made: list[list[PlacedStep]] = []
    end = 0
    for one in sorted(placed, key=lambda p: (p.start, p.end)):
        if made and one.day == made[-1][0].day and one.start - end <= REST:
            made[-1].append(one)
        else:
            made.append([one])
        end = max(end if made[-1][0] is not one else 0, one.end)
    return made


def calendar_bytes(
    schedule: BenchSchedule, midnight: datetime, name: str, event: str, written: datetime
) -> bytes:
    """Return the calendar.

    Args:
        schedule: whose times are minutes from `midnight`.
        midnight: before the first evening.
        name: of the project.
        event: ISO date on which it is worn; empty for none.
        written: now, in universal time.
    """
    from icalendar import Alarm, Calendar, Event

    made = Calendar()
    made.add("prodid", "-//Ivory Quilt//bench//EN")
    made.add("version", "2.0")
    for sitting in sittings(schedule.placed):
        start = midnight + timedelta(minutes=sitting[0].start)
        end = midnight + timedelta(minutes=max(p.end for p in sitting))
        one = Event()
        key = f"{name}\n{start.isoformat()}"
        one.add("uid", f"{sha256(key.encode()).hexdigest()[:32]}@ivory-quilt")
        one.add("dtstamp", written)
        one.add("dtstart", start)
        one.add("dtend", end)
        one.add("summary", f"{name}: {counted(len(sitting), 'step')} at the bench")
        one.add("description", "\n".join(_line(p, midnight) for p in sitting))
        alarm = Alarm()
        alarm.add("action", "DISPLAY")
        alarm.add("description", f"{name}: the bench begins in half an hour")
        alarm.add("trigger", -AHEAD)
        one.add_component(alarm)
        made.add_component(one)
    if event:
        worn = Event()
        worn.add("uid", f"{sha256(f'{name} worn {event}'.encode()).hexdigest()[:32]}@ivory-quilt")
        worn.add("dtstamp", written)
        worn.add("dtstart", datetime.fromisoformat(event).date())
        worn.add("summary", f"{name} is worn")
        made.add_component(worn)
    return bytes(made.to_ical())


def _line(placed: PlacedStep, midnight: datetime) -> str:
    start = midnight + timedelta(minutes=placed.start)
    step = placed.step
    return f"{start:%H:%M} {step.kind.value}: {step.title} ({step.minutes} min)"


def write_calendar(
    path: Path,
    schedule: BenchSchedule,
    midnight: datetime,
    name: str,
    event: str,
    written: datetime,
) -> None:
    """Write the calendar.

    Raises:
        InputError: the place cannot be written.
    """
    write_atomic(path, calendar_bytes(schedule, midnight, name, event, written))
