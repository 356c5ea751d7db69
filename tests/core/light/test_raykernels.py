"""What rays see beside the closed forms, and what they bring back."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure, coarse_faces, fine_faces, patches_of
from canopy.light.images import lattice
from canopy.light.obstacles import Obstacles
from canopy.light.seen import factors_seen_from
from canopy.light.shade import shade
from canopy.light.stands import Stand
from canopy.light.transport import prepare

TENT = Enclosure(100, 80, 120, (0.8,) * 4, 0.8, 0.15)
SPOTS = np.array([[50.0, 40.0, 0.0], [3.0, 77.0, 0.0], [20.0, 10.0, 30.0]])
FAR = Obstacles((Stand(99.9, 79.9, 0.05, 0.05, 1.0),))


@pytest.mark.parametrize("mirror", [0.0, 0.3])
def test_without_things_rays_find_the_operator_of_the_closed_forms(mirror):
    """Configuration factors in closed form (Siegel & Howell) are the reference."""
    box = replace(TENT, wall_mirror_share=(mirror,) * 4)
    exact = prepare(box, SPOTS)
    by_rays = shade(box, SPOTS, FAR, exact.fine).bare
    # even light on all patches, and light on the ceiling alone
    for first in (np.ones(exact.operator.shape[1]), (exact.fine.normals[:, 2] < 0).astype(float)):
        assert by_rays @ first == pytest.approx(exact.operator @ first, rel=0.015)


def test_a_black_step_hides_the_wall_behind_it():
    """From the middle of a step's foot half of all that is seen is the step."""
    black = replace(TENT, canopy_reflectance=0.0)
    wall = Obstacles((Stand(50.001, 0, 20, 80, 119.9),))
    spot = np.array([[50.0, 40.0, 0.0]])
    fine = patches_of(fine_faces(coarse_faces(black)))
    there = shade(black, spot, wall, fine)
    # first bounces alone: light that falls on the left wall, and on the right one
    left = (np.abs(there.faces.middles[:, 0]) < 1e-9).astype(float)
    right = (np.abs(there.faces.middles[:, 0] - 100) < 1e-9).astype(float)
    images = lattice(black)
    share = factors_seen_from(spot, fine.faces[0], True, images.whole).sum()
    assert (there.among @ left)[0] > 0.8 * share
    assert (there.among @ right)[0] == pytest.approx(0, abs=1e-3)
