"""Rows to core values, and the core's answers for the bench."""

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, timedelta

import numpy as np

from canopy.crop.night import night_conflict
from canopy.crop.photoperiod import off_minute
from canopy.daylight.background import Background, none
from canopy.daylight.sky import sun_library
from canopy.errors import CanopyError
from canopy.fixture.dimming import Dimmer
from canopy.formats.growing import AIMS as AIMS
from canopy.formats.growing import FIRST_START as FIRST_START
from canopy.formats.growing import LAMP_LIMITS as LAMP_LIMITS
from canopy.formats.growing import LAST_START as LAST_START
from canopy.formats.growing import MINUTE as MINUTE
from canopy.formats.growing import RISE_PCT as RISE_PCT
from canopy.formats.growing import SHIFT_DAYS as SHIFT_DAYS
from canopy.light.kernels import warm_up as warm_up
from canopy.light.lightmap import (
    MapStatistics,
    canopy_flux_umol_s,
    capture,
    capture_bound,
    map_statistics,
    share_inside,
)
from canopy.light.stands import Stand
from canopy.plan.advice import BindingName as BindingName
from canopy.plan.advice import Change as Change
from canopy.plan.advice import TargetName as TargetName
from canopy.plan.bench import Bench, bench
from canopy.plan.certainty import Basis as Basis
from canopy.plan.certainty import Certainty, certainty
from canopy.plan.levers import FREE, Locks, Outcome, Setting
from canopy.plan.problem import HungLamp, StagePlace, StageProblem
from canopy.plan.rehang import Rehang, rehang
from canopy.plan.solver import Aim as Aim
from canopy.plan.solver import Lever as Lever
from canopy.plan.solver import Solution
from canopy.plan.stretches import Limit, Stretch, limits, stretches
from canopy.power.energy import heat_btu_per_h
from canopy.power.tariff import TariffBand, cost_of_day
from canopy.words import Said
from server.crops.adapters import canopy_reflectance, target_of
from server.crops.models import Stage
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import (
    HungFixture,
    check_lamps,
    follows,
    hung_lamp,
    rail_dimmer,
)
from server.runs.adapters.standing import MadeOf, Standing, made_of
from server.runs.models import Setting as SettingRow
from server.spaces.adapters import (
    daylight_over,
    enclosure,
    losses_of,
    plots_of,
    stands_of,
    tariff_of,
)

AIM_OF: dict[str, Aim] = {
    "middle": "middle",
    "energy": "energy",
    "even": "even",
    "gentle": "gentle",
}
DECIMALS = 1


def load_sun() -> None:
    """Load what daylight needs, so that no request waits for it."""
    sun_library()


def date_of(run: Standing, day: int) -> date:
    """Return the date of a run's day, counted from 0.

    Raises
    ------
    CanopyError
        When the run starts on a day no season can.
    """
    if not FIRST_START <= run.started_on <= LAST_START:
        raise CanopyError(
            f"The run starts on {run.started_on}; give a day from {FIRST_START.year} to "
            f"{LAST_START.year}.",
            "started_on",
        )
    return run.started_on + timedelta(days=day)


def days_before(run: Standing, stage: Stage) -> int:
    """Return the day of a run, from 0, on which a stage begins."""
    return sum(other.days for other in run.stages if other.position < stage.position)


def stage_daylight(run: Standing, stage: Stage) -> Background:
    """Return the daylight over a stage's days."""
    if run.space.daylight is None:
        return none(stage.days)
    return daylight_over(run.space.daylight, date_of(run, days_before(run, stage)), stage.days)


def place_of(run: Standing, stage: Stage, on_minute: int) -> StagePlace:
    """Return a stage of a run as the core's, without its lamps.

    The canopy stands where the plants end: there the headroom is least.
    """
    space = run.space
    top_cm = space.pot_cm + stage.plant_end_cm
    return StagePlace(
        box=enclosure(space, top_cm, canopy_reflectance(run.habit)),
        room_cm=space.height_cm - top_cm - space.hangers_cm,
        timer_step_min=space.timer_step_min,
        target=target_of(stage, space.co2_enriched),
        stands=stands_of(space),
        plots=plots_of(space),
        aim=AIM_OF.get(run.aim, "middle"),
        losses=losses_of(space, on_minute),
        daylight_dli=float(stage_daylight(run, stage).dli.mean()),
        over_cap=run.over_cap,
    )


def problem_of(
    run: Standing, stage: Stage, lamps: list[HungFixture], on_minute: int, locks: Locks = FREE
) -> StageProblem:
    """Return a stage of a run with its lamps as the core's problem."""
    space, main = run.space, run.fixture
    check_lamps(space, main, lamps)
    return place_of(run, stage, on_minute).problem(
        tuple(hung_lamp(lamp, space, main) for lamp in lamps),
        [lamp.frame() for lamp in lamps],
        rail_dimmer(lamps, main),
        locks,
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


def stage_rooms(run: Standing) -> list[StageRoom]:
    """Return the room for the lamp at the end of every stage."""
    frames = [lamp.frame() for lamp in run.lamps]
    found = []
    for stage in run.stages:
        lowest, highest = place_of(run, stage, run.on_minute).rail_cm(frames)
        found.append(StageRoom(stage.pk, stage.name, highest, lowest))
    return found


@dataclass(frozen=True)
class ShownFloor:
    """PPFD in rows from the front, and where its points stand."""

    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]


@dataclass(frozen=True)
class ShownLamp:
    """A lamp as the pictures show it."""

    name: str
    x_cm: float
    y_cm: float
    raise_cm: float
    tilt_deg: float
    turn_deg: float
    body_cm: float
    frame_x_cm: float
    frame_y_cm: float
    corners_cm: list[list[float]]
    light_source: str
    follows: bool
    light_fraction: float | None


@dataclass(frozen=True)
class Geometry:
    """The space with all that stands and hangs in it."""

    width_cm: float
    depth_cm: float
    height_cm: float
    pot_cm: float
    hangers_cm: float
    plant_start_cm: float
    plant_end_cm: float
    lowest_cm: float
    highest_cm: float
    maker_low_cm: float | None
    maker_high_cm: float | None
    stands: tuple[Stand, ...]
    plots: tuple[Stand, ...]
    lamps: list[ShownLamp]


@dataclass(frozen=True)
class DialMark:
    """A measured position of the dial."""

    position_pct: float
    light_fraction: float
    watts: float


@dataclass(frozen=True)
class ShownDial:
    """The dial with its marks; the only positions there are, when it is not continuous."""

    kind: str
    marks: list[DialMark]
    positions_pct: list[float]


@dataclass(frozen=True)
class BenchAnswer:
    """Everything the bench shows for one setting of the levers."""

    stage: Stage
    setting: Setting
    on_minute: int
    off_minute: int
    kept: bool
    locked: list[str]
    hot_spot_cap: float
    solution: Solution
    outcome: Outcome
    limits: tuple[Limit, ...]
    stretches: tuple[Stretch, ...]
    certainty: Certainty
    rehang: Rehang
    floor: ShownFloor
    statistics: MapStatistics
    inside_share: float
    ppfd_low: float
    ppfd_high: float
    dli_per_umol: float
    daylight_dli: float
    lost_h: float
    night_conflict: Said | None
    middle_hours: float | None
    canopy_umol_s: float
    capture: float | None
    capture_bound: float
    light_fraction: float
    cost_per_day: float
    heat_btu_per_h: float
    geometry: Geometry
    dial: ShownDial
    price: list[TariffBand]
    made_of: MadeOf


def bench_answer(
    run: Standing, stage: Stage, wanted: Setting | None, on_minute: int, locked: Sequence[str] = ()
) -> BenchAnswer:
    """Return what a setting gives; without one, what the plan's choice gives.

    A setting is moved to the nearest the tent, the dial and the timer allow. Locked levers hold
    the plan's choice where the setting has them.
    """
    lamps = run.lamps
    problem = problem_of(run, stage, lamps, on_minute, locks_of(wanted, locked))
    ready = bench(problem)
    target, space = problem.target, ready.space
    index = space.nearest(wanted or ready.solution.setting)
    setting, outcome = space.setting(index), space.outcome(index)
    given_up = ready.solution.relaxed + (("hot_spot_cap",) if problem.over_cap else ())
    light = float(space.light[index[1]])
    ppfd = ready.ppfd(index)
    low, high = space.lamp_band(target, setting.hours)
    weights = ready.stack.weights
    area_mean = float(ppfd @ weights)
    on_canopy = canopy_flux_umol_s(area_mean, problem.box.width_cm, problem.box.depth_cm)
    here, share = ppfd[ready.standing], weights[ready.standing]
    tariff = tariff_of(run.tariff)
    daylight = stage_daylight(run, stage).any_day()
    return BenchAnswer(
        stage=stage,
        setting=setting,
        on_minute=on_minute,
        off_minute=off_minute(on_minute, setting.hours),
        kept=wanted is not None,
        locked=list(locked),
        hot_spot_cap=target.hot_spot_cap,
        solution=ready.solution,
        outcome=outcome,
        limits=limits(space, target, index, ready.masks),
        stretches=stretches(space, target, index, given_up, ready.masks),
        certainty=certainty(outcome, target, ready.bases[index[0]]),
        rehang=rehang(
            space,
            index,
            stage.plant_end_cm - stage.plant_start_cm,
            stage.days,
            target.hot_spot_cap,
        ),
        floor=_floor(problem, ready, ppfd),
        statistics=map_statistics(here, share),
        inside_share=share_inside(here, share / share.sum(), low, high),
        ppfd_low=low,
        ppfd_high=high,
        dli_per_umol=float(space.lamp_dli(1.0, setting.hours)),
        daylight_dli=problem.daylight_dli,
        lost_h=float(problem.losses.lost_h(setting.hours)),
        night_conflict=night_conflict(target, on_minute, setting.hours, daylight),
        middle_hours=space.hours_for(target.dli_middle, index),
        canopy_umol_s=on_canopy,
        capture=capture(on_canopy, _emitted_umol_s(problem, light)),
        capture_bound=capture_bound(problem.box.canopy_reflectance),
        light_fraction=light,
        cost_per_day=cost_of_day(tariff, on_minute, setting.hours, outcome.kwh_per_day),
        heat_btu_per_h=heat_btu_per_h(outcome.watts),
        geometry=_geometry(run, stage, problem, lamps),
        dial=_dial(rail_dimmer(lamps, run.fixture), space.dials_pct, space.light, space.watts),
        price=tariff.spans(),
        made_of=made_of(run),
    )


def locks_of(wanted: Setting | None, locked: Sequence[str]) -> Locks:
    """Return a setting's locked levers."""
    if wanted is None:
        return FREE
    return Locks(
        height_cm=wanted.height_cm if "height" in locked else None,
        dial_pct=wanted.dial_pct if "dial" in locked else None,
        hours=wanted.hours if "hours" in locked else None,
    )


def _floor(problem: StageProblem, ready: Bench, ppfd: np.ndarray) -> ShownFloor:
    box, grid = problem.box, ready.grid
    x, y = grid.axes_cm(box.width_cm, box.depth_cm)
    rows = np.round(ppfd.reshape(grid.ny, grid.nx), DECIMALS)
    return ShownFloor(x.tolist(), y.tolist(), rows.tolist())


def _emitted_umol_s(problem: StageProblem, light: float) -> float:
    return sum(
        hung.lamp.ppf_umol_s * (light if hung.own_light is None else hung.own_light)
        for hung in problem.lamps
    )


def _geometry(
    run: Standing, stage: Stage, problem: StageProblem, lamps: list[HungFixture]
) -> Geometry:
    space, fixture = run.space, run.fixture
    return Geometry(
        width_cm=space.width_cm,
        depth_cm=space.depth_cm,
        height_cm=space.height_cm,
        pot_cm=space.pot_cm,
        hangers_cm=space.hangers_cm,
        plant_start_cm=stage.plant_start_cm,
        plant_end_cm=stage.plant_end_cm,
        lowest_cm=problem.lowest_cm,
        highest_cm=problem.highest_cm,
        maker_low_cm=fixture.maker_low_cm,
        maker_high_cm=fixture.maker_high_cm,
        stands=stands_of(space),
        plots=plots_of(space),
        lamps=[_shown(lamp, fixture, hung) for lamp, hung in zip(lamps, problem.lamps)],
    )


def _shown(lamp: HungFixture, main: Fixture, hung: HungLamp) -> ShownLamp:
    fixture = lamp.fixture
    return ShownLamp(
        name=fixture.name,
        x_cm=lamp.x_cm,
        y_cm=lamp.y_cm,
        raise_cm=lamp.raise_cm,
        tilt_deg=lamp.tilt_deg,
        turn_deg=lamp.turn_deg,
        body_cm=fixture.body_cm,
        frame_x_cm=fixture.frame_x_cm,
        frame_y_cm=fixture.frame_y_cm,
        corners_cm=lamp.frame().corners_cm().tolist(),
        light_source=fixture.light_source,
        follows=follows(lamp, main),
        light_fraction=hung.own_light,
    )


def _dial(dimmer: Dimmer, positions: np.ndarray, light: np.ndarray, watts: np.ndarray) -> ShownDial:
    marks = {row.position_pct for row in dimmer.rows}
    return ShownDial(
        kind=dimmer.kind,
        marks=[
            DialMark(float(p), float(f), float(w))
            for p, f, w in zip(positions, light, watts)
            if float(p) in marks
        ],
        positions_pct=[] if dimmer.kind == "continuous" else positions.tolist(),
    )


def levers_of(row: SettingRow) -> Setting:
    """Return a kept setting's levers; what it does not say stands at nothing."""
    hours = sum(window["hours"] for window in row.windows)
    return Setting(row.height_cm or 0.0, row.dial_pct or 0.0, hours)


def on_minute_of(row: SettingRow) -> int:
    """Return when a kept setting's first window begins, minutes after midnight."""
    return int(row.windows[0]["on_minute"]) if row.windows else 0


def levers(height_cm: float, dial_pct: float, hours: float) -> Setting:
    """Return positions of the three levers as a core value."""
    return Setting(height_cm, dial_pct, hours)
