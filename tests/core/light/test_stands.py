"""Plants on a step are nearer to the lamp."""

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.sources import PlacedLamp, PointSource
from canopy.light.stands import Stand, raised
from canopy.light.transport import prepare


def test_the_highest_stand_under_a_point_lifts_it():
    points = Grid(3, 1).points_cm(90, 30)  # at 15, 45, 75
    stands = (Stand(0, 0, 50, 30, 10), Stand(30, 0, 30, 30, 20))
    assert raised(points, stands)[:, 2].tolist() == [10, 20, 0]
    assert points[:, 2].tolist() == [0, 0, 0]  # what was given stays as it was


def test_inverse_square_counts_from_the_stand():
    # a small lamp in a black room, straight above: E = I / d^2, handbook inverse square
    box = Enclosure(90, 90, 150, (0, 0, 0, 0), 0, 0)
    points = raised(np.array([[45.0, 45.0, 0.0]]), (Stand(40, 40, 10, 10, 20),))
    low = prepare(box, points).irradiance(PlacedLamp(PointSource(), 100, 45, 45, 80))
    assert low[0] == pytest.approx(100 / np.pi / 0.6**2, rel=1e-6)
