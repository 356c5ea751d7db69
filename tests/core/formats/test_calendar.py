"""The season as files other programs read."""

import csv
import io
import re
from dataclasses import replace
from datetime import UTC, date, datetime, timedelta

from icalendar import Calendar

from canopy.daylight.lampday import Window
from canopy.formats.calendar import season_calendar
from canopy.formats.daytable import COLUMNS, LENGTHS, day_table
from canopy.plan.season import DayRow
from canopy.words import plain, said

FIRST = date(2026, 11, 25)
STAMP = datetime(2026, 11, 25, 12, tzinfo=UTC)


def row(day, stage="Leafy", on=360, off=1320, tasks=()):
    windows = (Window(on, (off - on) / 60),)
    return DayRow(
        day, stage, windows, 16.0, 55.0, 130.0, 80.5, 40.25, 13.0, 10, 16, 2.1, 0.63, tasks
    )


ROWS = [
    row(0, tasks=(plain("Leafy begins; mind, the lamp"),)),
    row(1),
    row(
        2,
        tasks=(
            said("season.raise", by_cm=8, lamp_cm=80, height_cm=40),
            said("season.dial", dial_pct=60, watts=140),
        ),
    ),
    row(3, "Short days", 360, 1080, (plain("Short days begin"),)),
]


def test_the_calendar_reads_back_with_everything_there_is_to_do():
    text = season_calendar(ROWS, "Mums, in the tent", FIRST, STAMP, "run-7")
    back = Calendar.from_ical(text)
    events = back.walk("VEVENT")
    found = [(event.decoded("dtstart"), str(event["summary"])) for event in events]
    assert found == [
        (FIRST, "Leafy begins; mind, the lamp"),
        (FIRST, "Timer: on 06:00 to 22:00"),
        (
            FIRST + timedelta(2),
            "Raise the lamp by 8 cm, to 80 cm above the floor, 40 cm above the tops",
        ),
        (FIRST + timedelta(2), "Dial to 60 (140 W at the plug)"),
        (FIRST + timedelta(3), "Short days begin"),
        (FIRST + timedelta(3), "Timer: on 06:00 to 18:00"),
    ]
    # RFC 5545: every entry has its own identifier and a stamp, lines end with CRLF, 75 octets
    assert len({str(event["uid"]) for event in events}) == len(events)
    assert all(
        event.decoded("dtend") - event.decoded("dtstart") == timedelta(1) for event in events
    )
    assert "40 cm above the tops" in str(events[0]["description"])
    assert str(back["x-wr-calname"]) == "Mums, in the tent"
    assert all(len(line) <= 75 for line in text.split(b"\r\n"))
    assert text == season_calendar(ROWS, "Mums, in the tent", FIRST, STAMP, "run-7")


def test_the_day_table_is_plain_csv():
    rows = list(csv.DictReader(io.StringIO(day_table(ROWS, FIRST))))
    assert tuple(rows[0]) == tuple(f"{c}_cm" if c in LENGTHS else c for c in COLUMNS)
    assert [r["date"] for r in rows] == [(FIRST + timedelta(d)).isoformat() for d in range(4)]
    assert (rows[2]["tasks"], rows[2]["lamp_above_tops_cm"]) == (
        "Raise the lamp by 8 cm, to 80 cm above the floor, 40 cm above the tops; "
        "Dial to 60 (140 W at the plug)",
        "40.2",
    )
    assert (rows[3]["on"], rows[3]["off"]) == ("06:00", "18:00")


def test_two_windows_are_told_in_both():
    split = replace(row(0), windows=(Window(360, 3.0), Window(900, 3.25)))
    times = "06:00 to 09:00 and 15:00 to 18:15"
    text = season_calendar([split], "Herbs", FIRST, STAMP, "run-7")
    assert str(Calendar.from_ical(text).walk("VEVENT")[0]["summary"]) == f"Timer: on {times}"
    first = next(csv.DictReader(io.StringIO(day_table([split], FIRST))))
    assert (first["on"], first["off"], first["on_windows"]) == ("06:00", "18:15", times)


def test_in_inches_both_speak_inches():
    table = day_table(ROWS, FIRST, "in")
    first = next(csv.DictReader(io.StringIO(table)))
    # 80.5 and 40.25 cm over 2.54
    assert (first["lamp_above_floor_in"], first["tops_above_floor_in"]) == ("31.69", "15.85")
    calendar = season_calendar(ROWS, "Mums", FIRST, STAMP, "run-7", "in").decode()
    assert "Raise the lamp by 3.25 in" in calendar
    assert "Raise the lamp by 3.25 in" in table
    for text in (table, calendar):
        assert not re.search(r"\bcm\b|_cm", text)


def test_where_the_clocks_change_both_times_are_told():
    winter, summer = row(0), replace(row(1), ahead_min=60)
    text = season_calendar([winter, summer], "Mums", FIRST, STAMP, "run-7")
    events = Calendar.from_ical(text).walk("VEVENT")
    assert [str(event["summary"]) for event in events] == [
        "Timer: on 06:00 to 22:00",
        "The clocks have changed and the timer has not: by the wall clock the lamp is on 07:00 to "
        "23:00",
    ]
    assert "06:00 to 22:00." in str(events[0]["description"])
    assert "07:00 to 23:00. The timer itself says 06:00 to 22:00." in str(events[1]["description"])
