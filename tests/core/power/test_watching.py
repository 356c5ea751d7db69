"""What readings say of the plan and of themselves; limits and cases are our judgement."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.daylight.lampday import Window
from canopy.power.schedule import Switching, differences
from canopy.power.watching import (
    OffTime,
    clock_off_s,
    lamp_said,
    leap_in,
    off_in_hours,
    stuck_h,
)

# on from 06:00 to 18:00 at 150 W
PLANNED = np.where(Window(360, 12).lit(), 150.0, 0.0)
NOWHERE = np.full(1440, np.nan)


def codes(watts, minute, planned=PLANNED, ramp=0.0):
    day = NOWHERE.copy()
    day[max(minute - 20, 0) : minute + 1] = watts
    return [one.code for one in lamp_said("Plug", day, planned, ramp, minute, 0.08)]


@pytest.mark.parametrize(
    ("watts", "minute", "code"),
    [
        (0.4, 720, "device.draws_nothing"),
        (146, 720, "device.draws_as_planned"),
        (120, 720, "device.draws_less"),
        (190, 720, "device.draws_more"),
        (150, 120, "device.draws_at_night"),
        (3, 120, None),
        # just switched: a timer may be some minutes off, and nothing is held against it
        (0, 364, None),
        (150, 1085, None),
        (np.nan, 720, None),
    ],
)
def test_watts_are_held_against_the_plan(watts, minute, code):
    assert codes(watts, minute) == ([code] if code else [])


def test_corners_of_a_day():
    always, never = np.full(1440, 150.0), np.zeros(1440)
    assert codes(0, 0, always) == ["device.draws_nothing"]
    assert codes(0, 1439, always) == ["device.draws_nothing"]
    # where no lamp is planned at all nothing can be said of the night
    assert codes(150, 3, never) == []
    # over midnight: on from 20:00 to 08:00
    night = np.where(Window(1200, 12).lit(), 90.0, 0.0)
    assert codes(90, 2, night) == ["device.draws_as_planned"]
    # while it ramps nothing is said
    assert codes(20, 375, ramp=30.0) == []


def test_one_reading_alone_is_no_state():
    day = NOWHERE.copy()
    day[700:721] = 150
    day[720] = 0
    assert lamp_said("Plug", day, PLANNED, 0, 720, 0.08)[0].code == "device.draws_as_planned"


def test_off_time_by_the_heat():
    lit, warm = np.where(PLANNED > 0, 1.0, 0.0), np.full(1440, 26.0)
    lit[800:830] = 0
    warm[790:802] = np.linspace(31, 33.2, 12)
    lit[1000:1010] = 0
    assert off_in_hours(lit, PLANNED, 0, warm, 33.0) == OffTime(40, 30)
    assert off_in_hours(lit, PLANNED, 0, warm, None) == OffTime(40, 0)
    assert off_in_hours(lit, PLANNED, 0, NOWHERE, 33.0) == OffTime(40, 0)
    # not known is not off
    assert off_in_hours(NOWHERE, PLANNED, 0, warm, 33.0) == OffTime(0, 0)


MINUTES = np.arange(0, 24 * 3600, 60.0)


def test_series_that_stand_still_or_leap():
    still = np.full(len(MINUTES), 22.4)
    switched = [6 * 3600.0, 18 * 3600.0]
    assert stuck_h("temperature", MINUTES, still, switched) == pytest.approx(24, abs=0.1)
    # without a switching it may well be so still, and a dark sensor reads 0 all night
    assert stuck_h("temperature", MINUTES, still, []) == 0
    assert stuck_h("ppfd", MINUTES, np.zeros(len(MINUTES)), switched) == 0
    # only moved long ago
    still[:60] = 21
    assert stuck_h("temperature", MINUTES, still, switched) == pytest.approx(23, abs=0.1)
    still[-30] = 22.5
    assert stuck_h("temperature", MINUTES, still, switched) == 0
    # a counter, a switch stands still by right
    assert stuck_h("switch", MINUTES, np.ones(len(MINUTES)), switched) == 0
    assert leap_in("temperature", MINUTES, still) is None
    still[500] = 60
    leap = leap_in("temperature", MINUTES, still)
    assert (abs(leap.by), leap.count) == (pytest.approx(37.6), 2)
    # a lamp's watts leap by right, and so does air over an hour
    assert leap_in("power", MINUTES, still) is None
    assert leap_in("temperature", [0, 3600], [20, 31]) is None


@pytest.mark.parametrize(
    ("lags", "off"),
    [
        ([1, 2, 9, 4, 3], 0),
        ([300, 304, 297, 301, 309], 301),
        ([-120, -119, -121, -118, -120], -120),
        # catching up after an outage
        ([3600, 2900, 2000, 1200, 300], 0),
        ([400, 401], 0),
    ],
)
def test_a_clock_that_is_off_keeps_being_off(lags, off):
    assert clock_off_s(lags) == off


WINDOWS = st.lists(
    st.builds(Switching, st.integers(1, 2), st.integers(0, 1439), st.integers(0, 1439), st.just(0)),
    max_size=4,
)


@given(WINDOWS, WINDOWS)
def test_schedules_differ_exactly_where_something_is_said(one, other):
    assert differences(one, list(reversed(one))) == ()
    assert bool(differences(one, other)) == (sorted(one) != sorted(other))


def test_how_a_schedule_differs():
    plan = [Switching(1, 360, 1080, 15, 60), Switching(2, 300, 420)]
    read = [Switching(1, 300, 1080, 0, 100), Switching(2, 300, 420)]
    found = differences(read, plan)
    assert [one.code for one in found] == ["device.comes_on", "device.output", "device.ramp"]
    assert found[0].figures == {"channel": 1, "read": "05:00", "planned": "06:00"}
    gone = differences([], plan)[0].figures
    assert (gone["read"], gone["planned"]) == ("off all day", "06:00 to 18:00")
