"""A run's sums: against bills worked by hand, and against the ledger they are made of."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given as given_by
from hypothesis import strategies as st

from canopy.ledger.given import Cut, Stood, given
from canopy.ledger.review import (
    Grown,
    LivedDay,
    by_stage,
    cost_of_spans,
    grown,
    kwh_given,
    shares,
    sums,
)
from canopy.power.energy import energy_kwh, use_of
from canopy.power.tariff import Tariff, TariffBand

DAY = LivedDay(0, True, 14.0, 13.0, 15.0, 12.0, 16.0, 1.0, 0.3)


def lit(days, watts=66.0, hours=13.0, on=360.0, cuts=(), ramp=0.0):
    stood = [Stood(0.0, 60.0, 100.0, ((on, hours * 60),))]
    light = lambda above, dial: above * 0.0 + 300.0  # noqa: E731
    found = given(days, stood, cuts, ramp, [light], lambda at: at * 0.0)
    return found, kwh_given(found, stood, lambda light, dial: watts)


def test_a_bill_worked_by_hand():
    # common practice, no source: 66 W, 13 h, 45 days is 585 h and 38.61 kWh; at 0.085 a kWh 3.28,
    # over nine plants 0.36 each
    found, kwh = lit(45)
    tariff = Tariff(0.085)
    days = [
        replace(DAY, kwh=float(k), cost=cost_of_spans(tariff, spans, float(k)))
        for k, spans in zip(kwh, found.spans)
    ]
    whole = sums(days)
    assert whole.kwh == pytest.approx(38.61)
    assert round(whole.cost, 2) == 3.28
    assert round(shares(whole, 1.0, plants=9).cost_a_plant, 2) == 0.36
    assert float(found.lit_h.sum()) == pytest.approx(585)


def test_a_bill_by_the_time_of_day_worked_by_hand():
    # 100 W from 20:00 to 8:00: of 12 hours 8 lie in the cheap night from 22:00 to 6:00, at 0.10,
    # and 4 cost 0.40: (8 x 0.10 + 4 x 0.40) x 0.1 kWh = 0.24
    found, kwh = lit(3, watts=100.0, hours=12.0, on=1200.0)
    night = Tariff(0.40, (TariffBand(1320, 360, 0.10),))
    costs = [cost_of_spans(night, spans, float(k)) for spans, k in zip(found.spans, kwh)]
    assert costs[1] == pytest.approx(0.24)
    # an hour later by the wall: 7 hours of the night before and after, 21:00 to 9:00 the same 8
    ahead = cost_of_spans(night, found.spans[1], float(kwh[1]), 60)
    assert ahead == pytest.approx(0.24)
    # in an hour that begins at half past, half of each price: (0.5 x 0.40 + 0.5 x 0.10)
    assert cost_of_spans(night, [(1290, 1350)], 1.0) == pytest.approx(0.25)


def test_a_power_cut_and_ramps_take_energy_as_they_take_light():
    _, whole = lit(3)
    _found, cut = lit(3, cuts=[Cut(1440 + 600, 120)])
    assert whole[1] - cut[1] == pytest.approx(2 * 0.066)
    # two ramps of half an hour cost half an hour of full light; handbook: linear ramps
    _, ramped = lit(3, ramp=30.0)
    assert whole[1] - ramped[1] == pytest.approx(0.5 * 0.066)


@given_by(
    st.floats(1, 1000),
    st.floats(0.5, 23),
    st.integers(1, 40),
    st.floats(0.01, 1),
    st.integers(0, 1439),
)
def test_sums_are_the_plans_own_where_all_goes_as_planned(watts, hours, days, price, on):
    """Against power/energy, which plans: the same days, light and tariff."""
    found, kwh = lit(days + 1, watts, hours, float(on))
    # the first day's window may begin on the day before
    rows = [
        replace(DAY, kwh=float(k), cost=cost_of_spans(Tariff(price), s, float(k)), dli=float(d))
        for k, s, d in list(zip(kwh, found.spans, found.dli))[1:]
    ]
    use = use_of(
        [energy_kwh(watts, hours)] * days,
        [energy_kwh(watts, hours) * price] * days,
        [300 * hours * 0.0036] * days,
        0.8,
    )
    whole = sums(rows)
    assert whole.kwh == pytest.approx(use.kwh, rel=1e-6)
    assert whole.cost == pytest.approx(use.cost, rel=1e-6)
    assert whole.mol_m2 * 0.8 == pytest.approx(use.mol, rel=1e-6)
    assert shares(whole, 0.8).cost_a_mol == pytest.approx(use.cost_a_mol, rel=1e-6)


def test_a_meter_that_was_there_tells_the_energy_and_each_kwh_costs_as_reckoned():
    metered = replace(DAY, metered_kwh=1.2, metered_h=23.0)
    gone = replace(DAY, metered_kwh=0.4, metered_h=8.0)
    whole = sums([metered, gone, DAY])
    assert whole.kwh == pytest.approx(1.2 + 1.0 + 1.0)
    assert whole.cost == pytest.approx(0.36 + 0.3 + 0.3)
    assert whole.metered_days == 1
    # a lamp nobody noted as lit, and a meter that saw it: its kWh count, no price is made up
    dark = replace(DAY, kwh=0.0, cost=0.0, metered_kwh=0.7, metered_h=24.0)
    assert (sums([dark]).kwh, sums([dark]).cost) == (0.7, 0.0)


def test_stages_are_days_in_a_row_and_their_sums_make_the_whole():
    days = [
        replace(DAY, stage=0, planned_dli=13.0, planned_kwh=0.9, planned_cost=0.27),
        replace(DAY, stage=0, known=False, dli=0.0),
        replace(DAY, stage=1, dli=11.0, moved=True),
        replace(DAY, stage=1, dli=17.0, planned_trip=True),
    ]
    first, second = by_stage(days)
    whole = sums(days)
    assert (first.days, first.known_days, first.first_day) == (2, 1, 0)
    assert (second.first_day, second.below_days, second.above_days) == (2, 1, 1)
    assert second.inside_days == 0
    assert second.planned_dli is None
    assert first.planned_dli == 13.0
    assert whole.kwh == first.kwh + second.kwh
    assert (whole.moves, whole.planned_trips) == (1, 1)
    assert by_stage([]) == []
    assert sums([]).dli is None


def test_what_nobody_said_is_not_reckoned():
    whole = sums([DAY])
    nothing = shares(whole, 0.5)
    assert nothing.cost_a_plant is None
    assert nothing.cost_a_unit is None
    assert nothing.carbon_kg is None
    some = shares(whole, 0.5, plants=4, harvest=50.0, grid_g_per_kwh=400.0)
    assert some.cost_a_plant == pytest.approx(0.075)
    assert some.cost_a_unit == pytest.approx(0.006)
    assert some.units_a_kwh == pytest.approx(50)
    assert some.units_a_mol == pytest.approx(50 / 7)
    assert some.carbon_kg == pytest.approx(0.4)
    # a harvest of nothing costs what it cost, and has no price each
    assert shares(whole, 0.5, harvest=0.0).cost_a_unit is None


def test_how_a_stage_was_lived():
    def rise(at):
        return 20.0 + np.asarray(at)

    assert grown(10, 20, 15.0, [(12, 32), (25, 45)], rise) == Grown(20, 15.0, 35.0)
    # between two measurements they rose evenly, whatever curve goes through all
    measured = [(8, 20.0), (12, 24.0), (28, 40.0), (32, 44.0)]
    assert grown(10, 20, 15.0, measured, lambda at: at * 0) == Grown(20, 7.0, 27.0)
    # one point says nothing of a rise
    assert grown(10, 20, 15.0, [(12, 32), (60, 80)], rise) == Grown(20, None, None)
    # plants that shrank are not told to grow down
    shrank = grown(0, 5, 15.0, [(1, 29), (4, 26)], lambda at: 30.0 - np.asarray(at))
    assert shrank.plant_end_cm == 15.0
