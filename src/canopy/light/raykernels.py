"""Inner loops of light that meets things standing in the tent, compiled.

A tent is given by its width and depth with z from 0 to the height; walls may be mirrors in part.
What stands in it: ``solids``, shape (n, 6), boxes from their low to their high corner; ``plates``,
shape (m, 11): middle, two half sides, and two columns more, the opaque share and 0. Lengths in cm.
See :mod:`canopy.light.kernels` for how compiled code is kept.
"""

import math
from typing import Any

import numpy as np
from numba import njit

from canopy.light.kernels import FAR, FOUR, FOUR_WEIGHT, NEAR, TWO, _intensity

EPSILON = 1e-6
"""Shares of a segment, and cm, that count as touching."""

LEAST = 1e-3
"""What keeps less than this share of a ray's light is followed no further."""

MOST_TURNS = 400


@njit(cache=True, fastmath=True, nogil=True, inline="always")
def _slab(solids: Any, k: int, x: Any, y: Any, z: Any, u: Any, v: Any, w: Any) -> Any:
    """Return where a line enters and leaves a solid, and across which axis it enters."""
    enter, leave, across = -1e30, 1e30, 0
    for axis in range(3):
        at, by = (x, u) if axis == 0 else ((y, v) if axis == 1 else (z, w))
        low, high = solids[k, axis], solids[k, axis + 3]
        if abs(by) < 1e-12:
            if at <= low or at >= high:
                leave = -1e30
            continue
        first, last = (low - at) / by, (high - at) / by
        if first > last:
            first, last = last, first
        if first > enter:
            enter, across = first, axis
        leave = min(leave, last)
    return enter, leave, across


@njit(cache=True, fastmath=True, nogil=True)
def _through(solids: Any, plates: Any, x: Any, y: Any, z: Any, u: Any, v: Any, w: Any) -> float:
    """Return the share of light that gets from (x, y, z) to (x + u, y + v, z + w)."""
    for k in range(solids.shape[0]):
        enter, leave, _ = _slab(solids, k, x, y, z, u, v, w)
        if min(leave, 1.0) - max(enter, 0.0) > EPSILON:
            return 0.0
    left = 1.0
    for k in range(plates.shape[0]):
        nx = plates[k, 4] * plates[k, 8] - plates[k, 5] * plates[k, 7]
        ny = plates[k, 5] * plates[k, 6] - plates[k, 3] * plates[k, 8]
        nz = plates[k, 3] * plates[k, 7] - plates[k, 4] * plates[k, 6]
        onto = u * nx + v * ny + w * nz
        if abs(onto) < 1e-12:
            continue
        mx, my, mz = plates[k, 0] - x, plates[k, 1] - y, plates[k, 2] - z
        t = (mx * nx + my * ny + mz * nz) / onto
        if t <= EPSILON or t >= 1.0 - EPSILON:
            continue
        if _inside(plates, k, u * t - mx, v * t - my, w * t - mz):
            left *= 1.0 - plates[k, 9]
            if left <= 0.0:
                return 0.0
    return left


@njit(cache=True, fastmath=True, inline="always")
def _inside(plates: Any, k: int, px: float, py: float, pz: float) -> Any:
    """Return whether a point of a plate's plane, from its middle, lies on the plate."""
    uu = plates[k, 3] ** 2 + plates[k, 4] ** 2 + plates[k, 5] ** 2
    vv = plates[k, 6] ** 2 + plates[k, 7] ** 2 + plates[k, 8] ** 2
    s = px * plates[k, 3] + py * plates[k, 4] + pz * plates[k, 5]
    t = px * plates[k, 6] + py * plates[k, 7] + pz * plates[k, 8]
    return abs(s) <= uu and abs(t) <= vv


@njit(cache=True, fastmath=True, nogil=True)
def _reaches(
    width: float,
    depth: float,
    solids: Any,
    plates: Any,
    px: float,
    py: float,
    pz: float,
    dx: float,
    dy: float,
    dz: float,
) -> float:
    """Return the share of light that gets from a point to another, maybe seen in mirrors.

    ``d`` leads to the other as it is seen: the way is folded back into the tent at its walls.
    """
    if solids.shape[0] == 0 and plates.shape[0] == 0:
        return 1.0
    if 0.0 <= px + dx <= width and 0.0 <= py + dy <= depth:
        return _through(solids, plates, px, py, pz, dx, dy, dz)
    left, rest = 1.0, 1.0
    for _ in range(MOST_TURNS):
        to_x = to_y = 2.0
        if dx > 0.0:
            to_x = (width - px) / dx
        elif dx < 0.0:
            to_x = -px / dx
        if dy > 0.0:
            to_y = (depth - py) / dy
        elif dy < 0.0:
            to_y = -py / dy
        step = min(min(to_x, to_y), rest)
        step = max(step, 0.0)
        left *= _through(solids, plates, px, py, pz, dx * step, dy * step, dz * step)
        if left <= 0.0:
            return 0.0
        px, py, pz = px + dx * step, py + dy * step, pz + dz * step
        rest -= step
        if rest <= EPSILON:
            return left
        if to_x <= to_y:
            px, dx = (width if dx > 0.0 else 0.0), -dx
        else:
            py, dy = (depth if dy > 0.0 else 0.0), -dy
    return 0.0


@njit(cache=True, fastmath=True, nogil=True)
def shaded_irradiance(
    points: Any,
    places: Any,
    frames: Any,
    flux: Any,
    table: Any,
    width: float,
    depth: float,
    solids: Any,
    plates: Any,
) -> Any:
    """Return what level points get from emitters that things stand in the way of, per cm2.

    As :func:`canopy.light.kernels.point_irradiance`; emitters may be mirror images.
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
            left = _reaches(
                width,
                depth,
                solids,
                plates,
                points[p, 0],
                points[p, 1],
                points[p, 2],
                -dx,
                -dy,
                -dz,
            )
            if left <= 0.0:
                continue
            d2 = dx * dx + dy * dy + dz * dz
            d = math.sqrt(d2)
            along_x = along_y = 0.0
            if table.shape[0] > 1:
                along_x = dx * frames[e, 0, 0] + dy * frames[e, 0, 1] + dz * frames[e, 0, 2]
                along_y = dx * frames[e, 1, 0] + dy * frames[e, 1, 1] + dz * frames[e, 1, 2]
            share = _intensity(table, axial / d, along_x, along_y)
            total -= left * flux[e] * share * dz / (d2 * d)
        out[p] = total
    return out


@njit(cache=True, fastmath=True, nogil=True)
def shaded_flux(
    middles: Any,
    half_u: Any,
    half_v: Any,
    normals: Any,
    areas: Any,
    closing: int,
    places: Any,
    frames: Any,
    flux: Any,
    table: Any,
    least_order: int,
    width: float,
    depth: float,
    solids: Any,
    plates: Any,
) -> Any:
    """Return the flux emitters send to patches past what stands in the way.

    As :func:`canopy.light.kernels.patch_flux`. The first ``closing`` patches close the space around
    the emitters, and every emitter's sum over them, were nothing in the way, is set to its flux;
    what is stopped on the way to them goes to the other patches. With ``closing`` 0 nothing is set.
    """
    count = middles.shape[0]
    out = np.zeros(count)
    one = np.zeros(count)
    flat = table.shape[0] == 1
    for e in range(places.shape[0]):
        ex, ey, ez = places[e, 0], places[e, 1], places[e, 2]
        zx, zy, zz = frames[e, 2, 0], frames[e, 2, 1], frames[e, 2, 2]
        free = came = stopped = 0.0
        for k in range(count):
            one[k] = 0.0
            mx, my, mz = middles[k, 0] - ex, middles[k, 1] - ey, middles[k, 2] - ez
            nx, ny, nz = normals[k, 0], normals[k, 1], normals[k, 2]
            onto = -(mx * nx + my * ny + mz * nz)
            if onto <= 1e-9:
                continue
            uu = half_u[k, 0] ** 2 + half_u[k, 1] ** 2 + half_u[k, 2] ** 2
            vv = half_v[k, 0] ** 2 + half_v[k, 1] ** 2 + half_v[k, 2] ** 2
            size = 4.0 * max(uu, vv)
            d2 = mx * mx + my * my + mz * mz
            order = 4
            if d2 > FAR * FAR * size:
                order = 1
            elif d2 > NEAR * NEAR * size:
                order = 2
            order = max(order, least_order)
            bare = got = 0.0
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
                    part = weight * _intensity(table, axial / r, along_x, along_y) / (r2 * r)
                    bare += part
                    # a hair off the patch's own face
                    left = _reaches(
                        width,
                        depth,
                        solids,
                        plates,
                        ex + dx + 1e-4 * nx,
                        ey + dy + 1e-4 * ny,
                        ez + dz + 1e-4 * nz,
                        -dx - 1e-4 * nx,
                        -dy - 1e-4 * ny,
                        -dz - 1e-4 * nz,
                    )
                    got += part * left
            one[k] = got * onto * areas[k]
            if k < closing:
                free += bare * onto * areas[k]
                stopped += (bare - got) * onto * areas[k]
            else:
                came += one[k]
        scale = others = flux[e]
        if closing > 0 and free > 0.0:
            scale = flux[e] / free
            others = scale * stopped / came if came > 0.0 else 0.0
        for k in range(count):
            out[k] += (scale if k < closing else others) * one[k]
    return out


@njit(cache=True, fastmath=True, inline="always")
def _wall(
    width: float, depth: float, height: float, x: Any, y: Any, z: Any, u: Any, v: Any, w: Any
) -> Any:
    """Return how far the nearest of walls, ceiling and canopy is, and which it is; -1 is none."""
    t, face = 1e30, -1
    if u > 1e-12 and (width - x) / u < t:
        t, face = (width - x) / u, 1
    elif u < -1e-12 and -x / u < t:
        t, face = -x / u, 0
    if v > 1e-12 and (depth - y) / v < t:
        t, face = (depth - y) / v, 3
    elif v < -1e-12 and -y / v < t:
        t, face = -y / v, 2
    if w > 1e-12 and (height - z) / w < t:
        t, face = (height - z) / w, 4
    elif w < -1e-12 and -z / w < t:
        t, face = -z / w, 5
    return max(t, 0.0), face


@njit(cache=True, fastmath=True, nogil=True)
def _solid(solids: Any, t: float, x: Any, y: Any, z: Any, u: Any, v: Any, w: Any) -> Any:
    """Return how far the nearest solid nearer than t is, which it is and which of its sides."""
    thing, side = -1, 0
    for k in range(solids.shape[0]):
        enter, leave, across = _slab(solids, k, x, y, z, u, v, w)
        if leave - enter > EPSILON and EPSILON < enter < t:
            t, thing = enter, k
            if across == 2:
                side = 4
            elif across == 0:
                side = 0 if u > 0.0 else 1
            else:
                side = 2 if v > 0.0 else 3
    return t, thing, side


@njit(cache=True, fastmath=True, nogil=True)
def _plate(plates: Any, t: float, x: Any, y: Any, z: Any, u: Any, v: Any, w: Any) -> Any:
    """Return how far the nearest plate nearer than t is, which it is and which of its sides."""
    thing, side = -1, 0
    for k in range(plates.shape[0]):
        px = plates[k, 4] * plates[k, 8] - plates[k, 5] * plates[k, 7]
        py = plates[k, 5] * plates[k, 6] - plates[k, 3] * plates[k, 8]
        pz = plates[k, 3] * plates[k, 7] - plates[k, 4] * plates[k, 6]
        onto = u * px + v * py + w * pz
        if abs(onto) < 1e-12:
            continue
        mx, my, mz = plates[k, 0] - x, plates[k, 1] - y, plates[k, 2] - z
        far = (mx * px + my * py + mz * pz) / onto
        if far <= 1e-4 or far >= t:
            continue
        if _inside(plates, k, u * far - mx, v * far - my, w * far - mz):
            t, thing = far, k
            side = 0 if onto < 0.0 else 1
    return t, thing, side


@njit(cache=True, fastmath=True, inline="always")
def _part(share: float, parts: int) -> int:
    """Return in which of so many equal parts a share from 0 to 1 lies."""
    return min(max(int(share * parts), 0), parts - 1)


@njit(cache=True, fastmath=True, inline="always")
def _solid_cell(solids: Any, k: int, side: int, parts: int, x: Any, y: Any, z: Any) -> int:
    """Return in which cell of a solid's faces a place lies."""
    x = (x - solids[k, 0]) / (solids[k, 3] - solids[k, 0])
    y = (y - solids[k, 1]) / (solids[k, 4] - solids[k, 1])
    z = max(z, 0.0) / solids[k, 5]
    first = y if side < 2 else x
    second = y if side == 4 else z
    return (side * parts + _part(first, parts)) * parts + _part(second, parts)


@njit(cache=True, fastmath=True, inline="always")
def _plate_cell(plates: Any, k: int, side: int, parts: int, x: Any, y: Any, z: Any) -> int:
    """Return in which cell of a plate's faces a place lies."""
    px, py, pz = x - plates[k, 0], y - plates[k, 1], z - plates[k, 2]
    uu = plates[k, 3] ** 2 + plates[k, 4] ** 2 + plates[k, 5] ** 2
    vv = plates[k, 6] ** 2 + plates[k, 7] ** 2 + plates[k, 8] ** 2
    s = (px * plates[k, 3] + py * plates[k, 4] + pz * plates[k, 5]) / uu
    t = (px * plates[k, 6] + py * plates[k, 7] + pz * plates[k, 8]) / vv
    return (side * parts + _part((s + 1.0) / 2.0, parts)) * parts + _part((t + 1.0) / 2.0, parts)


@njit(cache=True, fastmath=True, nogil=True)
def _counts(box: Any, solids: Any, x: float, y: float, z: float) -> bool:
    """Return whether a place lies in the tent and in no solid."""
    for axis in range(3):
        at = x if axis == 0 else (y if axis == 1 else z)
        if at < -1e-4 or at > box[axis] + 1e-4:
            return False
    for k in range(solids.shape[0]):
        if (
            solids[k, 0] < x < solids[k, 3]
            and solids[k, 1] < y < solids[k, 4]
            and solids[k, 2] < z < solids[k, 5]
        ):
            return False
    return True


@njit(cache=True, fastmath=True, nogil=True)
def gathered(
    origins: Any,
    normals: Any,
    rays: Any,
    turns: Any,
    box: Any,
    mirrors: Any,
    face_at: Any,
    cells: Any,
    solids: Any,
    plates: Any,
    solid_at: Any,
    plate_at: Any,
    parts: Any,
    patches: int,
) -> Any:
    """Return what elements see of the patches, by rays; shape (elements, patches).

    Every element sends the same ``rays``, shape (r, 2) in the unit square, each shifted by the
    element's own ``turns``, shape (elements, origins, 2); ``origins`` (elements, origins, 3) are
    taken one after the other, ``normals`` (elements, 3). ``box`` is width, depth and height,
    ``mirrors`` the walls' mirror-like reflectances. ``face_at``, shape (6,), gives every face's
    first patch and ``cells`` into how many equal ones x, y and z are cut; ``solid_at`` (n,) and
    ``plate_at`` (m,) the first patch of every solid and plate, ``parts`` the cells along their
    sides, plates' first. Origins inside a solid or outside the tent count nothing.
    """
    count, starts, n_rays = origins.shape[0], origins.shape[1], rays.shape[0]
    out = np.zeros((count, patches))
    for p in range(count):
        sent = 0
        nx, ny, nz = normals[p, 0], normals[p, 1], normals[p, 2]
        # two directions across the normal
        hx, hy, hz = (-ny, nx, 0.0) if abs(nz) < 0.9 else (0.0, -nz, ny)
        size = math.sqrt(hx * hx + hy * hy + hz * hz)
        hx, hy, hz = hx / size, hy / size, hz / size
        kx, ky, kz = ny * hz - nz * hy, nz * hx - nx * hz, nx * hy - ny * hx
        for r in range(n_rays):
            o = r * starts // n_rays
            x = origins[p, o, 0] + 1e-5 * nx
            y = origins[p, o, 1] + 1e-5 * ny
            z = origins[p, o, 2] + 1e-5 * nz
            if not _counts(box, solids, x, y, z):
                continue
            sent += 1
            a = (rays[r, 0] + turns[p, o, 0]) % 1.0
            b = (rays[r, 1] + turns[p, o, 1]) % 1.0 * 2.0 * math.pi
            across, up = math.sqrt(a), math.sqrt(1.0 - a)
            c, s = across * math.cos(b), across * math.sin(b)
            u = c * hx + s * kx + up * nx
            v = c * hy + s * ky + up * ny
            w = c * hz + s * kz + up * nz
            weight = 1.0
            for _ in range(MOST_TURNS):
                t, face = _wall(box[0], box[1], box[2], x, y, z, u, v, w)
                if face < 0:
                    break
                t, solid, side = _solid(solids, t, x, y, z, u, v, w)
                t, plate, plate_side = _plate(plates, t, x, y, z, u, v, w)
                x, y, z = x + u * t, y + v * t, z + w * t
                if plate >= 0:
                    at = _plate_cell(plates, plate, plate_side, parts[0], x, y, z)
                    out[p, plate_at[plate] + at] += weight * plates[plate, 9]
                    weight *= 1.0 - plates[plate, 9]
                    if weight < LEAST:
                        break
                    continue
                if solid >= 0:
                    at = _solid_cell(solids, solid, side, parts[1], x, y, z)
                    out[p, solid_at[solid] + at] += weight
                    break
                first = _part(y / box[1], cells[1]) if face < 2 else _part(x / box[0], cells[0])
                second = _part(z / box[2], cells[2]) if face < 4 else _part(y / box[1], cells[1])
                along = cells[2] if face < 4 else cells[1]
                out[p, face_at[face] + first * along + second] += weight
                if face > 3:
                    break
                weight *= mirrors[face]
                if weight < LEAST:
                    break
                if face < 2:
                    x, u = (box[0] if face == 1 else 0.0), -u
                else:
                    y, v = (box[1] if face == 3 else 0.0), -v
        if sent > 0:
            for k in range(patches):
                out[p, k] /= sent
    return out


def warm_up() -> None:
    """Compile the loops, or load them from disk, for the argument types the engine uses."""
    one, side, ones = np.zeros((1, 3)), np.ones((1, 3)), np.ones(1)
    solids, plates = np.zeros((0, 6)), np.zeros((0, 11))
    for planes in (1, 3):
        table = np.ones((planes, 5))
        table.flags.writeable = False
        seen = (one, -np.eye(3)[None], ones, table)
        shaded_irradiance(-side, *seen, 1.0, 1.0, solids, plates)
        shaded_flux(-side, side, side, side, ones, 1, *seen, 2, 1.0, 1.0, solids, plates)
    whole = np.ones(3, dtype=np.int64)
    none = np.zeros(0, dtype=np.int64)
    gathered(
        one[None],
        side,
        np.zeros((1, 2)),
        np.zeros((1, 1, 2)),
        np.ones(3),
        np.zeros(4),
        np.arange(6),
        whole,
        solids,
        plates,
        none,
        none,
        whole[:2],
        6,
    )
