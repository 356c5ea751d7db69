"""Lamps' bodies in the way of light on its way back up, and back down again: quick, for plans.

A grey screen lies over the body's outline, level, at the lamp's height: of the light that crosses
it the opaque share is stopped and in part sent back from whichever side it hit. The screens' effect
is worked out on coarse diffuse patches as a ratio, point by point, of reflected light with the
bodies to reflected light without; that ratio then scales the reflected light of the full model.
A single scene follows light past the plates themselves; see :mod:`canopy.light.shade`. Lengths in
cm.
"""

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.light.enclosure import Enclosure, Patches, coarse_faces, patches_of
from canopy.light.exchange import configuration_factors
from canopy.light.images import lattice
from canopy.light.kernels import crossing_shares
from canopy.light.obstacles import body_size_cm
from canopy.light.seen import factors_seen_from
from canopy.light.sources import PlacedLamp

Array = NDArray[np.float64]

SAMPLES = 7
"""Points along each side of the screen."""


def _rectangle(lamp: PlacedLamp) -> Array:
    """Return low and high corner of the body in the lamp's own frame, shape (2, 2)."""
    x, y, width, depth = body_size_cm(lamp)
    return np.array([[x - width / 2, y - depth / 2], [x + width / 2, y + depth / 2]])


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


def _corners(patches: Patches) -> list[Array]:
    """Return four points of every patch, each shape (n, 3)."""
    return [
        patches.middles + s * patches.half_u + t * patches.half_v
        for s, t in ((-0.5, -0.5), (0.5, 0.5), (-0.5, 0.5), (0.5, -0.5))
    ]


def _blocked(lamp: PlacedLamp, starts: list[Array], ends: list[Array]) -> Array:
    """Return the share of lines between two sets of points that cross the screen, (n, m)."""
    turn = np.radians(lamp.turn_deg)
    result: Array = crossing_shares(
        np.stack(starts),
        np.stack(ends),
        np.array([lamp.x_cm, lamp.y_cm, lamp.height_cm]),
        np.array([np.cos(turn), np.sin(turn)]),
        _rectangle(lamp),
    )
    return result


class Screens:
    """A tent ready to say what lamps' bodies take from the reflected light at its points.

    Parameters
    ----------
    box : Enclosure
    points_cm : array, shape (n, 3)
    """

    def __init__(self, box: Enclosure, points_cm: Array) -> None:
        # mirrors count as matt here: only the ratio is wanted
        plain = replace(box, wall_mirror_share=(0.0,) * 4)
        self.images = lattice(plain)
        self.faces = coarse_faces(plain)
        self.patches = patches_of(self.faces)
        self.points_cm = points_cm
        self.free = configuration_factors(self.faces, self.images)
        self.seen = self._seen(points_cm, True)
        self.corners = _corners(self.patches)
        rho = self.patches.reflectance
        self.without = (self.seen * rho) @ np.linalg.inv(np.eye(len(rho)) - self.free * rho)

    def _seen(self, points: Array, upward: bool) -> Array:
        parts = [factors_seen_from(points, f, upward, self.images.whole) for f in self.faces]
        return np.concatenate(parts, axis=1)

    def reflected(self, exchange: Array, to_points: Array, rho: Array, first: Array) -> Array:
        """Return reflected light at points, shape (points,) or (points, k).

        ``first`` is the patches' direct irradiance, shape (patches,) or, of k lamps, (patches, k).
        """
        settled = np.linalg.solve(np.eye(len(rho)) - exchange * rho, first)
        return np.asarray((to_points * rho) @ settled)

    def ratio(
        self, bodies: tuple[PlacedLamp, ...], first: Array, past: Array, on_tops: Array
    ) -> Array:
        """Return reflected light with bodies over reflected light without, shape (points,).

        ``first`` is the direct irradiance of the tent's coarse patches, ``past`` what the bodies
        leave of it, ``on_tops`` the flux that falls on each body from above, shape (bodies,).
        """
        blocked, to_points = self.free.copy(), self.seen.copy()
        sent_back = np.zeros_like(blocked)
        for lamp, on_top in zip(bodies, on_tops):
            body = lamp.body
            assert body is not None
            screen, area = _screen_points(lamp)
            # screen to patches: factors averaged over its points, downwards and upwards
            below, above = (self._seen(screen, up).mean(axis=0) for up in (False, True))
            given_back = body.coverage * body.reflectance
            for view in (below, above):
                sent_back += np.outer(view * area / self.patches.areas_cm2, view) * given_back
            blocked *= 1 - body.coverage * _blocked(lamp, self.corners, self.corners)
            to_points *= 1 - body.coverage * _blocked(lamp, [self.points_cm], self.corners)
            # the screen's lower side seen from the points, sample by sample
            away = screen[None, :, :] - self.points_cm[:, None, :]
            d2 = (away**2).sum(axis=2)
            facing = np.maximum(away[..., 2], 0.0) ** 2 / (np.pi * d2**2) * (area / len(screen))
            to_points += given_back * facing.sum(axis=1)[:, None] * below[None, :]
            past = past + body.reflectance * on_top * above / self.patches.areas_cm2 * CM2_PER_M2
        with_body = self.reflected(blocked + sent_back, to_points, self.patches.reflectance, past)
        without = self.without @ first
        result: Array = np.divide(
            with_body, without, out=np.ones(len(self.points_cm)), where=without > 0
        )
        return result
