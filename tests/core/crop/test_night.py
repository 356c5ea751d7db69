"""Whether a crop gets its night."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.crop.night import lamp_on, night_conflict, night_of
from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.errors import CanopyError
from canopy.words import worded

FLOWER = StageTarget(10, 20, 800, 10, 12, response="short-day", night_h=12, unbroken_night=True)
DARK = np.zeros(48, dtype=bool)


def sun(first_h, last_h):
    day = DARK.copy()
    day[int(first_h * 2) : int(last_h * 2)] = True
    return day


@pytest.mark.parametrize(
    ("on_h", "hours", "daylight", "words"),
    [
        (6, 12, DARK, ""),
        (20, 12, DARK, ""),
        (6, 12.25, DARK, "The night is 11.75 h and this stage needs 12 h"),
        # daylight inside the lamp's hours does no harm, outside it shortens the night
        (6, 12, sun(8, 16), ""),
        (6, 12, sun(8, 20), "10 h with the daylight"),
        (20, 8, sun(8, 16), "with the daylight"),
        # long enough a night, but broken
        (20, 1, sun(8, 10), "broken"),
    ],
)
def test_short_days_need_their_night(on_h, hours, daylight, words):
    conflict = night_conflict(FLOWER, lamp_on(on_h * 60, hours), daylight)
    assert words in (worded(conflict) if conflict else "")
    assert bool(conflict) == bool(words)


def test_neutral_crops_need_only_what_they_ask():
    tomato = StageTarget(20, 30, 1000, 14, 18, night_h=6)
    assert not night_conflict(tomato, lamp_on(360, 18), DARK)
    assert not night_conflict(tomato, lamp_on(360, 14), sun(9, 17))
    assert night_conflict(tomato, lamp_on(360, 18.5), DARK)


@given(
    st.integers(0, 1439), st.integers(1, 95), st.integers(0, 47), st.integers(0, 47), st.booleans()
)
def test_a_spoilt_night_is_mended_by_what_is_said(on, quarters, rises, lit, unbroken):
    target = StageTarget(
        10, 20, 800, 10, 12, response="short-day", night_h=12, unbroken_night=unbroken
    )
    hours = quarters / 4
    sun = (np.arange(48) - rises) % 48 < lit
    conflict = night_conflict(target, lamp_on(on, hours), sun)
    if conflict is None:
        return
    words = worded(conflict)
    day_h = float(conflict.figures.get("day_h", hours))
    assert ("shorten" in words) == (day_h < hours)
    if "arken the window" in words:
        assert night_conflict(target, lamp_on(on, day_h), DARK) is None
    if "overlap" in words:  # from sunrise, or round the whole of the daylight
        assert night_conflict(target, lamp_on(rises * 30, day_h), sun) is None
    if "join" in words:  # from sunset
        assert night_conflict(target, lamp_on((rises + lit) * 30 % 1440, day_h), sun) is None
    if conflict.code == "night.short_lamp":
        assert night_conflict(target, lamp_on(on, day_h), sun) is None


@given(st.floats(0, 14), st.sampled_from([1, 15, 30, 60]))
def test_no_rounding_takes_an_hour_of_the_night(night, step):
    target = StageTarget(1, 20, 800, 1, 24, night_h=night)
    hours = timer_hours(1, target.longest_day_h, step)
    assert 24 - hours[-1] >= night - 1e-9
    assert not night_conflict(target, lamp_on(300, float(hours[-1])), DARK)


def test_the_dark_is_counted_round_the_clock():
    # lit 0-6 and 12-18: two nights of six hours
    both = lamp_on(0, 6) | lamp_on(720, 6)
    assert (night_of(both).longest_h, night_of(both).dark_h) == (6, 12)
    assert night_of(np.zeros(1440, dtype=bool)).longest_h == 24
    assert night_of(np.ones(1440, dtype=bool)).longest_h == 0


@pytest.mark.parametrize("bad", [{"night_h": 24}, {"night_h": -1}, {"night_h": 15}])
def test_nights_that_leave_no_day(bad):
    with pytest.raises(CanopyError) as caught:
        StageTarget(10, 20, 800, 10, 12, **bad)
    assert caught.value.field == "night_h"
