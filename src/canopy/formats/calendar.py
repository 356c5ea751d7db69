"""A planned run as an iCalendar file (RFC 5545): stage starts, re-hang days, timer changes."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from icalendar import Calendar, Event, vDuration

from canopy.daylight.lampday import windows_words
from canopy.plan.season import DayRow
from canopy.words import Unit, said, worded

PRODUCT = "-//Idle Canopy//Season plan//EN"


@dataclass(frozen=True)
class Entry:
    """An all-day entry; ``uid`` is its own whenever it is written again."""

    uid: str
    on: date
    summary: str
    more: str


def _calendar(entries: Sequence[Entry], name: str, stamp: datetime) -> Calendar:
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    for entry in entries:
        event = Event()
        event.add("uid", entry.uid)
        event.add("dtstamp", stamp)
        event.add("dtstart", entry.on)
        event.add("dtend", entry.on + timedelta(days=1))
        event.add("summary", entry.summary)
        event.add("transp", "TRANSPARENT")
        if entry.more:
            event.add("description", entry.more)
        calendar.add_component(event)
    return calendar


def season_calendar(
    rows: list[DayRow], name: str, first: date, stamp: datetime, uid: str, unit: Unit = "cm"
) -> bytes:
    """Return a calendar with an all-day entry for everything there is to do.

    When the lamp is on is told by the wall clock; what to set a timer to, by the timer's.

    Parameters
    ----------
    rows : list of DayRow
    name : str
        Of the calendar.
    first : date
        The run's day 0.
    stamp : datetime
        When it is written, with its time zone.
    uid : str
        Start of the entries' identifiers; the same entry keeps its own when it is written again.
    unit : {'cm', 'in'}
        Of the lengths in what it says.
    """
    return bytes(_calendar(task_entries(rows, first, uid, unit), name, stamp).to_ical())


def due_calendar(entries: Sequence[Entry], name: str, stamp: datetime) -> bytes:
    """Return a calendar that is asked for again: every six hours will do."""
    calendar = _calendar(entries, name, stamp)
    calendar.add("refresh-interval", vDuration(AGAIN), parameters={"value": "DURATION"})
    calendar.add("x-published-ttl", vDuration(AGAIN))
    return bytes(calendar.to_ical())


AGAIN = timedelta(hours=6)


def task_entries(
    rows: Sequence[DayRow], first: date, uid: str, unit: Unit = "cm", before: DayRow | None = None
) -> list[Entry]:
    """Return what there is to do on days of a plan; ``before`` is the day before the first."""
    entries = []
    for row in rows:
        times, by_wall = windows_words(row.windows), windows_words(row.windows, row.ahead_min)
        levers = said(
            "season.levers",
            height_cm=row.lamp_cm - row.tops_cm,
            lamp_cm=row.lamp_cm,
            dial_pct=row.dial_pct,
            watts=row.watts,
            times=by_wall,
        )
        more = worded(levers, unit)
        if row.ahead_min:
            more += " " + worded(said("season.timer_says", times=times), unit)
        tasks = list(row.tasks)
        if before is not None and row.ahead_min != before.ahead_min:
            tasks.append(said("season.clocks", times=by_wall))
        known = any(task.code == "season.timer" for task in tasks)
        if before is None or (row.windows != before.windows and not known):
            tasks.append(said("season.timer", times=times))
        day = first + timedelta(days=row.day)
        entries += [
            Entry(f"{uid}-{row.day}-{k}", day, worded(task, unit), more)
            for k, task in enumerate(tasks)
        ]
        before = row
    return entries
