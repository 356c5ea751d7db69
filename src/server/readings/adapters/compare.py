"""Readings beside the plan and a maker's map, spot by spot."""

from dataclasses import dataclass
from math import prod

import numpy as np

from canopy.light.beside import map_layer, maps_beside
from canopy.light.measured import MeasuredMap
from canopy.measure.compare import Compared, compared
from canopy.measure.learnt import fit_of, noted
from canopy.measure.sensor import applied
from server.fixtures.adapters import measured_map, modelled
from server.fixtures.models import LightMap
from server.readings.adapters.taken import Read

BLIND = ("band",)
"""Corrections that stand for light a sensor does not see."""


@dataclass(frozen=True)
class ComparedSpot:
    """A reading, put right."""

    x_cm: float
    y_cm: float
    height_cm: float
    dial_pct: float | None
    measured: float


@dataclass(frozen=True)
class ComparedHere:
    """Readings, and what they are of the plan and of a maker's map, where there is one."""

    spots: list[ComparedSpot]
    against: list[Compared]
    maker: str | None


def _makers(read: Read, light_map: LightMap) -> np.ndarray:
    """Return a maker's map carried to these readings, nan where it was not at their height."""
    kept, lamp, fixture = read.kept, read.setting.lamps[0], light_map.fixture
    heights = np.array([row.height_cm for row in kept.readings])
    levels, counts = np.unique(heights, return_counts=True)
    height = float(levels[counts.argmax()])
    which = np.flatnonzero(heights == height)
    rows = tuple(
        (row.x_cm, row.y_cm, row.height_cm, row.reading / row.light_fraction)
        for row in (kept.readings[k] for k in which)
    )
    own = MeasuredMap(kept.box_read(), lamp.x_cm, lamp.y_cm, lamp.turn_deg, rows)
    theirs = measured_map(light_map, fixture)
    apart = [abs(level - height) for level in theirs.heights_cm()]
    layer = map_layer(own, 0)
    found = maps_beside(layer, (map_layer(theirs, int(np.argmin(apart))),), modelled(fixture))
    carried = found.others[0].carried.ppfd
    there = np.full(len(heights), np.nan)
    for k in which:
        row = kept.readings[k]
        near = np.hypot(*(layer.spots_cm - (row.x_cm, row.y_cm)).T)
        there[k] = carried[int(near.argmin())] * row.light_fraction
    return there


def compared_here(read: Read, light_map: LightMap | None) -> ComparedHere:
    """Return readings beside the plan by the record, and a maker's map where one lamp was lit."""
    kept = read.kept
    found = fit_of(kept.taken())
    shown = np.array([row.reading for row in kept.readings])
    fraction = np.array([row.light_fraction for row in kept.readings])
    planned = np.exp(found.model.log_light(noted(found, found.lamps))) * fraction
    factor = applied(kept.corrections)
    blind = prod(c.factor for c in read.corrections if c.name in BLIND)

    def held(whom: str, there: np.ndarray) -> Compared | None:
        against = "plan" if whom == "plan" else "maker"
        return compared(against, shown, there, factor, blind, kept.sensor_sd)  # type: ignore[arg-type]

    one = light_map if len(read.setting.lamps) == 1 else None
    rows = [held("plan", planned), None if one is None else held("maker", _makers(read, one))]
    return ComparedHere(
        spots=[
            ComparedSpot(row.x_cm, row.y_cm, row.height_cm, row.dial_pct, row.reading * factor)
            for row in kept.readings
        ],
        against=[row for row in rows if row is not None],
        maker=None if one is None else one.name,
    )
