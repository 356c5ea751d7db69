"""A tent prepared for a fit: its light at given points for any lining, height and beam.

Light straight from the lamp is computed each time. All other light comes from a handful of
prepared tents: its logarithm is taken at up to five Chebyshev nodes of the logarithm of the height,
and in each of the tent's unknowns by a parabola through three tents. Lengths in cm.
"""

from collections.abc import Callable, Hashable, Mapping, Sequence
from copy import copy
from dataclasses import dataclass, replace
from math import cos, log, pi
from typing import Any, Literal, TypeVar

import numpy as np
from numpy.typing import NDArray

from canopy.light.beam import Beam, CosineBeam
from canopy.light.enclosure import Enclosure
from canopy.light.obstacles import obstacles
from canopy.light.sources import Bars, Board, Layout, Listed, PlacedLamp, Ring
from canopy.light.stands import Stand
from canopy.light.transport import Straight, Transport, prepare
from canopy.parallel import at_once

Array = NDArray[np.float64]
T = TypeVar("T")

TentName = Literal["walls", "mirror", "canopy", "beam"]

MOST_NODES = 5
NARROW, MIDDLING = 0.15, 0.5
"""Spans of the logarithm of the height that two and three nodes do for."""
ABOVE, BELOW = 1.06, 0.94
"""The heights asked for are prepared with so much room to both sides."""

DARK = 1e-9
"""Light below it is none, umol m-2 s-1."""

WALL_SHAPE = 0.9
"""Light grows with a wall's reflectance as -ln(1 - 0.9 rho) does, nearly straight."""

MOST_KEPT = 32
"""Things worked out of a tent as noted that are kept with it."""

TILT_STEP_DEG = 1.0
MOST_REFLECTANCE, MOST_MIRROR = 0.98, 0.88


def wall_depth(reflectance: float) -> float:
    """Return -ln(1 - 0.9 rho), in which a tent's light is nearly straight."""
    return -log(1 - WALL_SHAPE * reflectance)


@dataclass(frozen=True)
class Tent:
    """What of a tent is not known: differences from what was noted.

    Parameters
    ----------
    walls : float
        Added to each closed wall's -ln(1 - 0.9 rho).
    mirror, canopy : float
        Added to the walls' mirror share and to the canopy's reflectance.
    open_side : int, optional
        A wall, 0 to 3, that was open when its readings were taken.
    """

    walls: float = 0.0
    mirror: float = 0.0
    canopy: float = 0.0
    open_side: int | None = None

    def of(self, box: Enclosure) -> Enclosure:
        """Return the box as it then is."""
        walls: list[float] = []
        shares: list[float] = []
        for k, (rho, share) in enumerate(zip(box.wall_reflectance, box.wall_mirror_share)):
            if rho <= 0 or k == self.open_side:
                walls.append(0.0)
                shares.append(0.0)
                continue
            changed = (1 - np.exp(-(wall_depth(rho) + self.walls))) / WALL_SHAPE
            reflects = float(np.clip(changed, 0.005, MOST_REFLECTANCE))
            walls.append(reflects)
            shares.append(float(np.clip(share + self.mirror, 0.0, MOST_MIRROR / reflects)))
        canopy = float(np.clip(box.canopy_reflectance + self.canopy, 0.0, MOST_REFLECTANCE))
        return replace(
            box,
            wall_reflectance=(walls[0], walls[1], walls[2], walls[3]),
            wall_mirror_share=(shares[0], shares[1], shares[2], shares[3]),
            canopy_reflectance=canopy,
        )


def lifted(lamps: Sequence[PlacedLamp], lowest_cm: float) -> list[PlacedLamp]:
    """Return lamps hung so that the lowest is at a height, the others as far above it as before."""
    first = min(lamp.height_cm for lamp in lamps)
    return [replace(lamp, height_cm=lamp.height_cm - first + lowest_cm) for lamp in lamps]


def top_cm(box: Enclosure, lamps: Sequence[PlacedLamp]) -> float:
    """Return how high the lowest of some lamps can hang, the others above it below the ceiling."""
    first = min(lamp.height_cm for lamp in lamps)
    return box.height_cm - (max(float(lamp.outline()[:, 2].max()) for lamp in lamps) - first)


def with_beam(lamps: Sequence[PlacedLamp], power: float | None) -> list[PlacedLamp]:
    """Return lamps whose cosine beams have another power; candela tables stay."""
    if power is None:
        return list(lamps)
    beam: Beam = CosineBeam(max(power, 0.5))
    return [replace(x, beam=beam) if isinstance(x.beam, CosineBeam) else x for x in lamps]


def widened(layout: Layout, by: float) -> Layout:
    """Return a layout with its outer size so many times as large."""
    if isinstance(layout, Bars):
        axes = tuple(x * by for x in layout.bar_x_cm)
        return replace(layout, bar_x_cm=axes, bar_length_cm=layout.bar_length_cm * by)
    if isinstance(layout, Board):
        return replace(layout, x_cm=layout.x_cm * by, y_cm=layout.y_cm * by)
    if isinstance(layout, Ring):
        return replace(layout, diameter_cm=layout.diameter_cm * by)
    return layout


def listed(places: Array, shares: Array) -> Listed:
    """Return emitters one by one, their shares made to sum to 1."""
    each = (shares / shares.sum()).tolist()
    return Listed(tuple((x, y, z, share) for (x, y, z), share in zip(places.tolist(), each)))


def across(lamp: PlacedLamp, spacing_cm: float) -> PlacedLamp:
    """Return the same lamp told a quarter turn on, so that its tilt is about its own x axis."""
    places, shares = lamp.layout.emitters(spacing_cm)
    turned = np.column_stack([places[:, 1], -places[:, 0], places[:, 2]])
    return replace(lamp, layout=listed(turned, shares), turn_deg=lamp.turn_deg + 90)


_TENTS: dict[str, Callable[[float], Tent]] = {
    "walls": lambda value: Tent(walls=value),
    "mirror": lambda value: Tent(mirror=value),
    "canopy": lambda value: Tent(canopy=value),
}


@dataclass(frozen=True)
class Spread:
    """The three values of an unknown at which a tent is prepared; the first is as noted."""

    values: tuple[float, float, float]


class Prepared:
    """A tent with its lamps, ready at some points.

    Parameters
    ----------
    box : Enclosure
    lamps : sequence of PlacedLamp
        At full light.
    stands : sequence of Stand
    points_cm : array, shape (n, 3)
    heights_cm : sequence of float
        The lowest lamp's heights that will be asked for.
    spreads : mapping
        For each of the tent's unknowns the values to prepare it at, differences from what was
        noted; the beam's are powers.
    finer : bool
        See :meth:`canopy.light.transport.Transport.indirect`.
    """

    def __init__(
        self,
        box: Enclosure,
        lamps: Sequence[PlacedLamp],
        stands: Sequence[Stand],
        points_cm: Array,
        heights_cm: Sequence[float],
        spreads: Mapping[TentName, Spread],
        finer: bool = True,
    ) -> None:
        self.finer = finer
        self.box, self.lamps, self.points_cm = box, list(lamps), points_cm
        self.stands = tuple(stands)
        self.things = obstacles(self.stands, ())
        self.straight = Straight(box, points_cm, self.things)
        self.nodes = _nodes(min(heights_cm), max(heights_cm), top_cm(box, lamps))
        self.through = Through(self.nodes)
        self.spreads = dict(spreads)
        self._through = {name: Through(spread.values) for name, spread in self.spreads.items()}
        self._base, self._changes = self._indirect()
        self._opened: dict[int, Array] = {}
        self._kept: dict[Hashable, Any] = {}
        self._all: tuple[Prepared, NDArray[np.intp]] | None = None

    def some(self, which: Sequence[int]) -> "Prepared":
        """Return it at some of its points, in that order."""
        found = copy(self)
        found.points_cm = np.ascontiguousarray(self.points_cm[which])
        found.straight = Straight(self.box, found.points_cm, self.things)
        found._base = self._base[:, :, which]
        found._changes = {name: rows[:, :, :, which] for name, rows in self._changes.items()}
        found._opened, found._kept = {}, {}
        found._all = (self, np.asarray(which))
        return found

    def kept(self, key: Hashable, work: Callable[[], T]) -> T:
        """Return what was worked out of the tent as noted under a key, or work it out."""
        found: T | None = self._kept.get(key)
        if found is None:
            found = work()
            if len(self._kept) >= MOST_KEPT:
                self._kept = {}
            self._kept[key] = found
        return found

    def transport(self, tent: Tent) -> Transport:
        """Return the tent's transport to the points with its unknowns as they are given."""
        return prepare(tent.of(self.box), self.points_cm, things=self.things)

    def _of_tent(self, transport: Transport, powers: Sequence[float | None]) -> list[Array]:
        """Return ln of all other light, shape (nodes, lamps, points), for each beam power."""
        found = []
        for power in powers:
            rows = []
            for height in np.exp(self.nodes):
                lamps = with_beam(lifted(self.lamps, float(height)), power)
                rows.append([transport.indirect(lamp, self.finer) for lamp in lamps])
            found.append(np.log(np.maximum(np.array(rows), DARK)))
        return found

    def _indirect(self) -> tuple[Array, dict[TentName, Array]]:
        jobs: list[tuple[Tent, tuple[float | None, ...]]] = []
        beam = self.spreads.get("beam")
        powers: tuple[float | None, ...] = (None,) if beam is None else beam.values
        jobs.append((Tent(), powers))
        names: list[tuple[TentName, int]] = []
        first = powers[0]
        for name, spread in self.spreads.items():
            if name == "beam":
                continue
            for k in (1, 2):
                value = spread.values[k] - spread.values[0]
                jobs.append((_TENTS[name](value), (first,)))
                names.append((name, k))
        found = at_once(lambda job: self._of_tent(self.transport(job[0]), job[1]), jobs)
        base = found[0][0]
        changes: dict[TentName, Array] = {name: np.zeros((3, *base.shape)) for name in self.spreads}
        if beam is not None:
            changes["beam"][1:] = np.array(found[0][1:]) - base
        for (name, k), (rows,) in zip(names, found[1:]):
            changes[name][k] = rows - base
        return base, changes

    def indirect(self, height_cm: float, tent: Mapping[TentName, float]) -> Array:
        """Return all other light by lamps and points at a height, shape (lamps, points)."""
        at = self.through.weights(log(max(height_cm, 0.5)))
        rows = at @ self._base.reshape(len(at), -1)
        for name, change in self._changes.items():
            if name in tent:
                both = np.outer(self._through[name].weights(tent[name]), at).ravel()
                rows = rows + both @ change.reshape(len(both), -1)
        result: Array = np.exp(rows.reshape(self._base.shape[1:]))
        return result

    def opened(self, side: int) -> Array:
        """Return ln of what an open side leaves of all other light, (nodes, lamps, points)."""
        if side not in self._opened and self._all is not None:
            whole, which = self._all
            self._opened[side] = whole.opened(side)[:, :, which]
        elif side not in self._opened:
            beam = self.spreads.get("beam")
            power = None if beam is None else beam.values[0]
            (rows,) = self._of_tent(self.transport(Tent(open_side=side)), (power,))
            self._opened[side] = rows - self._base
        return self._opened[side]

    def opened_at(self, side: int, height_cm: float) -> Array:
        """Return the same at a height, shape (lamps, points)."""
        at = self.through.weights(log(max(height_cm, 0.5)))
        result: Array = np.tensordot(at, self.opened(side), axes=1)
        return result

    def direct(self, lamps: Sequence[PlacedLamp], which: NDArray[np.bool_] | None = None) -> Array:
        """Return light straight from lamps at the points, or some of them, (lamps, points)."""
        points = self.points_cm if which is None else self.points_cm[which]
        rows = []
        for k, lamp in enumerate(lamps):
            others = tuple(other for i, other in enumerate(lamps) if i != k)
            rows.append(self.straight.direct_at(np.ascontiguousarray(points), lamp, others))
        return np.array(rows)


def _nodes(low_cm: float, high_cm: float, most_cm: float) -> Array:
    """Return Chebyshev nodes of the logarithm of the height."""
    low, high = log(max(low_cm * BELOW, 0.6)), log(min(high_cm * ABOVE, most_cm))
    if high - low < log(ABOVE / BELOW):
        low = min(low, high - log(ABOVE / BELOW))
    # a straight line over a narrow span, a curve over a wide one
    count = 2 if high - low < NARROW else 3 if high - low < MIDDLING else MOST_NODES
    turns = np.array([-cos(pi * (k + 0.5) / count) for k in range(count)])
    return np.asarray((low + high) / 2 + turns * (high - low) / 2)


class Through:
    """The polynomial through values at nodes, by what each value weighs at a place."""

    def __init__(self, nodes: Sequence[float] | Array) -> None:
        self.nodes = np.asarray(nodes, dtype=float)
        apart = self.nodes[:, None] - self.nodes[None, :] + np.eye(len(self.nodes))
        self._shares = 1 / apart.prod(axis=1)

    def weights(self, at: float) -> Array:
        """Return the weights of the values at a place, shape (nodes,)."""
        away = at - self.nodes
        near = np.abs(away) < 1e-12
        if near.any():
            return near.astype(float)
        result: Array = away.prod() * self._shares / away
        return result
