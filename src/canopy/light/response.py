"""A tent's response to a small level emitter anywhere in it, for ranking many lamps quickly.

The light that reaches the points by way of surfaces and mirrors is smooth in the emitter's place.
It is computed at Chebyshev places and heights, once for each tent and beam; a lamp is then a sum
of products. Level lamps with beams that do not depend on azimuth; bodies are not counted, and low
lamps go by the tent's own patches.
"""

from dataclasses import dataclass
from itertools import product

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

from canopy.light.beam import Beam
from canopy.light.heightnodes import basis, nodes_cm, place
from canopy.light.sources import PlacedLamp
from canopy.light.transport import Transport, bounce_spacing_cm
from canopy.parallel import at_once

Array = NDArray[np.float64]

SAME_POINT_CM = 1e-6

PLACES = 7
HEIGHTS = 7


def _across(at_cm: Array, side_cm: float) -> Array:
    """Return Chebyshev polynomials at places along a side, shape (n, PLACES)."""
    return basis(2 * at_cm / side_cm - 1, PLACES)


@dataclass(frozen=True)
class Response:
    """Coefficients over x, y and height, shape (PLACES, PLACES, HEIGHTS, points)."""

    transport: Transport
    lowest_cm: float
    highest_cm: float
    coefficients: Array

    def indirect(self, lamp: PlacedLamp, heights_cm: Array) -> Array:
        """Return a lamp's light by way of surfaces at many heights, shape (heights, points)."""
        box = self.transport.box
        places, flux = lamp.emitters(bounce_spacing_cm(float(heights_cm.min())))
        x = _across(places[:, 0], box.width_cm)
        y = _across(places[:, 1], box.depth_cm)
        spread = (flux[:, None] * x).T @ y
        by_height = np.tensordot(spread, self.coefficients, axes=([0, 1], [0, 1]))
        result: Array = (
            basis(place(heights_cm, self.lowest_cm, self.highest_cm), HEIGHTS) @ by_height
        )
        return result

    def irradiance(self, lamp: PlacedLamp, heights_cm: Array) -> Array:
        """Return a lamp's maps at many rising heights, shape (heights, points)."""
        direct = self.transport.direct_at_heights(lamp, heights_cm)
        result: Array = direct + self.indirect(lamp, heights_cm)
        return result


def _mirrored(points_cm: Array, axis: int, length_cm: float) -> Array | None:
    """Return which point each point's mirror image along an axis is, ``None`` when some is none."""
    image = points_cm.copy()
    image[:, axis] = length_cm - image[:, axis]
    far = np.abs(image[:, None, :] - points_cm[None, :, :]).sum(axis=2)
    nearest = far.argmin(axis=1)
    return nearest if (far[np.arange(len(image)), nearest] < SAME_POINT_CM).all() else None


def response(transport: Transport, beam: Beam, lowest_cm: float, highest_cm: float) -> Response:
    """Return a tent's response for a beam between two different heights.

    Where facing walls are alike and the points lie in mirror image, an emitter's response is that
    of its mirror image with the points swapped, and only half the places are computed.
    """
    box = transport.box
    across = (chebyshev.chebpts1(PLACES) + 1) / 2
    nodes = (
        across * box.width_cm,
        across * box.depth_cm,
        nodes_cm(chebyshev.chebpts1(HEIGHTS), lowest_cm, highest_cm),
    )
    walls = list(zip(box.wall_reflectance, box.wall_mirror_share))
    swap = [
        _mirrored(transport.points_cm, axis, side)
        if walls[2 * axis] == walls[2 * axis + 1]
        else None
        for axis, side in ((0, box.width_cm), (1, box.depth_cm))
    ]
    half = (PLACES + 1) // 2
    counts = [PLACES if swap[axis] is None else half for axis in (0, 1)]
    values = np.empty((PLACES, PLACES, HEIGHTS, len(transport.points_cm)))

    def row(i: int) -> Array:
        across = product([nodes[0][i]], nodes[1][: counts[1]], nodes[2])
        found = transport.indirect_of_each(np.array(list(across)), beam)
        return found.reshape(counts[1], HEIGHTS, -1)

    for i, found in enumerate(at_once(row, range(counts[0]))):
        values[i, : counts[1]] = found
    if swap[0] is not None:
        values[half:] = values[: PLACES - half][::-1][..., swap[0]]
    if swap[1] is not None:
        values[:, half:] = values[:, : PLACES - half][:, ::-1][..., swap[1]]
    for axis, count in enumerate((PLACES, PLACES, HEIGHTS)):
        vander = basis(chebyshev.chebpts1(count), count)
        values = np.moveaxis(
            np.tensordot(np.linalg.inv(vander), values, axes=([1], [axis])), 0, axis
        )
    return Response(transport, lowest_cm, highest_cm, np.ascontiguousarray(values))
