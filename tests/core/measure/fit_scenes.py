"""Four tents that are not as noted, and what Radiance makes of them at three heights.

``python -m tests.core.measure.fit_scenes`` traces the references anew (some minutes) and writes
them beside this file. rtrace takes no seed; its repeats differ by its own sequence.
"""

import json
import tempfile
from dataclasses import dataclass, replace
from pathlib import Path

import numpy as np

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, PlacedLamp, Ring
from tests.core.light import radiance

FILE = Path(__file__).with_name("fit_references.json")
RAYS, REPEATS = 768, 6
GRID = Grid(4, 4, "cells")
EDGE_CM = 8.0


@dataclass(frozen=True)
class Told:
    """A tent and its lamp as noted and as they are, where it is read, and where it is asked."""

    box: Enclosure
    lamp: PlacedLamp
    true_box: Enclosure
    true_lamp: PlacedLamp
    apart_cm: float
    power: float
    read_cm: float
    asked_cm: tuple[float, float]

    def spots(self) -> np.ndarray:
        """The middle and the four corners, 8 cm from the walls."""
        w, d, e = self.box.width_cm, self.box.depth_cm, EDGE_CM
        return np.array([(w / 2, d / 2), (e, e), (w - e, e), (e, d - e), (w - e, d - e)])


NOTED = Enclosure(120, 90, 140, (0.8,) * 4, 0.8, 0.15)
BRIGHT = replace(NOTED, wall_reflectance=(0.86,) * 4, ceiling_reflectance=0.86)
SMALL = Enclosure(80, 80, 120, (0.8,) * 4, 0.8, 0.15)
SIX = PlacedLamp(Bars.even(6, 76, 92), 624, 60, 45, 40)
PLATE = PlacedLamp(Board(40, 40), 300, 40, 40, 35)

# a name, what is noted and what is so: scale, walls, canopy, beam, offset, tilt
SCENES = {
    "a weaker lamp in a duller tent": Told(
        NOTED, SIX,
        replace(NOTED, wall_reflectance=(0.7, 0.72, 0.68, 0.7), ceiling_reflectance=0.7),
        replace(SIX, ppf_umol_s=560, x_cm=61.5), 20, 1, 40, (25, 60),
    ),
    "a brighter tent, a lamp hung off the middle": Told(
        NOTED, SIX,
        replace(BRIGHT, canopy_reflectance=0.2),
        replace(SIX, ppf_umol_s=680, y_cm=47.5), 20, 1, 45, (28, 65),
    ),
    "a board that shines narrower": Told(
        SMALL, PLATE,
        replace(SMALL, wall_reflectance=(0.74,) * 4),
        replace(PLATE, ppf_umol_s=320, x_cm=41), 10, 1.5, 35, (22, 50),
    ),
    "walls that differ, a lamp that hangs crooked": Told(
        NOTED, PlacedLamp(Ring(50), 260, 60, 45, 45),
        replace(NOTED, wall_reflectance=(0.86, 0.68, 0.78, 0.82), ceiling_reflectance=0.75),
        PlacedLamp(Ring(50), 245, 60, 45, 45, tilt_deg=2), 12, 1, 45, (30, 65),
    ),
}  # fmt: skip


def traced(told: Told) -> dict[str, list[float]]:
    """Radiance's irradiance at the spots, and at the grid from two other heights."""
    found = {}
    grid = GRID.points_cm(told.box.width_cm, told.box.depth_cm)
    spots = np.column_stack([told.spots(), np.zeros(5)])
    for name, height, points in (
        ("read", told.read_cm, spots),
        ("nearer", told.asked_cm[0], grid),
        ("farther", told.asked_cm[1], grid),
    ):
        lamp = replace(told.true_lamp, height_cm=height)
        source = radiance.source(lamp, 0, told.apart_cm, told.power)
        with tempfile.TemporaryDirectory() as folder:
            radiance.write_octree(Path(folder), radiance.box(told.true_box) + source)
            settings = radiance.SETTINGS.format(rays=RAYS, least=1e-4)
            mean = radiance.rtrace(Path(folder), settings, points, REPEATS)
        found[name] = np.asarray(mean).round(3).tolist()
    return found


if __name__ == "__main__":
    FILE.write_text(
        json.dumps({name: traced(told) for name, told in SCENES.items()}, indent=1) + "\n"
    )
