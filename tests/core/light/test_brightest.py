"""The brightest spot between a grid's points, against a fine grid and a closed form."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.brightest import brightest, candidates
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import even_grid
from canopy.light.sources import Bars, PlacedLamp, PointSource
from canopy.light.transport import direct_irradiance, prepare

TENT = Enclosure(120, 90, 140, (0.8,) * 4, 0.8, 0.15)
BARS = PlacedLamp(Bars((-45, -27, -9, 9, 27, 45), 76), 600, 60, 45, 40)


def level(spots):
    return np.column_stack([spots, np.zeros(len(spots))])


def found(tent, lamp, ready=None, counts=None):
    grid = even_grid(tent.width_cm, tent.depth_cm)
    points = grid.points_cm(tent.width_cm, tent.depth_cm)
    ready = ready or prepare(tent, points)
    whole, direct = ready.irradiance(lamp), ready.direct(lamp)
    if counts is not None:
        whole = np.where(counts(points[:, :2]), whole, -np.inf)
    shape = grid.ny, grid.nx
    axes = grid.axes_cm(tent.width_cm, tent.depth_cm)
    at = lambda spots: direct_irradiance(level(spots), lamp)  # noqa: E731
    more = {} if counts is None else {"counts": counts}
    return brightest(*axes, whole.reshape(shape), direct.reshape(shape), at, **more), whole.max()


@pytest.mark.parametrize("height", [3, 5, 8, 15])
def test_between_bars_it_is_what_a_fine_grid_has(height):
    lamp = replace(BARS, height_cm=height)
    # one bar's half and the middle between it and the next: half a cm apart
    fine = np.stack(np.meshgrid(np.arange(36, 61, 0.5), np.arange(20, 71, 1.0)), axis=-1)
    true = prepare(TENT, level(fine.reshape(-1, 2))).irradiance(lamp).max()
    peak, at_points = found(TENT, lamp)
    assert peak == pytest.approx(true, rel=0.005)
    assert at_points <= peak * (1 + 1e-12)


def test_in_the_dark_room_it_is_the_inverse_square_under_the_lamp():
    """Black walls, one point source off the grid: flux / pi / h^2 under it, a closed form."""
    black = Enclosure(100, 100, 100, (0.0,) * 4, 0.0, 0.0)
    lamp = PlacedLamp(PointSource(), 50, 42.3, 57.1, 6)
    peak, at_points = found(black, lamp)
    exact = 50 / np.pi / 0.06**2
    assert peak == pytest.approx(exact, rel=0.005)
    assert at_points < 0.95 * exact


def test_only_spots_where_plants_stand_count():
    lamp = replace(BARS, height_cm=4)
    left = lambda spots: spots[:, 0] <= 10  # noqa: E731 - left of all bars
    peak, at_points = found(TENT, lamp, counts=left)
    fine = np.stack(np.meshgrid(np.arange(0, 10.1, 0.5), np.arange(0, 90, 1.0)), axis=-1)
    true = prepare(TENT, level(fine.reshape(-1, 2))).irradiance(lamp).max()
    assert peak == pytest.approx(true, rel=0.02)
    assert peak >= at_points


def test_a_flat_a_narrow_and_a_dark_map_have_their_brightest_point():
    flat = np.full((5, 5), 7.0)
    x = np.arange(5.0)
    assert brightest(x, x, flat, np.zeros((5, 5)), lambda s: np.zeros(len(s))) == pytest.approx(7)
    assert len(candidates(flat)) <= 8
    one = np.array([[3.0]])
    assert brightest(x[:1], x[:1], one, one, lambda s: s[:, 0] * 0) == 3
    nowhere = np.full((5, 5), -np.inf)
    assert brightest(x, x, nowhere, flat, lambda s: s[:, 0]) == -np.inf
