"""What is due: nothing a person need not do, and what is said works when it is done."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.daylight.lampday import Window
from canopy.ledger.due import (
    Dial,
    Lately,
    Planned,
    Standing,
    away,
    in_order,
    levers_due,
    looks_due,
    stage_due,
    stays,
    timer_due,
)
from canopy.plan.upkeep import Levers
from canopy.words import worded
from tests.core.plan.test_upkeep import DIALS, light, upkeep

NOON = (Window(360, 12.0),)
DIAL = Dial("continuous", light())


def planned(above=40.0, dial=60.0, asked=0):
    dli = float(light().dli(above, dial, 12.0))
    return Planned(above, dial, NOON, dli, asked)


def standing(lamp=80.0, dial=60.0, day=10):
    return Standing(lamp, dial, NOON, day)


def due(now, plan, ahead, since=None, gap=7):
    return levers_due(40, now, plan, ahead, DIAL, gap, since)


def test_a_lamp_that_can_stay_asks_for_nothing():
    assert due(standing(90.0), planned(), upkeep(14, 45.0, 0.5)) is None


@given(st.floats(30, 75), st.floats(0, 2.0), st.floats(60, 130), st.sampled_from(DIALS[2:]))
@settings(max_examples=60, deadline=None)
def test_done_as_it_says_nothing_is_due_for_as_long_as_it_promises(tops, rate, lamp, dial):
    ahead = upkeep(14, tops, rate)
    found = due(standing(lamp, float(dial)), planned(asked=40), ahead)
    if found is None or found.to_set is None:
        return
    done = standing(found.to_set.lamp_cm, found.to_set.dial_pct, 40)
    # how high it says to hang it above the tops is where that is above the floor
    assert found.to_set.height_cm == pytest.approx(found.to_set.lamp_cm - tops)
    lasts = ahead.lasts(Levers(done.lamp_cm, done.dial_pct, 12.0))
    assert lasts.days == found.holds_days
    if lasts.days >= 7:
        assert due(done, planned(asked=40), ahead) is None


def test_where_nothing_is_to_be_done_it_says_for_how_long_and_what_comes_then():
    levers = Levers(90.0, 60.0, 12.0)
    ahead = upkeep(60, 45.0, 0.6)
    found = stays(ahead, levers)
    lasts = ahead.lasts(levers)
    assert found.code == f"today.stays_{lasts.fails[0]}"
    assert found.figures["days"] == lasts.days
    assert stays(upkeep(10, 45.0, 0.0), levers).code == "today.stays"


def test_tops_too_near_are_told_with_since_when():
    now = standing(62.0)
    found = due(now, planned(), upkeep(14, 50.0, 0.8), since=37)
    assert (found.day, found.why.code, found.why.figures["days"]) == (37, "due.near_late", 3)
    assert "Raise the lamp" in worded(found.lines[0])
    soon = due(standing(85.0), planned(), upkeep(14, 50.0, 1.2))
    assert soon.day > 40
    assert soon.why.code.endswith("_soon")


def test_a_step_of_the_plan_is_due_until_it_is_done_and_not_where_the_light_is_the_same():
    ahead = upkeep(14, 45.0, 0.2)
    found = due(standing(90.0, 50.0, 30), planned(45.0, 70.0, 38), ahead)
    assert (found.day, found.why.code) == (38, "due.planned_late")
    assert found.to_set.dial_pct == 70.0
    assert due(standing(90.0, 70.0, 38), planned(45.0, 70.0, 38), ahead) is None
    # hung elsewhere with the same light nobody has to come for the plan's sake
    assert due(standing(88.0, 70.0, 30), planned(45.0, 70.0, 38), ahead) is None


def test_where_nothing_helps_it_says_what_stands_in_the_way():
    low = upkeep(14, 80.0, 0.5, highest_cm=85.0)
    found = due(standing(85.0), planned(), low)
    assert found.lines[0].code == "due.stuck_clearance"
    assert found.to_set is None


def test_the_timer_is_due_by_its_own_step_and_over_midnight():
    plan = planned()
    assert timer_due(3, standing(), plan, 15, 40.0) is None
    late = Standing(80.0, 60.0, (Window(1435, 12.0),), 0)
    early = Planned(40.0, 60.0, (Window(0, 12.0),), 15.0, 0)
    assert timer_due(3, late, early, 15, 40.0) is None
    longer = Standing(80.0, 60.0, (Window(360, 16.0),), 0)
    found = timer_due(3, longer, plan, 15, 40.0)
    assert worded(found.lines[0]) == "Timer: on 06:00 to 18:00"
    assert found.to_set.windows == NOON
    assert timer_due(3, Standing(80.0, 60.0, (), 0), plan, 15, 40.0) is not None


@pytest.mark.parametrize(
    ("lately", "kinds"),
    [
        (Lately(), ["walk", "tops"]),
        (Lately(tops=36, walk=20), []),
        (Lately(tops=32, walk=20), ["tops"]),
        (Lately(tops=2, walk=20, growing=False), []),
        (Lately(tops=39, walk=-10), ["walk"]),
        (Lately(tops=39, walk=20, changed=37), ["look"]),
        (Lately(tops=39, walk=20, changed=37, noted=38), []),
        (Lately(tops=39, walk=20, changed=39), []),
        (Lately(tops=39, walk=20, changed=30), []),
        (Lately(tops=39, walk=20, seen=36, noted=36), ["seen"]),
        (Lately(tops=39, walk=20, seen=36, noted=39), []),
        # one look at the plants is enough
        (Lately(tops=39, walk=20, seen=36, noted=36, changed=37), ["seen"]),
        # from the day something was tried for it
        (Lately(tops=39, walk=20, seen=30, noted=30, tried=37), ["seen"]),
        (Lately(tops=39, walk=20, seen=30, noted=38, tried=37), []),
        (Lately(tops=39, walk=20, cut=39), ["cut"]),
        (Lately(tops=39, walk=20, cut=30), []),
        # how a run begins is no change
        (Lately(tops=39, walk=20, changed=0), []),
    ],
)
def test_looks_are_due_two_or_three_days_after_and_measures_now_and_then(lately, kinds):
    assert [each.kind for each in looks_due(40, lately)] == kinds


def test_stages_are_told_shortly_before_and_until_they_begin():
    assert stage_due(30, "Leafy", 35, "Flower", 7) is None
    codes = [stage_due(day, "Leafy", 35, "Flower", 7).lines[0].code for day in (32, 35, 36)]
    assert codes == ["due.stage_soon", "due.stage_now", "due.stage_late"]
    last = stage_due(36, "Flower", 35, None, 8)
    assert (last.kind, last.lines[0].code) == ("harvest", "due.harvest_late")


def test_what_was_answered_is_not_asked_again_and_what_is_late_comes_first():
    now = stage_due(36, "Leafy", 35, "Flower", 7)
    soon = stage_due(33, "Leafy", 35, "Flower", 7)
    tried = looks_due(40, Lately(tops=39, walk=20, seen=36, noted=36, tried=36))
    assert tried[0].lines[0].code == "due.tried"
    again = looks_due(40, Lately(tops=39, walk=20, seen=37, noted=37, tried=30))
    assert again[0].lines[0].code == "due.seen"
    found = in_order(36, [*looks_due(36, Lately(tops=1, walk=20)), now, None], set())
    assert [each.kind for each in found] == ["stage", "tops"]
    assert in_order(36, found, {now.key}) == [found[1]]
    # the same thing has one name from the day it is told
    assert now.key == soon.key


@given(st.integers(1, 30), st.floats(0, 2.0), st.floats(60, 130), st.sampled_from(DIALS[2:]))
@settings(max_examples=60, deadline=None)
def test_away_holds_as_long_as_it_says_by_the_tops_that_may_be_highest(days, rate, lamp, dial):
    ahead = upkeep(days, 45.0, rate)
    found = away(days, standing(lamp, float(dial)), planned(), ahead, DIAL)
    at = Levers(lamp, float(dial), 12.0)
    if found.to_set is not None:
        at = Levers(found.to_set.lamp_cm, found.to_set.dial_pct, 12.0)
    lasts = ahead.lasts(at)
    assert found.days == lasts.days
    sure = at.lamp_cm - ahead.rising.most_cm[: lasts.days]
    assert np.all(sure >= 15 - 0.05)
    assert found.days >= ahead.lasts(Levers(lamp, float(dial), 12.0)).days


def test_another_stage_meanwhile_is_told():
    # the stage is over after six days, and ten were asked for
    found = away(10, standing(100.0), planned(), upkeep(6, 45.0, 0.2), DIAL)
    assert (found.days, found.lines[-1].code) == (6, "away.stage")
