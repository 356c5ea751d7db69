"""Mirror images: a wall that is partly a mirror shows the tent again behind itself.

A box of mirrors unfolds into a lattice of boxes. The cell ``i`` boxes away along an axis is the
tent itself shifted by ``i`` lengths, turned about when ``i`` is odd; light from there has crossed
``abs(i)`` walls, in turn the two that stand across the axis, and keeps the product of their mirror
reflectances.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure

Array = NDArray[np.float64]

LEAST_WEIGHT = 1e-3
"""Images that keep less than this share of the light are left out."""

MOST_CROSSINGS = 20
"""And those so many walls away, however good the mirrors: what they send is little for their
distance."""


@dataclass(frozen=True)
class AxisImages:
    """The images along one axis: cell numbers and what light from each keeps, nearest first."""

    length_cm: float
    cells: tuple[int, ...]
    weights: tuple[float, ...]

    def place(self, cell: int, at_cm: Array) -> Array:
        """Return where a coordinate is seen in a cell."""
        if cell % 2 == 0:
            return at_cm + cell * self.length_cm
        return (cell + 1) * self.length_cm - at_cm


def _axis(length_cm: float, low: float, high: float) -> AxisImages:
    cells, weights = [0], [1.0]
    for direction, first, second in ((1, high, low), (-1, low, high)):
        weight, count = 1.0, 0
        while True:
            weight *= first if count % 2 == 0 else second
            count += 1
            if weight < LEAST_WEIGHT:
                break
            cells.append(direction * count)
            weights.append(weight)
    order = sorted(range(len(cells)), key=lambda k: (abs(cells[k]), cells[k]))
    return AxisImages(length_cm, tuple(cells[k] for k in order), tuple(weights[k] for k in order))


@dataclass(frozen=True)
class Lattice:
    """The images along x and y, and the pairs of both worth following."""

    x: AxisImages
    y: AxisImages

    def pairs(self) -> list[tuple[int, int, float]]:
        """Return (cell along x, cell along y, weight), the tent itself first."""
        found = [
            (i, j, wi * wj)
            for i, wi in zip(self.x.cells, self.x.weights)
            for j, wj in zip(self.y.cells, self.y.weights)
            if wi * wj >= LEAST_WEIGHT and abs(i) + abs(j) <= MOST_CROSSINGS
        ]
        return sorted(found, key=lambda pair: abs(pair[0]) + abs(pair[1]))


def lattice(box: Enclosure) -> Lattice:
    """Return the images a box's walls make."""
    left, right, front, back = box.mirror
    return Lattice(_axis(box.width_cm, left, right), _axis(box.depth_cm, front, back))


def mirrored(
    images: Lattice, pairs: list[tuple[int, int, float]], places: Array, frame: Array
) -> tuple[Array, Array]:
    """Return emitters and their lamp's frame as seen in image cells.

    Parameters
    ----------
    images : Lattice
    pairs : list
        Cell along x, cell along y, weight.
    places : array, shape (n, 3)
    frame : array, shape (3, 3)

    Returns
    -------
    places, shape (cells * n, 3), and frames, shape (cells * n, 3, 3)
    """
    cells = np.array([pair[:2] for pair in pairs]).reshape(-1, 2)
    odd = cells % 2 == 1
    lengths = np.array([images.x.length_cm, images.y.length_cm])
    flip = np.where(odd, -1.0, 1.0)
    start = np.where(odd, cells + 1, cells) * lengths
    seen = np.repeat(places[None], len(cells), axis=0)
    seen[..., :2] = start[:, None, :] + flip[:, None, :] * seen[..., :2]
    turned = frame * np.column_stack([flip, np.ones(len(cells))])[:, None, :]
    return seen.reshape(-1, 3), np.repeat(turned, len(places), axis=0)
