"""Readings in the place of the model: what they must do whatever the lamp."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.light.enclosure import Enclosure
from canopy.light.firstlight import irradiance_over
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid
from canopy.light.measured import MeasuredMap, measured_stack, ratio_fields
from canopy.light.sources import Bars, Board, PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.light.transport import prepare

TENT = Enclosure(100, 100, 160, (0.8,) * 4, 0.8, 0.1)
LAMP = PlacedLamp(Board(60, 60), 400, 50, 50, 0)
GRID = Grid(7, 7)
HEIGHTS = np.arange(20.0, 71.0, 5.0)


def readings(box, lamp, heights, grid=GRID, change=lambda x, y, h, e: e):
    points = grid.points_cm(box.width_cm, box.depth_cm)
    tent = prepare(box, points)
    rows = irradiance_over(tent, lamp, np.array(heights, dtype=float))
    return tuple(
        (x, y, h, change(x, y, h, e))
        for h, row in zip(heights, rows)
        for (x, y, _), e in zip(points, row)
    )


def stronger_near(x, y, h, e):
    return e * {30: 1.3, 50: 0.9}[h]


def stacked(taken, lamp=LAMP, whole=LAMP, box=TENT, stands=()):
    tent = prepare(box, raised(GRID.points_cm(box.width_cm, box.depth_cm), stands))
    modelled = height_stack(tent, lamp, HEIGHTS, GRID.area_weights())
    return modelled, measured_stack(taken, whole, lamp, modelled, tent)


def test_at_a_measured_height_the_map_is_the_readings():
    rng = np.random.default_rng(1)
    noisy = readings(TENT, LAMP, (30, 50), change=lambda x, y, h, e: e * rng.uniform(0.8, 1.2))
    _, found = stacked(MeasuredMap(TENT, 50, 50, 0, noisy))
    for height in (30, 50):
        there = [e for x, y, h, e in noisy if h == height]
        # but for what the stack itself carries between its heights
        assert found.stack.at(height) == pytest.approx(there, rel=1e-3)


def test_between_two_heights_the_ratio_runs_straight_in_its_logarithm():
    taken = MeasuredMap(TENT, 50, 50, 0, readings(TENT, LAMP, (30, 50), change=stronger_near))
    modelled, found = stacked(taken)
    # half way the logarithms' mean: the geometric mean of 1.3 and 0.9, by definition
    expected = np.sqrt(1.3 * 0.9) * modelled.at(40)
    assert found.stack.at(40) == pytest.approx(expected, rel=1e-9)
    assert not found.beyond[(HEIGHTS >= 30) & (HEIGHTS <= 50)].any()


@pytest.mark.parametrize("spots", [Grid(3, 3), Grid(1, 1), Grid(9, 9, "edges")])
def test_readings_without_error_change_nothing_between_far_heights(spots):
    """The light of a small board falls by far more than half between 15 and 60 cm, not evenly."""
    small = PlacedLamp(Board(20, 20), 400, 50, 50, 0)
    taken = MeasuredMap(TENT, 50, 50, 0, readings(TENT, small, (15, 60), spots))
    modelled, found = stacked(taken, small, small)
    assert found.stack.ppfd == pytest.approx(modelled.ppfd, rel=1e-6)


def test_beyond_the_heights_it_follows_the_model_and_says_so():
    taken = MeasuredMap(
        TENT, 50, 50, 0, readings(TENT, LAMP, (30, 50), change=lambda x, y, h, e: 1.1 * e)
    )
    modelled, found = stacked(taken)
    for height in (20, 70):
        assert found.stack.at(height) == pytest.approx(1.1 * modelled.at(height), rel=1e-6)
    assert found.beyond.tolist() == [not 30 <= h <= 50 for h in HEIGHTS]


@pytest.mark.parametrize("grid", [Grid(9, 9, "edges"), Grid(3, 3), Grid(1, 1), Grid(5, 1)])
def test_another_area_and_grid_are_re_based_through_the_model(grid):
    """A lamp just 12 % stronger than stated is 12 % stronger in every tent."""
    other = Enclosure(140, 120, 200, (0, 0.5, 0, 0), 0.3, 0.2)
    there = replace(LAMP, x_cm=70, y_cm=60)
    taken = MeasuredMap(
        other, 70, 60, 0, readings(other, there, (45,), grid, lambda x, y, h, e: 1.12 * e)
    )
    modelled, found = stacked(taken)
    assert found.stack.ppfd == pytest.approx(1.12 * modelled.ppfd, rel=1e-6)


def test_a_map_turns_with_its_lamp():
    """One side of the lamp is bright: turned by a quarter, another side of the tent is."""
    lop = readings(TENT, LAMP, (40,), change=lambda x, y, h, e: e * (1 + (x - 50) / 200))
    taken = MeasuredMap(TENT, 50, 50, 0, lop)
    _, straight = stacked(taken)
    _, turned = stacked(taken, replace(LAMP, turn_deg=90))
    one, two = (f.stack.at(40).reshape(7, 7) for f in (straight, turned))
    # turned counter-clockwise, what was at +x is at +y
    assert two == pytest.approx(one.T, rel=2e-3)
    assert two[-1].mean() > 1.2 * two[0].mean()


def test_an_altered_lamp_is_never_called_measured():
    whole = PlacedLamp(Bars.even(4, 60, 60), 400, 50, 50, 0)
    taken = MeasuredMap(TENT, 50, 50, 0, readings(TENT, whole, (30, 50)))
    fewer = replace(whole, layout=whole.layout.without((0,))[0])
    assert stacked(taken, fewer, whole)[1].beyond.all()
    assert stacked(taken, replace(whole, tilt_deg=10), whole)[1].beyond.all()
    assert not stacked(taken, whole, whole)[1].beyond[HEIGHTS == 40].any()


def test_on_a_stand_the_readings_ratio_is_that_of_its_own_distance():
    taken = MeasuredMap(TENT, 50, 50, 0, readings(TENT, LAMP, (30, 50), change=stronger_near))
    modelled, found = stacked(taken, stands=(Stand(40, 40, 20, 20, 10),))
    middle = 24
    # hung at 40 the step is 30 away, hung at 60 it is 50 away
    for height, ratio in ((40, 1.3), (60, 0.9)):
        at = list(HEIGHTS).index(height)
        assert found.stack.ppfd[at, middle] == pytest.approx(ratio * modelled.ppfd[at, middle])


def test_several_readings_of_a_spot_count_as_their_mean_and_a_dark_one_does_no_harm():
    rows = ((50, 50, 40, 300), (50, 50, 40.4, 500), (10, 10, 40, 0))
    taken = MeasuredMap(TENT, 50, 50, 0, rows)
    assert len(taken.heights_cm()) == 1
    fields = ratio_fields(taken, LAMP)
    alone = ratio_fields(replace(taken, readings=((50, 50, fields[0].height_cm, 400),)), LAMP)
    assert fields[0].log_ratio[1] == pytest.approx(alone[0].log_ratio[0])
    assert np.isfinite(stacked(taken)[1].stack.ppfd).all()
