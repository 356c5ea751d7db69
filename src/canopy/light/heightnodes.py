"""Heights at which what varies smoothly with a lamp's height is computed, and what is between them.

The nearer a lamp hangs, the faster its light changes with height. So nodes are Chebyshev's not in
height but in its logarithm, a little above the tops: a few then serve a tenfold height. Heights in
cm.
"""

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

Array = NDArray[np.float64]

ABOVE_CM = 10.0
"""What is added to a height before its logarithm is taken: light from surfaces does not sharpen
without end, as what comes straight does."""


def place(heights_cm: Array, lowest_cm: float, highest_cm: float) -> Array:
    """Return where heights stand between two others, -1 to 1."""
    low, high, at = (np.log(h + ABOVE_CM) for h in (lowest_cm, highest_cm, heights_cm))
    result: Array = 2 * (at - low) / (high - low) - 1
    return result


def nodes_cm(at: Array, lowest_cm: float, highest_cm: float) -> Array:
    """Return the heights that stand at places -1 to 1 between two others."""
    low, high = (np.log(h + ABOVE_CM) for h in (lowest_cm, highest_cm))
    result: Array = np.exp(low + (at + 1) / 2 * (high - low)) - ABOVE_CM
    return result


def basis(at: Array, count: int) -> Array:
    """Return Chebyshev polynomials at places -1 to 1, shape (n, count)."""
    return np.asarray(chebyshev.chebvander(at, count - 1))
