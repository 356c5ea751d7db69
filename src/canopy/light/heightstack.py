"""One lamp over a whole range of heights: the table the solver and the rails read from."""

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

from canopy.light.firstlight import first_light
from canopy.light.heightnodes import nodes_cm, place
from canopy.light.obstacles import plates_of
from canopy.light.sources import PlacedLamp
from canopy.light.transport import Straight, Transport
from canopy.parallel import at_once

Array = NDArray[np.float64]

NODES = 9
"""Heights at which the light by way of mirrors and surfaces is computed; it is smooth between."""

FEWEST_NODES = 4
"""The same over a span that is next to nothing."""

LOW_NODES = 5
"""Heights of a low lamp at which the tent is cut finer for it."""

THING_NODES = 6
"""Heights at which what things in the tent change is computed."""

BODY_DEGREE = 4
BODY_NODES = 5
"""At so many of these heights what a lamp's body leaves of it is computed; it hardly changes."""


@dataclass(frozen=True)
class HeightStack:
    """Maps at full light for every height.

    ``heights_cm`` has shape (n,), ``ppfd`` shape (n, points), ``weights`` shape (points,) with
    sum 1 gives the area each point stands for. ``indirect``, where it is known, is what of ``ppfd``
    comes by way of surfaces and mirrors.
    """

    heights_cm: Array
    ppfd: Array
    weights: Array
    indirect: Array | None = None

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
    value: Callable[[PlacedLamp], Array],
    lamp: PlacedLamp,
    heights_cm: Array,
    nodes: int,
    some: int | None = None,
    degree: int | None = None,
) -> Array:
    """Return a smooth function of the lamp's height at many heights, from a few of them.

    ``nodes`` are for a tenfold height; a shorter span needs fewer, and with ``some`` only as many
    of them are asked. With a degree the curve goes between them, not through them.
    """

    def there(height_cm: float) -> Array:
        return value(replace(lamp, height_cm=float(height_cm)))

    low, high = float(heights_cm.min()), float(heights_cm.max())
    nodes = min(nodes, FEWEST_NODES + int(np.ceil((nodes - FEWEST_NODES) * np.log10(high / low))))
    if len(heights_cm) <= nodes:
        return np.array(at_once(there, heights_cm))
    at = chebyshev.chebpts1(nodes)
    if some is not None:
        at = at[np.unique(np.linspace(0, nodes - 1, some).round().astype(int))]
    values = np.array(at_once(there, nodes_cm(at, low, high)))
    series = chebyshev.chebfit(at, values, min(degree or nodes, len(at) - 1))
    return np.asarray(chebyshev.chebval(place(heights_cm, low, high), series).T, dtype=np.float64)


def _along(lamp: PlacedLamp, others: tuple[PlacedLamp, ...], height_cm: float) -> Any:
    """Return the lamp at a height, and the others moved with it."""
    by = height_cm - lamp.height_cm
    moved = tuple(replace(other, height_cm=other.height_cm + by) for other in others)
    return replace(lamp, height_cm=height_cm), moved


@dataclass(frozen=True)
class Reflected:
    """Light by way of the surfaces over heights, on the tent's own patches.

    ``light`` is as if nothing hung in it, ``left`` the share that lamps' bodies leave of it; both
    have shape (n, points).
    """

    light: Array
    left: Array | None


def reflected_stack(
    transport: Transport, lamp: PlacedLamp, heights_cm: Array, others: tuple[PlacedLamp, ...] = ()
) -> Reflected:
    """Return what comes by way of the surfaces from a lamp at full light, no lamp being low.

    Parameters as for :func:`height_stack`.
    """
    full = replace(lamp, light_fraction=1.0)

    def smooth(value: Callable[[PlacedLamp], Array], nodes: int) -> Array:
        return _smooth(value, full, heights_cm, nodes)

    # the same heights are asked more than once
    first = lru_cache(maxsize=None)(first_light(transport, full, heights_cm).at)
    light = smooth(lambda there: transport.free(first(there.height_cm)), NODES)
    if transport.shade is not None:
        light += smooth(transport.changed, THING_NODES)
    if not any(plates_of(each) for each in (lamp, *others)):
        return Reflected(light, None)

    def ratio(there: PlacedLamp) -> Array:
        moved = _along(full, others, there.height_cm)
        return transport.body_ratio(moved[0], moved[1], first(there.height_cm).near)

    return Reflected(light, _smooth(ratio, full, heights_cm, NODES, BODY_NODES, BODY_DEGREE))


def _added_low(transport: Transport, lamp: PlacedLamp, heights_cm: Array) -> Array:
    """Return what a tent cut finer adds to that where a lamp at full light is low, (n, points)."""
    shares = np.array([transport.low(replace(lamp, height_cm=float(h))) for h in heights_cm])
    low, result = shares > 0, np.zeros((len(heights_cm), len(transport.points_cm)))
    if not low.any():
        return result
    first = first_light(transport, lamp, heights_cm)
    in_closer = first_light(transport.closer.tent, lamp, heights_cm[low])

    def added(there: PlacedLamp) -> Array:
        at_cm = there.height_cm
        return transport.added_closer(there, first.at(at_cm), in_closer.at(at_cm))

    result[low] = shares[low, None] * _smooth(added, lamp, heights_cm[low], LOW_NODES)
    return result


def direct_stack(
    transport: Straight, lamp: PlacedLamp, heights_cm: Array, others: tuple[PlacedLamp, ...] = ()
) -> Array:
    """Return what comes straight from a lamp at full light, shape (heights, points).

    Parameters as for :func:`height_stack`.
    """
    full = replace(lamp, light_fraction=1.0)
    return np.array([transport.direct(*_along(full, others, float(h))) for h in heights_cm])


def mirrored_stack(transport: Straight, lamp: PlacedLamp, heights_cm: Array) -> Array:
    """Return what comes by mirrors alone, shape (heights, points).

    Neither this nor what comes straight depends on how high the ceiling is.
    """
    full = replace(lamp, light_fraction=1.0)
    mirrored = np.zeros((len(heights_cm), len(transport.points_cm)))
    if any(transport.box.mirror):
        mirrored = _smooth(transport.mirrored, full, heights_cm, NODES)
        if transport.things:
            mirrored = mirrored * _smooth(transport.mirror_share, full, heights_cm, THING_NODES)
    return mirrored


def height_stack(
    transport: Transport,
    lamp: PlacedLamp,
    heights_cm: Array,
    weights: Array,
    others: tuple[PlacedLamp, ...] = (),
    straight: tuple[Array, Array] | None = None,
    reflected: Reflected | None = None,
    low: bool = True,
) -> HeightStack:
    """Return the lamp's maps at full light over many heights.

    The direct light is computed at every height; all other light at nine Chebyshev heights
    and carried between them by the polynomial through those.

    Parameters
    ----------
    transport : Transport
        The prepared tent; its points are the map's.
    lamp : PlacedLamp
        Where it hangs; its height counts only beside the others'.
    heights_cm : array, shape (n,)
        Ascending, > 0.
    weights : array, shape (points,)
    others : tuple of PlacedLamp
        Lamps that move up and down with it, whose bodies stand in its light's way.
    straight : tuple of arrays, optional
        What :func:`direct_stack` and :func:`mirrored_stack` gave for these heights, where it is
        known already.
    reflected : Reflected, optional
        What :func:`reflected_stack` gave, likewise.
    low : bool
        Whether heights at which the lamp is low are wanted; else they are the tent's own patches'.
    """
    full = replace(lamp, light_fraction=1.0)
    if straight is None:
        straight = (
            direct_stack(transport, lamp, heights_cm, others),
            mirrored_stack(transport, lamp, heights_cm),
        )
    direct, mirrored = straight
    found = reflected or reflected_stack(transport, lamp, heights_cm, others)
    light = found.light + _added_low(transport, full, heights_cm) if low else found.light
    indirect = mirrored + (light if found.left is None else light * found.left)
    return HeightStack(heights_cm, direct + indirect, weights, indirect)
