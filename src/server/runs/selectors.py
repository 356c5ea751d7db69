"""Reading runs."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.crops.models import Stage
from server.runs.models import Run, StageSetting


def runs_of(grower: Grower) -> QuerySet[Run]:
    """Return the grower's runs, the one last worked on first."""
    return Run.objects.of(grower).select_related("space", "fixture__light_map", "crop")


def run_of(grower: Grower, run_id: int) -> Run:
    """Return one run of the grower's, or answer 404."""
    return get_object_or_404(runs_of(grower), pk=run_id)


def stage_in(run: Run, stage_id: int) -> Stage:
    """Return one stage of the run's crop, or answer 404."""
    return get_object_or_404(Stage, pk=stage_id, crop_id=run.crop_id)


def kept_setting(run: Run, stage: Stage) -> StageSetting | None:
    """Return the levers as the grower left them, if they did."""
    return StageSetting.objects.filter(run=run, stage=stage).first()
