"""Reading runs."""

from django.db.models import QuerySet
from django.shortcuts import get_object_or_404

from server.accounts.models import Grower
from server.runs.models import Plan, Run, Setting


def runs_of(grower: Grower) -> QuerySet[Run]:
    """Return the grower's runs as lists show them, the one last worked on first."""
    return Run.objects.of(grower).prefetch_related("crop__every_stage", "lived")


def run_of(grower: Grower, run_id: int) -> Run:
    """Return one run of the grower's with what it is planned by, or answer 404."""
    # the bench asks for it with every move of a lever: no more is joined than it needs
    rows = Run.objects.of(grower).select_related("space", "fixture__light_map", "crop")
    run: Run = get_object_or_404(rows.order_by(), pk=run_id)
    run.owner = grower
    return run


def plan_of(run: Run, number: int) -> Plan:
    """Return one of a run's plans, or answer 404."""
    plan: Plan = get_object_or_404(run.plans.defer("document"), number=number)
    return plan


def history_of(run: Run) -> QuerySet[Setting]:
    """Return every setting of a run, the newest first."""
    return run.settings.select_related("plan").order_by("-id")


def kept_setting(
    run: Run, stage_id: int, from_day: int, group: int = 0, channel: int | None = None
) -> Setting | None:
    """Return the levers as the grower left them for a stage from a day on, if they did.

    Those of all lamps, of a group beside, or of one of the lamp's switches.
    """
    place = {"stage": stage_id, "from_day": from_day, "group": group, "channel": channel}
    rows = run.settings.filter(kind="planned", holds_from=None, level=0, **place)
    row = rows.order_by("id").last()
    return None if row is None or row.freed else row
