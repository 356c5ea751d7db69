"""Rises of the day's light, spread; falls and the switch to short days, at once."""

from itertools import pairwise

import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.plan.easing import easing, photoperiod_steps
from tests.core.plan.test_solver import space_of

SPACE = space_of([800, 600, 400], [1.3] * 3, [0.7] * 3, range(20, 101, 5), [12, 14])


@given(st.floats(3, 40), st.floats(0.05, 1), st.integers(0, 2), st.integers(0, 16))
def test_no_day_rises_by_more_than_it_may(before, rise, height, dial):
    goal = float(SPACE.dli()[height, dial, 0])
    ease = easing(SPACE, (height, dial, 0), before, rise)
    days = [before, *(step.dli for step in ease.steps), goal]
    if not ease.abrupt:
        assert all(b <= a * (1 + rise) * (1 + 1e-6) for a, b in pairwise(days))
    # no more days than needed: falls and small rises take none
    if goal <= before * (1 + rise):
        assert ease.days == 0
    assert [step.day for step in ease.steps] == list(range(ease.days))


def test_the_dial_takes_the_steps():
    # 600 at full light, 12 h: DLI 25.9; from 13 at 15 % a day at least ln 2 / ln 1.15 - 1 = 4 days
    ease = easing(SPACE, (1, 16, 0), before=13.0)
    assert 4 <= ease.days <= 6
    assert not ease.abrupt
    assert [step.dial_pct for step in ease.steps] == sorted(step.dial_pct for step in ease.steps)
    assert {step.height_cm for step in ease.steps} == {21.0}


def test_where_the_dial_cannot_go_so_low_the_lamp_goes_up():
    # 800 x 0.2 x 12 h is DLI 6.9; 400 x 0.2 gives 3.5
    fine = space_of([800, 600, 400], [1.3] * 3, [0.7] * 3, range(20, 101), [12, 14])
    ease = easing(fine, (0, 80, 0), before=4.0)
    assert ease.steps[0].height_cm > 20
    assert ease.steps[-1].height_cm == 20
    assert easing(SPACE, (0, 16, 0), before=1.0).abrupt


def test_nothing_before_and_falls_need_no_easing():
    assert easing(SPACE, (0, 16, 0), before=0.0).days == 0
    assert easing(SPACE, (2, 4, 0), before=30.0).days == 0
    with pytest.raises(CanopyError):
        easing(SPACE, (0, 16, 0), 5.0, 0)


def test_short_days_come_at_once():
    # the switch to short days is one step and never spread; others may be
    assert photoperiod_steps(18, 12, 7, 15, to_short_days=True) == (12.0,)
    spread = photoperiod_steps(12, 16, 5, 30, to_short_days=False)
    assert spread[-1] == 16
    assert all(h * 2 == int(h * 2) for h in spread)
    assert list(spread) == sorted(spread)
    assert photoperiod_steps(16, 14, 2, 60, to_short_days=False) == (15.0, 14.0)
