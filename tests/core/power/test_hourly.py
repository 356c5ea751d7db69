"""Hourly prices: clock changes, days no file tells, and lamps that follow them."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.power.hourly import Contract, HourlyPrices, cost_of_starts, daily_starts
from canopy.power.tariff import Tariff, TariffBand, Tier

BERLIN = ZoneInfo("Europe/Berlin")


def prices_from(first, count):
    return HourlyPrices(first, tuple(float(k) for k in range(count)))


def test_the_day_the_clocks_go_back_has_25_hours():
    # EU rule: back at 01:00 UTC on the last Sunday in October; 2026-10-25 begins at 22:00 UTC
    found = prices_from(datetime(2026, 10, 24, 22, tzinfo=UTC), 25)
    by_hour = found.by_hour(date(2026, 10, 25), BERLIN)
    assert found.covers(date(2026, 10, 25), BERLIN)
    # 02:00 is there twice, as the third and the fourth hour
    assert by_hour.tolist() == [0, 1, 2.5, *range(4, 25)]


def test_the_day_the_clocks_go_forward_has_23_hours():
    found = prices_from(datetime(2026, 3, 28, 23, tzinfo=UTC), 23)
    by_hour = found.by_hour(date(2026, 3, 29), BERLIN)
    assert found.covers(date(2026, 3, 29), BERLIN)
    assert by_hour.tolist() == [0, 1, 1, *range(2, 23)]


def test_days_no_file_tells_cost_as_days_like_them():
    # two weeks from a Monday on: workdays 0.20, weekends 0.10
    first = datetime(2026, 11, 2, tzinfo=UTC)
    costs = [0.10 if (first + timedelta(hours=k)).weekday() > 4 else 0.20 for k in range(14 * 24)]
    contract = Contract(Tariff(9.0), UTC, HourlyPrices(first, tuple(costs)), adds_per_kwh=0.05)
    for day, price, known in (
        (date(2026, 11, 3), 0.25, True),
        (date(2026, 11, 8), 0.15, True),
        (date(2027, 1, 5), 0.25, False),
        (date(2027, 1, 9), 0.15, False),
    ):
        assert contract.on(day).by_minute() == pytest.approx(price)
        assert contract.known(day) is known


def test_many_days_cost_what_each_does():
    first = datetime(2026, 10, 20, tzinfo=UTC)
    file = HourlyPrices(first, tuple(float(k % 31) for k in range(14 * 24)))
    days = [date(2026, 10, 15) + timedelta(days=k) for k in range(25)]
    for contract in (
        Contract(Tariff(0.3), BERLIN, file, 0.05),
        Contract(Tariff(0.3, (TariffBand(0, 360, 0.1, "weekend"),)), BERLIN),
    ):
        each = [contract.on(day).by_minute() for day in days]
        assert contract.by_minute(days) == pytest.approx(np.array(each))


def test_without_a_file_the_tariff_says_all_and_tiers_stay_with_one():
    tariff = Tariff(0.3, tiers=(Tier(100, 0.05),), standing_per_day=0.4)
    assert Contract(tariff).on(date(2026, 1, 1)) == tariff
    dear = Contract(tariff, UTC, prices_from(datetime(2026, 1, 1, tzinfo=UTC), 1))
    day = dear.on(date(2026, 6, 1))
    assert (day.tiers, day.standing_per_day) == (tariff.tiers, 0.4)


@given(st.integers(0, 2**32 - 1), st.sampled_from([8.0, 12.0, 16.5]), st.integers(0, 47))
def test_a_broken_night_never_appears_and_no_way_is_cheaper_than_staying(seed, hours, first):
    prices = np.repeat(np.random.default_rng(seed).uniform(-0.1, 0.5, (9, 24)), 60, axis=1)
    night_h = min(12.0, 24 - hours)
    found = daily_starts(prices, hours, 30, night_h, first * 30)
    before = np.concatenate([[first * 30], found[:-1]])
    dark_min = 1440 + found - before - hours * 60
    assert dark_min.min() >= night_h * 60
    stay = cost_of_starts(prices, np.full(9, first * 30), hours)
    assert cost_of_starts(prices, found, hours).sum() <= stay.sum() + 1e-9


def test_followed_by_hand():
    # cheap 0-12 on the first day, 12-24 on the second: 6 h a day, 12 h of night at least
    prices = np.full((2, 1440), 0.3)
    prices[0, :720] = 0.1
    prices[1, 720:] = 0.1
    found = daily_starts(prices, 6, 60, 12, 0)
    assert cost_of_starts(prices, found, 6) == pytest.approx([0.1, 0.1])
