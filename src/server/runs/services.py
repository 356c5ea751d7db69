"""What can be done with runs."""

from dataclasses import replace
from typing import Any

from django.db import transaction

from server.accounts.models import Grower
from server.common.problems import CanopyError
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture
from server.runs.adapters.lamps import Hung, check_lamps, in_the_middle, lamps_of
from server.runs.models import Run, RunLamp, StageSetting
from server.spaces.models import Space


@transaction.atomic
def start_run(grower: Grower, space: Space, fixture: Fixture, crop: Crop) -> Run:
    """Return a new run, at the crop's first stage."""
    in_the_middle(space, fixture)
    return Run.objects.create(
        owner=grower, space=space, fixture=fixture, crop=crop, stage=crop.stages.first()
    )


@transaction.atomic
def change_run(run: Run, space: Space, fixture: Fixture, crop: Crop, over_cap: bool) -> Run:
    """Put other things into a run; settings of stages it no longer has go with them."""
    in_the_middle(space, fixture)
    _move_lamps(run, space, fixture)
    run.space, run.fixture, run.over_cap = space, fixture, over_cap
    if run.crop_id != crop.pk:
        run.crop, run.stage = crop, crop.stages.first()
    run.save()
    return run


def _move_lamps(run: Run, space: Space, fixture: Fixture) -> None:
    """Keep the lamps where they hang when the space or the fixture changes, if they fit there."""
    if run.space_id == space.pk and run.fixture_id == fixture.pk:
        return
    lamps = [
        replace(lamp, fixture=fixture, bars_off=()) if lamp.fixture_id == run.fixture_id else lamp
        for lamp in lamps_of(run)
    ]
    try:
        check_lamps(space, fixture, lamps)
    except CanopyError:
        run.lamps.all().delete()
        return
    if run.lamps.exists():
        _keep(run, lamps)


def _keep(run: Run, lamps: list[Hung]) -> None:
    run.lamps.all().delete()
    RunLamp.objects.bulk_create(
        RunLamp(run=run, position=i, **vars(lamp) | {"bars_off": list(lamp.bars_off)})
        for i, lamp in enumerate(lamps)
    )


@transaction.atomic
def hang_lamps(run: Run, lamps: list[Hung]) -> list[Hung]:
    """Keep where a run's lamps hang; none puts its fixture once in the middle."""
    if lamps:
        check_lamps(run.space, run.fixture, lamps)
    _keep(run, lamps)
    return lamps_of(run)


@transaction.atomic
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
    setting, _ = StageSetting.objects.update_or_create(
        run=run,
        stage=stage,
        defaults={
            "height_cm": height_cm,
            "dial_pct": dial_pct,
            "hours": hours,
            "on_minute": on_minute,
            "locked": locked,
        },
    )
    run.stage = stage
    run.save(update_fields=["stage", "changed_at"])
    return setting


@transaction.atomic
def free_setting(run: Run, stage: Stage) -> None:
    """Let the plan choose the levers of a stage again."""
    StageSetting.objects.filter(run=run, stage=stage).delete()


@transaction.atomic
def keep_wishes(run: Run, values: dict[str, Any]) -> Run:
    """Keep what a season is planned by."""
    for name, value in values.items():
        setattr(run, name, value)
    run.save()
    return run
