"""Maps side by side: what must hold whatever was read, and where the model alone decides."""

from dataclasses import replace

import numpy as np
import pytest

from canopy.errors import CanopyError
from canopy.light.beside import MOST_SPOTS, beside, map_layer, maps_beside, table_of
from canopy.light.enclosure import Enclosure
from canopy.light.firstlight import irradiance_over
from canopy.light.lightmap import Grid
from canopy.light.measured import MeasuredMap
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare

TENT = Enclosure(100, 100, 160, (0.8,) * 4, 0.8, 0.1)
WIDE = Enclosure(150, 150, 200, (0.3,) * 4, 0.3, 0.1)
FIVE = Grid(5, 5)
LAMP = PlacedLamp(Bars((-22.5, -7.5, 7.5, 22.5), 60), 400, 50, 50, 0)


def read(box, heights, grid=FIVE, turn=0.0, change=lambda x, y, e: e):
    """Readings that agree with the model but for ``change``."""
    points = grid.points_cm(box.width_cm, box.depth_cm)
    x, y = box.width_cm / 2, box.depth_cm / 2
    lamp = replace(LAMP, x_cm=x, y_cm=y, turn_deg=turn)
    tent = prepare(box, points)
    rows = tuple(
        (px, py, h, change(px, py, e))
        for h, row in zip(heights, irradiance_over(tent, lamp, np.array(heights, dtype=float)))
        for (px, py, _), e in zip(points, row)
    )
    return MeasuredMap(box, x, y, turn, rows)


def test_readings_of_another_tent_height_and_grid_agree_once_they_are_carried():
    # the lamp is the same, so whatever the tent made of its light, nothing is left of it
    first = map_layer(read(TENT, (40,)), 0)
    others = (
        map_layer(read(WIDE, (30, 60), Grid(9, 7)), 1),
        map_layer(read(WIDE, (40,), Grid(6, 6, "edges"), turn=90), 0),
    )
    found = maps_beside(first, others, LAMP)
    assert found.model.rms_change == pytest.approx(0, abs=1e-9)
    for other in found.others:
        assert other.carried.rms_change == pytest.approx(0, abs=1e-9)
        # as it was read it is another tent's: dimmer, by more than a reading's tolerance
        assert other.as_read.mean_change < -0.10


def test_on_the_same_spots_the_difference_is_that_of_the_readings():
    first = map_layer(read(TENT, (40,)), 0)
    stronger = map_layer(read(TENT, (40,), change=lambda x, y, e: e * (1.1 if x < 40 else 0.95)), 0)
    (found,) = maps_beside(first, (stronger,), LAMP).others
    expected = np.where(first.spots_cm[:, 0] < 40, 0.10, -0.05)
    assert found.as_read.change == pytest.approx(expected, abs=1e-9)
    assert found.carried.change == pytest.approx(expected, abs=1e-9)
    assert not found.carried.beyond.any()
    assert found.as_read.largest_change == pytest.approx(0.10)
    # two columns of five are +10 %, three -5 %: by hand
    assert found.as_read.rms_change == pytest.approx(np.sqrt((2 * 0.1**2 + 3 * 0.05**2) / 5))


def test_between_its_readings_a_plane_is_read_exactly_and_beyond_them_nothing_is():
    slope = lambda x, y, e: 100 + 2 * x + y  # noqa: E731
    first = map_layer(read(TENT, (40,), Grid(7, 7), change=slope), 0)
    coarse = map_layer(read(TENT, (40,), Grid(3, 3), change=slope), 0)
    (found,) = maps_beside(first, (coarse,), LAMP).others
    x, y = first.spots_cm.T
    inside = (np.abs(x - 50) <= 100 / 3) & (np.abs(y - 50) <= 100 / 3)
    # linear between readings: a plane comes back as it is; outside the cell centres nothing
    assert found.as_read.ppfd[inside] == pytest.approx(first.ppfd[inside])
    assert np.isnan(found.as_read.ppfd[~inside]).all()
    assert np.array_equal(found.carried.beyond, ~inside)
    assert not np.isnan(found.carried.ppfd).any()


def test_each_height_of_a_map_is_carried_by_its_own_readings_alone():
    # at 60 cm a fifth more than the lamp gives: that, and nothing else, is left at 40
    both = read(TENT, (40, 60))
    rows = tuple((x, y, h, e * (1.2 if h == 60 else 1)) for x, y, h, e in both.readings)
    taken = replace(both, readings=rows)
    (found,) = maps_beside(map_layer(taken, 0), (map_layer(taken, 1),), LAMP).others
    assert found.carried.change == pytest.approx(0.2)
    assert not found.carried.beyond.any()
    assert found.as_read.mean_change < 0.2


@pytest.mark.parametrize(
    ("spots", "said"),
    [
        (((50.0, 50.0),), 1),
        (((10.0, 50.0), (50.0, 50.0), (90.0, 50.0)), 3),
        (((49.8, 50.1), (10.0, 9.7)), 2),
        (((33.0, 33.0),), 0),
    ],
)
def test_one_reading_or_one_line_says_something_only_where_it_stands(spots, said):
    first = map_layer(read(TENT, (40,)), 0)
    rows = tuple((x, y, 40.0, 300.0) for x, y in spots)
    few = map_layer(MeasuredMap(TENT, 50, 50, 0, rows), 0)
    (found,) = maps_beside(first, (few,), LAMP).others
    there = 0 if found.as_read is None else int((~np.isnan(found.as_read.ppfd)).sum())
    assert there == said
    assert int((~found.carried.beyond).sum()) == said


def test_in_the_dark_nothing_is_divided_by_nothing():
    dark = map_layer(read(TENT, (40,), change=lambda x, y, e: 0.0), 0)
    lit = map_layer(read(TENT, (40,)), 0)
    with np.errstate(all="raise"):
        one, other = maps_beside(dark, (lit,), LAMP), maps_beside(lit, (dark,), LAMP)
    assert one.others[0].as_read.mean_change is None
    assert np.isnan(one.itself.of_mean).all()
    assert other.others[0].as_read.mean_change == pytest.approx(-1)
    assert beside(np.zeros(1), np.ones(1), np.zeros(1, bool)).rms_change is None


def test_several_readings_of_a_spot_are_one_spot_and_heights_have_their_own():
    rows = ((10.0, 20.0, 40.0, 200.0), (10.0, 20.0, 40.3, 300.0), (30.0, 20.0, 60.0, 90.0))
    taken = MeasuredMap(TENT, 50, 50, 0, rows)
    assert map_layer(taken, 0).ppfd.tolist() == [250.0]
    assert map_layer(taken, 1).spots_cm.tolist() == [[30.0, 20.0]]
    with pytest.raises(CanopyError, match="choose one it has"):
        map_layer(taken, 2)
    many = tuple((x, y, 40.0, 1.0) for x in np.linspace(0, 99, 60) for y in np.linspace(0, 99, 40))
    with pytest.raises(CanopyError, match=f"{MOST_SPOTS} can be set side by side"):
        map_layer(MeasuredMap(TENT, 50, 50, 0, many), 0)


def test_spots_are_a_table_seen_from_above_or_strewn():
    grid = Grid(3, 2).points_cm(90, 60)[:, :2]
    shuffled = np.random.default_rng(3).permutation(len(grid))
    table = table_of(grid[shuffled])
    assert (table.x_cm.tolist(), table.y_cm.tolist()) == ([15, 45, 75], [45, 15])
    for row, y in zip(table.spots, table.y_cm):
        assert [grid[shuffled][spot].tolist() for spot in row] == [[x, y] for x in table.x_cm]
    assert table_of(np.array([[10.0, 10.0], [50.0, 90.0], [80.0, 30.0]])) is None
    assert table_of(grid[:5]).spots[0][2] is None
