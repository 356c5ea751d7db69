"""Look-up tables of line differences against the handbook's formula pair by pair."""

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure, coarse_faces
from canopy.light.exchange import configuration_factors
from canopy.light.images import lattice
from tests.core.light.closed_forms import parallel_exchange, perpendicular_exchange

BOX = Enclosure(90, 60, 80, (0.8, 0.6, 0.7, 0.5), 0.7, 0.1)
FACES = coarse_faces(BOX)


def block(factors, row, column):
    starts = np.cumsum([0] + [face.size for face in FACES])
    areas = FACES[row].areas_cm2[:, None]
    return areas * factors[starts[row] : starts[row + 1], starts[column] : starts[column + 1]]


def test_without_mirrors_every_pair_is_the_formulas():
    factors = configuration_factors(FACES, lattice(BOX))
    left, right, front, _, ceiling, canopy = FACES
    facing = parallel_exchange(
        left.bounds(1), left.bounds(2), right.bounds(1), right.bounds(2), 90.0
    )
    assert block(factors, 0, 1) == pytest.approx(facing)
    above = parallel_exchange(
        ceiling.bounds(0), ceiling.bounds(1), canopy.bounds(0), canopy.bounds(1), 80.0
    )
    assert block(factors, 4, 5) == pytest.approx(above)
    corner = perpendicular_exchange(
        left.bounds(2), left.bounds(1), front.bounds(2), front.bounds(0)
    )
    assert block(factors, 0, 2) == pytest.approx(corner)
    foot = perpendicular_exchange(
        front.bounds(0), front.bounds(2), canopy.bounds(0), canopy.bounds(1)
    )
    assert block(factors, 2, 5) == pytest.approx(foot)


def test_a_face_does_not_see_itself_but_in_a_facing_mirror():
    factors = configuration_factors(FACES, lattice(BOX))
    for k in range(6):
        assert np.abs(block(factors, k, k)).max() == 0
    mirror = Enclosure(90, 60, 80, (0.8, 1.0, 0.7, 0.5), 0.7, 0.1, (0.0, 0.6, 0.0, 0.0))
    seen = configuration_factors(FACES, lattice(mirror))
    left = FACES[0]
    # its image stands 2 x 90 cm away and keeps the mirror's 0.6
    image = 0.6 * parallel_exchange(
        left.bounds(1), left.bounds(2), left.bounds(1), left.bounds(2), 180.0
    )
    assert block(seen, 0, 0) == pytest.approx(image)
    # canopy and its neighbour's image in that mirror: the left wall, seen again at x = 180
    canopy = FACES[5]
    direct = perpendicular_exchange(
        left.bounds(1), left.bounds(2), canopy.bounds(1), canopy.bounds(0)
    )
    again = perpendicular_exchange(
        left.bounds(1), left.bounds(2), canopy.bounds(1), np.sort(180 - canopy.bounds(0), axis=1)
    )
    assert block(seen, 0, 5) == pytest.approx(direct + 0.6 * again)
