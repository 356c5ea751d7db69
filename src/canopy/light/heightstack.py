"""One lamp over a whole range of heights: the table the solver and the rails read from."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

from canopy.light.sources import PlacedLamp
from canopy.light.transport import FINER, Transport

Array = NDArray[np.float64]

NODES = 12
"""Heights at which the light by way of mirrors and surfaces is computed; it is smooth between."""

LOW_NODES = 6
"""Heights of a low lamp at which the tent is cut finer for it."""

BODY_NODES = 8
"""Heights at which what a lamp's body leaves of it is computed; it hardly changes."""


@dataclass(frozen=True)
class HeightStack:
    """Maps at full light for every height.

    ``heights_cm`` has shape (n,), ``ppfd`` shape (n, points), ``weights`` shape (points,) with
    sum 1 gives the area each point stands for.
    """

    heights_cm: Array
    ppfd: Array
    weights: Array

    def at(self, height_cm: float) -> Array:
        """Return the map at one of the stack's heights, shape (points,).

        Raises
        ------
        KeyError
            When the height is not in the stack.
        """
        found = np.flatnonzero(np.isclose(self.heights_cm, height_cm))
        if not len(found):
            raise KeyError(height_cm)
        row: Array = self.ppfd[found[0]]
        return row


def _smooth(
    value: Callable[[PlacedLamp], Array], lamp: PlacedLamp, heights_cm: Array, nodes: int
) -> Array:
    """Return a smooth function of the lamp's height at many heights, from a few of them."""
    low, high = float(heights_cm.min()), float(heights_cm.max())
    if len(heights_cm) <= nodes:
        return np.array([value(replace(lamp, height_cm=float(h))) for h in heights_cm])
    at = chebyshev.chebpts1(nodes)
    node_heights = low + (at + 1) / 2 * (high - low)
    values = np.array([value(replace(lamp, height_cm=float(h))) for h in node_heights])
    series = chebyshev.chebfit(at, values, nodes - 1)
    return np.asarray(
        chebyshev.chebval(2 * (heights_cm - low) / (high - low) - 1, series).T, dtype=np.float64
    )


def _indirect(transport: Transport, lamp: PlacedLamp, heights_cm: Array) -> Array:
    def smooth(value: Callable[[PlacedLamp], Array], nodes: int) -> Array:
        return _smooth(value, lamp, heights_cm, nodes)

    result = smooth(transport.unscreened, NODES)
    shares = np.array([transport.low(replace(lamp, height_cm=float(h))) for h in heights_cm])
    for share, how in zip(shares.T, FINER):
        low = share > 0
        if low.any():
            more = _smooth(partial(transport.added_by, how), lamp, heights_cm[low], LOW_NODES)
            result[low] += share[low, None] * more
    if lamp.body is not None and lamp.body.coverage > 0:
        result *= smooth(transport.body_ratio, BODY_NODES)
    if any(transport.box.mirror):
        result += smooth(transport.by_mirrors, NODES)
    return result


def height_stack(
    transport: Transport, lamp: PlacedLamp, heights_cm: Array, weights: Array
) -> HeightStack:
    """Return the lamp's maps at full light over many heights.

    The direct light is computed at every height; all other light at 12 Chebyshev heights
    and carried between them by the polynomial through those.

    Parameters
    ----------
    transport : Transport
        The prepared tent; its points are the map's.
    lamp : PlacedLamp
        Where it hangs; its height is ignored.
    heights_cm : array, shape (n,)
        Ascending, > 0.
    weights : array, shape (points,)
    """
    full = replace(lamp, light_fraction=1.0)
    direct = np.array([transport.direct(replace(full, height_cm=float(h))) for h in heights_cm])
    return HeightStack(heights_cm, direct + _indirect(transport, full, heights_cm), weights)
