"""A planned run as an iCalendar file (RFC 5545): stage starts, re-hang days, timer changes."""

from datetime import date, datetime, timedelta

from icalendar import Calendar, Event

from canopy.plan.season import DayRow
from canopy.words import Unit, said, worded

PRODUCT = "-//Idle Canopy//Season plan//EN"


def clock(minute: int) -> str:
    """Return minutes after midnight as a clock time.

    >>> clock(390)
    '06:30'
    """
    return f"{minute // 60 % 24:02d}:{minute % 60:02d}"


def _event(uid: str, day: date, stamp: datetime, summary: str, more: str) -> Event:
    event = Event()
    event.add("uid", uid)
    event.add("dtstamp", stamp)
    event.add("dtstart", day)
    event.add("dtend", day + timedelta(days=1))
    event.add("summary", summary)
    event.add("transp", "TRANSPARENT")
    if more:
        event.add("description", more)
    return event


def season_calendar(
    rows: list[DayRow], name: str, first: date, stamp: datetime, uid: str, unit: Unit = "cm"
) -> bytes:
    """Return a calendar with an all-day entry for everything there is to do.

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
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    before: DayRow | None = None
    for row in rows:
        day = first + timedelta(days=row.day)
        on, off = clock(row.on_minute), clock(row.off_minute)
        levers = said(
            "season.levers",
            height_cm=row.lamp_cm - row.tops_cm,
            lamp_cm=row.lamp_cm,
            dial_pct=row.dial_pct,
            on=on,
            off=off,
        )
        tasks = list(row.tasks)
        times = (row.on_minute, row.off_minute)
        if before is None or times != (before.on_minute, before.off_minute):
            tasks.append(said("season.timer", on=on, off=off))
        for k, task in enumerate(tasks):
            words = worded(task, unit), worded(levers, unit)
            calendar.add_component(_event(f"{uid}-{row.day}-{k}", day, stamp, *words))
        before = row
    return bytes(calendar.to_ical())
