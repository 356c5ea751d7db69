"""A tent's response to a small level emitter anywhere in it, for ranking many lamps quickly.

The light that reaches the points by way of surfaces and mirrors is smooth in the emitter's place.
It is computed at Chebyshev places and heights, once for each tent and beam; a lamp is then a sum
of products. Level lamps with beams that do not depend on azimuth; bodies are not counted.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.polynomial import chebyshev
from numpy.typing import NDArray

from canopy.light.beam import Beam
from canopy.light.sources import PlacedLamp, PointSource
from canopy.light.transport import Transport, bounce_spacing_cm, patch_irradiance

Array = NDArray[np.float64]

PLACES = 7
HEIGHTS = 12


def _basis(at: Array, low: float, high: float, count: int) -> Array:
    """Return Chebyshev polynomials at places, shape (n, count)."""
    return np.asarray(chebyshev.chebvander(2 * (at - low) / (high - low) - 1, count - 1))


def _nodes(low: float, high: float, count: int) -> Array:
    return np.asarray(low + (chebyshev.chebpts1(count) + 1) / 2 * (high - low))


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
        x = _basis(places[:, 0], 0.0, box.width_cm, PLACES)
        y = _basis(places[:, 1], 0.0, box.depth_cm, PLACES)
        spread = np.einsum("e,ex,ey->xy", flux, x, y)
        by_height = np.tensordot(spread, self.coefficients, axes=([0, 1], [0, 1]))
        result: Array = _basis(heights_cm, self.lowest_cm, self.highest_cm, HEIGHTS) @ by_height
        return result

    def irradiance(self, lamp: PlacedLamp, heights_cm: Array) -> Array:
        """Return a lamp's maps at many heights, shape (heights, points)."""
        direct = [self.transport.direct(replace(lamp, height_cm=float(h))) for h in heights_cm]
        result: Array = np.array(direct) + self.indirect(lamp, heights_cm)
        return result


def _of_one(transport: Transport, beam: Beam, x_cm: float, y_cm: float, height_cm: float) -> Array:
    """Return what a unit emitter sends: to the points, or without mirrors to the patches."""
    lamp = PlacedLamp(PointSource(), 1.0, x_cm, y_cm, height_cm, beam=beam)
    if any(transport.box.mirror):
        return transport.indirect(lamp)
    return patch_irradiance(transport.fine, lamp, transport.images)


def response(transport: Transport, beam: Beam, lowest_cm: float, highest_cm: float) -> Response:
    """Return a tent's response for a beam between two different heights."""
    box = transport.box
    nodes = (
        _nodes(0.0, box.width_cm, PLACES),
        _nodes(0.0, box.depth_cm, PLACES),
        _nodes(lowest_cm, highest_cm, HEIGHTS),
    )
    values = np.array(
        [
            [[_of_one(transport, beam, x, y, h) for h in nodes[2]] for y in nodes[1]]
            for x in nodes[0]
        ]
    )
    if not any(box.mirror):
        # what the patches got, not yet the points: one product for all emitters
        values = values @ transport.operator.T
    for axis, count in enumerate((PLACES, PLACES, HEIGHTS)):
        vander = chebyshev.chebvander(chebyshev.chebpts1(count), count - 1)
        values = np.moveaxis(
            np.tensordot(np.linalg.inv(vander), values, axes=([1], [axis])), 0, axis
        )
    return Response(transport, lowest_cm, highest_cm, values)
