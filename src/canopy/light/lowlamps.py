"""What patches that serve every lamp of a tent miss of one that hangs close above the tops.

Near the lamp its light is as uneven as it is near: on the canopy right under it, from where some
goes up again and to the walls, and at the foot of the walls beside it. So for low lamps alone both
are cut small, once for each tent, and what differs from the mean of the patch that stands for them
is sent on its way. Lengths in cm, irradiances of any unit.
"""

from dataclasses import dataclass
from math import ceil

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Face, Patches, averaging, patches_of, split_lines
from canopy.light.images import Lattice
from canopy.light.seen import factors_seen_from

Array = NDArray[np.float64]

FOOT_CM = 20.0
"""How far above the highest tops the foot of a wall reaches."""

UP_CM, ALONG_CM, FLOOR_CM = 2.0, 4.0, 3.0
"""Cells up the foot of a wall, along it, and on the canopy."""

MOST_FLOOR = 2_500
"""Cells of the canopy; a larger one gets wider cells."""

NEAR_WALL_CM = 45.0
"""Points further from a wall than this see its foot evenly."""


@dataclass(frozen=True)
class Foot:
    """The foot of a wall in small patches.

    ``cells`` are the fine patches it is made of among all, ``mean`` (cells, small) averages over
    them, ``seen`` (points, small) is the light they send to the points, of one irradiance.
    """

    cells: NDArray[np.intp]
    mean: Array
    seen: Array


@dataclass(frozen=True)
class Small:
    """A tent's canopy and the foot of its walls in small patches.

    ``patches`` are the feet's in order, then the canopy's; ``floor_mean`` (coarse, small) averages
    the canopy's over coarse cells, ``floor_up`` (fine, small) is the irradiance each sends to the
    tent's fine patches, of one.
    """

    patches: Patches
    feet: list[Foot]
    floor_mean: Array
    floor_up: Array

    def corrected(self, first: Array, small: Array, operator: Array) -> Array:
        """Return what is added at the points to ``operator @ first``, shape (points,).

        Parameters
        ----------
        first : array, shape (fine,)
            The fine patches' direct irradiance.
        small : array, shape (small,)
            The small patches'.
        operator : array, shape (points, fine)
        """
        added, change, start = np.zeros(len(operator)), np.zeros_like(first), 0
        for foot in self.feet:
            stop = start + foot.mean.shape[1]
            own = small[start:stop]
            mean = foot.mean @ own
            added += foot.seen @ (own - _spread(foot.mean, mean))
            change[foot.cells] = mean - first[foot.cells]
            start = stop
        floor = small[start:]
        uneven = floor - _spread(self.floor_mean, self.floor_mean @ floor)
        result: Array = added + operator @ (change + self.floor_up @ uneven)
        return result


def _spread(mean: Array, values: Array) -> Array:
    result: Array = (mean > 0).T @ values
    return result


def _cut(lines: Array, most_cm: float) -> Array:
    """Return lines with every cell cut equally, none wider."""
    return split_lines(lines, ceil(float(np.diff(lines).max()) / most_cm - 1e-9))


def small_patches(
    coarse: list[Face],
    fine: list[Face],
    points_cm: Array,
    images: Lattice,
    pairs: list[tuple[int, int, float]],
) -> Small:
    """Return a tent's small patches, ready for its points.

    Parameters
    ----------
    coarse, fine : list of Face
        Four walls, ceiling, canopy.
    points_cm : array, shape (n, 3)
    images : Lattice
    pairs : list
        The images that see fine patches.
    """
    top_cm = float(points_cm[:, 2].max(initial=0.0)) + FOOT_CM
    faces, feet, start = [], [], 0
    for wall in fine[:4]:
        rows = int(np.searchsorted(wall.v_lines, top_cm - 1e-9))
        rows = min(rows, len(wall.v_lines) - 1)
        foot = Face(wall.axis, wall.at_cm, wall.u_lines, wall.v_lines[: rows + 1], wall.reflectance)
        small = Face(
            wall.axis,
            wall.at_cm,
            _cut(foot.u_lines, ALONG_CM),
            _cut(foot.v_lines, UP_CM),
            wall.reflectance,
        )
        near = np.abs(points_cm[:, wall.axis] - wall.at_cm) <= NEAR_WALL_CM
        seen = np.zeros((len(points_cm), small.size))
        if wall.reflectance > 0 and near.any():
            of_near = factors_seen_from(points_cm[near], small, True, images, pairs)
            seen[near] = of_near * wall.reflectance
        columns, whole = len(wall.u_lines) - 1, len(wall.v_lines) - 1
        cells = start + np.arange(columns)[:, None] * whole + np.arange(rows)[None, :]
        feet.append(Foot(cells.ravel(), averaging(foot, small), seen))
        faces.append(small)
        start += wall.size
    canopy = coarse[5]
    width, depth = canopy.u_lines[-1], canopy.v_lines[-1]
    cell_cm = max(FLOOR_CM, float(width * depth / MOST_FLOOR) ** 0.5)
    floor = Face(
        2, 0.0, _cut(canopy.u_lines, cell_cm), _cut(canopy.v_lines, cell_cm), canopy.reflectance
    )
    patches = patches_of([floor])
    sent = [factors_seen_from(patches.middles, face, True, images, pairs) for face in fine]
    areas = np.concatenate([face.areas_cm2 for face in fine])
    up = np.concatenate(sent, axis=1).T * patches.areas_cm2 / areas[:, None] * floor.reflectance
    return Small(patches_of([*faces, floor]), feet, averaging(canopy, floor), up)
