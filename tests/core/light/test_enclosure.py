"""Patches of a tent."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.light.enclosure import (
    Enclosure,
    averaging,
    coarse_faces,
    fine_faces,
)
from canopy.light.exchange import configuration_factors
from canopy.light.images import lattice


@given(st.floats(30, 300), st.floats(30, 300), st.floats(20, 250))
def test_what_leaves_a_patch_arrives_somewhere(width, depth, height):
    box = Enclosure(width, depth, height, (0.8,) * 4, 0.8, 0.1)
    faces = coarse_faces(box)
    factors = configuration_factors(faces, lattice(box))
    assert factors.sum(axis=1) == pytest.approx(1, abs=1e-9)
    areas = np.concatenate([face.areas_cm2 for face in faces])
    exchange = areas[:, None] * factors
    assert np.abs(exchange - exchange.T).max() <= 1e-9 * exchange.max()
    assert areas.sum() == pytest.approx(2 * (width * depth + width * height + depth * height))


def test_averaging_keeps_the_flux(tent):
    for face, fine in zip(coarse_faces(tent), fine_faces(coarse_faces(tent))):
        values = np.arange(fine.size, dtype=float)
        assert (averaging(face, fine) @ values * face.areas_cm2).sum() == pytest.approx(
            (values * fine.areas_cm2).sum()
        )
