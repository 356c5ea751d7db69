"""The arithmetic growers do on paper, free of any plan; nothing is kept."""

from django.http import HttpRequest
from ninja import Router
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import PROBLEMS
from server.fixtures.selectors import fixture_of
from server.sums import adapters
from server.sums.adapters import ReadMap, Worked
from server.sums.schemas import MapSumIn, MapSumOut, SumIn, WorkedOut

router = Router(auth=django_auth)


@router.post("", response={200: WorkedOut, **PROBLEMS})
def work_out(request: HttpRequest, payload: SumIn) -> Worked:
    """Work a sum out, with its formula."""
    values = payload.asked.model_dump()
    lamp = values.get("fixture_id")
    fixture = None if lamp is None else fixture_of(grower_of(request), lamp)
    return adapters.worked(values, fixture)


@router.post("/map", response={200: MapSumOut, **PROBLEMS})
def read_map(request: HttpRequest, payload: MapSumIn) -> ReadMap:
    """Read a light map that is typed in or pasted, and say what it comes to."""
    return adapters.read_map(
        payload.rows,
        payload.text,
        {
            "width_cm": payload.width_cm,
            "depth_cm": payload.depth_cm,
            "places": payload.places,
            "inset_cm": (payload.inset_x_cm, payload.inset_y_cm),
        },
        payload.distance_cm,
        payload.dial_pct,
        payload.dli,
        payload.timer_step_min,
    )
