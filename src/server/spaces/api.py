"""Spaces."""

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, RemovedIn
from server.common.versions import IfMatch, expected, shown_by
from server.spaces import adapters, selectors, services
from server.spaces.models import Space
from server.spaces.schemas import Lining, SpaceIn, SpaceOut

router = Router(auth=django_auth)
shown_by(Space, SpaceOut.from_orm)


@router.get("", response={200: list[SpaceOut], **PROBLEMS})
def spaces(request: HttpRequest) -> QuerySet[Space]:
    """The grower's spaces."""
    return selectors.spaces_of(grower_of(request))


@router.get("/linings", response={200: list[Lining], **PROBLEMS})
def linings(request: HttpRequest) -> list[Lining]:
    """Linings to choose from, with their reflectance and its range."""
    return [Lining.model_validate(row) for row in adapters.linings()]


@router.post("", response={201: SpaceOut, **PROBLEMS})
def add_space(request: HttpRequest, payload: SpaceIn) -> Status[Space]:
    """Add a space."""
    return Status(201, services.add_space(grower_of(request), payload.model_dump()))


@router.put("/{int:space_id}", response={200: SpaceOut, **CHANGES})
def change_space(
    request: HttpRequest, space_id: int, payload: SpaceIn, if_match: IfMatch = None
) -> Space:
    """Change a space."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.change_space(space, payload.model_dump(), expected(if_match))


@router.put("/{int:space_id}/aside", response={200: SpaceOut, **CHANGES})
def put_away(
    request: HttpRequest, space_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Space:
    """Put a space away, or bring it back."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.put_away(space, payload.removed, expected(if_match))
