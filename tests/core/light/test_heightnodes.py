"""Nodes over heights: against numpy's Chebyshev series and functions known everywhere."""

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from numpy.polynomial import chebyshev

from canopy.light.heightnodes import basis, nodes_cm, place

spans = st.tuples(st.floats(0.5, 60), st.floats(1.05, 60)).map(lambda s: (s[0], s[0] * s[1]))


@given(spans, st.integers(2, 14))
def test_places_and_heights_are_each_others_inverse(span, count):
    low, high = span
    at = chebyshev.chebpts1(count)
    heights = nodes_cm(at, low, high)
    assert (np.diff(heights) > 0).all()
    assert heights[0] > low - 1e-9
    assert heights[-1] < high + 1e-9
    assert place(heights, low, high) == pytest.approx(at, abs=1e-9)
    assert place(np.array([low, high]), low, high) == pytest.approx([-1, 1])


def test_the_basis_is_chebyshevs():
    at = np.linspace(-1, 1, 9)
    # T_n(cos x) = cos n x; Abramowitz & Stegun, 22.3.15
    assert basis(at, 6) == pytest.approx(np.cos(np.outer(np.arccos(at), np.arange(6))))


@pytest.mark.parametrize("law", [lambda h: 1 / (h + 20) ** 2, lambda h: np.exp(-h / 40)])
def test_light_that_falls_with_height_is_found_between_fewer_nodes(law):
    heights = np.linspace(5, 130, 300)

    def error(nodes, at):
        series = chebyshev.chebfit(at(nodes), law(nodes), 6)
        return np.abs(chebyshev.chebval(at(heights), series) / law(heights) - 1).max()

    points = chebyshev.chebpts1(7)
    in_logarithm = error(nodes_cm(points, 5, 130), lambda h: place(h, 5, 130))
    in_height = error(5 + (points + 1) / 2 * 125, lambda h: 2 * (h - 5) / 125 - 1)
    assert in_logarithm < 0.003
    assert in_logarithm < in_height or in_height < 1e-3
