"""Lamps close above the tops, and flat spaces: the finer patches they get."""

import json
from dataclasses import replace

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure, coarse_faces
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.transport import (
    LOW_CM,
    NARROW_LOW_CM,
    direct_irradiance,
    patch_irradiance,
    prepare,
)
from tests.core.light.low_scenes import FILE, GRID, SCENES

TENT = Enclosure(90, 90, 150, (0.8,) * 4, 0.8, 0.15, (0.3,) * 4)
STRIP = PlacedLamp(Board(4, 85), 200, 45, 45, 8)
POINTS = Grid(7, 7).points_cm(90, 90)
REFERENCES = json.loads(FILE.read_text())


@pytest.mark.parametrize("name", SCENES)
def test_radiance_agrees_to_its_own_noise(name):
    """Radiance (LBNL) through pyradiance, traced once with its noise kept; see low_scenes."""
    tent, lamp, _ = SCENES[name]
    points = GRID.points_cm(tent.width_cm, tent.depth_cm)
    traced = {key: np.array(values) for key, values in REFERENCES[name].items()}
    difference = prepare(tent, points).irradiance(lamp) / traced["mean"] - 1
    noise = traced["error"] / traced["mean"]
    asked = np.sqrt(0.01**2 + np.mean(noise**2))
    assert np.sqrt(np.mean(difference**2)) < asked
    assert (np.abs(difference) < 0.03 + 2 * noise).all()


def test_light_that_is_even_on_every_coarse_patch_is_not_changed():
    tent = prepare(TENT, POINTS)
    closer = tent.closer
    rng = np.random.default_rng(5)
    coarse = rng.uniform(1, 2, closer.tent.spread.shape[1])
    # small and fine patches as bright as the coarse one they are cut from: nothing is uneven
    fine = closer.tent.spread @ coarse
    lines = [(face.u_lines, face.v_lines) for face in closer.tent.coarse.faces]
    starts = np.cumsum([0] + [face.size for face in closer.tent.coarse.faces])
    small = []
    for face in closer.small.patches.faces:
        k = next(i for i, f in enumerate(closer.tent.coarse.faces) if same_side(f, face))
        u, v = (
            np.searchsorted(wide, middles(own)) - 1
            for wide, own in zip(lines[k], (face.u_lines, face.v_lines))
        )
        cells = starts[k] + u[:, None] * (len(lines[k][1]) - 1) + v[None, :]
        small.append(coarse[cells].ravel())
    assert closer.small.corrected(fine, np.concatenate(small)) == pytest.approx(0, abs=1e-9)


def same_side(one, other):
    return (one.axis, one.at_cm) == (other.axis, other.at_cm)


def middles(lines):
    return (lines[1:] + lines[:-1]) / 2


@pytest.mark.parametrize("height", [6.0, 9.0, 13.0, 18.0])
def test_finer_patches_change_little_once_they_are_there(height):
    lamp = replace(STRIP, height_cm=height)
    fine = prepare(TENT, POINTS, refine=4)
    whole = fine.direct(lamp) + fine.by_mirrors(lamp) + fine.free(fine.first(lamp))
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
    for lamp, ends in ((STRIP, NARROW_LOW_CM), (wide, LOW_CM)):
        for end in ends:
            below, above = (tent.low(replace(lamp, height_cm=end + d)) for d in (-1e-6, 1e-6))
            assert below == pytest.approx(above, abs=1e-5)
        assert tent.low(replace(lamp, height_cm=ends[1] + 0.1)) == 0
        assert tent.low(replace(lamp, height_cm=ends[0] - 0.1)) == 1
    assert 0 < tent.low(replace(STRIP, height_cm=20)) < 1


@pytest.mark.parametrize("layout", [Board(4, 85), Board(30, 30), Bars.even(4, 60, 60)])
@pytest.mark.parametrize("height", [3.0, 5.0, 8.0, 11.0, 16.0])
def test_straight_light_near_a_lamp_is_that_of_one_cut_far_finer(layout, height):
    lamp = PlacedLamp(layout, 300, 47, 44, height)
    places, shares = layout.emitters(height / 15)
    down = lamp.height_cm - POINTS[:, 2]
    away = POINTS[:, None, :2] - places[None, :, :2] - [47, 44]
    # flux / pi of a Lambertian emitter, and two cosines
    law = down[:, None] ** 2 / ((away**2).sum(axis=2) + down[:, None] ** 2) ** 2 / np.pi
    assert direct_irradiance(POINTS, lamp) == pytest.approx(law @ shares * 300 * 1e4, rel=0.003)


@pytest.mark.parametrize("side", [150.0, 300.0])
def test_a_small_lamp_in_a_wide_room_is_low_from_further_up(side):
    """Cells are wider there: a board 24 cm up is as near to them as one at 15 in a small tent."""
    room = Enclosure(side, side, 200, (0.8,) * 4, 0.8, 0.15)
    lamp = PlacedLamp(Board(40, 40), 300, 24, side / 2, 24)
    points = Grid(6, 6).points_cm(side, side)
    tent, finer = prepare(room, points), prepare(room, points, refine=3)
    assert tent.low(lamp) == 1
    whole = finer.direct(lamp) + finer.free(finer.first(lamp))
    difference = tent.irradiance(lamp) / whole - 1
    assert np.sqrt(np.mean(difference**2)) < 0.01
    assert np.abs(difference).max() < 0.03


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
