"""Rows to core values, and the core's answers for the bench."""

from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np

from canopy.compiled import warm_up as warm_up
from canopy.crop.night import night_conflict
from canopy.crop.photoperiod import off_minute
from canopy.daylight.lampday import Window, lit_by
from canopy.daylight.sky import sun_library
from canopy.fixture.dimming import Dimmer
from canopy.formats.growing import AIMS as AIMS
from canopy.formats.growing import GAP_DAYS as GAP_DAYS
from canopy.formats.growing import LAMP_LIMITS as LAMP_LIMITS
from canopy.formats.growing import LIFT_CM as LIFT_CM
from canopy.formats.growing import MINUTE as MINUTE
from canopy.formats.growing import MOST_GROUPS as MOST_GROUPS
from canopy.formats.growing import RISE_PCT as RISE_PCT
from canopy.formats.growing import SHIFT_DAYS as SHIFT_DAYS
from canopy.light.lightmap import (
    MapStatistics,
    beyond_bound,
    capture_bound,
    map_statistics,
)
from canopy.light.spectrum import LightFigures
from canopy.light.stands import Stand
from canopy.plan.advice import BindingName as BindingName
from canopy.plan.advice import Change as Change
from canopy.plan.advice import TargetName as TargetName
from canopy.plan.bench import AsRead, Bench
from canopy.plan.certainty import Certainty, certainty
from canopy.plan.doubts import PartName as PartName
from canopy.plan.levers import Basis as Basis
from canopy.plan.levers import Outcome, Setting
from canopy.plan.positions import canopy_light
from canopy.plan.problem import HungLamp, StageProblem
from canopy.plan.rehang import Rehang, rehang
from canopy.plan.season import apart_cost, cost_in
from canopy.plan.solver import Lever as Lever
from canopy.plan.solver import Solution
from canopy.plan.stageplan import Hanging
from canopy.plan.stretches import Limit, Stretch, limits, stretches
from canopy.power.energy import heat_btu_per_h
from canopy.power.tariff import TariffBand
from canopy.words import Said
from server.crops.models import Stage
from server.fixtures.adapters.switches import fan_standing
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import HungFixture
from server.runs.adapters.planning import (
    Kept,
    ShownGroup,
    above_of,
    choice_for,
    locks_of,
    part_daylight,
    place_of,
    problem_of,
    shown_groups,
    step_cm,
)
from server.runs.adapters.prices import part_prices
from server.runs.adapters.standing import MadeOf, StagePart, Standing, made_of, whole_stage
from server.runs.adapters.switched import ShownSwitch, light_at, shown_switches
from server.spaces.adapters import plots_of, stands_of

DECIMALS = 1


def load_sun() -> None:
    """Load what daylight needs, so that no request waits for it."""
    sun_library()


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
        lowest, highest = place_of(run, whole_stage(stage), run.on_minute).rail_cm(frames)
        found.append(StageRoom(stage.pk, stage.name, highest, lowest))
    return found


@dataclass(frozen=True)
class ShownFloor:
    """PPFD in rows from the front, and where its points stand.

    ``ppfd`` while all lamps are on that ever are, ``day_ppfd`` what over the plan's hours makes the
    day: the same where no lamp is on a timer of its own.
    """

    x_cm: list[float]
    y_cm: list[float]
    ppfd: list[list[float]]
    day_ppfd: list[list[float]]


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
    group: int
    rated_watts: float
    measured_watts: float | None
    piece_name: str


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
    fixed: bool
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
class Sunlit:
    """From and until when there is any daylight, minutes after midnight."""

    from_minute: int
    to_minute: int


@dataclass(frozen=True)
class BenchAnswer:
    """Everything the bench shows for one setting of the levers."""

    stage: Stage
    from_day: int
    setting: Setting
    on_minute: int
    off_minute: int
    windows: tuple[Window, ...]
    night_h: float
    sun: Sunlit | None
    kept: bool
    locked: list[str]
    hot_spot_cap: float
    solution: Solution
    chance: float
    chance_read: float
    hangings: tuple[Hanging, ...]
    outside_maker: bool
    hurried: bool
    height_step_cm: float
    outcome: Outcome
    limits: tuple[Limit, ...]
    stretches: tuple[Stretch, ...]
    certainty: Certainty
    as_read: AsRead | None
    rehang: Rehang
    floor: ShownFloor
    statistics: MapStatistics
    inside_share: float
    ppfd_low: float
    ppfd_high: float
    own_band: bool
    dli_per_umol: float
    daylight_dli: float
    above_dli: float
    groups: list[ShownGroup]
    switches: list[ShownSwitch]
    colour: LightFigures | None
    fan: bool | None
    group_dli: float
    lost_h: float
    night_conflict: Said | None
    middle_hours: float | None
    canopy_umol_s: float
    capture: float | None
    capture_bound: float
    beyond_bound: Said | None
    light_fraction: float
    cost_per_day: float
    heat_btu_per_h: float
    geometry: Geometry
    dial: ShownDial
    price: list[TariffBand]
    made_of: MadeOf


def bench_answer(
    run: Standing,
    part: StagePart,
    kept: Kept,
    wanted: Setting | None,
    on_minute: int,
    locked: Sequence[str] = (),
) -> BenchAnswer:
    """Return what a setting gives; without one, what the plan's choice gives.

    A setting is moved to the nearest the tent, the dial and the timer allow. Locked levers hold
    the plan's choice where the setting has them.
    """
    lamps = run.lamps
    problem = problem_of(run, part, lamps, on_minute, locks_of(wanted, locked))
    chosen = choice_for(run, part, kept, problem)
    ready, solution = chosen.ready, chosen.solution
    target, space = problem.target, ready.space
    if wanted is not None and problem.fixed:
        wanted = replace(wanted, height_cm=problem.fixed_cm)
    index = space.nearest(wanted or solution.setting)
    setting, outcome = space.setting(index), space.outcome(index)
    given_up = ready.solution.relaxed + (("hot_spot_cap",) if problem.over_cap else ())
    counting = {name: mask for name, mask in ready.masks.items() if name not in given_up}
    light = float(space.light[index[1]])
    ppfd = ready.ppfd(index)
    held = ready.against_band(target, index)
    weights = ready.stack.weights
    # of the lamps on the plan's timer: capture asks what becomes of their light
    canopy = canopy_light(problem, ready, index)
    here, share = ppfd[ready.standing], weights[ready.standing]
    tariff = part_prices(run, part)
    daylight = part_daylight(run, part).any_day()
    windows = problem.losses.day.windows(setting.hours)
    above = above_of(run, part)
    lit = lit_by((*windows, *problem.apart_windows, *above.windows))
    groups = shown_groups(run, part, problem)
    apart_kwh = 0.0 if space.apart is None else space.apart.kwh_per_day
    return BenchAnswer(
        stage=part.stage,
        from_day=part.from_day,
        setting=setting,
        on_minute=on_minute,
        off_minute=off_minute(windows[-1].on_minute, windows[-1].hours),
        windows=windows,
        night_h=problem.losses.day.night(
            (*windows, *problem.apart_windows, *above.windows)
        ).longest_h,
        sun=None if problem.losses.day.sun is None else Sunlit(*problem.losses.day.sun),
        kept=wanted is not None,
        locked=list(locked),
        hot_spot_cap=target.hot_spot_cap,
        solution=solution,
        chance=chosen.chance,
        chance_read=chosen.chance_read,
        hangings=chosen.hangings,
        outside_maker=not problem.reach.maker_keeps(setting.height_cm),
        hurried=chosen.hurried,
        height_step_cm=step_cm(run),
        outcome=outcome,
        limits=limits(space, target, index, ready.masks),
        stretches=stretches(space, target, index, given_up, ready.masks),
        certainty=certainty(
            outcome, target, space.doubt, index[0], index[1], ready.bases[index[0]]
        ),
        as_read=ready.as_read(index),
        rehang=rehang(problem, ready, index, counting),
        floor=_floor(problem, ready, ppfd, ready.day_ppfd(index)),
        statistics=map_statistics(here, share),
        inside_share=held.inside,
        ppfd_low=held.low,
        ppfd_high=held.high,
        own_band=target.own_ppfd_band is not None,
        dli_per_umol=float(space.lamp_dli(1.0, setting.hours)),
        daylight_dli=problem.daylight_dli,
        above_dli=above.dli,
        groups=groups,
        group_dli=0.0 if space.apart is None else float(space.apart.dli[index[0]]),
        lost_h=float(problem.losses.lost_h(setting.hours)),
        night_conflict=night_conflict(target, lit, daylight),
        middle_hours=space.hours_for(target.dli_middle, index),
        canopy_umol_s=canopy.umol_s,
        capture=canopy.captured,
        beyond_bound=beyond_bound(canopy.captured, problem.box.canopy_reflectance),
        capture_bound=capture_bound(problem.box.canopy_reflectance),
        light_fraction=light,
        cost_per_day=cost_in(tariff, windows, outcome.kwh_per_day - apart_kwh)
        + apart_cost(problem, tariff),
        heat_btu_per_h=heat_btu_per_h(outcome.watts),
        geometry=_geometry(run, part, problem, lamps),
        dial=_dial(problem.dimmer, space.dials_pct, space.light, space.watts),
        switches=shown_switches(run, part),
        colour=light_at(run, part, setting.dial_pct) if run.fixture.switches else None,
        fan=fan_standing(run.fixture, run.switched(part)),
        price=tariff.spans(),
        made_of=made_of(run),
    )


def _floor(
    problem: StageProblem, ready: Bench, ppfd: np.ndarray, day_ppfd: np.ndarray
) -> ShownFloor:
    box, grid = problem.box, ready.grid
    x, y = grid.axes_cm(box.width_cm, box.depth_cm)
    maps = (
        np.round(each.reshape(grid.ny, grid.nx), DECIMALS).tolist() for each in (ppfd, day_ppfd)
    )
    return ShownFloor(x.tolist(), y.tolist(), *maps)


def _geometry(
    run: Standing, part: StagePart, problem: StageProblem, lamps: list[HungFixture]
) -> Geometry:
    space, fixture = run.space, run.fixture
    return Geometry(
        width_cm=space.width_cm,
        depth_cm=space.depth_cm,
        height_cm=space.height_cm,
        pot_cm=space.pot_cm,
        hangers_cm=space.hangers_cm,
        plant_start_cm=part.plant_start_cm,
        plant_end_cm=part.plant_end_cm,
        lowest_cm=problem.lowest_cm,
        highest_cm=problem.highest_cm,
        maker_low_cm=fixture.maker_low_cm,
        maker_high_cm=fixture.maker_high_cm,
        fixed=problem.fixed,
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
        follows=hung.own_light is None,
        light_fraction=hung.own_light,
        group=lamp.group,
        rated_watts=fixture.watts,
        measured_watts=None if lamp.piece is None else lamp.piece.watts,
        piece_name="" if lamp.piece is None else lamp.piece.name,
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
        positions_pct=positions.tolist() if dimmer.kind in ("none", "stepped") else [],
    )


def levers(height_cm: float, dial_pct: float, hours: float) -> Setting:
    """Return positions of the three levers as a core value."""
    return Setting(height_cm, dial_pct, hours)
