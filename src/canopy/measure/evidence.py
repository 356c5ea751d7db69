"""How well readings that now and then slip agree with what is expected of them.

That of a Gaussian process with Student's slips, their scales taken at their expected values.
"""

import numpy as np
from numpy.typing import NDArray
from scipy.linalg import cho_factor, cho_solve

from canopy.measure.fit import FREEDOM

Array = NDArray[np.float64]

MOST_TURNS = 12

SETTLED = 1e-2
"""Readings that are believed as before, to so much, need no further look."""

UNLIT_WEIGHT = 1e-6
"""A dark reading is a slip, whatever the lamp."""


def evidence(
    misfit: Array,
    signal: Array,
    variance: Array,
    weights: Array,
    lit: NDArray[np.bool_] | None = None,
) -> tuple[float, Array, Array]:
    """Return ln of the evidence, the weighted misfit, and how far each reading was believed.

    Parameters
    ----------
    misfit : array, shape (n,)
        Readings less what is expected, in logarithms.
    signal : array, shape (n, n)
        Covariance of what may put them off together.
    variance : array, shape (n,)
        Of each by itself.
    weights : array, shape (n,)
        How far each is believed to begin with.
    lit : array of bool, shape (n,), optional
        Those that are no slip by themselves; all without.
    """
    weights, solved, logdet = weights.copy(), misfit, 0.0
    for _ in range(MOST_TURNS):
        before = weights
        whole = cho_factor(signal + np.diag(variance / weights), check_finite=False)
        solved = cho_solve(whole, misfit, check_finite=False)
        logdet = 2 * float(np.log(np.diag(whole[0])).sum())
        hand = variance / weights * solved
        weights = (FREEDOM + 1) / (FREEDOM + hand**2 / variance)
        if lit is not None:
            weights[~lit] = UNLIT_WEIGHT
        if float(np.abs(weights - before).max()) < SETTLED:
            break
    slips = (FREEDOM / 2 - 1) * np.log(weights) - FREEDOM / 2 * weights
    return float(-misfit @ solved / 2 - logdet / 2 + slips.sum()), solved, weights
