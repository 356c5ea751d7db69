"""The light engine alone."""

import json
import resource
from dataclasses import replace

import numpy as np

from benchmarks.machine import median_ms
from canopy.light.beam import LAMBERTIAN, CosineBeam
from canopy.light.brightest import brightest
from canopy.light.enclosure import Enclosure
from canopy.light.heightstack import height_stack
from canopy.light.lightmap import Grid, even_grid
from canopy.light.response import response
from canopy.light.sources import Bars, Listed, PlacedLamp
from canopy.light.transport import direct_irradiance, prepare
from tests.core.light import low_scenes

Row = tuple[str, str, str]

TENT = Enclosure(120, 120, 150, (0.8,) * 4, 0.8, 0.1)
SILVER = replace(TENT, wall_reflectance=(0.85,) * 4, wall_mirror_share=(0.5,) * 4)
LAMP = PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, 35)
POINTS = Grid(9, 9).points_cm(120, 120)


def _error_pct(box: Enclosure, lamp: PlacedLamp) -> float:
    """Rms difference from the same scene with three times the patches a side, per cent."""
    usual = prepare(box, POINTS).irradiance(lamp)
    finer = prepare(box, POINTS, refine=3).irradiance(lamp)
    return float(np.sqrt(np.mean((usual - finer) ** 2)) / finer.mean() * 100)


def _maps() -> list[Row]:
    ready, silver = prepare(TENT, POINTS), prepare(SILVER, POINTS)
    cases = [
        (f"level, beam power {m:g}", replace(LAMP, beam=CosineBeam(m)), 5) for m in (1, 1.1, 2)
    ]
    cases.append(("tilted by 10 degrees", replace(LAMP, height_cm=60, tilt_deg=10), 15))
    rows = [
        (
            f"One map of an eight-bar lamp, {label}",
            f"{median_ms(lambda lamp=lamp: ready.irradiance(lamp), 25):.1f} ms",
            f"under {most} ms",
        )
        for label, lamp, most in cases
    ]
    spent = median_ms(lambda: silver.irradiance(LAMP), 5)
    rows.append(("The same in silver lining (0.85, mirror share 0.5)", f"{spent:.0f} ms", "—"))
    return rows


def _many() -> list[Row]:
    grid = even_grid(120, 120)
    finer = prepare(TENT, grid.points_cm(120, 120))
    heights = np.linspace(15.0, 100, 40)
    stack = median_ms(lambda: height_stack(finer, LAMP, heights, grid.area_weights()), 5)
    ready = prepare(TENT, POINTS)
    rng = np.random.default_rng(1)
    lamps = [
        replace(LAMP, layout=Bars.even(int(n), float(long), float(wide)))
        for n, long, wide in zip(
            rng.integers(1, 9, 200), rng.uniform(20, 104, 200), rng.uniform(20, 104, 200)
        )
    ]

    def rank() -> None:
        quick = response(ready, LAMBERTIAN, 15, 100)
        for lamp in lamps:
            quick.irradiance(lamp, np.linspace(15, 100, 12))

    return [
        (f"40 heights of {grid.nx} x {grid.ny} points", f"{stack:.0f} ms", "—"),
        ("200 lamps x 12 heights, 81 points", f"{median_ms(rank, 3) / 1000:.2f} s", "under 2 s"),
    ]


def _low() -> list[Row]:
    """Low lamps and a flat space beside kept ray-traced references, and hidden peaks."""
    kept = json.loads(low_scenes.FILE.read_text())
    rows = []
    for name, (box, lamp, _) in low_scenes.SCENES.items():
        points = low_scenes.GRID.points_cm(box.width_cm, box.depth_cm)
        traced, noise = (np.array(kept[name][key]) for key in ("mean", "error"))
        tent = prepare(box, points)
        change = tent.irradiance(lamp) / traced - 1
        spent = median_ms(lambda t=tent, lamp=lamp: t.irradiance(lamp), 5)
        rms, own = (np.sqrt(np.mean(each**2)) * 100 for each in (change, noise / traced))
        said = f"{rms:.2f} % rms, {np.abs(change).max() * 100:.1f} % at most, {spent:.0f} ms"
        rows.append((f"{name} (Radiance's noise {own:.2f} %)", said, "1 % rms, 3 % at most"))
    box, grid = replace(TENT, depth_cm=90), even_grid(120, 90)
    points = grid.points_cm(120, 90)
    tent, axes, shape = prepare(box, points), grid.axes_cm(120, 90), (grid.ny, grid.nx)
    around = np.stack(np.meshgrid(np.arange(36, 61, 0.5), np.arange(20, 71, 1.0)), axis=-1)
    fine = prepare(box, np.column_stack([around.reshape(-1, 2), np.zeros(around.size // 2)]))
    for height in (3, 5, 8):
        lamp = PlacedLamp(Bars((-45, -27, -9, 9, 27, 45), 76), 600, 60, 45, height)
        whole, direct = tent.irradiance(lamp).reshape(shape), tent.direct(lamp).reshape(shape)

        def at(spots: np.ndarray, lamp: PlacedLamp = lamp) -> np.ndarray:
            return direct_irradiance(np.column_stack([spots, np.zeros(len(spots))]), lamp)

        found = brightest(*axes, whole, direct, at)
        true = fine.irradiance(lamp).max()
        said = f"{(whole.max() / true - 1) * 100:.1f} % -> {(found / true - 1) * 100:.1f} %"
        rows.append((f"Brightest spot between bars, {height} cm up: points -> found", said, "0 %"))
    return rows


def _growth() -> list[Row]:
    rows = []
    for side in (60, 120, 300):
        box = replace(TENT, width_cm=side, depth_cm=side)
        points = Grid(9, 9).points_cm(side, side)
        ready = prepare(box, points)
        lamp = replace(
            LAMP, layout=Bars.even(8, 0.85 * side, 0.85 * side), x_cm=side / 2, y_cm=side / 2
        )
        rows.append(
            (
                f"{side} x {side} cm: preparing, one map",
                f"{median_ms(lambda box=box, p=points: prepare(box, p), 5):.0f} ms, "
                f"{median_ms(lambda r=ready, lamp=lamp: r.irradiance(lamp), 9):.1f} ms",
                "—",
            )
        )
    ready = prepare(TENT, POINTS)
    for count in (50, 500, 5000):
        spots = np.random.default_rng(2).uniform(-50, 50, (count, 2))
        listed = Listed(tuple((float(x), float(y), 0.0, 1 / count) for x, y in spots))
        lamp = replace(LAMP, layout=listed)
        spent = median_ms(lambda lamp=lamp: ready.irradiance(lamp), 5)
        rows.append((f"{count} listed emitters: one map", f"{spent:.1f} ms", "—"))
    return rows


def measure() -> list[Row]:
    """Return rows of what, measured, wanted."""
    rows: list[Row] = [
        (
            "Preparing a 120 cm tent, 81 points",
            f"{median_ms(lambda: prepare(TENT, POINTS), 9):.0f} ms",
            "under 50 ms",
        ),
        (
            "The same in silver lining (0.85, mirror share 0.5)",
            f"{median_ms(lambda: prepare(SILVER, POINTS), 5):.0f} ms",
            "under 600 ms",
        ),
    ]
    rows += [*_maps(), *_many(), *_growth()]
    peak = resource.getrusage(resource.RUSAGE_SELF).ru_maxrss / 1024
    rows.append(("Most memory used by all of the above", f"{peak:.0f} MB", "under 400 MB"))
    for height in (15, 35, 70):
        error = _error_pct(TENT, replace(LAMP, height_cm=height))
        rows.append(
            (f"Patches against three times finer ones, {height} cm", f"{error:.2f} % rms", "—")
        )
    return [*rows, *_low()]
