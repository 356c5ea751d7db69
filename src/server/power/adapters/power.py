"""What a run's light costs and draws, how warm it gets, and what carries it."""

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import date, timedelta
from typing import Any

import numpy as np

from canopy.daylight.lampday import Window
from canopy.errors import CanopyError
from canopy.plan.bench import Bench
from canopy.plan.problem import StageProblem
from canopy.plan.rack import Drawn, most_watts
from canopy.plan.samelight import SameLight, WayToLight, same_light
from canopy.plan.season import apart_cost, cost_in
from canopy.plan.solver import Index
from canopy.power.circuit import USUAL_POWER_FACTOR, CircuitCheck, Load, check_circuit
from canopy.power.cords import CordPath, Socket, cord_path
from canopy.power.energy import Use, heat_btu_per_h, use_of
from canopy.power.hangers import (
    Travel,
    Weighed,
    hanger_marks_cm,
    travel,
    usual_hangers,
    weighed,
)
from canopy.power.heat import M3_H_PER_CFM, Warmth, heating_saved, warmth
from canopy.power.hourly import Contract, cost_of_starts, daily_starts
from canopy.power.install import circuit_well, cord_short, weight_said
from canopy.power.tariff import Tariff, best_start
from canopy.words import Said, said
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import HungFixture
from server.runs.adapters.lining import lining_gains
from server.runs.adapters.planning import (
    Kept,
    choice_for,
    levers_of,
    on_minute_of,
    plan_in,
    problem_of,
)
from server.runs.adapters.prices import contract_of, known_until, part_prices
from server.runs.adapters.season import SeasonAnswer, season_of
from server.runs.adapters.standing import StagePart, Standing, standing_of
from server.spaces.adapters import limits_of, loads_of
from server.spaces.models import Circuit, Space


@dataclass(frozen=True)
class GroupDraw:
    """A group of lamps on one timer channel and dial; 0 is the rail's."""

    group: int
    watts: float
    windows: tuple[Window, ...]
    kwh: float
    cost: float


@dataclass(frozen=True)
class DrawnLoad:
    """Something on the circuit with all that goes together."""

    name: str
    volts: float
    amps: float
    watts: float
    va: float
    power_factor: float
    measured: bool
    timed: bool


@dataclass(frozen=True)
class CircuitAnswer:
    """What a circuit carries with every lamp at full power."""

    circuit_id: int
    name: str
    check: CircuitCheck
    loads: list[DrawnLoad]


@dataclass(frozen=True)
class HeatAnswer:
    """How warm it gets at the day's most watts."""

    watts: float
    btu_per_h: float
    warmth: Warmth
    wanted_cfm: float | None
    heating_saved: float
    cool_on_minute: int


@dataclass(frozen=True)
class HungLampAnswer:
    """What carries one lamp, and the way of its cord."""

    name: str
    weight_kg: float
    hangers: int
    share_kg: float
    worst_kg: float
    marks_cm: list[tuple[float, float]]
    corners_cm: list[tuple[float, float]]
    face_cm: float
    cord: CordPath
    sold_apart: str


@dataclass(frozen=True)
class HangingAnswer:
    """What carries the lamps over the season."""

    weight: Weighed
    lamps: list[HungLampAnswer]
    ratchets: Travel
    fits_to_the_end: bool


@dataclass(frozen=True)
class PowerAnswer:
    """All of it, at a stage; ``findings`` begin with a limit that is passed."""

    stage_id: int
    stage: str
    currency: str
    findings: list[Said]
    said: list[Said]
    day: Use
    whole_stage: Use
    season: Use
    plants: int | None
    each: float | None
    standing_per_day: float
    prices_known_until: date | None
    groups: list[GroupDraw]
    most_watts: float
    most_at_minute: int
    watts_lowest: float
    measured_watts: bool
    same: SameLight
    cheapest_here: WayToLight
    cheapest: WayToLight
    dimming_saves: float
    twelve: WayToLight | None
    eighteen: WayToLight | None
    circuit: CircuitAnswer | None
    heat: HeatAnswer
    hanging: HangingAnswer


@dataclass(frozen=True)
class _Stage:
    """A part of a stage with its levers, as everything here asks it."""

    run: Standing
    part: StagePart
    problem: StageProblem
    ready: Bench
    index: Index
    on_minute: int
    tariff: Tariff

    @property
    def windows(self) -> tuple[Window, ...]:
        day = replace(self.problem.losses.day, on_minute=self.on_minute)
        return day.windows(float(self.ready.space.hours[self.index[2]]))


def _stage(run: Standing, part: StagePart, kept: Kept) -> _Stage:
    row = kept.get(part.key)
    on = run.on_minute if row is None else on_minute_of(row)
    problem = problem_of(run, part, run.lamps, on)
    choice = choice_for(run, part, kept, problem)
    setting = choice.setting if row is None else levers_of(row)
    index = choice.ready.space.nearest(setting)
    return _Stage(run, part, problem, choice.ready, index, on, part_prices(run, part))


def power_of(
    run: Standing, room: Space, kept: Kept, stage_id: int, plants: int | None
) -> PowerAnswer:
    """Return what a run's light costs and draws at a stage, and over its season.

    ``room`` is the space as it now is: circuits and what carries lamps are never copied.

    Raises
    ------
    CanopyError
        When the stage cannot be put to the core.
    """
    part = run.parts_of(run.stage(stage_id))[0]
    stage = _stage(run, part, kept)
    season = season_of(run, kept)
    on = next(
        (s.planned.on_minute for s in season.stages if s.stage_id == stage_id and s.planned),
        stage.on_minute,
    )
    stage = replace(stage, on_minute=on)
    free = run.on_wish == "cheap" and (kept.get(part.key) is None)
    same = same_light(stage.problem, stage.ready, stage.index, stage.tariff, on, free)
    here, anywhere = same.cheapest(same.here), same.cheapest(same.anywhere)
    groups = _groups(stage)
    watts, minute = most_watts([Drawn(g.windows, g.watts) for g in groups])
    circuit = circuit_answer(run, room)
    hanging = hanging_of(run, room, season)
    day, whole, all_days = _uses(stage, season)
    space = stage.ready.space
    contract = contract_of(run)
    saved = _saved_by_moving(stage, contract, season, whole)
    days = [season.first + timedelta(days=k) for k in range(season.days)]
    return PowerAnswer(
        stage_id=stage_id,
        stage=part.stage.name,
        currency=run.tariff.currency,
        findings=_findings(circuit, hanging),
        said=_said(run, same, here, all_days, plants, saved),
        day=day,
        whole_stage=whole,
        season=all_days,
        plants=plants,
        each=None if plants is None else all_days.each(plants),
        standing_per_day=run.tariff.standing_per_day,
        prices_known_until=known_until(contract, days) if contract.prices else None,
        groups=groups,
        most_watts=watts,
        most_at_minute=minute,
        watts_lowest=float(space.watts[0]),
        measured_watts=all(_measured(lamp) for lamp in run.lamps),
        same=same,
        cheapest_here=here,
        cheapest=anywhere,
        dimming_saves=same.saved_by_dimming(same.here),
        twelve=_at(same.here, 12),
        eighteen=_at(same.here, 18),
        circuit=circuit,
        heat=heat_of(run, room, stage.tariff, watts, day.kwh, space.hours[stage.index[2]], on),
        hanging=hanging,
    )


def _at(ways: Sequence[WayToLight], hours: float) -> WayToLight | None:
    return next((way for way in ways if abs(way.hours - hours) < 1e-6), None)


def _measured(lamp: HungFixture) -> bool:
    own = lamp.piece is not None and lamp.piece.watts is not None
    return own or lamp.fixture.origins.get("watts") == "measured"


def _groups(stage: _Stage) -> list[GroupDraw]:
    problem, space = stage.problem, stage.ready.space
    h, d, t = stage.index
    outcome = space.outcome((h, d, t))
    apart_kwh = 0.0 if space.apart is None else space.apart.kwh_per_day
    kwh = outcome.kwh_per_day - apart_kwh
    windows = stage.windows
    found = [
        GroupDraw(0, outcome.watts, windows, kwh, cost_in(stage.tariff, windows, kwh)),
    ]
    for group, lamps in problem.group_lamps().items():
        own = [hung for hung in lamps if hung.own_windows]
        if not own:
            continue
        used = sum(problem.apart_kwh(hung) for hung in own)
        cost = cost_in(stage.tariff, own[0].own_windows, used)
        found.append(
            GroupDraw(group, sum(hung.own_watts for hung in own), own[0].own_windows, used, cost)
        )
    return found


def _uses(stage: _Stage, season: SeasonAnswer) -> tuple[Use, Use, Use]:
    run = stage.run
    area = run.space.width_cm * run.space.depth_cm / 1e4
    grid = run.tariff.grid_g_per_kwh
    space = stage.ready.space
    outcome = space.outcome(stage.index)
    apart_kwh = 0.0 if space.apart is None else space.apart.kwh_per_day
    cost = cost_in(stage.tariff, stage.windows, outcome.kwh_per_day - apart_kwh)
    cost += apart_cost(stage.problem, stage.tariff)
    lamp_dli = max(outcome.dli - stage.problem.daylight_dli, 0.0)
    day = use_of([outcome.kwh_per_day], [cost], [lamp_dli], area, grid)
    other = {s.first_day: s.daylight_dli for s in season.stages}
    firsts = sorted(other)

    def daylight(at: int) -> float:
        return other[max(first for first in firsts if first <= at)]

    def over(low: int, high: int) -> Use:
        rows = [row for row in season.rows if low <= row.day < high]
        return use_of(
            [row.kwh for row in rows],
            [row.cost for row in rows],
            [max(row.dli - daylight(row.day), 0.0) for row in rows],
            area,
            grid,
        )

    mine = [s for s in season.stages if s.stage_id == stage.part.stage.pk]
    first, days = mine[0].first_day, sum(s.days for s in mine)
    return day, over(first, first + days), over(0, season.days)


def _said(
    run: Standing,
    same: SameLight,
    here: WayToLight,
    season: Use,
    plants: int | None,
    saved_by_moving: float,
) -> list[Said]:
    now = same.now
    found = [said("power.answer", kwh=now.kwh, cost=now.cost, currency=run.tariff.currency)]
    less = 1 - here.cost / now.cost if now.cost > 0 else 0.0
    if less >= WORTH_SAYING:
        found.append(
            said("power.cheaper", hours=here.hours, dial_pct=here.dial_pct, cost=here.cost)
        )
    elif less >= LEAST_SHARE:
        found.append(said("power.hardly", share=less))
    else:
        found.append(said("power.cheapest"))
    saves = same.saved_by_dimming(same.here)
    if less >= WORTH_SAYING and saves >= WORTH_SAYING:
        found.append(said("power.dimming", share=saves))
    currency = run.tariff.currency
    if saved_by_moving:
        found.append(said("power.daily", saved=saved_by_moving, currency=currency))
    if plants:
        found.append(said("power.each", cost=season.cost / plants, currency=run.tariff.currency))
    return found


def _saved_by_moving(stage: _Stage, contract: Contract, season: SeasonAnswer, whole: Use) -> float:
    """Return what a controller saves over a stage that comes on at another time each day.

    Nothing without hourly prices, beside daylight, or where it is not worth saying.
    """
    day = stage.problem.losses.day
    if contract.prices is None or day.sun is not None or not whole.cost > 0:
        return 0.0
    firsts = [s for s in season.stages if s.stage_id == stage.part.stage.pk]
    start = season.first + timedelta(days=firsts[0].first_day)
    prices = contract.by_minute([start + timedelta(days=k) for k in range(whole.days)])
    hours = float(stage.ready.space.hours[stage.index[2]])
    step = stage.problem.timer_step_min
    moved = daily_starts(prices, hours, step, day.night_h, stage.on_minute)
    still = np.full(len(prices), stage.on_minute)
    less = cost_of_starts(prices, still, hours) - cost_of_starts(prices, moved, hours)
    saved = float(less.sum()) * whole.kwh_a_day
    return saved if saved >= WORTH_SAYING * whole.cost else 0.0


WORTH_SAYING = 0.02
"""Of what a day costs: for less nobody turns a dial. Our judgement."""

LEAST_SHARE = 0.005
"""Half a per cent: below it a figure says nothing."""


def _findings(circuit: CircuitAnswer | None, hanging: HangingAnswer) -> list[Said]:
    found: list[Said] = []
    if circuit is not None:
        found += circuit.check.findings
    if hanging.weight.over:
        found.append(weight_said(hanging.weight))
    for k, lamp in enumerate(hanging.lamps):
        short = cord_short(k + 1, lamp.cord)
        if short is not None:
            found.append(short)
    if circuit is not None and not circuit.check.findings:
        found.append(circuit_well(circuit.check))
    return found


def lamp_loads(run: Standing, chained: bool) -> list[Load]:
    """Return a run's lamps at full power, each kind once, as loads on a circuit."""
    # on any day of the run: what runs for hours counts as such
    longest_h = max((stage.hours_high for stage in run.stages), default=0.0)
    kinds: dict[int, tuple[Fixture, float, int]] = {}
    for lamp in run.lamps:
        watts = lamp.fixture.watts
        if lamp.piece is not None and lamp.piece.watts is not None:
            watts = lamp.piece.watts
        fixture, all_watts, count = kinds.get(lamp.fixture.pk, (lamp.fixture, 0.0, 0))
        kinds[lamp.fixture.pk] = (fixture, all_watts + watts, count + 1)
    several = sum(count for _, _, count in kinds.values()) > 1
    return [
        Load(
            name=fixture.name,
            watts=watts,
            power_factor=fixture.details.get("power_factor") or USUAL_POWER_FACTOR,
            count=count,
            inrush_a=fixture.details.get("inrush_a"),
            hours=longest_h,
            timed=True,
            chained=chained and several,
        )
        for fixture, watts, count in kinds.values()
    ]


def _elsewhere(row: Circuit, room: Space) -> list[Load]:
    """Return the lamps of the plans in other spaces on a circuit, at full power."""
    found = []
    for space in row.spaces.filter(removed=False).exclude(pk=room.pk):
        run = plan_in(space)
        for load in [] if run is None else lamp_loads(standing_of(run), chained=False):
            found.append(replace(load, name=f"{load.name} in {space.name}", elsewhere=True))
    return found


def circuit_answer(run: Standing, room: Space) -> CircuitAnswer | None:
    """Return what a run's circuit carries with every lamp at full power; None where unknown."""
    row = room.circuit
    if row is None:
        return None
    loads = [*lamp_loads(run, row.chained), *_elsewhere(row, room), *loads_of(row)]
    check = check_circuit(loads, limits_of(row))
    shown = []
    for load in loads:
        drawn = load.drawn(row.volts)
        shown.append(DrawnLoad(load.name, **vars(drawn), timed=load.timed))
    return CircuitAnswer(row.pk, row.name, check, shown)


def heat_of(
    run: Standing,
    room: Space,
    tariff: Tariff,
    watts: float,
    kwh: float,
    hours: float,
    on_minute: int,
) -> HeatAnswer:
    """Return how warm it gets while a run's lamps are on."""
    air: dict[str, Any] = room.air
    outside = drivers_outside(run, room)
    found = warmth(
        watts,
        outside,
        air.get("other_watts", 0.0),
        air.get("fan_m3_h"),
        air.get("room_m3_h"),
        air.get("wanted_rise_k"),
    )
    flow = found.wanted_flow_m3_h
    return HeatAnswer(
        watts=watts,
        btu_per_h=heat_btu_per_h(watts),
        warmth=found,
        wanted_cfm=None if flow is None else flow / M3_H_PER_CFM,
        heating_saved=heating_saved(
            kwh, air.get("heated_share", 0.0), air.get("heat_per_kwh", 0.0)
        ),
        cool_on_minute=best_start(
            tariff, float(hours), run.space.timer_step_min, "cool", on_minute
        ),
    )


def drivers_outside(run: Standing, room: Space) -> bool:
    """Return whether the lamps' drivers hang outside the space."""
    apart = run.fixture.details.get("driver_place") == "apart"
    said_so = room.mount.get("drivers_outside")
    return apart if said_so is None else bool(said_so)


def socket_of(room: Space) -> Socket:
    """Return where a space's cords end."""
    mount = room.mount
    usual = Socket()
    return Socket(
        mount.get("corner", usual.corner),
        mount.get("socket_cm", usual.height_cm),
        mount.get("away_cm", usual.away_cm),
    )


def hanging_of(run: Standing, room: Space, season: SeasonAnswer) -> HangingAnswer:
    """Return what carries a run's lamps over its season."""
    space, mount, socket = run.space, room.mount, socket_of(room)
    faces = [row.lamp_cm for row in season.rows] or [space.height_cm / 2]
    lamps = []
    for lamp in run.lamps:
        frame, fixture = lamp.frame(), lamp.fixture
        many = mount.get("hangers") or fixture.details.get("hangers") or usual_hangers(frame)
        many = int(many)
        lowest = min(faces) + lamp.raise_cm
        share = fixture.weight_kg / many
        marks = hanger_marks_cm(frame, many)
        lamps.append(
            HungLampAnswer(
                name=fixture.name,
                weight_kg=fixture.weight_kg,
                hangers=many,
                share_kg=share,
                worst_kg=fixture.weight_kg / min(many, 2),
                marks_cm=[(float(x), float(y)) for x, y in marks],
                corners_cm=[(float(x), float(y)) for x, y in frame.corners_cm()],
                face_cm=faces[0] + lamp.raise_cm,
                cord=cord_path(
                    (lamp.x_cm, lamp.y_cm),
                    lowest,
                    fixture.body_cm,
                    (space.width_cm, space.depth_cm, space.height_cm),
                    socket,
                    fixture.details.get("cord_cm"),
                ),
                sold_apart=fixture.details.get("sold_apart", ""),
            )
        )
    weight = weighed(
        [lamp.weight_kg for lamp in lamps],
        [lamp.hangers for lamp in lamps],
        mount.get("besides_kg", 0.0),
        mount.get("rating_kg"),
    )
    body = max(lamp.fixture.body_cm for lamp in run.lamps)
    return HangingAnswer(
        weight,
        lamps,
        travel(faces, body, space.height_cm),
        fits_to_the_end=all(stage.planned is not None for stage in season.stages),
    )


@dataclass(frozen=True)
class SheetPayback:
    """What a reflective sheet saves, and in how many lit days its price is back."""

    lining: str
    saved_per_day: float
    days: float | None


def sheet_paybacks(run: Standing, kept: Kept, stage_id: int, price: float) -> list[SheetPayback]:
    """Return in how many lit days each lining's sheet pays, from what it saves a day."""
    part = run.parts_of(run.stage(stage_id))[0]
    stage = _stage(run, part, kept)
    gains = lining_gains(run, part, stage.ready.space.setting(stage.index), stage.on_minute)
    return [
        SheetPayback(
            each.lining,
            each.saved_per_day,
            price / each.saved_per_day if each.saved_per_day > 0 else None,
        )
        for each in gains.gains
    ]


def check_stage(run: Standing, stage_id: int | None) -> int:
    """Return the stage to show: the one asked for, else the first.

    Raises
    ------
    CanopyError
        When the crop has none.
    """
    if stage_id is not None:
        return stage_id
    if not run.stages:
        raise CanopyError("The crop has no stages; give it some first.", "crop_id")
    return int(run.stages[0].pk)
