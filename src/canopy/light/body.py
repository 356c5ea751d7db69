"""The lamp's own body in the way of light on its way back up, and back down again.

A grey screen lies over the layout's bounding rectangle, level, at the lamp's height: of the light
that crosses it the opaque share is stopped and in part sent back from whichever side it hit. The
screen's effect is worked out on coarse diffuse patches as a ratio, point by point, of reflected
light with the body to reflected light without; that ratio then scales the reflected light of the
full model. Lengths in cm.
"""

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure, Patches, coarse_faces, patches_of
from canopy.light.exchange import configuration_factors
from canopy.light.images import lattice
from canopy.light.seen import factors_seen_from
from canopy.light.sources import Body, PlacedLamp

Array = NDArray[np.float64]

SAMPLES = 7
"""Points along each side of the screen."""

SELF = [(0, 0, 1.0)]


def _rectangle(lamp: PlacedLamp) -> Array:
    """Return low and high corner of the layout in the lamp's own frame, shape (2, 2)."""
    outline = lamp.layout.outline()[:, :2]
    return np.array([outline.min(axis=0), outline.max(axis=0)])


def _screen_points(lamp: PlacedLamp) -> tuple[Array, float]:
    """Return sample points of the screen in the tent, shape (k, 3), and its area in cm2."""
    low, high = _rectangle(lamp)
    at = (np.arange(SAMPLES) + 0.5) / SAMPLES
    x, y = np.meshgrid(low[0] + at * (high[0] - low[0]), low[1] + at * (high[1] - low[1]))
    own = np.stack([x.ravel(), y.ravel()], axis=1)
    turn = np.radians(lamp.turn_deg)
    c, s = np.cos(turn), np.sin(turn)
    placed = own @ np.array([[c, s], [-s, c]]) + [lamp.x_cm, lamp.y_cm]
    points = np.column_stack([placed, np.full(len(own), lamp.height_cm)])
    return points, float(np.prod(high - low))


def _crossing(lamp: PlacedLamp, start: Array, end: Array) -> Array:
    """Return where straight lines cross the screen, shape of start and end broadcast."""
    rise = end[..., 2] - start[..., 2]
    above = (start[..., 2] - lamp.height_cm) * (end[..., 2] - lamp.height_cm) < 0
    share = np.where(above, (lamp.height_cm - start[..., 2]) / np.where(above, rise, 1.0), 0.0)
    x = start[..., 0] + share * (end[..., 0] - start[..., 0]) - lamp.x_cm
    y = start[..., 1] + share * (end[..., 1] - start[..., 1]) - lamp.y_cm
    turn = np.radians(lamp.turn_deg)
    c, s = np.cos(turn), np.sin(turn)
    own_x, own_y = c * x + s * y, c * y - s * x
    low, high = _rectangle(lamp)
    inside: Array = (
        above
        & (own_x >= low[0]) & (own_x <= high[0]) & (own_y >= low[1]) & (own_y <= high[1])
    ).astype(float)  # fmt: skip
    return inside


def _corners(patches: Patches) -> list[Array]:
    """Return four points of every patch, each shape (n, 3)."""
    return [
        patches.middles + s * patches.half_u + t * patches.half_v
        for s, t in ((-0.5, -0.5), (0.5, 0.5), (-0.5, 0.5), (0.5, -0.5))
    ]


def _blocked(lamp: PlacedLamp, starts: list[Array], ends: list[Array]) -> Array:
    """Return the share of lines between two sets of points that cross the screen, (n, m)."""
    shares = [_crossing(lamp, a[:, None, :], b[None, :, :]) for a in starts for b in ends]
    return np.asarray(np.mean(shares, axis=0))


def reflected_ratio(box: Enclosure, points_cm: Array, lamp: PlacedLamp, body: Body,
                    first: Array) -> Array:  # fmt: skip
    """Return reflected light with the body over reflected light without it, shape (points,).

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
    lamp : PlacedLamp
    body : Body
    first : array, shape (coarse patches,)
        Direct irradiance of the tent's coarse patches.
    """
    faces = coarse_faces(box)
    patches = patches_of(faces)
    free = configuration_factors(faces, lattice(Enclosure(
        box.width_cm, box.depth_cm, box.height_cm, box.wall_reflectance,
        box.ceiling_reflectance, box.canopy_reflectance,
    )))  # fmt: skip
    sides = (*box.wall_reflectance, box.ceiling_reflectance, box.canopy_reflectance)
    rho = np.concatenate([np.full(face.size, r) for face, r in zip(faces, sides)])
    images = lattice(box)
    seen = np.concatenate(
        [factors_seen_from(points_cm, f, True, images, SELF) for f in faces], axis=1
    )
    screen, area = _screen_points(lamp)
    identity = np.eye(len(rho))

    def onto(exchange: Array, from_points: Array) -> Array:
        settled = np.linalg.solve(identity - exchange * rho, first)
        result: Array = from_points @ (rho * settled)
        return result

    # screen to patches: factors averaged over its points, upwards and downwards
    views = [
        np.mean(
            np.concatenate([factors_seen_from(screen, f, up, images, SELF) for f in faces], axis=1),
            axis=0,
        )
        for up in (False, True)
    ]
    sent_back = sum(
        np.outer(view * area / patches.areas_cm2, view) * body.coverage * body.reflectance
        for view in views
    )
    corners = _corners(patches)
    blocked = free * (1 - body.coverage * _blocked(lamp, corners, corners)) + sent_back
    to_points = seen * (1 - body.coverage * _blocked(lamp, [points_cm], corners))
    # the screen's lower side seen from the points, sample by sample
    away = screen[None, :, :] - points_cm[:, None, :]
    d2 = (away**2).sum(axis=2)
    facing = np.maximum(away[..., 2], 0.0) ** 2 / (np.pi * d2**2) * (area / len(screen))
    to_points = to_points + (
        body.coverage * body.reflectance * facing.sum(axis=1)[:, None] * views[0][None, :]
    )
    without = onto(free, seen)
    result: Array = np.divide(
        onto(blocked, to_points), without, out=np.ones(len(points_cm)), where=without > 0
    )
    return result
