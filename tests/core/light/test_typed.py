"""A map typed in by hand comes to what a calculator says."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.light.lightmap import Grid
from canopy.light.typed import places_cm, side_shares, typed_map


def test_seventeen_readings_add_up():
    # common practice, no source: 17 readings summing to 4470 have a mean of 263
    values = [263.0] * 16 + [4470 - 16 * 263.0]
    found = typed_map([values], 120, 90)
    assert (found.count, found.total) == (17, pytest.approx(4470))
    assert round(found.statistics.mean) == 263


def test_a_corner_stands_for_a_quarter_of_a_cell():
    rows = [[100, 200, 100], [200, 400, 200], [100, 200, 100]]
    edge = typed_map(rows, 60, 60, "edges").statistics
    # by hand: corners 1/16 each, sides 1/8, the middle 1/4
    assert edge.area_mean == pytest.approx(4 * 100 / 16 + 4 * 200 / 8 + 400 / 4)
    assert edge.mean == pytest.approx(1600 / 9)
    assert typed_map(rows, 60, 60).statistics.area_mean == pytest.approx(1600 / 9)


@given(st.integers(2, 12), st.integers(2, 12), st.sampled_from(["cells", "edges"]))
def test_shares_are_those_of_the_light_models_grids(nx, ny, points):
    x, y = (places_cm(n, side, points) for n, side in ((nx, 120.0), (ny, 90.0)))
    shares = np.outer(side_shares(y, 90), side_shares(x, 120)).ravel()
    assert shares == pytest.approx(Grid(nx, ny, points).area_weights())


def test_the_first_row_is_the_back_and_an_empty_cell_is_passed_over():
    found = typed_map([[1.0, None], [3.0, 5.0]], 40, 20, "inset", (10, 5))
    assert found.readings() == [(10, 15, 1), (10, 5, 3), (30, 5, 5)]
    assert (found.count, found.statistics.mean) == (3, 3)


@pytest.mark.parametrize(
    ("rows", "places", "inset", "field"),
    [
        ([], "cells", (0, 0), "rows"),
        ([[None]], "cells", (0, 0), "rows"),
        ([[1, 2], [3]], "cells", (0, 0), "rows"),
        ([[1, 2]], "inset", (20, 0), "inset_cm"),
    ],
)
def test_maps_that_say_nothing(rows, places, inset, field):
    with pytest.raises(CanopyError) as caught:
        typed_map(rows, 40, 20, places, inset)
    assert caught.value.field == field


def test_one_reading_stands_in_the_middle():
    assert typed_map([[250.0]], 40, 20, "inset", (30, 30)).readings() == [(20, 10, 250)]
