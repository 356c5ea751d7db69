"""Bills by hand: weekends, seasons, tiers, standing charges, and what days take together."""

from datetime import date, timedelta

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.power.energy import month_days, tier_costs, use_of
from canopy.power.tariff import Tariff, TariffBand, Tier, cost_of_day, mean_of

WEEKEND = Tariff(
    0.30,
    (
        TariffBand(1320, 360, 0.20),
        TariffBand(0, 0, 0.15, days="weekend"),
        TariffBand(420, 540, 0.40, "workdays", "11-01", "02-28"),
    ),
)


@pytest.mark.parametrize(
    ("day", "hour", "price"),
    [
        (date(2026, 11, 27), 8, 0.40),  # a Friday in the winter
        (date(2026, 11, 28), 8, 0.15),  # a Saturday
        (date(2027, 1, 4), 8, 0.40),  # past the year's end
        (date(2026, 7, 6), 8, 0.30),  # a Monday in the summer
        (date(2026, 7, 6), 23, 0.20),
    ],
)
def test_a_day_has_the_bands_that_hold_on_it(day, hour, price):
    assert WEEKEND.on(day).by_minute()[hour * 60] == price


def test_a_week_by_hand():
    # 1 kWh from 18:00 over 12 h: workdays in July 4 h at 0.30 and 8 h at 0.20, weekends 0.15
    days = [date(2026, 7, 6) + timedelta(days=k) for k in range(7)]
    bill = sum(cost_of_day(WEEKEND.on(day), 1080, 12, 1.0) for day in days)
    assert bill == pytest.approx(5 * (4 * 0.30 + 8 * 0.20) / 12 + 2 * 0.15)
    mean = mean_of([WEEKEND.on(day) for day in days])
    assert 7 * cost_of_day(mean, 1080, 12, 1.0) == pytest.approx(bill)


def test_tiers_by_hand():
    # 31 days of 2 kWh beside 5 a day: 155 without, 217 with; above 160 each costs 0.10 more
    tariff = Tariff(0.25, tiers=(Tier(160, 0.10),), standing_per_day=0.5)
    days = [date(2026, 1, 1) + timedelta(days=k) for k in range(31)]
    added = tier_costs(tariff, days, [2.0] * 31, 5.0)
    assert added.sum() == pytest.approx(57 * 0.10)
    assert added == pytest.approx([57 * 0.10 / 31] * 31)
    # a household that is above already pays it for every one
    assert tier_costs(tariff, days, [2.0] * 31, 6.0).sum() == pytest.approx(62 * 0.10)
    assert tier_costs(Tariff(0.25), days, [2.0] * 31).sum() == 0


@given(st.lists(st.floats(0, 50), min_size=1, max_size=70), st.floats(0, 20))
def test_tiers_add_what_the_months_bills_differ_by(kwh, other):
    tariff = Tariff(0.2, tiers=(Tier(100, 0.04), Tier(250, 0.03)))
    days = [date(2026, 1, 20) + timedelta(days=k) for k in range(len(kwh))]
    added = tier_costs(tariff, days, kwh, other)
    for month in {day.month for day in days}:
        here = [k for k, day in enumerate(days) if day.month == month]
        others = other * month_days(days[here[0]])
        light = sum(kwh[k] for k in here)
        more = tariff.tiers_cost(others + light) - tariff.tiers_cost(others)
        assert sum(added[here]) == pytest.approx(more, abs=1e-9)


@pytest.mark.parametrize(
    ("day", "days"),
    [(date(2026, 2, 3), 28), (date(2028, 2, 3), 29), (date(2026, 12, 31), 31)],
)
def test_months(day, days):
    assert month_days(day) == days


def test_what_days_take_together():
    # 66 W, 13 h, 45 days at 0.085: 38.61 kWh, 3.28, over 9 plants 0.36 each (common practice)
    kwh = 66 * 13 / 1000
    use = use_of([kwh] * 45, [kwh * 0.085] * 45, [12.0] * 45, 0.36, grid_g_per_kwh=350)
    assert (round(use.kwh, 2), round(use.cost, 2)) == (38.61, 3.28)
    assert round(use.each(9), 2) == 0.36
    assert use.carbon_kg == pytest.approx(38.61 * 0.350)
    assert use.cost_a_mol == pytest.approx(3.28185 / (45 * 12 * 0.36))
    none = use_of([], [], [], 1.0)
    assert (none.kwh_a_day, none.cost_a_mol, none.each(0), none.carbon_kg) == (0, None, None, None)


@given(
    st.lists(st.builds(TariffBand, st.integers(0, 1439), st.integers(0, 1440), st.floats(0, 1))),
    st.integers(0, 1439),
    st.integers(0, 1439),
)
def test_moving_load_between_hours_never_changes_its_kwh(bands, one, other):
    # what a kWh costs by the hour may change; a flat price shows that the energy does not
    flat = Tariff(1.0)
    assert cost_of_day(flat, one, 13, 2.5) == cost_of_day(flat, other, 13, 2.5) == 2.5
    dear = Tariff(0.3, tuple(bands))
    assert cost_of_day(dear, one, 24, 2.5) == pytest.approx(cost_of_day(dear, other, 24, 2.5))
