"""Many lamps in one tent, against the bench's own answer and against brute force."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.crop.targets import StageTarget
from canopy.daylight.losses import Losses
from canopy.errors import CanopyError
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, Board, PlacedLamp, PointSource
from canopy.light.stands import Stand
from canopy.plan.bench import bench
from canopy.plan.problem import HungLamp, StagePlace, hungriest
from canopy.plan.shelf import (
    Candidate,
    Limits,
    Ranked,
    answered,
    estimated,
    exactly,
    kept_out,
    make_ready,
    response_table,
    side_by_side,
)
from canopy.plan.stacks import stage_tent
from canopy.plan.stageplan import plan_stage
from canopy.power.hanging import Frame
from canopy.words import worded

TENT = Enclosure(120, 90, 120, (0.75,) * 4, 0.75, 0.1)
DIAL = Dimmer("continuous", (DialRow(10, 0.09, 0.11), DialRow(100, 1, 1)))
TARGET = StageTarget(10, 20, 800, 10, 12, evenness_goal=0.5)
PLACE = StagePlace(TENT, 100, 15, TARGET)
FULL = replace(
    PLACE,
    stands=(Stand(80, 50, 30, 30, 12),),
    plots=(Stand(10, 10, 90, 70, 0),),
    losses=Losses(ramp_min=45),
    daylight_dli=8.0,
)
"""The same with daylight, ramps, plots and a step."""

BARS = Bars.even(6, 76, 92)


def candidate(layout=BARS, ppf=624.0, x=98.0, y=78.0, count=1, closest_cm=15.0):
    lamp = PlacedLamp(layout, ppf, 0, 0, 0)
    frames = side_by_side(Frame(x, y, 7.0, closest_cm, 0, 0), count, TENT)
    hung = tuple(
        HungLamp(replace(lamp, x_cm=f.x_cm, y_cm=f.y_cm, turn_deg=f.turn_deg), watts=ppf / 2.6)
        for f in frames
    )
    return Candidate(lamp, frames, sum(h.watts for h in hung), DIAL, lamps=hung)


@pytest.mark.parametrize("place", [PLACE, FULL, replace(FULL, aim="energy", over_cap=True)])
@pytest.mark.parametrize("count", [1, 2])
def test_what_is_asked_exactly_is_the_benchs_answer(place, count):
    lamp = candidate(Board(40, 30), 300.0, 44.0, 34.0, count)
    found = exactly(place, lamp)
    chosen = plan_stage(place.problem(lamp.lamps, lamp.frames, DIAL))
    ready = chosen.ready
    assert found.exact
    assert found.solution == chosen.solution
    seen = found.floor[ready.standing]
    outcome = found.solution.outcome
    assert (outcome.peak, outcome.lowest) == pytest.approx((seen.max(), seen.min()))


@pytest.mark.parametrize(("place", "near"), [(PLACE, 0.03), (FULL, 0.06)])
@pytest.mark.parametrize("count", [1, 2])
def test_an_estimate_is_near_it(place, near, count):
    lamp = candidate(Board(40, 30), 300.0, 44.0, 34.0, count)
    guess, exact = estimated(place, lamp), exactly(place, lamp)
    assert not guess.exact
    # at the estimate's own setting the bench gives nearly the same
    ready = bench(place.problem(lamp.lamps, lamp.frames, DIAL))
    there = ready.space.outcome(ready.space.nearest(guess.solution.setting))
    assert guess.solution.outcome.mean == pytest.approx(there.mean, rel=near)
    assert guess.solution.outcome.dli == pytest.approx(there.dli, rel=near)
    assert guess.meets == exact.meets
    assert guess.reserve >= 1
    # daylight is not the lamp's: 15 mol over the floor are the lamp's and the sun's together
    lamp_dli = exact.lamp_mol_per_day / (1.2 * 0.9)
    if not place.plots:
        assert lamp_dli == pytest.approx(exact.solution.outcome.dli)
    else:
        assert lamp_dli < exact.solution.outcome.dli - 5


def test_lamps_of_one_shape_are_each_told_by_their_own_light():
    shapes = [(Board(40, 30), 44.0, 34.0, 1), (Board(40, 30), 44.0, 34.0, 2), (BARS, 98.0, 78.0, 1)]
    lamps = [
        candidate(layout, ppf, x, y, count)
        for layout, x, y, count in shapes
        for ppf in (250.0, 400.0)
    ]
    lamps += [
        replace(lamps[0], plain=replace(lamps[0].plain, beam=CosineBeam(3.0))),
        replace(lamps[0], plain=replace(lamps[0].plain, light_fraction=0.8)),
    ]
    together = [estimated(FULL, lamp) for lamp in lamps]
    for lamp, found in zip(lamps, together, strict=True):
        table = response_table(TENT, found.grid, lamp.plain.beam, FULL.stands)
        at = found.solution.setting
        share = DIAL.light_fraction(np.array([at.dial_pct]))
        maps = [table.irradiance(one, np.array([at.height_cm])) for one in lamp.placed()]
        # one height alone has emitters of its own
        assert found.floor == pytest.approx(share * np.sum(maps, axis=0)[0], rel=0.01)


def test_daylight_makes_a_weak_lamp_do():
    weak = candidate(ppf=200.0)
    assert not estimated(PLACE, weak).meets
    assert estimated(replace(PLACE, daylight_dli=8.0), weak).meets


def test_the_shelf_finds_those_that_the_bench_finds():
    rng = np.random.default_rng(4)
    for _ in range(12):
        wide, ppf = float(rng.uniform(20, 110)), float(rng.uniform(60, 900))
        lamp = candidate(Board(wide, 40), ppf, wide, 40)
        assert estimated(PLACE, lamp).meets == exactly(PLACE, lamp).meets


@pytest.mark.parametrize(
    ("limits", "words"),
    [
        ({"bears_kg": 8.0}, "Weighs 9 kg"),
        ({"circuit_w": 300.0}, "Draws 480 W"),
        ({"budget": 100.0}, "Costs 120"),
        ({"has_dial": True}, "has no dial"),
        ({}, ""),
        ({"bears_kg": 9.0, "circuit_w": 480.0, "budget": 120.0}, ""),
    ],
)
def test_what_keeps_a_lamp_out_is_said(limits, words):
    why = kept_out(Limits(**limits), 480.0, 9.0, 120.0, Dimmer("none"))
    assert (words in worded(why)) if words else why is None


def test_lamps_that_do_not_go_in_say_so():
    with pytest.raises(CanopyError, match="does not go in"):
        candidate(x=130.0, y=95.0)
    with pytest.raises(CanopyError, match="do not go side by side"):
        candidate(Board(40, 30), x=60.0, y=50.0, count=3)
    with pytest.raises(CanopyError, match="2 cm more headroom"):
        estimated(PLACE, candidate(closest_cm=95.0))


def test_two_small_ones_side_by_side_are_more_even_than_one_in_the_middle():
    one = estimated(PLACE, candidate(PointSource(), 600, 20, 20))
    lamps = candidate(PointSource(), 300, 20, 20, count=2)
    assert estimated(PLACE, lamps).solution.outcome.evenness > one.solution.outcome.evenness
    assert [(f.x_cm, f.y_cm) for f in lamps.frames] == [(30, 45), (90, 45)]


def test_a_weak_lamp_says_what_is_missing_and_a_strong_one_what_is_left():
    weak = estimated(PLACE, candidate(ppf=120.0))
    strong = estimated(PLACE, candidate(ppf=1200.0))
    assert {"stronger_lamp", "more_hours"} & {o.change for o in weak.solution.obstacles}
    assert strong.reserve > 1.5 * weak.reserve


def test_the_hungriest_stage_asks_the_lamp_for_the_most():
    # 6 mol in 18 h, 13 in 18 h, 15 in 12 h: 93, 201 and 347 umol
    targets = [
        StageTarget(4, 8, 250, 14, 18),
        StageTarget(10, 16, 600, 14, 18),
        StageTarget(10, 20, 800, 10, 12),
    ]
    places = [replace(PLACE, target=target) for target in targets]
    assert hungriest(places) == 2
    assert hungriest(places[:2]) == 1
    # the last one's 15 mol are nearly all daylight's; then the leafy one asks more
    sunny = [*places[:2], replace(places[2], daylight_dli=12.0)]
    assert hungriest(sunny) == 1


@pytest.mark.parametrize("exact", [False, True])
def test_one_that_finds_no_height_does_not_stop_the_others(exact):
    tall = candidate(closest_cm=150.0)
    lamps = [tall, candidate(), tall, candidate(Board(40, 30), 300.0, 44.0, 34.0)]
    found = answered(PLACE, lamps, exact)
    ask = exactly if exact else estimated
    assert all(isinstance(found[i], CanopyError) for i in (0, 2))
    for one, lamp in ((found[1], lamps[1]), (found[3], lamps[3])):
        assert isinstance(one, Ranked)
        assert one.exact == exact
        assert one.solution == ask(PLACE, lamp).solution
    assert answered(PLACE, [], exact) == []
    again = answered(PLACE, lamps, exact, ahead=True)
    assert [getattr(one, "solution", None) for one in again] == [
        getattr(one, "solution", None) for one in found
    ]


def test_no_tent_is_prepared_for_lamps_that_find_no_height(monkeypatch):
    monkeypatch.setattr("canopy.plan.shelf.stage_tent", lambda *_: pytest.fail("prepared"))
    make_ready(PLACE, [candidate(closest_cm=150.0)])
    make_ready(replace(PLACE, room_cm=-5.0), [candidate(closest_cm=0.0)])
    make_ready(PLACE, [])


def test_tents_are_cut_finer_ahead_only_where_a_lamp_can_hang_low():
    for closest_cm, cut in ((60.0, False), (8.0, True)):
        place = replace(PLACE, box=replace(TENT, depth_cm=91 + closest_cm / 100))
        make_ready(place, [candidate(closest_cm=150.0), candidate(closest_cm=closest_cm)])
        tent = stage_tent(place.box)
        assert ("closer" in vars(tent)) == cut
        assert "screens" in vars(tent)
