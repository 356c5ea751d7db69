"""The evidence of readings that now and then slip."""

import numpy as np
import pytest
from scipy.stats import multivariate_normal

from canopy.measure.evidence import evidence


def test_small_misfits_are_weighed_as_a_normal_distribution_does():
    rng = np.random.default_rng(5)
    signal = 0.02**2 * (np.ones((6, 6)) + np.eye(6))
    variance = np.full(6, 0.015**2)
    one, other = rng.normal(0, 0.003, (2, 6))
    ones = np.ones(6)
    found = evidence(one, signal, variance, ones)[0] - evidence(other, signal, variance, ones)[0]
    plain = multivariate_normal(np.zeros(6), signal + np.diag(variance))
    assert found == pytest.approx(plain.logpdf(one) - plain.logpdf(other), abs=0.15)


def test_a_slip_is_believed_less_and_costs_less_than_normal():
    signal, variance = 0.01**2 * np.ones((5, 5)), np.full(5, 0.015**2)
    misfit = np.array([0.0, 0.0, 0.0, 0.0, 0.3])
    told, _, weights = evidence(misfit, signal, variance, np.ones(5))
    assert weights[4] < 0.1 < 1.0 < weights[0]
    normal = multivariate_normal(np.zeros(5), signal + np.diag(variance)).logpdf(misfit)
    calm = evidence(np.zeros(5), signal, variance, np.ones(5))[0]
    assert calm - told < -normal
    dark = evidence(misfit, signal, variance, np.ones(5), np.array([True] * 4 + [False]))
    assert dark[2][4] < 1e-5
