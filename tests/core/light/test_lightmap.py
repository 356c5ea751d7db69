"""What growers read from a map."""

import numpy as np
import pytest

from canopy.light.lightmap import (
    Grid,
    canopy_flux_umol_s,
    capture,
    capture_bound,
    even_grid,
    map_statistics,
    share_inside,
)
from tests.published.values import CANOPY_EFFICACY, MAP_MEANS, UNIFORMITY


@pytest.mark.parametrize(("count", "total", "mean"), MAP_MEANS)
def test_mean_of_readings(count, total, mean):
    readings = np.full(count, total / count)
    assert round(map_statistics(readings).mean) == mean


def test_uniformities_are_told_apart():
    low, mean, high, min_mean, min_max = UNIFORMITY
    # three readings with that lowest, highest and mean
    found = map_statistics(np.array([low, high, 3 * mean - low - high]))
    assert found.min_over_mean == pytest.approx(min_mean, abs=0.005)
    assert found.min_over_max == pytest.approx(min_max, abs=0.005)
    assert found.max_over_mean == pytest.approx(high / mean)


def test_edge_points_stand_for_half_a_cell_and_corners_for_a_quarter():
    weights = Grid(3, 3, "edges").area_weights().reshape(3, 3)
    assert weights * 16 == pytest.approx(np.array([[1, 2, 1], [2, 4, 2], [1, 2, 1]]))
    # the trapezoid rule is exact for a plane: its mean is the middle value
    x, _ = np.meshgrid(np.linspace(0, 1, 3), np.linspace(0, 1, 3))
    assert map_statistics(x, weights).area_mean == pytest.approx(0.5)


def test_christiansen_by_hand():
    # 1 - mean |x - mean| / mean for 8, 10, 12: 1 - (2 + 0 + 2)/3/10; Christiansen 1942
    assert map_statistics(np.array([8.0, 10, 12])).christiansen == pytest.approx(1 - 4 / 30)


def test_in_the_dark_ratios_are_left_open():
    dark = map_statistics(np.zeros(4))
    assert (dark.min_over_max, dark.min_over_mean, dark.variation, dark.christiansen) == (None,) * 4
    assert capture(0, 0) is None


@pytest.mark.parametrize(("watts", "mean", "efficacy"), CANOPY_EFFICACY)
def test_light_on_the_canopy(watts, mean, efficacy):
    assert canopy_flux_umol_s(mean, 120, 120) / watts == pytest.approx(efficacy, abs=0.005)


def test_capture_has_a_bound_above_one():
    # light sent back comes down again: 1 + r + r^2 + ...
    assert capture_bound(0.1) == pytest.approx(sum(0.1**n for n in range(30)))


def test_share_inside_the_band():
    assert share_inside(np.array([1, 5, 9]), np.array([0.5, 0.3, 0.2]), 4, 9) == pytest.approx(0.5)


def test_grids():
    x, y = Grid(4, 2).axes_cm(40, 10)
    assert x.tolist() == [5, 15, 25, 35]
    assert y.tolist() == [2.5, 7.5]
    grid = even_grid(120, 90)
    assert grid.nx % 2 == grid.ny % 2 == 1
    assert grid.points_cm(120, 90)[grid.nx * grid.ny // 2] == pytest.approx([60, 45, 0])
