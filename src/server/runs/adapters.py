"""Rows to core values, and the core's answers for the bench."""

from dataclasses import dataclass
from typing import Any

import numpy as np

from canopy.crop.photoperiod import off_minute
from canopy.light.kernels import warm_up as warm_up
from canopy.light.lightmap import (
    MapStatistics,
    canopy_flux_umol_s,
    capture,
    capture_bound,
    map_statistics,
    share_inside,
)
from canopy.plan.bench import Bench, BenchProblem, bench
from canopy.plan.certainty import Certainty, uncalibrated
from canopy.plan.levers import Outcome, Setting
from canopy.plan.rehang import Rehang, rehang
from canopy.plan.solver import Limit, Solution, Stretch, limits, stretches
from canopy.power.energy import heat_btu_per_h
from canopy.power.hanging import fitting_turn_deg, highest_hang_cm
from canopy.quantities import dli_mol
from server.crops.adapters import canopy_reflectance, target_of
from server.crops.models import Stage
from server.fixtures.adapters import dimmer_of, lamp_at
from server.fixtures.models import Fixture
from server.runs.models import Run
from server.spaces.adapters import enclosure
from server.spaces.models import Space

DEFAULT_ON_MINUTE = 360
DECIMALS = 1


def check_fit(space: Space, fixture: Fixture) -> float:
    """Return how the fixture is turned to fit, or raise a sentence when it does not."""
    return fitting_turn_deg(fixture.frame_x_cm, fixture.frame_y_cm, space.width_cm, space.depth_cm)


def problem_of(run: Run, stage: Stage) -> BenchProblem:
    """Return a stage of a run as the core's problem.

    The canopy stands where the plants end: there the headroom is least.
    """
    space, fixture = run.space, run.fixture
    top_cm = space.pot_cm + stage.plant_end_cm
    turn = check_fit(space, fixture)
    return BenchProblem(
        box=enclosure(space, top_cm, canopy_reflectance(run.crop.habit)),
        lamp=lamp_at(fixture, space.width_cm / 2, space.depth_cm / 2, turn),
        lowest_cm=fixture.closest_cm,
        highest_cm=highest_hang_cm(space.height_cm, top_cm, fixture.body_cm, space.hangers_cm),
        dimmer=dimmer_of(fixture.dial_kind, fixture.dial_table),
        watts=fixture.watts,
        timer_step_min=space.timer_step_min,
        target=target_of(stage),
        over_cap=run.over_cap,
    )


@dataclass(frozen=True)
class StageRoom:
    """How much room a stage's tops leave for the lamp."""

    stage_id: int
    name: str
    highest_cm: float
    lowest_cm: float

    @property
    def fits(self) -> bool:
        """Whether the lamp keeps its clearance."""
        return self.highest_cm >= self.lowest_cm

    @property
    def missing_cm(self) -> float:
        """How much headroom is missing."""
        return max(0.0, self.lowest_cm - self.highest_cm)


def stage_rooms(run: Run) -> list[StageRoom]:
    """Return the room for the lamp at the end of every stage."""
    found = []
    for stage in run.crop.stages.all():
        highest = highest_hang_cm(
            run.space.height_cm,
            run.space.pot_cm + stage.plant_end_cm,
            run.fixture.body_cm,
            run.space.hangers_cm,
        )
        found.append(StageRoom(stage.pk, stage.name, highest, run.fixture.closest_cm))
    return found


@dataclass(frozen=True)
class BenchAnswer:
    """Everything the bench shows for one setting of the levers."""

    stage: Stage
    setting: Setting
    on_minute: int
    off_minute: int
    kept: bool
    solution: Solution
    outcome: Outcome
    limits: tuple[Limit, ...]
    stretches: tuple[Stretch, ...]
    certainty: Certainty
    rehang: Rehang
    floor: dict[str, Any]
    statistics: MapStatistics
    inside_share: float
    ppfd_low: float
    ppfd_high: float
    dli_per_umol: float
    canopy_umol_s: float
    capture: float | None
    capture_bound: float
    light_fraction: float
    cost_per_day: float
    heat_btu_per_h: float
    geometry: dict[str, Any]
    dial: dict[str, Any]


def bench_answer(run: Run, stage: Stage, wanted: Setting | None, on_minute: int) -> BenchAnswer:
    """Return what a setting gives; without one, what the plan's choice gives.

    A setting is moved to the nearest the tent, the dial and the timer allow.
    """
    problem = problem_of(run, stage)
    ready = bench(problem)
    target, space = problem.target, ready.space
    index = space.nearest(wanted or ready.solution.setting)
    setting, outcome = space.setting(index), space.outcome(index)
    given_up = ready.solution.relaxed + (("hot_spot_cap",) if problem.over_cap else ())
    light = float(space.light[index[1]])
    ppfd = ready.stack.ppfd[index[0]] * light
    low, high = target.ppfd_band(setting.hours)
    statistics = map_statistics(ppfd, ready.stack.weights)
    width, depth = problem.box.width_cm, problem.box.depth_cm
    on_canopy = canopy_flux_umol_s(statistics.area_mean, width, depth)
    return BenchAnswer(
        stage=stage,
        setting=setting,
        on_minute=on_minute,
        off_minute=off_minute(on_minute, setting.hours),
        kept=wanted is not None,
        solution=ready.solution,
        outcome=outcome,
        limits=limits(space, target, index),
        stretches=stretches(space, target, index, given_up),
        certainty=uncalibrated(outcome, target),
        rehang=rehang(
            space,
            index,
            stage.plant_end_cm - stage.plant_start_cm,
            stage.days,
            target.hot_spot_cap,
        ),
        floor=_floor(problem, ready, ppfd),
        statistics=statistics,
        inside_share=share_inside(ppfd, ready.stack.weights, low, high),
        ppfd_low=low,
        ppfd_high=high,
        dli_per_umol=dli_mol(1, setting.hours),
        canopy_umol_s=on_canopy,
        capture=capture(on_canopy, problem.lamp.ppf_umol_s * light),
        capture_bound=capture_bound(problem.box.canopy_reflectance),
        light_fraction=light,
        cost_per_day=outcome.kwh_per_day * run.space.tariff_per_kwh,
        heat_btu_per_h=heat_btu_per_h(outcome.watts),
        geometry=_geometry(run, stage, problem),
        dial=_dial(run.fixture, space.dials_pct, space.light, space.watts),
    )


def _floor(problem: BenchProblem, ready: Bench, ppfd: np.ndarray) -> dict[str, Any]:
    box, grid = problem.box, ready.grid
    x, y = grid.axes_cm(box.width_cm, box.depth_cm)
    rows = np.round(ppfd.reshape(grid.ny, grid.nx), DECIMALS)
    return {
        "x_cm": x.tolist(),
        "y_cm": y.tolist(),
        "ppfd": rows.tolist(),
    }


def _geometry(run: Run, stage: Stage, problem: BenchProblem) -> dict[str, Any]:
    turned = problem.lamp.turn_deg == 90
    frame = run.fixture.frame_x_cm, run.fixture.frame_y_cm
    return {
        "width_cm": run.space.width_cm,
        "depth_cm": run.space.depth_cm,
        "height_cm": run.space.height_cm,
        "pot_cm": run.space.pot_cm,
        "hangers_cm": run.space.hangers_cm,
        "body_cm": run.fixture.body_cm,
        "plant_start_cm": stage.plant_start_cm,
        "plant_end_cm": stage.plant_end_cm,
        "lowest_cm": problem.lowest_cm,
        "highest_cm": problem.highest_cm,
        "lamp_x_cm": frame[1] if turned else frame[0],
        "lamp_y_cm": frame[0] if turned else frame[1],
        "maker_low_cm": run.fixture.maker_low_cm,
        "maker_high_cm": run.fixture.maker_high_cm,
    }


def _dial(
    fixture: Fixture, positions: np.ndarray, light: np.ndarray, watts: np.ndarray
) -> dict[str, Any]:
    marks = {row["position_pct"] for row in fixture.dial_table}
    return {
        "kind": fixture.dial_kind,
        "marks": [
            {"position_pct": float(p), "light_fraction": float(f), "watts": float(w)}
            for p, f, w in zip(positions, light, watts)
            if float(p) in marks
        ],
        "positions_pct": positions.tolist() if fixture.dial_kind != "continuous" else [],
    }


def levers(height_cm: float, dial_pct: float, hours: float) -> Setting:
    """Return positions of the three levers as a core value."""
    return Setting(height_cm, dial_pct, hours)
