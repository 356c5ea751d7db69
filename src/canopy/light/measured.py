"""A maker's or a grower's own readings in the place of the model.

Readings are compared with what the model gives for the same lamp where they were taken; their
ratio, and not the readings, is carried to this tent. So a map over another area, or a grid that
stops short of the edge, is re-based by the model. Lengths in cm, PPFD in umol m-2 s-1 at full
light.
"""

from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import LinearNDInterpolator, NearestNDInterpolator
from scipy.spatial import QhullError

from canopy.light.enclosure import Enclosure
from canopy.light.firstlight import irradiance_over
from canopy.light.heightstack import HeightStack
from canopy.light.lightmap import capture_bound, short_of_edge_cm
from canopy.light.sources import PlacedLamp
from canopy.light.transport import Transport, prepare
from canopy.words import Said, said

Array = NDArray[np.float64]

SAME_HEIGHT_CM = 0.75
"""Readings whose heights differ by less belong to one map: a tape measure's slack."""

DARKEST = 1e-3
"""A reading counts as at least this share of its map's brightest; a ratio needs some light."""


FEWEST_READINGS = 5
"""So many readings stand for an area. Common practice, no source."""


@dataclass(frozen=True)
class MeasuredMap:
    """Readings of one lamp at full light, and where they were taken.

    Parameters
    ----------
    box : Enclosure
        Where they were taken; its floor is the sensor's level.
    x_cm, y_cm, turn_deg : float
        Where the lamp hung, level.
    readings : tuple of (x_cm, y_cm, height_cm, ppfd)
    """

    box: Enclosure
    x_cm: float
    y_cm: float
    turn_deg: float
    readings: tuple[tuple[float, float, float, float], ...]

    def heights_cm(self) -> tuple[float, ...]:
        """Return the heights measured at, ascending, readings of one map taken together."""
        return tuple(height for height, _ in by_height(self.readings))


@dataclass(frozen=True)
class RatioField:
    """Measured over computed light at one height, by place in the lamp's own axes.

    ``offsets_cm`` has shape (n, 2), ``log_ratio`` shape (n,).
    """

    height_cm: float
    offsets_cm: Array
    log_ratio: Array

    def at(self, offsets_cm: Array) -> Array:
        """Return the logarithm of the ratio at places, shape (m,).

        Linear between readings; outside them that of the nearest.
        """
        nearest = NearestNDInterpolator(self.offsets_cm, self.log_ratio)(offsets_cm)
        if len(self.offsets_cm) < 3:
            return np.asarray(nearest)
        try:
            inside = LinearNDInterpolator(self.offsets_cm, self.log_ratio)(offsets_cm)
        except QhullError:  # all on one line
            return np.asarray(nearest)
        result: Array = np.where(np.isnan(inside), nearest, inside)
        return result


def by_height(
    readings: tuple[tuple[float, float, float, float], ...],
) -> list[tuple[float, Array]]:
    """Return each height measured at and its rows x, y, height, PPFD; ascending."""
    table = np.asarray(readings, dtype=float)
    table = table[np.argsort(table[:, 2], kind="stable")]
    steps = np.flatnonzero(np.diff(table[:, 2]) > SAME_HEIGHT_CM) + 1
    return [(float(part[:, 2].mean()), part) for part in np.split(table, steps)]


def in_lamp_axes(points_cm: Array, x_cm: float, y_cm: float, turn_deg: float) -> Array:
    """Return places from the lamp's middle along its own x and y, shape (n, 2)."""
    turn = np.radians(turn_deg)
    x, y = points_cm[:, 0] - x_cm, points_cm[:, 1] - y_cm
    c, s = np.cos(turn), np.sin(turn)
    return np.stack([c * x + s * y, -s * x + c * y], axis=1)


def as_measured(lamp: PlacedLamp, taken: MeasuredMap) -> PlacedLamp:
    """Return a lamp where it hung when its readings were taken, at no height yet."""
    return replace(
        lamp,
        x_cm=taken.x_cm,
        y_cm=taken.y_cm,
        turn_deg=taken.turn_deg,
        tilt_deg=0.0,
        light_fraction=1.0,
    )


def means_by_spot(rows: Array, places: Array) -> Array:
    """Return the mean of the readings at each of some places, shape (places,); nan without one.

    Parameters
    ----------
    rows : array of shape (n, 4)
        x, y, height, PPFD.
    places : array of shape (m, 2)
        Different ones, every reading's among them.
    """
    _, which = np.unique(np.concatenate([places, rows[:, :2]]), axis=0, return_inverse=True)
    at, read = np.split(np.ravel(which), [len(places)])
    counted = np.bincount(read, minlength=len(places))
    total = np.bincount(read, weights=rows[:, 3], minlength=len(places))
    mean = np.full(len(places), np.nan)
    np.divide(total, counted, out=mean, where=counted > 0)
    result: Array = mean[at]
    return result


def ratio_fields(taken: MeasuredMap, lamp: PlacedLamp) -> list[RatioField]:
    """Return how the readings compare with the model where they were taken, by height.

    Parameters
    ----------
    taken : MeasuredMap
    lamp : PlacedLamp
        The whole lamp; where it hangs here does not matter.
    """
    there = as_measured(lamp, taken)
    groups = by_height(taken.readings)
    places = np.unique(np.asarray(taken.readings, dtype=float)[:, :2], axis=0)
    transport = prepare(taken.box, np.column_stack([places, np.zeros(len(places))]))
    offsets = in_lamp_axes(places, taken.x_cm, taken.y_cm, taken.turn_deg)
    modelled = irradiance_over(transport, there, np.array([height for height, _ in groups]))
    fields = []
    for (height, rows), computed in zip(groups, modelled):
        dark = DARKEST * max(float(rows[:, 3].max()), 1e-9)
        read = means_by_spot(rows, places)
        known = ~np.isnan(read)
        ratio = np.maximum(read[known], dark) / np.maximum(computed[known], dark)
        fields.append(RatioField(height, offsets[known], np.log(ratio)))
    return fields


@dataclass(frozen=True)
class MeasuredStack:
    """A height stack that follows readings.

    ``beyond`` has shape (heights,): heights outside those measured, where the model's shape
    is followed, scaled to the nearest reading.
    """

    stack: HeightStack
    beyond: NDArray[np.bool_]


def measured_stack(
    taken: MeasuredMap,
    whole: PlacedLamp,
    lamp: PlacedLamp,
    modelled: HeightStack,
    transport: Transport,
) -> MeasuredStack:
    """Return the lamp's maps at every height as the readings would have them.

    The model times the ratio, whose logarithm runs straight between measured heights and stays
    beyond them; points on stands have it at their own distance. Readings that agree with the model
    change nothing, at any height.

    Parameters
    ----------
    taken : MeasuredMap
    whole : PlacedLamp
        The lamp as it was measured, all bars lit.
    lamp : PlacedLamp
        As it hangs here.
    modelled : HeightStack
        What the model gives for ``lamp`` at every height.
    transport : Transport
        The prepared tent; its points are the stack's.
    """
    fields = ratio_fields(taken, whole)
    points, heights = transport.points_cm, modelled.heights_cm
    offsets = in_lamp_axes(points, lamp.x_cm, lamp.y_cm, lamp.turn_deg)
    known = np.array([field.height_cm for field in fields])
    logs = np.array([field.at(offsets) for field in fields])
    distance = heights[:, None] - points[None, :, 2]
    ratio = np.array([np.interp(distance[:, p], known, logs[:, p]) for p in range(len(points))]).T
    maps = modelled.ppfd * np.exp(ratio)
    altered = lamp.tilt_deg != 0 or whole.layout != lamp.layout
    outside = (heights < known[0] - SAME_HEIGHT_CM) | (heights > known[-1] + SAME_HEIGHT_CM)
    return MeasuredStack(
        HeightStack(heights, maps, modelled.weights),
        outside | altered,
    )


@dataclass(frozen=True)
class HeightAgreement:
    """How one height's readings compare with the model where they were taken.

    ``of_model`` is their mean over the model's mean at the same spots.
    """

    height_cm: float
    readings: int
    of_model: float


@dataclass(frozen=True)
class Comparison:
    """A map against the model, and what a grower should know of it."""

    heights: tuple[HeightAgreement, ...]
    notes: tuple[Said, ...]


HEIGHTS_APART_CM = 15.0
"""How far apart in height readings must lie to count as a map of more than one height. Common
practice, no source."""

READING_TOLERANCE = 0.10
"""What a quantum sensor or a corrected telephone is good to. Common practice, no source."""


def compared(taken: MeasuredMap, lamp: PlacedLamp, ppf_umol_s: float) -> Comparison:
    """Return how a map agrees with the model and with the lamp's stated light.

    Parameters
    ----------
    taken : MeasuredMap
    lamp : PlacedLamp
        The whole lamp.
    ppf_umol_s : float
        As stated.
    """
    heights, notes = [], []
    for field in ratio_fields(taken, lamp):
        ratio = float(np.exp(field.log_ratio).mean())
        heights.append(HeightAgreement(field.height_cm, len(field.log_ratio), ratio))
    area = taken.box.canopy_area_m2
    bound = capture_bound(taken.box.canopy_reflectance) * (1 + READING_TOLERANCE)
    for height, rows in by_height(taken.readings):
        share = float(rows[:, 3].mean()) * area / ppf_umol_s
        if len(rows) >= FEWEST_READINGS and share > bound:
            notes.append(said("map.too_much", height_cm=height, share=share))
    table = np.asarray(taken.readings, dtype=float)
    for axis, side, code in (
        (0, taken.box.width_cm, "map.short_x"),
        (1, taken.box.depth_cm, "map.short_y"),
    ):
        gap = short_of_edge_cm(table[:, axis], side)
        if gap > 0:
            notes.append(said(code, by_cm=gap))
    if len(heights) == 1:
        notes.append(said("map.one_height", by_cm=HEIGHTS_APART_CM))
    return Comparison(tuple(heights), tuple(notes))
