"""A whole season of six stages, and the solver's part of a moved lever."""

import time
from dataclasses import replace

from benchmarks.machine import median_ms
from canopy.crop.targets import StageTarget
from canopy.fixture.dimming import DialRow, Dimmer
from canopy.light.enclosure import Enclosure
from canopy.light.sources import Bars, Body, PlacedLamp
from canopy.plan import bench as prepared
from canopy.plan.levers import Setting
from canopy.plan.problem import Growth, HungLamp, StageProblem, Visits
from canopy.plan.season import StageOrder, always, day_rows, plan_season
from canopy.plan.solver import Aim, solve
from canopy.plan.stageplan import StageChoice, plan_stage
from canopy.plan.stretches import limits, stretches
from canopy.power.tariff import Tariff, TariffBand

Row = tuple[str, str, str]

TENT = Enclosure(120, 120, 150, (0.8,) * 4, 0.8, 0.1, (0.3,) * 4)
LAMP = HungLamp(PlacedLamp(Bars.even(8, 104, 100), 1296, 60, 60, 0, body=Body(0.3, 0.5)), 480)
DIMMER = Dimmer("continuous", (DialRow(10, 0.08, 0.1), DialRow(100, 1, 1)))
PRICES = always(Tariff(0.31, (TariffBand(1320, 360, 0.2),)))
STAGES = (
    (4, 8, 250, 14, 18),
    (6, 12, 400, 14, 18),
    (10, 16, 600, 14, 18),
    (12, 20, 700, 14, 18),
    (15, 22, 900, 11, 12),
    (12, 20, 800, 11, 12),
)


def _orders(aim: Aim = "middle") -> list[StageOrder]:
    orders = []
    for k, (low, high, cap, short, long) in enumerate(STAGES):
        target = StageTarget(low, high, cap, short, long, evenness_goal=0.6)
        problem = StageProblem(
            box=replace(TENT, height_cm=150 - 8 * k),
            lamps=(LAMP,),
            lowest_cm=15,
            highest_cm=120 - 8 * k,
            dimmer=DIMMER,
            timer_step_min=15,
            target=target,
            aim=aim,
            growth=Growth(21 + 8 * k, 8.0, 20),
            visits=Visits(before=_band(k - 1), after=_band(k + 1)),
        )
        orders.append(StageOrder(f"Stage {k + 1}", problem))
    return orders


def _band(k: int) -> tuple[float, float] | None:
    return STAGES[k][:2] if 0 <= k < len(STAGES) else None


def _growing(aim: Aim) -> StageChoice:
    """Plants that rise 30 cm in 56 days, under six bars in a tent of 1.2 x 0.9 x 1.8 m."""
    bars = PlacedLamp(Bars.even(6, 76, 92), 624, 60, 45, 0)
    return plan_stage(
        StageProblem(
            box=Enclosure(120, 90, 114, (0.8,) * 4, 0.8, 0.15, (0.3,) * 4),
            lamps=(HungLamp(bars, 240),),
            lowest_cm=15,
            highest_cm=95,
            dimmer=DIMMER,
            timer_step_min=15,
            target=StageTarget(18, 26, 900, 11, 12),
            aim=aim,
            growth=Growth(36, 30, 56),
        )
    )


def measure() -> list[Row]:
    """Return the rows for docs/benchmarks.md."""
    orders = _orders()

    def whole(orders: list[StageOrder] = orders) -> None:
        prepared.bench.cache_clear()  # every stage is solved again; its maps are kept
        plan_stage.cache_clear()
        day_rows(plan_season(orders, PRICES, wish="cheap", on_minute=360), PRICES)

    start = time.perf_counter()
    whole()
    first = time.perf_counter() - start
    ready = prepared.bench(orders[3].problem)
    target = orders[3].problem.target
    likely = _orders("likely")
    index = ready.space.nearest(Setting(40, 60, 16))

    def moved() -> None:
        limits(ready.space, target, index, ready.masks)
        stretches(ready.space, target, index, (), ready.masks)

    return [
        (
            "Season of six stages, tents prepared (1 cm, 1 %, 15 min)",
            f"{median_ms(whole, 7):.0f} ms",
            "under 150 ms",
        ),
        (
            "The same in silver lining for the first time, six tents to prepare",
            f"{first:.1f} s",
            "under 2 s",
        ),
        (
            "The same season by the likeliest aim",
            f"{median_ms(lambda: whole(likely), 7):.0f} ms",
            "—",
        ),
        (
            "Trips for 30 cm of growth in 56 days, by aim (27 before)",
            ", ".join(
                f"{aim} {len(_growing(aim).hangings)}"
                for aim in ("likely", "middle", "energy", "even", "gentle")
            ),
            "at most 5",
        ),
        ("Moved lever, the solver's part", f"{median_ms(moved, 50):.2f} ms", "under 20 ms"),
        (
            "One stage solved anew",
            f"{median_ms(lambda: solve(ready.space.choosing(), target), 20):.1f} ms",
            "—",
        ),
    ]
