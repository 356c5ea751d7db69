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

TOUCHING = 1e-12
"""Keeps the square of a distance from being nothing where an emitter stands on the very spot."""

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
def _in_columns(places: Any, frames: Any, flux: Any) -> Any:
    """Return emitters' places, normals and flux as rows, shape (7, m): one loop takes several."""
    rows = np.empty((7, places.shape[0]))
    for e in range(places.shape[0]):
        for axis in range(3):
            rows[axis, e] = places[e, axis]
            rows[3 + axis, e] = frames[e, 2, axis]
        rows[6, e] = flux[e]
    return rows


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _even_row(table: Any) -> Any:
    """Return the one row of a table of a beam that is alike all round, with nothing after it."""
    steps = table.shape[1]
    row = np.empty(steps + 1)
    row[:steps] = table[0]
    row[steps] = table[0, steps - 1]
    return row


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def _from_afar(
    x: float,
    y: float,
    z: float,
    nx: float,
    ny: float,
    nz: float,
    nearest2: float,
    emitters: Any,
    row: Any,
) -> Any:
    """Return what a small element gets, per cm2, and how many emitters it faces nearer by.

    Nearer than the root of ``nearest2``: those are left out. ``emitters`` as columns have them,
    ``row`` is the even beam's table. Written without branches, so that it takes several at once.
    """
    total, nearer, top = 0.0, 0, float(row.shape[0] - 2)
    ex, ey, ez = emitters[0], emitters[1], emitters[2]
    zx, zy, zz, flux = emitters[3], emitters[4], emitters[5], emitters[6]
    for e in range(ex.shape[0]):
        dx, dy, dz = x - ex[e], y - ey[e], z - ez[e]
        onto = -(dx * nx + dy * ny + dz * nz)
        axial = dx * zx[e] + dy * zy[e] + dz * zz[e]
        d2 = dx * dx + dy * dy + dz * dz + TOUCHING
        over2 = 1.0 / d2
        over = math.sqrt(over2)
        sine2 = 1.0 - axial * over
        sine2 = sine2 if sine2 > 0.0 else 0.0
        t = math.sqrt(sine2 if sine2 < 1.0 else 1.0) * top
        i = np.int32(t)
        f = t - i
        at = np.uint32(i)
        intensity = row[at] + f * (row[at + np.uint32(1)] - row[at])
        got = flux[e] * intensity * over2 * over * onto
        total += got if onto > 0.0 and axial > 0.0 and d2 > nearest2 else 0.0
        nearer += 1 if onto > 0.0 and d2 <= nearest2 else 0
    return total, nearer


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def point_irradiance(points: Any, places: Any, frames: Any, flux: Any, table: Any) -> Any:
    """Return what level, upward-facing points get from emitters, per cm2.

    Shapes: points (n, 3), places (m, 3), frames (m, 3, 3) with rows x, y and normal of the
    lamp, flux (m,), table (planes, steps); result (n,).
    """
    out = np.zeros(points.shape[0])
    if table.shape[0] == 1:
        emitters, row = _in_columns(places, frames, flux), _even_row(table)
        for p in range(points.shape[0]):
            x, y, z = points[p, 0], points[p, 1], points[p, 2]
            out[p] = _from_afar(x, y, z, 0.0, 0.0, 1.0, -1.0, emitters, row)[0]
        return out
    for p in range(points.shape[0]):
        total = 0.0
        for e in range(places.shape[0]):
            dz = points[p, 2] - places[e, 2]
            if dz >= 0.0:
                continue
            dx = points[p, 0] - places[e, 0]
            dy = points[p, 1] - places[e, 1]
            total -= flux[e] * _towards(dx, dy, dz, _axes(frames, e), table) * dz
        out[p] = total
    return out


@njit(cache=True, fastmath=True, inline="always")
def _axes(frames: Any, e: int) -> Any:
    """Return a lamp's x, y and normal, as nine numbers that a loop can hold."""
    x, y, z = frames[e, 0], frames[e, 1], frames[e, 2]
    return x[0], x[1], x[2], y[0], y[1], y[2], z[0], z[1], z[2]


@njit(cache=True, fastmath=True, inline="always")
def _towards(dx: float, dy: float, dz: float, axes: Any, table: Any) -> float:
    """Return the intensity of a lamp with such axes in a direction, over the distance cubed."""
    axial = dx * axes[6] + dy * axes[7] + dz * axes[8]
    if axial <= 0.0:
        return 0.0
    d2 = dx * dx + dy * dy + dz * dz
    d = math.sqrt(d2)
    along_x = along_y = 0.0
    if table.shape[0] > 1:
        along_x = dx * axes[0] + dy * axes[1] + dz * axes[2]
        along_y = dx * axes[3] + dy * axes[4] + dz * axes[5]
    return _intensity(table, axial / d, along_x, along_y) / (d2 * d)


@njit(cache=True, fastmath=True, inline="always")
def _order(d2: float, size2: float) -> int:
    """Return how many Gauss points a side serve a patch of such a size so far away."""
    if d2 > FAR * FAR * size2:
        return 1
    return 2 if d2 > NEAR * NEAR * size2 else 4


@njit(cache=True, fastmath=True, inline="always")
def _by_gauss(
    order: int,
    mx: float,
    my: float,
    mz: float,
    half_u: Any,
    half_v: Any,
    k: int,
    axes: Any,
    table: Any,
) -> float:
    """Return the mean of `_towards` over the patch numbered k, whose middle is so far away."""
    if order == 1:
        return _towards(mx, my, mz, axes, table)
    got = 0.0
    for a in range(order):
        for b in range(order):
            if order == 2:
                s, t, weight = TWO[a], TWO[b], 0.25
            else:
                s, t, weight = FOUR[a], FOUR[b], FOUR_WEIGHT[a] * FOUR_WEIGHT[b]
            dx = mx + s * half_u[k, 0] + t * half_v[k, 0]
            dy = my + s * half_u[k, 1] + t * half_v[k, 1]
            dz = mz + s * half_u[k, 2] + t * half_v[k, 2]
            got += weight * _towards(dx, dy, dz, axes, table)
    return got


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
    sizes2 = np.empty(count)
    for k in range(count):
        uu = half_u[k, 0] ** 2 + half_u[k, 1] ** 2 + half_u[k, 2] ** 2
        vv = half_v[k, 0] ** 2 + half_v[k, 1] ** 2 + half_v[k, 2] ** 2
        sizes2[k] = 4.0 * max(uu, vv)
    if not whole and table.shape[0] == 1:
        emitters, row = _in_columns(places, frames, flux), _even_row(table)
        for k in range(count):
            x, y, z = middles[k, 0], middles[k, 1], middles[k, 2]
            nx, ny, nz = normals[k, 0], normals[k, 1], normals[k, 2]
            far2 = FAR * FAR * sizes2[k]
            total, nearer = _from_afar(x, y, z, nx, ny, nz, far2, emitters, row)
            for e in range(places.shape[0] if nearer else 0):
                mx, my, mz = x - emitters[0, e], y - emitters[1, e], z - emitters[2, e]
                d2 = mx * mx + my * my + mz * mz
                onto = -(mx * nx + my * ny + mz * nz)
                if onto > 0.0 and d2 <= far2:
                    order = _order(d2, sizes2[k])
                    axes = _axes(frames, e)
                    got = _by_gauss(order, mx, my, mz, half_u, half_v, k, axes, table)
                    total += flux[e] * got * onto
            out[k] = total * areas[k]
        return out
    one = np.zeros(count)
    for e in range(places.shape[0]):
        total, axes = 0.0, _axes(frames, e)
        ex, ey, ez = places[e, 0], places[e, 1], places[e, 2]
        for k in range(count):
            mx, my, mz = middles[k, 0] - ex, middles[k, 1] - ey, middles[k, 2] - ez
            # all of a patch's points lie in its plane: behind it means behind for all
            onto = -(mx * normals[k, 0] + my * normals[k, 1] + mz * normals[k, 2])
            one[k] = 0.0
            if onto > 0.0:
                order = _order(mx * mx + my * my + mz * mz, sizes2[k])
                got = _by_gauss(order, mx, my, mz, half_u, half_v, k, axes, table)
                one[k] = got * onto * areas[k]
                total += one[k]
        scale = flux[e]
        if whole and total > 0.0:
            scale /= total
        for k in range(count):
            out[k] += scale * one[k]
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def point_irradiance_each(points: Any, places: Any, frames: Any, flux: Any, table: Any) -> Any:
    """Return :func:`point_irradiance` of several lamps, each with m emitters.

    Shapes: places (k, m, 3), frames (k, m, 3, 3), flux (k, m); result (k, n).
    """
    out = np.zeros((places.shape[0], points.shape[0]))
    for i in range(places.shape[0]):
        out[i] = point_irradiance(points, places[i], frames[i], flux[i], table)
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def point_irradiance_lifted(
    points: Any, places: Any, frames: Any, flux: Any, table: Any, lifts: Any
) -> Any:
    """Return :func:`point_irradiance` of one lamp lifted by so many cm each, result (lifts, n)."""
    out = np.zeros((lifts.shape[0], points.shape[0]))
    lifted = places.copy()
    for k in range(lifts.shape[0]):
        lifted[:, 2] = places[:, 2] + lifts[k]
        out[k] = point_irradiance(points, lifted, frames, flux, table)
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def patch_flux_each(
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
    """Return :func:`patch_flux` of several lamps, shapes as above; result (k, patches)."""
    out = np.zeros((places.shape[0], middles.shape[0]))
    for i in range(places.shape[0]):
        out[i] = patch_flux(
            middles, half_u, half_v, normals, areas, places[i], frames[i], flux[i], table, whole
        )
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
        each = place[None], frame[None], ones[None], table
        point_irradiance_each(-side, *each)
        point_irradiance_lifted(-side, place, frame, ones, table, ones)
        patch_flux_each(-side, side, side, side, ones, *each, True)
    places = np.zeros((1, 1, 3))
    crossing_shares(places, places, np.zeros(3), np.ones(2), np.zeros((2, 2)))
