"""Compiled configuration factors against the handbook, its numbers and its formulas."""

import numpy as np
import pytest

from canopy.light.configuration import (
    arc_tangents,
    level_shares,
    parallel_corners,
    perpendicular_cells,
    upright_shares,
)
from tests.core.light.closed_forms import (
    facing_corner,
    parallel_exchange,
    perpendicular_exchange,
    upright_corner,
)
from tests.published.values import FACING_ONE_BY_TWO, FACING_UNIT_SQUARES, MEETING_UNIT_SQUARES

ONE = np.ones(1)


def span(low, high):
    return np.array([[low, high]], dtype=float)


def facing(first_u, first_v, second_u, second_v, distance):
    """Area x factor of two facing rectangles by the compiled corners."""
    du = np.subtract.outer(first_u[0], second_u[0]).ravel()
    dv = np.subtract.outer(first_v[0], second_v[0]).ravel()
    corners = parallel_corners(du, dv, np.array([distance]), ONE)
    signs = np.array([1, -1, -1, 1.0])
    return float(signs @ corners @ signs)


def meeting(first_along, first_away, second_along, second_away):
    """Area x factor of two rectangles at right angles by the compiled cells."""
    along = np.subtract.outer(first_along[0], second_along[0]).ravel()
    cells = perpendicular_cells(along, first_away, second_away, ONE)[:, 0, 0]
    return float(np.array([1, -1, -1, 1.0]) @ cells)


def test_rectangles_facing_each_other():
    one, two = span(0, 1), span(0, 2)
    for factor, known in (
        (facing(one, one, one, one, 1.0) / 1, FACING_UNIT_SQUARES),
        (facing(one, two, one, two, 1.0) / 2, FACING_ONE_BY_TWO),
    ):
        assert factor == pytest.approx(known.value, abs=known.tolerance), known.source


def test_squares_that_meet_at_right_angles():
    one, known = span(0, 1), MEETING_UNIT_SQUARES
    factor = meeting(one, one, one, one)
    assert factor == pytest.approx(known.value, abs=known.tolerance), known.source


def test_exchange_is_that_of_the_formulas_written_plainly():
    rng = np.random.default_rng(4)
    for _ in range(40):
        a, b, c, d = (np.sort(rng.uniform(0, 3, (1, 2))) for _ in range(4))
        gap = float(rng.uniform(0.1, 4))
        asked = parallel_exchange(a, b, c, d, gap)[0, 0]
        assert facing(a, b, c, d, gap) == pytest.approx(asked, rel=1e-9, abs=1e-13)
        asked = perpendicular_exchange(a, b, c, d)[0, 0]
        assert meeting(a, b, c, d) == pytest.approx(asked, rel=1e-9, abs=1e-13)


def test_exchange_is_reciprocal_and_adds_up():
    # cutting a square in two must not change what it exchanges (factor algebra)
    one, other = span(0, 3), span(1, 2.5)
    parts = [facing(one, one, cut, other, 2.0) for cut in (span(1, 1.7), span(1.7, 2.5))]
    whole = facing(one, one, other, other, 2.0)
    assert sum(parts) == pytest.approx(whole, rel=1e-12)
    assert facing(other, other, one, one, 2.0) == pytest.approx(whole, rel=1e-12)


def test_elements_see_what_the_formulas_written_plainly_say():
    rng = np.random.default_rng(8)
    x, y, up = rng.uniform(0, 2, (3, 20))
    lines, rows = np.sort(rng.uniform(-3, 3, 5)), np.sort(rng.uniform(0, 4, 4))
    plane, weight = -0.7, 0.4
    found = upright_shares(x, y, up, np.array([plane]), lines[None], rows, np.array([weight]))
    above = np.maximum(rows[None, None, :] - up[:, None, None], 0)
    corner = upright_corner(
        (x - plane)[:, None, None], lines[None, :, None] - y[:, None, None], above
    )
    asked = -weight * np.diff(np.diff(corner, axis=1), axis=2)
    assert found == pytest.approx(asked.reshape(20, -1), abs=1e-14)
    gaps = np.append(rng.uniform(0.1, 2, 19), -1.0)
    found = level_shares(x, y, gaps, lines[None], rows[None], np.array([weight]))
    away = gaps[:19, None, None]
    beside = lines[None, :, None] - x[:19, None, None], rows[None, None, :] - y[:19, None, None]
    asked = weight * np.diff(np.diff(facing_corner(away, *beside), axis=1), axis=2)
    assert found[:19] == pytest.approx(asked.reshape(19, -1), abs=1e-14)
    # nothing of what lies behind it
    assert not found[19].any()


def test_an_element_in_a_corner_sees_a_whole_hemisphere():
    # five walls of a very large box close the view of a level element facing up
    far = 1e6
    lateral, here = np.array([[-far, far]]), np.zeros(1)
    wall = upright_shares(ONE, here, here, here, lateral, np.array([0.0, far]), ONE)
    # a wall without end beside the element: half of 1 - cos(90 deg), Siegel & Howell
    assert wall[0, 0] == pytest.approx(0.5, abs=1e-5)
    sky = level_shares(here, here, ONE, lateral, lateral, ONE)
    assert sky[0, 0] == pytest.approx(1.0, abs=1e-5)


def test_arc_tangents_are_numpys():
    ends = 10.0 ** np.linspace(-12, 12, 4001)
    values = np.concatenate([np.linspace(-5, 5, 20001), ends, -ends, [0.0]])
    assert arc_tangents(values) == pytest.approx(np.arctan(values), rel=4e-16, abs=1e-300)
