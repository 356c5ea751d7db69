"""Configuration factors against the handbook."""

import numpy as np
import pytest

from canopy.light.configuration import (
    facing_corner,
    parallel_exchange,
    perpendicular_exchange,
    upright_corner,
)
from tests.published.values import FACING_ONE_BY_TWO, FACING_UNIT_SQUARES, MEETING_UNIT_SQUARES


def span(low, high):
    return np.array([[low, high]], dtype=float)


def test_rectangles_facing_each_other():
    one, two = span(0, 1), span(0, 2)
    for factor, known in (
        (parallel_exchange(one, one, one, one, 1.0) / 1, FACING_UNIT_SQUARES),
        (parallel_exchange(one, two, one, two, 1.0) / 2, FACING_ONE_BY_TWO),
    ):
        assert factor[0, 0] == pytest.approx(known.value, abs=known.tolerance), known.source


def test_squares_that_meet_at_right_angles():
    one, known = span(0, 1), MEETING_UNIT_SQUARES
    factor = perpendicular_exchange(one, one, one, one)[0, 0]
    assert factor == pytest.approx(known.value, abs=known.tolerance), known.source


def test_exchange_is_reciprocal_and_adds_up():
    # cutting a square in two must not change what it exchanges (factor algebra)
    one, other = span(0, 3), span(1, 2.5)
    cut = np.array([[1.0, 1.7], [1.7, 2.5]])
    whole = parallel_exchange(one, one, other, other, 2.0)[0, 0]
    v = np.repeat(other, 2, axis=0)
    assert parallel_exchange(one, one, cut, v, 2.0).sum() == pytest.approx(whole, rel=1e-12)
    back = parallel_exchange(other, other, one, one, 2.0)[0, 0]
    assert back == pytest.approx(whole, rel=1e-12)


def test_an_element_in_a_corner_sees_a_whole_hemisphere():
    # five walls of a very large box close the view of a level element facing up
    far = 1e6
    lateral = np.array([-far, far])
    k = upright_corner(np.array(1.0), lateral[:, None], np.array([0.0, far])[None, :])
    wall = (k[1, 0] - k[0, 0]) - (k[1, 1] - k[0, 1])
    # a wall without end beside the element: half of 1 - cos(90 deg), Siegel & Howell
    assert wall == pytest.approx(0.5, abs=1e-5)
    sky = facing_corner(np.array(1.0), lateral[:, None], lateral[None, :])
    assert sky[1, 1] - sky[0, 1] - sky[1, 0] + sky[0, 0] == pytest.approx(1.0, abs=1e-5)
