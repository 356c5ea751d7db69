"""Lamps side by side: how their floors differ, and whether their makers' maps can be compared.

PPFD in umol m-2 s-1, lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from canopy.light.lightmap import short_of_edge_cm

Array = NDArray[np.float64]

SAME_PPFD = 0.10
"""Spots whose light differs by no more than this share are alike: readings are no better."""

SAME_CM = 5.0


@dataclass(frozen=True)
class FloorDifference:
    """How a floor differs from another: mean and largest difference, and where it is brighter.

    ``brighter`` and ``dimmer`` are shares of the floor that differ by more than 10 %; ``map_`` is
    this floor less the other, shape (points,).
    """

    mean: float
    largest: float
    brighter: float
    dimmer: float
    map_: Array


def floor_difference(floor: Array, other: Array, weights: Array) -> FloorDifference:
    """Return how one floor differs from another at the same points.

    Parameters
    ----------
    floor, other : array, shape (points,)
    weights : array, shape (points,)
        Share of the area each point stands for, summing to 1.
    """
    less = floor - other
    share = less / np.maximum(other, 1e-9)
    return FloorDifference(
        mean=float(less @ weights),
        largest=float(less[np.abs(less).argmax()]),
        brighter=float(weights[share > SAME_PPFD].sum()),
        dimmer=float(weights[share < -SAME_PPFD].sum()),
        map_=less,
    )


@dataclass(frozen=True)
class MapTaken:
    """Where a lamp's stated mean or its readings were taken; ``None`` where nobody says.

    ``short_cm`` is by how much readings stop short of the edge.
    """

    name: str
    area_cm: tuple[float, float] | None = None
    height_cm: float | None = None
    readings: int | None = None
    short_cm: float = 0.0


def taken_from_readings(
    name: str, width_cm: float, depth_cm: float, readings: Sequence[tuple[float, float, float]]
) -> MapTaken:
    """Return where readings (x, y, height) were taken; at the height with most of them."""
    heights, counts = np.unique([row[2] for row in readings], return_counts=True)
    height = float(heights[counts.argmax()])
    here = np.array([row[:2] for row in readings if row[2] == height])
    short = max(
        short_of_edge_cm(here[:, axis], side) for axis, side in ((0, width_cm), (1, depth_cm))
    )
    return MapTaken(name, (width_cm, depth_cm), height, len(here), short)


def map_notes(taken: Sequence[MapTaken]) -> tuple[str, ...]:
    """Return what has to be known before these lamps' own maps are compared, as sentences.

    Each is said once.
    """
    notes = [f"{t.name} comes without a map or a mean." for t in taken if t.area_cm is None]
    notes += [
        f"The readings of {t.name} stop {t.short_cm:.0f} cm short of the edge, where it is "
        "dimmest: its mean is too good."
        for t in taken
        if t.short_cm > 0
    ]
    for a, b in combinations(taken, 2):
        if a.area_cm is not None and b.area_cm is not None:
            notes += _between(a, b, a.area_cm, b.area_cm)
    return tuple(dict.fromkeys(notes))


def _between(
    a: MapTaken, b: MapTaken, one: tuple[float, float], two: tuple[float, float]
) -> list[str]:
    notes = []
    if any(abs(x - y) > SAME_CM for x, y in zip(sorted(one), sorted(two))):
        small = a if one[0] * one[1] < two[0] * two[1] else b
        notes.append(
            f"{a.name} was tested over {one[0]:.0f} × {one[1]:.0f} cm, {b.name} over "
            f"{two[0]:.0f} × {two[1]:.0f}: over less floor any lamp looks brighter, here "
            f"{small.name}."
        )
    if a.height_cm and b.height_cm and abs(a.height_cm - b.height_cm) > SAME_CM:
        notes.append(
            f"{a.name} was tested at {a.height_cm:.0f} cm, {b.name} at {b.height_cm:.0f} cm: "
            "higher is more even and loses more to the walls."
        )
    if a.readings and b.readings and a.readings != b.readings:
        notes.append(
            f"{a.name} has {a.readings} readings, {b.name} {b.readings}: a coarse grid misses the "
            "brightest and the dimmest spots."
        )
    return notes
