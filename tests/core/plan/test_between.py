"""Light between the heights and dials that were worked out."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy.interpolate import RegularGridInterpolator

from canopy.plan.between import Between
from canopy.plan.levers import Apart
from tests.core.plan.test_upkeep import HEIGHTS, light


def test_between_heights_and_dials_it_runs_straight_and_off_is_off():
    one = light()
    space = one.space
    assert one.mean(HEIGHTS, 100.0) == pytest.approx(space.mean[:, -1])
    middle = one.mean(20.5, 22.5)
    assert middle == pytest.approx(space.mean[5:7, 0:2].mean())
    assert one.mean(40.0, 0.0) == 0.0
    assert one.watts(0.0) == 0.0
    assert one.watts(50.0) == pytest.approx(120.0)
    # beyond what was worked out the last counts
    assert one.mean(500.0, 100.0) == pytest.approx(space.mean[-1, -1])
    # PPFD x hours x 0.0036 (exact)
    assert one.dli(40.0, 100.0, 12.0) == pytest.approx(620 * 12 * 0.0036)


def test_lamps_that_do_not_follow_the_dial_stay_lit_when_it_is_off():
    held = np.linspace(80, 40, len(HEIGHTS))
    one = Between(replace(light().space, held_mean=held))
    assert one.mean(HEIGHTS, 0.0) == pytest.approx(held)


def test_lamps_on_a_timer_of_their_own_count_by_the_day():
    none = np.zeros(len(HEIGHTS))
    apart = Apart(beside=none, dli=np.full(len(HEIGHTS), 1.5), kwh_per_day=0.2)
    one = Between(replace(light().space, apart=apart, daylight_dli=2.0))
    # PPFD x hours x 0.0036 (exact), and what comes besides
    assert one.dli(40.0, 100.0, 12.0) == pytest.approx(620 * 12 * 0.0036 + 1.5 + 2.0)


def test_one_height_or_one_dial_alone_is_that_everywhere():
    space = light().space
    cut = {
        name: getattr(space, name)[25:26, :1] for name in ("mean", "peak", "lowest", "plain_mean")
    }
    single = replace(
        space,
        heights_cm=HEIGHTS[25:26],
        dials_pct=space.dials_pct[:1],
        light=space.light[:1],
        watts=space.watts[:1],
        **cut,
    )
    assert Between(single).mean([20.0, 80.0], 100.0) == pytest.approx([space.mean[25, 0]] * 2)


@given(
    st.lists(st.tuples(st.floats(0, 200), st.floats(0.1, 130)), min_size=1, max_size=20),
    st.sampled_from(["timed_mean", "peak"]),
)
def test_it_is_scipys(places, table):
    one = light()
    space = one.space
    heights, dials = np.array(places).T
    scipys = RegularGridInterpolator((HEIGHTS, space.dials_pct), getattr(space, table))
    inside = np.clip(heights, HEIGHTS[0], HEIGHTS[-1]), np.clip(dials, 20, 100)
    mine = one.mean if table == "timed_mean" else one.peak
    assert mine(heights, dials) == pytest.approx(scipys(np.column_stack(inside)))
    # and every dial at every height
    whole = mine(heights[:, None], dials[None, :])
    assert np.diagonal(whole) == pytest.approx(mine(heights, dials))
