"""What lamps and steps put in the light's way."""

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from canopy.errors import CanopyError
from canopy.light.obstacles import (
    MOST_PLATES,
    NOTHING,
    check_body,
    framed_body,
    obstacles,
    plates_of,
)
from canopy.light.sources import Bars, Board, Body, Listed, PlacedLamp, PointSource, Ring
from canopy.light.stands import Stand

SOLID = Body(1.0, 0.5)


def area_cm2(plate):
    return 4 * np.linalg.norm(np.cross(plate.half_u, plate.half_v))


@given(st.integers(2, 12), st.floats(0.05, 1.0), st.floats(10, 100))
def test_bars_are_strips_that_cover_the_share_that_is_opaque(bars, coverage, spread):
    """The published format: strips coverage x spread / bars wide, along each bar."""
    lamp = PlacedLamp(Bars.even(bars, 80, spread), 100, 60, 60, 40, body=Body(coverage, 0.5))
    plates = plates_of(lamp)
    assert len(plates) == bars
    assert all(plate.opaque == 1 for plate in plates)
    assert sum(map(area_cm2, plates)) == pytest.approx(coverage * spread * 80)
    assert [plate.middle[0] for plate in plates] == pytest.approx(
        60 + np.linspace(-spread / 2, spread / 2, bars)
    )


def test_a_board_is_solid_and_moves_with_its_lamp():
    lamp = PlacedLamp(Board(40, 20), 100, 50, 60, 40, turn_deg=90, tilt_deg=30, body=SOLID)
    (plate,) = plates_of(lamp)
    # the lamp's x axis, tilted up by 30 degrees, then turned to +y
    assert plate.half_u == pytest.approx((0, 20 * np.cos(np.pi / 6), 10))
    assert plate.half_v == pytest.approx((-10, 0, 0))
    assert plate.middle == pytest.approx((50, 60, 40))
    assert plate.lowest_cm == pytest.approx(30)


def test_an_unplugged_bar_still_stands_in_the_way():
    dark = Bars.even(3, 60, 40, bar_share=(0.5, 0.0, 0.5))
    assert len(plates_of(PlacedLamp(dark, 100, 60, 60, 40, body=Body(0.3, 0.5)))) == 3


@pytest.mark.parametrize("layout", [Bars.even(1, 80, 0), PointSource()])
def test_what_spans_no_area_needs_a_size(layout):
    lamp = PlacedLamp(layout, 100, 60, 60, 40, body=SOLID)
    with pytest.raises(CanopyError, match="give x_cm and y_cm"):
        check_body(lamp)
    sized = replace(lamp, body=Body(1.0, 0.5, 10, 20))
    check_body(sized)
    assert area_cm2(plates_of(sized)[0]) == pytest.approx(200)
    # nothing opaque needs none
    check_body(replace(lamp, body=Body(0.0, 0.5)))
    framed = framed_body(layout, 1.0, 0.5, (12.0, 90.0))
    assert (framed.x_cm, framed.y_cm) == (12.0, 90.0)


def test_a_board_in_a_frame_is_as_large_as_its_light():
    assert framed_body(Board(40, 20), 1.0, 0.5, (50.0, 30.0)) == SOLID


def test_other_layouts_are_grey_sheets_above_all_their_light():
    listed = Listed(((-10, -5, 0, 0.5), (10, 5, 4, 0.5)))
    (plate,) = plates_of(PlacedLamp(listed, 100, 60, 60, 40, body=Body(0.4, 0.5)))
    assert (plate.opaque, plate.middle[2]) == (0.4, 44)
    (ring,) = plates_of(PlacedLamp(Ring(30), 100, 60, 60, 40, body=Body(0.4, 0.5, 34, 34)))
    assert area_cm2(ring) == pytest.approx(34 * 34)


def test_too_many_strips_become_one_sheet_a_lamp():
    lamp = PlacedLamp(Bars.even(40, 80, 100), 100, 60, 60, 40, body=Body(0.3, 0.5))
    many = obstacles((), (lamp,) * (MOST_PLATES // 40 + 1))
    assert len(many.plates) == MOST_PLATES // 40 + 1
    assert {plate.opaque for plate in many.plates} == {0.3}
    assert len(obstacles((), (lamp,)).plates) == 40


def test_nothing_is_nothing():
    bare = PlacedLamp(Board(40, 20), 100, 50, 60, 40)
    assert not NOTHING
    assert not obstacles((), (bare,))
    assert obstacles((Stand(0, 0, 10, 10, 5),), ())
