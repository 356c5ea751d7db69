"""Figures of a walk by themselves, against numpy, scipy and worked figures of the trade."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import integrate, stats

from canopy.crop.targets import StageTarget
from canopy.light.lightmap import Grid
from canopy.measure.walked import enough_for, nearest_shares, walked


def rows(grid, light, width=120.0, depth=120.0, height=45.0):
    points = grid.points_cm(width, depth)
    return [(float(x), float(y), height, float(light(x, y))) for x, y in points[:, :2]]


def test_worked_figures_of_the_trade():
    # 1.2 x 1.2 m at three dials: 812 W and a mean of 1298 are 2.30 umol/J, 550 W and 962 are 2.52,
    # 295 W and 536 are 2.62. Common practice, no source
    for watts, mean, efficacy in ((812, 1298, 2.30), (550, 962, 2.52), (295, 536, 2.62)):
        found = walked(rows(Grid(5, 5), lambda x, y, m=mean: m), 120, 120, 2200, watts, 0.1)
        assert found.efficacy == pytest.approx(efficacy, abs=0.005)
        assert found.canopy_umol_s == pytest.approx(mean * 1.44)


def test_statistics_are_numpys_and_scipys():
    rng = np.random.default_rng(3)
    values = rng.uniform(200, 900, 25)
    table = [(x, y, 40.0, v) for (x, y, *_), v in zip(Grid(5, 5).points_cm(100, 80), values)]
    found = walked(table, 100, 80, 1000, None, 0.1).statistics
    assert found.mean == pytest.approx(np.mean(values))
    assert found.variation == pytest.approx(stats.variation(values), rel=1e-9)
    assert found.min_over_max == pytest.approx(values.min() / values.max())
    # 764 of 1197 of 1497 are 0.64 and 0.51. Common practice, no source
    three = [(0.0, 0.0, 40.0, 764.0), (50.0, 40.0, 40.0, 1497.0), (99.0, 79.0, 40.0, 1330.0)]
    flat = walked(three, 100, 80, 1000, None, 0.1).statistics
    assert flat.mean == pytest.approx(1197, abs=0.5)
    assert (flat.min_over_mean, flat.min_over_max) == pytest.approx((0.64, 0.51), abs=0.005)


@given(st.floats(-3, 3), st.floats(-3, 3), st.floats(-0.02, 0.02), st.integers(2, 6))
@settings(max_examples=40, deadline=None)
def test_edge_to_edge_weights_are_the_exact_integral_of_a_bilinear_field(a, b, c, n):
    width, depth = 120.0, 90.0

    def light(x, y):
        return 800 + a * x + b * y + c * (x - 40) * (y - 30)

    whole, _ = integrate.dblquad(lambda y, x: light(x, y), 0, width, 0, depth)
    grid = Grid(n, n + 1, "edges")
    points = grid.points_cm(width, depth)
    values = light(points[:, 0], points[:, 1])
    exact = whole / (width * depth)
    assert np.ravel(grid.area_weights()) @ values == pytest.approx(exact, rel=1e-9)
    # the floor nearest to each spot comes to the same, as finely as it is counted
    assert nearest_shares(points[:, :2], width, depth) @ values == pytest.approx(exact, rel=0.02)


def test_a_corner_has_a_quarter_of_a_cell():
    shares = nearest_shares(Grid(3, 3, "edges").points_cm(90, 90)[:, :2], 90, 90)
    assert shares.reshape(3, 3) == pytest.approx(np.outer([1, 2, 1], [1, 2, 1]) / 16, abs=0.01)
    assert nearest_shares(np.array([[5.0, 5.0], [5.0, 5.0]]), 90, 90) == pytest.approx([0.5, 0.5])


def test_the_height_most_was_read_at_counts_and_others_do_not():
    table = [*rows(Grid(2, 2), lambda x, y: 400), (60.0, 60.0, 65.0, 300.0)]
    found = walked(table, 120, 120, 1000, 200, 0.1)
    assert (found.height_cm, found.count, found.statistics.mean) == (45.0, 4, 400)


def test_more_light_on_the_floor_than_there_can_be_is_said():
    right = walked(rows(Grid(3, 3), lambda x, y: 500), 120, 120, 900, 300, 0.1)
    wrong = walked(rows(Grid(3, 3), lambda x, y: 900), 120, 120, 900, 300, 0.1)
    assert right.wrong is None
    assert right.captured == pytest.approx(500 * 1.44 / 900)
    assert wrong.wrong is not None
    # light sent back by a canopy that reflects a tenth comes down again: 1 / (1 - 0.1)
    assert wrong.bound == pytest.approx(1 / 0.9)


def test_enough_for_leaves_and_short_for_flowers():
    leafy = StageTarget(12, 17, 800, 14, 18)
    flowers = StageTarget(20, 30, 1000, 10, 12, response="short-day")
    low = StageTarget(4, 6, 500, 14, 18)
    # 263 umol and a DLI of 12 are 12.67 h. Common practice, no source
    at = enough_for(263, StageTarget(12, 17, 800, 8, 18), 30, 0.0)
    assert (at.verdict, at.hours) == ("enough", 13.0)
    assert at.dli == pytest.approx(12.31, abs=0.005)
    found = enough_for(250, leafy, 30, 0.0)
    assert (found.verdict, found.hours) == ("enough", 14.0)
    # 250 umol for 14 h are 12.6. Common practice, no source
    assert found.dli == pytest.approx(12.6)
    short = enough_for(250, flowers, 30, 0.0)
    assert (short.verdict, short.hours) == ("short", 12.0)
    assert enough_for(250, low, 30, 0.0).verdict == "much"
    assert enough_for(250, flowers, 30, 12.0).verdict == "enough"
    assert enough_for(0, leafy, 15, 0.0).verdict == "short"
