"""A fit from files: a scene with its quality, readings of a map table, and the result as JSON."""

import json
from dataclasses import replace
from math import isfinite
from typing import Any

import numpy as np
from numpy.typing import NDArray

from canopy.constants import NINETY
from canopy.errors import CanopyError
from canopy.formats.maptable import ALSO, FitReading, read_map_table
from canopy.formats.reader import Fields
from canopy.formats.scene import map_document, read_scene
from canopy.light.lightmap import Grid, canopy_flux_umol_s, capture, map_statistics
from canopy.light.scene import Scene, SceneMap
from canopy.measure.answer import OUTLIER
from canopy.measure.diagnosis import findings
from canopy.measure.fit import Fit, Predicted, Quality, Unknown, predict
from canopy.measure.prepared import WALL_SHAPE, wall_depth
from canopy.measure.readings import SENSOR_SD, SPOT_SD, Readings
from canopy.words import worded

Array = NDArray[np.float64]

FORMAT, VERSION = "idle-canopy/fit", 1

GAP_CM = 1.0


def read_fit_scene(text: str) -> tuple[Scene, Quality, list[str]]:
    """Return a scene, how far it can be trusted, and the names of fields that were ignored.

    Raises
    ------
    CanopyError
        As :func:`read_scene`; with the field's name where the quality cannot be used.
    """
    scene, ignored = read_scene(text)
    given = json.loads(text).get("quality")
    if given is None:
        return scene, Quality(), ignored
    more: list[str] = []
    fields = Fields(given, "quality", more)
    usual = Quality()
    quality = Quality(
        fields.number("ppf_sd", 0, 1, usual.ppf_sd, above=True),
        fields.number("walls_sd", 0, 0.5, usual.walls_sd, above=True),
        fields.number("footprint_sd_cm", 0, 100, usual.footprint_sd_cm),
    )
    fields.done()
    return scene, quality, [name for name in ignored if name != "quality"] + more


def read_readings(text: str, scene: Scene) -> Readings:
    """Return the readings of a map table, taken in a scene.

    Raises
    ------
    CanopyError
        As :func:`read_map_table`; where a reading lies outside the tent or above the lamp.
    """
    table = read_map_table(text, also=ALSO)
    about = {key.lower(): value for key, value in table.about.items()}
    rows = [row for row in table.readings if isinstance(row, FitReading)]
    for number, row in enumerate(rows, 1):
        check_reading(number, row.x_cm, row.y_cm, row.z_cm, row.height_cm, scene)
        if row.light_fraction is not None and row.light_fraction <= 0:
            raise CanopyError(
                f"Reading {number}: a light fraction of 0 is a lamp that is off.", "readings"
            )
    usual = _common_fraction(scene)
    return Readings(
        x_cm=np.array([row.x_cm for row in rows]),
        y_cm=np.array([row.y_cm for row in rows]),
        z_cm=np.array([row.z_cm for row in rows]),
        height_cm=np.array([row.height_cm for row in rows]),
        light_fraction=np.array(
            [usual if row.light_fraction is None else row.light_fraction for row in rows]
        ),
        ppfd=np.array([row.ppfd_umol_m2_s for row in rows]),
        sensor_sd=_said(about, "sensor_sd", SENSOR_SD),
        spot_sd=_said(about, "spot_sd", SPOT_SD),
        daylight=_yes(about),
    )


def _common_fraction(scene: Scene) -> float:
    return max(lamp.light_fraction for lamp in scene.lamps)


def check_reading(
    number: int, x_cm: float, y_cm: float, z_cm: float, height_cm: float, scene: Scene
) -> None:
    """Refuse a reading outside the tent, with the lamp above the ceiling or the sensor in it."""
    box = scene.box
    if not (0 <= x_cm <= box.width_cm and 0 <= y_cm <= box.depth_cm):
        raise CanopyError(
            f"Reading {number} at {x_cm:g}, {y_cm:g} lies outside the tent.", "readings"
        )
    first = min(lamp.height_cm for lamp in scene.lamps)
    top = max(float(lamp.outline()[:, 2].max()) for lamp in scene.lamps) - first + height_cm
    if top > box.height_cm + 1e-6:
        raise CanopyError(
            f"Reading {number}: with the lamp at {height_cm:g} it would be above the ceiling.",
            "readings",
        )
    low = min(float(lamp.outline()[:, 2].min()) for lamp in scene.lamps) - first + height_cm
    if z_cm > low - GAP_CM:
        raise CanopyError(
            f"Reading {number}: the sensor would stand in the lamp or above it.", "readings"
        )


def _said(about: dict[str, str], key: str, usual: float) -> float:
    if key not in about:
        return usual
    try:
        value = float(about[key].replace(",", "."))
    except ValueError:
        value = float("nan")
    if not isfinite(value) or not 0 < value <= 1:
        raise CanopyError(f"{key} should be a share above 0 and up to 1, like 0.05.", key)
    return value


def _yes(about: dict[str, str]) -> bool:
    said = about.get("daylight", "no").lower()
    if said not in ("yes", "no"):
        raise CanopyError("daylight should be yes or no.", "daylight")
    return said == "yes"


def lamps_of(scene: Scene, readings: Readings | None = None) -> list[Any]:
    """Return a scene's lamps that are lit; with the readings' fractions as the whole of it."""
    lit = [lamp for lamp in scene.lamps if lamp.light_fraction > 0]
    if not lit:
        raise CanopyError("No lamp of the scene gives light; give one a light_fraction.", "lamps")
    if readings is None:
        return lit
    # lamps at dials of their own keep their proportions
    most = max(lamp.light_fraction for lamp in lit)
    return [
        replace(x, ppf_umol_s=x.ppf_umol_s * x.light_fraction / most, light_fraction=1.0)
        for x in lit
    ]


def prediction(found: Fit, scene: Scene, ignored: list[str]) -> dict[str, Any]:
    """Return the map of a scene as a fit has it, with its 90 % ranges."""
    lamps = lamps_of(scene)
    drawn = predict(found, scene.box, lamps, scene.stands, scene.points_cm())
    return _map(scene, drawn, ignored, sum(x.flux_umol_s for x in lamps), found.values["scale"])


def _map(
    scene: Scene, drawn: Predicted, ignored: list[str], flux_umol_s: float, scale: float
) -> dict[str, Any]:
    middle = drawn.median()
    low, high = drawn.range()
    grid = scene.grid
    weights = grid.area_weights() if isinstance(grid, Grid) else None
    statistics = map_statistics(middle, weights)
    mean = drawn.of(drawn.draws.mean(axis=1))
    most, least = drawn.of(drawn.draws.max(axis=1)), drawn.of(drawn.draws.min(axis=1))
    area_mean = statistics.area_mean
    if weights is not None:
        area_mean = drawn.of(drawn.draws @ (np.ravel(weights) / np.ravel(weights).sum()))[1]
    on_canopy = captured = None
    if isinstance(grid, Grid):
        on_canopy = canopy_flux_umol_s(area_mean, scene.box.width_cm, scene.box.depth_cm)
        captured = capture(on_canopy, flux_umol_s * float(np.exp(scale)))
    statistics = replace(
        statistics,
        mean=mean[1],
        area_mean=area_mean,
        minimum=least[1],
        maximum=most[1],
        min_over_max=drawn.of(drawn.draws.min(axis=1) / drawn.draws.max(axis=1))[1],
        min_over_mean=drawn.of(drawn.draws.min(axis=1) / drawn.draws.mean(axis=1))[1],
    )
    answer = SceneMap(scene.points_cm(), middle, statistics, on_canopy, captured)
    document = map_document(scene, answer, ignored)
    shape = (grid.ny, grid.nx) if isinstance(grid, Grid) else (-1,)
    return {
        **document,
        "low": low.reshape(shape).tolist(),
        "high": high.reshape(shape).tolist(),
        "mean_low": mean[0],
        "mean_high": mean[2],
        "max_low": most[0],
        "max_high": most[2],
        "min_low": least[0],
        "min_high": least[2],
    }


def natural(found: Fit, unknown: Unknown) -> tuple[str, float, float, float]:
    """Return an unknown by the name and in the unit people use: value, low end, high end."""
    value, sd = found.values[unknown.name], found.sd(unknown.name)
    ends = value, value - NINETY * sd, value + NINETY * sd
    box = found.box
    if unknown.name in ("scale", "sensor") or unknown.name.startswith("lamp_"):
        name = {"scale": "lamp_scale", "sensor": "sensor_scale"}.get(unknown.name, unknown.name)
        return (name, *(float(np.exp(v)) for v in ends))  # type: ignore[return-value]
    if unknown.name == "walls":
        closed = [rho for rho in box.wall_reflectance if rho > 0]
        depth = wall_depth(sum(closed) / len(closed))
        rho = [float(np.clip((1 - np.exp(-(depth + v))) / WALL_SHAPE, 0, 0.99)) for v in ends]
        return "wall_reflectance", *rho  # type: ignore[return-value]
    if unknown.name == "mirror":
        shares = [s for r, s in zip(box.wall_reflectance, box.wall_mirror_share) if r > 0]
        share = sum(shares) / len(shares)
        return "mirror_share", *(float(np.clip(share + v, 0, 1)) for v in ends)  # type: ignore[return-value]
    if unknown.name == "canopy":
        rho = [float(np.clip(box.canopy_reflectance + v, 0, 0.99)) for v in ends]
        return "canopy_reflectance", *rho  # type: ignore[return-value]
    if unknown.name == "footprint":
        return "footprint_scale", *(1 + v for v in ends)  # type: ignore[return-value]
    names = {
        "beam": "beam_power",
        "offset_x": "offset_x_cm",
        "offset_y": "offset_y_cm",
        "tilt_x": "tilt_x_deg",
        "tilt_y": "tilt_y_deg",
        "height": "height_error_cm",
    }
    return names[unknown.name], *ends


def fit_document(found: Fit, maps: list[dict[str, Any]], ignored: list[str]) -> dict[str, Any]:
    """Return a fit as the JSON-ready document of docs/formats/fit.md."""
    parameters = {}
    for unknown in found.known:
        if not unknown.name.startswith("height_"):
            name, value, low, high = natural(found, unknown)
            parameters[name] = {"value": value, "low": low, "high": high}
    readings = found.readings
    document: dict[str, Any] = {
        "format": FORMAT,
        "version": VERSION,
        "parameters": parameters,
        "findings": [
            {
                "code": each.code,
                "sentence": worded(each.line),
                "likelihood": each.likelihood,
            }
            for each in findings(found)
        ],
        "residuals": [
            {
                "x_cm": float(readings.x_cm[k]),
                "y_cm": float(readings.y_cm[k]),
                "height_cm": float(readings.height_cm[k]),
                "measured": float(readings.ppfd[k]),
                "fitted": float(found.fitted[k]),
                "outlier": bool(found.weights[k] < OUTLIER),
            }
            for k in range(len(readings.ppfd))
        ],
        "maps": maps,
    }
    if ignored:
        document["ignored"] = ignored
    return document
