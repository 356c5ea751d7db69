"""What can be done with runs."""

from dataclasses import replace
from typing import Any

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.common.rows import held, keep
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import HungFixture, check_lamps, in_the_middle, lamps_of
from server.runs.models import Arrangement, Run, RunLamp, StageSetting
from server.spaces.models import Space


def start_run(grower: Grower, space: Space, fixture: Fixture, crop: Crop) -> Run:
    """Return a new run, at the crop's first stage."""
    in_the_middle(space, fixture)
    return Run.objects.create(
        owner=grower, space=space, fixture=fixture, crop=crop, stage=crop.stages.first()
    )


def change_run(run: Run, space: Space, fixture: Fixture, crop: Crop, over_cap: bool) -> Run:
    """Put other things into a run.

    Its lamps hang as they were left with this space and fixture; with new ones as they do now, if
    they fit so.
    """
    in_the_middle(space, fixture)
    with held(run) as row:
        if not row.arrangements.filter(space=space, fixture=fixture).exists():
            _take_along(row, space, fixture)
        stage = row.stage if row.crop_id == crop.pk else crop.stages.first()
        keep(row, space=space, fixture=fixture, crop=crop, stage=stage, over_cap=over_cap)
    return row


def _take_along(run: Run, space: Space, fixture: Fixture) -> None:
    """Hang the lamps that a run has now with another space or fixture, if they fit there."""
    if not run.arrangements.filter(space=run.space_id, fixture=run.fixture_id).exists():
        return
    lamps = [
        replace(lamp, fixture=fixture, bars_off=()) if lamp.fixture_id == run.fixture_id else lamp
        for lamp in lamps_of(run)
    ]
    try:
        check_lamps(space, fixture, lamps)
    except CanopyError:
        return
    _arrange(run, space, fixture, lamps)


def _arrange(run: Run, space: Space, fixture: Fixture, lamps: list[HungFixture]) -> None:
    made, _ = Arrangement.objects.get_or_create(run=run, space=space, fixture=fixture)
    made.lamps.all().delete()
    RunLamp.objects.bulk_create(
        RunLamp(arrangement=made, position=i, **vars(lamp) | {"bars_off": list(lamp.bars_off)})
        for i, lamp in enumerate(lamps)
    )


def hang_lamps(run: Run, lamps: list[HungFixture]) -> list[HungFixture]:
    """Keep where a run's lamps hang; none puts its fixture once in the middle."""
    with held(run) as row:
        if lamps:
            check_lamps(row.space, row.fixture, lamps)
        _arrange(row, row.space, row.fixture, lamps)
    return lamps_of(row)


def keep_setting(
    run: Run,
    stage: Stage,
    height_cm: float,
    dial_pct: float,
    hours: float,
    on_minute: int,
    locked: list[str],
) -> StageSetting:
    """Keep the levers for a stage and remember the stage as the one looked at."""
    with held(run) as row:
        setting, _ = StageSetting.objects.update_or_create(
            run=row,
            stage=stage,
            defaults={
                "height_cm": height_cm,
                "dial_pct": dial_pct,
                "hours": hours,
                "on_minute": on_minute,
                "locked": locked,
            },
        )
        keep(row, stage=stage)
    return setting


def free_setting(run: Run, stage: Stage) -> None:
    """Let the plan choose the levers of a stage again."""
    StageSetting.objects.filter(run=run, stage=stage).delete()


def keep_wishes(run: Run, values: dict[str, Any]) -> Run:
    """Keep what a season is planned by."""
    with held(run) as row:
        keep(row, **values)
    return row
