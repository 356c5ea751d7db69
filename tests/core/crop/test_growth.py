"""Tops: known curves come back, slips hardly move them, ranges hold, limits are seen coming."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import stats

from canopy.constants import NINETY
from canopy.crop.growth import TAPE_SD_CM, fit_tops
from canopy.errors import CanopyError


def logistic(days, base=6.0, rise=60.0, rate=0.15, middle=28.0):
    return base + rise / (1 + np.exp(-rate * (np.asarray(days, dtype=float) - middle)))


def measured(curve, days, seed=1, sd=TAPE_SD_CM):
    return curve(days) + np.random.default_rng(seed).normal(0, sd, len(days))


def test_one_reading_goes_on_as_the_stage_is_known_to_grow():
    found = fit_tops([10], [20], 1.2)
    assert (found.kind, found.rate_cm_d) == ("line", pytest.approx(1.2))
    low, middle, high = found.at([10, 15])
    assert middle == pytest.approx([20, 26])
    # half of the rise may be off: after five days 3 cm, with the tape's and growth's own
    wide = NINETY * np.sqrt(TAPE_SD_CM**2 + (5 * 0.6) ** 2 + 0.3**2 * 5)
    assert (high - low)[1] / 2 == pytest.approx(wide, rel=0.01)


@given(st.floats(5, 60), st.floats(0, 3), st.integers(0, 2**32 - 1))
@settings(max_examples=40, deadline=None)
def test_a_line_is_scipys_where_readings_are_many(start, rate, seed):
    days = np.arange(0, 12, 0.5)
    tops = measured(lambda d: start + rate * d, days, seed)
    found = fit_tops(days, tops, rate)
    theirs = stats.linregress(days, tops)
    assert found.rate_cm_d == pytest.approx(theirs.slope, abs=0.12)
    assert found.at([6])[1][0] == pytest.approx(theirs.intercept + 6 * theirs.slope, abs=0.6)


def test_a_slip_hardly_moves_it():
    days = np.arange(0, 13)
    clean = 10 + 1.1 * days
    slipped = clean.copy()
    slipped[6] = 105  # a digit too many
    assert fit_tops(days, slipped, 1.0).rate_cm_d == pytest.approx(1.1, abs=0.1)
    assert fit_tops(days, slipped, 1.0).at([12])[1][0] == pytest.approx(clean[12], abs=2.5)


@given(st.floats(30, 90), st.floats(0.1, 0.25), st.floats(20, 35))
@settings(max_examples=20, deadline=None)
def test_a_logistic_comes_back(rise, rate, middle):
    def curve(days):
        return logistic(days, 6.0, rise, rate, middle)

    days = np.arange(0, 57, 4.0)
    found = fit_tops(days, curve(days), 1.0)
    assert found.kind == "logistic"
    inside = np.arange(0, 57)
    assert found.at(inside)[1] == pytest.approx(curve(inside), abs=0.6)
    step = 1e-4
    rate_then = (curve([56 + step]) - curve([56 - step]))[0] / (2 * step)
    assert found.rate_cm_d == pytest.approx(rate_then, abs=0.05)


def test_it_beats_a_straight_line_on_noisy_logistic_data():
    days = np.arange(0, 57, 3.5)
    ahead = np.arange(57, 71)
    curved, straight = [], []
    for seed in range(30):
        tops = measured(logistic, days, seed)
        found = fit_tops(days, tops, 1.0)
        line = np.polynomial.Polynomial.fit(days, tops, 1)
        curved.append(np.abs(found.at(ahead)[1] - logistic(ahead)).mean())
        straight.append(np.abs(line(ahead) - logistic(ahead)).mean())
    assert np.median(curved) < np.median(straight) / 3


def test_nine_in_ten_lie_inside_the_range_a_week_ahead():
    inside = []
    for seed in range(120):
        rng = np.random.default_rng(seed)
        rate = max(rng.normal(1.0, 0.5), 0)
        days = np.sort(rng.choice(15, 5, replace=False))
        tops = 12 + rate * days + rng.normal(0, TAPE_SD_CM, 5)
        low, _, high = fit_tops(days, tops, 1.0).at([21.0])
        inside.append(low[0] <= 12 + rate * 21 <= high[0])
    assert np.mean(inside) > 0.87


def test_the_day_a_limit_is_reached_lies_where_the_curve_does():
    found = fit_tops(np.arange(0, 10), 10 + 1.0 * np.arange(0, 10), 1.0)
    early, likely, late = found.reaches(25.0)
    assert early < likely < late
    assert likely == pytest.approx(15, abs=0.5)
    assert found.at([likely])[1][0] == pytest.approx(25, abs=0.3)
    assert found.at([early])[2][0] == pytest.approx(25, abs=0.5)
    # what stands above it already does so now
    assert found.reaches(12.0)[1] == found.last_day
    # what never comes is told as such
    assert fit_tops([0, 5, 10], [20, 20, 20], 0.0).reaches(60.0)[1] is None


@pytest.mark.parametrize(("days", "tops"), [([], []), ([1], [1, 2]), ([0] * 2001, [1] * 2001)])
def test_what_cannot_be_fitted_is_refused(days, tops):
    with pytest.raises(CanopyError, match="readings of the tops"):
        fit_tops(days, tops, 1.0)


def test_many_readings_of_one_day_are_one_day():
    found = fit_tops([5] * 8, [30, 31, 29, 30, 31, 30, 29, 30], 0.5)
    assert found.kind == "line"
    assert found.at([5])[1][0] == pytest.approx(30, abs=0.3)
    assert found.rate_cm_d == pytest.approx(0.5, abs=0.05)


@pytest.mark.parametrize("rate", [0.0, 0.2, 2.0, 4.0, 6.0])
def test_plants_that_grow_as_nobody_expected_are_believed(rate):
    # six clean readings on a line (closed form), where the stage is known for 0.2 cm a day
    days = [0.0, 2.0, 4.0, 6.0, 8.0, 10.0]
    found = fit_tops(days, [21 + rate * day for day in days], 0.2)
    assert found.rate_cm_d == pytest.approx(rate, abs=0.25)
    low, middle, high = (float(row[0]) for row in found.at([10.0]))
    assert low <= 21 + rate * 10 <= high
    assert middle == pytest.approx(21 + rate * 10, abs=1)
