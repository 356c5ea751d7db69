"""Lamp and daylight as one day."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.crop.night import dark_stretches
from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import Window, lamp_day, lit_by, sun_span
from canopy.daylight.losses import Losses

NEUTRAL = StageTarget(10, 20, 800, 12, 14)
FLOWER = StageTarget(10, 20, 800, 10, 12, response="short-day", night_h=12)
NOON = (9 * 60, 15 * 60)


def test_without_daylight_there_is_one_window_as_long_as_asked():
    day = lamp_day(NEUTRAL, 360, 15, None)
    assert day.windows(12.5) == (Window(360, 12.5),)
    assert [day.fits(h) for h in (11.75, 12, 14, 14.25)] == [False, True, True, True]
    assert day.day_h(12.5) == 12.5


def test_daylight_makes_the_crops_day_with_fewer_hours_of_lamp():
    # daylight from 9 to 15: three hours before it and three after make twelve. By hand
    day = lamp_day(NEUTRAL, 360, 15, NOON)
    assert day.windows(6) == (Window(360, 3), Window(900, 3))
    assert day.day_h(6) == 12
    assert day.fits(6)
    assert not day.fits(5.75)
    # what is more than the crop's day leaves beside the daylight runs into it
    assert day.windows(9) == (Window(360, 4), Window(900, 5))
    assert day.day_h(9) == 14
    # one window where it makes the day by itself
    assert day.windows(13) == (Window(360, 13),)


def test_the_on_time_stays_where_the_clock_stands_if_it_can():
    assert lamp_day(NEUTRAL, 480, 15, NOON).windows(6)[0] == Window(480, 1)
    # sunrise between two steps of the timer is rounded into the daylight
    found = lamp_day(NEUTRAL, 360, 60, (9 * 60 + 10, 15 * 60 + 50)).windows(7)
    assert found == (Window(360, 4), Window(900, 3))


def test_two_windows_when_they_save_more_than_a_tenth():
    # a price of 0.60 while the sun shines, 0.20 else: seven hours of lamp from six on
    price = np.full(1440, 0.2)
    price[NOON[0] : NOON[1]] = 0.6
    loose = replace(NEUTRAL, hours_low=4)
    assert len(lamp_day(loose, 360, 15, NOON).windows(7)) == 1
    dear = lamp_day(loose, 360, 15, NOON, tuple(price.tolist()))
    assert dear.windows(7) == (Window(360, 3), Window(900, 4))
    price[NOON[0] : NOON[1]] = 0.21
    assert len(lamp_day(loose, 360, 15, NOON, tuple(price.tolist())).windows(7)) == 1


def test_each_window_pays_its_own_ramps():
    day = lamp_day(NEUTRAL, 360, 15, NOON)
    losses = Losses(ramp_min=30, day=day)
    assert losses.lost_h(np.array([6.0, 13.0])).tolist() == [1.0, 0.5]


def test_the_span_of_daylight():
    assert sun_span(np.zeros(48, dtype=bool)) is None
    light = np.zeros(48, dtype=bool)
    light[18:30] = True
    assert sun_span(light) == NOON


@given(
    st.integers(0, 95),
    st.sampled_from([15, 30, 60]),
    st.integers(0, 1200),
    st.integers(10, 800),
    st.integers(1, 48),
    st.booleans(),
)
def test_a_short_day_crop_never_gets_a_second_window_or_a_broken_night(
    on, step, rises, lit, quarters, dear
):
    sun = (rises, min(rises + lit, 1440))
    price = tuple(np.where(np.arange(1440) < 700, 0.1, 0.9).tolist()) if dear else None
    day = lamp_day(FLOWER, on * 15, step, sun, price)
    windows = day.windows(quarters / 4)
    assert len(windows) == 1
    if day.fits(quarters / 4):
        light = lit_by(windows) | day.sunlit()
        assert dark_stretches(light) == 1
        assert light.sum() <= 12 * 60


@given(
    st.integers(0, 95),
    st.sampled_from([15, 30, 60]),
    st.integers(0, 1200),
    st.integers(10, 800),
    st.integers(1, 56),
    st.booleans(),
)
def test_windows_add_up_and_none_of_them_overlap(on, step, rises, lit, quarters, unbroken):
    target = replace(NEUTRAL, unbroken_night=unbroken, night_h=8)
    day = lamp_day(target, on * 15, step, (rises, min(rises + lit, 1440)))
    hours = step * max(quarters * 15 // step, 1) / 60
    windows = day.windows(hours)
    assert len(windows) in (1, 2)
    assert sum(window.hours for window in windows) == pytest.approx(hours)
    assert lit_by(windows).sum() == round(hours * 60)
    # a timer can keep them
    for window in windows[1:]:
        assert window.on_minute % step == 0
    assert all(window.hours * 60 % step == pytest.approx(0) for window in windows)
    if day.fits(hours):
        light = lit_by(windows) | day.sunlit()
        assert dark_stretches(light) == 1 or not unbroken
        assert 24 - day.day_h(hours) >= 8 - 1e-9
