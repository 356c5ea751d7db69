"""The Review place."""

from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import PROBLEMS
from server.review import services
from server.review.adapters.drift import DriftAnswer
from server.review.adapters.review import Review
from server.review.schemas import DriftOut, NextIn, ReviewOut
from server.runs.models import Run
from server.runs.schemas.run import RunOut
from server.runs.selectors import run_of

router = Router(auth=django_auth)


def _run(request: HttpRequest, run_id: int) -> Run:
    return run_of(grower_of(request), run_id)


@router.get("/runs/{int:run_id}", response={200: ReviewOut | None, **PROBLEMS})
def review(request: HttpRequest, run_id: int) -> Review | None:
    """A run looked back on; nothing where no setting of its lamp is known."""
    return services.review(_run(request, run_id))


@router.get("/runs/{int:run_id}/drift", response={200: DriftOut, **PROBLEMS})
def drift(request: HttpRequest, run_id: int) -> DriftAnswer:
    """What lamp and lining have lost in a run's space since they were first read there."""
    return services.drift(_run(request, run_id))


@router.post("/runs/{int:run_id}/next", response={201: RunOut, **PROBLEMS})
def next_run(request: HttpRequest, run_id: int, payload: NextIn) -> Status[Run]:
    """Start the next run from this one: a plan by what it taught."""
    return Status(201, services.next_run(_run(request, run_id), payload.as_grown))
