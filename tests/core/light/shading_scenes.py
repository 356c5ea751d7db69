"""Things in the light's way - steps, lamps' bodies - and what Radiance makes of them.

``python -m tests.core.light.shading_scenes`` traces the references anew (half an hour) and writes
them beside this file: means over repeats and their standard errors. rtrace takes no seed; its
repeats differ by its own sequence. The light straight from the lamps is traced by itself, with many
sources; the rest is what is left when that of few sources is taken from all their light.
"""

import json
import sys
import tempfile
from dataclasses import dataclass
from pathlib import Path

import numpy as np

from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, Board, Body, PlacedLamp
from canopy.light.stands import Stand
from tests.core.light import radiance

FILE = Path(__file__).with_name("shading_references.json")
RAYS, REPEATS = 768, 8
MIRROR_RAYS = 20
"""So many times more where the lamp, a glow, is found by chance alone."""

HAIR_CM = 0.05
FINE_CM, COARSE_CM = 1.0, 7.0

TENT = Enclosure(120, 120, 160, (0.85,) * 4, 0.85, 0.1)
SILVER = Enclosure(120, 100, 140, (0.8,) * 4, 0.0, 0.15, (0.3,) * 4)
DARK = Enclosure(120, 120, 150, (0.3, 0.3, 0.0, 0.0), 0.3, 0.15)
SPOTS = tuple((x, y) for y in (12, 40, 66, 105) for x in (9, 36, 60, 84, 110))


@dataclass(frozen=True)
class Shaded:
    """A tent, steps, lamps, and the lamps' solid parts as oblongs: corners and reflectance."""

    tent: Enclosure
    lamps: tuple[PlacedLamp, ...]
    stands: tuple[Stand, ...] = ()
    sheets: tuple[tuple[tuple[tuple[float, float, float], ...], float], ...] = ()

    def points_cm(self) -> np.ndarray:
        """The spots, lifted by the highest step under each."""
        rows = []
        for x, y in SPOTS:
            y = y * self.tent.depth_cm / 120
            on = [
                s.raise_cm
                for s in self.stands
                if s.x_cm <= x <= s.x_cm + s.width_cm and s.y_cm <= y <= s.y_cm + s.depth_cm
            ]
            rows.append((x, y, max(on, default=0.0)))
        return np.array(rows, dtype=float)


def _level(x: float, y: float, width: float, depth: float, z: float):
    x0, x1, y0, y1 = x - width / 2, x + width / 2, y - depth / 2, y + depth / 2
    z += HAIR_CM
    return ((x0, y0, z), (x1, y0, z), (x1, y1, z), (x0, y1, z))


def _leaning(x: float, y: float, width: float, depth: float, z: float, tilt_deg: float):
    """An oblong whose right side is raised by a tilt about its own y axis."""
    c, s = np.cos(np.radians(tilt_deg)), np.sin(np.radians(tilt_deg))
    up = np.array([-s, 0, c]) * HAIR_CM
    return tuple(
        tuple(np.array([x + u * c, y + v, z + u * s]) + up)
        for u, v in (
            (-width / 2, -depth / 2),
            (width / 2, -depth / 2),
            (width / 2, depth / 2),
            (-width / 2, depth / 2),
        )
    )


SOLID, HALF = Body(1.0, 0.5), Body(0.5, 0.3)
UPPER = PlacedLamp(Board(60, 60), 700, 60, 60, 70)
LOW_BARS = PlacedLamp(Bars.even(5, 80, 80), 300, 60, 60, 30, body=Body(0.5, 0.3))

SCENES = {
    "a solid board under another": Shaded(
        TENT,
        (UPPER, PlacedLamp(Board(40, 50), 200, 45, 60, 35, body=SOLID)),
        sheets=((_level(45, 60, 40, 50, 35), 0.5),),
    ),
    "bars under a board": Shaded(
        TENT,
        (UPPER, LOW_BARS),
        # half of 80 cm over five bars
        sheets=tuple((_level(x, 60, 8, 80, 30), 0.3) for x in (20, 40, 60, 80, 100)),
    ),
    "a leaning strip with a body of its own under a board": Shaded(
        DARK,
        (
            UPPER,
            PlacedLamp(
                Bars.even(1, 80, 0), 100, 80, 60, 30, tilt_deg=25, body=Body(1.0, 0.6, 12, 90)
            ),
        ),
        sheets=((_leaning(80, 60, 12, 90, 30, 25), 0.6),),
    ),
    "a step of 25 cm": Shaded(
        TENT, (PlacedLamp(Board(60, 60), 600, 60, 60, 60),), (Stand(10, 20, 40, 60, 25),)
    ),
    "steps that overlap, in mirrors": Shaded(
        SILVER,
        # the glow Radiance finds by chance takes all light that falls on it
        (PlacedLamp(Board(50, 50), 500, 70, 50, 60, body=Body(1.0, 0.0)),),
        (Stand(0, 0, 50, 45, 30), Stand(30, 20, 40, 50, 15), Stand(95, 60, 25, 40, 40)),
    ),
    "a solid board close over the tops, by itself": Shaded(
        TENT,
        (PlacedLamp(Board(80, 80), 600, 60, 60, 25, body=Body(1.0, 0.7)),),
        sheets=((_level(60, 60, 80, 80, 25), 0.7),),
    ),
    "bars with wide strips, by themselves, and a step": Shaded(
        TENT,
        (PlacedLamp(Bars.even(4, 90, 90), 600, 60, 60, 45, body=HALF),),
        (Stand(70, 70, 30, 40, 20),),
        # half of 90 cm over four bars
        sheets=tuple((_level(x, 60, 11.25, 90, 45), 0.3) for x in (15, 45, 75, 105)),
    ),
}


def _traced(
    folder: Path, scene: str, points: np.ndarray, bounces: bool, times: int = 1
) -> np.ndarray:
    radiance.write_octree(folder, scene)
    settings = radiance.SETTINGS.format(rays=RAYS * times, least=1e-4)
    if not bounces:
        settings = settings.replace("-ab 60", "-ab 0")
    return radiance.rtrace(folder, settings, points)


def traced(name: str) -> dict[str, list[float]]:
    """Radiance's irradiance at the spots, and its standard error."""
    it = SCENES[name]
    points, rho = it.points_cm(), it.tent.canopy_reflectance
    things = radiance.box(it.tent)
    for k, s in enumerate(it.stands):
        high = (s.x_cm + s.width_cm, s.y_cm + s.depth_cm, s.raise_cm)
        things += radiance.step(k, (s.x_cm, s.y_cm), high, rho)
    for k, (corners, reflectance) in enumerate(it.sheets):
        things += radiance.sheet(k, corners, reflectance)

    def lamps(apart_cm: float) -> str:
        return "".join(radiance.source(lamp, k, apart_cm, 1) for k, lamp in enumerate(it.lamps))

    mirrors = any(it.tent.mirror)
    coarse = radiance.glowing_board(it.lamps[0]) if mirrors else lamps(COARSE_CM)
    with tempfile.TemporaryDirectory() as where:
        folder = Path(where)
        times = MIRROR_RAYS if mirrors else 1
        found = [_traced(folder, things + coarse, points, True, times) for _ in range(REPEATS)]
        mean = np.mean(found, axis=0)
        if not mirrors:
            mean = mean - _traced(folder, things + coarse, points, False)
            mean = mean + _traced(folder, things + lamps(FINE_CM), points, False)
    error = np.std(found, axis=0, ddof=1) / np.sqrt(REPEATS)
    return {"mean": mean.round(3).tolist(), "error": error.round(3).tolist()}


if __name__ == "__main__":
    kept = json.loads(FILE.read_text()) if FILE.exists() else {}
    wanted = sys.argv[1:] or list(SCENES)
    for name in wanted:
        kept[name] = traced(name)
        FILE.write_text(json.dumps(kept, indent=1) + "\n")
