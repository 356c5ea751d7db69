"""Configuration factors in closed form, as differences of corner functions, compiled.

A corner function is evaluated where grid lines cross; the factor of a cell is the signed
difference over its corners, so the factors of neighbouring cells add up exactly.

Sources: element to rectangle, Siegel & Howell, *Thermal Radiation Heat Transfer*, appendix of
configuration factors; rectangle to rectangle, J. R. Ehlert & T. F. Smith, *View factors for
perpendicular and parallel rectangular plates*, J. Thermophys. Heat Transfer 7 (1993) 173-174.
All lengths share one unit; factors have none. Compiled, these loops let other threads work.
"""

import math
from typing import Any

import numpy as np
from numba import njit


@njit(cache=True, fastmath=True, inline="always")
def _atan(x: float) -> float:
    """Return the arc tangent, in a form of which several are worked out at a time.

    S. L. Moshier's rational approximation (Cephes), from memory; a test holds it to 1e-15.
    """
    size = abs(x)
    far, middle = size > 2.414213562373095, size > 0.66
    top = -1.0 if far else (size - 1.0 if middle else size)
    low = size if far else (size + 1.0 if middle else 1.0)
    offset = math.pi / 2 if far else (math.pi / 4 if middle else 0.0)
    y = top / low
    z = y * y
    p = -8.750608600031904e-1
    p = p * z - 1.615753718733365e1
    p = p * z - 7.500855792314705e1
    p = p * z - 1.228866684490136e2
    p = p * z - 6.485021904942025e1
    q = z + 2.485846490142306e1
    q = q * z + 1.650270098316989e2
    q = q * z + 4.328810604912903e2
    q = q * z + 4.853903996359137e2
    q = q * z + 1.945506571482614e2
    found = offset + y + y * z * p / q
    return found if x >= 0.0 else -found


@njit(cache=True, nogil=True, error_model="numpy")
def arc_tangents(values: Any) -> Any:
    """Return the arc tangents the kernels use, shape (n,)."""
    out = np.empty(values.shape[0])
    for k in range(values.shape[0]):
        out[k] = _atan(values[k])
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def upright_shares(
    across: Any, along: Any, up: Any, planes: Any, lines: Any, rows: Any, weights: Any
) -> Any:
    """Return how much of upright rectangles level elements see, shape (n, columns * rows).

    Elements stand ``across`` (n,) and ``along`` (n,) the rectangles' planes and, counted along
    their own normal, ``up`` (n,). Each of m images has its plane (m,), its column lines (m, u + 1)
    along it and a weight (m,); ``rows`` (v + 1,) are counted like ``up``, what lies behind an
    element is not seen. Shares keep the sign of the lines' order.
    """
    count, columns, high = across.shape[0], lines.shape[1] - 1, rows.shape[0] - 1
    out = np.zeros((count, columns * high))
    reach, share = np.empty(high + 1), np.empty(high + 1)
    last, here = np.empty(high + 1), np.empty(high + 1)
    for k in range(planes.shape[0]):
        for n in range(count):
            away = max(abs(across[n] - planes[k]), 1e-12)
            for v in range(high + 1):
                above = max(rows[v] - up[n], 0.0)
                reach[v] = math.sqrt(away * away + above * above)
                share[v] = weights[k] * away / (2.0 * math.pi * reach[v])
            for u in range(columns + 1):
                lateral = lines[k, u] - along[n]
                for v in range(high + 1):
                    here[v] = share[v] * _atan(lateral / reach[v])
                if u > 0:
                    for v in range(high):
                        out[n, (u - 1) * high + v] += (here[v] - last[v]) - (
                            here[v + 1] - last[v + 1]
                        )
                last, here = here, last
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def level_shares(x: Any, y: Any, gaps: Any, lines_x: Any, lines_y: Any, weights: Any) -> Any:
    """Return how much of level rectangles level elements see, shape (n, columns * rows).

    ``gaps`` (n,) are from the elements to the rectangles' plane, nothing is seen where they are
    not positive. Each of m images has its lines (m, u + 1) and (m, v + 1) and a weight (m,).
    """
    count, columns, deep = x.shape[0], lines_x.shape[1] - 1, lines_y.shape[1] - 1
    out = np.zeros((count, columns * deep))
    last, here = np.empty(deep + 1), np.empty(deep + 1)
    for k in range(weights.shape[0]):
        for n in range(count):
            if gaps[n] <= 0.0:
                continue
            for u in range(columns + 1):
                a = (lines_x[k, u] - x[n]) / gaps[n]
                ra = math.sqrt(1.0 + a * a)
                for v in range(deep + 1):
                    b = (lines_y[k, v] - y[n]) / gaps[n]
                    rb = math.sqrt(1.0 + b * b)
                    here[v] = a / ra * _atan(b / ra) + b / rb * _atan(a / rb)
                if u > 0:
                    for v in range(deep):
                        out[n, (u - 1) * deep + v] += (
                            weights[k]
                            / (2.0 * math.pi)
                            * ((here[v + 1] - last[v + 1]) - (here[v] - last[v]))
                        )
                last, here = here, last
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def parallel_corners(du: Any, dv: Any, distances: Any, weights: Any) -> Any:
    """Return corner values of rectangles in parallel planes, weighted over planes, shape (n, m).

    ``du`` (n,) and ``dv`` (m,) are differences of the two rectangles' lines along the shared axes,
    ``distances`` (k,) > 0 those of the planes; area x factor is the fourth difference.
    """
    out = np.zeros((du.shape[0], dv.shape[0]))
    for k in range(distances.shape[0]):
        square, share = distances[k] ** 2, weights[k] / (2.0 * math.pi)
        for i in range(du.shape[0]):
            u = du[i]
            ru = math.sqrt(u * u + square)
            for j in range(dv.shape[0]):
                v = dv[j]
                rv = math.sqrt(v * v + square)
                out[i, j] += share * (
                    v * ru * _atan(v / ru)
                    + u * rv * _atan(u / rv)
                    - 0.5 * square * math.log(u * u + v * v + square)
                )
    return out


@njit(cache=True, fastmath=True, nogil=True, error_model="numpy")
def perpendicular_cells(along: Any, first: Any, second: Any, weights: Any) -> Any:
    """Return second differences of corner values of rectangles at right angles, (n, f, s).

    ``along`` (n,) are differences of lines where the planes meet, ``first`` (r, f + 1) and
    ``second`` (r, s + 1) the lines' distances from there for r pairs of planes, weighted; area x
    factor is the second difference along the first.
    """
    high, deep = first.shape[1] - 1, second.shape[1] - 1
    out = np.zeros((along.shape[0], high, deep))
    last, here = np.empty(deep + 1), np.empty(deep + 1)
    for k in range(first.shape[0]):
        share = weights[k] / (2.0 * math.pi)
        for i in range(along.shape[0]):
            line = along[i]
            for f in range(high + 1):
                for s in range(deep + 1):
                    span2 = first[k, f] * first[k, f] + second[k, s] * second[k, s]
                    span = math.sqrt(span2)
                    whole = span2 + line * line
                    here[s] = line * span * _atan(line / max(span, 1e-300)) - 0.25 * (
                        span2 - line * line
                    ) * math.log(max(whole, 1e-300))
                if f > 0:
                    for s in range(deep):
                        out[i, f - 1, s] += share * (
                            (here[s + 1] - here[s]) - (last[s + 1] - last[s])
                        )
                last, here = here, last
    return out


def warm_up() -> None:
    """Compile the loops, or load them from disk."""
    ones, two = np.ones(1), np.array([[0.0, 1.0]])
    arc_tangents(ones)
    upright_shares(ones, ones, ones, ones, two, two[0], ones)
    level_shares(ones, ones, ones, two, two, ones)
    parallel_corners(ones, ones, ones, ones)
    perpendicular_cells(ones, two, two, ones)
