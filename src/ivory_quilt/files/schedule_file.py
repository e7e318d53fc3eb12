"""Jobs to schedule and their results, for the command line (docs/formats.md)."""

from datetime import datetime, timedelta
from pathlib import Path
from typing import Literal

import msgspec

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.schedule_job import (
    Follow,
    Resource,
    ScheduleJob,
    ScheduleResult,
    Task,
    Timed,
    Window,
)
from ivory_quilt.files.atomic import read_bytes
from ivory_quilt.files.wire import decode, encode

SCHEDULE_FORMAT = "ivory-quilt/schedule-job"
SCHEDULE_RESULT = "ivory-quilt/schedule-result"
EXPECTED = "a time such as 2027-03-01T18:00"


class ResourceWire(msgspec.Struct):
    """People, a booth, clamps; `calendar` null: always at work."""

    id: str
    capacity: int = 1
    calendar: list[tuple[str, str]] | None = None


class TaskWire(msgspec.Struct):
    """A task: whole minutes, and how many of each resource it holds."""

    id: str
    minutes: int
    needs: dict[str, int] = {}


class FollowWire(msgspec.Struct):
    """From the end of `after` to the start of `task`, minutes; `most` null: no limit."""

    task: str
    after: str
    least: int = 0
    most: int | None = None


class ScheduleWire(msgspec.Struct):
    """A job to schedule."""

    format: Literal["ivory-quilt/schedule-job"]
    version: int
    start: str
    tasks: list[TaskWire]
    due: str | None = None
    resources: list[ResourceWire] = []
    follows: list[FollowWire] = []


def load_schedule(path: Path) -> ScheduleJob:
    """Read a job to schedule.

    Raises:
        InputError: naming the field, the resource, the task or the follow that is wrong.
    """
    return decode_schedule(read_bytes(path), where=path.name)


def decode_schedule(data: bytes, *, where: str = "job") -> ScheduleJob:
    """Make a job of its file's bytes.

    Raises:
        InputError: see `load_schedule`.
    """
    wire = decode(data, ScheduleWire, where=where, format_name=SCHEDULE_FORMAT, newest=1)
    start = _moment(wire.start, "start")

    def minutes(text: str, field: str) -> int:
        moment = _moment(text, field)
        if (moment.tzinfo is None) != (start.tzinfo is None):
            raise InputError(field, f"'{text}'", "a time zone in all times, or in none")
        seconds = (moment - start).total_seconds()
        if seconds % 60:
            raise InputError(field, f"'{text}'", "whole minutes from the start")
        return int(seconds // 60)

    def calendar(one: ResourceWire) -> tuple[Window, ...] | None:
        if one.calendar is None:
            return None
        field = f"resource '{one.id}', calendar"
        return tuple((minutes(a, field), minutes(b, field)) for a, b in one.calendar)

    return ScheduleJob(
        tuple(Resource(r.id, r.capacity, calendar(r)) for r in wire.resources),
        tuple(Task(t.id, t.minutes, t.needs) for t in wire.tasks),
        tuple(Follow(f.task, f.after, f.least, f.most) for f in wire.follows),
        None if wire.due is None else minutes(wire.due, "due"),
    )


def _moment(text: str, field: str) -> datetime:
    try:
        return datetime.fromisoformat(text)
    except ValueError:
        raise InputError(field, f"'{text}'"[:60], EXPECTED) from None


def encode_schedule(result: ScheduleResult) -> bytes:
    """Return a schedule as the bytes of its file."""
    return encode(
        {
            "format": SCHEDULE_RESULT,
            "version": 1,
            "makespan": result.makespan,
            "bound": result.bound,
            "optimal": result.optimal,
            "late": result.late,
            "tasks": [{"id": t.id, "start": t.start, "end": t.end} for t in result.tasks],
        }
    )


def encode_schedule_job(job: ScheduleJob, start: datetime) -> bytes:
    """Return a job as the bytes of its file; its minutes count from `start`."""

    def moment(minutes: int) -> str:
        return (start + timedelta(minutes=minutes)).isoformat(timespec="minutes")

    return encode(
        {
            "format": SCHEDULE_FORMAT,
            "version": 1,
            "start": moment(0),
            "due": None if job.due is None else moment(job.due),
            "resources": [
                {
                    "id": r.id,
                    "capacity": r.capacity,
                    "calendar": r.calendar and [[moment(a), moment(b)] for a, b in r.calendar],
                }
                for r in job.resources
            ],
            "tasks": [
                {"id": t.id, "minutes": t.minutes, "needs": dict(t.needs)} for t in job.tasks
            ],
            "follows": [
                {"task": f.task, "after": f.after, "least": f.least, "most": f.most}
                for f in job.follows
            ],
        }
    )


class TimedWire(msgspec.Struct):
    """When a task is done."""

    id: str
    start: int
    end: int


class ScheduleResultWire(msgspec.Struct):
    """A schedule."""

    format: Literal["ivory-quilt/schedule-result"]
    version: int
    makespan: int
    bound: int
    optimal: bool
    tasks: list[TimedWire]
    late: int = 0


def load_schedule_result(path: Path) -> ScheduleResult:
    """Read a schedule that was written before.

    Raises:
        InputError: it is none.
    """
    data = read_bytes(path)
    wire = decode(data, ScheduleResultWire, where=path.name, format_name=SCHEDULE_RESULT, newest=1)
    timed = tuple(Timed(t.id, t.start, t.end) for t in wire.tasks)
    return ScheduleResult(timed, wire.bound, wire.optimal, wire.late)
