"""Reading runs."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.runs.models import Run, Setting


def runs_of(grower: Grower) -> QuerySet[Run]:
    """Return the grower's runs, the one last worked on first."""
    return (
        Run.objects.of(grower)
        .select_related("owner", "space__owner", "fixture__light_map", "crop")
        .prefetch_related("space__tariffs", "crop__every_stage", "lived")
    )


def run_of(grower: Grower, run_id: int) -> Run:
    """Return one run of the grower's, or answer 404."""
    return get_object_or_404(runs_of(grower), pk=run_id)


def history_of(run: Run) -> QuerySet[Setting]:
    """Return every setting of a run, the newest first."""
    return run.settings.select_related("plan").order_by("-id")


def kept_settings(run: Run) -> dict[int, Setting]:
    """Return the levers as the grower left them, by the ids of their stages.

    Those left to the plan again are not among them.
    """
    rows = run.settings.filter(kind="planned", holds_from=None, level=0, group=0, channel=None)
    latest = {row.stage_id: row for row in rows}
    return {stage_id: row for stage_id, row in latest.items() if not row.freed}


def kept_setting(run: Run, stage_id: int) -> Setting | None:
    """Return the levers as the grower left them for a stage, if they did."""
    rows = run.settings.filter(kind="planned", holds_from=None, level=0, group=0, channel=None)
    row = rows.filter(stage=stage_id).last()
    return None if row is None or row.freed else row
