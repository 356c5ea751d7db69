"""What elements see of the faces, beside handbook factors between rectangles."""

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure, coarse_faces, fine_faces, patches_of
from canopy.light.images import lattice
from canopy.light.seen import factors_of_wall, factors_seen_from
from tests.core.light.closed_forms import parallel_exchange, perpendicular_exchange

BOX = Enclosure(90, 60, 80, (0.8, 0.6, 0.7, 0.5), 0.7, 0.1)
COARSE = coarse_faces(BOX)
WALLS = COARSE[:4]


def elements(wall, rng, count=20):
    """Places in a wall by chance."""
    at = rng.uniform(0.5, [89.5, 59.5, 79.5], (count, 3))
    at[:, wall.axis] = wall.at_cm
    return at


@pytest.mark.parametrize("wall", WALLS)
def test_an_element_in_a_wall_sees_the_closed_box_whole_and_not_its_own_wall(wall):
    at = elements(wall, np.random.default_rng(3))
    seen = [factors_of_wall(at, wall, face) for face in COARSE]
    assert sum(part.sum(axis=1) for part in seen) == pytest.approx(1.0, abs=1e-9)
    assert min(part.min() for part in seen) > -1e-12
    assert not seen[COARSE.index(wall)].any()


@pytest.mark.parametrize("k", range(4))
def test_elements_averaged_over_a_cell_give_the_handbooks_factor_between_rectangles(k):
    """Ehlert and Smith (1993), J. Thermophys. Heat Transfer 7, 173-174."""
    wall = WALLS[k]
    small = patches_of([wall.split(12, 12)])
    for face in COARSE:
        if face is wall:
            continue
        seen = factors_of_wall(small.middles, wall, face) * small.areas_cm2[:, None]
        whole = seen.sum(axis=0)
        other = next(a for a in (0, 1) if a != wall.axis)
        if face.axis == wall.axis:
            pairs = [(f.bounds(other), f.bounds(2)) for f in (wall, face)]
            gap = abs(face.at_cm - wall.at_cm)
            asked = parallel_exchange(*pairs[0], *pairs[1], gap)
        else:
            along = 3 - wall.axis - face.axis

            def away(of, plane):
                return np.sort(np.abs(of.bounds(plane.axis) - plane.at_cm), axis=1)

            asked = perpendicular_exchange(
                wall.bounds(along), away(wall, face), face.bounds(along), away(face, wall)
            )
        assert whole == pytest.approx(asked.sum(axis=0), rel=0.02, abs=0.5)
        assert whole.sum() == pytest.approx(asked.sum(), rel=0.005)


def test_floor_and_wall_see_each_other_alike():
    """Reciprocity: what a cell of the canopy sends to a foot comes back in the same share."""
    wall, canopy = WALLS[2], COARSE[5]
    foot = wall.split(6, 10)
    low = patches_of([foot])
    there = factors_of_wall(low.middles, wall, canopy) * low.areas_cm2[:, None]
    floor = patches_of([canopy.split(8, 8)])
    back = factors_seen_from(floor.middles, wall, True, lattice(BOX).whole)
    assert there.sum() == pytest.approx((back * floor.areas_cm2[:, None]).sum(), rel=0.005)


def test_what_lies_higher_on_a_wall_shows_more_of_the_ceiling():
    wall, ceiling = WALLS[0], COARSE[4]
    at = np.array([[0.0, 30.0, z] for z in (5.0, 40.0, 75.0)])
    shares = factors_of_wall(at, wall, ceiling).sum(axis=1)
    assert (np.diff(shares) > 0).all()
    fine = fine_faces(COARSE)[4]
    assert factors_of_wall(at, wall, fine).sum(axis=1) == pytest.approx(shares)
