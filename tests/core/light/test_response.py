"""The quick response says what the full model says."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.lightmap import Grid
from canopy.light.obstacles import Obstacles
from canopy.light.response import response
from canopy.light.sources import Bars, Board, PlacedLamp, PointSource
from canopy.light.stands import Stand, raised
from canopy.light.transport import prepare


@pytest.mark.parametrize("power", [1.0, 2.0])
def test_lamps_at_many_heights(tent, power):
    ready = prepare(tent, Grid(9, 9).points_cm(120, 90))
    beam = CosineBeam(power)
    quick = response(ready, beam, 15, 100)
    heights = np.array([15.0, 31, 60, 100])
    for layout in (Bars.even(6, 76, 92), Board(40, 20)):
        lamp = PlacedLamp(layout, 500, 60, 45, 30, beam=beam)
        found = quick.irradiance(lamp, heights)
        full = np.array([ready.irradiance(replace(lamp, height_cm=h)) for h in heights])
        error = np.sqrt(np.mean((found / full - 1) ** 2, axis=1))
        # a small lamp 15 cm up goes by the tent's own patches here
        assert error[0] < (0.02 if isinstance(layout, Board) else 0.005)
        assert (error[1:] < 0.005).all()
        assert found.mean(axis=1) == pytest.approx(full.mean(axis=1), rel=0.003)


@pytest.mark.parametrize("mirror", [0.0, 0.4])
@pytest.mark.parametrize("stands", [(), (Stand(70, 20, 30, 30, 20),)])
def test_point_lamps_together_give_what_each_gives_alone(tent, mirror, stands):
    box = replace(tent, wall_mirror_share=(mirror, 0.0, mirror, mirror))
    points = raised(Grid(6, 5).points_cm(120, 90), stands)
    ready = prepare(box, points, things=Obstacles(stands))
    places = np.array([[60, 45, 40], [5, 80, 25], [110.0, 3.0, 100.0]])
    for beam in (CosineBeam(1.0), CosineBeam(2.5)):
        lamps = [PlacedLamp(PointSource(), 1.0, *place, beam=beam) for place in places]
        alone = np.array([ready.indirect(lamp, False) for lamp in lamps])
        together = ready.indirect_of_each(places, beam)
        assert np.sqrt(np.mean((together / alone - 1) ** 2)) < 1e-4
        assert together == pytest.approx(alone, rel=2e-3)
