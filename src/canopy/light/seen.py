"""What level elements see of the tent's faces: configuration factors, mirror images included."""

import numpy as np
from numpy.typing import NDArray

from canopy.light.configuration import facing_corner, upright_corner
from canopy.light.enclosure import Face
from canopy.light.images import Lattice

Array = NDArray[np.float64]


def _cell_sum(corner: Array) -> Array:
    """Return the second difference over the last two axes, flattened."""
    return np.diff(np.diff(corner, axis=-1), axis=-2).reshape(*corner.shape[:-2], -1)


def factors_seen_from(
    points: Array, face: Face, upward: bool, images: Lattice, pairs: list[tuple[int, int, float]]
) -> Array:
    """Return configuration factors from level elements to a face's cells, shape (n, cells).

    The elements face up or down; what lies behind them counts nothing. ``pairs`` are the image
    cells in which the face is looked for.
    """
    sign = 1.0 if upward else -1.0
    if face.axis == 2:
        gap = sign * (face.at_cm - points[:, 2])
        ahead = np.maximum(gap, 1e-9)[:, None, None]
    total: Array = np.zeros((len(points), face.size))
    if face.axis == 2 and not (gap > 0).any():
        return total
    for i, j, weight in pairs:
        if face.axis == 2:
            u, v = images.x.place(i, face.u_lines), images.y.place(j, face.v_lines)
            dx = u[None, :, None] - points[:, 0, None, None]
            dy = v[None, None, :] - points[:, 1, None, None]
            turned = -1.0 if (i + j) % 2 else 1.0
            cells = turned * _cell_sum(facing_corner(ahead, dx, dy))
            total += weight * np.where(gap[:, None] > 0, cells, 0.0)
            continue
        across, along = face.axis, 1 - face.axis
        axes = (images.x, images.y)
        own, other = (i, j) if across == 0 else (j, i)
        at = float(axes[across].place(own, np.array(face.at_cm)))
        # seen only when it faces the real box: up the axis from below, down from above
        faces_up = (face.at_cm == 0) == (own % 2 == 0)
        if faces_up != (at <= 0):
            continue
        lines = axes[along].place(other, face.u_lines)
        away = np.abs(points[:, across] - at)[:, None, None]
        lateral = lines[None, :, None] - points[:, along, None, None]
        height = sign * (face.v_lines[None, None, :] - points[:, 2, None, None])
        cells = _cell_sum(upright_corner(away, lateral, np.maximum(height, 0.0)))
        turned = -1.0 if other % 2 else 1.0
        total += -sign * turned * weight * cells
    return total


def factors_of_wall(points: Array, wall: Face, face: Face) -> Array:
    """Return configuration factors from elements in a wall to a face's cells, shape (n, cells).

    Straight, without what mirrors show; none to the wall itself.

    Parameters
    ----------
    points : array, shape (n, 3)
        In the wall's plane; the elements face inwards.
    wall, face : Face
    """
    across = wall.axis
    if face.axis == across:
        gap_cm = abs(face.at_cm - wall.at_cm)
        if gap_cm == 0:
            return np.zeros((len(points), face.size))
        u, v = (a for a in (0, 1, 2) if a != across)
        du = face.u_lines[None, :, None] - points[:, u, None, None]
        dv = face.v_lines[None, None, :] - points[:, v, None, None]
        return _cell_sum(facing_corner(np.array(gap_cm), du, dv))
    along = 3 - across - face.axis
    inwards = 1.0 if wall.at_cm == 0 else -1.0
    lines = {min(along, across): face.u_lines, max(along, across): face.v_lines}
    away = np.abs(points[:, face.axis] - face.at_cm)[:, None, None]
    lateral = lines[along][None, :, None] - points[:, along, None, None]
    ahead = np.maximum(inwards * (lines[across] - wall.at_cm), 0.0)[None, None, :]
    corner = upright_corner(away, lateral, ahead)
    return -inwards * _cell_sum(corner if along < across else corner.transpose(0, 2, 1))
