"""How a lamp's light spreads over angles: cosine power or a measured candela table.

Every beam becomes one table of intensity per unit flux (1/sr) over u = sqrt(1 - cos gamma), gamma
counted from the lamp's normal and u from 0 (along it) to 1 (level with the lamp), one row for each
azimuth C from the lamp's own +x axis counter-clockwise seen from above. u is nearly proportional
to gamma, so narrow beams are as well resolved as wide ones. Nothing is sent backwards.
"""

from dataclasses import dataclass
from functools import lru_cache
from itertools import pairwise
from typing import Protocol

import numpy as np
from numpy.typing import NDArray

from canopy.errors import CanopyError

Array = NDArray[np.float64]

STEPS = 2049
"""Angles in a beam's table."""

AZIMUTHS = 181
"""Azimuths in a table that depends on them, 2 degrees apart, first and last the same plane."""


class Beam(Protocol):
    """The spread of a lamp's light over angles."""

    def intensity(self) -> Array:
        """Return the intensity per unit flux, shape (1 or AZIMUTHS, STEPS), in 1/sr."""
        ...

    def __hash__(self) -> int:
        """Return a hash: prepared light is kept by beam."""
        ...


def _cosines() -> Array:
    return 1 - np.linspace(0.0, 1.0, STEPS) ** 2


def _normalised(table: Array) -> Array:
    """Scale a table to unit flux, exact for values straight between its angles."""
    u = np.linspace(0.0, 1.0, STEPS)
    a, b = u[:-1], u[1:]
    # integral over a step of the straight line through f(a), f(b) times 4 pi u
    left = (b - a) * (2 * a + b) / 6
    right = (b - a) * (a + 2 * b) / 6
    rows = table[:-1] if len(table) > 1 else table
    flux = 4 * np.pi * (rows[:, :-1] * left + rows[:, 1:] * right).sum(axis=1).mean()
    if not flux > 0:
        raise CanopyError("The candela table gives no light below the lamp; check it.", "values")
    result: Array = table / flux
    result.flags.writeable = False
    return result


@lru_cache(maxsize=64)
def _cosine_table(power: float) -> Array:
    return _normalised(_cosines()[None, :] ** power)


@dataclass(frozen=True)
class CosineBeam:
    """Intensity proportional to the cosine of the angle from the normal, to a power."""

    power: float = 1.0

    def intensity(self) -> Array:
        """Return the table, shape (1, STEPS)."""
        return _cosine_table(self.power)


LAMBERTIAN = CosineBeam(1.0)

AngleRow = tuple[float, ...]


def _whole_circle(horizontal: AngleRow, rows: Array) -> tuple[Array, Array]:
    """Return planes for the whole circle from the part that symmetry lets a table leave out."""
    planes = np.asarray(horizontal)
    first, last = planes[0], planes[-1]
    if len(planes) == 1:
        return np.array([0.0, 360.0]), np.vstack([rows, rows])
    if last - first == 90:  # one quadrant, mirrored about both axes
        planes = np.concatenate([planes, 2 * last - planes[-2::-1]])
        rows = np.vstack([rows, rows[-2::-1]])
        last = planes[-1]
    if last - first == 180:  # one half, mirrored about its own plane
        planes = np.concatenate([planes, 2 * last - planes[-2::-1]])
        rows = np.vstack([rows, rows[-2::-1]])
        last = planes[-1]
    if last - first != 360:  # a full circle whose last plane is left out
        planes = np.append(planes, first + 360)
        rows = np.vstack([rows, rows[:1]])
    return planes, rows


@lru_cache(maxsize=64)
def _candela_table(vertical: AngleRow, horizontal: AngleRow, values: tuple[AngleRow, ...]) -> Array:
    gammas = np.degrees(np.arccos(np.clip(_cosines(), 0, 1)))
    planes, rows = _whole_circle(horizontal, np.asarray(values, dtype=float))
    fine = np.array([np.interp(gammas, vertical, row, left=row[0], right=0.0) for row in rows])
    if len(horizontal) == 1:
        return _normalised(fine[:1])
    azimuths = np.linspace(0.0, 360.0, AZIMUTHS)
    turned = (azimuths - planes[0]) % 360 + planes[0]
    at = np.clip(np.searchsorted(planes, turned, side="right") - 1, 0, len(planes) - 2)
    share = ((turned - planes[at]) / (planes[at + 1] - planes[at]))[:, None]
    return _normalised(fine[at] * (1 - share) + fine[at + 1] * share)


@dataclass(frozen=True)
class CandelaBeam:
    """A measured table, type C, relative.

    Parameters
    ----------
    vertical_deg : tuple of float
        Angles from the lamp's normal, ascending from 0; beyond the last there is no light, and
        what a table gives above 90 is not used.
    horizontal_deg : tuple of float
        Azimuths from the lamp's +x axis, counter-clockwise seen from above, ascending: one
        plane for all, a quadrant, a half or the whole circle.
    values : tuple of tuple of float
        One row a plane, one value a vertical angle, >= 0.
    """

    vertical_deg: AngleRow
    horizontal_deg: AngleRow
    values: tuple[AngleRow, ...]

    def __post_init__(self) -> None:
        for angles, name, top in (
            (self.vertical_deg, "vertical_deg", 180.0),
            (self.horizontal_deg, "horizontal_deg", 450.0),
        ):
            if any(b <= a for a, b in pairwise(angles)):
                raise CanopyError("The angles of a candela table rise, each once.", name)
            if angles[0] < 0 or angles[-1] > top:
                raise CanopyError(f"The angles of a candela table lie from 0 to {top:g}.", name)
        if self.vertical_deg[0] != 0:
            raise CanopyError(
                "The candela table has to begin at 0, straight along the lamp's normal.",
                "vertical_deg",
            )
        span = self.horizontal_deg[-1] - self.horizontal_deg[0]
        if span > 360:
            raise CanopyError("The planes go more than once round; stop at 360.", "horizontal_deg")
        widest = max((b - a for a, b in pairwise(self.horizontal_deg)), default=0.0)
        # a whole circle may leave out its last plane: the gap is then one like the others
        if span not in (0, 90, 180, 360) and 360 - span > 1.5 * widest:
            raise CanopyError(
                f"The planes cover {span:g} degrees; give one plane, 90, 180 or 360 degrees.",
                "horizontal_deg",
            )
        if len(self.values) != len(self.horizontal_deg):
            raise CanopyError(
                f"The candela table has {len(self.values)} rows for "
                f"{len(self.horizontal_deg)} planes.",
                "values",
            )
        for i, row in enumerate(self.values):
            if len(row) != len(self.vertical_deg):
                raise CanopyError(
                    f"Row {i + 1} of the candela table has {len(row)} values for "
                    f"{len(self.vertical_deg)} angles.",
                    f"values[{i}]",
                )
            if min(row) < 0:
                raise CanopyError("A candela value is below 0.", f"values[{i}]")
        self.intensity()

    def intensity(self) -> Array:
        """Return the table, shape (1 or AZIMUTHS, STEPS)."""
        return _candela_table(self.vertical_deg, self.horizontal_deg, self.values)


def beam_power(full_width_deg: float) -> float:
    """Return the cosine power whose intensity is half at half of ``full_width_deg``.

    >>> round(beam_power(120), 6)
    1.0
    """
    return float(np.log(0.5) / np.log(np.cos(np.radians(full_width_deg / 2))))
