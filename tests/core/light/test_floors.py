"""Lamps side by side, by hand."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.light.floors import MapTaken, floor_difference, map_notes, taken_from_readings
from canopy.words import worded

QUARTERS = np.full(4, 0.25)


def test_two_floors_by_hand():
    floor, other = np.array([110.0, 111, 80, 100]), np.array([100.0, 100, 100, 100])
    found = floor_difference(floor, other, QUARTERS)
    # +10, +11, -20, 0: a quarter is more than a tenth brighter, a quarter more than a tenth dimmer
    assert found.mean == pytest.approx((10 + 11 - 20) / 4)
    assert found.largest == -20
    assert (found.brighter, found.dimmer) == (0.25, 0.25)
    assert found.map_.tolist() == [10, 11, -20, 0]


def grid(width, depth, count, edge=None):
    """Return cell centres, or points from one edge distance to the other, at 30 cm."""
    steps = (np.arange(count) + 0.5) / count
    if edge is not None:
        xs, ys = (np.linspace(edge, side - edge, count) for side in (width, depth))
    else:
        xs, ys = steps * width, steps * depth
    return [(x, y, 30.0) for x in xs for y in ys]


@pytest.mark.parametrize(
    ("readings", "short"),
    [
        (grid(120, 120, 8), False),  # cell centres stop half a cell short, as they should
        (grid(120, 120, 5, edge=0), False),
        (grid(120, 120, 5, edge=30), True),  # spacing 15, 30 from the edge
    ],
)
def test_a_grid_that_stops_short_of_the_edge_is_pointed_out(readings, short):
    notes = map_notes([taken_from_readings("Lamp", 120, 120, readings)])
    assert any("short of the edge" in worded(note) for note in notes) == short


def test_the_height_with_most_readings_counts():
    taken = taken_from_readings("Lamp", 100, 100, [*grid(100, 100, 3), (50, 50, 60.0)])
    assert (taken.height_cm, taken.readings) == (30, 9)


@pytest.mark.parametrize(
    ("a", "b", "says"),
    [
        (MapTaken("A", (90, 90), 30), MapTaken("B", (120, 120), 30), "here A"),
        (
            MapTaken("A", (120, 90), 30),
            MapTaken("B", (90, 120), 30),
            None,
        ),  # the same floor, turned
        (MapTaken("A", (90, 90), 30), MapTaken("B", (90, 90), 45), "at 45 cm"),
        (MapTaken("A", (90, 90), 30, 5), MapTaken("B", (90, 90), 30, 64), "coarse grid"),
        (MapTaken("A"), MapTaken("B", (90, 90), 30), "A comes without"),
    ],
)
def test_differences_of_test_area_height_and_grid(a, b, says):
    notes = map_notes([a, b])
    assert any(says in worded(note) for note in notes) if says else notes == ()


floors = st.lists(st.floats(1, 1500), min_size=4, max_size=4).map(np.array)


@given(floors, floors)
def test_a_difference_seen_from_the_other_side_is_its_opposite(floor, other):
    there, back = floor_difference(floor, other, QUARTERS), floor_difference(other, floor, QUARTERS)
    assert there.mean == pytest.approx(-back.mean)
    assert abs(there.largest) == pytest.approx(abs(back.largest))
    assert 0 <= there.brighter + there.dimmer <= 1 + 1e-9
    # what is more than a tenth dimmer is, seen from there, more than a tenth brighter
    assert back.brighter >= there.dimmer - 1e-9
