"""A planned run as an iCalendar file (RFC 5545): stage starts, re-hang days, timer changes."""

from datetime import date, datetime, timedelta

from icalendar import Calendar, Event

from canopy.plan.season import DayRow

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


def season_calendar(rows: list[DayRow], name: str, first: date, stamp: datetime, uid: str) -> bytes:
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
    """
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    before: DayRow | None = None
    for row in rows:
        day = first + timedelta(days=row.day)
        levers = (
            f"Lamp {row.lamp_cm - row.tops_cm:.0f} cm above the tops "
            f"({row.lamp_cm:.0f} cm above the floor), dial {row.dial_pct:g}, "
            f"{clock(row.on_minute)} to {clock(row.off_minute)}."
        )
        tasks = list(row.tasks)
        times = (row.on_minute, row.off_minute)
        if before is None or times != (before.on_minute, before.off_minute):
            tasks.append(f"Timer: on {clock(row.on_minute)}, off {clock(row.off_minute)}")
        for k, task in enumerate(tasks):
            calendar.add_component(_event(f"{uid}-{row.day}-{k}", day, stamp, task, levers))
        before = row
    return bytes(calendar.to_ical())
