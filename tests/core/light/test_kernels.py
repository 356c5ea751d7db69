"""The compiled loops, against the same sums written plainly."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.light.beam import LAMBERTIAN, Beam, CosineBeam
from canopy.light.enclosure import Enclosure, coarse_faces, patches_of
from canopy.light.kernels import (
    patch_flux,
    patch_flux_each,
    point_irradiance,
    point_irradiance_each,
    point_irradiance_lifted,
)

PATCHES = patches_of(coarse_faces(Enclosure(90, 60, 80, (0.8,) * 4, 0.8, 0.1)))
SIDES = (
    PATCHES.middles,
    PATCHES.half_u,
    PATCHES.half_v,
    PATCHES.normals,
    PATCHES.areas_cm2,
)


def emitters(count, seed, tilted=True):
    """Return places, frames and flux of emitters in the upper half of the box."""
    rng = np.random.default_rng(seed)
    places = rng.uniform([1, 1, 40], [89, 59, 79], (count, 3))
    turns = np.linalg.qr(rng.normal(size=(count, 3, 3)))[0]
    turns[:, 2] *= np.where(turns[:, 2, 2] > 0, -1.0, 1.0)[:, None]
    level = np.repeat(np.diag([1.0, 1.0, -1.0])[None], count, axis=0)
    return places, np.ascontiguousarray(turns if tilted else level), rng.uniform(1, 9, count)


def plainly(points, normals, places, frames, flux, power):
    """Return flux x (m + 1) / 2 pi x cos^m gamma x cos beta / d^2, summed; per cm2."""
    way = points[:, None, :] - places[None]
    d = np.linalg.norm(way, axis=2)
    out = np.maximum(np.einsum("pea,ea->pe", way, frames[:, 2]) / d, 0.0)
    onto = np.maximum(-np.einsum("pea,pa->pe", way, normals) / d, 0.0)
    return (flux * (power + 1) / (2 * np.pi) * out**power * onto / d**2).sum(axis=1)


@given(st.integers(1, 40), st.sampled_from([1.0, 1.7, 3.0]), st.integers(0, 999))
def test_points_get_what_the_formula_says(count, power, seed):
    # handbook formula of a point source; intensity tables are linear between 2048 steps
    spots = np.random.default_rng(seed).uniform([0, 0, 0], [90, 60, 30], (25, 3))
    seen = emitters(count, seed)
    beam = CosineBeam(power)
    found = point_irradiance(spots, *seen, beam.intensity())
    up = np.tile([0.0, 0.0, 1.0], (25, 1))
    assert found == pytest.approx(plainly(spots, up, *seen, power), rel=2e-4, abs=1e-9)


def test_patches_get_what_many_points_on_them_get():
    seen = emitters(30, 5)
    found = patch_flux(*SIDES, *seen, LAMBERTIAN.intensity(), False) / PATCHES.areas_cm2
    rows = (np.arange(24) + 0.5) / 12 - 1
    u, v = (part.ravel() for part in np.meshgrid(rows, rows))
    for k in range(0, len(found), 5):
        on = PATCHES.middles[k] + np.outer(u, PATCHES.half_u[k]) + np.outer(v, PATCHES.half_v[k])
        mean = plainly(on, np.tile(PATCHES.normals[k], (len(on), 1)), *seen, 1.0).mean()
        assert found[k] == pytest.approx(mean, rel=0.03)


def test_a_closed_space_gets_all_of_it_whichever_way_it_is_asked():
    places, frames, flux = emitters(12, 3, tilted=False)
    table = LAMBERTIAN.intensity()
    free = patch_flux(*SIDES, places, frames, flux, table, False)
    whole = patch_flux(*SIDES, places, frames, flux, table, True)
    assert whole.sum() == pytest.approx(flux.sum())
    assert free == pytest.approx(whole, rel=0.05, abs=1e-3 * whole.max())
    # one by one, and together
    alone = [
        patch_flux(*SIDES, places[k : k + 1], frames[k : k + 1], flux[k : k + 1], table, True)
        for k in range(12)
    ]
    assert np.sum(alone, axis=0) == pytest.approx(whole)
    each = places[:, None], frames[:, None], flux[:, None], table
    assert patch_flux_each(*SIDES, *each, True) == pytest.approx(np.array(alone))
    spots = np.array([[30.0, 20.0, 0.0], [70.0, 50.0, 10.0]])
    together = point_irradiance(spots, places, frames, flux, table)
    assert point_irradiance_each(spots, *each).sum(axis=0) == pytest.approx(together)


def test_a_beam_alike_all_round_may_be_told_by_planes_too():
    seen = emitters(9, 8)
    spots = np.random.default_rng(1).uniform([0, 0, 0], [90, 60, 10], (30, 3))
    even = CosineBeam(2.0).intensity()
    planes = np.ascontiguousarray(np.repeat(even, 5, axis=0))
    assert point_irradiance(spots, *seen, planes) == pytest.approx(
        point_irradiance(spots, *seen, even)
    )
    for whole in (False, True):
        asked = [patch_flux(*SIDES, *seen, table, whole) for table in (even, planes)]
        assert asked[0] == pytest.approx(asked[1])


@given(st.lists(st.floats(-35, 60), min_size=1, max_size=5), st.booleans())
def test_a_lamp_lifted_is_the_lamp_hung_higher(lifts, in_planes):
    places, frames, flux = emitters(7, 4)
    table = CosineBeam(2.0).intensity()
    table = np.ascontiguousarray(np.repeat(table, 5, axis=0)) if in_planes else table
    spots = np.random.default_rng(2).uniform([0, 0, 0], [90, 60, 30], (20, 3))
    up = np.tile([0.0, 0.0, 1.0], (20, 1))
    found = point_irradiance_lifted(spots, places, frames, flux, table, np.array(lifts))
    for row, lift in zip(found, lifts, strict=True):
        there = plainly(spots, up, places + np.array([0, 0, lift]), frames, flux, 2.0)
        assert row == pytest.approx(there, rel=2e-4, abs=1e-9)


@pytest.mark.parametrize("beam", [LAMBERTIAN, CosineBeam(4.0)])
def test_an_emitter_on_the_very_spot_harms_nothing(beam: Beam):
    spot = np.array([[45.0, 30.0, 80.0]])
    frame, flux = np.diag([1.0, 1.0, -1.0])[None], np.ones(1)
    assert point_irradiance(spot, spot, frame, flux, beam.intensity())[0] == 0
    # in the middle of a patch of the ceiling: that one gets nothing, the others all
    for place in patches_of([PATCHES.faces[4]]).middles[:3]:
        got = patch_flux(*SIDES, place[None], frame, flux, beam.intensity(), False)
        assert np.isfinite(got).all()
        assert got.sum() == pytest.approx(1, rel=0.03)
