"""Spaces."""

from django.db.models import QuerySet
from django.http import HttpRequest
from ninja import Router, Status
from ninja.security import django_auth

from server.accounts.api import grower_of
from server.common.schemas import CHANGES, PROBLEMS, RemovedIn
from server.common.versions import IfMatch, expected, shown_by
from server.spaces import adapters, selectors, services
from server.spaces.models import Rack, Space
from server.spaces.schemas import LevelIn, Lining, NamedIn, RackIn, RackOut, SpaceIn, SpaceOut

router = Router(auth=django_auth)
shown_by(Space, SpaceOut.from_orm)
shown_by(Rack, RackOut.from_orm)


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


@router.get("/racks", response={200: list[RackOut], **PROBLEMS})
def racks(request: HttpRequest) -> QuerySet[Rack]:
    """The grower's racks of shelves."""
    return selectors.racks_of(grower_of(request))


@router.post("/racks", response={201: RackOut, **PROBLEMS})
def add_rack(request: HttpRequest, payload: RackIn) -> Status[Rack]:
    """Add a rack; each of its levels is a space."""
    level = payload.level.model_dump()
    rack = services.add_rack(grower_of(request), payload.name, payload.clear_cm, level)
    return Status(201, rack)


@router.post("/racks/{int:rack_id}/levels", response={201: RackOut, **CHANGES})
def add_level(
    request: HttpRequest, rack_id: int, payload: LevelIn, if_match: IfMatch = None
) -> Status[Rack]:
    """Put one level more on a rack, like the one under it."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return Status(201, services.add_level(rack, payload.clear_cm, expected(if_match)))


@router.put("/racks/{int:rack_id}/name", response={200: RackOut, **CHANGES})
def name_rack(
    request: HttpRequest, rack_id: int, payload: NamedIn, if_match: IfMatch = None
) -> Rack:
    """Call a rack otherwise."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return services.name_rack(rack, payload.name, expected(if_match))


@router.put("/racks/{int:rack_id}/aside", response={200: RackOut, **CHANGES})
def put_rack_away(
    request: HttpRequest, rack_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Rack:
    """Put a rack away with its levels, or bring it back."""
    rack = selectors.rack_of(grower_of(request), rack_id)
    return services.put_rack_away(rack, payload.removed, expected(if_match))


@router.put("/{int:space_id}", response={200: SpaceOut, **CHANGES})
def change_space(
    request: HttpRequest, space_id: int, payload: SpaceIn, if_match: IfMatch = None
) -> Space:
    """Change a space."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.change_space(space, payload.model_dump(), expected(if_match))


@router.post("/{int:space_id}/copy", response={201: SpaceOut, **PROBLEMS})
def copy_space(request: HttpRequest, space_id: int, payload: NamedIn) -> Status[Space]:
    """Make a space like one, with its prices; the copy of a rack's level stands by itself."""
    space = selectors.space_of(grower_of(request), space_id)
    return Status(201, services.copy_space(space, name=payload.name))


@router.put("/{int:space_id}/aside", response={200: SpaceOut, **CHANGES})
def put_away(
    request: HttpRequest, space_id: int, payload: RemovedIn, if_match: IfMatch = None
) -> Space:
    """Put a space away, or bring it back."""
    space = selectors.space_of(grower_of(request), space_id)
    return services.put_away(space, payload.removed, expected(if_match))
