"""A scene's map."""

import pytest

from canopy.light.lightmap import Grid
from canopy.light.scene import Scene, scene_map
from canopy.light.sources import Board, PlacedLamp


def test_lamps_add_and_free_points_agree_with_the_grid(tent):
    lamps = tuple(PlacedLamp(Board(20, 20), 200, x, 45, 40) for x in (30, 90))
    on_grid = scene_map(Scene(tent, lamps, Grid(3, 3)))
    free = scene_map(Scene(tent, lamps, tuple(map(tuple, on_grid.points_cm))))
    assert free.ppfd_umol_m2_s == pytest.approx(on_grid.ppfd_umol_m2_s)
    assert (free.canopy_umol_s, free.capture) == (None, None)
    # light on the canopy over light given: domain's definition, by hand
    assert on_grid.capture == pytest.approx(on_grid.statistics.area_mean * 1.2 * 0.9 / 400)
