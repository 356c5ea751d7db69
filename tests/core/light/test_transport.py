"""The light that arrives, against closed forms and conservation."""

from dataclasses import replace
from math import atan, pi, sqrt

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, Listed, PlacedLamp, PointSource, Ring
from canopy.light.transport import absorbed_umol_s, direct_irradiance, prepare


def at(*rows):
    return np.array([(*row, 0.0) for row in rows], dtype=float)


@pytest.mark.parametrize("power", [1.0, 2.0, 4.0])
def test_inverse_square_under_one_small_emitter(black_room, power):
    # I = flux (m+1) / 2 pi on the axis, E = I / d^2: photometry's definition
    below = prepare(black_room, at((100, 100)))
    for height in (20, 40, 80):
        lamp = PlacedLamp(PointSource(), 100, 100, 100, height, beam=CosineBeam(power))
        expected = 100 * (power + 1) / (2 * pi) / (height / 100) ** 2
        assert below.irradiance(lamp)[0] == pytest.approx(expected, rel=1e-6)


def corner_factor(a, b, c):
    """Element to parallel rectangle, its corner over the element; Howell, factor B-3."""
    x, y = a / c, b / c
    rx, ry = sqrt(1 + x * x), sqrt(1 + y * y)
    return (x / rx * atan(y / rx) + y / ry * atan(x / ry)) / (2 * pi)


@pytest.mark.parametrize("height", [12, 30, 60, 120])
def test_under_the_middle_of_an_even_board(black_room, height):
    board = PlacedLamp(Board(60, 40), 500, 100, 100, height)
    factor = 4 * corner_factor(30, 20, height)
    expected = 500 / (0.6 * 0.4) * factor
    assert direct_irradiance(at((100, 100)), board)[0] == pytest.approx(expected, rel=5e-4)


def test_under_the_middle_of_a_ring(black_room):
    # every emitter is equally far: E = flux h^2 / (pi (h^2 + r^2)^2)
    lamp = PlacedLamp(Ring(60), 300, 100, 100, 40)
    expected = 300 * 0.4**2 / (pi * (0.4**2 + 0.3**2) ** 2)
    assert direct_irradiance(at((100, 100)), lamp)[0] == pytest.approx(expected, rel=1e-6)


@pytest.mark.parametrize("power", [1.0, 1.1, 3.0])
@pytest.mark.parametrize("layout", [Bars.even(6, 70, 100), Board(40, 40), PointSource()])
def test_all_light_ends_somewhere(tent, layout, power):
    lamp = PlacedLamp(layout, 600, 60, 45, 35, beam=CosineBeam(power))
    absorbed = absorbed_umol_s(tent, lamp)
    assert sum(absorbed.values()) == pytest.approx(600, rel=1e-6)
    assert min(absorbed.values()) > 0


@pytest.mark.parametrize("power", [1.0, 2.0])
def test_light_on_the_points_is_light_on_the_canopy(tent, power):
    # two routes to the same flux: point by point, and by patches
    lamp = PlacedLamp(Bars.even(6, 70, 100), 600, 60, 45, 35, beam=CosineBeam(power))
    grid = Grid(40, 30)
    mean = prepare(tent, grid.points_cm(120, 90)).irradiance(lamp).mean()
    on_canopy = absorbed_umol_s(tent, lamp)["canopy"] / (1 - tent.canopy_reflectance)
    assert mean * tent.canopy_area_m2 == pytest.approx(on_canopy, rel=0.005)


def test_a_nearly_closed_box_of_mirrors_of_light():
    # uniform diffuse enclosure: with every face at reflectance r the flux on all faces
    # together is emitted / (1 - r), and far from the lamp it is even (integrating sphere theory)
    box = Enclosure(100, 100, 100, (0.95,) * 4, 0.95, 0.95)
    lamp = PlacedLamp(PointSource(), 100, 50, 50, 99)
    mean = prepare(box, Grid(9, 9).points_cm(100, 100)).irradiance(lamp).mean()
    even = 100 / (1 - 0.95) / 6.0
    assert mean == pytest.approx(even, rel=0.06)


def test_open_sides_send_nothing_back(tent):
    lamp = PlacedLamp(Bars.even(6, 70, 100), 600, 60, 45, 35)
    grid = Grid(9, 9).points_cm(120, 90)
    dark = replace(tent, wall_reflectance=(0.0,) * 4, ceiling_reflectance=0.0)
    assert prepare(dark, grid).irradiance(lamp) == pytest.approx(direct_irradiance(grid, lamp))
    one_open = replace(tent, wall_reflectance=(0.0, 0.8, 0.8, 0.8))
    left, right = prepare(one_open, at((5, 45), (115, 45))).irradiance(lamp)
    assert left < right


@settings(max_examples=12)
@given(st.floats(25, 95), st.floats(20, 70), st.floats(10, 90), st.sampled_from([1.0, 1.7]))
def test_a_mirrored_scene_gives_the_mirrored_map(x, y, height, power):
    box = Enclosure(120, 90, 130, (0.8, 0.5, 0.7, 0.0), 0.6, 0.1)
    turned = replace(box, wall_reflectance=(0.5, 0.8, 0.7, 0.0))
    grid = Grid(7, 5).points_cm(120, 90)
    lamp = PlacedLamp(Bars((-8, 3, 12), 20), 400, x, y, height, beam=CosineBeam(power))
    other = replace(lamp, layout=Bars((-12, -3, 8), 20), x_cm=120 - x)
    seen = prepare(box, grid).irradiance(lamp).reshape(5, 7)
    mirrored = prepare(turned, grid).irradiance(other).reshape(5, 7)
    assert mirrored[:, ::-1] == pytest.approx(seen, rel=1e-9)


def test_light_adds_up_lamp_by_lamp_and_with_the_dial(tent):
    ready = prepare(tent, Grid(5, 5).points_cm(120, 90))
    lamp = PlacedLamp(Board(40, 30), 500, 40, 45, 40)
    half = replace(lamp, light_fraction=0.5)
    assert ready.irradiance(half) == pytest.approx(ready.irradiance(lamp) / 2)
    pair = Listed(((-20, 0, 0, 0.5), (20, 0, 0, 0.5)))
    both = ready.irradiance(PlacedLamp(pair, 300, 60, 45, 40))
    parts = [ready.irradiance(PlacedLamp(PointSource(), 150, x, 45, 40)) for x in (40, 80)]
    assert both == pytest.approx(sum(parts), rel=1e-6)


@pytest.mark.parametrize("height", [12, 35, 80])
def test_finer_patches_change_little(tent, height):
    lamp = PlacedLamp(Bars.even(6, 70, 100), 600, 60, 45, height)
    points = Grid(9, 7).points_cm(120, 90)
    usual = prepare(tent, points).irradiance(lamp)
    finer = prepare(tent, points, refine=2).irradiance(lamp)
    assert np.sqrt(np.mean((usual / finer - 1) ** 2)) < 0.01
