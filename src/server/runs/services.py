"""What can be done with runs."""

from django.db import transaction

from server.accounts.models import Grower
from server.crops.models import Crop, Stage
from server.fixtures.models import Fixture
from server.runs.adapters import check_fit
from server.runs.models import Run, StageSetting
from server.spaces.models import Space


@transaction.atomic
def start_run(grower: Grower, space: Space, fixture: Fixture, crop: Crop) -> Run:
    """Return a new run, at the crop's first stage."""
    check_fit(space, fixture)
    return Run.objects.create(
        owner=grower, space=space, fixture=fixture, crop=crop, stage=crop.stages.first()
    )


@transaction.atomic
def change_run(run: Run, space: Space, fixture: Fixture, crop: Crop, over_cap: bool) -> Run:
    """Put other things into a run; settings of stages it no longer has go with them."""
    check_fit(space, fixture)
    run.space, run.fixture, run.over_cap = space, fixture, over_cap
    if run.crop_id != crop.pk:
        run.crop, run.stage = crop, crop.stages.first()
    run.save()
    return run


@transaction.atomic
def keep_setting(
    run: Run, stage: Stage, height_cm: float, dial_pct: float, hours: float, on_minute: int
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
        },
    )
    run.stage = stage
    run.save(update_fields=["stage", "changed_at"])
    return setting
