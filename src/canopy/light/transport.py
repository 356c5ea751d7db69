"""How light travels in the tent: straight from the lamp, and by way of the walls.

E(points) = direct + W E0, where E0 is the mean direct irradiance of every fine patch and W the
tent's transport operator. W depends on the tent and on the points, not on the lamps: it is built
once and serves every lamp, height and dial. The first bounce is taken on fine patches, later
bounces on coarse ones. Lengths in cm, flux in umol s-1, irradiance in umol m-2 s-1.
"""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.light.configuration import facing_corner, upright_corner
from canopy.light.enclosure import (
    WALLS,
    Enclosure,
    Face,
    averaging,
    coarse_faces,
    configuration_factors,
    fine_faces,
)
from canopy.light.sources import GAUSS, PlacedLamp

Array = NDArray[np.float64]

CHUNK = 2_000_000
"""Most point-emitter pairs held in memory at once."""


def direct_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the direct light at this height."""
    return float(np.clip(height_cm / 1.6, 0.5, 5.0))


def bounce_spacing_cm(height_cm: float) -> float:
    """Return how far apart emitters may stand for the light that reaches the walls first."""
    return float(np.clip(height_cm / 2, 2.0, 10.0))


def direct_irradiance(points_cm: Array, lamp: PlacedLamp) -> Array:
    """Return the light that reaches upward-facing points straight from a lamp.

    Parameters
    ----------
    points_cm : array, shape (n, 3)
    lamp : PlacedLamp

    Returns
    -------
    array, shape (n,)
        Sum over emitters of flux (m+1)/(2 pi) cos^m(theta) cos(beta) / d^2.
    """
    gap = lamp.height_cm - float(points_cm[:, 2].max(initial=0.0))
    places, flux = lamp.emitters(direct_spacing_cm(gap))
    power = lamp.cosine_power
    out = np.empty(len(points_cm))
    step = max(1, CHUNK // len(places))
    for start in range(0, len(points_cm), step):
        part = points_cm[start : start + step]
        dx = part[:, None, 0] - places[None, :, 0]
        dy = part[:, None, 1] - places[None, :, 1]
        dz = np.maximum(places[None, :, 2] - part[:, None, 2], 0.0)
        d2 = dx * dx + dy * dy + dz * dz
        # cos(theta) = cos(beta) = dz / d for a level lamp over a level point
        kernel = dz**2 / d2**2 if power == 1.0 else dz ** (power + 1) / d2 ** ((power + 3) / 2)
        out[start : start + step] = kernel @ flux
    result: Array = out * (power + 1) / (2 * np.pi) * CM2_PER_M2
    return result


def _wall_frame(face: Face) -> tuple[int, int]:
    """Axis a wall is perpendicular to, and the level axis along it."""
    return face.axis, 1 - face.axis


def _cell_sum(corner: Array) -> Array:
    """Second difference over the last two axes, flattened."""
    return np.diff(np.diff(corner, axis=-1), axis=-2).reshape(*corner.shape[:-2], -1)


def _factors_seen_from(points: Array, face: Face, upward: bool) -> Array:
    """Return configuration factors from level elements to a face's cells, shape (n, cells).

    The elements face up or down; what lies behind them counts nothing.
    """
    sign = 1.0 if upward else -1.0
    if face.axis == 2:
        gap = sign * (face.at_cm - points[:, 2])
        ahead = np.maximum(gap, 1e-9)[:, None, None]
        dx = face.u_lines[None, :, None] - points[:, 0, None, None]
        dy = face.v_lines[None, None, :] - points[:, 1, None, None]
        cells = _cell_sum(facing_corner(ahead, dx, dy))
        return np.where(gap[:, None] > 0, cells, 0.0)
    across, along = _wall_frame(face)
    away = np.abs(points[:, across] - face.at_cm)[:, None, None]
    lateral = face.u_lines[None, :, None] - points[:, along, None, None]
    vertical = np.maximum(sign * (face.v_lines[None, None, :] - points[:, 2, None, None]), 0.0)
    return -sign * _cell_sum(upright_corner(away, lateral, vertical))


def _level_lambertian_flux(places: Array, flux: Array, face: Face) -> Array:
    """Flux on every cell of a face from level Lambertian emitters facing down, exact."""
    result: Array = flux @ _factors_seen_from(places, face, upward=False)
    return result


def _gauss_points(face: Face) -> tuple[Array, Array]:
    """2 x 2 Gauss points of every cell, shape (cells, 4, 3), and their areas, shape (cells,)."""
    along = [a for a in (0, 1, 2) if a != face.axis]
    offsets = 0.5 + np.array([-GAUSS, GAUSS])
    grids = []
    for axis in along:
        bounds = face.bounds(axis)
        grids.append(bounds[:, :1] + np.diff(bounds, axis=1) * offsets[None, :])
    points = np.empty((face.size, 2, 2, 3))
    points[..., face.axis] = face.at_cm
    points[..., along[0]] = grids[0][:, :, None]
    points[..., along[1]] = grids[1][:, None, :]
    return points.reshape(face.size, 4, 3), face.areas_cm2


def _quadrature_flux(places: Array, flux: Array, power: float, faces: list[Face]) -> Array:
    """Flux on the cells of all faces by Gauss points, each emitter's sum set to its flux."""
    shares = []
    for face in faces:
        points, areas = _gauss_points(face)
        away = points.reshape(1, -1, 3) - places[:, None, :]
        d2 = (away**2).sum(axis=2)
        down = np.maximum(-away[..., 2], 0.0)
        onto = np.abs(away[..., face.axis])
        kernel = down**power * onto / d2 ** ((power + 3) / 2)
        shares.append(kernel.reshape(len(places), -1, 4).mean(axis=2) * areas)
    whole = np.concatenate(shares, axis=1)
    result: Array = (flux / whole.sum(axis=1)) @ whole
    return result


def patch_irradiance(faces: list[Face], lamp: PlacedLamp) -> Array:
    """Return the mean direct irradiance of every patch, shape (patches,).

    Exact for level Lambertian emitters (reciprocal configuration factors); by 2 x 2 Gauss
    points otherwise, each emitter's sum then set to its flux.
    """
    places, flux = lamp.emitters(bounce_spacing_cm(lamp.height_cm))
    if lamp.cosine_power == 1.0:
        parts = [_level_lambertian_flux(places, flux, face) for face in faces]
        on_patches = np.concatenate(parts)
    else:
        on_patches = _quadrature_flux(places, flux, lamp.cosine_power, faces)
    areas = np.concatenate([face.areas_cm2 for face in faces])
    result: Array = on_patches / areas * CM2_PER_M2
    return result


@dataclass(frozen=True)
class Transport:
    """A prepared tent: what its surfaces add at given points.

    ``operator`` has shape (points, fine patches); ``faces`` are the fine faces.
    """

    points_cm: Array
    faces: list[Face]
    operator: Array

    def reflected(self, lamp: PlacedLamp) -> Array:
        """Return the light that reaches the points by way of the surfaces, shape (points,)."""
        result: Array = self.operator @ patch_irradiance(self.faces, lamp)
        return result

    def irradiance(self, lamp: PlacedLamp) -> Array:
        """Return direct and reflected light at the points, shape (points,)."""
        result: Array = direct_irradiance(self.points_cm, lamp) + self.reflected(lamp)
        return result


def prepare(box: Enclosure, points_cm: Array, refine: int = 1) -> Transport:
    """Return the tent's transport operator for level, upward-facing points.

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
        x, y and height above the canopy plane.
    refine : int
        Multiplies the patches along every side, for convergence checks.

    Notes
    -----
    W = Gf Rf + Gc Rc [(I - F Rc)^-1 - I] P: with one level the error falls like 1/n, with the
    first bounce on fine patches it is already small on few.
    """
    coarse = coarse_faces(box, refine)
    fine = fine_faces(coarse)
    rho_c = np.concatenate([np.full(f.size, f.reflectance) for f in coarse])
    rho_f = np.concatenate([np.full(f.size, f.reflectance) for f in fine])
    seen_c = np.concatenate([_factors_seen_from(points_cm, f, True) for f in coarse], axis=1)
    seen_f = np.concatenate([_factors_seen_from(points_cm, f, True) for f in fine], axis=1)
    exchange = configuration_factors(coarse)
    bounced = seen_c * rho_c
    identity = np.eye(len(rho_c))
    # row vector x of x (I - F R) = bounced gives all bounces from the first on
    every_bounce = np.linalg.solve((identity - exchange * rho_c).T, bounced.T).T
    later = every_bounce - bounced
    spread = np.zeros((len(points_cm), len(rho_f)))
    at_c = at_f = 0
    for face, cut in zip(coarse, fine):
        block = later[:, at_c : at_c + face.size] @ averaging(face, cut)
        spread[:, at_f : at_f + cut.size] = block
        at_c, at_f = at_c + face.size, at_f + cut.size
    return Transport(points_cm, fine, seen_f * rho_f + spread)


def absorbed_umol_s(box: Enclosure, lamp: PlacedLamp) -> dict[str, float]:
    """Return where a lamp's light ends: flux absorbed by each face, open sides included.

    The six sum to the lamp's flux. Keys: left, right, front, back, ceiling, canopy.
    """
    coarse = coarse_faces(box)
    areas = np.concatenate([face.areas_cm2 for face in coarse]) / CM2_PER_M2
    rho = np.concatenate([np.full(face.size, face.reflectance) for face in coarse])
    first = patch_irradiance(coarse, lamp)
    settled = np.linalg.solve(np.eye(len(rho)) - configuration_factors(coarse) * rho, first)
    absorbed = (1 - rho) * settled * areas
    ends = np.cumsum([0] + [face.size for face in coarse])
    names = (*WALLS, "ceiling", "canopy")
    return {name: float(absorbed[a:b].sum()) for name, a, b in zip(names, ends[:-1], ends[1:])}
