"""The same light for less, against trying every setting there is."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import LampDay
from canopy.daylight.losses import Losses
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, PlacedLamp
from canopy.plan.bench import bench
from canopy.plan.levers import Setting
from canopy.plan.problem import HungLamp, StageProblem
from canopy.plan.samelight import same_light
from canopy.power.tariff import Tariff, TariffBand, cost_of_day

LAMP = HungLamp(PlacedLamp(Bars.even(4, 50, 60), 400, 40, 40, 0), watts=160)
# light falls a little less than watts because efficacy rises when dimmed (common practice)
SMOOTH = Dimmer(
    "continuous", (DialRow(10, 0.09, 0.12), DialRow(50, 0.45, 0.52), DialRow(100, 1, 1))
)
STEPPED = Dimmer("stepped", (DialRow(50, 0.49, 0.52), DialRow(100, 1, 1)))
NONE = Dimmer("none", (DialRow(100, 1, 1),))
NIGHT = Tariff(0.30, (TariffBand(1320, 360, 0.20),))


def problem(dimmer=SMOOTH, day=None, **target):
    asked = {"dli_low": 8, "dli_high": 16, "hot_spot_cap": 700, "hours_low": 8, "hours_high": 18}
    return StageProblem(
        box=Enclosure(80, 80, 120, (0.5,) * 4, 0.5, 0.1),
        lamps=(LAMP,),
        lowest_cm=20,
        highest_cm=70,
        dimmer=dimmer,
        timer_step_min=30,
        target=StageTarget(**{**asked, **target}),
        losses=Losses(day=day or LampDay(step_min=30)),
    )


HERE = Setting(45, 80, 12)


def asked(here, setting=HERE, tariff=NIGHT, free=True):
    ready = bench(here)
    return ready, same_light(here, ready, ready.space.nearest(setting), tariff, 360, free)


@pytest.mark.parametrize("dimmer", [SMOOTH, STEPPED, NONE], ids=["smooth", "stepped", "none"])
@pytest.mark.parametrize("free", [True, False], ids=["free", "fixed"])
def test_no_setting_there_is_gives_it_for_less(dimmer, free):
    here = problem(dimmer)
    ready, found = asked(here, free=free)
    space, masks = ready.space, ready.masks
    dli, kwh = space.dli(), space.kwh()[0]
    starts = range(0, 1440, 30) if free else [360]
    good = np.ones(space.shape, bool)
    for mask in masks.values():
        good &= mask
    good &= (dli >= found.dli * (1 - 1e-9)) & space.height_choices[:, None, None]
    good[:, :, ~space.hours_choices] = False
    by_hours = {}
    for t, hours in enumerate(space.hours):
        cells = np.argwhere(good[:, :, t])
        if len(cells):
            least = min(kwh[d, t] for _, d in cells)
            price = min(cost_of_day(NIGHT, start, float(hours), 1.0) for start in starts)
            by_hours[float(hours)] = least * price
    able = {way.hours: way.cost for way in found.anywhere if not way.hindrance}
    assert able == pytest.approx(by_hours, abs=1e-6)
    best = found.cheapest(found.anywhere)
    assert best.cost == pytest.approx(min([*by_hours.values(), found.now.cost]), abs=1e-6)


def test_every_way_gives_the_light_it_says():
    ready, found = asked(problem())
    for way in (found.now, *found.here, *found.anywhere):
        if way.hindrance in ("", "cap", "ppfd"):
            h, d, _ = ready.space.nearest(Setting(way.height_cm, way.dial_pct, 12))
            given = float(ready.space.day_dli(h, d, way.hours))
            assert given == pytest.approx(way.dli)
            assert given >= found.dli * (1 - 1e-9)
        assert way.kwh == pytest.approx(way.watts * way.hours / 1000)
        assert way.cost == pytest.approx(cost_of_day(NIGHT, way.on_minute, way.hours, way.kwh))


def test_dimmed_over_longer_hours_it_takes_less():
    _, found = asked(problem(), tariff=Tariff(0.3))
    able = [way for way in found.here if not way.hindrance]
    assert able[-1].kwh < able[0].kwh
    assert 0.02 < found.saved_by_dimming(found.here) < 0.3
    # one whose light is its watts saves nothing but what the timer's and dial's steps leave
    flat = Dimmer("continuous", (DialRow(10, 0.1, 0.1), DialRow(100, 1, 1)))
    _, even = asked(problem(flat), tariff=Tariff(0.3))
    assert even.saved_by_dimming(even.here) < 0.03


def test_a_short_days_night_is_never_broken_for_money():
    here = problem(
        hours_low=8, hours_high=12, response="short-day", night_h=12, unbroken_night=True
    )
    _, found = asked(here, Setting(45, 80, 11), tariff=Tariff(0.3, (TariffBand(0, 720, 0.01),)))
    assert all(way.hindrance for way in (*found.here, *found.anywhere) if way.hours > 12)
    assert found.cheapest(found.anywhere).hours <= 12


def test_beside_daylight_the_lamps_windows_stay_within_the_crops_day():
    day = LampDay(on_minute=360, step_min=30, sun=(480, 960), least_h=8, longest_h=16, night_h=8)
    here = replace(problem(day=day), daylight_dli=4.0)
    _, found = asked(here, Setting(45, 60, 10))
    able = [way for way in found.here if not way.hindrance]
    assert able
    for way in able:
        assert day.fits(way.hours)
        # the lamp gives what daylight leaves
        assert way.dli >= found.dli * (1 - 1e-9) > 4


def test_a_setting_that_misses_its_targets_is_left_where_nothing_can_be_chosen():
    here = problem(hot_spot_cap=20)
    _, found = asked(here)
    assert {way.hindrance for way in found.here} >= {"cap"}
    assert found.cheapest(found.here) == found.now
    assert found.saved_by_dimming(found.here) == 0
    assert next(way for way in found.here if way.hours < 2).hindrance == "dial"
