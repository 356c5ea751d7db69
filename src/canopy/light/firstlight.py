"""First light on a tent's walls at every height of a lamp, and under every ceiling, from one table.

What a lamp sends straight to a place on a wall depends on how far below it the place is, not on how
high both are. So it is computed once over that distance, summed up from the bottom; what a patch
gets at any height of the lamp is then a difference of two sums. The same holds of its images in
mirrors. Only canopy and ceiling are asked anew. Lengths in cm, irradiance in umol m-2 s-1.
"""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from math import ceil

import numpy as np
from numpy.typing import NDArray

from canopy.constants import CM2_PER_M2
from canopy.light.enclosure import Enclosure, Face, Patches, patches_of, sides_of, split_lines
from canopy.light.images import lattice
from canopy.light.kernels import FOUR, FOUR_WEIGHT, TWO, patch_flux
from canopy.light.shade import Seen
from canopy.light.sources import PlacedLamp
from canopy.light.transport import (
    FAR_SPACING_CM,
    IMAGE_SPACING_CM,
    First,
    Transport,
    arriving,
    bounce_spacing_cm,
    own_emitters,
    seen_in,
)
from canopy.once import once
from canopy.parallel import at_once

Array = NDArray[np.float64]

PANEL_CM = 1.5
FAR_PANEL_CM = 6.0
"""Panels of the table beside the lamp are as high as this, and those of its far images."""

GROWTH = 1.3
"""Each one further away is so many times higher; light varies over distances like the distance."""

REACH_CM = 240.0
"""The table reaches a whole multiple of it up and down, so that tents of many heights share it."""

KEPT = 48

THREE = np.array([-1.0, 0.0, 1.0]) * np.sqrt(0.6)
"""Gauss-Legendre points of a panel; Abramowitz & Stegun, table 25.4."""


@dataclass(frozen=True)
class Sums:
    """Light on columns of the four walls from far below a lamp up to places below and above it.

    ``edges_cm`` (panels + 1,) are heights over the lamp's, ``sums`` (panels + 1, columns) what has
    added up there, ``series`` (3, panels, columns) each panel's light as a parabola over -1 to 1.
    """

    edges_cm: Array
    sums: Array
    series: Array

    def to(self, over_cm: Array) -> Array:
        """Return what has added up to heights over the lamp's, shape (n, columns)."""
        at = np.clip(over_cm, self.edges_cm[0], self.edges_cm[-1])
        k = np.clip(np.searchsorted(self.edges_cm, at, side="right") - 1, 0, len(self.sums) - 2)
        half = (self.edges_cm[k + 1] - self.edges_cm[k]) / 2
        t = ((at - self.edges_cm[k]) / half - 1)[:, None]
        a, b, c = self.series[:, k]
        part = a * (t + 1) + b * (t * t - 1) / 2 + c * (t**3 + 1) / 3
        result: Array = self.sums[k] + half[:, None] * part
        return result


def _edges(
    lowest_cm: float, highest_cm: float, down_cm: float, up_cm: float, panel_cm: float
) -> Array:
    """Return panels' edges over emitters between two heights, reaching down and up."""
    steps, at, width = [0.0], 0.0, panel_cm
    while at < max(down_cm, up_cm):
        at += width
        steps.append(at)
        width *= GROWTH
    away = np.array(steps)
    down = lowest_cm - np.minimum(away, down_cm)
    up = highest_cm + np.minimum(away, up_cm)
    inner = max(ceil((highest_cm - lowest_cm) / panel_cm), 1)
    between = np.linspace(lowest_cm, highest_cm, inner + 1)
    return np.unique(np.concatenate([down, between, up]))


@dataclass(frozen=True)
class _Columns:
    """A wall without its height: its columns are all that tents of many heights share."""

    axis: int
    at_cm: float
    lines: tuple[float, ...]


def _columns(face: Face) -> _Columns:
    return _Columns(face.axis, face.at_cm, tuple(float(line) for line in face.u_lines))


NEAR_SHARE = 0.5
MOST_PARTS = 8
"""Points across a column serve emitters no nearer to the wall than such a share of its width; for
nearer ones it is cut, at most so often."""

LEAST_PANEL_CM = 0.2


def _nearest_cm(wall: _Columns, seen: Sequence[Seen]) -> float:
    """Return how near emitters come to a wall."""
    return min(
        (float(np.abs(places[:, wall.axis] - wall.at_cm).min()) for places, _, _ in seen),
        default=np.inf,
    )


def _parts(wall: _Columns, seen: Sequence[Seen]) -> int:
    """Return into how many parts a wall's columns are cut for the emitters nearest to it."""
    width = float(np.diff(wall.lines).max())
    near = max(NEAR_SHARE * width / MOST_PARTS, _nearest_cm(wall, seen))
    return max(ceil(NEAR_SHARE * width / near - 1e-9), 1)


def _sums(
    wall: _Columns, seen: Sequence[Seen], table: Array, edges: Array, gauss: tuple[Array, Array]
) -> Sums:
    """Return what emitters seen from a wall send to its columns; the lamp hangs at height 0.

    ``gauss`` are points across a column, -1 to 1, and their weights.
    """
    columns = len(wall.lines) - 1
    parts = _parts(wall, seen)
    lines = split_lines(np.array(wall.lines), parts)
    middle, half = (lines[1:] + lines[:-1]) / 2, np.diff(lines) / 2
    across = (middle[:, None] + half[:, None] * gauss[0]).ravel()
    shares = np.tile(gauss[1] / parts, parts)
    centre, reach = (edges[1:] + edges[:-1]) / 2, np.diff(edges) / 2
    over = (centre[:, None] + reach[:, None] * THREE).ravel()
    count = len(across) * len(over)
    places, nothing = np.zeros((count, 3)), np.zeros((count, 3))
    places[:, wall.axis] = wall.at_cm
    places[:, 1 - wall.axis] = np.repeat(across, len(over))
    places[:, 2] = np.tile(over, len(across))
    inwards = np.zeros((count, 3))
    inwards[:, wall.axis] = 1.0 if wall.at_cm == 0 else -1.0
    light = np.zeros(count)
    for emitters in seen:
        # patches without sides: one point each, per cm2
        light += patch_flux(
            places, nothing, nothing, inwards, np.ones(count), *emitters, table, False
        )
    shape = columns, len(shares), len(centre), len(THREE)
    low, own, high = np.einsum("cgpk,g->kpc", light.reshape(shape), shares)
    series = np.array(
        [own, (high - low) / (2 * THREE[2]), ((high + low) / 2 - own) / THREE[2] ** 2]
    )
    # over a panel the odd part cancels
    whole = reach[:, None] * (2 * series[0] + 2 * series[2] / 3)
    sums = np.concatenate([np.zeros((1, columns)), np.cumsum(whole, axis=0)])
    return Sums(edges, sums, series)


@once(KEPT)
def _tables(
    sides: Enclosure,
    walls: tuple[_Columns, ...],
    lamp: PlacedLamp,
    spacing_cm: float,
    far: bool,
    down_cm: float,
    up_cm: float,
) -> tuple[Sums, Sums]:
    """Return tables of a lamp at height 0 on all walls: its own light, and its images'.

    ``far`` are the far images alone, which have none of the first.
    """
    images, table = lattice(sides), lamp.beam.intensity()
    # of a tilted lamp some of it hangs above its middle and some below
    outline = lamp.outline()[:, 2]
    gauss = (TWO, np.full(2, 0.5)) if far else (FOUR, FOUR_WEIGHT)
    cells = images.far if far else images.beside
    apart = FAR_SPACING_CM if far else IMAGE_SPACING_CM
    mirrored = [seen_in(lamp, apart, cells)] if cells else []
    own = [] if far else [own_emitters(lamp, spacing_cm)]
    nearest = min(_nearest_cm(wall, own) for wall in walls)
    panel = FAR_PANEL_CM if far else min(PANEL_CM, max(nearest, LEAST_PANEL_CM))
    edges = _edges(float(outline.min()), float(outline.max()), down_cm, up_cm, panel)
    found = at_once(
        lambda asked: _sums(asked[1], asked[0], table, edges, gauss),
        [(seen, wall) for seen in (own, mirrored) for wall in walls],
    )
    return _joined(found[: len(walls)]), _joined(found[len(walls) :])


def _joined(each: Sequence[Sums]) -> Sums:
    """Return walls' tables as one, their columns in order."""
    return Sums(
        each[0].edges_cm,
        np.concatenate([one.sums for one in each], axis=1),
        np.concatenate([one.series for one in each], axis=2),
    )


def _on_walls(sums: Sums, rows_cm: Array, height_cm: float) -> Array:
    """Return the walls' patches' mean irradiance from a lamp at a height.

    ``rows_cm`` are the lines all walls are cut along.
    """
    rows = np.diff(sums.to(rows_cm - height_cm), axis=0) / np.diff(rows_cm)[:, None]
    # a parabola may dip where light ends
    return np.maximum(rows.T.ravel(), 0.0) * CM2_PER_M2


@dataclass(frozen=True)
class FirstLight:
    """A lamp's first light on the patches of a tent, at any height it is raised to."""

    tent: Transport
    lamp: PlacedLamp
    near: tuple[Sums, Sums]
    far: Sums | None
    fine_level: Patches
    coarse_level: Patches

    def at(self, height_cm: float) -> First:
        """Return it with the lamp at a height."""
        far = np.zeros(0)
        if self.far is not None:
            walls = _on_walls(self.far, self.tent.coarse.faces[0].v_lines, height_cm)
            seen = seen_in(self._raised(height_cm), FAR_SPACING_CM, self.tent.images.far)
            far = np.concatenate([walls, self._level(self.coarse_level, seen)])
        return First(self._own_at(height_cm), self._beside_at(height_cm), far)

    def near_at(self, height_cm: float) -> Array:
        """Return its near part alone, straight and from near images, shape (fine,)."""
        return First(self._own_at(height_cm), self._beside_at(height_cm), np.zeros(0)).near

    def _own_at(self, height_cm: float) -> Array:
        lamp, tent = self._raised(height_cm), self.tent
        spacing = bounce_spacing_cm(float(lamp.outline()[:, 2].min()))
        level = self._level(self.fine_level, own_emitters(lamp, spacing))
        on_walls = _on_walls(self.near[0], tent.fine.faces[0].v_lines, height_cm)
        arrived = float(level @ self.fine_level.areas_cm2) / CM2_PER_M2
        if arrived > 0:
            # what walls do not get ends on canopy and ceiling
            gone = float(on_walls @ tent.fine.areas_cm2[: len(on_walls)]) / CM2_PER_M2
            level *= max(lamp.flux_umol_s - gone, 0.0) / arrived
        return np.concatenate([on_walls, level])

    def _beside_at(self, height_cm: float) -> Array:
        images, rows = self.tent.images.beside, self.tent.fine.faces[0].v_lines
        if not images:
            return np.zeros(0)
        seen = seen_in(self._raised(height_cm), IMAGE_SPACING_CM, images)
        on_walls = _on_walls(self.near[1], rows, height_cm)
        return np.concatenate([on_walls, self._level(self.fine_level, seen)])

    def _raised(self, height_cm: float) -> PlacedLamp:
        return replace(self.lamp, height_cm=height_cm)

    def _level(self, patches: Patches, seen: Seen) -> Array:
        """Return mean irradiance of level patches."""
        return arriving(patches, seen, self.lamp.beam, whole=False)


def first_light(tent: Transport, lamp: PlacedLamp, heights_cm: Array) -> FirstLight:
    """Return a lamp's first light in a tent, ready for heights.

    Parameters
    ----------
    tent : Transport
    lamp : PlacedLamp
        Its own height does not count.
    heights_cm : array, shape (n,)
        Between the lowest and the highest of these it can be asked for.
    """
    box, there = tent.box, replace(lamp, height_cm=0.0)
    sides = sides_of(box)
    lowest, highest = float(heights_cm.min()), float(heights_cm.max())
    rise = float(there.outline()[:, 2].min())
    down = REACH_CM * max(ceil((highest + rise) / REACH_CM), 1)
    # a level lamp sends nothing up
    up = REACH_CM * ceil((box.height_cm - lowest) / REACH_CM) if lamp.tilt_deg else PANEL_CM
    spacing = bounce_spacing_cm(lowest + rise)

    def tables(faces: list[Face], far: bool) -> tuple[Sums, Sums]:
        walls = tuple(_columns(face) for face in faces[:4])
        return _tables(sides, walls, there, spacing, far, down, up)

    return FirstLight(
        tent,
        lamp,
        tables(tent.fine.faces, far=False),
        tables(tent.coarse.faces, far=True)[1] if tent.images.far else None,
        patches_of(tent.fine.faces[4:]),
        patches_of(tent.coarse.faces[4:]),
    )


def irradiance_over(tent: Transport, lamp: PlacedLamp, heights_cm: Array) -> Array:
    """Return all light at a tent's points with the lamp at heights, shape (heights, points).

    As a stack of heights has it, so that what is held against one differs by nothing else.
    """
    first = first_light(tent, lamp, heights_cm)
    rows = [
        tent.irradiance(replace(lamp, height_cm=float(h)), first.at(float(h))) for h in heights_cm
    ]
    return np.array(rows)
