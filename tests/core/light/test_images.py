"""Mirror images, against counting photons one by one."""

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure, coarse_faces
from canopy.light.exchange import configuration_factors
from canopy.light.images import lattice
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, PlacedLamp, PointSource
from canopy.light.transport import (
    absorbed_umol_s,
    direct_irradiance,
    mirrored_irradiance,
    prepare,
)

MIXED = Enclosure(120, 90, 140, (0.85, 0.85, 0.0, 0.6), 0.85, 0.1, (0.3, 0.6, 0.0, 0.5))


def test_two_facing_mirrors_make_a_row_of_lamps():
    # geometry: images of a lamp at x between mirrors at 0 and 100 stand at -x, 200 - x, ...
    box = Enclosure(100, 100, 80, (0.8, 0.5, 0.0, 0.0), 0, 0, (1.0, 1.0, 0.0, 0.0))
    images = lattice(box)
    seen = {
        images.x.place(c, np.array(30.0)).item(): w
        for c, w in zip(images.x.cells, images.x.weights)
    }
    for place, weight in ((30, 1), (-30, 0.8), (170, 0.5), (230, 0.4), (-170, 0.4)):
        assert seen[place] == pytest.approx(weight)
    lamp = PlacedLamp(PointSource(), 100, 30, 50, 40)
    row = sum(w * 100 / np.pi * 40**2 / ((x - 60) ** 2 + 40**2) ** 2 * 1e4 for x, w in seen.items())
    spot = np.array([[60.0, 50.0, 0.0]])
    found = direct_irradiance(spot, lamp) + mirrored_irradiance(spot, lamp, images)
    assert found[0] == pytest.approx(row, rel=1e-5)


def test_the_best_mirrors_are_bounded_and_little_is_left_out():
    # every image there is to 70 walls away, one by one
    box = Enclosure(100, 30, 200, (0.9,) * 4, 0, 0, (1.0,) * 4)
    images = lattice(box)
    assert len(images.whole.pairs) < 1000
    lamp = PlacedLamp(PointSource(), 100, 30, 10, 150)
    spot = np.array([[70.0, 20.0, 0.0]])
    row = np.arange(-70, 71)
    x = np.where(row % 2, (row + 1) * 100 - 30, row * 100 + 30)[:, None]
    y = np.where(row % 2, (row + 1) * 30 - 10, row * 30 + 10)[None, :]
    weight = 0.9 ** (abs(row)[:, None] + abs(row)[None, :])
    away = (x - 70) ** 2 + (y - 20) ** 2 + 150**2
    whole = (weight * 100 / np.pi * 150**2 / away**2).sum() * 1e4
    found = direct_irradiance(spot, lamp) + mirrored_irradiance(spot, lamp, images)
    assert whole * 0.995 < found[0] < whole


@pytest.mark.parametrize("share", [0.0, 0.3, 0.7])
def test_what_leaves_a_patch_is_taken_up_somewhere(share):
    box = Enclosure(120, 90, 140, (0.8, 0.8, 0.6, 0.9), 0.7, 0.1, (share, share, share, 0.0))
    faces = coarse_faces(box)
    factors = configuration_factors(faces, lattice(box))
    taken = np.concatenate([np.full(f.size, 1 - m) for f, m in zip(faces, (*box.mirror, 0.0, 0.0))])
    # all but what the images left out would still carry
    assert factors @ taken == pytest.approx(1, abs=3e-3)
    lamp = PlacedLamp(Bars.even(4, 60, 90), 500, 60, 45, 40)
    assert sum(absorbed_umol_s(box, lamp).values()) == pytest.approx(500, rel=0.006)


def photons(box, lamp, power, count, nx, ny, seed):
    """Mean irradiance of canopy cells by following photons: none of the engine's own steps."""
    rng = np.random.default_rng(seed)
    places, flux = lamp.emitters(1.0)
    at = places[rng.choice(len(places), count, p=flux / flux.sum())].copy()
    cosine = rng.random(count) ** (1 / (power + 1))
    turn = 2 * np.pi * rng.random(count)
    sine = np.sqrt(1 - cosine**2)
    going = np.stack([sine * np.cos(turn), sine * np.sin(turn), -cosine], 1) @ lamp.rotation().T
    sides = np.array([box.width_cm, box.depth_cm, box.height_cm])
    total = np.array([*box.wall_reflectance, box.canopy_reflectance, box.ceiling_reflectance])
    mirror = np.array([*box.mirror, 0.0, 0.0])
    tally = np.zeros((ny, nx))
    while len(at):
        with np.errstate(divide="ignore", invalid="ignore"):
            far = np.where(
                going > 0, (sides - at) / going, np.where(going < 0, -at / going, np.inf)
            )
        axis, rows = far.argmin(axis=1), np.arange(len(at))
        at = np.clip(at + going * far[rows, axis][:, None], 0, sides)
        high = going[rows, axis] > 0
        face = 2 * axis + high
        hit = at[face == 4]
        cells = np.minimum((hit[:, :2] / sides[:2] * [nx, ny]).astype(int), [nx - 1, ny - 1])
        np.add.at(tally, (cells[:, 1], cells[:, 0]), 1)
        chance = rng.random(len(at))
        live = chance < total[face]
        like_mirror = (chance < mirror[face])[live]
        at, going, axis, high = at[live], going[live], axis[live], high[live]
        going[np.flatnonzero(like_mirror), axis[like_mirror]] *= -1
        matt = np.flatnonzero(~like_mirror)
        cosine, turn = np.sqrt(rng.random(len(matt))), 2 * np.pi * rng.random(len(matt))
        sine, a = np.sqrt(1 - cosine**2), axis[matt]
        going[matt, a] = np.where(high[matt], -cosine, cosine)
        going[matt, (a + 1) % 3], going[matt, (a + 2) % 3] = (
            sine * np.cos(turn),
            sine * np.sin(turn),
        )
    return tally * lamp.flux_umol_s / count / (sides[0] * sides[1] / nx / ny) * 1e4


def test_mirrors_tilt_and_beam_against_photons():
    lamp = PlacedLamp(
        Bars.even(3, 60, 40), 600, 60, 45, 50, turn_deg=30, tilt_deg=25, beam=CosineBeam(1.5)
    )
    counted = photons(MIXED, lamp, 1.5, 600_000, 4, 3, seed=7)
    spots = Grid(16, 12).points_cm(120, 90)
    found = prepare(MIXED, spots).irradiance(lamp).reshape(3, 4, 4, 4).mean(axis=(1, 3))
    # counting 600 000 photons leaves about 0.4 % in a cell of these
    assert np.sqrt(np.mean((found / counted - 1) ** 2)) < 0.01
    assert found.mean() == pytest.approx(counted.mean(), rel=0.005)


def test_a_stand_is_nearer_the_lamp_and_sees_no_canopy():
    lamp = PlacedLamp(PointSource(), 100, 60, 45, 50)
    black = Enclosure(120, 90, 140, (0.0,) * 4, 0.0, 0.9)
    spots = np.array([[60, 45, 0], [60, 45, 30], [60, 45, 60]], dtype=float)
    floor, stand, above = prepare(black, spots).irradiance(lamp)
    # inverse square from 50 to 20 cm; the bright canopy below gives an upward face nothing
    assert stand / floor == pytest.approx((50 / 20) ** 2, rel=1e-6)
    assert above == 0
