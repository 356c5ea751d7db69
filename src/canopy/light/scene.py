"""One tent with its lamps at one setting, and the map that follows."""

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid, canopy_flux_umol_s, capture, map_statistics
from canopy.light.lightmap import MapStatistics as MapStatistics
from canopy.light.sources import PlacedLamp
from canopy.light.transport import prepare

Array = NDArray[np.float64]


@dataclass(frozen=True)
class Scene:
    """A tent, its lamps and the points asked for.

    ``grid`` is a :class:`Grid`, or points as (x_cm, y_cm, z_above_canopy_cm) rows.
    """

    box: Enclosure
    lamps: tuple[PlacedLamp, ...]
    grid: Grid | tuple[tuple[float, float, float], ...]

    def points_cm(self) -> Array:
        """Return the points, shape (n, 3)."""
        if isinstance(self.grid, Grid):
            return self.grid.points_cm(self.box.width_cm, self.box.depth_cm)
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


def scene_map(scene: Scene) -> SceneMap:
    """Return the light map of a scene."""
    points = scene.points_cm()
    transport = prepare(scene.box, points)
    ppfd = np.sum([transport.irradiance(lamp) for lamp in scene.lamps], axis=0)
    if not isinstance(scene.grid, Grid):
        return SceneMap(points, ppfd, map_statistics(ppfd), None, None)
    statistics = map_statistics(ppfd, scene.grid.area_weights())
    on_canopy = canopy_flux_umol_s(statistics.area_mean, scene.box.width_cm, scene.box.depth_cm)
    emitted = sum(lamp.flux_umol_s for lamp in scene.lamps)
    return SceneMap(points, ppfd, statistics, on_canopy, capture(on_canopy, emitted))
