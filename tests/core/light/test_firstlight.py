"""First light by a table over the lamp's height, beside patches cut far finer."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure, averaging, patches_of
from canopy.light.firstlight import first_light
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, PlacedLamp, PointSource
from canopy.light.transport import First, direct_irradiance, patch_irradiance, prepare

TENT = Enclosure(120, 90, 150, (0.8, 0.8, 0.8, 0.0), 0.8, 0.15)
MIRRORS = replace(TENT, wall_mirror_share=(0.3,) * 4)
POINTS = Grid(7, 5).points_cm(120, 90)
HEIGHTS = np.arange(15.0, 120.0)

LAMPS = {
    "bars": PlacedLamp(Bars.even(6, 76, 80), 500, 60, 45, 0),
    "a strip beside a wall": PlacedLamp(Board(4, 80), 300, 8, 45, 0),
    "a board with lenses": PlacedLamp(Board(40, 40), 400, 40, 50, 0, beam=CosineBeam(3)),
    "a tilted board": PlacedLamp(Board(40, 40), 400, 40, 50, 0, tilt_deg=15, turn_deg=30),
    "a puck": PlacedLamp(PointSource(), 100, 30, 30, 0),
    "bars that end a quarter of a centimetre from the wall": PlacedLamp(
        Bars.even(6, 89.5, 118), 500, 60, 45, 0
    ),
    "a puck beside a wall": PlacedLamp(PointSource(), 100, 1.5, 45, 0),
    "a puck in a corner": PlacedLamp(PointSource(), 100, 3, 3, 0),
}


def finely(tent, lamp):
    """First light on the tent's patches by patches cut six times finer, own light alone."""
    cut = [face.split(6, 6) for face in tent.fine.faces]
    light = patch_irradiance(patches_of(cut), lamp, tent.images)
    starts = np.cumsum([0] + [face.size for face in cut])
    means = [averaging(own, small) for own, small in zip(tent.fine.faces, cut)]
    return np.concatenate([m @ light[a:b] for m, a, b in zip(means, starts[:-1], starts[1:])])


@pytest.mark.parametrize("name", LAMPS)
def test_at_every_height_it_is_that_of_patches_cut_far_finer(name):
    tent, lamp = prepare(TENT, POINTS), LAMPS[name]
    first = first_light(tent, lamp, HEIGHTS)
    for height in (15.0, 22.0, 40.0, 75.0, 119.0):
        there = replace(lamp, height_cm=height)
        found = tent.free(first.at(height))
        asked = tent.free(First(finely(tent, there), np.zeros(0), np.zeros(0)))
        whole = asked + direct_irradiance(POINTS, there)
        # so near to a wall the finer patches themselves are no surer
        sure = 0.005 if "beside a wall" in name else 0.002
        assert np.abs(found - asked) / whole == pytest.approx(0, abs=sure)


@pytest.mark.parametrize("name", LAMPS)
def test_all_of_a_lamps_light_arrives(name):
    tent, lamp = prepare(TENT, POINTS), LAMPS[name]
    first = first_light(tent, lamp, HEIGHTS)
    for height in (15.0, 60.0, 119.0):
        flux = first.at(height).near @ tent.fine.areas_cm2 / 1e4
        assert flux == pytest.approx(lamp.flux_umol_s, rel=1e-9)


@pytest.mark.parametrize("name", ["bars", "a strip beside a wall"])
def test_mirrors_near_and_far_have_their_part(name):
    tent, lamp = prepare(MIRRORS, POINTS), LAMPS[name]
    first = first_light(tent, lamp, HEIGHTS)
    for height in (20.0, 70.0):
        there = replace(lamp, height_cm=height)
        asked = tent.first(there)
        assert len(first.at(height).far) == len(asked.far) > 0
        whole = tent.irradiance(there)
        change = tent.free(first.at(height)) - tent.free(asked)
        assert np.abs(change) / whole == pytest.approx(0, abs=0.007)
        far = first.at(height).far - asked.far
        assert np.abs(far @ tent.coarse.areas_cm2) < 0.03 * (asked.far @ tent.coarse.areas_cm2)


def test_tents_of_two_heights_are_served_alike_below_the_lower_ceiling():
    """Straight light on the canopy knows no ceiling, and on the walls neither."""
    lamp = LAMPS["bars"]
    high = prepare(replace(TENT, height_cm=180), POINTS)
    low = prepare(TENT, POINTS)
    sums = []
    for tent in (high, low):
        near = first_light(tent, lamp, HEIGHTS).near_at(50.0) * tent.fine.areas_cm2
        walls = sum(face.size for face in tent.fine.faces[:4])
        sums.append((near[:walls].sum(), near[-tent.fine.faces[5].size :]))
    assert sums[0][0] == pytest.approx(sums[1][0], rel=1e-6)
    assert sums[0][1] == pytest.approx(sums[1][1], rel=1e-6)


def test_a_dark_lamp_gives_none():
    tent = prepare(TENT, POINTS)
    dark = replace(LAMPS["bars"], light_fraction=0.0)
    assert not first_light(tent, dark, HEIGHTS).at(30.0).near.any()


@pytest.mark.parametrize("tilt", [0, 60])
def test_a_lamp_next_to_the_canopy_and_one_under_the_ceiling(tilt):
    """Its lower edge may come below the canopy, where there is nothing to light."""
    tent, lamp = prepare(TENT, POINTS), replace(LAMPS["a tilted board"], tilt_deg=tilt)
    heights = np.array([0.5, 149.0])
    first = first_light(tent, lamp, heights)
    for height in heights:
        near = first.at(float(height)).near
        assert np.isfinite(near).all()
        assert (near >= -1e-9).all()
