"""Light past steps and lamps' bodies: beside ray-traced references and closed forms."""

import json
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import height_stack
from canopy.light.images import ImageCells, lattice
from canopy.light.lightmap import Grid
from canopy.light.obstacles import NOTHING, Obstacles, Plate, obstacles
from canopy.light.scene import Scene, scene_map, warnings
from canopy.light.shade import share_past
from canopy.light.sources import Bars, Board, Body, PlacedLamp, PointSource
from canopy.light.stands import Stand
from canopy.light.transport import prepare
from tests.core.light.shading_scenes import FILE, SCENES

REFERENCES = json.loads(FILE.read_text())
BLACK = Enclosure(100, 100, 150, (0.0,) * 4, 0.0, 0.0)
LAMP = PlacedLamp(Board(60, 60), 600, 60, 60, 60)
STEP = Stand(10, 20, 40, 60, 25)


def by_surfaces(ready, lamp):
    """Light by way of the surfaces as if lamps had no bodies."""
    return ready.free(ready.first(lamp)) + ready.changed(lamp)


def against(name, found):
    """Shares by which light misses Radiance's, and Radiance's own noise."""
    mean, error = (np.array(REFERENCES[name][key]) for key in ("mean", "error"))
    return found / mean - 1, error / mean


@pytest.mark.parametrize("name", SCENES)
def test_radiance_agrees_to_its_own_noise(name):
    """Radiance (LBNL) through pyradiance, traced once with its noise kept; see shading_scenes."""
    it = SCENES[name]
    spots = tuple(map(tuple, it.points_cm()))
    found = scene_map(Scene(it.tent, it.lamps, spots, it.stands)).ppfd_umol_m2_s
    difference, noise = against(name, found)
    assert np.sqrt(np.mean(difference**2)) < np.hypot(0.01, np.sqrt(np.mean(noise**2)))
    assert (np.abs(difference) < 0.02 + 2 * noise).all()


@pytest.mark.parametrize("name", SCENES)
def test_the_quicker_form_of_plans_agrees_too(name):
    it = SCENES[name]
    ready = prepare(it.tent, it.points_cm(), things=Obstacles(it.stands))
    found = np.zeros(len(ready.points_cm))
    for lamp in it.lamps:
        others = tuple(other for other in it.lamps if other is not lamp)
        surfaces = by_surfaces(ready, lamp) * ready.body_ratio(lamp, others)
        found += ready.direct(lamp, others) + surfaces + ready.by_mirrors(lamp)
    difference, noise = against(name, found)
    assert np.sqrt(np.mean(difference**2)) < np.hypot(0.01, np.sqrt(np.mean(noise**2)))
    assert (np.abs(difference) < 0.03 + 2 * noise).all()


def test_a_step_in_a_black_room_cuts_off_what_the_line_of_sight_does():
    """Closed form: behind a step of height h a lamp at H and distance d shades d h / (H - h)."""
    bulb = PlacedLamp(PointSource(), 100, 10, 50, 60)
    step = Stand(40, 0, 10, 100, 20)
    # from the step's far edge, 40 cm away, 40 x 20 / (60 - 20) = 20 cm
    spots = np.array([(50 + s, 50.0, 0.0) for s in (1.0, 19.9, 20.1, 40.0)])
    free = prepare(BLACK, spots).irradiance(bulb)
    shaded = prepare(BLACK, spots, things=Obstacles((step,))).irradiance(bulb)
    assert shaded == pytest.approx(free * [0, 0, 1, 1], abs=1e-9)


@given(st.floats(0.05, 1.0))
@settings(max_examples=8, deadline=None)
def test_a_sheet_lets_its_open_share_through(opaque):
    sheet = Plate((50, 50, 30), (50, 0, 0), (0, 50, 0), opaque, 0.0)
    spots = Grid(3, 3).points_cm(100, 100)
    lamp = PlacedLamp(Board(40, 40), 100, 50, 50, 60)
    under = prepare(BLACK, spots, things=Obstacles((), (sheet,))).irradiance(lamp)
    assert under == pytest.approx((1 - opaque) * prepare(BLACK, spots).irradiance(lamp))


def test_a_sheet_below_the_points_and_a_speck_change_nothing(tent):
    spots = Grid(4, 3).points_cm(120, 90) + np.array([0, 0, 40])
    lamp = PlacedLamp(Board(50, 50), 600, 60, 45, 90)
    free = prepare(tent, spots).irradiance(lamp)
    speck = Obstacles((Stand(1, 1, 0.01, 0.01, 1.0),))
    assert prepare(tent, spots, things=speck).irradiance(lamp) == pytest.approx(free, rel=1e-3)
    assert prepare(tent, spots, things=NOTHING).shade is None


@given(st.floats(5, 95), st.floats(5, 95), st.integers(-2, 2), st.integers(-2, 2))
@settings(max_examples=60, deadline=None)
def test_an_image_is_hidden_where_the_way_through_the_mirrors_is(x, y, i, j):
    """The way unfolded: the step's own images on a straight line."""
    box = replace(BLACK, wall_reflectance=(0.8,) * 4, wall_mirror_share=(1.0,) * 4)
    step, lamp = Stand(40, 30, 20, 25, 30), PlacedLamp(PointSource(), 1, 20, 60, 50)
    images = lattice(box)
    cell = ImageCells((100.0, 100.0), ((i, j, 1.0),))
    places, frames = cell.mirrored(np.array([[20.0, 60.0, 50.0]]), lamp.frame())
    point = np.array([[x, y, 0.0]])
    if step.covers(point)[0]:
        return
    seen = (places, frames, np.ones(1))
    found = share_past(box, Obstacles((step,)), point, seen, lamp.beam)[0]
    free = 1.0
    for a in range(-3, 4):
        for b in range(-3, 4):
            xs = np.sort(images.x.place(a, np.array([40.0, 60.0])))
            ys = np.sort(images.y.place(b, np.array([30.0, 55.0])))
            low, high = np.array([xs[0], ys[0], 0.0]), np.array([xs[1], ys[1], 30.0])
            way = places[0] - point[0]
            ends = np.sort(
                np.stack([(low - point[0]) / (way + 1e-15), (high - point[0]) / (way + 1e-15)]), 0
            )
            if min(ends[1].min(), 1) - max(ends[0].max(), 0) > 1e-5:
                free = 0.0
    # grazing an edge is either
    if abs(found - free) > 1e-9:
        near = Obstacles((Stand(40.01, 30.01, 19.98, 24.98, 29.99),))
        assert share_past(box, near, point, seen, lamp.beam)[0] == pytest.approx(free)


def test_a_body_given_twice_or_level_with_the_light_shades_nothing_of_its_own(tent):
    lamp = PlacedLamp(Board(50, 50), 600, 60, 45, 60, body=Body(1.0, 0.5))
    beside = replace(lamp, x_cm=50)
    ready = prepare(tent, Grid(4, 3).points_cm(120, 90))
    assert ready.direct(lamp, (beside,)) == pytest.approx(ready.direct(lamp))


def test_more_bodies_take_more_of_the_light_that_comes_back(tent):
    bodied = PlacedLamp(Bars.even(4, 60, 60), 600, 30, 45, 60, body=Body(0.5, 0.3))
    ready = prepare(tent, Grid(4, 3).points_cm(120, 90))
    one = ready.body_ratio(bodied)
    two = ready.body_ratio(bodied, (replace(bodied, x_cm=90),))
    assert (two < one).all()
    assert (one < 1).all()


def test_a_stack_of_heights_knows_steps_and_lower_lamps():
    tent = Enclosure(120, 120, 160, (0.85,) * 4, 0.85, 0.1)
    grid = Grid(6, 6)
    spots = grid.points_cm(120, 120)
    spots[STEP.covers(spots), 2] = STEP.raise_cm
    ready = prepare(tent, spots, things=Obstacles((STEP,)))
    low = PlacedLamp(Board(30, 30), 100, 70, 60, LAMP.height_cm - 20, body=Body(1.0, 0.5))
    heights = np.arange(55.0, 111, 5)
    stack = height_stack(ready, LAMP, heights, grid.area_weights(), (low,))
    for height in (55.0, 80.0, 110.0):
        there = replace(LAMP, height_cm=height), (replace(low, height_cm=height - 20),)
        surfaces = by_surfaces(ready, there[0]) * ready.body_ratio(*there)
        alone = ready.direct(*there) + surfaces
        assert stack.at(height) == pytest.approx(alone, rel=0.03)
        assert np.sqrt(np.mean((stack.at(height) / alone - 1) ** 2)) < 0.01


def test_many_points_are_answered_as_few_are(monkeypatch):
    scene = Scene(BLACK, (LAMP,), Grid(8, 8), (STEP,))
    whole = scene_map(scene).ppfd_umol_m2_s
    monkeypatch.setattr("canopy.light.scene.POINTS_TOGETHER", 10)
    assert scene_map(scene).ppfd_umol_m2_s == pytest.approx(whole)


def test_a_body_of_unknown_shape_is_told(tent):
    board = PlacedLamp(Board(50, 50), 600, 60, 45, 60, body=Body(0.5, 0.5))
    codes = [
        [said.code for said in warnings(scene, scene_map(scene))]
        for scene in (
            Scene(tent, (lamp,), Grid(9, 9))
            for lamp in (board, replace(board, body=Body(1.0, 0.5)), replace(board, body=None))
        )
    ]
    assert codes == [["light.grey_body"], [], []]


def test_the_same_question_has_the_same_answer():
    scene = Scene(SCENES["a step of 25 cm"].tent, (LAMP,), Grid(5, 5), (STEP,))
    first = scene_map(scene).ppfd_umol_m2_s
    assert (scene_map(scene).ppfd_umol_m2_s == first).all()


def test_overlapping_steps_are_the_higher_of_them():
    tent = SCENES["a step of 25 cm"].tent
    one = scene_map(Scene(tent, (LAMP,), Grid(5, 5), (STEP,)))
    inside = Stand(15, 30, 20, 30, 12)
    both = scene_map(Scene(tent, (LAMP,), Grid(5, 5), (STEP, inside)))
    assert both.points_cm == pytest.approx(one.points_cm)
    assert both.ppfd_umol_m2_s == pytest.approx(one.ppfd_umol_m2_s, rel=0.01)


@given(st.lists(st.tuples(st.floats(0, 90), st.floats(0, 90), st.floats(1, 40)), max_size=16))
@settings(max_examples=6, deadline=None)
def test_any_steps_leave_a_map_that_can_be(rows):
    stands = tuple(Stand(x, y, min(30.0, 100 - x), min(25.0, 100 - y), high) for x, y, high in rows)
    box = Enclosure(100, 100, 120, (0.8,) * 4, 0.8, 0.15)
    lamp = PlacedLamp(Board(50, 50), 500, 50, 50, 60)
    map_ = scene_map(Scene(box, (lamp,), Grid(5, 5), stands)).ppfd_umol_m2_s
    assert np.isfinite(map_).all()
    assert (map_ > 0).all()
    assert obstacles(stands, (lamp,)).solids.shape == (len(stands), 6)
