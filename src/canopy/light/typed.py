"""A light map typed in: readings on a regular grid, and what they come to.

Lengths in cm, PPFD in umol m-2 s-1.
"""

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.light.lightmap import MapStatistics, map_statistics

Array = NDArray[np.float64]
Places = Literal["cells", "edges", "inset"]


def places_cm(count: int, side_cm: float, places: Places, inset_cm: float = 0.0) -> Array:
    """Return where so many readings stand along a side, shape (count,).

    In the middles of equal cells, from edge to edge, or evenly between two insets from the edges.

    >>> places_cm(3, 90, "cells").tolist(), places_cm(3, 90, "inset", 10).tolist()
    ([15.0, 45.0, 75.0], [10.0, 45.0, 80.0])

    Raises
    ------
    CanopyError
        When the insets leave nothing between them.
    """
    if places == "cells":
        return (np.arange(count) + 0.5) * side_cm / count
    inset = 0.0 if places == "edges" else inset_cm
    if inset >= side_cm / 2 and count > 1:
        raise CanopyError(
            "The outer readings stand further in than the middle; give a smaller inset.", "inset_cm"
        )
    if count == 1:
        return np.array([side_cm / 2])
    return np.linspace(inset, side_cm - inset, count)


def side_shares(at_cm: Array, side_cm: float) -> Array:
    """Return the share of a side that each of its readings stands for, sum 1.

    Each reaches half way to the next, the outer ones to the edge; so from edge to edge an outer
    one stands for half a cell.

    >>> side_shares(np.array([0.0, 45.0, 90.0]), 90).tolist()
    [0.25, 0.5, 0.25]
    """
    between = (at_cm[1:] + at_cm[:-1]) / 2
    return np.diff(np.concatenate([[0.0], between, [side_cm]])) / side_cm


@dataclass(frozen=True)
class TypedMap:
    """Readings with their places; ``rows`` from the back, as seen from above, and what they say."""

    x_cm: Array
    y_cm: Array
    rows: tuple[tuple[float | None, ...], ...]
    count: int
    total: float
    statistics: MapStatistics

    def readings(self) -> list[tuple[float, float, float]]:
        """Return x, y and light of every reading."""
        return [
            (float(x), float(y), value)
            for y, row in zip(self.y_cm, self.rows)
            for x, value in zip(self.x_cm, row)
            if value is not None
        ]


def typed_map(
    rows: Sequence[Sequence[float | None]],
    width_cm: float,
    depth_cm: float,
    places: Places = "cells",
    inset_cm: tuple[float, float] = (0.0, 0.0),
) -> TypedMap:
    """Return a typed map; cells without a figure are passed over.

    Parameters
    ----------
    rows : sequence of sequences of float or None
        From the back to the front, each from the left.
    width_cm, depth_cm : float
        Of the area.
    places, inset_cm : str, tuple of float
        See :func:`places_cm`; the insets from left and right, and from front and back.

    Raises
    ------
    CanopyError
        When there is no reading, rows differ in length, or the insets leave nothing.
    """
    odd = next((at for at, row in enumerate(rows) if len(row) != len(rows[0])), None)
    if odd is not None:
        raise CanopyError(
            f"Row {odd + 1} has {len(rows[odd])} places and row 1 has {len(rows[0])}; give every "
            "row as many, empty ones where nothing was read.",
            "rows",
        )
    x = places_cm(len(rows[0]) if rows else 0, width_cm, places, inset_cm[0])
    y = places_cm(len(rows), depth_cm, places, inset_cm[1])[::-1]
    shares = np.outer(side_shares(y[::-1], depth_cm)[::-1], side_shares(x, width_cm))
    known = np.array([[value is not None for value in row] for row in rows], dtype=bool)
    if not known.any():
        raise CanopyError("There are no readings yet; type or paste some.", "rows")
    values = np.array([[value or 0.0 for value in row] for row in rows])[known]
    return TypedMap(
        x_cm=x,
        y_cm=y,
        rows=tuple(tuple(row) for row in rows),
        count=len(values),
        total=float(values.sum()),
        statistics=map_statistics(values, shares[known]),
    )
