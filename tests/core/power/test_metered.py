"""Energy from meters, held against scipy, and a day minute by minute."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import integrate

from canopy.power.metered import HOLD_MIN, by_minute, counted_kwh, energy_of


def test_ten_second_watts_against_scipy():
    at = np.arange(0, 86_400, 10.0)
    # ramps at both ends, a driver that hums, and a slow drift
    watts = 150 * np.clip(np.minimum(at - 21_600, 64_800 - at) / 900, 0, 1)
    watts = watts * (1 + 0.02 * np.sin(at / 37)) + 0.4
    found = energy_of(at, watts)
    assert found.kwh == pytest.approx(integrate.trapezoid(watts, at) / 3.6e6, rel=1e-9)
    assert found.kwh == pytest.approx(integrate.simpson(watts, x=at) / 3.6e6, rel=1e-4)
    assert found.hours == pytest.approx(24 - 10 / 3600)


@given(st.lists(st.tuples(st.integers(1, 4000), st.floats(0, 2000)), min_size=2, max_size=60))
def test_gaps_are_left_out_and_never_filled(rows):
    at = np.cumsum([gap for gap, _ in rows]).astype(float)
    watts = np.array([w for _, w in rows])
    found = energy_of(at, watts)
    parts = [
        integrate.trapezoid(watts[k : k + 2], at[k : k + 2])
        for k in range(len(at) - 1)
        if at[k + 1] - at[k] <= 900
    ]
    assert found.kwh * 3.6e6 == pytest.approx(sum(parts), rel=1e-9, abs=1e-6)
    assert 0 <= found.hours <= (at[-1] - at[0]) / 3600


def test_a_counter_that_begins_anew():
    assert counted_kwh([10.0, 10.5, 0.25, 0.5]) == pytest.approx(1.0)
    assert counted_kwh([3.0]) == counted_kwh([]) == energy_of([1], [2]).kwh == 0


def test_a_reading_holds_until_the_next_or_a_quarter_of_an_hour():
    day = by_minute([0.0, 10.5, 30.2], [5.0, 7.0, 9.0])
    assert list(day[[0, 9, 10, 25]]) == [5, 5, 7, 7]
    assert np.isnan(day[26])
    assert day[30] == 9
    assert np.isnan(day[30 + HOLD_MIN + 1 :]).all()
    assert np.isnan(by_minute([], [])).all()
    assert list(by_minute([1439.9], [3.0])[-2:])[1] == 3
