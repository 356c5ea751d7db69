"""Choosing for a run: the shelf ranked, a few lamps or a few plans side by side."""

from django.http import HttpRequest
from ninja import Router
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.choosing.adapters.comparison import ComparedAnswer, compared_lamps
from server.choosing.adapters.plans import PlansBeside
from server.choosing.adapters.plans import plans_beside as set_beside
from server.choosing.adapters.ranking import ShelfAnswer, shelf_of
from server.choosing.schemas import CompareIn, CompareOut, PlansIn, PlansOut, ShelfIn, ShelfOut
from server.common.schemas import PROBLEMS
from server.fixtures.selectors import fixture_of
from server.fixtures.selectors import shelf_of as on_the_shelf
from server.runs.adapters.standing import kept_of, standing_of
from server.runs.selectors import run_of

router = Router(auth=django_auth)


@router.post("/{int:run_id}/shelf", response={200: ShelfOut, **PROBLEMS})
def rank_shelf(request: HttpRequest, run_id: int, payload: ShelfIn) -> ShelfAnswer:
    """The grower's lamps ranked in this tent at the hungriest stage."""
    grower = grower_of(request)
    wishes = payload.wishes(tuple(dict.fromkeys(payload.counts)))
    shelf = list(on_the_shelf(grower))
    asked = payload.fixture_ids
    lamps = shelf if asked is None else [lamp for lamp in shelf if lamp.pk in set(asked)]
    run = standing_of(run_of(grower, run_id))
    return shelf_of(run, lamps, wishes, len(shelf), payload.in_part)


@router.post("/{int:run_id}/compare", response={200: CompareOut, **PROBLEMS})
def compare_lamps(request: HttpRequest, run_id: int, payload: CompareIn) -> ComparedAnswer:
    """Up to four lamps side by side in this tent."""
    grower = grower_of(request)
    wishes = payload.wishes()
    lamps = [(fixture_of(grower, lamp.fixture_id), lamp.count) for lamp in payload.lamps]
    run = standing_of(run_of(grower, run_id))
    return compared_lamps(run, lamps, payload.present, wishes)


@router.post("/{int:run_id}/beside", response={200: PlansOut, **PROBLEMS})
def plans_beside(request: HttpRequest, run_id: int, payload: PlansIn) -> PlansBeside:
    """A plan beside up to three others: seasons, and floors at a stage."""
    grower = grower_of(request)
    rows = [run_of(grower, each) for each in dict.fromkeys([run_id, *payload.run_ids])]
    return set_beside([(standing_of(run), kept_of(run)) for run in rows], payload.stage_id)
