"""The inner loops of the engine, compiled.

Compiled code is kept on disk beside this module; :func:`warm_up` compiles or loads it, and set-up
and the server's start call it, so that no first request waits. Lengths in cm; intensities per unit
flux in 1/sr over u = sqrt(1 - cos gamma); see :mod:`canopy.light.beam`.
"""

import math
from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

Array = NDArray[np.float64]

NEAR = 1.0
"""Distances under this many patch sizes take 4 x 4 points."""

FAR = 2.5
"""Distances over this many patch sizes take one point, those between 2 x 2."""

TWO = np.array([-1.0, 1.0]) / math.sqrt(3.0)
FOUR = np.array([-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526])
FOUR_WEIGHT = (
    np.array([0.34785484513745385, 0.6521451548625461, 0.6521451548625461, 0.34785484513745385]) / 2
)
"""Gauss-Legendre points and weights; Abramowitz & Stegun, table 25.4."""


@njit(cache=True, fastmath=True, inline="always")
def _intensity(table: Any, cosine: float, along_x: float, along_y: float) -> float:
    """Return the intensity at an angle; ``along_*`` are the ray's parts in the lamp's frame."""
    steps = table.shape[1] - 1
    t = math.sqrt(max(1.0 - cosine, 0.0)) * steps
    i = min(int(t), steps - 1)
    f = t - i
    if table.shape[0] == 1:
        return table[0, i] * (1.0 - f) + table[0, i + 1] * f
    planes = table.shape[0] - 1
    turn = math.atan2(along_y, along_x) / (2.0 * math.pi)
    if turn < 0.0:
        turn += 1.0
    s = turn * planes
    j = min(int(s), planes - 1)
    g = s - j
    low = table[j, i] * (1.0 - f) + table[j, i + 1] * f
    high = table[j + 1, i] * (1.0 - f) + table[j + 1, i + 1] * f
    return low * (1.0 - g) + high * g


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def point_irradiance(points: Any, places: Any, frames: Any, flux: Any, table: Any) -> Any:
    """Return what level, upward-facing points get from emitters, per cm2.

    Shapes: points (n, 3), places (m, 3), frames (m, 3, 3) with rows x, y and normal of the
    lamp, flux (m,), table (planes, steps); result (n,).
    """
    out = np.zeros(points.shape[0])
    for p in range(points.shape[0]):
        total = 0.0
        for e in range(places.shape[0]):
            dz = points[p, 2] - places[e, 2]
            if dz >= 0.0:
                continue
            dx = points[p, 0] - places[e, 0]
            dy = points[p, 1] - places[e, 1]
            axial = dx * frames[e, 2, 0] + dy * frames[e, 2, 1] + dz * frames[e, 2, 2]
            if axial <= 0.0:
                continue
            d2 = dx * dx + dy * dy + dz * dz
            d = math.sqrt(d2)
            along_x = along_y = 0.0
            if table.shape[0] > 1:
                along_x = dx * frames[e, 0, 0] + dy * frames[e, 0, 1] + dz * frames[e, 0, 2]
                along_y = dx * frames[e, 1, 0] + dy * frames[e, 1, 1] + dz * frames[e, 1, 2]
            total -= flux[e] * _intensity(table, axial / d, along_x, along_y) * dz / (d2 * d)
        out[p] = total
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def patch_flux(
    middles: Any,
    half_u: Any,
    half_v: Any,
    normals: Any,
    areas: Any,
    places: Any,
    frames: Any,
    flux: Any,
    table: Any,
    whole: bool,
) -> Any:
    """Return the flux emitters send to patches, by Gauss points as many as nearness asks for.

    Patches: middles, half sides and inward normals (k, 3), areas (k,). With ``whole`` the
    patches close the space around the emitters, and every emitter's sum is set to its flux.
    """
    count = middles.shape[0]
    out = np.zeros(count)
    one = np.zeros(count)
    flat = table.shape[0] == 1
    sizes = np.empty(count)
    for k in range(count):
        uu = half_u[k, 0] ** 2 + half_u[k, 1] ** 2 + half_u[k, 2] ** 2
        vv = half_v[k, 0] ** 2 + half_v[k, 1] ** 2 + half_v[k, 2] ** 2
        sizes[k] = 4.0 * max(uu, vv)
    for e in range(places.shape[0]):
        ex, ey, ez = places[e, 0], places[e, 1], places[e, 2]
        zx, zy, zz = frames[e, 2, 0], frames[e, 2, 1], frames[e, 2, 2]
        total = 0.0
        for k in range(count):
            mx, my, mz = middles[k, 0] - ex, middles[k, 1] - ey, middles[k, 2] - ez
            nx, ny, nz = normals[k, 0], normals[k, 1], normals[k, 2]
            # all of a patch's points lie in its plane: behind it means behind for all
            onto = -(mx * nx + my * ny + mz * nz)
            if onto <= 0.0:
                one[k] = 0.0
                continue
            d2 = mx * mx + my * my + mz * mz
            order = 4
            if d2 > FAR * FAR * sizes[k]:
                order = 1
            elif d2 > NEAR * NEAR * sizes[k]:
                order = 2
            got = 0.0
            for a in range(order):
                for b in range(order):
                    s = t = 0.0
                    weight = 1.0
                    if order == 2:
                        s, t, weight = TWO[a], TWO[b], 0.25
                    elif order == 4:
                        s, t, weight = FOUR[a], FOUR[b], FOUR_WEIGHT[a] * FOUR_WEIGHT[b]
                    dx = mx + s * half_u[k, 0] + t * half_v[k, 0]
                    dy = my + s * half_u[k, 1] + t * half_v[k, 1]
                    dz = mz + s * half_u[k, 2] + t * half_v[k, 2]
                    axial = dx * zx + dy * zy + dz * zz
                    if axial <= 0.0:
                        continue
                    r2 = dx * dx + dy * dy + dz * dz
                    r = math.sqrt(r2)
                    along_x = along_y = 0.0
                    if not flat:
                        along_x = dx * frames[e, 0, 0] + dy * frames[e, 0, 1] + dz * frames[e, 0, 2]
                        along_y = dx * frames[e, 1, 0] + dy * frames[e, 1, 1] + dz * frames[e, 1, 2]
                    got += weight * _intensity(table, axial / r, along_x, along_y) / (r2 * r)
            one[k] = got * onto * areas[k]
            total += one[k]
        scale = flux[e]
        if whole and total > 0.0:
            scale /= total
        for k in range(count):
            out[k] += scale * one[k]
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def crossing_shares(starts: Any, ends: Any, middle: Any, turn: Any, corners: Any) -> Any:
    """Return which share of lines between places crosses a level rectangle, shape (n, m).

    ``starts`` (k, n, 3) and ``ends`` (l, m, 3) are k and l points of each place; each of the ends
    is paired with two of the starts. ``middle`` is the rectangle's frame's origin, ``turn`` the
    cosine and sine by which it is turned, ``corners`` (2, 2) its low and high corner there.
    """
    n, m, pairs = starts.shape[1], ends.shape[1], ends.shape[0]
    out = np.zeros((n, m))
    for shift in range(2):
        for k in range(pairs):
            a, b = k % starts.shape[0], (k + shift) % pairs
            for i in range(n):
                below = starts[a, i, 2] - middle[2]
                for j in range(m):
                    above = ends[b, j, 2] - middle[2]
                    if below * above >= 0.0:
                        continue
                    share = below / (below - above)
                    x = starts[a, i, 0] + share * (ends[b, j, 0] - starts[a, i, 0]) - middle[0]
                    y = starts[a, i, 1] + share * (ends[b, j, 1] - starts[a, i, 1]) - middle[1]
                    own_x, own_y = turn[0] * x + turn[1] * y, turn[0] * y - turn[1] * x
                    if (
                        corners[0, 0] <= own_x <= corners[1, 0]
                        and corners[0, 1] <= own_y <= corners[1, 1]
                    ):
                        out[i, j] += 1.0
    return out / (2 * pairs)


def warm_up() -> None:
    """Compile the loops, or load them from disk, for the argument types the engine uses."""
    place, frame = np.zeros((1, 3)), -np.eye(3)[None]
    side, ones = np.ones((1, 3)), np.ones(1)
    for planes in (1, 3):
        table = np.ones((planes, 5))
        table.flags.writeable = False
        point_irradiance(-side, place, frame, ones, table)
        patch_flux(-side, side, side, side, ones, place, frame, ones, table, True)
    places = np.zeros((1, 1, 3))
    crossing_shares(places, places, np.zeros(3), np.ones(2), np.zeros((2, 2)))
