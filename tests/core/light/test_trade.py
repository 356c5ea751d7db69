"""Measurements from the trade: common practice, no source; kept with their stated tolerance.

What is not known is assumed once and named: footprints, linings and beam from the ranges of
docs/engine.md, one set for all heights.
"""

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid, map_statistics
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.transport import prepare


def test_bars_in_a_91_cm_tent_at_three_heights():
    # 289 W, PPF 687; assumed: six bars over 50 x 50 cm, new silver lining (0.90, mirror share
    # 0.3), beam power 1.1, 110 cm from canopy to ceiling
    tent = Enclosure(91, 91, 110, (0.9,) * 4, 0.9, 0.1, (0.3,) * 4)
    ready = prepare(tent, Grid(15, 15).points_cm(91, 91))
    lamps = [
        PlacedLamp(Bars.even(6, 50, 50), 687, 45.5, 45.5, height, beam=CosineBeam(1.1))
        for height in (30, 45, 60)
    ]
    maps = [map_statistics(ready.irradiance(lamp)) for lamp in lamps]
    for before, after, change in zip(maps, maps[1:], (-4, -5)):
        assert (after.mean / before.mean - 1) * 100 == pytest.approx(change, abs=4)
    for found, low, high in zip(maps, (0.51, 0.68, 0.81), (1.80, 1.35, 1.18)):
        assert found.min_over_mean == pytest.approx(low, abs=0.10)
        assert found.max_over_mean == pytest.approx(high, abs=0.20)


def test_a_white_board_round_a_60_cm_square():
    # a 150 W board at 60 cm: centre 307 -> 432 (x 1.41), edge 167 -> 278 (x 1.66); assumed:
    # 46 x 24 cm, PPF 375, boards of 0.60 standing 60 cm high, no ceiling, beam power 1.1
    spots = np.array([[30, 30, 0], [2, 30, 0], [30, 2, 0]], dtype=float)
    lamp = PlacedLamp(Board(46, 24), 375, 30, 30, 60, beam=CosineBeam(1.1))
    bare, boarded = (
        prepare(Enclosure(60, 60, 60, (r,) * 4, 0.0, 0.1), spots).irradiance(lamp)
        for r in (0.0, 0.6)
    )
    gain = boarded / bare
    assert gain[0] == pytest.approx(1.41, abs=0.15)
    assert gain[1:] == pytest.approx(1.66, abs=0.25)
