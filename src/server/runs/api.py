"""Runs: plans and what becomes of them, the bench, the season, the history."""

from datetime import date
from typing import Annotated, Any, Literal

from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from ninja import PathEx, Router, Status
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.accounts.models import Grower
from server.common.schemas import CHANGES, PROBLEMS, FileOut, Id, RemovedIn
from server.common.versions import IdempotencyKey, IfMatch, expected, key_of, shown_by
from server.crops.selectors import crop_of
from server.fixtures.adapters.switches import MOST_SWITCHES
from server.fixtures.selectors import fixture_of, piece_of
from server.runs import selectors, services, switching
from server.runs.adapters.bench import (
    MOST_GROUPS,
    BenchAnswer,
    StageRoom,
    bench_answer,
    levers,
    stage_rooms,
)
from server.runs.adapters.lamps import HungFixture
from server.runs.adapters.lining import LiningGains, lining_gains
from server.runs.adapters.planning import (
    FIRST_START,
    LAST_START,
    levers_of,
    levers_on,
    on_minute_of,
    planned_together,
)
from server.runs.adapters.positions import Positions, positions_at
from server.runs.adapters.racks import RackAnswer, rack_answer, run_text
from server.runs.adapters.season import (
    Opinions,
    SeasonAnswer,
    season_csv,
    season_ics,
    season_of,
    second_opinions,
)
from server.runs.adapters.standing import MOST_DAYS, Standing, kept_of, standing_of
from server.runs.adapters.standing import another_lamp as new_lamp
from server.runs.models import Plan, Run, Setting
from server.runs.replan import MOST_PLANS
from server.runs.replan import plan_anew as anew
from server.runs.schemas.bench import (
    BenchIn,
    BenchOut,
    GroupIn,
    SettingIn,
    StageRoomOut,
    SwitchSetIn,
)
from server.runs.schemas.history import PastSettingIn, PastSettingOut
from server.runs.schemas.lamps import LampIn, LampOut, LampsIn
from server.runs.schemas.levers import SettingOut
from server.runs.schemas.lining import LiningGainsOut
from server.runs.schemas.positions import PositionsOut
from server.runs.schemas.racks import RackAnswerOut
from server.runs.schemas.run import (
    AnewIn,
    CopyIn,
    EndIn,
    NameIn,
    OnIn,
    PlanRowOut,
    RunIn,
    RunOut,
    TakenBackOut,
)
from server.runs.schemas.season import OpinionsOut, SeasonOut, SeasonWishesIn
from server.runs.undo import TakenBack
from server.runs.undo import redo as make_again
from server.runs.undo import undo as take_back
from server.spaces.adapters import lined_otherwise
from server.spaces.selectors import rack_of, space_of

Day = Annotated[date, Field(ge=FIRST_START, le=LAST_START)]

MOST_COPIED = 73
"""Characters of a space's name in that of its copy."""

FromDay = Annotated[int, Field(ge=0, lt=MOST_DAYS)]
"""A day of a stage, from 0."""

router = Router(auth=django_auth)
shown_by(Run, RunOut.from_orm)


def _run(request: HttpRequest, run_id: int) -> Run:
    return selectors.run_of(grower_of(request), run_id)


def _standing(request: HttpRequest, run_id: int) -> Standing:
    return standing_of(_run(request, run_id))


@router.get("", response={200: list[RunOut], **PROBLEMS})
def runs(request: HttpRequest) -> QuerySet[Run]:
    """The grower's runs, the one last worked on first."""
    return selectors.runs_of(grower_of(request))


@router.post("", response={201: RunOut, **PROBLEMS})
def start_run(request: HttpRequest, payload: RunIn) -> Status[Run]:
    """Put a crop under a lamp in a space: a new plan."""
    grower = grower_of(request)
    return Status(
        201,
        services.start_run(
            grower,
            space_of(grower, payload.space_id),
            fixture_of(grower, payload.fixture_id),
            crop_of(grower, payload.crop_id),
        ),
    )


@router.get("/racks/{int:rack_id}", response={200: RackAnswerOut, **PROBLEMS})
def rack(request: HttpRequest, rack_id: int, on: Day | None = None) -> RackAnswer:
    """A rack on a day, or today: the plan on each of its levels, and what all draw and cost."""
    grower = grower_of(request)
    return rack_answer(rack_of(grower, rack_id), on or grower.today())


@router.put("/{int:run_id}", response={200: RunOut, **CHANGES})
def change_run(request: HttpRequest, run_id: int, payload: RunIn, if_match: IfMatch = None) -> Run:
    """Put another space, lamp or crop into a plan."""
    grower = grower_of(request)
    return services.change_run(
        selectors.run_of(grower, run_id),
        space_of(grower, payload.space_id),
        fixture_of(grower, payload.fixture_id),
        crop_of(grower, payload.crop_id),
        payload.over_cap,
        expected(if_match),
    )


@router.put("/{int:run_id}/name", response={200: RunOut, **CHANGES})
def name_run(request: HttpRequest, run_id: int, payload: NameIn, if_match: IfMatch = None) -> Run:
    """Give a run a name."""
    return services.name_run(_run(request, run_id), payload.name, expected(if_match))


@router.put("/{int:run_id}/aside", response={200: RunOut, **CHANGES})
def put_away(
    request: HttpRequest, run_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Run:
    """Put a run away, or bring it back."""
    return services.put_away(_run(request, run_id), payload.removed, expected(if_match))


@router.post("/{int:run_id}/copy", response={201: RunOut, **PROBLEMS})
def copy_run(request: HttpRequest, run_id: int, payload: CopyIn) -> Status[Run]:
    """Make a new plan of all that a run is made of, in the same space or in a copy of it."""
    run = _run(request, run_id)
    own = None
    if payload.own_space or payload.lining:
        name = payload.space_name or f"{run.space.name[:MOST_COPIED]} (copy)"
        own = {"name": name, **lined_otherwise(run.space, payload.lining)}
    return Status(201, services.copy_run(run, payload.name, own))


@router.post("/{int:run_id}/undo", response={200: TakenBackOut, **PROBLEMS})
def undo(request: HttpRequest, run_id: int) -> TakenBack:
    """Take back the last change of a plan, or of what it follows; the last twenty can be."""
    return take_back(_run(request, run_id))


@router.post("/{int:run_id}/redo", response={200: TakenBackOut, **PROBLEMS})
def redo(request: HttpRequest, run_id: int) -> TakenBack:
    """Make again what was taken back last."""
    return make_again(_run(request, run_id))


@router.put("/{int:run_id}/begin", response={200: RunOut, **CHANGES})
def begin_run(request: HttpRequest, run_id: int, payload: OnIn, if_match: IfMatch = None) -> Run:
    """Let a plan begin; from now on it stands on its own copy."""
    return services.begin_run(_run(request, run_id), payload.on, expected(if_match))


@router.delete("/{int:run_id}/begin", response={200: RunOut, **CHANGES})
def take_back_begin(request: HttpRequest, run_id: int, if_match: IfMatch = None) -> Run:
    """Make a plan of a run begun by mistake, as long as nothing was kept of it."""
    return services.take_back_begin(_run(request, run_id), expected(if_match))


@router.put("/{int:run_id}/end", response={200: RunOut, **CHANGES})
def end_run(request: HttpRequest, run_id: int, payload: EndIn, if_match: IfMatch = None) -> Run:
    """Let a run end: harvested or given up."""
    outcome = {
        "ended_how": payload.how,
        "harvest": payload.harvest,
        "harvest_unit": "" if payload.harvest is None else payload.unit,
    }
    return services.end_run(_run(request, run_id), payload.on, outcome, expected(if_match))


@router.get("/{int:run_id}/plans", response={200: list[PlanRowOut], **PROBLEMS})
def plans(request: HttpRequest, run_id: int) -> QuerySet[Plan]:
    """The plans a run has and had, the first one first."""
    return _run(request, run_id).plans.defer("document")


@router.put("/{int:run_id}/plans", response={200: RunOut, **CHANGES})
def plan_anew(request: HttpRequest, run_id: int, payload: AnewIn, if_match: IfMatch = None) -> Run:
    """Plan a begun run anew from a day on; the plan it had stays to be seen."""
    grower = grower_of(request)
    by = None if payload.by_id is None else selectors.run_of(grower, payload.by_id)
    return anew(_run(request, run_id), payload.on, by, expected(if_match))


@router.delete("/{int:run_id}/end", response={200: RunOut, **CHANGES})
def take_back_end(request: HttpRequest, run_id: int, if_match: IfMatch = None) -> Run:
    """Let a run go on that was ended by mistake."""
    return services.take_back_end(_run(request, run_id), expected(if_match))


@router.put("/{int:run_id}/stages/{int:stage_id}/begin", response={200: RunOut, **CHANGES})
def begin_stage(
    request: HttpRequest, run_id: int, stage_id: int, payload: OnIn, if_match: IfMatch = None
) -> Run:
    """Let a stage of a run begin; the one before it ends that day."""
    run = _run(request, run_id)
    return services.begin_stage(run, stage_id, payload.on, expected(if_match))


@router.delete("/{int:run_id}/stages/{int:stage_id}/begin", response={200: RunOut, **CHANGES})
def take_back_stage(
    request: HttpRequest, run_id: int, stage_id: int, if_match: IfMatch = None
) -> Run:
    """Take back that a stage began; the one before it goes on."""
    return services.take_back_stage(_run(request, run_id), stage_id, expected(if_match))


@router.get("/{int:run_id}/file", response={200: FileOut, **PROBLEMS})
def run_file(request: HttpRequest, run_id: int) -> FileOut:
    """A run as a run file: what it stands on, to keep."""
    return FileOut(name="plan.run.json", text=run_text(_run(request, run_id)))


@router.get("/{int:run_id}/settings", response={200: list[PastSettingOut], **PROBLEMS})
def settings(
    request: HttpRequest,
    run_id: int,
    kind: Literal["all", "done"] = "all",
    most: Annotated[int, Field(ge=1, le=1000)] = 200,
) -> list[Setting]:
    """What was planned, set and measured, the newest first; ``done``: only what really was."""
    rows = selectors.history_of(_run(request, run_id))
    if kind == "done":
        rows = rows.exclude(kind="planned")
    return list(rows[:most])


@router.post("/{int:run_id}/settings", response={201: PastSettingOut, **PROBLEMS})
def log_setting(
    request: HttpRequest,
    run_id: int,
    payload: PastSettingIn,
    idempotency_key: IdempotencyKey = None,
) -> Status[Setting]:
    """Keep what was really set, or measured, at the tent; with one key it is kept once."""
    run = _run(request, run_id)
    stage = standing_of(run).stage(payload.stage_id)
    values = payload.model_dump(exclude={"stage_id", "holds_from"})
    key = key_of(idempotency_key)
    return Status(201, services.log_setting(run, stage.pk, payload.holds_from, values, key))


@router.get("/{int:run_id}/lamps", response={200: list[LampOut], **PROBLEMS})
def lamps(request: HttpRequest, run_id: int) -> list[HungFixture]:
    """Where a run's lamps hang."""
    return _standing(request, run_id).lamps


@router.get("/{int:run_id}/lamps/another", response={200: LampOut, **PROBLEMS})
def another_lamp(request: HttpRequest, run_id: int, fixture_id: Id, hung: int = 1) -> HungFixture:
    """One more lamp beside those that hang, as it would begin; nothing is kept."""
    fixture = fixture_of(grower_of(request), fixture_id)
    return new_lamp(_standing(request, run_id), fixture, hung)


def _hung(grower: Grower, lamp: LampIn) -> HungFixture:
    return HungFixture(
        fixture=fixture_of(grower, lamp.fixture_id),
        piece=None if lamp.piece_id is None else piece_of(grower, lamp.piece_id),
        bars_off=tuple(lamp.bars_off),
        **lamp.model_dump(exclude={"fixture_id", "piece_id", "bars_off"}),
    )


@router.put("/{int:run_id}/lamps", response={200: list[LampOut], **CHANGES})
def hang_lamps(
    request: HttpRequest, run_id: int, payload: LampsIn, if_match: IfMatch = None
) -> list[HungFixture]:
    """Hang a plan's lamps; none puts its fixture once in the middle."""
    grower = grower_of(request)
    hung = [_hung(grower, lamp) for lamp in payload.lamps]
    return services.hang_lamps(_run(request, run_id), hung, expected(if_match))


@router.get("/{int:run_id}/headroom", response={200: list[StageRoomOut], **PROBLEMS})
def headroom(request: HttpRequest, run_id: int) -> list[StageRoom]:
    """How much room for the lamp each stage leaves."""
    return stage_rooms(_standing(request, run_id))


@router.get("/{int:run_id}/stages/{int:stage_id}/bench", response={200: BenchOut, **PROBLEMS})
def bench(request: HttpRequest, run_id: int, stage_id: int, from_day: FromDay = 0) -> BenchAnswer:
    """The bench with the levers as they were left, or at the plan's choice."""
    run = _run(request, run_id)
    standing = standing_of(run)
    part = standing.part(stage_id, from_day)
    kept = kept_of(run)
    row = kept.get(part.key)
    if row is None:
        return bench_answer(standing, part, kept, None, standing.on_minute)
    return bench_answer(standing, part, kept, levers_of(row), on_minute_of(row), row.locked)


@router.post("/{int:run_id}/bench", response={200: BenchOut, **PROBLEMS})
def move_levers(request: HttpRequest, run_id: int, payload: BenchIn) -> BenchAnswer:
    """What other positions of the levers would give; nothing is kept."""
    run = _run(request, run_id)
    standing = standing_of(run)
    # where stages are planned each by itself nobody has to look at the others
    kept = kept_of(run) if planned_together(standing) else {}
    part = standing.part(payload.stage_id, payload.from_day)
    wanted = levers(payload.height_cm, payload.dial_pct, payload.hours)
    return bench_answer(standing, part, kept, wanted, payload.on_minute, payload.locked)


@router.post("/{int:run_id}/lining", response={200: LiningGainsOut, **PROBLEMS})
def lining(request: HttpRequest, run_id: int, payload: BenchIn) -> LiningGains:
    """What the space lined otherwise would gain at a setting; nothing is kept."""
    standing = _standing(request, run_id)
    part = standing.part(payload.stage_id, payload.from_day)
    wanted = levers(payload.height_cm, payload.dial_pct, payload.hours)
    return lining_gains(standing, part, wanted, payload.on_minute)


@router.post("/{int:run_id}/positions", response={200: PositionsOut, **PROBLEMS})
def positions(request: HttpRequest, run_id: int, payload: BenchIn) -> Positions:
    """What other heights and other dials give, the other levers as they are; nothing is kept."""
    standing = _standing(request, run_id)
    part = standing.part(payload.stage_id, payload.from_day)
    wanted = levers(payload.height_cm, payload.dial_pct, payload.hours)
    return positions_at(standing, part, wanted, payload.on_minute)


@router.put("/{int:run_id}/stages/{int:stage_id}/setting", response={200: SettingOut, **PROBLEMS})
def keep_setting(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    payload: SettingIn,
    idempotency_key: IdempotencyKey = None,
) -> Any:
    """Keep the levers planned for a stage, or from a day of it; with one key they are kept once."""
    run = _run(request, run_id)
    kept = services.keep_setting(
        run,
        *standing_of(run).part(stage_id, payload.from_day).key,
        payload.height_cm,
        payload.dial_pct,
        payload.hours,
        payload.on_minute,
        [str(name) for name in payload.locked],
        key_of(idempotency_key),
    )
    return levers_of(kept)


@router.delete("/{int:run_id}/stages/{int:stage_id}/setting", response={204: None, **PROBLEMS})
def free_setting(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    from_day: FromDay = 0,
    idempotency_key: IdempotencyKey = None,
) -> Status[None]:
    """Let the plan choose the levers of a stage again, or take a change within it out."""
    run = _run(request, run_id)
    stage = standing_of(run).stage(stage_id)
    services.free_setting(run, stage.pk, from_day, key_of(idempotency_key))
    return Status(204, None)


@router.put(
    "/{int:run_id}/stages/{int:stage_id}/changes/{from_day}", response={204: None, **PROBLEMS}
)
def begin_change(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    from_day: PathEx[FromDay],
    idempotency_key: IdempotencyKey = None,
) -> Status[None]:
    """Let a stage be set otherwise from a day on; until it is, the levers stay where they are."""
    run = _run(request, run_id)
    standing = standing_of(run)
    part, kept = standing.part(stage_id, from_day), kept_of(run)
    if part.key not in kept:
        setting, on_minute = levers_on(standing, part.stage, kept, from_day)
        at = (*part.key, setting.height_cm, setting.dial_pct, setting.hours, on_minute)
        services.keep_setting(run, *at, [], key_of(idempotency_key))
    return Status(204, None)


Group = Annotated[int, Field(ge=1, le=MOST_GROUPS)]
SwitchNumber = Annotated[int, Field(ge=1, le=MOST_SWITCHES)]


@router.put("/{int:run_id}/stages/{int:stage_id}/groups/{group}", response={204: None, **PROBLEMS})
def keep_group(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    group: PathEx[Group],
    payload: GroupIn,
    idempotency_key: IdempotencyKey = None,
) -> Status[None]:
    """Keep what a group of lamps is set to for a stage, or from a change within it on."""
    run = _run(request, run_id)
    place = (*standing_of(run).part(stage_id, payload.from_day).key, group)
    windows = [window.model_dump() for window in payload.windows]
    services.keep_group(run, *place, payload.dial_pct, windows, key_of(idempotency_key))
    return Status(204, None)


@router.delete(
    "/{int:run_id}/stages/{int:stage_id}/groups/{group}", response={204: None, **PROBLEMS}
)
def free_group(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    group: PathEx[Group],
    from_day: FromDay = 0,
    idempotency_key: IdempotencyKey = None,
) -> Status[None]:
    """Let a group of lamps do again as they would in none."""
    run = _run(request, run_id)
    stage = standing_of(run).stage(stage_id)
    services.free_group(run, stage.pk, from_day, group, key_of(idempotency_key))
    return Status(204, None)


@router.put(
    "/{int:run_id}/stages/{int:stage_id}/switches/{switch}", response={204: None, **PROBLEMS}
)
def set_switch(
    request: HttpRequest,
    run_id: int,
    stage_id: int,
    switch: PathEx[SwitchNumber],
    payload: SwitchSetIn,
    idempotency_key: IdempotencyKey = None,
) -> Status[None]:
    """Keep where one of the lamp's switches stands at a stage, or from a change within it on."""
    run = _run(request, run_id)
    part = standing_of(run).part(stage_id, payload.from_day)
    switching.set_switch(run, part, switch, payload.dial_pct, key_of(idempotency_key))
    return Status(204, None)


@router.get("/{int:run_id}/stages/{int:stage_id}/opinions", response={200: OpinionsOut, **PROBLEMS})
def opinions(request: HttpRequest, run_id: int, stage_id: int, from_day: FromDay = 0) -> Opinions:
    """What every school would do at a stage, and what it would give here."""
    run = _run(request, run_id)
    standing = standing_of(run)
    part = standing.part(stage_id, from_day)
    return second_opinions(standing, part, kept_of(run))


@router.put("/{int:run_id}/wishes", response={200: RunOut, **CHANGES})
def keep_wishes(
    request: HttpRequest, run_id: int, payload: SeasonWishesIn, if_match: IfMatch = None
) -> Run:
    """Keep what a run's season is planned by."""
    run = _run(request, run_id)
    wishes = payload.model_dump(exclude_none=True)
    return services.keep_wishes(run, wishes, expected(if_match))


@router.get("/{int:run_id}/season", response={200: SeasonOut, **PROBLEMS})
def season(
    request: HttpRequest,
    run_id: int,
    plan: Annotated[int | None, Field(ge=1, le=MOST_PLANS)] = None,
) -> SeasonAnswer:
    """The whole season: every stage and every day; of a begun run by one of its plans."""
    run = _run(request, run_id)
    row = None if plan is None or run.begun_on is None else selectors.plan_of(run, plan)
    return season_of(standing_of(run, row), kept_of(run, row))


@router.get("/{int:run_id}/season/table", response={200: FileOut, **PROBLEMS})
def season_table(request: HttpRequest, run_id: int) -> FileOut:
    """The day table as CSV."""
    run = _run(request, run_id)
    text = season_csv(standing_of(run), kept_of(run))
    return FileOut(name="season.csv", text=text)


@router.get("/{int:run_id}/season/calendar", response={200: FileOut, **PROBLEMS})
def season_calendar(request: HttpRequest, run_id: int) -> FileOut:
    """Stage starts, re-hang days and timer changes as iCalendar."""
    run = _run(request, run_id)
    calendar = season_ics(standing_of(run), kept_of(run), timezone.now())
    return FileOut(name="season.ics", text=calendar.decode())
