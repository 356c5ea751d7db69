"""The handbook's configuration factors, written plainly: what the compiled ones are held to.

A corner function is evaluated where grid lines cross; the factor of a cell is the signed
difference over its corners, so the factors of neighbouring cells add up exactly.

Sources: element to rectangle, Siegel & Howell, *Thermal Radiation Heat Transfer*, appendix of
configuration factors; rectangle to rectangle, J. R. Ehlert & T. F. Smith, *View factors for
perpendicular and parallel rectangular plates*, J. Thermophys. Heat Transfer 7 (1993) 173-174.
All lengths share one unit; factors have none.
"""

import numpy as np
from numpy.typing import NDArray

Array = NDArray[np.float64]

_TINY = 1e-12


def upright_corner(distance: Array, lateral: Array, vertical: Array) -> Array:
    """Corner function of a level element and a wall standing at right angles to it.

    Parameters
    ----------
    distance : array, broadcastable
        From the element to the wall's plane, >= 0.
    lateral : array, broadcastable
        Along the wall, from the element's foot to the corner.
    vertical : array, broadcastable
        From the element's plane to the corner, counted along the element's normal, >= 0.

    Returns
    -------
    array
        Corner value; over a cell the factor is K(l2,v1) - K(l1,v1) - K(l2,v2) + K(l1,v2)
        with l2 > l1 and v2 > v1.
    """
    reach = np.sqrt(distance**2 + vertical**2)
    reach = np.maximum(reach, _TINY)
    result: Array = np.maximum(distance, _TINY) / (2 * np.pi * reach) * np.arctan(lateral / reach)
    return result


def facing_corner(distance: Array, dx: Array, dy: Array) -> Array:
    """Corner function of a level element and a rectangle parallel to it.

    Parameters
    ----------
    distance : array, broadcastable
        Between the two planes, > 0.
    dx, dy : array, broadcastable
        From the element's foot to the corner.

    Returns
    -------
    array
        Corner value; over a cell the factor is the second difference in ``dx`` and ``dy``.
    """
    a, b = dx / distance, dy / distance
    ra, rb = np.sqrt(1 + a * a), np.sqrt(1 + b * b)
    result: Array = (a / ra * np.arctan(b / ra) + b / rb * np.arctan(a / rb)) / (2 * np.pi)
    return result


def _x_log(x: Array, q: Array) -> Array:
    """Return x ln q, and 0 where q = 0 (there x = 0 too)."""
    result: Array = x * np.log(np.where(q > 0, q, 1.0))
    return result


def parallel_corner(du: Array, dv: Array, distance: float) -> Array:
    """Corner function of two rectangles in parallel planes.

    ``du`` and ``dv`` are differences of the two rectangles' lines along the shared axes,
    ``distance`` > 0 that of the planes; area x factor is the fourth difference.
    """
    ru, rv = np.sqrt(du**2 + distance**2), np.sqrt(dv**2 + distance**2)
    result: Array = (
        dv * ru * np.arctan(dv / ru)
        + du * rv * np.arctan(du / rv)
        - 0.5 * distance**2 * np.log(du**2 + dv**2 + distance**2)
    ) / (2 * np.pi)
    return result


def perpendicular_corner(along: Array, first_away: Array, second_away: Array) -> Array:
    """Corner function of two rectangles in planes at right angles.

    ``along`` is the difference of their lines along the line where the planes meet, the other
    two are their lines' distances from it, >= 0; area x factor is the fourth difference.
    """
    span2 = first_away**2 + second_away**2
    span = np.sqrt(span2)
    result: Array = (
        along * span * np.arctan2(along, span) - 0.25 * _x_log(span2 - along**2, span2 + along**2)
    ) / (2 * np.pi)
    return result


def _fourth_difference(corner: Array) -> Array:
    """Sum corner values with alternating signs over the last four axes, each of length 2."""
    for _ in range(4):
        corner = corner[..., 1] - corner[..., 0]
    return corner


def _corners(bounds: Array, axis: int) -> Array:
    """Shape (patches, 2) bounds for broadcasting on one of four trailing corner axes."""
    shape = [1, 1, 1, 1]
    shape[axis] = 2
    return bounds.reshape(bounds.shape[0], *shape)


def parallel_exchange(
    first_u: Array, first_v: Array, second_u: Array, second_v: Array, distance: float
) -> Array:
    """Area x configuration factor between rectangles in two parallel planes.

    Parameters
    ----------
    first_u, first_v : array, shape (n, 2)
        Lower and upper bounds of the first plane's rectangles along two shared axes.
    second_u, second_v : array, shape (m, 2)
        The same for the second plane.
    distance : float
        Between the planes, > 0.

    Returns
    -------
    array, shape (n, m)
        A1 F12 = A2 F21, in length squared.
    """
    du = _corners(first_u, 0)[:, None] - _corners(second_u, 1)[None, :]
    dv = _corners(first_v, 2)[:, None] - _corners(second_v, 3)[None, :]
    return _fourth_difference(parallel_corner(du, dv, distance))


def perpendicular_exchange(
    first_along: Array, first_away: Array, second_along: Array, second_away: Array
) -> Array:
    """Area x configuration factor between rectangles in two planes at right angles.

    Parameters
    ----------
    first_along, second_along : array, shapes (n, 2) and (m, 2)
        Bounds along the line where the planes meet.
    first_away, second_away : array, shapes (n, 2) and (m, 2)
        Bounds as distances from that line, >= 0.

    Returns
    -------
    array, shape (n, m)
        A1 F12 = A2 F21, in length squared.
    """
    along = _corners(first_along, 0)[:, None] - _corners(second_along, 1)[None, :]
    first = _corners(first_away, 2)[:, None]
    second = _corners(second_away, 3)[None, :]
    return _fourth_difference(perpendicular_corner(along, first, second))
