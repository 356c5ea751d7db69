"""The stack of heights says what single maps say."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.beam import CosineBeam
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import even_grid
from canopy.light.sources import Bars, Board, Body, PlacedLamp
from canopy.light.transport import prepare


@pytest.mark.parametrize("power", [1.0, 2.0])
def test_every_height_agrees_with_its_own_map(tent, power):
    grid = even_grid(120, 90, 20)
    ready = prepare(tent, grid.points_cm(120, 90))
    lamp = PlacedLamp(Bars.even(6, 70, 100), 600, 60, 45, 30, beam=CosineBeam(power))
    heights = np.arange(10, 111, 5.0)
    stack = height_stack(ready, replace(lamp, light_fraction=0.3), heights, grid.area_weights())
    for height in (10, 15, 60, 110):
        alone = ready.irradiance(replace(lamp, height_cm=height))
        assert stack.at(height) == pytest.approx(alone, rel=0.002)
    with pytest.raises(KeyError):
        stack.at(12.5)


def test_bodies_and_mirrors_are_carried_between_heights_too(tent):
    grid = even_grid(120, 90, 20)
    ready = prepare(replace(tent, wall_mirror_share=(0.3,) * 4), grid.points_cm(120, 90))
    lamp = PlacedLamp(Bars.even(6, 70, 100), 600, 60, 45, 30, body=Body(0.3, 0.5))
    stack = height_stack(ready, lamp, np.arange(10, 111, 4.0), grid.area_weights())
    for height in (10, 14, 62, 110):
        alone = ready.irradiance(replace(lamp, height_cm=height))
        assert stack.at(height) == pytest.approx(alone, rel=0.004)


def test_a_solid_lamp_near_the_tops_is_carried_between_heights(tent):
    # what it takes of the light changes fast there
    grid = even_grid(120, 90, 20)
    ready = prepare(tent, grid.points_cm(120, 90))
    lamp = PlacedLamp(Board(80, 60), 600, 60, 45, 30, body=Body(1.0, 0.4))
    heights = np.arange(5, 106, 1.0)
    stack = height_stack(ready, lamp, heights, grid.area_weights())
    for height in (5, 7, 10, 14, 20, 60):
        alone = ready.irradiance(replace(lamp, height_cm=height))
        assert np.sqrt(np.mean((stack.at(height) / alone - 1) ** 2)) < 0.01
        assert stack.at(height) == pytest.approx(alone, rel=0.04)


def test_where_nobody_asks_for_low_lamps_the_others_stay_as_they_are(tent):
    grid = even_grid(120, 90, 20)
    ready = prepare(tent, grid.points_cm(120, 90))
    lamp = PlacedLamp(Board(80, 60), 600, 60, 45, 30, body=Body(1.0, 0.4))
    heights = np.arange(6, 80, 2.0)
    whole = height_stack(ready, lamp, heights, grid.area_weights())
    least = height_stack(ready, lamp, heights, grid.area_weights(), low=False)
    low = np.array([ready.low(replace(lamp, height_cm=h)) > 0 for h in heights])
    assert low.any()
    assert np.array_equal(whole.ppfd[~low], least.ppfd[~low])
    assert (np.abs(whole.ppfd[low] - least.ppfd[low]).max(axis=1) > 0).all()
