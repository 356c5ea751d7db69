"""The timer's clock and the wall's: days of change from the rules of the European Union (Directive
2000/84/EC: last Sundays of March and October) and of the United States (Energy Policy Act of
2005: second Sunday of March, first of November)."""

from datetime import date
from zoneinfo import ZoneInfo

import pytest

from canopy.power.timer import TimerClock


@pytest.mark.parametrize(
    ("zone", "set_on", "day", "ahead"),
    [
        ("Europe/Berlin", date(2026, 2, 1), date(2026, 3, 28), 0),
        ("Europe/Berlin", date(2026, 2, 1), date(2026, 3, 29), 60),
        ("Europe/Berlin", date(2026, 9, 1), date(2026, 10, 24), 0),
        ("Europe/Berlin", date(2026, 9, 1), date(2026, 10, 25), -60),
        # a year later both are where they were
        ("Europe/Berlin", date(2026, 9, 1), date(2027, 9, 1), 0),
        ("America/Chicago", date(2026, 2, 1), date(2026, 3, 7), 0),
        ("America/Chicago", date(2026, 2, 1), date(2026, 3, 8), 60),
        ("America/Chicago", date(2026, 8, 1), date(2026, 11, 1), -60),
        # half an hour of summer time, in the other half of the year
        ("Australia/Lord_Howe", date(2026, 7, 1), date(2026, 12, 1), 30),
        ("UTC", date(2026, 2, 1), date(2026, 7, 1), 0),
        # no summer time there
        ("Asia/Tokyo", date(2026, 2, 1), date(2026, 7, 1), 0),
    ],
)
def test_a_plain_timer_stays_behind(zone, set_on, day, ahead):
    assert TimerClock(ZoneInfo(zone), set_on).ahead_min(day) == ahead
    assert TimerClock(ZoneInfo(zone), set_on, follows=True).ahead_min(day) == 0
