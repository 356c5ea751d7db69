"""What a run delivered and cost: planned beside given, stage by stage and as a whole.

DLI in mol m-2 d-1, energy in kWh, money in the tariff's currency.
"""

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from itertools import groupby
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from canopy.ledger.given import Given, Stood
from canopy.power.tariff import DAY_MIN, Tariff

Array = NDArray[np.float64]

HarvestUnit = Literal["", "g", "pieces"]

MOSTLY = 0.9
"""A meter that was there for so much of a day tells the day's energy; else it is reckoned."""

WHOLE_H = 24.0


def kwh_given(found: Given, stood: Sequence[Stood], watts: Callable[[int, float], float]) -> Array:
    """Return each day's energy by how the lamp stood, in kWh, shape (days,).

    Parameters
    ----------
    found : Given
    stood : sequence of Stood
        Those it was worked out of.
    watts : callable
        At the wall by the number of the light and the dial.
    """
    kwh = np.zeros(len(found.dli))
    for day, k, minutes in found.full:
        kwh[day] += watts(stood[k].light, stood[k].dial_pct) * minutes / 60 / 1000
    return kwh


def cost_of_spans(
    tariff: Tariff, spans: Sequence[tuple[float, float]], kwh: float, ahead_min: int = 0
) -> float:
    """Return what a day's energy costs, drawn evenly while the lamp was on.

    ``ahead_min`` is how much the clock that prices go by is ahead of the spans'.

    >>> from canopy.power.tariff import TariffBand
    >>> night = Tariff(0.30, (TariffBand(0, 360, 0.10),))
    >>> round(cost_of_spans(night, [(300, 420)], 1.0), 3)
    0.2
    """
    price = tariff.by_minute()
    weight, whole = 0.0, 0.0
    minutes = np.arange(DAY_MIN)
    for on, off in spans:
        inside = np.clip(np.minimum(off, minutes + 1) - np.maximum(on, minutes), 0, 1)
        weight += float(inside @ price[(minutes + ahead_min) % DAY_MIN])
        whole += float(inside.sum())
    return kwh * weight / whole if whole else kwh * float(price.mean())


@dataclass(frozen=True)
class LivedDay:
    """A day of a run: what was planned for it, and what it was.

    Parameters
    ----------
    stage : int
        Days of one number in a row are one stage.
    known : bool
        Whether the lamp's settings are known; without, nothing was given that anybody knows of.
    dli, low, high : float
        Given, and the ends of its 90 % range.
    dli_low, dli_high : float
        The stage's band.
    kwh, cost : float
        Reckoned from how the lamp stood.
    metered_kwh, metered_h : float
        What a meter showed, and for how many hours of the day; none without one.
    planned_dli, planned_kwh, planned_cost : float
        None where the plan had no such day.
    planned_trip, moved : bool
        Whether the plan asked for a hand on the lamp, and whether there was one.
    """

    stage: int
    known: bool
    dli: float
    low: float
    high: float
    dli_low: float
    dli_high: float
    kwh: float
    cost: float
    metered_kwh: float | None = None
    metered_h: float = 0.0
    planned_dli: float | None = None
    planned_kwh: float | None = None
    planned_cost: float | None = None
    planned_trip: bool = False
    moved: bool = False

    @property
    def by_meter(self) -> bool:
        """Whether a meter tells its energy."""
        return self.metered_kwh is not None and self.metered_h >= MOSTLY * WHOLE_H

    @property
    def used_kwh(self) -> float:
        """Its energy: a meter's, where one was there."""
        return (self.metered_kwh or 0.0) if self.by_meter else self.kwh

    @property
    def paid(self) -> float:
        """What that cost, each kWh as it was reckoned."""
        if not self.by_meter or self.kwh <= 0:
            return self.cost
        return self.cost * self.used_kwh / self.kwh


@dataclass(frozen=True)
class Sums:
    """Days together.

    Planned figures are over the days the plan had; ``inside_days`` are those of ``known_days``
    whose DLI lay in the band, ``metered_days`` those whose energy a meter told.
    """

    stage: int
    first_day: int
    days: int
    known_days: int
    inside_days: int
    below_days: int
    above_days: int
    planned_dli: float | None
    dli: float | None
    dli_low: float | None
    dli_high: float | None
    mol_m2: float
    planned_kwh: float | None
    planned_cost: float | None
    kwh: float
    cost: float
    metered_days: int
    planned_trips: int
    moves: int


@dataclass(frozen=True)
class Shares:
    """What a run cost by what there was of it; none where nobody said how many, or how much."""

    kwh_a_plant: float | None
    cost_a_plant: float | None
    kwh_a_unit: float | None
    cost_a_unit: float | None
    units_a_kwh: float | None
    units_a_mol: float | None
    cost_a_mol: float | None
    carbon_kg: float | None


def _mean(values: Sequence[float]) -> float | None:
    return float(np.mean(values)) if values else None


def sums(days: Sequence[LivedDay], first_day: int = 0) -> Sums:
    """Return days together; their range is of the mean, for what is off is off on all of them."""
    known = [day for day in days if day.known]
    kwh = [d.planned_kwh for d in days if d.planned_kwh is not None]
    cost = [d.planned_cost for d in days if d.planned_cost is not None]
    below = sum(day.dli < day.dli_low for day in known)
    above = sum(day.dli > day.dli_high for day in known)
    return Sums(
        stage=days[0].stage if days else 0,
        first_day=first_day,
        days=len(days),
        known_days=len(known),
        inside_days=len(known) - below - above,
        below_days=below,
        above_days=above,
        planned_dli=_mean([d.planned_dli for d in days if d.planned_dli is not None]),
        dli=_mean([day.dli for day in known]),
        dli_low=_mean([day.low for day in known]),
        dli_high=_mean([day.high for day in known]),
        mol_m2=sum(day.dli for day in known),
        planned_kwh=sum(kwh) if kwh else None,
        planned_cost=sum(cost) if cost else None,
        kwh=sum(day.used_kwh for day in days),
        cost=sum(day.paid for day in days),
        metered_days=sum(day.by_meter for day in days),
        planned_trips=sum(day.planned_trip for day in days),
        moves=sum(day.moved for day in days),
    )


def by_stage(days: Sequence[LivedDay]) -> list[Sums]:
    """Return each stage's days together, in order."""
    found, first = [], 0
    for _, rows in groupby(days, key=lambda day: day.stage):
        part = list(rows)
        found.append(sums(part, first))
        first += len(part)
    return found


def shares(
    whole: Sums,
    area_m2: float,
    plants: int | None = None,
    harvest: float | None = None,
    grid_g_per_kwh: float | None = None,
) -> Shares:
    """Return what a run cost by plant, by unit harvested and by mol on the canopy."""

    def each(value: float, by: float | None) -> float | None:
        return value / by if by else None

    return Shares(
        kwh_a_plant=each(whole.kwh, plants),
        cost_a_plant=each(whole.cost, plants),
        kwh_a_unit=each(whole.kwh, harvest),
        cost_a_unit=each(whole.cost, harvest),
        units_a_kwh=None if harvest is None else each(harvest, whole.kwh),
        units_a_mol=None if harvest is None else each(harvest, whole.mol_m2 * area_m2),
        cost_a_mol=each(whole.cost, whole.mol_m2 * area_m2),
        carbon_kg=None if grid_g_per_kwh is None else whole.kwh * grid_g_per_kwh / 1000,
    )


@dataclass(frozen=True)
class Grown:
    """How a stage was really lived: its days, and how tall the plants were; none unmeasured."""

    days: int
    plant_start_cm: float | None
    plant_end_cm: float | None


STEP_CM = 0.5
LEAST_POINTS = 2


def grown(
    first_day: int,
    days: int,
    pot_cm: float,
    measured: Sequence[tuple[float, float]],
    tops_cm: Callable[[Array], Array],
) -> Grown:
    """Return how a stage was lived, for the next run's: tops as measured, less the pot.

    Between two measurements they rose evenly; before the first and after the last by the curve.

    Parameters
    ----------
    first_day, days : int
        Of the run, and how many it lasted.
    pot_cm : float
    measured : sequence of (day, tops_cm)
        Tops above the floor, in order of time; without two of them in the stage, or just beside
        it, it says nothing of heights.
    tops_cm : callable
        The tops above the floor by days, the likeliest.
    """
    near = [d for d, _ in measured if first_day - 2 <= d <= first_day + days + 2]
    if len(near) < LEAST_POINTS:
        return Grown(days, None, None)
    at, shown = np.asarray(measured, dtype=float).T
    ends = np.array([first_day, first_day + days], dtype=float)
    between = (ends >= at[0]) & (ends <= at[-1])
    ends = np.where(between, np.interp(ends, at, shown), tops_cm(ends)) - pot_cm
    start, end = (max(round(float(v) / STEP_CM) * STEP_CM, 0.0) for v in ends)
    return Grown(days, start, max(start, end))
