"""What level elements see of the tent's faces: configuration factors, mirror images included."""

import numpy as np
from numpy.typing import NDArray

from canopy.light.configuration import level_shares, upright_shares
from canopy.light.enclosure import Face
from canopy.light.images import ImageCells, place_in

Array = NDArray[np.float64]


def factors_seen_from(points: Array, face: Face, upward: bool, images: ImageCells) -> Array:
    """Return configuration factors from level elements to a face's cells, shape (n, cells).

    The elements face up or down; what lies behind them counts nothing. ``images`` are those in
    which the face is looked for.
    """
    sign = 1.0 if upward else -1.0
    x, y, z = np.ascontiguousarray(points.T)
    if face.axis == 2:
        weights = np.array([w * (-1.0 if (i + j) % 2 else 1.0) for i, j, w in images.pairs])
        lines = [
            np.array([place_in(i, face.u_lines, images.sides_cm[0]) for i, _, _ in images.pairs]),
            np.array([place_in(j, face.v_lines, images.sides_cm[1]) for _, j, _ in images.pairs]),
        ]
        level: Array = level_shares(x, y, sign * (face.at_cm - z), lines[0], lines[1], weights)
        return level
    at = np.array(face.at_cm)
    own_cm, other_cm = images.sides_cm[face.axis], images.sides_cm[1 - face.axis]
    planes, columns, shares = [], [], []
    for pair in images.pairs:
        cell, beside = (pair[0], pair[1]) if face.axis == 0 else (pair[1], pair[0])
        plane = float(place_in(cell, at, own_cm))
        # seen only when it faces the real box: up the axis from below, down from above
        if ((face.at_cm == 0) == (cell % 2 == 0)) != (plane <= 0):
            continue
        planes.append(plane)
        columns.append(place_in(beside, face.u_lines, other_cm))
        shares.append(sign * pair[2] * (-1.0 if beside % 2 else 1.0))
    if not planes:
        return np.zeros((len(points), face.size))
    across, along = (x, y) if face.axis == 0 else (y, x)
    upright: Array = upright_shares(
        across,
        along,
        sign * z,
        np.array(planes),
        np.array(columns),
        sign * face.v_lines,
        np.array(shares),
    )
    return upright


def factors_of_wall(points: Array, wall: Face, face: Face) -> Array:
    """Return configuration factors from elements in a wall to a face's cells, shape (n, cells).

    Straight, without what mirrors show; none to the wall itself.

    Parameters
    ----------
    points : array, shape (n, 3)
        In the wall's plane; the elements face inwards.
    wall, face : Face
    """
    inwards = 1.0 if wall.at_cm == 0 else -1.0
    one, ahead = np.ones(1), wall.axis
    if face.axis == ahead:
        gaps = np.full(len(points), abs(face.at_cm - wall.at_cm))
        u, v = (np.ascontiguousarray(points[:, a]) for a in (0, 1, 2) if a != ahead)
        facing: Array = level_shares(u, v, gaps, face.u_lines[None], face.v_lines[None], one)
        return facing
    along = 3 - ahead - face.axis
    lines = {min(along, ahead): face.u_lines, max(along, ahead): face.v_lines}
    across, beside, up = (np.ascontiguousarray(points[:, a]) for a in (face.axis, along, ahead))
    found: Array = upright_shares(
        across,
        beside,
        inwards * up,
        np.array([face.at_cm]),
        lines[along][None],
        inwards * lines[ahead],
        np.array([inwards]),
    )
    if along < ahead:
        return found
    shape = len(points), len(lines[along]) - 1, len(lines[ahead]) - 1
    return found.reshape(shape).transpose(0, 2, 1).reshape(len(points), -1)
