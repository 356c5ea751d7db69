"""A lamp's maps side by side: others read on the spots of the first, as they are or carried there.

Two maps of one lamp seldom share their spots, and a map taken in another tent or at another height
says something else of the same lamp. So each is shown on the first one's spots twice: as it was
read, between its own readings and nowhere beyond them; and carried to the first one's tent and
height, by its ratio to the model where it was read, as a plan would use it. Lengths in cm, PPFD
in umol m-2 s-1 at full light.
"""

from contextlib import suppress
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray
from scipy.interpolate import LinearNDInterpolator
from scipy.spatial import KDTree, QhullError

from canopy.errors import CanopyError
from canopy.light.firstlight import irradiance_over
from canopy.light.lightmap import MapStatistics, map_statistics
from canopy.light.measured import (
    MeasuredMap,
    as_measured,
    by_height,
    in_lamp_axes,
    means_by_spot,
    ratio_fields,
)
from canopy.light.sources import PlacedLamp
from canopy.light.transport import prepare

Array = NDArray[np.float64]

MOST_SPOTS = 2_000
"""So many spots at one height can be set side by side."""

SAME_SPOT_CM = 0.5
"""Spots of two maps that lie no further apart are one: a tape measure's slack. Common practice,
no source."""


@dataclass(frozen=True)
class MapLayer:
    """What one map reads at one of its heights: spots (n, 2) from the corner, and their PPFD."""

    taken: MeasuredMap
    height_cm: float
    spots_cm: Array
    ppfd: Array


def map_layer(taken: MeasuredMap, level: int) -> MapLayer:
    """Return a map's readings at one of its heights, those of one spot taken together.

    Raises
    ------
    CanopyError
        When it has no such height, or more than :data:`MOST_SPOTS` spots there.
    """
    levels = by_height(taken.readings)
    if level >= len(levels):
        raise CanopyError("This map was not read at so many heights; choose one it has.", "level")
    height, rows = levels[level]
    spots = np.unique(rows[:, :2], axis=0)
    if len(spots) > MOST_SPOTS:
        raise CanopyError(
            f"This map has {len(spots)} spots at that height; {MOST_SPOTS} can be set side by "
            "side. Import every second one as a map of its own.",
            "level",
        )
    return MapLayer(taken, height, spots, means_by_spot(rows, spots))


@dataclass(frozen=True)
class Rows:
    """Spots as a table: places of the columns and rows, and which spot stands where, or None."""

    x_cm: Array
    y_cm: Array
    spots: tuple[tuple[int | None, ...], ...]


def table_of(spots_cm: Array) -> Rows | None:
    """Return spots as rows from the back and columns from the left, ``None`` when they are strewn.

    They are a table when at least half its cells have a spot.
    """

    def places(at: Array) -> Array:
        ordered = np.unique(at)
        apart: Array = ordered[np.concatenate([[True], np.diff(ordered) > SAME_SPOT_CM])]
        return apart

    x, y = places(spots_cm[:, 0]), places(spots_cm[:, 1])[::-1]
    if len(x) * len(y) > 2 * len(spots_cm):
        return None
    cells: list[list[int | None]] = [[None] * len(x) for _ in y]
    for i, (at_x, at_y) in enumerate(spots_cm):
        cells[int(np.abs(y - at_y).argmin())][int(np.abs(x - at_x).argmin())] = i
    return Rows(x, y, tuple(map(tuple, cells)))


@dataclass(frozen=True)
class Beside:
    """A map on the first one's spots; all arrays of shape (spots,), nan where it says nothing.

    Parameters
    ----------
    ppfd : array
    of_mean : array
        Each spot over the mean of these.
    change : array
        Each spot over the first one's there, less 1.
    beyond : array of bool
        Spots it has no readings round: there the model says what it would be.
    mean_change, rms_change, largest_change : float or None
        Of the means over the spots both have; of the spots; the furthest from 0, with its sign.
    statistics : MapStatistics or None
        Of these spots.
    """

    ppfd: Array
    of_mean: Array
    change: Array
    beyond: NDArray[np.bool_]
    mean_change: float | None
    rms_change: float | None
    largest_change: float | None
    statistics: MapStatistics | None


def beside(first: Array, ppfd: Array, beyond: NDArray[np.bool_]) -> Beside:
    """Return one map's light against the first's, spot by spot."""
    known = ~np.isnan(ppfd)
    change = np.full(len(first), np.nan)
    np.divide(ppfd, first, out=change, where=known & (first > 0))
    change -= 1
    both = ~np.isnan(change)
    of_mean = np.full(len(first), np.nan)
    if known.any() and ppfd[known].mean() > 0:
        of_mean = ppfd / ppfd[known].mean()
    has = bool(both.any())
    return Beside(
        ppfd=ppfd,
        of_mean=of_mean,
        change=change,
        beyond=beyond,
        mean_change=float(ppfd[both].mean() / first[both].mean() - 1) if has else None,
        rms_change=float(np.sqrt((change[both] ** 2).mean())) if has else None,
        largest_change=float(change[both][np.abs(change[both]).argmax()]) if has else None,
        statistics=map_statistics(ppfd[known]) if known.any() else None,
    )


@dataclass(frozen=True)
class OtherMap:
    """Another map on the first one's spots: as it was read, and carried to the first's tent."""

    as_read: Beside | None
    carried: Beside


def _offsets(layer: MapLayer) -> Array:
    taken = layer.taken
    return in_lamp_axes(layer.spots_cm, taken.x_cm, taken.y_cm, taken.turn_deg)


def _read_at(layer: MapLayer, offsets_cm: Array) -> Array:
    """Return a map between its readings at places in the lamp's axes, nan beyond them."""
    own = _offsets(layer)
    distance, closest = KDTree(own).query(offsets_cm)
    found = np.full(len(offsets_cm), np.nan)
    if len(own) >= 3:
        with suppress(QhullError):  # all on one line
            found = LinearNDInterpolator(own, layer.ppfd)(offsets_cm)
    result: Array = np.where(distance <= SAME_SPOT_CM, layer.ppfd[closest], found)
    return result


def _carried(layer: MapLayer, lamp: PlacedLamp, offsets_cm: Array, modelled: Array) -> Array:
    """Return what a map's ratio to the model makes of the model on the first one's spots."""
    rows = tuple((x, y, layer.height_cm, e) for (x, y), e in zip(layer.spots_cm, layer.ppfd))
    (field,) = ratio_fields(replace(layer.taken, readings=rows), lamp)
    result: Array = modelled * np.exp(field.at(offsets_cm))
    return result


@dataclass(frozen=True)
class MapsBeside:
    """The first map, what the model gives there, and the others on the first one's spots."""

    first: MapLayer
    itself: Beside
    model: Beside
    others: tuple[OtherMap, ...]


def maps_beside(first: MapLayer, others: tuple[MapLayer, ...], lamp: PlacedLamp) -> MapsBeside:
    """Return a lamp's maps side by side on the first one's spots.

    Parameters
    ----------
    first : MapLayer
    others : tuple of MapLayer
    lamp : PlacedLamp
        The whole lamp, by its own figures.
    """
    points = np.column_stack([first.spots_cm, np.zeros(len(first.spots_cm))])
    there, height = as_measured(lamp, first.taken), np.array([first.height_cm])
    modelled = irradiance_over(prepare(first.taken.box, points), there, height)[0]
    everywhere = np.zeros(len(points), dtype=bool)
    offsets = _offsets(first)
    found = []
    for other in others:
        read = _read_at(other, offsets)
        found.append(
            OtherMap(
                as_read=None if np.isnan(read).all() else beside(first.ppfd, read, everywhere),
                carried=beside(
                    first.ppfd, _carried(other, lamp, offsets, modelled), np.isnan(read)
                ),
            )
        )
    return MapsBeside(
        first=first,
        itself=beside(first.ppfd, first.ppfd, everywhere),
        model=beside(first.ppfd, modelled, everywhere),
        others=tuple(found),
    )
