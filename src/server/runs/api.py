"""Runs and the bench."""

from django.db.models import QuerySet
from django.http import HttpRequest
from django.utils import timezone
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import PROBLEMS, FileOut, Id
from server.crops.selectors import crop_of
from server.fixtures.selectors import fixture_of
from server.fixtures.selectors import shelf_of as on_the_shelf
from server.runs import selectors, services
from server.runs.adapters.bench import (
    BenchAnswer,
    StageRoom,
    bench_answer,
    levers,
    stage_rooms,
)
from server.runs.adapters.compare import ComparedAnswer, compared_lamps
from server.runs.adapters.lamps import HungFixture, lamps_of
from server.runs.adapters.lamps import another_lamp as new_lamp
from server.runs.adapters.season import (
    Opinions,
    SeasonAnswer,
    season_csv,
    season_ics,
    season_of,
    second_opinions,
)
from server.runs.adapters.shelf import ShelfAnswer, shelf_of
from server.runs.models import Run, StageSetting
from server.runs.schemas import (
    BenchIn,
    BenchOut,
    CompareIn,
    CompareOut,
    LampOut,
    LampsIn,
    OpinionsOut,
    RunIn,
    RunOut,
    SeasonOut,
    SeasonWishesIn,
    SettingIn,
    SettingOut,
    ShelfIn,
    ShelfOut,
    StageRoomOut,
)
from server.spaces.selectors import space_of

router = Router(auth=django_auth)


@router.get("", response={200: list[RunOut], **PROBLEMS})
def runs(request: HttpRequest) -> QuerySet[Run]:
    """The grower's runs, the one last worked on first."""
    return selectors.runs_of(grower_of(request))


@router.post("", response={201: RunOut, **PROBLEMS})
def start_run(request: HttpRequest, payload: RunIn) -> Status[Run]:
    """Put a crop under a lamp in a space."""
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


@router.put("/{int:run_id}", response={200: RunOut, **PROBLEMS})
def change_run(request: HttpRequest, run_id: int, payload: RunIn) -> Run:
    """Put another space, lamp or crop into a run."""
    grower = grower_of(request)
    return services.change_run(
        selectors.run_of(grower, run_id),
        space_of(grower, payload.space_id),
        fixture_of(grower, payload.fixture_id),
        crop_of(grower, payload.crop_id),
        payload.over_cap,
    )


@router.get("/{int:run_id}/lamps", response={200: list[LampOut], **PROBLEMS})
def lamps(request: HttpRequest, run_id: int) -> list[HungFixture]:
    """Where a run's lamps hang."""
    return lamps_of(selectors.run_of(grower_of(request), run_id))


@router.get("/{int:run_id}/lamps/another", response={200: LampOut, **PROBLEMS})
def another_lamp(request: HttpRequest, run_id: int, fixture_id: Id, hung: int = 1) -> HungFixture:
    """One more lamp beside those that hang, as it would begin; nothing is kept."""
    grower = grower_of(request)
    run = selectors.run_of(grower, run_id)
    return new_lamp(run, fixture_of(grower, fixture_id), hung)


@router.put("/{int:run_id}/lamps", response={200: list[LampOut], **PROBLEMS})
def hang_lamps(request: HttpRequest, run_id: int, payload: LampsIn) -> list[HungFixture]:
    """Hang a run's lamps; none puts its fixture once in the middle."""
    grower = grower_of(request)
    run = selectors.run_of(grower, run_id)
    hung = [
        HungFixture(
            fixture=fixture_of(grower, lamp.fixture_id),
            bars_off=tuple(lamp.bars_off),
            **lamp.model_dump(exclude={"fixture_id", "bars_off"}),
        )
        for lamp in payload.lamps
    ]
    return services.hang_lamps(run, hung)


@router.get("/{int:run_id}/headroom", response={200: list[StageRoomOut], **PROBLEMS})
def headroom(request: HttpRequest, run_id: int) -> list[StageRoom]:
    """How much room for the lamp each stage leaves."""
    return stage_rooms(selectors.run_of(grower_of(request), run_id))


@router.get("/{int:run_id}/stages/{int:stage_id}/bench", response={200: BenchOut, **PROBLEMS})
def bench(request: HttpRequest, run_id: int, stage_id: int) -> BenchAnswer:
    """The bench with the levers as they were left, or at the plan's choice."""
    run = selectors.run_of(grower_of(request), run_id)
    stage = selectors.stage_in(run, stage_id)
    kept = selectors.kept_setting(run, stage)
    if kept is None:
        return bench_answer(run, stage, None, run.on_minute)
    wanted = levers(kept.height_cm, kept.dial_pct, kept.hours)
    return bench_answer(run, stage, wanted, kept.on_minute, kept.locked)


@router.post("/{int:run_id}/bench", response={200: BenchOut, **PROBLEMS})
def move_levers(request: HttpRequest, run_id: int, payload: BenchIn) -> BenchAnswer:
    """What other positions of the levers would give; nothing is kept."""
    run = selectors.run_of(grower_of(request), run_id)
    stage = selectors.stage_in(run, payload.stage_id)
    wanted = levers(payload.height_cm, payload.dial_pct, payload.hours)
    return bench_answer(run, stage, wanted, payload.on_minute, payload.locked)


@router.put("/{int:run_id}/stages/{int:stage_id}/setting", response={200: SettingOut, **PROBLEMS})
def keep_setting(
    request: HttpRequest, run_id: int, stage_id: int, payload: SettingIn
) -> StageSetting:
    """Keep the levers for a stage."""
    run = selectors.run_of(grower_of(request), run_id)
    stage = selectors.stage_in(run, stage_id)
    return services.keep_setting(
        run,
        stage,
        payload.height_cm,
        payload.dial_pct,
        payload.hours,
        payload.on_minute,
        [str(name) for name in payload.locked],
    )


@router.delete("/{int:run_id}/stages/{int:stage_id}/setting", response={204: None, **PROBLEMS})
def free_setting(request: HttpRequest, run_id: int, stage_id: int) -> Status[None]:
    """Let the plan choose the levers of a stage again."""
    run = selectors.run_of(grower_of(request), run_id)
    services.free_setting(run, selectors.stage_in(run, stage_id))
    return Status(204, None)


@router.get("/{int:run_id}/stages/{int:stage_id}/opinions", response={200: OpinionsOut, **PROBLEMS})
def opinions(request: HttpRequest, run_id: int, stage_id: int) -> Opinions:
    """What every school would do at a stage, and what it would give here."""
    run = selectors.run_of(grower_of(request), run_id)
    return second_opinions(run, selectors.stage_in(run, stage_id))


@router.put("/{int:run_id}/wishes", response={200: RunOut, **PROBLEMS})
def keep_wishes(request: HttpRequest, run_id: int, payload: SeasonWishesIn) -> Run:
    """Keep what a run's season is planned by."""
    run = selectors.run_of(grower_of(request), run_id)
    return services.keep_wishes(run, payload.model_dump())


@router.get("/{int:run_id}/season", response={200: SeasonOut, **PROBLEMS})
def season(request: HttpRequest, run_id: int) -> SeasonAnswer:
    """The whole season: every stage and every day."""
    return season_of(selectors.run_of(grower_of(request), run_id))


@router.get("/{int:run_id}/season/table", response={200: FileOut, **PROBLEMS})
def season_table(request: HttpRequest, run_id: int) -> FileOut:
    """The day table as CSV."""
    run = selectors.run_of(grower_of(request), run_id)
    return FileOut(name="season.csv", text=season_csv(run))


@router.get("/{int:run_id}/season/calendar", response={200: FileOut, **PROBLEMS})
def season_calendar(request: HttpRequest, run_id: int) -> FileOut:
    """Stage starts, re-hang days and timer changes as iCalendar."""
    run = selectors.run_of(grower_of(request), run_id)
    return FileOut(name="season.ics", text=season_ics(run, timezone.now()).decode())


@router.post("/{int:run_id}/shelf", response={200: ShelfOut, **PROBLEMS})
def rank_shelf(request: HttpRequest, run_id: int, payload: ShelfIn) -> ShelfAnswer:
    """The grower's lamps ranked in this tent at the hungriest stage."""
    grower = grower_of(request)
    wishes = payload.wishes(tuple(dict.fromkeys(payload.counts)))
    shelf = list(on_the_shelf(grower))
    asked = payload.fixture_ids
    lamps = shelf if asked is None else [lamp for lamp in shelf if lamp.pk in set(asked)]
    run = selectors.run_of(grower, run_id)
    return shelf_of(run, lamps, wishes, len(shelf), payload.in_part)


@router.post("/{int:run_id}/compare", response={200: CompareOut, **PROBLEMS})
def compare_lamps(request: HttpRequest, run_id: int, payload: CompareIn) -> ComparedAnswer:
    """Up to four lamps side by side in this tent."""
    grower = grower_of(request)
    wishes = payload.wishes()
    lamps = [(fixture_of(grower, lamp.fixture_id), lamp.count) for lamp in payload.lamps]
    run = selectors.run_of(grower, run_id)
    return compared_lamps(run, lamps, payload.present, wishes)
