"""Energy, money and carbon."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date

import numpy as np
from numpy.typing import NDArray

from canopy.constants import BTU_PER_H_PER_W
from canopy.power.tariff import Tariff

Array = NDArray[np.float64]


def energy_kwh(wall_watts: float, hours_per_day: float, days: float = 1.0) -> float:
    """Return the energy used, kWh.

    >>> round(energy_kwh(66, 13, 45), 2)
    38.61
    """
    return wall_watts * hours_per_day * days / 1000


def heat_btu_per_h(wall_watts: float) -> float:
    """Return the heat the room takes up, BTU/h: all wall power ends there.

    >>> round(heat_btu_per_h(630), -1)
    2150.0
    """
    return wall_watts * BTU_PER_H_PER_W


@dataclass(frozen=True)
class Use:
    """What some days of light take: kWh, money, carbon where the grid's figure is known.

    ``mol`` is what the canopy gets, its area times the days' DLI; none where nothing is lit.
    """

    days: int
    kwh: float
    cost: float
    carbon_kg: float | None
    mol: float

    @property
    def kwh_a_day(self) -> float:
        """The mean of the days."""
        return self.kwh / self.days if self.days else 0.0

    @property
    def cost_a_day(self) -> float:
        """The mean of the days."""
        return self.cost / self.days if self.days else 0.0

    @property
    def cost_a_mol(self) -> float | None:
        """What a mol on the canopy costs."""
        return self.cost / self.mol if self.mol > 0 else None

    def each(self, plants: int) -> float | None:
        """Return what it costs a plant."""
        return self.cost / plants if plants else None


def use_of(
    kwh: Sequence[float],
    cost: Sequence[float],
    dli: Sequence[float],
    area_m2: float,
    grid_g_per_kwh: float | None = None,
) -> Use:
    """Return what days take together; one figure a day each."""
    energy = float(sum(kwh))
    return Use(
        days=len(kwh),
        kwh=energy,
        cost=float(sum(cost)),
        carbon_kg=None if grid_g_per_kwh is None else energy * grid_g_per_kwh / 1000,
        mol=float(sum(dli)) * area_m2,
    )


def tier_costs(
    tariff: Tariff, days: Sequence[date], kwh: Sequence[float], other_kwh_a_day: float = 0.0
) -> Array:
    """Return what a month's tiers add to each day's cost, shape (days,).

    Each month's addition is what the light makes of it beside everything else that is used, spread
    over its days by their kWh. A month of which only some days are here counts with these.

    Parameters
    ----------
    tariff : Tariff
    days : sequence of date
    kwh : sequence of float
        What the light draws on each.
    other_kwh_a_day : float
        What the household draws besides.
    """
    drawn = np.array(kwh, dtype=float)
    added = np.zeros(len(drawn))
    if not tariff.tiers:
        return added
    months = np.array([day.year * 12 + day.month for day in days])
    for month in np.unique(months):
        here = months == month
        light = float(drawn[here].sum())
        other = other_kwh_a_day * month_days(days[int(np.argmax(here))])
        more = tariff.tiers_cost(other + light) - tariff.tiers_cost(other)
        added[here] = drawn[here] * (more / light if light else 0.0)
    return added


def month_days(day: date) -> int:
    """Return how many days a day's month has."""
    first = day.replace(day=1)
    following = date(first.year + first.month // 12, first.month % 12 + 1, 1)
    return (following - first).days
