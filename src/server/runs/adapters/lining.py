"""What lining a run's space otherwise would gain: rows to core values and back."""

from dataclasses import dataclass

from canopy.plan.bench import bench
from canopy.plan.levers import Setting
from canopy.plan.lining import Gain, lining_gain
from server.crops.adapters import canopy_reflectance
from server.runs.adapters.planning import problem_of
from server.runs.adapters.prices import part_prices
from server.runs.adapters.standing import StagePart, Standing
from server.spaces.adapters import other_boxes


@dataclass(frozen=True)
class LiningGain:
    """Another way to line the space, and what it gains at a setting."""

    lining: str
    gain: Gain
    saved_per_day: float


@dataclass(frozen=True)
class LiningGains:
    """All of them, the greatest gain first, at the setting they were asked at."""

    setting: Setting
    gains: list[LiningGain]


def lining_gains(run: Standing, part: StagePart, wanted: Setting, on_minute: int) -> LiningGains:
    """Return what every lining that sends back more would gain at a setting."""
    problem = problem_of(run, part, run.lamps, on_minute)
    ready = bench(problem)
    index = ready.space.nearest(wanted)
    top_cm = run.space.pot_cm + part.plant_end_cm
    price = float(part_prices(run, part).by_minute().mean())
    found = [
        LiningGain(name, gain, gain.kwh_saved * price)
        for name, box in other_boxes(run.space, top_cm, canopy_reflectance(run.habit))
        for gain in [lining_gain(problem, ready, index, box)]
    ]
    found.sort(key=lambda each: -each.gain.mean)
    return LiningGains(ready.space.setting(index), found)
