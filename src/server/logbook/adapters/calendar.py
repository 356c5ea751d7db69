"""What is due of runs as a calendar that other programs ask for again and again."""

from collections.abc import Sequence
from datetime import date, datetime
from hashlib import sha256

from canopy.formats.calendar import Entry, due_calendar, task_entries
from canopy.words import Unit, worded
from server.logbook.adapters.today import TodayRun
from server.runs.adapters.season import SeasonAnswer
from server.runs.models import Run

NAME = "Idle Canopy: what is due"


def _named(run: Run) -> str:
    return run.name or f"{run.crop.name} in {run.space.name}"


def calendar_of(
    found: Sequence[tuple[Run, TodayRun, SeasonAnswer]], today: date, stamp: datetime, unit: Unit
) -> bytes:
    """Return what is due today or soon of each run, and what its plan has to come."""
    entries: list[Entry] = []
    for run, told, season in found:
        name, uid = _named(run), f"idle-canopy-run-{run.pk}"
        for due in told.due:
            words = ". ".join(worded(line, unit).rstrip(".") for line in due.lines)
            late = f" ({due.late_days} days late)" if due.late_days else ""
            more = "" if due.why is None else worded(due.why, unit)
            mark = sha256(due.key.encode()).hexdigest()[:16]
            # what is late stands today: nobody looks at days gone by
            on = max(due.on, today)
            entries.append(Entry(f"{uid}-due-{mark}", on, f"{name}: {words}{late}", more))
        coming = [row for row in season.rows if row.day > (today - season.first).days]
        before = [row for row in season.rows if row.day <= (today - season.first).days]
        last = before[-1] if before else None
        for entry in task_entries(coming, season.first, uid, unit, last):
            entries.append(Entry(entry.uid, entry.on, f"{name}: {entry.summary}", entry.more))
    return due_calendar(entries, NAME, stamp)
