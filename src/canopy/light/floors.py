"""Lamps side by side: how their floors differ, and whether their makers' maps can be compared.

PPFD in umol m-2 s-1, lengths in cm.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from itertools import combinations

import numpy as np
from numpy.typing import NDArray

from canopy.light.lightmap import short_of_edge_cm
from canopy.words import Said, said

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


def map_notes(taken: Sequence[MapTaken]) -> tuple[Said, ...]:
    """Return what has to be known before these lamps' own maps are compared.

    Each is said once.
    """
    notes = [said("maps.none", name=t.name) for t in taken if t.area_cm is None]
    notes += [said("maps.short", name=t.name, by_cm=t.short_cm) for t in taken if t.short_cm > 0]
    for a, b in combinations(taken, 2):
        if a.area_cm is not None and b.area_cm is not None:
            notes += _between(a, b, a.area_cm, b.area_cm)
    return tuple(note for i, note in enumerate(notes) if note not in notes[:i])


def _between(
    a: MapTaken, b: MapTaken, one: tuple[float, float], two: tuple[float, float]
) -> list[Said]:
    notes = []
    names = {"a": a.name, "b": b.name}
    if any(abs(x - y) > SAME_CM for x, y in zip(sorted(one), sorted(two))):
        small = a if one[0] * one[1] < two[0] * two[1] else b
        notes.append(
            said(
                "maps.areas",
                **names,
                a_x_cm=one[0],
                a_y_cm=one[1],
                b_x_cm=two[0],
                b_y_cm=two[1],
                small=small.name,
            )
        )
    if a.height_cm and b.height_cm and abs(a.height_cm - b.height_cm) > SAME_CM:
        notes.append(said("maps.heights", **names, a_cm=a.height_cm, b_cm=b.height_cm))
    if a.readings and b.readings and a.readings != b.readings:
        notes.append(said("maps.counts", **names, a_n=a.readings, b_n=b.readings))
    return notes
