"""What power costs a run on each of its days."""

from collections.abc import Sequence
from datetime import date, timedelta
from functools import lru_cache

from canopy.plan.season import Prices
from canopy.power.hourly import Contract
from canopy.power.tariff import Tariff, mean_of
from server.runs.adapters.standing import StagePart, Standing
from server.spaces.adapters import contract_of as contract_in


def contract_of(run: Standing) -> Contract:
    """Return what power costs where a run is, on any day."""
    return contract_in(run.space, run.tariff, run.owner.zone)


def prices_of(run: Standing) -> Prices:
    """Return what power costs on a run's days, counted from 0."""
    contract = contract_of(run)
    return lambda day: contract.on(run.started_on + timedelta(days=day))


def part_prices(run: Standing, part: StagePart) -> Tariff:
    """Return the mean prices of the days of a part of a stage."""
    first = run.started_on
    for each in run.parts_of(part.stage, part.from_day):
        if each.from_day < part.from_day:
            first += timedelta(days=each.days)
    first += timedelta(days=sum(s.days for s in run.stages if s.position < part.stage.position))
    return _mean(contract_of(run), first, part.days)


@lru_cache(maxsize=64)
def _mean(contract: Contract, first: date, days: int) -> Tariff:
    return mean_of([contract.on(first + timedelta(days=k)) for k in range(days)])


def known_until(contract: Contract, days: Sequence[date]) -> date | None:
    """Return the last of some days whose prices are known; none where the first is not."""
    known = None
    for day in days:
        if not contract.known(day):
            break
        known = day
    return known
