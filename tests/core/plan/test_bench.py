"""A prepared problem, from tent to answer."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.constants import NINETY
from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import LampDay, Window
from canopy.daylight.losses import Losses
from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.measured import MeasuredMap
from canopy.light.sources import Bars, PlacedLamp
from canopy.plan.bench import bench
from canopy.plan.certainty import certainty
from canopy.plan.doubts import Doubts
from canopy.plan.levers import Outcome, Setting
from canopy.plan.problem import Growth, HungLamp, StageProblem
from canopy.plan.rehang import rehang


@pytest.fixture
def problem(tent):
    return StageProblem(
        box=tent,
        lamps=(HungLamp(PlacedLamp(Bars.even(6, 76, 92), 624, 60, 45, 0), watts=240),),
        lowest_cm=15,
        highest_cm=100,
        dimmer=Dimmer("continuous", (DialRow(10, 0.09, 0.11), DialRow(100, 1, 1))),
        timer_step_min=15,
        target=StageTarget(10, 20, 800, 10, 12, evenness_goal=0.6, response="short-day"),
    )


def test_the_answer_keeps_its_promises(problem):
    ready = bench(problem)
    found = ready.solution
    assert found.fits
    assert found.outcome.dli == pytest.approx(15, rel=0.02)
    assert found.outcome.peak <= 800
    assert found.outcome.evenness >= 0.6
    assert 15 <= found.setting.height_cm <= 100
    assert 10 <= found.setting.hours <= 12
    # the outcome is the map's: mean, brightest and dimmest of what is drawn
    index = ready.space.nearest(found.setting)
    shown = ready.stack.at(found.setting.height_cm) * ready.space.light[index[1]]
    assert found.outcome.mean == pytest.approx(shown.mean())
    assert found.outcome.peak == pytest.approx(shown.max())
    assert found.outcome.evenness == pytest.approx(shown.min() / shown.mean())


def test_what_is_prepared_is_kept_and_cannot_be_changed(problem):
    ready = bench(problem)
    assert bench(replace(problem)) is ready
    looser = bench(replace(problem, target=StageTarget(10, 20, 900, 10, 12)))
    assert looser.stack is ready.stack
    with pytest.raises(ValueError, match="read-only"):
        ready.stack.ppfd[0, 0] = 0


@pytest.mark.parametrize("change", [{"highest_cm": 10}, {"timer_step_min": 7}])
def test_no_position_left(problem, change):
    with pytest.raises(CanopyError):
        bench(replace(problem, **change))


def test_a_wide_source_among_walls_does_not_follow_the_inverse_square(problem):
    # common practice, no source: from 30 to 60 cm the mean falls by a few per cent, not to 1/4
    space = bench(problem).space
    at30, at60 = (space.mean[np.flatnonzero(space.heights_cm == h)[0], -1] for h in (30, 60))
    assert 0.75 < at60 / at30 < 1


def test_growing_into_the_light(problem):
    def left(by_cm, cap=5000.0):
        """The same lamp hung 40 cm above tops of 20 cm that rise so much in 30 days."""
        target = StageTarget(1.0, 90.0, cap, 10, 12)
        growing = replace(problem, target=target, growth=Growth(20.0, by_cm, 30))
        ready = bench(growing)
        wanted = replace(ready.solution.setting, height_cm=40, dial_pct=100)
        return ready.space, rehang(growing, ready, ready.space.nearest(wanted))

    _, near = left(30)
    # the tops rise 1 cm a day, 40 - 30 is under the clearance of 15, passed with the 26th cm
    assert (near.above_floor_cm, near.growth_cm, near.left_cm) == (61, 29, 11)
    assert (near.first_day, near.fails) == (26, ("clearance",))
    assert near.peak_umol_m2_s is None
    space, far = left(10)
    assert (far.first_day, far.fails) == (None, ())
    row = list(space.heights_cm).index
    assert far.peak_umol_m2_s == pytest.approx(space.peak[row(31), -1])
    # a cap passed half way: the day after its height is reached
    _, capped = left(10, float(space.peak[row(36), -1]))
    assert (capped.first_day, capped.fails) == (15, ("hot_spot_cap",))


def test_how_sure():
    outcome = Outcome(300, 400, 200, 0.66, 13, 100, 1)
    target = StageTarget(12, 16, 480, 10, 14, evenness_goal=0.6, ppfd_low=280, ppfd_high=400)
    # 90 % of a normal distribution lie within 1.645 standard deviations: 15, 25, 30 and 20 %
    parts = {"room": np.array([[0.15, 0.25, 0.30, 0.20]]) / NINETY}
    doubts = Doubts(parts, np.zeros(1))
    sure = certainty(outcome, target, doubts, 0, 0)
    assert sure.dli_low == pytest.approx(11.05)
    assert sure.peak_high == pytest.approx(500)
    assert sure.lowest_low == pytest.approx(140)
    assert set(sure.fails) == {"hot_spot_cap", "dli_low", "evenness", "ppfd_low"}
    assert not sure.survives
    wide = StageTarget(5, 30, 2000, 10, 14)
    assert certainty(outcome, wide, doubts, 0, 0).survives


def aside(x_cm, windows, light=1.0):
    """A lamp of 120 W, 300 umol/s, on a timer of its own."""
    lamp = PlacedLamp(Bars.even(3, 76, 40), 300, x_cm, 45, 0)
    return HungLamp(lamp, 120, own_light=light, own_watts=120 * light, own_windows=windows)


def test_lamps_on_a_timer_of_their_own_add_their_own_hours(problem):
    rail = replace(middle(), lamp=replace(middle().lamp, x_cm=30))
    # by night the one, with the rail's lamps from 10 h on the other
    night, noon = aside(90, (Window(22 * 60, 4),)), aside(60, (Window(600, 2), Window(780, 1)), 0.5)
    losses = Losses(ramp_min=30, day=LampDay(on_minute=480))
    free = replace(problem, losses=losses, target=StageTarget(1, 60, 3000, 10, 12))
    ready = bench(replace(free, lamps=(rail, night, noon)))
    alone = [
        bench(replace(free, lamps=(replace(lamp, own_light=None, own_windows=()),))).stack.ppfd
        for lamp in (rail, night, noon)
    ]
    h, d, _ = index = ready.space.nearest(Setting(40, 60, 11))
    by_rail = alone[0][h] * ready.space.light[d]
    together = by_rail + alone[2][h] * 0.5
    found = ready.space.outcome(index)
    # PPFD while the rail's lamps are on; the cap is for any moment of the day
    assert ready.ppfd(index) == pytest.approx(together)
    assert found.mean == pytest.approx(together.mean())
    assert found.peak == pytest.approx(max(together.max(), alone[1][h].max()))
    # every lamp its own hours of full light, each window half an hour less for its ramps
    by_lamp = by_rail * 10.5, alone[1][h] * 3.5, alone[2][h] * 0.5 * 2
    day = sum(by_lamp) * 0.0036
    assert found.dli == pytest.approx(day.mean())
    assert ready.day_ppfd(index) * 10.5 * 0.0036 == pytest.approx(day)
    rail_kwh = ready.space.watts[d] * 10.5 / 1000
    assert found.kwh_per_day == pytest.approx(rail_kwh + 0.120 * 3.5 + 0.060 * 2)
    # what is asked of the rail's hours is what the others leave
    hours = ready.space.hours_for(found.dli, index)
    assert hours == pytest.approx(11, abs=1 / 60)
    assert ready.space.dli()[index] == pytest.approx(found.dli)


def test_a_plan_is_made_round_lamps_on_a_timer_of_their_own(problem):
    beside = aside(90, (Window(600, 3),))
    lamps = (*problem.lamps, beside)
    band = replace(problem.target, evenness_goal=None)
    ready = bench(replace(problem, lamps=lamps, target=band, losses=Losses()))
    found = ready.solution.outcome
    assert found.dli == pytest.approx(15, rel=0.02)
    assert found.peak <= 800
    # of the rail's own lamps it takes that much less than without the other
    alone = bench(replace(problem, target=band, losses=Losses()))
    h = ready.space.nearest(ready.solution.setting)[0]
    own = found.dli - float(ready.space.other_dli[h])
    assert own < alone.solution.outcome.dli - 1


def middle(**more):
    return HungLamp(PlacedLamp(Bars.even(3, 76, 40), 300, 60, 45, 0, **more), watts=120)


def test_lamps_add_up(problem):
    left = replace(middle(), lamp=replace(middle().lamp, x_cm=30))
    right = replace(middle(), lamp=replace(middle().lamp, x_cm=90))
    both = bench(replace(problem, lamps=(left, right)))
    apart = [bench(replace(problem, lamps=(lamp,))) for lamp in (left, right)]
    assert both.stack.ppfd == pytest.approx(apart[0].stack.ppfd + apart[1].stack.ppfd)
    assert both.space.watts == pytest.approx(apart[0].space.watts + apart[1].space.watts)
    # two that mirror each other light the tent in mirror image
    seen = both.stack.ppfd[20].reshape(both.grid.ny, both.grid.nx)
    assert seen == pytest.approx(seen[:, ::-1], rel=1e-6)


def test_a_lamp_at_its_own_dial_stays_as_the_others_move(problem):
    own = replace(middle(), own_light=0.5, own_watts=55.0)
    ready = bench(replace(problem, lamps=(middle(), own)))
    alone = bench(replace(problem, lamps=(middle(),)))
    at = (10, 0, 0)
    half = 0.5 * alone.stack.ppfd[10]
    assert ready.ppfd(at) == pytest.approx(alone.ppfd(at) + half)
    outcome = ready.space.outcome(at)
    assert outcome.watts == pytest.approx(alone.space.outcome(at).watts + 55)
    # what the tables say is what the map says, at every dial position
    for d in (0, 40, len(ready.space.dials_pct) - 1):
        seen = ready.ppfd((10, d, 0))
        told = ready.space.outcome((10, d, 0))
        assert (told.peak, told.lowest) == pytest.approx((seen.max(), seen.min()))
        assert told.mean == pytest.approx(seen.mean())
        assert told.evenness == pytest.approx(seen.min() / seen.mean())
    with pytest.raises(CanopyError, match="follow the dial"):
        bench(replace(problem, lamps=(own,)))


def test_a_lamp_hung_higher_than_the_rail(problem):
    raised = replace(middle(), raise_cm=10)
    ready, level = (bench(replace(problem, lamps=(lamp,))) for lamp in (raised, middle()))
    assert ready.stack.at(30) == pytest.approx(level.stack.at(40), rel=2e-3)


def test_readings_make_it_surer_only_where_they_reach(problem):
    spots = tuple((x, y, h, 300.0) for h in (30, 50) for x in (20, 60, 100) for y in (20, 70))
    taken = MeasuredMap(problem.box, 60, 45, 0, spots)
    here = replace(middle(), measured=taken, measured_here=True)
    ready = bench(replace(problem, lamps=(here,)))
    at = dict(zip(ready.space.heights_cm, ready.bases))
    assert (at[40], at[20], at[60]) == ("readings", "rebased", "rebased")
    # another space, too few heights, or an unmeasured lamp beside it: never called measured here
    assert (
        "readings" not in bench(replace(problem, lamps=(replace(here, measured_here=False),))).bases
    )
    one = replace(here, measured=replace(taken, readings=spots[:6]))
    assert "readings" not in bench(replace(problem, lamps=(one,))).bases
    assert set(bench(replace(problem, lamps=(here, middle()))).bases) == {"uncalibrated"}
    # and what is told is surest where it was read
    row = list(ready.space.heights_cm).index
    computed = bench(problem).space.doubt
    for figure in ("mean", "brightest", "dimmest", "evenness"):
        at = [float(getattr(ready.space.doubt.at(row(h), 0), figure)) for h in (30, 40, 60)]
        assert at[0] < at[1] < float(getattr(computed.at(row(40), 0), figure))
        assert at[0] < at[2]
