"""Lamps close above the tops, and flat spaces: the finer patches they get."""

import json
from dataclasses import replace

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure, coarse_faces
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.transport import LOW_CM, VERY_LOW_CM, patch_irradiance, prepare
from tests.core.light.low_scenes import FILE, GRID, SCENES

TENT = Enclosure(90, 90, 150, (0.8,) * 4, 0.8, 0.15, (0.3,) * 4)
STRIP = PlacedLamp(Board(4, 85), 200, 45, 45, 8)
POINTS = Grid(7, 7).points_cm(90, 90)
LEFT = {"the strip beside a wall": 0.012}
"""What is left where it is more than 1 % rms."""

REFERENCES = json.loads(FILE.read_text())


@pytest.mark.parametrize("name", SCENES)
def test_radiance_agrees_to_its_own_noise(name):
    """Radiance (LBNL) through pyradiance, traced once with its noise kept; see low_scenes."""
    tent, lamp, _ = SCENES[name]
    points = GRID.points_cm(tent.width_cm, tent.depth_cm)
    traced = {key: np.array(values) for key, values in REFERENCES[name].items()}
    difference = prepare(tent, points).irradiance(lamp) / traced["mean"] - 1
    noise = traced["error"] / traced["mean"]
    asked = np.sqrt(LEFT.get(name, 0.01) ** 2 + np.mean(noise**2))
    assert np.sqrt(np.mean(difference**2)) < asked
    assert (np.abs(difference) < 0.03 + 2 * noise).all()


def test_light_that_is_even_on_every_patch_is_not_changed():
    tent = prepare(TENT, POINTS)
    small = tent.small.small
    rng = np.random.default_rng(5)
    first = rng.uniform(1, 2, tent.operator.shape[1])
    # a foot's small patches as bright as the fine one they are cut from, the canopy's as the
    # coarse one: nothing is uneven
    feet = [(foot.mean > 0).T @ first[foot.cells] for foot in small.feet]
    floor = (small.floor_mean > 0).T @ rng.uniform(1, 2, small.floor_mean.shape[0])
    even = np.concatenate([*feet, floor])
    assert small.corrected(first, even, tent.operator) == pytest.approx(0, abs=1e-12)


def test_what_is_sent_up_from_the_canopy_is_what_its_reflectance_gives():
    """The small patches' light ends on walls and ceiling as a whole: what they send is kept."""
    plain = replace(TENT, wall_mirror_share=(0.0,) * 4)
    tent = prepare(plain, POINTS)
    up = tent.small.small.floor_up * tent.fine.areas_cm2[:, None]
    count = up.shape[1]
    areas = tent.small.small.patches.areas_cm2[-count:]
    assert up.sum(axis=0) == pytest.approx(areas * plain.canopy_reflectance, rel=1e-6)


@pytest.mark.parametrize("height", [6.0, 9.0, 13.0, 18.0])
def test_finer_patches_change_little_once_they_are_there(height):
    lamp = replace(STRIP, height_cm=height)
    fine = prepare(TENT, POINTS, refine=4)
    whole = fine.direct(lamp) + fine.by_mirrors(lamp) + fine.unscreened(lamp)
    difference = prepare(TENT, POINTS).irradiance(lamp) / whole - 1
    assert np.sqrt(np.mean(difference**2)) < 0.01
    assert np.abs(difference).max() < 0.03


def test_a_stack_of_heights_has_them_too():
    tent, heights = prepare(TENT, POINTS), np.arange(5.0, 40.0)
    stack = height_stack(tent, STRIP, heights, np.full(49, 1 / 49))
    for height in (5, 9, 13, 17, 21, 30):
        there = tent.irradiance(replace(STRIP, height_cm=height))
        assert stack.at(height) == pytest.approx(there, rel=0.006)


def test_no_lamp_jumps_where_finer_patches_end_and_wide_ones_need_fewer():
    tent = prepare(TENT, POINTS)
    wide = PlacedLamp(Bars.even(5, 70, 70), 500, 45, 45, 0)
    for lamp, ends in ((STRIP, (*VERY_LOW_CM, *LOW_CM)), (wide, VERY_LOW_CM)):
        for end in ends:
            below, above = (tent.low(replace(lamp, height_cm=end + d)) for d in (-1e-6, 1e-6))
            assert below == pytest.approx(above, abs=1e-5)
        assert tent.low(replace(lamp, height_cm=LOW_CM[1] + 0.1)) == (0, 0)
        assert tent.low(replace(lamp, height_cm=5)) == (1, 0)
    assert tent.low(replace(wide, height_cm=16)) == (0, 0)
    assert tent.low(replace(STRIP, height_cm=16)) == (0, 1)


def test_a_flat_space_gets_cells_by_its_height_and_a_huge_one_no_end_of_them():
    def level(box):
        canopy = coarse_faces(box)[5]
        return len(canopy.u_lines) - 1, len(canopy.v_lines) - 1

    tall = Enclosure(120, 90, 150, (0.8,) * 4, 0.8, 0.1)
    assert level(tall) == (5, 4)
    flat = replace(tall, width_cm=300, depth_cm=300, height_cm=40)
    assert min(level(flat)) >= 300 / (0.45 * 40)
    huge = replace(flat, width_cm=1000, depth_cm=1000, height_cm=20)
    assert np.prod(level(huge)) <= 441


def test_first_light_keeps_the_lamps_flux_on_finer_patches_too():
    tent = prepare(replace(TENT, wall_mirror_share=(0.0,) * 4), POINTS).closer.tent
    on_patches = patch_irradiance(tent.fine, STRIP, tent.images) * tent.fine.areas_cm2 / 1e4
    assert on_patches.sum() == pytest.approx(200, rel=1e-9)
