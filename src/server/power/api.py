"""Power and Install of a run."""

from typing import Annotated

from django.http import HttpRequest
from django.utils import timezone
from ninja import Query, Router
from ninja.security import django_auth
from pydantic import Field

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, Id
from server.common.versions import IdempotencyKey, IfMatch, expected, key_of
from server.devices.selectors import devices_at
from server.power import selectors, services
from server.power.adapters.install import Install, StepName, install_of, left_of
from server.power.adapters.offers import offers_of
from server.power.adapters.power import (
    PowerAnswer,
    SheetPayback,
    check_stage,
    power_of,
    sheet_paybacks,
)
from server.power.schemas import InstallOut, LeftOut, PlantsIn, PowerOut, SheetOut, TickIn
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.models import Run
from server.runs.schemas.run import RunOut
from server.runs.selectors import run_of

router = Router(auth=django_auth)

Price = Annotated[float, Field(ge=0, le=1_000_000)]


@router.get("/{int:run_id}/power", response={200: PowerOut, **PROBLEMS})
def run_power(request: HttpRequest, run_id: int, stage_id: Id | None = None) -> PowerAnswer:
    """What a run's light costs and draws, at a stage and over its season."""
    run = run_of(grower_of(request), run_id)
    standing = standing_of(run)
    wanted = check_stage(standing, run.stage_id if stage_id is None else stage_id)
    return power_of(standing, run.space, kept_of(run), wanted, run.plants)


@router.get("/{int:run_id}/sheets", response={200: list[SheetOut], **PROBLEMS})
def sheets(
    request: HttpRequest, run_id: int, price: Query[Price], stage_id: Id | None = None
) -> list[SheetPayback]:
    """In how many days a reflective sheet of a price pays, for each lining that gains."""
    run = run_of(grower_of(request), run_id)
    standing = standing_of(run)
    wanted = check_stage(standing, run.stage_id if stage_id is None else stage_id)
    return sheet_paybacks(standing, kept_of(run), wanted, price)


@router.put("/{int:run_id}/plants", response={200: RunOut, **CHANGES})
def keep_plants(
    request: HttpRequest, run_id: int, payload: PlantsIn, if_match: IfMatch = None
) -> Run:
    """Say how many plants share what a run costs."""
    run = run_of(grower_of(request), run_id)
    return services.keep_plants(run, payload.plants, expected(if_match))


def _install(run: Run) -> Install:
    standing = standing_of(run)
    lamps = {lamp.fixture.pk for lamp in standing.lamps}
    offers = offers_of(devices_at(run.space, lamps), timezone.now())
    return install_of(standing, run.space, kept_of(run), selectors.ticks_of(run), offers)


@router.get("/{int:run_id}/install", response={200: InstallOut, **PROBLEMS})
def run_install(request: HttpRequest, run_id: int) -> Install:
    """The steps of hanging a run's lamps."""
    return _install(run_of(grower_of(request), run_id))


@router.put("/{int:run_id}/install/{step}", response={200: InstallOut, **PROBLEMS})
def tick(
    request: HttpRequest,
    run_id: int,
    step: StepName,
    payload: TickIn,
    idempotency_key: IdempotencyKey = None,
) -> Install:
    """Note that a step is done, with what was read; with one key it is noted once."""
    run = run_of(grower_of(request), run_id)
    readings = payload.model_dump(exclude={"by"})
    services.tick(run, step, readings, key_of(idempotency_key), payload.by or "")
    return _install(run)


@router.delete("/{int:run_id}/install/{step}", response={200: InstallOut, **PROBLEMS})
def untick(
    request: HttpRequest, run_id: int, step: StepName, idempotency_key: IdempotencyKey = None
) -> Install:
    """Take a step back."""
    run = run_of(grower_of(request), run_id)
    services.untick(run, step, key_of(idempotency_key))
    return _install(run)


@router.get("/installs/left", response={200: list[LeftOut], **PROBLEMS})
def installs_left(request: HttpRequest) -> list[LeftOut]:
    """The steps that keep somebody safe and are not done, of every run somebody works at."""
    found = selectors.begun_installs(grower_of(request))
    left = [LeftOut(run_id=run_id, steps=left_of(done)) for run_id, done in found.items()]
    return [each for each in left if each.steps]
