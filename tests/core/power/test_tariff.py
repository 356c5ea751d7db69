"""Prices by the time of day, and when to switch on."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.power.tariff import Tariff, TariffBand, best_start, cost_of_day

NIGHT = Tariff(0.30, (TariffBand(22 * 60, 6 * 60, 0.20),))


def test_a_flat_price_costs_the_same_at_any_hour():
    # 66 W for 13 h at 0.085 over 45 days: 3.28 in all (common practice, no source)
    kwh = 66 * 13 / 1000
    for on in (0, 600, 1400):
        assert 45 * cost_of_day(Tariff(0.085), on, 13, kwh) == pytest.approx(3.28, abs=0.005)


def test_a_band_past_midnight():
    # 12 h from 18:00: 4 h at 0.30, then 8 h at 0.20
    assert cost_of_day(NIGHT, 18 * 60, 12, 1.2) == pytest.approx(0.1 * (4 * 0.30 + 8 * 0.20))
    assert cost_of_day(NIGHT, 0, 0, 0.0) == 0


@given(
    st.lists(st.tuples(st.integers(0, 1439), st.integers(0, 1440), st.floats(0, 1)), max_size=12)
)
def test_spans_tell_the_same_prices_without_a_gap(rows):
    tariff = Tariff(0.30, tuple(TariffBand(*row) for row in rows))
    spans = tariff.spans()
    assert bool(spans) == bool(rows)
    assert all(one.to_minute == next_.from_minute for one, next_ in pairwise(spans))
    if spans:
        assert (spans[0].from_minute, spans[-1].to_minute) == (0, 1440)
        assert (Tariff(9, tuple(spans)).by_minute() == tariff.by_minute()).all()


def test_the_cheapest_hours_and_the_coolest():
    # 8 h fit the cheap hours exactly; of equal starts the one nearest the present
    assert best_start(NIGHT, 8, 15, "cheap", 360) == 22 * 60
    assert best_start(NIGHT, 4, 60, "cheap", 360) == 2 * 60
    # centred on four in the morning
    assert best_start(NIGHT, 12, 60, "cool", 360) == 22 * 60
    assert best_start(NIGHT, 12, 60, "fixed", 425) == 425
    with pytest.raises(CanopyError):
        best_start(NIGHT, 12, 60, "whenever", 0)


bands = st.builds(TariffBand, st.integers(0, 1439), st.integers(0, 1439), st.floats(0.01, 1))


@given(st.lists(bands, max_size=3), st.sampled_from([6, 12, 16.5]), st.integers(0, 1439))
def test_no_start_is_cheaper_than_the_cheapest(some, hours, present):
    tariff = Tariff(0.3, tuple(some))
    least = cost_of_day(tariff, best_start(tariff, hours, 30, "cheap", present), hours, 1.0)
    for start in range(0, 1440, 30):
        # minute by minute, the slow way
        price = tariff.by_minute()
        minutes = [price[(start + m) % 1440] for m in range(round(hours * 60))]
        assert least <= sum(minutes) / len(minutes) + 1e-6
