"""Lamps as arrays of small emitters.

Lengths in cm in the lamp's own frame (x across the bars, y along them, z up, origin at the
middle of the light-giving face); flux in umol s-1.
"""

from dataclasses import dataclass, replace
from functools import lru_cache
from typing import Any, Final, Literal, Protocol

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError
from canopy.light.beam import LAMBERTIAN, Beam

Array = NDArray[np.float64]


class Layout(Protocol):
    """Where on a lamp the light comes from."""

    def __hash__(self) -> int: ...

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return places, shape (n, 3), and shares of the flux, shape (n,), summing to 1."""
        ...

    def outline(self) -> Array:
        """Return the outermost light-giving points, shape (k, 3)."""
        ...


GAUSS = 0.5 / np.sqrt(3.0)
"""Offset of the two Gauss-Legendre points from a unit cell's middle."""


def _along(length_cm: float, spacing_cm: float) -> Array:
    """Return equally weighted Gauss points over a centred length, none further apart than asked.

    The number of cells is even beyond one, so that the middle is a border; two points a cell
    leave an error that falls with the fourth power of the spacing.
    """
    cells = max(1, int(np.ceil(length_cm * 2 * GAUSS / spacing_cm - 1e-9)))
    cells += cells % 2 if cells > 1 else 0
    middles = (np.arange(cells) + 0.5) / cells
    points = (middles[:, None] + np.array([-GAUSS, GAUSS])[None, :] / cells).ravel()
    return np.asarray((points - 0.5) * length_cm)


@dataclass(frozen=True)
class Bars:
    """Parallel bars along y.

    Parameters
    ----------
    bar_x_cm : tuple of float
        The bars' axes.
    bar_length_cm : float
        Light-giving length of each bar, > 0.
    bar_share : tuple of float, optional
        Share of the lamp's flux on each bar; equal when left out.
    end_density : float
        Diode density at a bar's ends over that at its middle, linear between.
    """

    bar_x_cm: tuple[float, ...]
    bar_length_cm: float
    bar_share: tuple[float, ...] | None = None
    end_density: float = 1.0

    @classmethod
    def even(
        cls,
        bars: int,
        bar_length_cm: float,
        spread_cm: float,
        bar_share: tuple[float, ...] | None = None,
        end_density: float = 1.0,
    ) -> "Bars":
        """Return bars evenly spread, first and last axis at the ends; one bar at the middle."""
        axes = np.linspace(-spread_cm / 2, spread_cm / 2, bars) if bars > 1 else np.zeros(1)
        return cls(tuple(float(x) for x in axes), bar_length_cm, bar_share, end_density)

    def without(self, off: tuple[int, ...]) -> tuple["Bars", float]:
        """Return the lamp with bars unplugged, and the share of its light that is left.

        Parameters
        ----------
        off : tuple of int
            Places of the unplugged bars, from 0 in the order of ``bar_x_cm``.

        Raises
        ------
        CanopyError
            When there is no such bar, or none is left.
        """
        count = len(self.bar_x_cm)
        if any(not 0 <= i < count for i in off):
            raise CanopyError(f"This lamp has {count} bars; choose among them.", "bars_off")
        share = np.array(self.bar_share or [1 / count] * count)
        share[list(off)] = 0.0
        left = float(share.sum())
        if left <= 0:
            raise CanopyError("With every bar unplugged there is no light; leave one.", "bars_off")
        kept = tuple(float(value) for value in share / left)
        return replace(self, bar_share=kept), left

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return emitters no further apart than the spacing along each bar."""
        middles = _along(self.bar_length_cm, spacing_cm)
        density = 1 + (self.end_density - 1) * np.abs(middles) / (self.bar_length_cm / 2)
        along = density / density.sum()
        count = len(self.bar_x_cm)
        share = np.asarray(self.bar_share or [1 / count] * count)
        places = np.zeros((count, len(middles), 3))
        places[..., 0] = np.asarray(self.bar_x_cm)[:, None]
        places[..., 1] = middles[None, :]
        shares = share[:, None] * along[None, :]
        lit = shares.ravel() > 0
        return places.reshape(-1, 3)[lit], shares.ravel()[lit]

    def outline(self) -> Array:
        """Return the four ends of the outermost lit bars."""
        lit = [
            x
            for x, share in zip(self.bar_x_cm, self.bar_share or [1.0] * len(self.bar_x_cm))
            if share > 0
        ]
        half = self.bar_length_cm / 2
        return np.array([[x, y, 0.0] for x in (min(lit), max(lit)) for y in (-half, half)])


MOST_SCATTERED = 987
"""Emitters a board is scattered into at most; a Fibonacci number."""


@dataclass(frozen=True)
class Board:
    """An evenly lit rectangle, sides in cm."""

    x_cm: float
    y_cm: float

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return emitters at the Gauss points of equal cells."""
        along = _along(self.x_cm, spacing_cm), _along(self.y_cm, spacing_cm)
        x, y = np.meshgrid(*along, indexing="ij")
        places = np.stack([x.ravel(), y.ravel(), np.zeros(x.size)], axis=1)
        return places, np.full(x.size, 1 / x.size)

    def scattered(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return as many emitters, no two of which share a row: a Fibonacci lattice."""
        asked = len(_along(self.x_cm, spacing_cm)) * len(_along(self.y_cm, spacing_cm))
        step, count = 1, 2
        while count < min(asked, MOST_SCATTERED):
            step, count = count, step + count
        k = np.arange(count)
        x, y = (k + 0.5) / count - 0.5, (k * step / count + 0.25) % 1.0 - 0.5
        places = np.stack([x * self.x_cm, y * self.y_cm, np.zeros(count)], axis=1)
        return places, np.full(count, 1 / count)

    def outline(self) -> Array:
        """Return the four corners."""
        return np.array(
            [[sx * self.x_cm / 2, sy * self.y_cm / 2, 0.0] for sx in (-1, 1) for sy in (-1, 1)]
        )


@dataclass(frozen=True)
class Ring:
    """A circle of diodes or a bent strip, diameter in cm."""

    diameter_cm: float

    def _round(self, count: int) -> Array:
        angle = (np.arange(count) + 0.5) * 2 * np.pi / count
        radius = self.diameter_cm / 2
        return np.stack([radius * np.cos(angle), radius * np.sin(angle), np.zeros(count)], axis=1)

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return emitters evenly round the circle, at least eight."""
        count = max(8, 4 * int(np.ceil(np.pi * self.diameter_cm / spacing_cm / 4)))
        return self._round(count), np.full(count, 1 / count)

    def outline(self) -> Array:
        """Return points round the circle, one degree apart, its four extremes among them."""
        turned = self._round(360)
        half_step = np.pi / 360
        c, s = np.cos(half_step), np.sin(half_step)
        result: Array = turned @ np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
        return result


@dataclass(frozen=True)
class PointSource:
    """A bulb or puck small enough to be a point."""

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return the one emitter."""
        return np.zeros((1, 3)), np.ones(1)

    def outline(self) -> Array:
        """Return the one place."""
        return np.zeros((1, 3))


MOST_SINGLE: Final = 400
"""So many listed emitters are all followed one by one."""

THIN_CM: Final = 18.0
"""The square of the spacing a lamp's emitters may have, over this, is the side of the cells in
which more of them count as one, at their middle: small for what the plants see straight from a low
lamp, wide for what goes by the walls. A test holds the light to 0.5 %."""

MOST_SPACINGS: Final = 32


def thinned(table: Array, cell_cm: float) -> tuple[Array, Array]:
    """Return emitters with those of one cell taken together, each at the middle of its light.

    Parameters
    ----------
    table : array, shape (n, 4)
        x, y, z and share.
    cell_cm : float
    """
    lit = table[table[:, 3] > 0]
    cells = np.floor((lit[:, :3] - lit[:, :3].min(axis=0)) / cell_cm).astype(np.int64)
    _, at = np.unique(cells, axis=0, return_inverse=True)
    at = np.ravel(at)
    share: Array = np.bincount(at, weights=lit[:, 3]).astype(np.float64)
    middles = [np.bincount(at, weights=lit[:, 3] * lit[:, k]) / share for k in range(3)]
    return _still(np.column_stack(middles)), _still(share)


@dataclass(frozen=True)
class Listed:
    """Emitters given one by one as (x_cm, y_cm, z_cm, share); shares sum to 1."""

    rows: tuple[tuple[float, float, float, float], ...]

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return the listed emitters; of a great many those that lie near one another as one."""
        if len(self.rows) <= MOST_SINGLE:
            table = self._table()
            return table[:, :3], table[:, 3]
        kept: dict[float, tuple[Array, Array]] = self.__dict__.setdefault("_thinned", {})
        if spacing_cm not in kept:
            if len(kept) >= MOST_SPACINGS:
                kept.clear()
            kept[spacing_cm] = thinned(self._table(), spacing_cm**2 / THIN_CM)
        return kept[spacing_cm]

    def _table(self) -> Array:
        return np.asarray(self.rows, dtype=float)

    def outline(self) -> Array:
        """Return every lit place."""
        table = np.asarray(self.rows, dtype=float)
        return table[table[:, 3] > 0, :3]


Side = Literal["all", "left", "right", "front", "back"]
"""Where a lamp's dead part lies: all over it, or from one side, in the lamp's own frame."""

MOST_DEAD: Final = 0.95
"""Share of a lamp that may be dead; with more there is no lamp."""

_PART_CM: Final = 2.5
"""How finely a lamp is cut whose dead part lies to one side."""


def without_part(layout: Layout, side: Side, share: float) -> tuple[Layout, float]:
    """Return a lamp with a part of it dead, and the share of its light that is left.

    Parameters
    ----------
    layout : Layout
    side : {'all', 'left', 'right', 'front', 'back'}
        All over it diodes are dead here and there: it keeps its shape. Else those of one side are,
        its left and right along x, its front and back along y.
    share : float
        Of its light that is dead, 0 to 0.95.

    Raises
    ------
    CanopyError
        When nearly nothing is left.
    """
    if not 0 <= share <= MOST_DEAD:
        raise CanopyError(
            f"Up to {MOST_DEAD:.0%} of a lamp can be dead; give a share from 0 to {MOST_DEAD:g}.",
            "dead_share",
        )
    if side == "all" or share == 0:
        return layout, 1 - share
    places, shares = layout.emitters(_PART_CM)
    along = places[:, 0 if side in ("left", "right") else 1]
    along = np.round(along if side in ("left", "front") else -along, 6)
    rows, at = np.unique(along, return_inverse=True)
    lit = np.bincount(at, weights=shares, minlength=len(rows))
    before = np.concatenate([[0.0], np.cumsum(lit)[:-1]])
    alive = np.clip(1 - (share - before) / np.maximum(lit, 1e-12), 0.0, 1.0)
    left = shares * alive[at]
    kept = left > 0
    rest = left[kept] / left.sum()
    rows_left = np.column_stack([places[kept], rest])
    return Listed(tuple((x, y, z, s) for x, y, z, s in rows_left.tolist())), float(left.sum())


@dataclass(frozen=True)
class Body:
    """What of a lamp stands in the light's way on its way back up.

    Parameters
    ----------
    coverage : float
        Opaque share of its rectangle, 0 to 1: the layout's bounding one, unless sides are given.
    reflectance : float
        Of the body's two sides, 0 to 1.
    x_cm, y_cm : float, optional
        Its sides where they are not the layout's, and where the layout spans no area.
    """

    coverage: float
    reflectance: float
    x_cm: float | None = None
    y_cm: float | None = None


def _still(rows: Array) -> Array:
    rows.flags.writeable = False
    return rows


@lru_cache(maxsize=512)
def _rotation(turn_deg: float, tilt_deg: float) -> Array:
    """Return R = Rz(turn) Ry(tilt), shape (3, 3)."""
    turn, tilt = np.radians(turn_deg), np.radians(tilt_deg)
    c, s = np.cos(turn), np.sin(turn)
    about_z = np.array([[c, -s, 0.0], [s, c, 0.0], [0.0, 0.0, 1.0]])
    c, s = np.cos(tilt), np.sin(tilt)
    return _still(about_z @ np.array([[c, 0.0, -s], [0.0, 1.0, 0.0], [s, 0.0, c]]))


@lru_cache(maxsize=256)
def _laid_out(layout: Any, spacing_cm: float) -> tuple[Array, Array]:
    places, shares = layout.emitters(spacing_cm)
    return _still(places), _still(shares)


def _emitters(layout: Layout, spacing_cm: float) -> tuple[Array, Array]:
    """Return a layout's emitters, kept where it is quickly told from others."""
    if isinstance(layout, Listed):
        return layout.emitters(spacing_cm)
    return _laid_out(layout, spacing_cm)


@dataclass(frozen=True)
class PlacedLamp:
    """One lamp where it hangs.

    Parameters
    ----------
    layout : Layout
        Where on the lamp the light comes from.
    ppf_umol_s : float
        Photon flux at full power.
    x_cm, y_cm : float
        The lamp's middle from the tent's front left corner.
    height_cm : float
        From the light-giving face (its middle when tilted) to the canopy plane.
    turn_deg : float
        About the vertical, counter-clockwise seen from above, after the tilt.
    tilt_deg : float
        About the lamp's own y axis; a positive tilt raises its +x side.
    light_fraction : float
        Share of full light, 0 to 1.
    beam : Beam
        How the light spreads over angles.
    body : Body, optional
        What stands in the way of the light coming back up; nothing without it.
    """

    layout: Layout
    ppf_umol_s: float
    x_cm: float
    y_cm: float
    height_cm: float
    turn_deg: float = 0.0
    tilt_deg: float = 0.0
    light_fraction: float = 1.0
    beam: Beam = LAMBERTIAN
    body: Body | None = None

    def rotation(self) -> Array:
        """Return the lamp's rotation, R = Rz(turn) Ry(tilt), shape (3, 3)."""
        return _rotation(self.turn_deg, self.tilt_deg)

    def frame(self) -> Array:
        """Return the lamp's x and y axes and its normal in the tent, as rows, shape (3, 3)."""
        result: Array = (self.rotation() @ np.diag([1.0, 1.0, -1.0])).T
        return result

    @property
    def flux_umol_s(self) -> float:
        """Photon flux at the present dial."""
        return self.ppf_umol_s * self.light_fraction

    def _place(self, points: Array) -> Array:
        placed: Array = points @ self.rotation().T + [self.x_cm, self.y_cm, self.height_cm]
        return placed

    def emitters(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return places in the tent, shape (n, 3), and their flux in umol s-1, shape (n,)."""
        places, shares = _emitters(self.layout, spacing_cm)
        return self._place(places), shares * self.flux_umol_s

    def scattered(self, spacing_cm: float) -> tuple[Array, Array]:
        """Return the same, a board's in no rows, so that a shadow's edge meets few at once."""
        if isinstance(self.layout, Board):
            places, shares = self.layout.scattered(spacing_cm)
            return self._place(places), shares * self.flux_umol_s
        return self.emitters(spacing_cm)

    def outline(self) -> Array:
        """Return the outermost light-giving points in the tent, shape (k, 3)."""
        return self._place(self.layout.outline())
