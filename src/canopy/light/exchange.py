"""Configuration factors between all patches of a box, mirror images included.

The patches of facing walls share their grid lines, so a corner function is needed once for every
*difference* of lines, not for every pair of corners: tables of differences, image by image, then
second differences, then a look-up. An odd image runs the other way along its axis, which turns
the order of its cells.
"""

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray

from canopy.light.configuration import parallel_corners, perpendicular_cells
from canopy.light.enclosure import Face
from canopy.light.images import AxisImages, Lattice

Array = NDArray[np.float64]

NO_IMAGES = AxisImages(1.0, (0,), (1.0,))

Shared = tuple[Array, Array]
"""Lines shared along an axis and the signed second differences picked from them."""


def _along(face: Face, axis: int) -> Array:
    low, _ = (a for a in (0, 1, 2) if a != face.axis)
    return face.u_lines if axis == low else face.v_lines


def _images_of(images: Lattice, axis: int) -> AxisImages:
    return (images.x, images.y, NO_IMAGES)[axis]


def _offsets(lines: Array, images: AxisImages) -> Array:
    """Return line differences for every image, shape (images, 2 n + 1)."""
    n = len(lines) - 1
    step = (lines[-1] - lines[0]) / n
    differences = np.arange(-n, n + 1) * step
    shift = np.asarray(images.cells) * images.length_cm
    return np.asarray(differences[None, :] - shift[:, None])


def _pick(table: Array, images: AxisImages, axis: int) -> Array:
    """Turn a table over (image, line difference) on two axes into receiver x source cells.

    ``axis`` is the image axis, ``axis + 1`` that of the differences; they are replaced by the
    receiver's and the source's cells, images summed with their weights.
    """
    second = -np.diff(table, n=2, axis=axis + 1)
    n = (second.shape[axis + 1] + 1) // 2
    receiver, source = np.arange(n)[:, None], np.arange(n)[None, :]
    odd = np.array(images.cells)[:, None, None] % 2 == 1
    at = receiver - np.where(odd, n - 1 - source, source) + n - 1
    rows = np.arange(len(images.cells))[:, None, None] * second.shape[axis + 1] + at
    shape = (*second.shape[:axis], -1, *second.shape[axis + 2 :])
    found = np.take(second.reshape(shape), rows, axis=axis)
    return np.asarray(np.tensordot(np.moveaxis(found, axis, -1), np.array(images.weights), 1))


def _planes(
    source: Face, receiver_at: float, images: AxisImages, below: bool
) -> list[tuple[float, float]]:
    """Return distance and weight of a wall's images that face the real box.

    Distances are from ``receiver_at`` along the wall's axis; ``below`` says on which side of
    the receiver the images have to stand (None of the others is seen).
    """
    low_wall = source.at_cm == 0
    found = []
    for cell, weight in zip(images.cells, images.weights):
        at = float(images.place(cell, np.array(source.at_cm)))
        # an image faces up the axis when it is the low wall unturned or the high wall turned
        faces_up = low_wall == (cell % 2 == 0)
        if faces_up and at <= 0 and below:
            found.append((receiver_at - at, weight))
        if not faces_up and at >= images.length_cm and not below:
            found.append((at - receiver_at, weight))
    return found


def _facing(receiver: Face, source: Face, images: Lattice) -> Array:
    """Area x factor between parallel faces, a wall and its own images among them."""
    axis = receiver.axis
    u, v = (a for a in (0, 1, 2) if a != axis)
    if axis == 2:
        planes = [(abs(receiver.at_cm - source.at_cm), 1.0)]
        planes = [plane for plane in planes if plane[0] > 0]
    else:
        below = receiver.at_cm > 0
        seen = _planes(source, receiver.at_cm, _images_of(images, axis), below)
        planes = [plane for plane in seen if plane[0] > 0]
    size = receiver.size
    if not planes:
        return np.zeros((size, size))
    iu, iv = _images_of(images, u), _images_of(images, v)
    du, dv = _offsets(_along(receiver, u), iu), _offsets(_along(receiver, v), iv)
    distances, weights = np.array(planes).T.copy()
    table = parallel_corners(du.ravel(), dv.ravel(), distances, weights)
    cells_u = _pick(table.reshape(*du.shape, *dv.shape), iu, 0)
    both = _pick(cells_u, iv, 2)
    return both.transpose(0, 2, 1, 3).reshape(size, size)


def _meeting(receiver: Face, source: Face, images: Lattice) -> Array:
    """Area x factor between faces at right angles: receiver patches x source patches."""
    common = next(a for a in (0, 1, 2) if a not in (receiver.axis, source.axis))
    shared = _images_of(images, common)
    along = _offsets(_along(receiver, common), shared)

    def away(lines: Array, axis: int, other: Face, cell: int) -> Array:
        """Distances of lines from the other face's plane; image cells shift the lines."""
        return np.abs(_images_of(images, axis).place(cell, lines) - other.at_cm)

    # the source's images along its own axis move its plane; those along the receiver's axis move
    # the source's lines, which have to stay in front of the receiver
    receiver_lines = _along(receiver, source.axis)
    source_lines = _along(source, receiver.axis)
    rows: list[tuple[Array, Array, float]] = []
    planes: list[tuple[float, float]]
    if source.axis == 2:
        planes = [(source.at_cm, 1.0)]
    else:
        own = _images_of(images, source.axis)
        planes = [(-distance, weight) for distance, weight in _planes(source, 0.0, own, True)] + [
            (distance, weight) for distance, weight in _planes(source, 0.0, own, False)
        ]
    across = _images_of(images, receiver.axis)
    for at, plane_weight in planes:
        first = np.abs(receiver_lines - at)
        for cell, weight in zip(across.cells, across.weights):
            if receiver.axis != 2:
                behind = cell < 0 if receiver.at_cm == 0 else cell > 0
                if behind:
                    continue
            rows.append(
                (first, away(source_lines, receiver.axis, receiver, cell), plane_weight * weight)
            )
    first, second = (np.array([row[k] for row in rows]) for k in (0, 1))
    weights = np.array([row[2] for row in rows])
    # lines that run towards the other plane turn the sign of a difference
    signs = np.sign(first[:, -1] - first[:, 0]) * np.sign(second[:, -1] - second[:, 0])
    cells = perpendicular_cells(along.ravel(), first, second, weights * signs)
    picked = _pick(cells.reshape(*along.shape, *cells.shape[1:]), shared, 0)
    return _order(picked, receiver, source, common)


def _order(picked: Array, receiver: Face, source: Face, common: int) -> Array:
    """Bring (receiver common, source common, receiver away, source away) into patch order."""
    low = next(a for a in (0, 1, 2) if a != receiver.axis)
    receiver_axes = (0, 2) if common == low else (2, 0)
    low = next(a for a in (0, 1, 2) if a != source.axis)
    source_axes = (1, 3) if common == low else (3, 1)
    return picked.transpose(*receiver_axes, *source_axes).reshape(receiver.size, source.size)


def configuration_factors(faces: list[Face], images: Lattice) -> Array:
    """Return the configuration factors between all patches, shape (n, n).

    Entry (i, j) is the share of the diffuse flux leaving patch i that falls on patch j, straight
    or by way of mirrors. Without mirrors every row sums to 1; with them every row does after
    each column is multiplied by 1 - the patch's mirror reflectance.

    Parameters
    ----------
    faces : list of Face
        Left, right, front, back, ceiling, canopy, all on the same grid lines.
    images : Lattice
    """
    starts = np.cumsum([0] + [face.size for face in faces])
    areas = np.concatenate([face.areas_cm2 for face in faces])
    exchange = np.zeros((starts[-1], starts[-1]))
    for i, first in enumerate(faces):
        for j in range(i, len(faces)):
            second = faces[j]
            build: Callable[[Face, Face, Lattice], Array] = (
                _facing if first.axis == second.axis else _meeting
            )
            block = build(first, second, images)
            exchange[starts[i] : starts[i + 1], starts[j] : starts[j + 1]] = block
            exchange[starts[j] : starts[j + 1], starts[i] : starts[i + 1]] = block.T
    result: Array = exchange / areas[:, None]
    return result
