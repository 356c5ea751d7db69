"""A planned run as an iCalendar file (RFC 5545): stage starts, re-hang days, timer changes."""

from datetime import date, datetime, timedelta

from icalendar import Calendar, Event

from canopy.daylight.lampday import windows_words
from canopy.plan.season import DayRow
from canopy.words import Unit, said, worded

PRODUCT = "-//Idle Canopy//Season plan//EN"


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
    calendar = Calendar()
    calendar.add("prodid", PRODUCT)
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", name)
    before: DayRow | None = None
    for row in rows:
        day = first + timedelta(days=row.day)
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
        for k, task in enumerate(tasks):
            event = _event(f"{uid}-{row.day}-{k}", day, stamp, worded(task, unit), more)
            calendar.add_component(event)
        before = row
    return bytes(calendar.to_ical())
