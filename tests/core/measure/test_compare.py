"""Readings over the plan, against numpy; what a sensor does not see explains its part."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.measure.compare import compared

light = st.lists(st.floats(20, 1500), min_size=1, max_size=25)


@given(light, st.floats(0.5, 1.5), st.floats(1, 1.1), st.floats(0.01, 0.1))
def test_the_mean_ratio_is_that_of_the_means(there, share, right, sd):
    there = np.array(there)
    found = compared("plan", there * share / right, there, right, 1.0, sd)
    assert found.mean_ratio == pytest.approx(share)
    assert found.ratio == pytest.approx([share] * len(there))
    # 90 % of a normal error lies within 1.645 standard deviations
    assert found.high / found.mean_ratio == pytest.approx(np.exp(1.645 * sd), rel=1e-3)
    assert found.low * found.high == pytest.approx(found.mean_ratio**2)


def test_a_careful_makers_map_agrees_within_a_few_per_cent():
    # 97 %: common practice, no source
    maker = np.array([764.0, 1197.0, 1497.0])
    found = compared("maker", maker * 0.97, maker, 1.0, 1.0, 0.05)
    assert found.line.code == "compare.maker"
    assert found.line.figures["share"] == pytest.approx(0.97)


def test_light_a_sensor_does_not_see_is_told_apart():
    plan = np.full(5, 400.0)
    blind = 1 / 0.93
    for right in (blind, 1.0):
        found = compared("plan", plan * 0.93, plan, right, blind, 0.05)
        assert found.line.code == "compare.plan_blind"
        assert found.blind == pytest.approx(0.07)
        assert found.line.figures["shown"] == pytest.approx(0.93)
        assert found.mean_ratio == pytest.approx(0.93 * right)


def test_spots_the_map_has_nothing_on_stay_empty():
    there = np.array([400.0, np.nan, 200.0])
    found = compared("maker", np.array([200.0, 999.0, 100.0]), there, 1.0, 1.0, 0.05)
    assert found.ratio == pytest.approx((0.5, None, 0.5))
    assert found.mean_ratio == pytest.approx(0.5)
    assert compared("maker", there, np.full(3, np.nan), 1.0, 1.0, 0.05) is None
