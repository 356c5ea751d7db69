"""One map beside Radiance's rtrace at matched error, one thread each."""

import tempfile
import time
from pathlib import Path

import numpy as np

from benchmarks.engine import TENT
from benchmarks.machine import median_ms
from canopy.light.lightmap import Grid
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare
from tests.core.light import radiance

Row = tuple[str, str, str]

LAMP = PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, 40)
POINTS = Grid(9, 9).points_cm(120, 120)
BOUNCES = "-w -h -I -dt 0 -dc 1 -dj 0 -ds 0 -dr 0 -st 0 -n 1"
PLAIN = BOUNCES + " -ab 40 -as 0 -aa 0 -lw 1e-4 -lr -40 -ad {rays}"
CACHED = BOUNCES + " -ab 12 -lw 1e-4 -lr 12 -aa {accuracy} -ar 64 -ad {rays} -as {extra}"
TRIED = [
    *((f"plain, -ad {rays}", PLAIN.format(rays=rays)) for rays in (16, 32, 64, 128)),
    *(
        (
            f"irradiance cache, -aa {accuracy} -ad {rays}",
            CACHED.format(accuracy=accuracy, rays=rays, extra=rays // 4),
        )
        for accuracy, rays in ((0.3, 256), (0.2, 512))
    ),
]
REFERENCE = PLAIN.format(rays=512)


def _run(folder: Path, settings: str, points: np.ndarray) -> tuple[np.ndarray, float]:
    start = time.perf_counter()
    found = radiance.rtrace(folder, settings, points)
    return found, time.perf_counter() - start


def _rms_pct(found: np.ndarray, reference: np.ndarray) -> float:
    return float(np.sqrt(np.mean((found - reference) ** 2)) / reference.mean() * 100)


def measure() -> list[Row]:
    """Return rows of what, measured, wanted."""
    if radiance.programs() is None:
        return [("rtrace", "not to be had on this platform", "—")]
    ready = prepare(TENT, POINTS)
    ours = ready.irradiance(LAMP)
    map_ms = median_ms(lambda: ready.irradiance(LAMP), 15)
    prepared_ms = median_ms(lambda: prepare(TENT, POINTS), 5)
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        # writes the octree, which does not count
        scene = radiance.box(TENT) + radiance.source(LAMP, 0, 26.0, 1)
        radiance.write_octree(folder, scene)
        reference, _ = _run(folder, REFERENCE, POINTS)
        empty = min(_run(folder, PLAIN.format(rays=1), POINTS[:0])[1] for _ in range(3))
        tried = []
        for label, settings in TRIED:
            found, spent = _run(folder, settings, POINTS)
            tried.append((spent - empty, _rms_pct(found, reference), label))
    rows: list[Row] = [
        ("This engine against the reference", f"{_rms_pct(ours, reference):.2f} % rms", "under 1 %")
    ]
    rows += [(f"rtrace, {label}", f"{s:.2f} s, {e:.2f} % rms", "—") for s, e, label in tried]
    good = [row for row in tried if row[1] < 1]
    if good:
        seconds, _, label = min(good)
        rows += [
            (
                f"One map against the quickest within 1 % ({label})",
                f"{seconds * 1000 / map_ms:.0f} times faster",
                "1000",
            ),
            (
                "The same with the tent's preparation",
                f"{seconds * 1000 / (map_ms + prepared_ms):.0f} times faster",
                "—",
            ),
        ]
    return rows
