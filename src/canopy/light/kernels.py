"""The two inner loops of the engine, compiled.

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

NEAR = 1.4
"""Distances under this many patch sizes take 4 x 4 points."""

FAR = 4.0
"""Distances over this many patch sizes take one point, those between 2 x 2."""

TWO = np.array([-1.0, 1.0]) / math.sqrt(3.0)
FOUR = np.array([-0.8611363115940526, -0.3399810435848563, 0.3399810435848563, 0.8611363115940526])
FOUR_WEIGHT = np.array([0.34785484513745385, 0.6521451548625461, 0.6521451548625461,
                        0.34785484513745385]) / 2  # fmt: skip
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


@njit(cache=True, fastmath=True)
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


@njit(cache=True, fastmath=True, inline="always")
def _arriving(
    place: Any, frame: Any, table: Any, x: float, y: float, z: float, normal: Any
) -> float:
    """Return what a unit emitter sends to a point of a patch, per cm2."""
    dx, dy, dz = x - place[0], y - place[1], z - place[2]
    onto = -(dx * normal[0] + dy * normal[1] + dz * normal[2])
    if onto <= 0.0:
        return 0.0
    axial = dx * frame[2, 0] + dy * frame[2, 1] + dz * frame[2, 2]
    if axial <= 0.0:
        return 0.0
    d2 = dx * dx + dy * dy + dz * dz
    d = math.sqrt(d2)
    along_x = along_y = 0.0
    if table.shape[0] > 1:
        along_x = dx * frame[0, 0] + dy * frame[0, 1] + dz * frame[0, 2]
        along_y = dx * frame[1, 0] + dy * frame[1, 1] + dz * frame[1, 2]
    return _intensity(table, axial / d, along_x, along_y) * onto / (d2 * d)


@njit(cache=True, fastmath=True)
def patch_flux(
    middles: Any, half_u: Any, half_v: Any, normals: Any, areas: Any,
    places: Any, frames: Any, flux: Any, table: Any, whole: bool,
) -> Any:  # fmt: skip
    """Return the flux emitters send to patches, by Gauss points as many as nearness asks for.

    Patches: middles, half sides and inward normals (k, 3), areas (k,). With ``whole`` the
    patches close the space around the emitters, and every emitter's sum is set to its flux.
    """
    count = middles.shape[0]
    out = np.zeros(count)
    one = np.zeros(count)
    for e in range(places.shape[0]):
        place, frame = places[e], frames[e]
        total = 0.0
        for k in range(count):
            mx, my, mz = middles[k, 0], middles[k, 1], middles[k, 2]
            dx, dy, dz = mx - place[0], my - place[1], mz - place[2]
            d2 = dx * dx + dy * dy + dz * dz
            u, v, normal = half_u[k], half_v[k], normals[k]
            uu = u[0] * u[0] + u[1] * u[1] + u[2] * u[2]
            vv = v[0] * v[0] + v[1] * v[1] + v[2] * v[2]
            size2 = 4.0 * max(uu, vv)
            got = 0.0
            if d2 > FAR * FAR * size2:
                got = _arriving(place, frame, table, mx, my, mz, normal)
            elif d2 > NEAR * NEAR * size2:
                for a in range(2):
                    for b in range(2):
                        s, t = TWO[a], TWO[b]
                        got += 0.25 * _arriving(
                            place, frame, table,
                            mx + s * u[0] + t * v[0],
                            my + s * u[1] + t * v[1],
                            mz + s * u[2] + t * v[2],
                            normal,
                        )  # fmt: skip
            else:
                for a in range(4):
                    for b in range(4):
                        s, t = FOUR[a], FOUR[b]
                        got += FOUR_WEIGHT[a] * FOUR_WEIGHT[b] * _arriving(
                            place, frame, table,
                            mx + s * u[0] + t * v[0],
                            my + s * u[1] + t * v[1],
                            mz + s * u[2] + t * v[2],
                            normal,
                        )  # fmt: skip
            one[k] = got * areas[k]
            total += one[k]
        scale = flux[e]
        if whole and total > 0.0:
            scale /= total
        for k in range(count):
            out[k] += scale * one[k]
    return out


def warm_up() -> None:
    """Compile the loops, or load them from disk, for the argument types the engine uses."""
    place, frame = np.zeros((1, 3)), -np.eye(3)[None]
    side, ones = np.ones((1, 3)), np.ones(1)
    for planes in (1, 3):
        table = np.ones((planes, 5))
        table.flags.writeable = False
        point_irradiance(-side, place, frame, ones, table)
        patch_flux(-side, side, side, side, ones, place, frame, ones, table, True)


if __name__ == "__main__":
    warm_up()
