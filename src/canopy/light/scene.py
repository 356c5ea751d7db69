"""One tent with its lamps at one setting, and the map that follows."""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import (
    Grid,
    beyond_bound,
    canopy_flux_umol_s,
    capture,
    map_statistics,
)
from canopy.light.lightmap import MapStatistics as MapStatistics
from canopy.light.obstacles import obstacles
from canopy.light.sources import PlacedLamp
from canopy.light.stands import Stand, raised
from canopy.light.transport import prepare
from canopy.words import Said, said

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Scene:
    """A tent, its lamps and the points asked for.

    ``grid`` is a :class:`Grid`, whose points the ``stands`` under them lift, or points as
    (x_cm, y_cm, z_above_canopy_cm) rows.
    """

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    grid: Grid | tuple[tuple[float, float, float], ...]
    stands: tuple[Stand, ...] = ()

    def points_cm(self) -> Array:
        """Return the points, shape (n, 3)."""
        if isinstance(self.grid, Grid):
            points = self.grid.points_cm(self.box.width_cm, self.box.depth_cm)
            return raised(points, self.stands)
        return np.asarray(self.grid, dtype=float).reshape(-1, 3)


@dataclass(frozen=True)
class SceneMap:
    """The PPFD at a scene's points and what follows from it.

    ``ppfd_umol_m2_s`` has shape (n,), y slowest on a grid. ``canopy_umol_s`` and ``capture``
    are ``None`` for free points, and ``capture`` in the dark.
    """

    points_cm: Array
    ppfd_umol_m2_s: Array
    statistics: MapStatistics
    canopy_umol_s: float | None
    capture: float | None


POINTS_APART = 1.5
"""A lamp nearer to a grid's points than so many times their distance hides its peak between them:
beside bars 5 cm above points 7 cm apart 8 % of it."""


def warnings(scene: Scene, answer: SceneMap) -> tuple[Said, ...]:
    """Return what of a map can't be trusted, and what to do."""
    found = [beyond_bound(answer.capture, scene.box.canopy_reflectance)]
    if isinstance(scene.grid, Grid):
        axes = scene.grid.axes_cm(scene.box.width_cm, scene.box.depth_cm)
        sides = scene.box.width_cm, scene.box.depth_cm
        apart = max(
            float(np.diff(at).max()) if len(at) > 1 else side for at, side in zip(axes, sides)
        )
        tops = float(answer.points_cm[:, 2].max(initial=0.0))
        gap = min(float(lamp.outline()[:, 2].min()) for lamp in scene.lamps) - tops
        if gap < POINTS_APART * apart and len(answer.points_cm) > 1:
            found.append(said("light.coarse_grid", gap_cm=gap, apart_cm=apart))
    if any(0 < plate.opaque < 1 for plate in obstacles((), scene.lamps).plates):
        found.append(said("light.grey_body"))
    return tuple(each for each in found if each is not None)


POINTS_TOGETHER = 4000
"""So many points are prepared at once where things stand in the tent."""


def _ppfd(scene: Scene, points_cm: Array) -> Array:
    """Return the light at points, shape (n,), with all that stands in its way."""
    things = obstacles(scene.stands, scene.lamps)
    if not things:
        transport = prepare(scene.box, points_cm)
        return np.asarray(np.sum([transport.irradiance(lamp) for lamp in scene.lamps], axis=0))
    parts = []
    for at in range(0, len(points_cm), POINTS_TOGETHER):
        transport = prepare(scene.box, points_cm[at : at + POINTS_TOGETHER], things=things)
        # their bodies are among the things
        lamps = [replace(lamp, body=None) for lamp in scene.lamps]
        parts.append(np.sum([transport.irradiance(lamp) for lamp in lamps], axis=0))
    return np.concatenate(parts)


def scene_map(scene: Scene) -> SceneMap:
    """Return the light map of a scene."""
    points = scene.points_cm()
    ppfd = _ppfd(scene, points)
    if not isinstance(scene.grid, Grid):
        return SceneMap(points, ppfd, map_statistics(ppfd), None, None)
    statistics = map_statistics(ppfd, scene.grid.area_weights())
    on_canopy = canopy_flux_umol_s(statistics.area_mean, scene.box.width_cm, scene.box.depth_cm)
    emitted = sum(lamp.flux_umol_s for lamp in scene.lamps)
    return SceneMap(points, ppfd, statistics, on_canopy, capture(on_canopy, emitted))
