"""The bench's week on paper: each evening with its steps, boxes to tick, waits and cautions."""

from datetime import datetime, timedelta

from ivory_quilt.core.schedule.bench_schedule import DAY, BenchSchedule
from ivory_quilt.core.units import counted
from ivory_quilt.files.papers.lines_page import LinesPage


def week_bytes(schedule: BenchSchedule, midnight: datetime, name: str, first: int) -> bytes:
    """Return seven days of a schedule from day `first` on as a PDF on A4."""
    begin = midnight + timedelta(days=first)
    page = LinesPage(f"{name}: the week of {begin:%d %B %Y}")
    page.write(f"{name}: the week of {begin:%d %B %Y}", strong=True)
    days = {d: p for d, p in schedule.days.items() if first <= d < first + 7}
    if not days:
        page.write("Nothing to do at the bench this week.")
    for day, placed in days.items():
        page.skip()
        minutes = sum(p.step.minutes for p in placed)
        hours = f"{counted(len(placed), 'step')}, {minutes / 60:.1f} h"
        page.write(f"{midnight + timedelta(days=day):%A %d %B}", hours, strong=True)
        for caution in dict.fromkeys(p.step.caution for p in placed if p.step.caution):
            page.write(f"! {caution}")
        for one in placed:
            start = midnight + timedelta(minutes=one.start)
            held = "  (cannot be later)" if one.slack == 0 else ""
            text = f"{start:%H:%M}  {one.step.kind.value}: {one.step.title}{held}"
            page.write(text, f"{one.step.minutes} min", box=True)
    rest = [d for d in schedule.days if d >= first + 7]
    if rest:
        end = midnight + timedelta(minutes=schedule.end)
        page.skip()
        page.write(f"After this week: {counted(len(rest), 'evening')}, done {end:%A %d %B}.")
    return page.pen.finish()


def first_week(schedule: BenchSchedule) -> int:
    """Return the day of the first step, from which a week is printed; 0 for none."""
    return min((p.start // DAY for p in schedule.placed), default=0)
