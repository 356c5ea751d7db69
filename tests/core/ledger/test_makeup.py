"""Light that was missed is made up within hours, night and band, or left missing and said why."""

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.crop.targets import StageTarget
from canopy.ledger.makeup import MOST_DAYS, make_up

HERBS = StageTarget(12, 16, 600, 12, 18, night_h=6)
SHORT = StageTarget(10, 20, 800, 10, 12, response="short-day", night_h=12)


def test_a_short_day_within_a_week_that_keeps_its_band_asks_nothing():
    assert make_up(12.1, 7, HERBS, 250, 14, 12.6, 15) is None
    assert make_up(12.0, 7, HERBS, 250, 14, 12.6, 15) is None


def test_a_short_day_crop_is_left_its_night():
    found = make_up(8.0, 7, SHORT, 300, 12, 12.96, 15)
    assert (found.extra_h, found.line.code) == (0, "makeup.night")
    unbroken = StageTarget(12, 16, 600, 12, 18, unbroken_night=True)
    assert make_up(8.0, 7, unbroken, 300, 12, 12.96, 15).line.code == "makeup.night"


def test_where_day_or_band_are_full_it_is_left_and_said_why():
    assert make_up(10.0, 7, HERBS, 190, 18, 12.3, 15).line.code == "makeup.hours"
    assert make_up(10.0, 7, HERBS, 300, 14, 15.9, 15).line.code == "makeup.high"
    # a window that makes the crop's day longer than the lamp's counts
    assert make_up(10.0, 7, HERBS, 190, 12, 12.3, 15, crop_day_h=18).line.code == "makeup.hours"


def test_worked_by_hand():
    # 0.5 mol a day over 7 days are 3.5; 250 umol give 0.9 mol an hour (exact): 3.9 h over 2 days
    found = make_up(11.5, 7, HERBS, 250, 14, 12.6, 15)
    assert (found.days, found.extra_h) == (2, 2.0)
    assert found.line.figures["gives"] == pytest.approx(3.6)


@given(
    st.floats(0, 12),
    st.integers(1, 7),
    st.floats(20, 900),
    st.floats(8, 18),
    st.sampled_from([15, 30, 60]),
)
def test_followed_no_day_passes_band_or_hours_and_no_more_is_given_than_was_missed(
    mean, days, ppfd, hours, step
):
    dli = ppfd * hours * 0.0036
    found = make_up(mean, days, HERBS, ppfd, hours, dli, step)
    if found is None:
        assert (12 - mean) * days <= 0.2
        return
    if not found.days:
        assert found.extra_h == 0
        return
    assert 1 <= found.days <= MOST_DAYS
    assert hours + found.extra_h <= 18 + 1e-9
    assert dli + found.extra_h * ppfd * 0.0036 <= 16 + 1e-6
    assert found.extra_h / (step / 60) == pytest.approx(round(found.extra_h / (step / 60)))
    given_more = found.extra_h * found.days * ppfd * 0.0036
    # to the nearest step a day
    assert given_more <= (12 - mean) * days + found.days * ppfd * 0.0036 * step / 60 + 1e-6
