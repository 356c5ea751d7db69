"""Sums on paper hold together, whatever the figures."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.typed import typed_map
from canopy.sums import (
    at_the_dial,
    by_the_eye,
    day_sum,
    from_the_eye,
    hours_on_a_timer,
    map_sum,
    measures,
    needed_ppfd,
    running,
)
from canopy.words import worded

light = st.floats(1, 2000)


@given(st.floats(0.1, 60), light, st.sampled_from([1, 15, 30, 60]))
def test_a_timers_hours_reach_the_light_and_a_step_less_does_not(dli, ppfd, step):
    found = hours_on_a_timer(dli, ppfd, step).figures
    timer = found["timer_hours"]
    assert timer * 60 % step == pytest.approx(0, abs=1e-6)
    assert found["dli"] == pytest.approx(day_sum(ppfd, timer).figures["dli"])
    if found["hours"] <= 24:
        assert found["dli"] >= dli * (1 - 1e-9)
        assert day_sum(ppfd, timer - step / 60).figures["dli"] < dli
    else:
        assert timer == 24


@given(light, st.floats(0.1, 24))
def test_the_days_light_and_the_ppfd_are_each_others_way_back(ppfd, hours):
    dli = day_sum(ppfd, hours).figures["dli"]
    assert needed_ppfd(dli, hours).figures["ppfd"] == pytest.approx(ppfd)
    assert hours_on_a_timer(dli, ppfd, 1).figures["hours"] == pytest.approx(hours)


@given(light, st.floats(10, 100))
def test_lux_and_light_are_each_others_way_back(ppfd, factor):
    lux = by_the_eye(ppfd, factor).figures["lux"]
    assert from_the_eye(lux, factor).figures["ppfd"] == pytest.approx(ppfd)


def test_a_lamp_of_3000_lumens_a_square_foot():
    # from memory of the trade's rule: 3 000 lm a square foot are about 32 klx; at a white LED's
    # 70 lux a umol about 460 umol
    per_ft2 = measures(0.0, 32_292).figures["per_ft2"]
    assert per_ft2 == pytest.approx(3000, rel=0.001)
    assert from_the_eye(32_292, 70).figures["ppfd"] == pytest.approx(461, abs=1)


def test_a_dial_that_lies_is_read_from_its_table():
    # common practice, no source: dial 50 gave 36 % of the watts and 39 % of the light
    dial = Dimmer("continuous", (DialRow(50, 0.36, 0.39), DialRow(100, 1, 1)))
    found = at_the_dial(dial, 200, 500, 50).figures
    assert (found["watts"], found["ppf_umol_s"]) == (pytest.approx(72), pytest.approx(195))


def test_the_bill_is_shared_by_the_plants():
    one, nine = (running(66, 13, 45, 0.085, plants).figures for plants in (1, 9))
    assert nine["cost"] == one["cost"] == one["each"] == pytest.approx(9 * nine["each"])


def test_a_map_in_the_dark_says_so_and_one_that_is_too_dim_too():
    for value in (0.0, 5.0):
        read = typed_map([[value, value]], 100, 100)
        assert "no day is long enough" in worded(map_sum(read, 12, 15).formula[0])
    bright = map_sum(typed_map(np.full((3, 3), 300.0).tolist(), 100, 100), 12, 60)
    assert bright.figures["timer_hours"] == 12


@pytest.mark.parametrize(
    "wrong",
    [lambda: hours_on_a_timer(12, 0), lambda: needed_ppfd(12, 0), lambda: from_the_eye(9, 0)],
)
def test_sums_without_an_answer(wrong):
    with pytest.raises(CanopyError):
        wrong()
