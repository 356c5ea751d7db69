"""Mirror images: a wall that is partly a mirror shows the tent again behind itself.

A box of mirrors unfolds into a lattice of boxes. The cell ``i`` boxes away along an axis is the
tent itself shifted by ``i`` lengths, turned about when ``i`` is odd; light from there has crossed
``abs(i)`` walls, in turn the two that stand across the axis, and keeps the product of their mirror
reflectances.
"""

from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property, lru_cache

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure

Array = NDArray[np.float64]

LEAST_WEIGHT = 1e-3
"""Images that keep less than this share of the light are left out."""

MOST_CROSSINGS = 20
"""And those so many walls away, however good the mirrors: what they send is little for their
distance."""

NEAR_CROSSINGS = 1
"""Images up to this many walls away meet fine patches, those further off coarse ones."""

KEPT = 64
"""Boxes whose images are kept."""


def place_in(cell: int, at_cm: Array, length_cm: float) -> Array:
    """Return where a coordinate is seen in a cell along an axis that is so long."""
    if cell % 2 == 0:
        return at_cm + cell * length_cm
    return (cell + 1) * length_cm - at_cm


@dataclass(frozen=True)
class AxisImages:
    """The images along one axis: cell numbers and what light from each keeps, nearest first."""

    length_cm: float
    cells: tuple[int, ...]
    weights: tuple[float, ...]

    def place(self, cell: int, at_cm: Array) -> Array:
        """Return where a coordinate is seen in a cell."""
        return place_in(cell, at_cm, self.length_cm)


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


Pair = tuple[int, int, float]
"""Cell along x, cell along y, and what light from there keeps."""


@dataclass(frozen=True)
class ImageCells:
    """Some of a box's image cells, in which things are looked for.

    ``sides_cm`` are the box's width and depth.
    """

    sides_cm: tuple[float, float]
    pairs: tuple[Pair, ...]

    def __bool__(self) -> bool:
        return bool(self.pairs)

    @cached_property
    def weights(self) -> Array:
        """What light from each cell keeps, shape (cells,)."""
        return np.array([weight for _, _, weight in self.pairs])

    @cached_property
    def _flip(self) -> Array:
        return np.where(self._numbers % 2 == 1, -1.0, 1.0)

    @cached_property
    def _start(self) -> Array:
        numbers = self._numbers
        start: Array = (numbers + numbers % 2) * np.array(self.sides_cm)
        return start

    @cached_property
    def _numbers(self) -> NDArray[np.intp]:
        return np.array([pair[:2] for pair in self.pairs], dtype=np.intp).reshape(-1, 2)

    def mirrored(self, places: Array, frame: Array) -> tuple[Array, Array]:
        """Return emitters and their lamp's frame as seen in the cells.

        Parameters
        ----------
        places : array, shape (n, 3)
        frame : array, shape (3, 3)

        Returns
        -------
        places, shape (cells * n, 3), and frames, shape (cells * n, 3, 3)
        """
        count = len(self.pairs), len(places)
        seen = np.empty((*count, 3))
        seen[..., :2] = self._start[:, None, :] + self._flip[:, None, :] * places[:, :2]
        seen[..., 2] = places[:, 2]
        turned = np.empty((*count, 3, 3))
        turned[..., :2] = frame[:, :2] * self._flip[:, None, None, :]
        turned[..., 2] = frame[:, 2]
        return seen.reshape(-1, 3), turned.reshape(-1, 3, 3)


@dataclass(frozen=True)
class Lattice:
    """The images along x and y, and the cells of both worth following."""

    x: AxisImages
    y: AxisImages

    @cached_property
    def whole(self) -> ImageCells:
        """All of them, the tent itself first and the nearest before those further off."""
        found = [
            (i, j, wi * wj)
            for i, wi in zip(self.x.cells, self.x.weights)
            for j, wj in zip(self.y.cells, self.y.weights)
            if wi * wj >= LEAST_WEIGHT and abs(i) + abs(j) <= MOST_CROSSINGS
        ]
        return self._of(sorted(found, key=_crossings))

    @cached_property
    def itself(self) -> ImageCells:
        """The tent alone."""
        return self._of(self.whole.pairs[:1])

    @cached_property
    def others(self) -> ImageCells:
        """Its images alone."""
        return self._of(self.whole.pairs[1:])

    @cached_property
    def near(self) -> ImageCells:
        """The tent itself and its images near enough to meet fine patches."""
        return self._of(pair for pair in self.whole.pairs if _crossings(pair) <= NEAR_CROSSINGS)

    @cached_property
    def beside(self) -> ImageCells:
        """The near ones without the tent itself."""
        return self._of(self.near.pairs[1:])

    @cached_property
    def far(self) -> ImageCells:
        """The others."""
        return self._of(pair for pair in self.whole.pairs if _crossings(pair) > NEAR_CROSSINGS)

    def _of(self, pairs: Iterable[Pair]) -> ImageCells:
        return ImageCells((self.x.length_cm, self.y.length_cm), tuple(pairs))


def _crossings(pair: Pair) -> int:
    return abs(pair[0]) + abs(pair[1])


def lattice(box: Enclosure) -> Lattice:
    """Return the images a box's walls make."""
    return _lattice(box.width_cm, box.depth_cm, box.mirror)


@lru_cache(maxsize=KEPT)
def _lattice(width_cm: float, depth_cm: float, mirror: tuple[float, ...]) -> Lattice:
    left, right, front, back = mirror
    return Lattice(_axis(width_cm, left, right), _axis(depth_cm, front, back))
