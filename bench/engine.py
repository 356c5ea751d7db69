"""The light engine alone."""

import numpy as np

from bench.machine import median_ms
from canopy.light.beam import CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid, even_grid
from canopy.light.sources import Bars, PlacedLamp
from canopy.light.transport import prepare

Row = tuple[str, str, str]

TENT = Enclosure(120, 120, 150, (0.8,) * 4, 0.8, 0.1)


def _error_pct(box: Enclosure, lamp: PlacedLamp) -> float:
    """Rms difference from the same scene with three times the patches a side, per cent."""
    points = Grid(9, 9).points_cm(box.width_cm, box.depth_cm)
    usual = prepare(box, points).irradiance(lamp)
    finer = prepare(box, points, refine=3).irradiance(lamp)
    return float(np.sqrt(np.mean((usual - finer) ** 2)) / finer.mean() * 100)


def measure() -> list[Row]:
    """Return rows of what, measured, wanted."""
    points = Grid(9, 9).points_cm(120, 120)
    ready = prepare(TENT, points)
    rows: list[Row] = [
        (
            "Preparing a 120 cm tent, 81 points",
            f"{median_ms(lambda: prepare(TENT, points), 9):.0f} ms",
            "—",
        )
    ]
    for power in (1.0, 1.1, 2.0):
        lamp = PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, 35, beam=CosineBeam(power))
        spent = median_ms(lambda lamp=lamp: ready.irradiance(lamp), 15)
        rows.append((f"One map of an eight-bar lamp, beam power {power}", f"{spent:.1f} ms", "—"))
    grid = even_grid(120, 120)
    finer = prepare(TENT, grid.points_cm(120, 120))
    lamp = PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, 35)
    heights = np.arange(15.0, 101)
    spent = median_ms(lambda: height_stack(finer, lamp, heights, grid.area_weights()), 5)
    rows.append((f"{len(heights)} heights of {grid.nx} x {grid.ny} points", f"{spent:.0f} ms", "—"))
    for height in (15, 35, 70):
        error = _error_pct(TENT, PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, height))
        rows.append(
            (f"Patches against three times finer ones, {height} cm", f"{error:.2f} % rms", "—")
        )
    return rows
