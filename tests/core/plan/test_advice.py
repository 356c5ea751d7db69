"""Advice on the bench: followed as it is worded, it gives the target it was asked for."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from canopy.crop.photoperiod import timer_hours
from canopy.crop.targets import StageTarget
from canopy.daylight.lampday import LampDay
from canopy.daylight.losses import NO_LOSSES, Heat, Losses
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.heightstack import HeightStack
from canopy.plan.advice import LONGEST_DAY_H
from canopy.plan.levers import FREE, ApartLamps, Locks, lever_space
from canopy.plan.schools import Practice, opinions
from canopy.plan.solver import solve
from canopy.plan.stretches import limits

DIMMERS = [
    Dimmer("none"),
    Dimmer("stepped", (DialRow(25, 0.2, 0.22), DialRow(50, 0.4, 0.45), DialRow(100, 1, 1))),
    Dimmer("continuous", (DialRow(10, 0.08, 0.1), DialRow(100, 1, 1))),
]

LOSSES = [
    NO_LOSSES,
    Losses(ramp_min=30),
    Losses(ramp_min=195),
    # too warm from 11 to 19: longer days are lost at first, then give light again
    Losses(30, Heat(26, 8, 28), LampDay(6 * 60)),
    Losses(0, Heat(30, 6, 26)),
]


@st.composite
def problems(draw):
    """A tent, a lamp, a timer and what a stage asks; as likely as not out of reach."""
    falls = draw(st.floats(0.0, 0.04))
    bright = draw(st.floats(20, 1500))
    edge = draw(st.floats(0.2, 0.9))
    heights = np.arange(15.0, 15 + draw(st.integers(1, 30)))
    near = np.linspace(1.0, 1.0 - falls * len(heights) / 2, len(heights))
    spread = np.linspace(edge, min(edge + 0.2, 1.0), len(heights))
    middle = bright * near
    stack = np.stack([middle * spread, middle, middle * (2 - spread)], axis=1)
    hours_low = draw(st.sampled_from([8.0, 10.0, 12.0]))
    response = draw(st.sampled_from(["neutral", "short-day", "long-day"]))
    dli_low = draw(st.floats(1, 40))
    band = draw(st.sampled_from([None, (100.0, 300.0), (250.0, 251.0), (600.0, 900.0)]))
    target = StageTarget(
        dli_low,
        min(dli_low * draw(st.sampled_from([1.0, 1.01, 1.3, 2.0])), 100),
        draw(st.floats(50, 1500)),
        hours_low,
        hours_low + draw(st.sampled_from([0.0, 2.0, 6.0])),
        *(band or (None, None)),
        draw(st.none() | st.floats(0.2, 0.95)),
        response,
        draw(st.sampled_from([0.0, 6.0])),
    )
    steady = None
    if draw(st.booleans()):
        steady = np.full(stack.shape, draw(st.floats(1, 200)))
    apart = None
    if draw(st.booleans()):
        beside, alone = (
            np.full(stack.shape, draw(st.sampled_from([0.0, 40.0, 300.0]))) * near[:, None]
            for _ in range(2)
        )
        apart = ApartLamps(beside, alone, (beside + alone) * draw(st.floats(0.5, 6)) * 0.0036, 0.3)
    return {
        "stack": stack,
        "apart": apart,
        "heights": heights,
        "dimmer": draw(st.sampled_from(DIMMERS)),
        "target": target,
        "step": draw(st.sampled_from([15, 30, 60])),
        "steady": steady,
        "losses": draw(st.sampled_from(LOSSES)),
        "daylight": draw(st.sampled_from([0.0, 3.0, 8.0, 20.0])),
        "over_cap": draw(st.booleans()),
        "locks": draw(
            st.sampled_from([FREE, Locks(dial_pct=40), Locks(hours=9), Locks(height_cm=20)])
        ),
    }


def answer(problem, light=1.0, dial=None, hours_to=None):
    """The plan of a problem, perhaps with more light, a longer dial or longer days."""
    target = problem["target"]
    if hours_to is not None:
        target = replace(target, hours_high=hours_to)
    hours = timer_hours(target.hours_low, target.longest_day_h, problem["step"])
    dimmer = problem["dimmer"]
    if dial is not None:
        rows = [row for row in dimmer.rows if row.light_fraction > dial]
        dimmer = Dimmer("stepped", (DialRow(0, 0, dial), *rows))
    weights = np.full(problem["stack"].shape[1], 1 / problem["stack"].shape[1])
    stack = HeightStack(problem["heights"], problem["stack"] * light, weights)
    steady = problem["steady"]
    space = lever_space(
        stack,
        dimmer,
        200.0,
        hours,
        None if steady is None else steady * light,
        0.0,
        problem["losses"],
        problem["daylight"],
        apart=problem.get("apart"),
    )
    return solve(space, target, problem["over_cap"], locks=problem["locks"]), space


def followed(problem, obstacle, space):
    """The plan once the advice is followed."""
    target, amount = problem["target"], obstacle.amount
    limit = {"lower_goal": "evenness_goal", "higher_cap": "hot_spot_cap"}.get(
        obstacle.change, obstacle.name
    )
    match obstacle.change:
        case "unlock":
            return answer(problem | {"locks": FREE})[0]
        case "more_hours":
            longest = float(space.hours[-1]) + amount
            assert longest <= LONGEST_DAY_H
            assert longest <= 24 - target.night_h
            return answer(problem, hours_to=longest)[0]
        case "stronger_lamp":
            return answer(problem, light=1 + amount)[0]
        case "weaker_dial":
            return answer(problem, dial=amount)[0]
        case "less_daylight":
            return answer(problem | {"daylight": amount})[0]
        case _:
            return answer(problem | {"target": replace(target, **{limit: amount})})[0]


@settings(max_examples=300)
@given(problems())
def test_advice_followed_gives_what_was_asked(problem):
    try:
        solution, space = answer(problem)
    except ValueError:
        assume(False)
    for obstacle in solution.obstacles:
        assert obstacle.name in solution.relaxed
        assert np.isfinite([obstacle.best, obstacle.amount, obstacle.reach]).all()
        if obstacle.change == "more_hours":
            assert obstacle.amount > 0
            assert obstacle.amount * 60 % problem["step"] == pytest.approx(0)
        if obstacle.change != "other_lamp":
            assert obstacle.name not in followed(problem, obstacle, space).relaxed, obstacle
    # one is given for everything missed, but for what the grower has given up
    missed = set(solution.relaxed) - ({"hot_spot_cap"} if problem["over_cap"] else set())
    if problem["over_cap"] or "hot_spot_cap" not in missed:
        assert {obstacle.name for obstacle in solution.obstacles} == missed


@settings(max_examples=60)
@given(problems())
def test_the_cap_is_offered_only_where_giving_it_up_helps(problem):
    try:
        held, _ = answer(problem | {"over_cap": False})
        free, _ = answer(problem | {"over_cap": True})
    except ValueError:
        assume(False)
    missed, still = set(held.relaxed) - {"hot_spot_cap"}, set(free.relaxed) - {"hot_spot_cap"}
    if held.cap_in_the_way:
        assert missed - still or "hot_spot_cap" in held.relaxed
    elif missed:
        assert still


def test_daylight_and_lost_hours_count_in_the_advice():
    # 500 umol for 10 h less 1 h of ramps is 16.2 mol, with 4 of daylight 20.2; 25 need 11.67 + 1 h,
    # which a timer of half hours gives in 13 h: 3 h more
    problem = {
        "stack": np.full((1, 3), 500.0),
        "heights": np.array([20.0]),
        "dimmer": DIMMERS[0],
        "target": StageTarget(25, 30, 900, 8, 10),
        "step": 30,
        "steady": None,
        "losses": Losses(ramp_min=60),
        "daylight": 4.0,
        "over_cap": False,
        "locks": FREE,
    }
    solution, _ = answer(problem)
    assert (solution.obstacles[0].change, solution.obstacles[0].amount) == ("more_hours", 3.0)
    assert solution.outcome.dli == pytest.approx(20.2)


def test_a_goal_that_only_the_other_targets_forbid_says_so():
    # low is bright and uneven, high even and too dim for the DLI
    problem = {
        "stack": np.array([[300.0, 500, 600], [90.0, 100, 110]]),
        "heights": np.array([20.0, 21]),
        "dimmer": DIMMERS[0],
        "target": StageTarget(15, 25, 900, 10, 12, evenness_goal=0.8),
        "step": 60,
        "steady": None,
        "losses": NO_LOSSES,
        "daylight": 0.0,
        "over_cap": False,
        "locks": FREE,
    }
    solution, _ = answer(problem)
    goal = solution.obstacles[0]
    # 300 over the mean of 467 is 0.643; 90 over 100 could be had where nothing else is met
    assert (goal.name, goal.change, goal.amount) == ("evenness", "lower_goal", 0.64)
    assert goal.reach == pytest.approx(0.9)


@settings(max_examples=100)
@given(problems())
def test_schools_that_time_by_the_days_sum_count_all_of_it(problem):
    """Daylight, ramps and heat: the timer's step before was too short, or this one passes."""
    try:
        solution, space = answer(problem)
    except ValueError:
        assume(False)
    target = problem["target"]
    practice = Practice(200.0, 20.0, 60.0, 0.5, True, False)
    found = {o.school: o for o in opinions(space, target, solution.setting, practice)}
    for school in ("hot_spot_first", "evenness_first", "makers_chart", "middle_start", "cautious"):
        setting, outcome = found[school].setting, found[school].outcome
        h, d, t = space.nearest(setting)
        if outcome.mean <= 0:
            continue
        before = space.outcome((h, d, t - 1)).dli if t else -np.inf
        after = space.outcome((h, d, t + 1)).dli if t + 1 < len(space.hours) else np.inf
        middle, high = target.dli_middle * (1 - 1e-9), target.dli_high * (1 + 1e-9)
        assert before < middle
        assert outcome.dli >= middle or after > high
        assert set(found[school].missed) == {
            limit.name for limit in limits(space, target, (h, d, t)) if not limit.holds
        }
