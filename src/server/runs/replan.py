"""Planning a begun run anew from a day on: another plan beside the one it had, which stays."""

from dataclasses import replace
from datetime import date
from typing import Any

from django.db import transaction
from django.utils import timezone

from server.common.problems import CanopyError
from server.common.rows import Expected, copy_of, held, keep
from server.crops.models import Stage
from server.runs.adapters.racks import every_above
from server.runs.adapters.standing import (
    STAGE_COLUMNS,
    WISHES,
    Standing,
    copied,
    file_of,
    hung_in,
    planned_now,
    rows_now,
)
from server.runs.models import Plan, Run, RunStage, Setting
from server.runs.selectors import run_of
from server.runs.services import arrange, check_goes_on

MOST_PLANS = 50
"""One run can have."""


def plan_anew(run: Run, on: date | None, by: Run | None, expected: Expected = None) -> Run:
    """Plan a begun run anew from a day on, by another plan or by its rows as they now are.

    What it lived through stays as it was: stages that have begun, and the plans it had before.

    Raises
    ------
    CanopyError
        When it is none that goes on, the other plan is of another crop, or the day cannot be.
    """
    if run.begun_on is None:
        raise CanopyError("This plan has not begun: change it as it is.")
    check_goes_on(run)
    source = run if by is None else by
    if source.crop_id != run.crop_id:
        raise CanopyError(
            "That plan is of another crop: end this run, and begin a new one with it.", "by_id"
        )
    if by is not None and by.begun_on is not None:
        raise CanopyError("That run has begun itself; copy it to a plan first.", "by_id")
    last = run.plans.defer("document").latest("number")
    first, today = last.holds_from or run.begun_on, run.owner.today()
    day = on or today
    if not first <= day <= today:
        raise CanopyError(f"Give a day from {first} to {today}.", "on")
    standing = _standing(run, source)
    document = copied(standing, every_above(standing))
    with held(run, expected) as row:
        if row.plans.count() >= MOST_PLANS:
            raise CanopyError(f"{MOST_PLANS} plans are the most one run can have; copy it.")
        if row.plans.latest("number").number != last.number:
            raise CanopyError("This run was planned anew meanwhile; reload the page.")
        plan = Plan.objects.create(
            run=row, number=last.number + 1, holds_from=day, document=document
        )
        Plan.objects.filter(pk=plan.pk).update(made_at=timezone.now())
        _stages(row, document)
        if by is not None:
            _take_over(row, by, plan)
        made_of = {name: getattr(source, name) for name in ("space_id", "fixture_id")}
        wishes = {name: getattr(source, name) for name in WISHES if name != "started_on"}
        keep(row, **made_of, **wishes)
    return run_of(run.owner, run.pk)


def _standing(run: Run, source: Run) -> Standing:
    """Return what a run stands on from now on; stages that have begun as they were."""
    assert run.begun_on is not None
    before = {row["id"]: row for row in file_of(run).crop["stages"]}
    begun = set(run.lived.filter(began_on__isnull=False).values_list("stage_id", flat=True))
    now = rows_now(source)
    stages = [_stage(row) for row in before.values() if row["id"] in begun]
    stages += [stage for stage in now.stages if stage.pk not in begun]
    return replace(now, run_id=run.pk, stages=stages, started_on=run.begun_on)


def _stage(row: dict[str, Any]) -> Stage:
    return Stage(pk=row["id"], **{name: row[name] for name in STAGE_COLUMNS})


def _stages(run: Run, document: dict[str, Any]) -> None:
    """Let the run have the stages of its new plan, those to come in their order."""
    run.lived.filter(began_on=None).delete()
    known = set(run.lived.values_list("stage_id", flat=True))
    RunStage.objects.bulk_create(
        RunStage(run=run, stage_id=stage["id"], name=stage["name"])
        for stage in document["crop"]["stages"]
        if stage["id"] not in known
    )


def _take_over(run: Run, by: Run, plan: Plan) -> None:
    """Hang the lamps as in another plan, and plan what it has kept for stages."""
    lamps = hung_in(by)
    arrange(run, by.space, by.fixture, lamps)
    own, others = planned_now(run), planned_now(by)
    rows = []
    for place in own.keys() - others.keys():
        stage_id, from_day, group, switch = place
        at = {"stage_id": stage_id, "from_day": from_day, "group": group, "channel": switch or None}
        rows.append(Setting(run=run, plan=plan, kind="planned", freed=True, **at))
    for setting in others.values():
        rows.append(copy_of(setting, run=run, plan=plan, key=None))
    with transaction.atomic():
        Setting.objects.bulk_create(rows)
