"""Low lamps and a flat space, and what Radiance makes of them.

``python -m tests.core.light.low_scenes`` traces the references anew (about half an hour), or those
named, and writes them beside this file: means over repeats and their standard errors. rtrace takes
no seed; its repeats differ by its own sequence.
"""

import json
import sys
import tempfile
from pathlib import Path

import numpy as np

from canopy.light.enclosure import Enclosure
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, Board, PlacedLamp
from tests.core.light import radiance

FILE = Path(__file__).with_name("low_references.json")
RAYS, REPEATS = 768, 14
MORE_REPEATS = 56
"""Where a lamp beside a wall leaves the far side dim."""

TENT = Enclosure(90, 90, 160, (0.8,) * 4, 0.8, 0.15)
WIDE = Enclosure(150, 150, 200, (0.8,) * 4, 0.8, 0.15)
FLAT = Enclosure(300, 300, 40, (0.8,) * 4, 0.8, 0.15)
GRID = Grid(4, 3)

# a name, the space, its lamp and how far apart Radiance's sources stand
SCENES = {
    "a strip 8 cm above the tops": (TENT, PlacedLamp(Board(4, 85), 200, 45, 45, 8), 4.0),
    "the strip beside a wall": (TENT, PlacedLamp(Board(4, 85), 200, 10, 45, 8), 4.0),
    "a strip 5 cm up beside a wall of a wide tent": (
        WIDE,
        PlacedLamp(Board(4, 145), 300, 10, 75, 5),
        2.0,
    ),
    "a board 12 cm above the tops": (TENT, PlacedLamp(Board(40, 40), 300, 45, 45, 12), 6.0),
    "bars 6 cm above the tops": (TENT, PlacedLamp(Bars.even(4, 60, 60), 300, 45, 45, 6), 3.0),
    "a flat space": (FLAT, PlacedLamp(Board(100, 100), 1500, 150, 150, 25), 12.0),
}


BESIDE_A_WALL = tuple(name for name in SCENES if "beside a wall" in name)


def traced(name: str) -> dict[str, list[float]]:
    """Radiance's irradiance at the grid, and its standard error."""
    tent, lamp, apart_cm = SCENES[name]
    points = GRID.points_cm(tent.width_cm, tent.depth_cm)
    scene = radiance.box(tent) + radiance.source(lamp, 0, apart_cm, 1)
    found, repeats = [], MORE_REPEATS if name in BESIDE_A_WALL else REPEATS
    with tempfile.TemporaryDirectory() as folder:
        radiance.write_octree(Path(folder), scene)
        settings = radiance.SETTINGS.format(rays=RAYS, least=1e-4)
        for _ in range(repeats):
            found.append(radiance.rtrace(Path(folder), settings, points))
    error = np.std(found, axis=0, ddof=1) / np.sqrt(repeats)
    return {"mean": np.mean(found, axis=0).round(3).tolist(), "error": error.round(3).tolist()}


if __name__ == "__main__":
    kept = json.loads(FILE.read_text())
    for named in sys.argv[1:] or SCENES:
        kept[named] = traced(named)
        FILE.write_text(json.dumps(kept, indent=1) + "\n")
