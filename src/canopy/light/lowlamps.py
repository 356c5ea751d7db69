"""What patches that serve every lamp of a tent miss of one that hangs close above the tops.

Near the lamp its light is as uneven as it is near: on the canopy right under it, from where some
goes up again and to the walls, and at the foot of the walls beside it. So for low lamps alone both
are cut small, once for each tent, and what differs from the mean of the patch that stands for them
is sent on its way. Lengths in cm, irradiances of any unit.
"""

from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Face, Patches, averaging, patches_of, split_lines
from canopy.light.images import ImageCells
from canopy.light.seen import factors_of_wall, factors_seen_from

Array = NDArray[np.float64]

FOOT_CM = 20.0
"""How far above the highest tops the foot of a wall reaches."""

UP_CM, ALONG_CM, FLOOR_CM = 2.0, 4.0, 3.0
"""Cells up the foot of a wall, along it, and on the canopy."""

MOST_FLOOR = 2_500
MOST_ALONG = 80
"""Cells of the canopy, and along a wall; a larger one gets wider cells."""

NEAR_WALL_CM = 45.0
"""Points further from a wall than this see its foot evenly."""


@dataclass(frozen=True)
class Small:
    """A tent's canopy and the foot of its walls in small patches.

    ``patches`` are the four feet's in order, then the canopy's; ``response`` (points, small) is
    the light at the points for one unit of irradiance on each, ``replaced`` (points, fine) that of
    the tent's own fine patches which they stand for.
    """

    patches: Patches
    response: Array
    replaced: Array

    def corrected(self, first: Array, small: Array) -> Array:
        """Return what is added at the points to the tent's operator on ``first``, shape (points,).

        Parameters
        ----------
        first : array, shape (fine,)
            The fine patches' direct irradiance.
        small : array, shape (small,)
            The small patches'.
        """
        result: Array = self.response @ small - self.replaced @ first
        return result


def _cut(lines: Array, most_cm: float) -> Array:
    """Return lines with every cell cut equally, none wider."""
    return split_lines(lines, ceil(float(np.diff(lines).max()) / most_cm - 1e-9))


def small_patches(
    coarse: list[Face],
    fine: list[Face],
    points_cm: Array,
    operator: Array,
    spread: Array,
    images: ImageCells,
) -> Small:
    """Return a tent's small patches, ready for its points.

    Parameters
    ----------
    coarse, fine : list of Face
        Four walls, ceiling, canopy.
    points_cm : array, shape (n, 3)
    operator : array, shape (points, fine)
    spread : array, shape (fine, coarse)
    images : ImageCells
        Those in which fine patches are seen.

    Notes
    -----
    Points see a foot's small patches themselves. What these and the canopy's send to the coarse
    patches beyond the mean of their own coarse cell goes on from there; the mean already does.
    """
    replaced = np.zeros_like(operator)
    # what points get of flux that arrives on a coarse patch
    onward = operator @ spread / np.concatenate([face.areas_cm2 for face in coarse])
    top_cm = float(points_cm[:, 2].max(initial=0.0)) + FOOT_CM
    faces, responses, start = [], [], 0
    for wall, wide in zip(fine[:4], coarse[:4]):
        own, numbers, foot, foot_wide = _foot(wall, wide, top_cm)
        columns = start + numbers
        replaced[:, columns] = operator[:, columns]
        middles = patches_of([own]).middles
        arrives = [factors_of_wall(middles, wall, face) for face in coarse]
        mean = averaging(foot, own)
        response = operator[:, columns] @ mean
        response += _uneven(_seen(own, points_cm, images), mean)
        response += _uneven(_sent(own, arrives, onward), averaging(foot_wide, own))
        responses.append(response)
        faces.append(own)
        start += wall.size
    floor = _floor(coarse[5])
    middles = patches_of([floor]).middles
    arrives = [factors_seen_from(middles, face, True, images) for face in coarse]
    responses.append(_uneven(_sent(floor, arrives, onward), averaging(coarse[5], floor)))
    return Small(patches_of([*faces, floor]), np.concatenate(responses, axis=1), replaced)


def _foot(wall: Face, wide: Face, top_cm: float) -> tuple[Face, NDArray[np.intp], Face, Face]:
    """Return a wall's foot: small, its fine cells' numbers, and as fine and as coarse cells.

    It ends with the coarse row that reaches the top.
    """

    def up_to(face: Face, rows: int) -> Face:
        return replace(face, v_lines=face.v_lines[: rows + 1])

    high = min(int(np.searchsorted(wide.v_lines, top_cm - 1e-9)), len(wide.v_lines) - 1)
    rows = high * (len(wall.v_lines) - 1) // (len(wide.v_lines) - 1)
    foot = up_to(wall, rows)
    along_cm = max(ALONG_CM, foot.u_lines[-1] / MOST_ALONG)
    small = replace(foot, u_lines=_cut(foot.u_lines, along_cm), v_lines=_cut(foot.v_lines, UP_CM))
    columns, whole = len(wall.u_lines) - 1, len(wall.v_lines) - 1
    cells = np.arange(columns)[:, None] * whole + np.arange(rows)[None, :]
    return small, cells.ravel(), foot, up_to(wide, high)


def _floor(canopy: Face) -> Face:
    """Return the canopy in small cells that share the coarse ones' lines."""
    width, depth = canopy.u_lines[-1], canopy.v_lines[-1]
    cell_cm = max(FLOOR_CM, float(width * depth / MOST_FLOOR) ** 0.5)
    return replace(
        canopy, u_lines=_cut(canopy.u_lines, cell_cm), v_lines=_cut(canopy.v_lines, cell_cm)
    )


def _seen(foot: Face, points_cm: Array, images: ImageCells) -> Array:
    """Return the light a foot's small patches send to the points, of one irradiance each."""
    seen = np.zeros((len(points_cm), foot.size))
    near = np.abs(points_cm[:, foot.axis] - foot.at_cm) <= NEAR_WALL_CM
    if foot.reflectance > 0 and near.any():
        seen[near] = factors_seen_from(points_cm[near], foot, True, images)
    return seen * foot.reflectance


def _sent(small: Face, arrives: list[Array], onward: Array) -> Array:
    """Return what points get of what small patches send on, of one irradiance on each.

    ``arrives`` (small, cells) is the share that falls on each face's coarse cells, ``onward``
    (points, coarse) what points get of flux there.
    """
    sent = onward @ np.concatenate(arrives, axis=1).T
    result: Array = sent * small.areas_cm2 * small.reflectance
    return result


def _uneven(response: Array, mean: Array) -> Array:
    """Return the response to what differs from the mean of each small patch's larger cell."""
    result: Array = response - (response @ (mean > 0).T) @ mean
    return result
