"""The bench's timers on the disk: each change is written whole before it shows."""

from pathlib import Path

import msgspec

from ivory_quilt.core.errors import InputError
from ivory_quilt.core.schedule.timer import Timer
from ivory_quilt.files.atomic import write_atomic


class TimersFile(msgspec.Struct):
    """All timers that run."""

    timers: tuple[Timer, ...] = ()
    version: int = 1


def load_timers(path: Path) -> tuple[Timer, ...]:
    """Return the timers of a file; none where it is not there.

    Raises:
        InputError: it cannot be read; what is damaged is never taken for no timers.
    """
    try:
        data = path.read_bytes()
    except FileNotFoundError:
        return ()
    except OSError as error:
        raise InputError(str(path), f"it cannot be read: {error}", "a file of timers") from error
    try:
        return msgspec.json.decode(data, type=TimersFile).timers
    except (msgspec.MsgspecError, InputError) as error:
        raise InputError(str(path), f"it is damaged: {error}", "a file of timers") from error


def save_timers(path: Path, timers: tuple[Timer, ...]) -> None:
    """Write all timers; where none run there is no file.

    Raises:
        InputError: the place cannot be written; the old file is whole.
    """
    if not timers:
        try:
            path.unlink(missing_ok=True)
        except OSError as error:
            raise InputError(
                str(path), f"it cannot be removed: {error}", "a file of timers"
            ) from error
        return
    path.parent.mkdir(parents=True, exist_ok=True)
    write_atomic(path, msgspec.json.encode(TimersFile(timers)))
