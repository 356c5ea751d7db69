"""The quick response says what the full model says."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.lightmap import Grid
from canopy.light.response import response
from canopy.light.sources import Bars, Board, PlacedLamp
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
