"""The same light for less, and a year of hourly prices."""

from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import numpy as np

from benchmarks.machine import median_ms
from benchmarks.season import _orders
from canopy.plan.bench import bench
from canopy.plan.samelight import same_light
from canopy.power.hourly import Contract, HourlyPrices, cost_of_starts, daily_starts
from canopy.power.tariff import Tariff, TariffBand

Row = tuple[str, str, str]

ZONE = ZoneInfo("Europe/Berlin")
YEAR = [date(2026, 1, 1) + timedelta(days=k) for k in range(365)]


def _hourly(seed: int) -> HourlyPrices:
    """Return a year of prices: cheap at noon and at night, drawn by chance from day to day."""
    rng = np.random.default_rng(seed)
    hours = np.arange(365 * 24)
    shape = 0.2 - 0.05 * np.cos(2 * np.pi * hours / 12) + rng.normal(0, 0.04, len(hours))
    first = datetime(2025, 12, 31, 23, tzinfo=UTC)
    return HourlyPrices(first, tuple(np.round(shape, 5).tolist()))


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    problem = _orders()[3].problem
    ready = bench(problem)
    index, tariff = ready.space.nearest(ready.solution.setting), Tariff(0.3)
    night = Tariff(0.3, (TariffBand(1320, 360, 0.2),))

    def picture() -> None:
        same_light(problem, ready, index, night, 360, True)

    files = iter(range(100))

    def year() -> tuple[float, float]:
        contract = Contract(tariff, ZONE, _hourly(next(files)))
        prices = contract.by_minute(YEAR)
        moved = daily_starts(prices, 12.0, 15, 12.0, 360)
        stays = np.full(len(YEAR), 360)
        return tuple(float(cost_of_starts(prices, each, 12.0).mean()) for each in (moved, stays))  # type: ignore[return-value]

    moved, stays = year()
    return [
        (
            "Same-DLI picture: every timer step, dial and height of a stage",
            f"{median_ms(picture, 9):.0f} ms",
            "under 150 ms",
        ),
        (
            "A year of hourly prices planned, a start a day (12 h, night kept)",
            f"{median_ms(year, 7):.0f} ms",
            "under 100 ms",
        ),
        (
            "What following them would save over coming on at six",
            f"{100 * (1 - moved / stays):.0f} %",
            "—",
        ),
    ]
